import { lettersOf, mostBy, type Column, type Line } from './page'
import { beginsAsCaption } from './captions'
import { usualLead } from './text'

/** What a note begins with. */
const MARK = /^(?:[*†‡§¶]|([⁰¹²³⁴⁵⁶⁷⁸⁹]+)|(\d{1,3})[.)]?(?=\s)|[a-z]\)(?=\s))\s*/u
/** Lines of notes over the whole width of a page, at most. */
const MOST = 25

/** How most of a text is set. */
export interface Body {
  size: number
  font: string | undefined
}
export function bodyOf(lines: Iterable<Line>): Body {
  const all = [...lines]
  const size = mostBy(all.map(l => [Math.round(l.size * 5) / 5, lettersOf(l.text)] as const)) ?? 10
  return { size, font: mostBy(all.filter(l => l.font).map(l => [l.font!, lettersOf(l.text)] as const)) }
}

/** In letters of another size or font than the text. */
export const isSetOtherwise = (l: Line, body: Body): boolean =>
  Math.abs(l.size - body.size) > body.size * 0.04 || l.font !== body.font

/**
 * Takes the notes from the foot of a column: smaller lines down to its end that begin with a mark or stand off from the
 * text. Smaller print of some length that goes on over pages is no note.
 * @param isBeneath whether the column lies beneath all others of its page, from their left edge on
 */
export function takeNotes(column: Column, body: Body, isBeneath = false): { column: Column; notes: Line[] } {
  const { lines } = column
  // notes over all columns, beneath them
  const isSmall = isBeneath && lines.length <= MOST && lines.every(l => l.size < body.size * 0.94)
  if (isSmall && MARK.test(lines[0]?.text ?? '')) return { column: { ...column, lines: [] }, notes: lines }
  let from = lines.length
  const { size } = lines.at(-1) ?? body
  while (from > 0 && lines[from - 1]!.size < body.size * 0.94 && lines[from - 1]!.size < size * 1.06) from--
  const notes = lines.slice(from)
  const before = lines[from - 1]
  const none = { column, notes: [] }
  if (!notes.length || !before || notes.length > lines.length * 0.6) return none
  // beneath a heading stands its text, however small; beneath small print only what bears a mark
  if (before.size > body.size * 1.04 || (before.font !== body.font && before.text.length < 60)) return none
  if (Math.abs(before.size - body.size) > body.size * 0.06 && !MARK.test(notes[0]!.text)) return none
  const lead = usualLead(lines)
  const standsOff = notes[0]!.y - before.y > lead * 1.35
  if (!(MARK.test(notes[0]!.text) || standsOff) || beginsAsCaption(notes[0]!.text)) return none
  return { column: { ...column, lines: lines.slice(0, from) }, notes }
}

/** Notes by their marks, each with its lines. */
export function partNotes(lines: readonly Line[]): Line[][] {
  const notes: Line[][] = []
  for (const l of lines) {
    if (MARK.test(l.text) || !notes.length) notes.push([l])
    else notes.at(-1)!.push(l)
  }
  return notes
}

/** The number of a note and what stands behind its mark. */
export function markedNote(text: string): { label?: string; text: string } {
  const m = MARK.exec(text)
  const label = m?.[2] ?? m?.[1]?.normalize('NFKC')
  return { ...(label ? { label } : {}), text: text.slice(m?.[0].length ?? 0) }
}
