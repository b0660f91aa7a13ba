import type { PageBox } from '../../../core/pdftext/anchor'
import { linesOf } from '../../../core/pdftext/turned'
import type { Reader } from './viewer'

/** What is chosen on a page to be noted: words, a box around a figure, or the page itself. */
export interface Chosen {
  page: number
  text: string
  /** Where it stands on its pages, in points. */
  boxes: readonly PageBox[]
}

/** Pieces of a selection whose places are kept. */
const MOST_BOXES = 200

/** Words that are selected on drawn pages. */
export function chosenNow(reader: Reader): Chosen | undefined {
  const s = window.getSelection()
  if (!s || s.isCollapsed || !s.rangeCount) return undefined
  const range = s.getRangeAt(0)
  if (!reader.room.contains(range.commonAncestorContainer)) return undefined
  const text = s
    .toString()
    .replace(/(\p{L})-\n(\p{Ll})/gu, '$1$2')
    .replace(/\s+/g, ' ')
    .trim()
  const pieces = [...range.getClientRects()].filter(r => r.width > 0).slice(0, MOST_BOXES)
  const boxes = linesOf(pieces.flatMap(r => reader.boxAt(r) ?? []))
  const first = boxes[0]
  return first && text ? { page: first.page, text, boxes } : undefined
}
