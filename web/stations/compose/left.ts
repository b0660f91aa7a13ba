import { onPages } from '../../../core/write/passages'
import { pagesNamed } from '../../../core/write/sheet-of-reading'

/** Words that reading left for a work, with the page where they stand; empty where none is named. */
export interface Left {
  work: number
  page: string
  words: string
}
/** A line of a sheet of reading; a page that it ends with is the one where it stands. */
export function leftOf(line: string, work: number): Left {
  const words = line.replace(/\s*\n\s*/g, ' ').trim()
  const last = pagesNamed(words).at(-1)
  const isAtEnd = last && words.slice(last.end).replace(/[).\s]+/, '') === ''
  if (!isAtEnd) return { work, page: '', words }
  return { work, page: last.label, words: words.slice(0, last.start).replace(/[\s(]+$/, '') }
}
/** Words without the sign that ends their sentence, and that sign: what is cited stands before it. */
export function beforeEnd({ words }: Left): { words: string; end: string } {
  const end = /[.!?]$/.exec(words)?.[0] ?? ''
  return { words: end ? words.slice(0, -1) : words, end }
}
/** As it stands in a text about its own work: the page is enough. */
export function inOwn(left: Left): string {
  const { words, end } = beforeEnd(left)
  return left.page ? `${words} (${onPages(left.page)})${end}` : left.words
}

const TYPE = 'application/x-vine-path-left'

/** Gives words along as they are dragged; other programs are given the words alone. */
export function asDragged(to: DataTransfer, left: Left): void {
  to.effectAllowed = 'copy'
  to.setData(TYPE, JSON.stringify(left))
  to.setData('text/plain', inOwn(left))
}
/** What was dragged here, where it is of these. */
export function draggedFrom(from: DataTransfer | null): Left | undefined {
  const told = from?.getData(TYPE)
  return told ? (JSON.parse(told) as Left) : undefined
}
