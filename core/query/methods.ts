import { longDay } from '../bib/dates'

/** What a search log knows of one sweep. */
export interface LoggedSweep {
  name: string | null
  cql: string
  /** ISO day on which the desk stood. */
  deskDay: string
  catalogues: {
    name: string
    asked: string | null
    count: number | null
    fetched: number
    state: string
    changes: string[]
  }[]
}

/**
 * A methods paragraph on the sweeps of an inquiry, with what the reporting standard PRISMA-S asks of a search:
 * databases by name, dates, full queries as asked, limits, counts, and what failed.
 */
export function methodsText(
  sweeps: readonly LoggedSweep[],
  library: string,
  joined: { records: number; works: number },
  trails: TrailLog = { rounds: [], from: '' },
): string {
  if (!sweeps.length && !trails.rounds.length) return 'No search has been run yet.'
  return [...searches(sweeps, library), ...alongTrails(trails), joinedUp(joined)].join(' ')
}

/** Rounds along citations: the day of each, from how many works, and how many works it met that no round met before. */
export interface TrailLog {
  rounds: readonly { day: string; works: number; fresh: number; isStanding: boolean }[]
  /** Who was asked for citations. */
  from: string
}

function alongTrails({ rounds: all, from }: TrailLog): string[] {
  const rounds = all.filter(r => !r.isStanding)
  const each = rounds.map(
    r => `${longDay(r.day)} from ${r.works} ${r.works === 1 ? 'work' : 'works'} (${r.fresh.toLocaleString('en')} met)`,
  )
  return [
    ...(each.length
      ? [
          `References and citing works were followed by ${from} in ${each.length === 1 ? 'one round' : `${each.length} rounds`}: ${each.join('; ')}.`,
        ]
      : []),
    ...sayStanding(all, from),
  ]
}

/** Runs of standing trails, all in one sentence; none where there are none. */
export function sayStanding(
  rounds: readonly { day: string; fresh: number; isStanding: boolean }[],
  from: string,
): string[] {
  const standing = rounds.filter(r => r.isStanding)
  const last = standing
    .map(r => r.day)
    .sort()
    .at(-1)
  if (!last) return []
  const met = standing.reduce((n, r) => n + r.fresh, 0).toLocaleString('en')
  return [
    `${from} was asked ${standing.length === 1 ? 'once' : `${standing.length} times`} by schedule what cites them, the last time on ${longDay(last)} (${met} met).`,
  ]
}

const joinedUp = ({ records, works }: { records: number; works: number }): string =>
  `${records} records were brought together; after records of the same work were joined, ${works} works remained.`

function searches(sweeps: readonly LoggedSweep[], library: string): string[] {
  if (!sweeps.length) return []
  const sources = [...new Set(sweeps.flatMap(s => s.catalogues.map(c => c.name)))]
  const days = [...new Set(sweeps.map(s => s.deskDay))].sort()
  const when =
    days.length === 1 ? `on ${longDay(days[0]!)}` : `between ${longDay(days[0]!)} and ${longDay(days.at(-1)!)}`
  const parts = [
    `${sources.length === 1 ? 'One catalogue was' : `${sources.length} catalogues were`} searched ${when} through ${library}: ${sources.join(', ')}.`,
  ]
  sweeps.forEach((s, i) => {
    const done = s.catalogues.filter(c => c.count !== null && c.state === 'done')
    const failed = s.catalogues.filter(c => c.state === 'failed')
    parts.push(
      `Search ${i + 1}${s.name ? ` (${s.name})` : ''}, ${longDay(s.deskDay)}: ${s.cql}. ` +
        (done.length
          ? `Records found: ${done.map(c => `${c.name} ${c.count}${c.fetched < (c.count ?? 0) ? ` (${c.fetched} examined)` : ''}`).join('; ')}.`
          : 'No catalogue answered.') +
        (failed.length ? ` Not answered: ${failed.map(c => c.name).join(', ')}.` : ''),
    )
    const other = s.catalogues.filter(c => c.asked && c.asked !== s.cql)
    if (other.length) parts.push(`Adapted for ${other.map(c => `${c.name}: ${c.asked}`).join('; ')}.`)
  })
  return parts
}
