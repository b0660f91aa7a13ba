import { Box, Button, chakra, Flex, Input, NativeSelect, Text, Textarea } from '@chakra-ui/react'
import { Plus } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { api } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { Empty, Failed, tell, tellError, Waiting } from '../../frame/parts'
import { Swatch, useStrands, type StrandLook } from '../../frame/strands'
import { Chip } from './chip'
import { NoteText } from './note-text'
import { nearKey, useNearest } from './use-nearest'
import { useNotes, type Head, type Notes, type SheetOf } from './use-notes'

type Order = 'came' | 'year' | 'author' | 'title'
const ORDERS: Record<Order, string> = {
  came: 'as they came',
  year: 'newest first',
  author: 'by author',
  title: 'by title',
}
const compare: Record<Order, (a: SheetOf, b: SheetOf) => number> = {
  came: (a, b) => a.id - b.id,
  year: (a, b) => (b.year ?? 0) - (a.year ?? 0) || a.id - b.id,
  author: (a, b) => a.authors.localeCompare(b.authors),
  title: (a, b) => a.title.localeCompare(b.title),
}

/** The sheets of reading side by side: works as rows, what is asked of them as columns. */
export function TableOfWorks() {
  const { inquiry } = useHere()
  const notes = useNotes()
  const { table } = notes
  if (table.isPending) return <Waiting what="Laying out the table" />
  if (table.isError) return <Failed error={table.error} again={() => void table.refetch()} />
  if (!table.data.works.length)
    return (
      <Empty
        title="No kept works to compare yet"
        action={
          <Button asChild colorPalette="vine" size="sm">
            <Link to={`/inquiries/${inquiry.id}/sift`}>To Sift</Link>
          </Button>
        }
      >
        Every kept work has a row here, with its question, method, place, findings and limits beside those of the
        others.
      </Empty>
    )
  return <Laid notes={notes} />
}

function Laid({ notes }: { notes: Notes }) {
  const { inquiry, mayWrite } = useHere()
  const { heads, works } = notes.table.data!
  const strands = useStrands(inquiry.id)
  const near = useNearest(notes.table.data)
  const [strand, setStrand] = useState<number>()
  const [order, setOrder] = useState<Order>('came')
  const [open, setOpen] = useState<string>()
  const of = (id: number) => works.filter(w => w.strands.includes(id)).length
  const shown = works.filter(w => strand === undefined || w.strands.includes(strand)).toSorted(compare[order])
  const written = (h: Head) => shown.filter(w => notes.noteOf(w, h.key).trim()).length
  const all = heads.reduce((n, h) => n + written(h), 0)
  const file = (format: string) => `/api/inquiries/${inquiry.id}/table/file?format=${format}`
  return (
    <Flex direction="column" h="full" minH="0">
      <Flex gap="6px" align="center" wrap="wrap" px="20px" py="12px" flex="none">
        {strands.some(s => of(s.id)) && (
          <>
            <Chip on={strand === undefined} onClick={() => setStrand(undefined)}>
              all {works.length}
            </Chip>
            {strands
              .filter(s => of(s.id))
              .map(s => (
                <Chip key={s.id} on={strand === s.id} onClick={() => setStrand(strand === s.id ? undefined : s.id)}>
                  <Swatch n={s.n} /> {s.name} {of(s.id)}
                </Chip>
              ))}
          </>
        )}
        <Text fontSize="13px" color="soft" ml={{ md: 'auto' }} mr="8px">
          <b>
            {all} of {shown.length * heads.length}
          </b>{' '}
          notes written
        </Text>
        <NativeSelect.Root size="xs" w="130px">
          <NativeSelect.Field
            aria-label="Order of works"
            bg="surface"
            value={order}
            onChange={e => setOrder(e.target.value as Order)}
          >
            {Object.entries(ORDERS).map(([key, said]) => (
              <option key={key} value={key}>
                {said}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        <Button asChild size="xs" variant="outline" bg="surface">
          <a href={file('docx')} download>
            As a document
          </a>
        </Button>
        <Button asChild size="xs" variant="outline" bg="surface">
          <a href={file('csv')} download>
            As CSV
          </a>
        </Button>
      </Flex>
      <Box flex="1" minH="0" overflow="auto" px="20px" pb="20px" tabIndex={0} role="region" aria-label="The table">
        <table className="works-table">
          <thead>
            <tr>
              <th scope="col">
                Work
                <small>
                  {shown.length} of {works.length}
                </small>
              </th>
              {heads.map(h => (
                <th key={h.key} scope="col">
                  {h.own === null ? h.name : <OwnHead head={h} id={h.own} />}
                  <small>
                    {written(h)} of {shown.length}
                  </small>
                </th>
              ))}
              {mayWrite && (
                <th scope="col">
                  <AddHead />
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {shown.map(w => (
              <tr key={w.id}>
                <WorkCell work={w} strands={strands.filter(s => w.strands.includes(s.id))} />
                {heads.map(h => {
                  const key = nearKey(w.id, h.key)
                  return (
                    <Cell
                      key={h.key}
                      head={h}
                      sheet={w}
                      text={notes.noteOf(w, h.key)}
                      near={near.get(key)}
                      isOpen={open === key}
                      open={mayWrite ? now => setOpen(now ? key : undefined) : undefined}
                      write={text => notes.write(w, h, text)}
                    />
                  )
                })}
                {mayWrite && <td />}
              </tr>
            ))}
          </tbody>
        </table>
        <Text fontSize="12.5px" color="soft" mt="12px">
          What stands here is yours; nothing is written for you. “Nearest” names pages on which words of the column
          stand most often. A page that you name, as in “p. 12”, leads there.
        </Text>
      </Box>
    </Flex>
  )
}

function WorkCell({ work: w, strands }: { work: SheetOf; strands: readonly StrandLook[] }) {
  const { inquiry } = useHere()
  const openWork = useOpenWork()
  return (
    <th scope="row">
      {w.copy ? (
        <Link to={`/inquiries/${inquiry.id}/read/${w.copy.id}`} className="work-link">
          {w.title}
        </Link>
      ) : (
        <button type="button" className="work-link" onClick={() => openWork(w.id)}>
          {w.title}
        </button>
      )}
      <small>
        {[w.authors, w.year].filter(Boolean).join(' · ')}{' '}
        {strands.map(s => (
          <chakra.span key={s.id} title={s.name} verticalAlign="-1px" mr="3px">
            <Swatch n={s.n} />
          </chakra.span>
        ))}
        {!w.copy && (
          <Link to={`/inquiries/${inquiry.id}/obtain`} className="plain-link">
            no copy yet
          </Link>
        )}
      </small>
    </th>
  )
}

function Cell({
  head,
  sheet,
  text,
  near,
  isOpen,
  open,
  write,
}: {
  head: Head
  sheet: SheetOf
  text: string
  near: readonly number[] | undefined
  isOpen: boolean
  /** Undefined for who may only look. */
  open: ((isOpen: boolean) => void) | undefined
  write: (text: string) => void
}) {
  const name = `${head.name} of “${sheet.title}”`
  if (isOpen && open)
    return (
      <td data-open>
        <Textarea
          autoFocus
          autoresize
          size="sm"
          px="6px"
          rows={3}
          bg="surface"
          aria-label={name}
          placeholder={head.asks}
          defaultValue={text}
          onFocus={e => e.target.setSelectionRange(text.length, text.length)}
          onChange={e => write(e.target.value)}
          onBlur={() => open(false)}
          onKeyDown={e => e.key === 'Escape' && open(false)}
        />
        <Nearest sheet={sheet} near={near} />
      </td>
    )
  return (
    <td onClick={() => open?.(true)} data-own={head.key === 'view' || undefined}>
      {text.trim() ? <NoteText text={text} copy={sheet.copy} /> : <Nearest sheet={sheet} near={near} />}
      {open && !text.trim() && head.key === 'view' && <span className="soft">yours to write</span>}
      {open && (
        <button type="button" className="cell-open" aria-label={text.trim() ? `Change: ${name}` : `Write: ${name}`} />
      )}
    </td>
  )
}

function Nearest({ sheet, near }: { sheet: SheetOf; near: readonly number[] | undefined }): ReactNode {
  const { inquiry } = useHere()
  const { copy } = sheet
  if (!copy || !near?.length) return null
  return (
    <chakra.span color="soft" fontSize="12.5px">
      nearest:{' '}
      {near.map((page, i) => (
        <span key={page}>
          {i > 0 && ', '}
          <Link
            className="plain-link"
            to={`/inquiries/${inquiry.id}/read/${copy.id}?page=${page}`}
            onClick={e => e.stopPropagation()}
            // the field beside it closes when it is left, and this with it
            onMouseDown={e => e.preventDefault()}
          >
            p. {copy.labels[page - 1] ?? page}
          </Link>
        </span>
      ))}
    </chakra.span>
  )
}

function OwnHead({ head, id }: { head: Head; id: number }) {
  const { inquiry, mayWrite } = useHere()
  const [isOpen, setOpen] = useState(false)
  const [name, setName] = useState(head.name)
  const change = useChange(inquiry.id, api.changeHead, (body: { name?: string; gone?: boolean }) => ({
    params: { own: id },
    body,
  }))
  if (!mayWrite) return head.name
  if (!isOpen)
    return (
      <chakra.button type="button" cursor="pointer" fontWeight="inherit" onClick={() => setOpen(true)}>
        {head.name}
      </chakra.button>
    )
  return (
    <NameForm
      name={name}
      setName={setName}
      submit="Name it so"
      save={() => change.mutate({ name: name.trim() }, { onSuccess: () => setOpen(false), onError: tellError })}
      leave={() => setOpen(false)}
    >
      <Button
        size="2xs"
        variant="ghost"
        onClick={() =>
          change.mutate(
            { gone: true },
            {
              onSuccess: () =>
                tell(`“${head.name}” is taken away; what was written under it is kept.`, {
                  label: 'Undo',
                  onClick: () => change.mutate({ gone: false }, { onError: tellError }),
                }),
              onError: tellError,
            },
          )
        }
      >
        Take away
      </Button>
    </NameForm>
  )
}

function AddHead() {
  const { inquiry } = useHere()
  const [name, setName] = useState<string>()
  const add = useChange(inquiry.id, api.addHead, (body: { name: string }) => ({ body }))
  if (name === undefined)
    return (
      <Button size="2xs" variant="ghost" onClick={() => setName('')}>
        <Plus /> Column
      </Button>
    )
  return (
    <NameForm
      name={name}
      setName={setName}
      submit="Add it"
      save={() => add.mutate({ name: name.trim() }, { onSuccess: () => setName(undefined), onError: tellError })}
      leave={() => setName(undefined)}
    />
  )
}

function NameForm({
  name,
  setName,
  submit,
  save,
  leave,
  children,
}: {
  name: string
  setName: (name: string) => void
  submit: string
  save: () => void
  leave: () => void
  children?: ReactNode
}) {
  return (
    <chakra.form
      minW="150px"
      onSubmit={e => {
        e.preventDefault()
        save()
      }}
    >
      <Input
        size="xs"
        autoFocus
        bg="surface"
        aria-label="Name of the column"
        placeholder="What do you compare?"
        value={name}
        maxLength={80}
        onChange={e => setName(e.target.value)}
        onKeyDown={e => e.key === 'Escape' && leave()}
      />
      <Flex gap="4px" mt="4px">
        <Button size="2xs" type="submit" colorPalette="vine" disabled={!name.trim()}>
          {submit}
        </Button>
        <Button size="2xs" variant="ghost" onClick={leave}>
          Leave it
        </Button>
        {children}
      </Flex>
    </chakra.form>
  )
}
