import { Box, Button, Text } from '@chakra-ui/react'
import { Check } from 'lucide-react'
import { useDeferredValue, useEffect, useMemo, useRef, type KeyboardEvent, type ReactNode } from 'react'
import { Link } from 'react-router'
import { fold } from '../../../core/bib/fold'
import { api, type Answer, type BibliographyEntry } from '../../../core/schema/api'
import {
  ANNOTATION_PARTS,
  PART_SAYS,
  partOfHead,
  partOfPassage,
  partsSeen,
  type AnnotationPart,
} from '../../../core/write/annotation-parts'
import { onPages } from '../../../core/write/passages'
import { useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Kbd } from '../../frame/parts'
import { Swatch, useStrands } from '../../frame/strands'
import { asDragged, inOwn, leftOf, type Left } from './left'
import { useAnnotation, type Cited } from './use-written'

type Told = Answer<'passages'>['passages'][number]

/** Letters of a passage by which it is known again in a text. */
const KNOWN_BY = 40
const bare = (text: string): string =>
  fold(text)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
const known = (text: string): string => bare(text).slice(0, KNOWN_BY)

/** Something that reading left for a work, as it is shown and as it is put into a text. */
interface Item {
  key: string
  part: AnnotationPart
  head: ReactNode
  words: ReactNode
  said: string
  left: Left
}

/**
 * What reading left for the work of an entry, as an outline of its annotation: passages and its sheet under the part that
 * they are likely for, each put in at the caret by a key or dragged to its place.
 */
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
  const value = useDeferredValue(useAnnotation(entry, cited).value)
  const { text } = value
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
  const written = bare(text)
  const isIn = (words: string) => written.includes(known(words)) && known(words) !== ''
  const isUsed = (p: Told) => isIn(p.quote) || isIn(p.note)
  const used = own.filter(isUsed)
  const seen = useMemo(() => partsSeen(text, value.marks, entry.work), [text, value.marks, entry.work])
  const wanted = new Set(inquiry.rules.parts ?? [])
  // whoever asked before it was here is not forgotten
  useEffect(() => {
    const first = list.current?.querySelector<HTMLElement>('.from-reading')
    if (asked === came.current || !first) return
    came.current = asked
    first.focus()
  })
  const move = (e: KeyboardEvent) => {
    const all = [...(list.current?.querySelectorAll<HTMLElement>('.from-reading') ?? [])]
    const at = all.indexOf(document.activeElement as HTMLElement)
    const step = { ArrowDown: 1, ArrowUp: -1 }[e.key]
    if (e.key === 'Escape') back()
    else if (step && at >= 0) all[(at + step + all.length) % all.length]!.focus()
    else return
    e.preventDefault()
  }
  const ofPassage = (p: Told): Item => {
    const strand = strands.find(s => s.id === p.strandId)
    const isQuoted = p.kind === 'quoted'
    const words = isQuoted ? p.quote : p.note || p.quote
    return {
      key: String(p.id),
      part: partOfPassage(words, isQuoted),
      head: (
        <>
          {strand && <Swatch n={strand.n} />}
          <b>{onPages(p.label)}</b> {isQuoted ? 'quoted' : 'in my words'}
        </>
      ),
      words: isQuoted ? <span className="serif">“{words}”</span> : words,
      said: `${onPages(p.label)}, ${words.slice(0, 60)}`,
      left: { work: entry.work, page: p.label, words: isQuoted ? `“${words}”` : words },
    }
  }
  // a line of the sheet that is a passage is that passage, for the part that its head is for
  const headOf = new Map(
    own.flatMap(p => {
      const note = notes.find(
        n => bare(leftOf(n.content, entry.work).words) === bare(p.kind === 'quoted' ? p.quote : p.note || p.quote),
      )
      return note ? [[p.id, note.key] as const] : []
    }),
  )
  const isPassage = new Set(headOf.values())
  const items: Item[] = [
    ...notes
      .filter(n => !isPassage.has(n.key) && !isIn(n.content))
      .map(n => ({
        ...{ key: n.key, part: partOfHead(n.key), head: <b>{n.name}</b>, words: n.content },
        said: `${n.name}, ${n.content.slice(0, 60)}`,
        left: leftOf(n.content, entry.work),
      })),
    ...own
      .filter(p => !isUsed(p))
      .map(p => {
        const head = headOf.get(p.id)
        return head ? { ...ofPassage(p), part: partOfHead(head) } : ofPassage(p)
      }),
  ]
  const parts = ANNOTATION_PARTS.map(part => ({ part, items: items.filter(i => i.part === part) }))
  const layOut = () =>
    putIn(
      parts
        .filter(p => p.items.length)
        .map(p => p.items.map(i => inOwn(i.left)).join(' '))
        .join('\n'),
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
        <Text color="soft" mb="12px">
          Nothing yet. Words that you mark in its copy, and what you write on its sheet, are put into the annotation
          from here.{' '}
          <Link className="plain-link" to={`/inquiries/${inquiry.id}/read`}>
            Go and read
          </Link>
        </Text>
      )}
      {mayWrite && !text.trim() && items.length > 1 && (
        <Button size="2xs" variant="outline" bg="surface" mb="10px" onClick={layOut}>
          Begin with all of it, in this order
        </Button>
      )}
      {parts.map(({ part, items: of }) => (
        <Box key={part} className="outline-part">
          <Text as="h3">
            <b>{part}</b> <span>{PART_SAYS[part]}</span>
            <State isSeen={seen?.has(part)} isAsked={wanted.has(part)} />
          </Text>
          {of.map(i => (
            <button
              key={i.key}
              type="button"
              className="from-reading"
              disabled={!mayWrite}
              draggable={mayWrite}
              aria-label={`Put in: ${i.said}`}
              onClick={() => putIn(inOwn(i.left))}
              onDragStart={e => asDragged(e.dataTransfer, i.left)}
            >
              <span className="from-reading-head">{i.head}</span>
              {i.words}
            </button>
          ))}
        </Box>
      ))}
      {used.length > 0 && (
        <Text color="soft" mt="8px">
          Passages in the text: {[...new Set(used.map(p => onPages(p.label)))].join(', ')}
        </Text>
      )}
      <Text color="soft" mt="12px">
        {seen
          ? 'Parts are seen by simple signs in the words of the text: one may be there unseen.'
          : 'Parts are seen in English alone.'}
      </Text>
      {mayWrite && items.length > 0 && (
        <Text color="soft" mt="6px">
          <Kbd>Alt</Kbd> <Kbd>P</Kbd> comes here from the text; the arrows choose, <Kbd>↵</Kbd> puts it at the caret. It
          may be dragged to its place, too.
        </Text>
      )}
    </Box>
  )
}

/** Whether a part was seen in the text; of one that nobody asks for nothing is missed. */
function State({ isSeen, isAsked }: { isSeen: boolean | undefined; isAsked: boolean }) {
  if (isSeen)
    return (
      <em data-voice="vine">
        <Check size={13} aria-hidden="true" /> seen
      </em>
    )
  if (!isAsked) return null
  return <em data-voice="amber">{isSeen === undefined ? 'asked' : 'asked, not seen'}</em>
}
