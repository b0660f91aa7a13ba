import { around, type DrawnPage, type Run } from './page'

/** So many numbers in the margins of a text are lines counted, where each counts one; of every fifth line a third is enough. */
const LEAST = 12

/** Pages without the numbers of lines that manuscripts bear in their margins. */
export function withoutLineNumbers(pages: readonly DrawnPage[]): DrawnPage[] {
  const counted = pages.map(inMargins)
  const all = counted.flat()
  const least = all.every(c => c.by === 1) ? LEAST : LEAST / 3
  if (all.reduce((n, c) => n + c.runs.length, 0) < least) return [...pages]
  return pages.map((page, i) => {
    const gone = new Set(counted[i]!.flatMap(c => c.runs))
    return gone.size ? { ...page, runs: page.runs.filter(r => !gone.has(r)) } : page
  })
}

interface Counted {
  runs: Run[]
  /** From one number to the next. */
  by: number
}

/** Numbers left or right of all words of a page that go up by the same step at the same distance. */
function inMargins(page: DrawnPage): Counted[] {
  const worded = page.runs.filter(r => /\p{L}{3}/u.test(r.text))
  if (!worded.length) return []
  const { x: left, right } = around(worded)
  const numbers = page.runs.filter(r => /^\s*\d{1,5}\s*$/.test(r.text))
  return [numbers.filter(r => r.x + r.width <= left + 1), numbers.filter(r => r.x >= right - 1)].flatMap(counted)
}

function counted(numbers: readonly Run[]): Counted[] {
  const runs = [...numbers].sort((a, b) => a.y - b.y)
  const steps = runs.slice(1).map((r, i) => ({ by: Number(r.text) - Number(runs[i]!.text), down: r.y - runs[i]!.y }))
  const step = steps[steps.length >> 1]
  if (!step || steps.length < 3 || step.by < 1 || step.by > 10) return []
  const even = steps.filter(s => s.by === step.by && Math.abs(s.down - step.down) < step.down * 0.25).length
  // a heading takes more room than a line
  return even >= steps.length * 0.6 && steps.every(s => s.by === step.by) ? [{ runs, by: step.by }] : []
}
