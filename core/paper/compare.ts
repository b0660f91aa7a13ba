import { diffWordsWithSpace } from 'diff'
import { plainText } from '../cite/rich-text'
import { asCited, lettersOf, type Mark, type Written } from '../write/written'
import { entriesIn, type Paper, type PaperEntry } from './bibliography'

/** A stretch of a text that stands in both, or in one of them. */
export interface Piece {
  is: 'same' | 'gone' | 'new'
  text: string
}
/** What differs between two states of a bibliography. */
export type PaperChange =
  | { what: 'put in' | 'taken out'; title: string }
  | { what: 'citation' | 'annotation' | 'text'; title: string; pieces: Piece[] }
  | { what: 'style' | 'order' | 'looks'; title: string }

/** A text, and what stretches of it are where that is known. */
interface MaybeWritten {
  text: string
  marks?: Mark[] | undefined
}

const written = ({ text, marks = [] }: MaybeWritten): Written => ({ text, marks })

/** Words that may differ before two texts are taken for two: telling which would take ever longer. */
const MOST_WORDS = 3000

function pieces(before: string, after: string): Piece[] {
  const found = diffWordsWithSpace(before, after, { maxEditLength: MOST_WORDS })
  if (!found)
    return [
      { is: 'gone', text: before },
      { is: 'new', text: after },
    ]
  return found.map(({ added, removed, value }) => ({ is: added ? 'new' : removed ? 'gone' : 'same', text: value }))
}

/** What a change of the whole is called, and its two texts. */
const TEXTS: [name: string, of: (p: Paper) => string, place?: 'opening' | 'closing'][] = [
  ['The title', p => p.title],
  ['The question', p => p.question],
  ['Your name', p => p.author],
  ['The course', p => p.course],
  ['The opening', p => p.opening, 'opening'],
  ['The closing', p => p.closing, 'closing'],
]

/**
 * What changed from one state to another: texts, entries, the order. In another style all citations differ: they are told
 * of then only where what is known of the work changed as well.
 */
export function changesBetween(before: Paper, after: Paper): PaperChange[] {
  const out: PaperChange[] = []
  const inOtherStyle = before.style !== after.style || before.language !== after.language
  if (inOtherStyle) {
    const named = (p: Paper) => (p.language ? `${p.styleName} (${p.language})` : p.styleName)
    out.push({ what: 'style', title: `${named(before)} → ${named(after)}` })
  }
  const texts = (what: 'text' | 'annotation', title: string, before: MaybeWritten, after: MaybeWritten) => {
    const was = written(before)
    // a citation that reads otherwise, in another style or by another number, is no other text
    const is = asCited(written(after), lettersOf(was))
    if (was.text !== is.text) out.push({ what, title, pieces: pieces(was.text, is.text) })
    // the words are the same, and not how they look
    else if (JSON.stringify(asCited(was, lettersOf(was)).marks) !== JSON.stringify(is.marks))
      out.push({ what: 'looks', title })
  }
  for (const [title, of, place] of TEXTS) {
    const at = (p: Paper) => ({ text: of(p), marks: place && p.marks?.[place] })
    texts('text', title, at(before), at(after))
  }
  const strands = (p: Paper) => new Map(p.sections.flatMap(s => (s.strand ? [[s.strand, s] as const] : [])))
  const [was, is] = [strands(before), strands(after)]
  for (const strand of new Set([...was.keys(), ...is.keys()])) {
    const [a, b] = [was.get(strand), is.get(strand)]
    texts('text', `Of “${(b ?? a)!.heading}”`, a ?? { text: '' }, b ?? { text: '' })
  }
  const [old, now] = [entriesIn(before), entriesIn(after)]
  const oldOf = new Map(old.map(e => [e.work, e]))
  const nowOf = new Map(now.map(e => [e.work, e]))
  for (const e of old) if (!nowOf.has(e.work)) out.push({ what: 'taken out', title: e.title })
  for (const e of now) {
    const then = oldOf.get(e.work)
    if (!then) {
      out.push({ what: 'put in', title: e.title })
      continue
    }
    const [a, b] = [plainText(then.citation), plainText(e.citation)]
    if (a !== b && (!inOtherStyle || isOther(then, e)))
      out.push({ what: 'citation', title: e.title, pieces: pieces(a, b) })
    const annotation = ({ annotation: text, marks }: PaperEntry): MaybeWritten => ({ text, marks })
    texts('annotation', e.title, annotation(then), annotation(e))
  }
  const shared = (list: PaperEntry[], other: Map<number, PaperEntry>) =>
    list.filter(e => other.has(e.work)).map(e => e.work)
  if (shared(old, nowOf).join() !== shared(now, oldOf).join())
    out.push({ what: 'order', title: 'The entries stand in another order' })
  return out
}

const isOther = (a: PaperEntry, b: PaperEntry): boolean => JSON.stringify(a.item) !== JSON.stringify(b.item)
