import { around, bottomOf, lettersOf, middleOf, topOf, type Column, type Run } from './page'
import { linesOf } from './lines'

/** Lines of so many points are told apart when white room is looked for. */
const CELL = 1.5
const SLOT = 4
/** No page is looked at more closely than this, however large it says it is. */
const MOST_CELLS = 1000
/** Columns within columns; deeper than this nothing is parted. */
const DEEPEST = 12
/** Lines that stand beside each other before white room between them parts two columns. */
const ROWS = 4
/** Where so many do, columns of other pages are looked for at the same place. */
const KNOWN = 15

/**
 * The columns of runs in the order of reading. White room that goes down between text on both sides parts columns; what
 * crosses it is read before or after them. Tables are no columns: few words stand in their cells.
 * @param known where columns are parted on other pages of the text: there fewer lines are enough
 * @param met is given where columns are parted here
 * Idea: recursive cuts along white room (Nagy & Seth 1984; Breuel 2002).
 */
export function columnsOf(
  runs: readonly Run[],
  known: readonly number[] = [],
  met: number[] = [],
  depth = 0,
): Column[] {
  const seen = runs.filter(r => r.text.trim())
  if (!seen.length) return []
  const gutter = depth < DEEPEST && seen.length > 1 ? gutterOf(seen, known) : undefined
  if (!gutter) {
    const { x, right } = around(seen)
    const lines = linesOf(seen)
    return lines.length ? [{ x, width: right - x, lines }] : []
  }
  if (gutter.rows >= KNOWN) met.push(gutter.x)
  const middle = (r: Run) => (topOf(r) + bottomOf(r)) / 2
  const inside = (r: Run) => middle(r) >= gutter.top && middle(r) <= gutter.bottom
  const sides = [
    seen.filter(r => inside(r) && r.x + r.width / 2 < gutter.x),
    seen.filter(r => inside(r) && r.x + r.width / 2 >= gutter.x),
  ]
  const parts = [
    seen.filter(r => middle(r) < gutter.top),
    ...(readsLeftward(seen) ? sides.reverse() : sides),
    seen.filter(r => middle(r) > gutter.bottom),
  ]
  // nothing was parted: the rest would be looked through for ever
  if (parts.some(p => p.length === seen.length)) return [{ x: 0, width: 0, lines: linesOf(seen) }]
  return parts.flatMap(p => columnsOf(p, known, met, depth + 1))
}

const readsLeftward = (runs: readonly Run[]): boolean => {
  const all = runs.map(r => r.text).join('')
  return all.replace(/[^\p{Script=Hebrew}\p{Script=Arabic}]/gu, '').length * 2 > lettersOf(all)
}

interface Gutter {
  /** Lines that stand beside each other on both sides. */
  rows: number
  x: number
  top: number
  bottom: number
}

/** The tallest white room between two columns of text. */
function gutterOf(runs: readonly Run[], known: readonly number[]): Gutter | undefined {
  const { x: left, right, top, bottom } = around(runs)
  const size = middleOf(runs.map(r => r.size)) || 10
  const cell = Math.max(CELL, (right - left) / MOST_CELLS)
  const slot = Math.max(SLOT, (bottom - top) / MOST_CELLS)
  const wide = Math.ceil((right - left) / cell) + 1
  const high = Math.ceil((bottom - top) / slot) + 1
  if (wide < 2 || high < 2) return undefined
  const ink = new Uint8Array(wide * high)
  for (const r of runs) {
    const from = Math.max(0, Math.floor((r.x - left) / cell))
    const to = Math.min(wide - 1, Math.ceil((r.x + r.width - left) / cell) - 1)
    const first = Math.max(0, Math.floor((topOf(r) - top) / slot))
    const last = Math.min(high - 1, Math.floor((bottomOf(r) - top) / slot))
    for (let y = first; y <= last; y++) ink.fill(1, y * wide + from, y * wide + Math.max(from, to) + 1)
  }
  const narrowest = Math.max(size * 0.7, 6)
  const isKnown = (x: number) => known.some(k => Math.abs(k - x) < size)
  const least = known.length ? 1 : ROWS
  let best: (Gutter & { score: number }) | undefined
  for (const w of whiteRooms(ink, wide, high, Math.ceil(narrowest / cell), Math.ceil((least * size * 1.05) / slot))) {
    const gutter = {
      rows: 0,
      x: left + ((w.from + w.to) / 2) * cell,
      top: w.first ? top + w.first * slot : -Infinity,
      bottom: w.last < high - 1 ? top + (w.last + 1) * slot : Infinity,
    }
    const score = (w.last - w.first + 1) * slot + Math.min(30, (w.to - w.from) * cell)
    if (best && score <= best.score) continue
    const rows = rowsBeside(runs, gutter, size, isKnown(gutter.x))
    if (rows) best = { ...gutter, rows, score }
  }
  return best
}

/** The greatest upright rectangles without ink that have ink on both sides; edges are counted in cells and slots. */
function* whiteRooms(ink: Uint8Array, wide: number, high: number, leastWide: number, leastHigh: number) {
  // how far up from here nothing stands, slot by slot
  const up = new Uint16Array(wide)
  // rooms that are open towards the right: where each begins, and how high it is
  const begins = new Uint16Array(wide + 1)
  const heights = new Uint16Array(wide + 1)
  for (let y = 0; y < high; y++) {
    for (let x = 0; x < wide; x++) up[x] = ink[y * wide + x] ? 0 : up[x]! + 1
    const isLast = y === high - 1
    let open = 0
    for (let x = 0; x <= wide; x++) {
      const height = x < wide ? up[x]! : 0
      let from = x
      while (open && heights[open - 1]! >= height) {
        const tall = heights[--open]!
        from = begins[open]!
        if (tall < leastHigh || tall === height || from === 0 || x === wide || x - from < leastWide) continue
        // a room that goes on below is met again there, taller
        if (!isLast && !hasInk(ink, (y + 1) * wide + from, x - from)) continue
        yield { from, to: x, first: y - tall + 1, last: y }
      }
      begins[open] = from
      heights[open++] = height
    }
  }
}

function hasInk(ink: Uint8Array, at: number, n: number): boolean {
  for (let i = at; i < at + n; i++) if (ink[i]) return true
  return false
}

/** How many lines stand beside each other on both sides of white room; none where it does not part running text. */
function rowsBeside(runs: readonly Run[], { x, top, bottom }: Gutter, size: number, isKnown: boolean): number {
  const sides: [Run[], Run[]] = [[], []]
  for (const r of runs) {
    const middle = (topOf(r) + bottomOf(r)) / 2
    if (middle >= top && middle <= bottom) sides[r.x + r.width / 2 < x ? 0 : 1].push(r)
  }
  const rows = sides.map(side => rowsOf(side, size))
  const [few, many] = rows[0]!.length < rows[1]!.length ? rows : [rows[1]!, rows[0]!]
  const beside = few!.filter(a => many!.some(b => Math.abs(a.y - b.y) < size * 0.8))
  if (isKnown) return beside.length
  if (beside.length < ROWS) return 0
  const isText = rows.every(side => side.reduce((n, r) => n + r.words, 0) / side.length >= 2.5)
  return isText ? beside.length : 0
}

/** Baselines with the words on them; of writing without spaces two letters count as a word. */
function rowsOf(runs: readonly Run[], size: number): { y: number; words: number }[] {
  const rows: { y: number; words: number }[] = []
  for (const r of [...runs].sort((a, b) => a.y - b.y)) {
    const spaceless = r.text.replace(
      /[^\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}\p{Script=Thai}]/gu,
      '',
    ).length
    const words = spaceless / 2 + (r.text.match(/\p{L}[\p{L}\p{N}’'-]*|\p{N}{4}/gu)?.length ?? 0) * (spaceless ? 0 : 1)
    const row = rows.at(-1)
    if (row && r.y - row.y < size * 0.4) row.words += words
    else rows.push({ y: r.y, words })
  }
  return rows
}
