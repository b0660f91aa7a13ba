import { Button, Checkbox, Field, Text, Textarea } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useWatch } from 'react-hook-form'
import {
  CITATION_KEYS,
  formatOf,
  SINGLE_KEYS,
  type CitationFormat,
  type DocumentFormat,
} from '../../core/paper/formats'
import { api, type Answer } from '../../core/schema/api'
import { letterGiven } from '../../core/schema/api/compose'
import { call } from '../api/client'
import { useSession } from '../api/session'
import { some } from './counted'
import { Choice, FormDialog, Line, useShaped } from './form'
import { useHere } from './inquiry-frame'
import { Failed, Notice, tell, Waiting } from './parts'

/** Bytes as a reader has them. @example sayBytes(2_340_000) // '2.3 MB' */
const sayBytes = (n: number): string =>
  n >= 1e6 ? `${(n / 1e6).toFixed(1)} MB` : `${Math.max(1, Math.round(n / 1000))} kB`

const isSame = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase()
const worksIn = (works: readonly number[] | undefined) => (works ? { works: [...works] } : {})

/** A letter to oneself at first; to others go the copies that are open. */
function useLetter({ own, works, close }: { own: string; works: readonly number[] | undefined; close: () => void }) {
  const { inquiry } = useHere()
  return useShaped(
    letterGiven,
    { to: own, note: '', document: works ? null : 'pdf', citations: null, copies: false },
    async given => {
      const sent = await call(api.sendLetter, {
        params: { inquiry: inquiry.id },
        body: { ...given, ...worksIn(works) },
      })
      const left = sent.left.length ? ` There was no room for ${some(sent.left.length, 'copy', 'copies')}.` : ''
      const kept = sent.kept.length
        ? ` ${some(sent.kept.length, 'copy is', 'copies are')} for you alone, and stayed.`
        : ''
      tell(`Mailed to ${sent.to}.${left}${kept}`)
      close()
    },
    { stays: true },
  )
}

/** Mails the bibliography, or works that are named, to oneself or somebody else. */
export function LetterDialog({ works, close }: { works?: readonly number[]; close: () => void }) {
  const { inquiry } = useHere()
  const own = useSession().data?.user?.email ?? ''
  const parts = useQuery({
    queryKey: ['inquiry', inquiry.id, '/letter/parts', works],
    queryFn: ({ signal }) => call(api.letterParts, { params: { inquiry: inquiry.id }, body: worksIn(works), signal }),
  })
  const { form, submit, busy, trouble } = useLetter({ own, works, close })
  const canMail = parts.data?.canMail
  return (
    <FormDialog
      title={works ? `Mail ${some(works.length, 'work')}` : 'Mail the bibliography'}
      {...{ submit, close }}
      buttons={
        <>
          <Button variant="ghost" onClick={close}>
            {canMail === false ? 'Close' : 'Cancel'}
          </Button>
          {canMail !== false && (
            <Button type="submit" colorPalette="vine" disabled={!canMail} loading={busy} loadingText="Sending …">
              Send
            </Button>
          )}
        </>
      }
    >
      {parts.isError ? (
        <Failed error={parts.error} again={() => void parts.refetch()} />
      ) : !parts.data ? (
        <Waiting what="Looking what it would carry" />
      ) : canMail ? (
        <Letter {...{ form, own, parts: parts.data }} />
      ) : (
        <Text>No mail is set up here. Save the files, and send them from your own mail.</Text>
      )}
      {trouble && <Notice voice="rust">{trouble.message}</Notice>}
    </FormDialog>
  )
}

/** To whom it goes, and what it carries. */
function Letter({
  form,
  own,
  parts: { works, copies, mostBytes },
}: {
  form: ReturnType<typeof useLetter>['form']
  own: string
  parts: Answer<'letterParts'>
}) {
  const [to = '', withCopies] = useWatch({ control: form.control, name: ['to', 'copies'] })
  const isOwn = isSame(to, own)
  const going = isOwn ? copies : copies.filter(x => x.shared)
  const bytes = going.reduce((n, x) => n + x.bytes, 0)
  return (
    <>
      <Line form={form} name="to" label="To" type="email" autoComplete="email" />
      <Field.Root invalid={Boolean(form.formState.errors.note)}>
        <Field.Label>A note</Field.Label>
        <Textarea rows={3} bg="surface" {...form.register('note')} />
        <Field.ErrorText>{form.formState.errors.note?.message}</Field.ErrorText>
      </Field.Root>
      <Text color="soft" fontSize="13.5px">
        The letter itself has the list, {some(works, 'work')}. With it goes:
      </Text>
      <Choice
        form={form}
        name="document"
        label="The list as a document"
        of={['', ...SINGLE_KEYS] as const}
        say={f => (f ? formatOf(f as DocumentFormat).name : 'none')}
      />
      <Choice
        form={form}
        name="citations"
        label="Citations for a program"
        of={['', ...CITATION_KEYS] as const}
        say={f => (f ? formatOf(f as CitationFormat).name : 'none')}
      />
      {copies.length > 0 ? (
        <Field.Root>
          <Checkbox.Root
            size="sm"
            colorPalette="vine"
            disabled={!going.length}
            checked={withCopies === true && going.length > 0}
            onCheckedChange={e => form.setValue('copies', e.checked === true)}
          >
            <Checkbox.HiddenInput />
            <Checkbox.Control />
            <Checkbox.Label>
              {some(going.length, 'copy', 'copies')} {isOwn ? 'in hand' : 'open to everybody'}, {sayBytes(bytes)}
            </Checkbox.Label>
          </Checkbox.Root>
          <Field.HelperText>
            {going.length < copies.length
              ? `${some(copies.length - going.length, 'copy is', 'copies are')} here by your own right, and ${copies.length - going.length === 1 ? 'goes' : 'go'} to your own address alone.`
              : bytes > mostBytes
                ? `One letter carries ${sayBytes(mostBytes)}: those that do not fit are named in it, with where they are.`
                : 'As PDF, named as in the bundle.'}
          </Field.HelperText>
        </Field.Root>
      ) : (
        <Text color="soft" fontSize="13.5px">
          No copy of {works === 1 ? 'it' : 'these works'} is in hand.
        </Text>
      )}
    </>
  )
}
