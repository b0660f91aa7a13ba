import { Box, Button, chakra, Field, FileUpload, Flex, Input, NativeSelect, Text, Textarea } from '@chakra-ui/react'
import { useState } from 'react'
import { api } from '../../../core/schema/api'
import { LIST_LETTERS } from '../../../core/schema/api/trace-lists'
import type { WorkLine } from '../../../core/sift/line'
import { useChange, useOf } from '../../api/hooks'
import { FormDialog } from '../../frame/form'
import { useHere } from '../../frame/inquiry-frame'
import { tellError } from '../../frame/parts'
import { who } from './naming'

/** Bytes of a dropped text at most. */
const MOST = 1_000_000

/** Takes a list of references: what is pasted or dropped, or the one that stands in a copy; and leads to those taken before. */
export function TakeList({
  kept,
  open,
  close,
}: {
  kept: readonly WorkLine[]
  open: (list: number) => void
  close: () => void
}) {
  const { inquiry, mayWrite } = useHere()
  const lists = useOf(inquiry.id, api.lists)
  const copies = useOf(inquiry.id, api.searchable)
  const [source, setSource] = useState('')
  const [text, setText] = useState('')
  const [name, setName] = useState('')
  const [work, setWork] = useState('')
  const take = useChange(
    inquiry.id,
    api.takeList,
    (body: { name?: string; text?: string; copy?: number; work?: number }) => ({ body }),
  )
  const submit = () =>
    take.mutate(
      source
        ? { copy: Number(source) }
        : { text, ...(name.trim() ? { name: name.trim() } : {}), ...(work ? { work: Number(work) } : {}) },
      { onSuccess: made => open(made.id) },
    )
  const read = async (f: File | undefined) => {
    if (!f) return
    if (f.size > MOST) return tellError(new Error(`“${f.name}” is longer than a list can be. Paste it in parts.`))
    const bytes = await f.arrayBuffer()
    if (/^%PDF/.test(new TextDecoder('latin1').decode(bytes.slice(0, 5))))
      return tellError(
        new Error(`“${f.name}” is a PDF. Drop it on its work in Obtain, then take the list from the copy.`),
      )
    setText(new TextDecoder().decode(bytes))
    if (!name) setName(f.name.replace(/\.\w{1,5}$/, ''))
  }
  return (
    <FormDialog
      title="A list of references"
      submit={submit}
      close={close}
      buttons={
        <>
          <Button variant="outline" onClick={close}>
            Close
          </Button>
          {mayWrite && (
            <Button type="submit" colorPalette="grape" loading={take.isPending} disabled={!source && !text.trim()}>
              Find its works
            </Button>
          )}
        </>
      }
    >
      {Boolean(lists.data?.length) && (
        <Box>
          <Text fontSize="13px" color="soft">
            Taken before
          </Text>
          {lists.data!.map(l => (
            <Flex key={l.id} justify="space-between" gap="12px" fontSize="14px" lineHeight="22px">
              <chakra.button
                type="button"
                color="vine"
                fontWeight="600"
                textAlign="start"
                cursor="pointer"
                onClick={() => open(l.id)}
                truncate
              >
                {l.name}
              </chakra.button>
              <Text color="soft" whiteSpace="nowrap">
                {l.entries} {l.entries === 1 ? 'entry' : 'entries'}
                {l.left > 0 && ', not all looked for'}
              </Text>
            </Flex>
          ))}
        </Box>
      )}
      {mayWrite && (
        <>
          <Field.Root>
            <Field.Label>Where it stands</Field.Label>
            <NativeSelect.Root size="sm">
              <NativeSelect.Field value={source} onChange={e => setSource(e.target.value)}>
                <option value="">in what I paste or drop here</option>
                {copies.data?.map(c => (
                  <option key={c.id} value={c.id}>
                    in the copy of {who(c)}: {c.title.slice(0, 70)}
                  </option>
                ))}
              </NativeSelect.Field>
              <NativeSelect.Indicator />
            </NativeSelect.Root>
          </Field.Root>
          {!source && (
            <>
              <Field.Root invalid={text.length > LIST_LETTERS}>
                <Field.Label>The references, in whatever style</Field.Label>
                <Textarea
                  rows={7}
                  fontSize="13px"
                  placeholder="Paste them as they stand on the page, or drop a text file here."
                  value={text}
                  onChange={e => setText(e.target.value)}
                  onDrop={e => {
                    if (!e.dataTransfer.files.length) return
                    e.preventDefault()
                    void read(e.dataTransfer.files[0])
                  }}
                />
                <Field.ErrorText>This is longer than a list can be. Paste it in parts.</Field.ErrorText>
                <Field.HelperText>
                  A line each or over several lines, with or without numbers. Nothing is left out: what no work is found
                  for is named.
                </Field.HelperText>
              </Field.Root>
              <FileUpload.Root maxFiles={1} onFileAccept={e => void read(e.files[0])}>
                <FileUpload.HiddenInput aria-label="A text file with the references" />
                <FileUpload.Trigger asChild>
                  <Button size="xs" variant="outline">
                    Choose a text file
                  </Button>
                </FileUpload.Trigger>
              </FileUpload.Root>
              <Field.Root>
                <Field.Label>What it is from</Field.Label>
                <Input
                  size="sm"
                  value={name}
                  maxLength={200}
                  placeholder="A draft, a handout, a chapter"
                  onChange={e => setName(e.target.value)}
                />
              </Field.Root>
              <Field.Root>
                <Field.Label>Whose list it is</Field.Label>
                <NativeSelect.Root size="sm">
                  <NativeSelect.Field value={work} onChange={e => setWork(e.target.value)}>
                    <option value="">of no work in my pool: a lead, which is not cited itself</option>
                    {kept.map(w => (
                      <option key={w.id} value={w.id}>
                        {who(w)}: {w.title.slice(0, 70)}
                      </option>
                    ))}
                  </NativeSelect.Field>
                  <NativeSelect.Indicator />
                </NativeSelect.Root>
                <Field.HelperText>Of a kept work, its entries become citations in the trellis.</Field.HelperText>
              </Field.Root>
            </>
          )}
          {take.error && (
            <Text color="rust" fontSize="13px" role="alert">
              {take.error.message}
            </Text>
          )}
        </>
      )}
    </FormDialog>
  )
}
