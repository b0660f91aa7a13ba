import { isSign, raised, tidyLetters } from './letters'
import { around, lettersOf, mostBy, type Line, type Run } from './page'

/** A gap of so many letters' height parts two cells of a line. */
const CELL = 1.8
/** A gap of so much is a space between words. */
const SPACE = 0.15

/** Raised signs are smaller than this: browsers print them at five sixths and more. */
const SMALLER = 0.95

/** Lines of runs that stand in one column, from top to bottom: what stands on one baseline, small raised signs with it. */
export function linesOf(runs: readonly Run[]): Line[] {
  const usual = mostBy(runs.map(r => [r.size, lettersOf(r.text)] as const)) ?? 0
  const rows: Run[][] = []
  const largest = runs.reduce((n, r) => Math.max(n, r.size), 5)
  // rows stand by their baselines: only those near one are looked at
  const rowFor = (r: Run, up: number, down: number): Run[] | undefined => {
    let k = behind(rows, r.y + largest * up)
    for (; k > 0 && rows[k - 1]![0]!.y > r.y - largest * down; k--) {
      const at = rows[k - 1]![0]!
      if (r.y > at.y - Math.max(1.5, at.size * up) && r.y < at.y + Math.max(1.5, at.size * down)) return rows[k - 1]
    }
    return undefined
  }
  const isSmall = (r: Run) => r.size < usual * 0.8
  for (const r of [...runs].filter(r => !isSmall(r)).sort((a, b) => a.y - b.y || a.x - b.x)) {
    const row = rowFor(r, 0.3, 0.3)
    if (row) row.push(r)
    else rows.push([r])
  }
  // a small sign belongs to the line that it is beside
  const alone: Run[] = []
  for (const r of runs.filter(isSmall)) {
    const row = rowFor(r, 0.65, 0.35)
    const isBeside = row?.some(o => o.x < r.x + r.width + r.size && r.x < o.x + o.width + r.size)
    if (row && isBeside) row.push(r)
    else alone.push(r)
  }
  signsToTheirLines(rows)
  const small = alone.length === runs.length ? rowsAlone(alone) : alone.length ? linesOf(alone) : []
  return [...rows.map(lineOf), ...small].filter(l => l.text).sort((a, b) => a.y - b.y || a.x - b.x)
}

/** Signs that stand raised beside the large letters of a title or of names are no line of their own. */
function signsToTheirLines(rows: Run[][]): void {
  for (let i = rows.length - 2; i >= 0; i--) {
    const [signs, line] = [rows[i]!, rows[i + 1]!]
    if (!signs.every(r => isSign(r.text))) continue
    const isOf = (r: Run) =>
      line.some(
        o =>
          r.size < o.size * SMALLER &&
          o.y - r.y < o.size * 0.65 &&
          o.x < r.x + r.width + r.size &&
          r.x < o.x + o.width + r.size,
      )
    if (!signs.every(isOf)) continue
    rows[i + 1] = [line[0]!, ...line.slice(1), ...signs]
    rows.splice(i, 1)
  }
}

/** How many rows have their baseline above a height. */
function behind(rows: readonly Run[][], y: number): number {
  let low = 0
  let high = rows.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (rows[middle]![0]!.y < y) low = middle + 1
    else high = middle
  }
  return low
}

function rowsAlone(runs: readonly Run[]): Line[] {
  return runs.map(r => lineOf([r]))
}

/** Runs of one line, joined in the order of reading. */
function lineOf(row: readonly Run[]): Line {
  const letters = row.map(r => r.text.replace(/[^\p{L}]/gu, ''))
  const leftward = letters.filter(isLeftward).join('').length
  const isRtl = leftward * 2 > letters.join('').length
  const sorted = inOrder(row, isRtl)
  const size = mostBy(row.map(r => [r.size, lettersOf(r.text) + 0.01] as const)) ?? row[0]!.size
  const big = row.filter(r => r.size > size * 0.8)
  const y = mostBy(big.map(r => [r.y, r.text.length] as const)) ?? row[0]!.y
  let text = ''
  let last: Run | undefined
  const cells: { x: number; right: number }[] = []
  for (const r of sorted) {
    const gap = !last ? 0 : isRtl && r.x < last.x ? last.x - (r.x + r.width) : r.x - (last.x + last.width)
    const between =
      !last || /\s$/.test(text)
        ? gap > size * CELL && text
          ? '\t'
          : ''
        : gap > size * CELL
          ? '\t'
          : gap > size * SPACE && !/^\s/.test(r.text)
            ? ' '
            : ''
    if (between === '\t' || !last) cells.push({ x: r.x, right: r.x + r.width })
    else cells.at(-1)!.right = Math.max(cells.at(-1)!.right, r.x + r.width)
    text += between + (r.size < size * SMALLER && r.y < y - size * 0.15 ? raised(r.text) : r.text)
    last = r
  }
  const { x, right } = around(row)
  const font = mostBy(row.flatMap(r => (r.font ? [[r.font, lettersOf(r.text) + 0.01] as const] : [])))
  return {
    text: tidyLetters(text),
    ...{ x, y, size },
    width: right - x,
    ...(font ? { font } : {}),
    ...(cells.length > 1 ? { cells } : {}),
  }
}

const isLeftward = (text: string): boolean =>
  /[\p{Script=Hebrew}\p{Script=Arabic}\p{Script=Syriac}\p{Script=Thaana}\p{Script=Nko}]/u.test(text)

/** An accent that is printed by itself belongs before the letter that it stands over. */
const startOf = (r: Run): number => (/^[´¨ˆ˜ˇ˚˘˙˝¯`]$/.test(r.text) ? r.x + r.width / 2 - r.size * 0.45 : r.x)

/** From left to right; where a line runs leftward, its pieces do, and what runs rightward in it keeps its own order. */
function inOrder(row: readonly Run[], isRtl: boolean): Run[] {
  const sorted = [...row].sort((a, b) => startOf(a) - startOf(b))
  if (!isRtl) return sorted
  const out: Run[] = []
  let rightward: Run[] = []
  const flush = () => {
    out.push(...rightward.reverse())
    rightward = []
  }
  for (const r of sorted.reverse()) {
    if (/[\p{Script=Latin}\p{N}]/u.test(r.text) && !isLeftward(r.text)) rightward.push(r)
    else {
      flush()
      out.push(r)
    }
  }
  flush()
  return out
}
