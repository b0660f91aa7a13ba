import { fold } from '../bib/fold'
import { linesOf } from './lines'
import { around, type DrawnPage, type Line, type Run } from './page'

/** Lines at an edge of a page that may be running heads or feet. */
const EDGE = 4
/** Pages before and after that are compared: heads of left and right pages differ. */
const NEAR = 3

export interface Furniture {
  heads: Line[]
  feet: Line[]
  /** What is left of the page. */
  rest: Run[]
  /** The outermost lines that are neither: a first page may have its number there. */
  outer: Line[]
}

/** A number that a page may bear, alone or beside a few words. */
export const ONLY_NUMBER =
  /^(?:[-–—|•·[(]\s*)?(?:p(?:age|\.)?\s*)?(?:[A-Z]{0,3}[-.–]?)?(?:\d{1,6}|[ivxlcdm]{1,9})(?:\s*(?:of|\/|von|de|sur)\s*\d{1,6})?(?:\s*[-–—|•·\])])?$/iu

/**
 * Running heads and feet: what comes again at the same height on the pages near by, numbers aside, from the edge
 * inwards; and page numbers that stand alone at an edge.
 */
export function furnitureOf(pages: readonly DrawnPage[]): Furniture[] {
  const rows = pages.map(p => rowsOf(p))
  return pages.map((page, i) => {
    const own = rows[i]!
    const near = [...rows.slice(Math.max(0, i - NEAR), i), ...rows.slice(i + 1, i + 1 + NEAR)]
    const isFurniture = (row: Row, side: 'above' | 'below') => {
      const height = side === 'above' ? row.line.y : page.height - row.line.y
      if (near.some(other => other[side].some(o => comesAgain(row, o)))) return true
      const isAtEdge = height < page.height * 0.12
      return isAtEdge && ONLY_NUMBER.test(row.line.text) && (near.length === 0 || row.gap > row.line.size * 0.8)
    }
    const heads = whileTrue(own.above, r => isFurniture(r, 'above'))
    const feet = whileTrue(
      own.below.filter(r => !heads.includes(r)),
      r => isFurniture(r, 'below'),
    )
    const gone = new Set([...heads, ...feet].flatMap(r => r.runs))
    return {
      heads: heads.map(r => r.line),
      feet: feet.reverse().map(r => r.line),
      rest: page.runs.filter(r => !gone.has(r)),
      outer: [...own.above.slice(0, 2), ...own.below.slice(0, 2)]
        // the mark of a note stands close to its note
        .filter(r => !gone.has(r.runs[0]!) && (!ONLY_NUMBER.test(r.line.text) || r.gap > r.line.size * 0.8))
        .map(r => r.line),
    }
  })
}

interface Row {
  line: Line
  runs: Run[]
  /** Room to the next row inwards, in points. */
  gap: number
  /** Its words, numbers aside. */
  key: string
}

/** Rows over the whole width of a page, columns or not, and only those at its edges. */
function rowsOf(page: DrawnPage): { above: Row[]; below: Row[] } {
  const runs = page.runs.filter(r => r.text.trim()).sort((a, b) => a.y - b.y)
  const rows: Run[][] = []
  for (const r of runs) {
    const row = rows.at(-1)
    if (row && r.y - row[0]!.y < Math.max(2, Math.min(r.size, row[0]!.size) * 0.4)) row.push(r)
    else rows.push([r])
  }
  const told = (row: Run[], next: Run[] | undefined): Row[] => {
    const line = linesOf(row).sort((a, b) => b.width - a.width)[0]
    // letters that no program can name
    if (!line) return []
    const text = row
      .toSorted((a, b) => a.x - b.x)
      .map(r => r.text)
      .join(' ')
    const gap = !next
      ? Infinity
      : next[0]!.y > row[0]!.y
        ? topMost(next) - bottomMost(row)
        : topMost(row) - bottomMost(next)
    return [{ line, runs: row, gap, key: keyOf(text) }]
  }
  const above = rows.slice(0, EDGE).flatMap((r, i) => told(r, rows[i + 1]))
  const reversed = rows.toReversed()
  return { above, below: reversed.slice(0, EDGE).flatMap((r, i) => told(r, reversed[i + 1])) }
}

const topMost = (row: readonly Run[]): number => around(row).top
const bottomMost = (row: readonly Run[]): number => around(row).bottom

/** The words of a line without the numbers that it begins or ends with: a page's own is one of them. */
function keyOf(text: string): string {
  const words = fold(text)
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
    .split(' ')
  const isWord = (w: string): boolean => !/^(?:\d+|[ivxlcdm]+)$/.test(w)
  const [first, last] = [words.findIndex(isWord), words.findLastIndex(isWord)]
  if (first < 0) return '#'
  const ends = last < words.length - 1
  return `${first ? '# ' : ''}${words.slice(first, last + 1).join(' ')}${ends ? ' #' : ''}`
}

function comesAgain(a: Row, b: Row): boolean {
  if (Math.abs(a.line.y - b.line.y) > 4 || Math.abs(a.line.size - b.line.size) > 1) return false
  // numbers alone say nothing unless they stand at the very edge
  return a.key === b.key && (/\p{L}/u.test(a.key) || a.gap > a.line.size * 0.8)
}

function whileTrue<T>(list: readonly T[], holds: (x: T) => boolean): T[] {
  const end = list.findIndex(x => !holds(x))
  return end < 0 ? [...list] : list.slice(0, end)
}
