import { linesOf } from './lines'
import { around, lettersOf, type Column, type Run } from './page'

/** What is wider than so much of the text's width is running text. */
const RUNNING = 0.55
/** So many of the long lines begin or end at one place. */
const ALIKE = 0.15
/** Fewer letters beside the text are a number or a sign. */
const LEAST_LETTERS = 8

interface Edges {
  left: number
  right: number
}

/**
 * Notes that stand in the margin beside the text, where every page with an even or an odd number has its text between
 * the same edges.
 * @returns for each page what is left of it, and the notes, each a column
 */
export function withoutSideNotes(pages: readonly (readonly Run[])[]): { rest: readonly Run[]; notes: Column[] }[] {
  const stretches = pages.map(stretchesOf)
  const edges = [0, 1].map(odd => edgesOf(stretches.filter((_, i) => i % 2 === odd).flat()))
  return pages.map((runs, i) => {
    const own = edges[i % 2] ?? edges[(i + 1) % 2]
    const beside = own ? besideText(stretches[i]!, own) : []
    if (!beside.length) return { rest: runs, notes: [] }
    const gone = new Set(beside.flatMap(s => s.runs))
    return { rest: runs.filter(r => !gone.has(r)), notes: columnsOf(beside) }
  })
}

/** Words that stand on one line without wide room between them. */
interface Stretch extends Edges {
  runs: Run[]
  y: number
  size: number
}

function stretchesOf(runs: readonly Run[]): Stretch[] {
  const rows: Run[][] = []
  for (const r of runs.filter(r => r.text.trim()).toSorted((a, b) => a.y - b.y)) {
    const row = rows.at(-1)
    if (row && r.y - row[0]!.y < Math.max(1.5, r.size * 0.3)) row.push(r)
    else rows.push([r])
  }
  return rows.flatMap(row => {
    const out: Stretch[] = []
    for (const r of row.toSorted((a, b) => a.x - b.x)) {
      const last = out.at(-1)
      // the room between the text and a note beside it may be small, but its letters are others
      const room = last && r.x - last.right
      const goesOn = room !== undefined && room < r.size * (Math.abs(r.size - last!.size) > 0.6 ? 0.45 : 0.9)
      if (last && goesOn) {
        last.runs.push(r)
        last.right = Math.max(last.right, r.x + r.width)
      } else out.push({ runs: [r], y: r.y, size: r.size, left: r.x, right: r.x + r.width })
    }
    return out
  })
}

/** Between which edges the lines of pages stand: where most of the long ones begin and end. None where they are not alike. */
function edgesOf(stretches: readonly Stretch[]): Edges | undefined {
  const widest = stretches.map(s => s.right - s.left).sort((a, b) => a - b)
  const usual = widest[Math.floor(widest.length * 0.9)] ?? 0
  const long = stretches.filter(s => s.right - s.left > usual * 0.8)
  if (long.length < 12) return undefined
  const lefts = common(long.map(s => s.left))
  const rights = common(long.map(s => s.right))
  return lefts.length && rights.length ? { left: Math.min(...lefts), right: Math.max(...rights) } : undefined
}

/** Numbers at which many of a list are, to the point: lines of two columns begin at two places. */
function common(numbers: readonly number[]): number[] {
  const seen = new Map<number, number>()
  for (const x of numbers) seen.set(Math.round(x), (seen.get(Math.round(x)) ?? 0) + 1)
  const near = (x: number) => (seen.get(x - 1) ?? 0) + (seen.get(x) ?? 0) + (seen.get(x + 1) ?? 0)
  return [...seen.keys()].filter(x => near(x) > numbers.length * ALIKE)
}

/** Stretches in the margin: narrower than the text, and beside running text where anything is beside them. */
function besideText(stretches: readonly Stretch[], { left, right }: Edges): Stretch[] {
  const wide = right - left
  const isOutside = (s: Stretch) => s.left >= right + 2 || s.right <= left - 2
  const outside = stretches.filter(s => isOutside(s) && s.right - s.left < wide * 0.6)
  const running = stretches.filter(s => !isOutside(s) && s.right - s.left > wide * RUNNING)
  // cells of a table that is wider than the text stand beside other cells
  const cells = stretches.filter(s => !isOutside(s) && s.right - s.left <= wide * RUNNING)
  const isBeside = (s: Stretch, o: Stretch) => Math.abs(s.y - o.y) < Math.max(s.size, o.size) * 0.7
  return blocksOf(outside)
    .filter(block => {
      const letters = block.reduce((n, s) => n + s.runs.reduce((m, r) => m + lettersOf(r.text), 0), 0)
      const text = block.filter(s => running.some(o => isBeside(s, o))).length
      const table = block.filter(s => cells.filter(o => isBeside(s, o)).length > 1).length
      return letters >= LEAST_LETTERS && text > 0 && text >= table
    })
    .flat()
}

/** What stands beneath each other in a margin. */
function blocksOf(stretches: readonly Stretch[]): Stretch[][] {
  const blocks: { own: Stretch[]; left: number; right: number }[] = []
  for (const s of stretches) {
    const block = blocks.find(b => {
      const last = b.own.at(-1)!
      const step = s.y - last.y
      // words of one line stand apart where it is filled to its edge
      const isSameLine = step < s.size * 0.3 && s.left - last.right < s.size * 3
      return isSameLine || (step < Math.max(s.size, last.size) * 2 && s.left < b.right && b.left < s.right)
    })
    if (block) {
      block.own.push(s)
      block.left = Math.min(block.left, s.left)
      block.right = Math.max(block.right, s.right)
    } else blocks.push({ own: [s], left: s.left, right: s.right })
  }
  return blocks.map(b => b.own)
}

const columnsOf = (stretches: readonly Stretch[]): Column[] =>
  blocksOf(stretches).map(block => {
    const runs = block.flatMap(s => s.runs)
    const { x, right } = around(runs)
    return { x, width: right - x, lines: linesOf(runs) }
  })
