import type { End, ListKind } from '../../../core/trails/field-shapes'
import type { Overview, Row } from './field-desk'
import type { Shown } from './naming'

export type Tab = 'lack' | ListKind
export const TABS: { tab: Tab; name: string; said: string; ofAll: string }[] = [
  {
    tab: 'lack',
    name: 'You lack',
    said: '',
    ofAll:
      'Not in your pool, and cited by three or more works you kept. Where that is more than its fame explains, it stands out.',
  },
  {
    tab: 'references',
    name: 'References',
    said: 'What this work refers to; what more of your kept works are tied to stands first.',
    ofAll: 'What your kept works refer to, by how many of them do.',
  },
  {
    tab: 'cited by',
    name: 'Cited by',
    said: 'What cites this work; what more of your kept works are tied to stands first.',
    ofAll: 'What cites your kept works, by how many of them it cites.',
  },
  {
    tab: 'shared',
    name: 'Shared',
    said: 'Works that refer to what this one refers to, by the share of it.',
    ofAll: 'Works that refer to what your kept works refer to, by the share of it.',
  },
  {
    tab: 'together',
    name: 'Together',
    said: 'Works that are cited where this one is cited.',
    ofAll: 'Works that are cited where your kept works are cited.',
  },
  {
    tab: 'alike',
    name: 'Alike',
    said: 'Near this work by shared references, by being cited together, and by the words of the title.',
    ofAll: 'Near your kept works by shared references, by being cited together, and by the words of the title.',
  },
]

export const ORDERS = [
  { key: 'rank', name: 'as ranked' },
  { key: 'rate', name: 'citations a year' },
  { key: 'percentile', name: 'rank in its field and year' },
  { key: 'new', name: 'newest first' },
  { key: 'old', name: 'oldest first' },
] as const
export const WHICH = [
  { key: 'all', name: 'all' },
  { key: 'new', name: 'not in my pool' },
  { key: 'known', name: 'in my pool' },
] as const
type OrderKey = (typeof ORDERS)[number]['key']
type WhichKey = (typeof WHICH)[number]['key']
export interface Limits {
  order: OrderKey
  which: WhichKey
  kind: string
  reach: string
  since: string
}
export const NO_LIMITS: Limits = { order: 'rank', which: 'all', kind: '', reach: '', since: '' }

/** A row as it is shown: the work, why it is here, and the numbers it can be ordered by. */
export interface Line {
  key: string
  end: End
  shown: Shown
  why: string
  percentile: number | null
}
const times = (n: number, one: string, many: string) => `${n.toLocaleString('en')} ${n === 1 ? one : many}`
/** Why a work that one lacks is named, with both numbers. */
export function whyLacking({ citing, fame, standsOut }: Overview['lacking'][number], kept: number): string {
  const by = `${citing} of your ${kept} cite it`
  const explained =
    fame === undefined ? 'its fame is not known' : `fame explains ${fame < 0.05 ? 'none' : fame.toFixed(1)}`
  return [standsOut && 'stands out', by, explained].filter(Boolean).join(' · ')
}
/** By what a row is ranked. */
export function whyRanked(tab: ListKind, r: Row, all: boolean, kept: number): string {
  const tied = r.tied ? `tied to ${r.tied} of your ${kept}` : ''
  switch (tab) {
    case 'references':
      return all ? `${r.shared} of your ${kept} cite it` : tied
    case 'cited by':
      return all ? `cites ${r.shared} of your ${kept}` : tied
    case 'shared':
      return `${times(r.shared, 'shared reference', 'shared references')} · ${share(r.value)}`
    case 'together':
      return `cited together ${times(r.shared, 'time', 'times')} · ${share(r.value)}`
    default:
      return [`${Math.round(r.value * 100)}% alike`, tied].filter(Boolean).join(' · ')
  }
}
const share = (value: number): string => (value >= 0.01 ? `${Math.round(value * 100)}% of both` : 'under 1% of both')

/** The rows that the limits leave, in the chosen order. */
export function limited(list: Line[], { order, which, kind, reach, since }: Limits): Line[] {
  const kept = list.filter(
    ({ shown: s }) =>
      (which === 'all' || (which === 'new') === !s.work) &&
      (!kind || s.kind === kind) &&
      (!reach || s.reach === reach) &&
      (!since || (s.year !== null && s.year >= Number(since))),
  )
  const by: Record<OrderKey, ((l: Line) => number) | undefined> = {
    rank: undefined,
    rate: l => l.shown.perYear ?? -1,
    percentile: l => l.percentile ?? -1,
    new: l => l.shown.year ?? 0,
    old: l => -(l.shown.year ?? 9999),
  }
  const value = by[order]
  return value ? kept.sort((a, b) => value(b) - value(a)) : kept
}

/** Kinds of the works that are listed. */
export function kindsOf(
  rows: readonly Row[] | undefined,
  overview: Overview,
  shownOf: (end: End) => Shown | undefined,
): string[] {
  const ends = [...(rows ?? []).map(r => r.end), ...overview.lacking.map(l => overview.ends[l.node]!)]
  return [...new Set(ends.flatMap(e => shownOf(e)?.kind ?? []))].sort()
}
