/** A run of text with its place on the page, in points from the lower left corner. */
export interface Run {
  text: string
  x: number
  y: number
  width: number
  /** Font size in points. */
  size: number
}

export interface Line {
  text: string
  x: number
  y: number
  width: number
  size: number
}

/**
 * Lines in reading order from positioned runs: runs on one baseline are joined, split at column gutters, and the
 * columns read one after the other between lines that span both.
 */
export function readLines(runs: readonly Run[], pageWidth: number): Line[] {
  const lines = joinRuns(runs.filter(r => r.text.trim()))
  const middle = pageWidth / 2
  const left = lines.filter(l => l.x + l.width <= middle + 6)
  const right = lines.filter(l => l.x >= middle - 6)
  const twoColumns = left.length >= 6 && right.length >= 6
  lines.sort((a, b) => b.y - a.y || a.x - b.x)
  if (!twoColumns) return lines
  const out: Line[] = []
  let pending: Line[] = []
  const flush = () => {
    out.push(...pending.filter(l => l.x < middle - 6), ...pending.filter(l => l.x >= middle - 6))
    pending = []
  }
  for (const l of lines) {
    const spans = l.x < middle - 6 && l.x + l.width > middle + 6
    if (spans) {
      flush()
      out.push(l)
    } else pending.push(l)
  }
  flush()
  return out
}

function joinRuns(runs: readonly Run[]): Line[] {
  const sorted = [...runs].sort((a, b) => b.y - a.y || a.x - b.x)
  const rows: Run[][] = []
  for (const r of sorted) {
    const row = rows.at(-1)
    if (row && Math.abs(row[0]!.y - r.y) < Math.max(2, r.size * 0.3)) row.push(r)
    else rows.push([r])
  }
  return rows.flatMap(row => {
    row.sort((a, b) => a.x - b.x)
    const lines: Line[] = []
    for (const r of row) {
      const last = lines.at(-1)
      const gap = last ? r.x - (last.x + last.width) : 0
      // a gap wider than two letters is a gutter, not a space
      if (!last || gap > r.size * 1.8) lines.push({ text: r.text, x: r.x, y: r.y, width: r.width, size: r.size })
      else {
        last.text += (gap > r.size * 0.15 && !/\s$/.test(last.text) && !/^\s/.test(r.text) ? ' ' : '') + r.text
        last.width = r.x + r.width - last.x
        last.size = Math.max(last.size, r.size)
      }
    }
    return lines.map(l => ({ ...l, text: l.text.replace(/\s+/g, ' ').trim() }))
  })
}

/** What a first page is headed with: its lines in the largest letters, where they are larger than the text. */
export function headingOf(lines: readonly Line[]): string | undefined {
  const sizes = lines.map(l => l.size).sort((a, b) => a - b)
  const largest = sizes.at(-1)
  if (!largest || largest < sizes[sizes.length >> 1]! * 1.15) return undefined
  const text = lines
    .filter(l => l.size > largest * 0.95)
    .slice(0, 4)
    .map(l => l.text)
    .join(' ')
  return text.slice(0, 200) || undefined
}

/**
 * The number printed on each page: the number in the first or last two lines that rises by one from page to page.
 * Pages without one are labelled by counting on; a file without any keeps its own numbers.
 */
export function pageLabels(pages: readonly (readonly Line[])[]): string[] {
  const votes = new Map<number, number>()
  pages.forEach((lines, i) => {
    const edge = [...lines].sort((a, b) => b.y - a.y)
    const found = new Set(
      [...edge.slice(0, 2), ...edge.slice(-2)].flatMap(l =>
        [...l.text.matchAll(/(?:^|\s)(\d{1,5})(?=\s|$)/g)].map(m => Number(m[1]) - i),
      ),
    )
    for (const offset of found) votes.set(offset, (votes.get(offset) ?? 0) + 1)
  })
  const best = [...votes].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]
  const offset = best && best[1] >= Math.max(2, pages.length * 0.5) ? best[0] : 1
  return pages.map((_, i) => String(offset + i))
}
