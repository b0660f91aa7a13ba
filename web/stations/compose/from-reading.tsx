import { Box, Text } from '@chakra-ui/react'
import { useEffect, useRef, type KeyboardEvent } from 'react'
import { Link } from 'react-router'
import { fold } from '../../../core/bib/fold'
import { api, type Answer, type BibliographyEntry } from '../../../core/schema/api'
import { onPages } from '../../../core/write/passages'
import { useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Kbd } from '../../frame/parts'
import { Swatch, useStrands } from '../../frame/strands'
import { useAnnotation, type Cited } from './use-written'

type Told = Answer<'passages'>['passages'][number]

/** Letters of a passage by which it is known again in a text. */
const KNOWN_BY = 40
const known = (text: string): string =>
  fold(text)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
    .slice(0, KNOWN_BY)

/** Quoted as it is cited in the entry of its own work; own words as they are, with their page. */
const asPut = (p: Told): string =>
  p.kind === 'quoted' ? `“${p.quote}” (${onPages(p.label)})` : `${p.note || p.quote} (${onPages(p.label)})`

/** What reading left for the work of an entry: passages and its sheet, each put in at the caret by a key. */
export function FromReading({
  entry,
  cited,
  asked,
  putIn,
  back,
}: {
  entry: BibliographyEntry
  cited: Cited
  /** Raised each time that somebody wants to come here from the text. */
  asked: number
  putIn: (words: string) => void
  back: () => void
}) {
  const { inquiry, mayWrite } = useHere()
  const { text } = useAnnotation(entry, cited).value
  const passages = useOf(inquiry.id, api.passages)
  const table = useOf(inquiry.id, api.readingTable)
  const strands = useStrands(inquiry.id)
  const list = useRef<HTMLDivElement>(null)
  const came = useRef(asked)
  const own = (passages.data?.passages ?? []).filter(p => p.workId === entry.work && p.kind !== 'figure')
  const sheet = table.data?.works.find(w => w.id === entry.work)
  const notes = (table.data?.heads ?? []).flatMap(h => {
    const content = sheet?.notes.find(n => n.head === h.key)?.content
    return content ? [{ ...h, content }] : []
  })
  const written = known(text) && fold(text).replace(/[^\p{L}\p{N}]+/gu, ' ')
  const isIn = (words: string) => written.includes(known(words)) && known(words) !== ''
  const isUsed = (p: Told) => isIn(p.quote) || isIn(p.note)
  const fresh = own.filter(p => !isUsed(p))
  const used = own.filter(isUsed)
  // whoever asked before it was here is not forgotten
  useEffect(() => {
    const first = list.current?.querySelector<HTMLElement>('button')
    if (asked === came.current || !first) return
    came.current = asked
    first.focus()
  })
  const move = (e: KeyboardEvent) => {
    const all = [...(list.current?.querySelectorAll<HTMLElement>('button') ?? [])]
    const at = all.indexOf(document.activeElement as HTMLElement)
    const step = { ArrowDown: 1, ArrowUp: -1 }[e.key]
    if (e.key === 'Escape') back()
    else if (step && at >= 0) all[(at + step + all.length) % all.length]!.focus()
    else return
    e.preventDefault()
  }
  const item = (key: string | number, head: React.ReactNode, words: React.ReactNode, put: string, said: string) => (
    <button
      key={key}
      type="button"
      className="from-reading"
      disabled={!mayWrite}
      aria-label={`Put in: ${said}`}
      onClick={() => putIn(put)}
    >
      <span className="from-reading-head">{head}</span>
      {words}
    </button>
  )
  return (
    <Box ref={list} onKeyDown={move} fontSize="13.5px" lineHeight="19px">
      <Text as="h2" fontWeight="600" fontSize="14px">
        What reading left for this work
      </Text>
      <Text color="soft" mb="10px" truncate title={entry.title}>
        {entry.title}
      </Text>
      {own.length === 0 && notes.length === 0 && (
        <Text color="soft">
          Nothing yet. Words that you mark in its copy, and what you write on its sheet, are put into the annotation
          from here.{' '}
          <Link className="plain-link" to={`/inquiries/${inquiry.id}/read`}>
            Go and read
          </Link>
        </Text>
      )}
      {own.length > 0 && (
        <Text as="h3" className="from-reading-group">
          Passages <span>{own.length}</span>
        </Text>
      )}
      {fresh.map(p => {
        const strand = strands.find(s => s.id === p.strandId)
        return item(
          p.id,
          <>
            {strand && <Swatch n={strand.n} />}
            <b>{onPages(p.label)}</b> {p.kind === 'quoted' ? 'quoted' : 'in my words'}
          </>,
          p.kind === 'quoted' ? <span className="serif">“{p.quote}”</span> : p.note || p.quote,
          asPut(p),
          `${onPages(p.label)}, ${(p.kind === 'quoted' ? p.quote : p.note).slice(0, 60)}`,
        )
      })}
      {used.length > 0 && (
        <Text color="soft" mt="6px">
          in the text: {used.map(p => onPages(p.label)).join(', ')}
        </Text>
      )}
      {notes.length > 0 && (
        <Text as="h3" className="from-reading-group" mt="14px">
          Sheet of reading <span>{notes.length}</span>
        </Text>
      )}
      {notes.map(n =>
        item(
          n.key,
          <b>{n.name}</b>,
          <span>{n.content}</span>,
          n.content.replace(/\s*\n\s*/g, ' '),
          `${n.name}, ${n.content.slice(0, 60)}`,
        ),
      )}
      {mayWrite && (own.length > 0 || notes.length > 0) && (
        <Text color="soft" mt="12px">
          <Kbd>Alt</Kbd> <Kbd>P</Kbd> comes here from the text; the arrows choose, <Kbd>↵</Kbd> puts it at the caret.
        </Text>
      )}
    </Box>
  )
}
