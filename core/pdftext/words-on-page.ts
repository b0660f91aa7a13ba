import { findLetters, lettersIn } from '../bib/found'
import type { PageBox } from './anchor'
import { topOf, type DrawnPage, type Run } from './page'

/** Share of the letters of some words that may be others on their page. */
const CHANGED = 0.1

/** Where words stand on a page as it is drawn, a box each piece of a line; none where they do not. */
export function wordsOnPage(words: string, drawn: DrawnPage, page: number): PageBox[] {
  const at: number[] = []
  let text = ''
  for (const r of drawn.runs) {
    // a word that is cut at the end of a line goes on in the next
    if (/\p{L}[-\u00ad] $/u.test(text.slice(-4))) text = text.slice(0, -2)
    at.push(text.length)
    text += `${r.text} `
  }
  const [found] = findLetters(lettersIn(text), words, CHANGED)
  if (!found) return []
  return drawn.runs.flatMap((r, i) => {
    const [from, to] = [Math.max(found.from - at[i]!, 0), Math.min(found.to - at[i]!, r.text.length)]
    return from < to && r.text.slice(from, to).trim()
      ? [{ page, ...boxOf(r, from / r.text.length, to / r.text.length) }]
      : []
  })
}

/** The room of a part of a run; its letters are taken to be equally wide. */
function boxOf(r: Run, from: number, to: number): Omit<PageBox, 'page'> {
  const [start, length] = [r.width * from, r.width * (to - from)]
  const [above, height] = [r.y - topOf(r), r.size]
  switch (r.turn) {
    case 90:
      return { x: r.x - height + above, y: r.y + start, width: height, height: length }
    case 180:
      return { x: r.x - start - length, y: r.y - height + above, width: length, height }
    case 270:
      return { x: r.x - above, y: r.y - start - length, width: height, height: length }
    default:
      return { x: r.x + start, y: r.y - above, width: length, height }
  }
}
