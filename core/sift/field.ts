import type { State } from './decisions'
import { NONE, type Facet, type Limited } from './limits'

/** One bar of a chart: a value and its works by what they are told apart by. */
export interface Bar {
  value: string
  works: number
  /** Works by the second thing, in the order of `parts`. */
  split: number[]
}
export interface Chart {
  /** What a bar stands for, and is limited by. */
  facet: Facet
  parts: string[]
  bars: Bar[]
  /** Works that have none of it on record. */
  unknown: number
  /** Values beyond those shown. */
  more: number
}

const DECIDED: readonly State[] = ['kept', 'later', 'unread', 'set aside']
/** Kinds told apart in the chart of years; the others are one. */
const KINDS_SHOWN = 4
/** Bars of a chart of names. */
const NAMES = 12

/** Works by year, told apart by kind; every year from the first to the last has its place. */
export function byYear(works: readonly Limited[]): Chart {
  const kinds = new Map<string, number>()
  for (const w of works) kinds.set(w.kind, (kinds.get(w.kind) ?? 0) + 1)
  const common = [...kinds]
    .sort((a, b) => b[1] - a[1])
    .slice(0, KINDS_SHOWN)
    .map(([k]) => k)
  const parts = kinds.size > common.length ? [...common, 'other kinds'] : common
  const years = new Map<number, number[]>()
  let unknown = 0
  for (const w of works) {
    if (w.year === null) {
      unknown++
      continue
    }
    const split = years.get(w.year) ?? parts.map(() => 0)
    const at = common.indexOf(w.kind)
    split[at < 0 ? parts.length - 1 : at]!++
    years.set(w.year, split)
  }
  const all = [...years.keys()].sort((a, b) => a - b)
  const bars: Bar[] = []
  const [from, to] = span(all)
  for (let y = from; y <= to; y++) {
    const split = years.get(y) ?? parts.map(() => 0)
    bars.push({ value: String(y), works: split.reduce((t, x) => t + x, 0), split })
  }
  const shown = bars.reduce((t, b) => t + b.works, 0)
  return { facet: 'year', parts, bars, unknown, more: works.length - unknown - shown }
}

/** Years without any work that end an axis: beyond them stand slips of the pen, and the odd old classic. */
const GAP = 40

/** The run of years around the middle one, so that a slip such as 20217 makes no axis of eighteen thousand years. */
function span(years: readonly number[]): [number, number] {
  let from = years.length >> 1
  let to = from
  while (from > 0 && years[from]! - years[from - 1]! <= GAP) from--
  while (to < years.length - 1 && years[to + 1]! - years[to]! <= GAP) to++
  return [years[from] ?? 0, years[to] ?? -1]
}

/** The commonest values of something that works have any number of, told apart by what was decided. */
export function byValue(facet: Facet, works: readonly Limited[], valuesOf: (w: Limited) => readonly string[]): Chart {
  const counts = new Map<string, number[]>()
  let unknown = 0
  for (const w of works) {
    const values = new Set(valuesOf(w).filter(v => v && v !== NONE))
    if (!values.size) unknown++
    for (const v of values) {
      const split = counts.get(v) ?? DECIDED.map(() => 0)
      split[DECIDED.indexOf(w.state)]!++
      counts.set(v, split)
    }
  }
  const bars = [...counts]
    .map(([value, split]) => ({ value, split, works: split.reduce((t, x) => t + x, 0) }))
    .sort((a, b) => b.works - a.works || a.value.localeCompare(b.value))
  return { facet, parts: [...DECIDED], bars: bars.slice(0, NAMES), unknown, more: Math.max(0, bars.length - NAMES) }
}

/** The field of a pool at a glance: every chart of it. */
export function fieldOf(
  works: readonly Limited[],
): Record<'years' | 'kinds' | 'reasons' | 'catalogues' | 'journals' | 'authors' | 'subjects', Chart> {
  return {
    years: byYear(works),
    kinds: byValue('kind', works, w => [w.kind]),
    reasons: byValue(
      'reason',
      works.filter(w => w.state === 'set aside'),
      w => (w.reason ? [w.reason] : []),
    ),
    catalogues: byValue('catalogue', works, w => w.sources),
    journals: byValue('journal', works, w => [w.container]),
    authors: byValue('author', works, w => w.people),
    subjects: byValue('subject', works, w => w.subjects),
  }
}
