import { columnsOf } from './columns'
import { furnitureOf, ONLY_NUMBER, type Furniture } from './heads'
import type { PageNumbers } from './labels'
import { mendLetters } from './letters'
import { withoutLineNumbers } from './line-numbers'
import { linesOf } from './lines'
import { bodyOf, takeNotes, type Body } from './notes'
import { withoutSideNotes } from './side-notes'
import { lettersOf, mostBy, type Column, type DrawnPage, type Line, type ReadPage, type Run } from './page'

/** Pages taken apart: running heads and feet, columns in the order of reading, notes at their feet and beside them. */
export function readPages(drawn: readonly DrawnPage[]): { pages: ReadPage[]; numbers: PageNumbers[] } {
  const turned = mendLetters(drawn).map(upright)
  const furniture = furnitureOf(withoutLineNumbers(turned.map(t => t.page)))
  const beside = withoutSideNotes(furniture.map(f => f.rest))
  const columns = columnsOfPages(beside.map(b => b.rest))
  const body = bodyOf(columns.flat().flatMap(c => c.lines))
  const pages = turned.map(({ page, aside }, i) =>
    readPage(page, furniture[i]!, columns[i]!, [...beside[i]!.notes, ...aside], body),
  )
  const textOf = (lines: readonly Line[]) => lines.map(l => l.text)
  const numbers = furniture.map(({ heads, feet, outer }, i) => {
    // the number of a page that is read sideways stands upright at its edge
    const numbers = turned[i]!.aside.flatMap(c => c.lines).filter(l => ONLY_NUMBER.test(l.text))
    return { edges: textOf([...heads, ...feet, ...numbers]), outer: textOf(outer) }
  })
  return { pages, numbers }
}

function readPage(
  page: DrawnPage,
  { heads, feet }: Furniture,
  columns: readonly Column[],
  aside: Column[],
  body: Body,
): ReadPage {
  const told = columns.map((c, i) => takeNotes(c, body, i === columns.length - 1 && isBeneath(c, columns.slice(0, -1))))
  const { width, height } = page
  return {
    ...{ width, height, heads, feet },
    columns: [
      ...told.map(t => t.column).filter(c => c.lines.length),
      ...aside.filter(c => c.lines.some(l => !ONLY_NUMBER.test(l.text))),
    ],
    notes: told.flatMap(t => t.notes),
  }
}

/** Columns of all pages; what parts them on some pages is looked for on the others, where few lines stand beside each other. */
function columnsOfPages(pages: readonly (readonly Run[])[]): Column[][] {
  const met = pages.map((): number[] => [])
  const first = pages.map((runs, i) => columnsOf(runs, [], met[i]))
  return first.map((columns, i) => {
    const known = met.flatMap((xs, k) => (k === i || Math.abs(k - i) > NEAR ? [] : xs))
    const isMissed = known.some(x => !met[i]!.some(m => Math.abs(m - x) < 6))
    return isMissed ? columnsOf(pages[i]!, known) : columns
  })
}
/** Pages before and after from which columns are known. */
const NEAR = 4

const isBeneath = (c: Column, others: readonly Column[]): boolean =>
  others.length > 0 && others.every(o => o.lines.every(l => l.y < c.lines[0]!.y) && o.x > c.x - c.lines[0]!.size * 2)

/** A page turned so that most of its letters stand upright; the rest is read beside it. */
function upright(page: DrawnPage): { page: DrawnPage; aside: Column[] } {
  const stacked = stackedIn(page.runs)
  const wayOf = (r: Run): string => `${r.turn ?? 0}${r.upright || stacked.has(r) ? 'u' : ''}`
  const main = mostBy(page.runs.map(r => [wayOf(r), lettersOf(r.text)] as const)) ?? '0'
  const ways = new Map<string, Run[]>()
  for (const r of page.runs) {
    const known = ways.get(wayOf(r))
    if (known) known.push(r)
    else ways.set(wayOf(r), [r])
  }
  const laid = (way: string): DrawnPage => turn(page, ways.get(way) ?? [], parseInt(way), way.endsWith('u'))
  const aside = [...ways.keys()]
    .filter(w => w !== main)
    .map(w => ({ x: 0, width: 0, lines: linesOf(laid(w).runs) }))
    .filter(c => c.lines.length)
  return { page: laid(main), aside }
}

/** Single letters that stand one under the other: programs that know no upright fonts set such writing so. */
function stackedIn(runs: readonly Run[]): Set<Run> {
  const stacked = new Set<Run>()
  const isLetter = (r: Run) => /^[\p{Lo}\p{P}\u2e80-\u2fd5\ufe10-\ufe4f]{1,2}$/u.test(r.text)
  runs.forEach((r, i) => {
    const next = runs[i + 1]
    if (!next || !isLetter(r) || !isLetter(next)) return
    const step = next.y - r.y
    if (Math.abs(next.x - r.x) < r.size * 0.6 && step > r.size * 0.7 && step < r.size * 1.6) stacked.add(r).add(next)
  })
  return stacked.size > 3 ? stacked : new Set()
}

function turn({ width, height }: DrawnPage, runs: readonly Run[], by: number, isUpright: boolean): DrawnPage {
  // columns of letters from right to left are lines from top to bottom
  if (isUpright) return { width: height, height: width, runs: runs.map(r => ({ ...r, x: r.y, y: width - r.x })) }
  switch (by) {
    case 90:
      return { width: height, height: width, runs: runs.map(r => ({ ...r, x: r.y, y: width - r.x })) }
    case 180:
      return { width, height, runs: runs.map(r => ({ ...r, x: width - r.x, y: height - r.y })) }
    case 270:
      return { width: height, height: width, runs: runs.map(r => ({ ...r, x: height - r.y, y: r.x })) }
    default:
      return { width, height, runs }
  }
}
