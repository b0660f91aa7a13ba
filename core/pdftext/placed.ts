import { around, type Column, type Line, type ReadPage } from './page'
import { usualLead } from './text'

/** A line with its place in the text. */
export interface Placed extends Line {
  /** Number of its page in the file, from 1. */
  page: number
  /** Which column of the text it stands in, counted from the first. */
  column: number
  /** How far in from the left edge of its column, in points. */
  indent: number
  /** Room above it against the usual way from line to line; 1 where it is the first of its column. */
  gap: number
  isFirst: boolean
  /** Room right of it in its column, in points. */
  short: number
}

/** All lines of the columns of a text, in the order of reading. */
export function placeLines(pages: readonly ReadPage[]): Placed[] {
  const lead = usualLead(pages.flatMap(p => p.columns.flatMap(c => c.lines)))
  let column = 0
  return pages.flatMap((p, i) =>
    p.columns.flatMap(c => {
      const of = column++
      return placed(c, i + 1, of, usualLead(c.lines, lead))
    }),
  )
}

function placed(c: Column, page: number, column: number, lead: number): Placed[] {
  const { right } = around(c.lines)
  return c.lines.map((l, i) => ({
    ...l,
    ...{ page, column },
    indent: l.x - c.x,
    gap: i ? (l.y - c.lines[i - 1]!.y) / lead : 1,
    isFirst: i === 0,
    short: right - l.x - l.width,
  }))
}
