import { Op, QueryTypes } from 'sequelize'
import type { Profile } from '../../core/access/profile'
import { reach } from '../../core/access/reach'
import type { LoanOffer } from '../../core/access/loan'
import { withLoans, type Route } from '../../core/access/routes'
import type { Item } from '../../core/bib/item'
import { citationsPerYear } from '../../core/trails/rate'
import type { Changes, WorkLine } from '../../core/sift/line'
import { opensTo } from '../copies/copies-model'
import type { Member } from '../sessions/member'
import type { Context } from '../base/context'
import type { WorkRow } from './pool-model'
import { citationsName } from '../connect/connectors'
import { catalogueNames } from '../library/catalogues'
import { holdingsStamp, profilesFor } from '../library/holdings'
import { offersFor } from '../library/offices'

/** Says where a record came from, in words. */
export type Sources = (source: string) => string
export async function sourcesOf(c: Context): Promise<Sources> {
  const names = await catalogueNames(c)
  return source =>
    source.startsWith('file:') ? 'your file' : source === 'trail' ? citationsName(c) : (names.get(source) ?? source)
}

/** What a line says of a work beside the work's own row. */
interface Beside {
  routes?: Route[] | undefined
  proved: boolean
  sources: string[]
  sweeps: number[]
  arrivals: number[]
}
type LinedWork = Pick<
  WorkRow,
  'id' | 'line' | 'kind' | 'confidence' | 'state' | 'pass' | 'reason' | 'decidedAt' | 'said' | 'citedBy'
>
const LINED = [
  'id',
  'successorId',
  'line',
  'kind',
  'confidence',
  'state',
  'pass',
  'reason',
  'decidedAt',
  'said',
  'citedBy',
] as const

/** Lines of one answer at most. */
export const PAGE = 5000

/** Of which inquiry, on which day, and when that is due. */
type Asking = Pick<Member, 'inquiryId' | 'userId' | 'day' | 'due' | 'rhythm'>

/** The works of a pool as record lines; all of them, or some. Retired works are left out. */
export async function workLines(c: Context, of: Asking, only?: readonly number[]): Promise<WorkLine[]> {
  const lines: WorkLine[] = []
  for (let after: number | null = 0; after !== null;) {
    const page: LinesPage = await linesPage(c, of, { ...(only ? { only } : {}), after })
    lines.push(...page.lines)
    after = page.next
  }
  return lines
}

/**
 * The record lines that changed after a revision, for a browser that has the others. On another day of the desk, or
 * with other holdings of the library or another due date, all are told, since what a line says of age and reach moves
 * with them.
 */
export async function changesOf(
  c: Context,
  member: Member,
  asked: { since?: number | undefined; day?: string | undefined; after?: number | undefined },
): Promise<Changes> {
  const { inquiryId, revision, day: today } = member
  // the revision is older than the lines: what changes in between is told once more, never missed
  const { offers, needed } = await offersFor(c, member)
  // with another due date other loans are in time
  const day = [today, await holdingsStamp(c, inquiryId), offers.length ? needed : ''].filter(Boolean).join(' ')
  const since = asked.day === day ? asked.since : undefined
  const which = { ...(since === undefined ? {} : { since }), after: asked.after ?? 0 }
  const page = await linesPage(c, member, which)
  return { revision, day, whole: since === undefined, ...page }
}

type LinesPage = Pick<Changes, 'lines' | 'gone' | 'next'>

/**
 * Record lines with what a browser needs to keep its own in step, in pages by the ids of works.
 * @param which works of these ids, or those whose line changed after a revision; all where neither is given
 * @returns `gone`: works that were joined into others after that revision
 */
export async function linesPage(
  c: Context,
  asking: Asking,
  which: { only?: readonly number[]; since?: number; after: number },
): Promise<LinesPage> {
  const { inquiryId, day } = asking
  const { only, since, after } = which
  const works = await c.db.works.findAll({
    where: {
      inquiryId,
      id: only ? { [Op.in]: [...only], [Op.gt]: after } : { [Op.gt]: after },
      ...(since === undefined ? { successorId: null } : { revision: { [Op.gt]: since } }),
    },
    attributes: [...LINED],
    order: ['id'],
    limit: PAGE,
    raw: true,
  })
  const living = works.filter(w => w.successorId === null)
  const profiles = await profilesFor(
    c,
    inquiryId,
    living.map(w => w.line.access.item),
  )
  const { offers } = await offersFor(c, asking)
  const by = { day, profiles, offers, sources: await sourcesOf(c) }
  const whole = !only && since === undefined && !after && works.length < PAGE
  const beside = await besideOf(
    c,
    asking,
    living.map(w => w.id),
    whole,
  )
  return {
    lines: living.map(w => lineOf(w, beside(w.id), by)),
    gone: works.filter(w => w.successorId !== null).map(w => w.id),
    next: works.length < PAGE ? null : works.at(-1)!.id,
  }
}

/** @param whole these are all works of the inquiry, so that they need not be named */
async function besideOf(
  c: Context,
  { inquiryId, userId, day }: Asking,
  works: readonly number[],
  whole: boolean,
): Promise<(work: number) => Beside> {
  const none: Beside = { proved: false, sources: [], sweeps: [], arrivals: [] }
  if (!works.length) return () => none
  // lists of what stands on many rows are put together where the rows are
  const rows = await c.db.sequelize.query<{
    work: number
    sources: string
    arrivals: string | null
    sweeps: string | null
    routes: Route[] | string | null
    proved: number
  }>(
    `SELECT r.work_id AS work, GROUP_CONCAT(DISTINCT r.source) AS sources, GROUP_CONCAT(DISTINCT r.arrival ORDER BY r.arrival) AS arrivals,
       GROUP_CONCAT(DISTINCT h.sweep_id ORDER BY h.sweep_id) AS sweeps,
       (SELECT routes FROM routes t WHERE t.work_id = r.work_id) AS routes,
       EXISTS (SELECT 1 FROM copies x WHERE x.work_id = r.work_id AND x.outcome = 'proved' AND ${opensTo('x')}) AS proved
     FROM records r LEFT JOIN sweep_hits h ON h.record_id = r.id
     WHERE r.inquiry_id = :inquiryId AND ${whole ? 'r.work_id IS NOT NULL' : 'r.work_id IN (:works)'} GROUP BY r.work_id`,
    { type: QueryTypes.SELECT, replacements: { inquiryId, works, userId, day } },
  )
  const numbers = (list: string | null) => (list ? list.split(',').map(Number) : [])
  const of = new Map(
    rows.map(r => [
      r.work,
      {
        // the driver knows some columns of JSON as such
        routes: typeof r.routes === 'string' ? (JSON.parse(r.routes) as Route[]) : (r.routes ?? undefined),
        proved: Boolean(r.proved),
        sources: r.sources.split(','),
        sweeps: numbers(r.sweeps),
        arrivals: numbers(r.arrivals),
      },
    ]),
  )
  return work => of.get(work) ?? none
}

/** What was looked up of a work, with what can be asked for besides. */
export const withOffers = <T extends Pick<Beside, 'routes'>>(
  lookedUp: T,
  item: Pick<Item, 'type'>,
  offers: readonly LoanOffer[],
): T => ({ ...lookedUp, routes: lookedUp.routes && withLoans(lookedUp.routes, item, offers) })

/** One work as a record line. */
export function lineOf(
  w: LinedWork,
  beside: Beside,
  {
    day,
    profiles,
    sources,
    offers,
  }: { day: string; profiles: readonly Profile[]; sources: Sources; offers: readonly LoanOffer[] },
): WorkLine {
  const { access, ...line } = w.line
  const said = w.said ?? {}
  // the index counts all who cite it; a catalogue's record has what it had when it came
  const citedBy = w.citedBy ?? line.citedBy
  return {
    id: w.id,
    ...line,
    citedBy,
    kind: w.kind,
    confidence: w.confidence,
    perYear: citationsPerYear(citedBy ?? undefined, line.year ?? undefined, day) ?? null,
    state: w.state,
    pass: w.pass,
    reason: w.reason,
    decidedAt: w.decidedAt?.toISOString() ?? null,
    reach: reach(access.item, { profiles, day, facts: access.facts, lookedUp: withOffers(beside, access.item, offers) })
      .reach,
    part: said.part ?? null,
    strands: said.strands ?? [],
    tags: said.tags ?? [],
    hasNote: Boolean(said.note),
    ownKind: said.kind !== undefined,
    sources: [...new Set(beside.sources.map(sources))],
    sweeps: beside.sweeps,
    arrivals: beside.arrivals.map((a, i) => `${a} ${i ? 'known' : 'new'}`),
  }
}
