import { QueryTypes, type Transaction } from 'sequelize'
import type { Item } from '../../core/bib/item'
import type { Scope } from '../../core/schema/api/trace'
import type { Context } from '../base/context'
import { addMissing, readJson } from '../db/rows'
import {
  day,
  describeTable,
  flag,
  json,
  key,
  moment,
  orNull,
  ownId,
  text,
  whole,
  word,
  type RowOf,
  type Table,
} from '../db/table'
import { catalogueNames } from '../library/catalogues'
import { worksOfNodes } from '../trace/graph-model'

/** What is asked again by schedule: a sweep, by its query and catalogues; or what cites works, by their scope. */
export const standing = describeTable('standing', {
  id: ownId(),
  inquiryId: whole(),
  userId: orNull(whole()),
  name: word(),
  query: orNull(text()),
  catalogues: json<string[]>(),
  scope: orNull(word<Scope>()),
  /** The strand or the work. */
  subject: orNull(whole()),
  everyDays: whole(),
  /** Desk day of the next run. */
  nextDay: day(),
  mails: flag(),
  paused: flag(),
  /** Whoever has it can read the feed. */
  token: word(),
  at: moment(),
})
export type StandingRow = RowOf<typeof standing>

/** A citation that a run of a standing trail was the first to meet. */
export const trailNews = describeTable('trail_news', {
  roundId: key(),
  citing: key(),
  cited: key(),
  /** By letter. */
  told: flag(),
})
export type TrailNewsRow = RowOf<typeof trailNews>

declare module '../base/context' {
  interface Db {
    standing: Table<StandingRow>
    trailNews: Table<TrailNewsRow>
  }
}

/**
 * Marks what no earlier run of a standing sweep had. Of a catalogue whose first answer this is nothing is new: all of
 * it is what later runs are held against.
 */
export const markNews = ({ db }: Context, standingId: number, sweep: number, transaction: Transaction) =>
  db.sequelize.query(
    `UPDATE sweep_hits h JOIN records r ON r.id = h.record_id SET h.is_new = 1 WHERE h.sweep_id = :sweep
     AND EXISTS (
       SELECT 1 FROM sweep_catalogues p JOIN sweeps w ON w.id = p.sweep_id
       WHERE w.standing_id = :standing AND w.id < :sweep AND p.catalogue = h.catalogue AND p.state = 'done')
     AND NOT EXISTS (
       SELECT 1 FROM records x JOIN sweep_hits o ON o.record_id = x.id JOIN sweeps w ON w.id = o.sweep_id
       WHERE x.inquiry_id = r.inquiry_id AND x.source = r.source AND x.source_key = r.source_key
       AND w.standing_id = :standing AND w.id < :sweep)`,
    { replacements: { sweep, standing: standingId }, transaction },
  )

/**
 * Of a run of a standing trail, the citations that are new to it: met since the last of its runs that walked this trail
 * to the end, or, where it is the first, since anybody walked it. Of a trail that nobody walked before nothing is new:
 * all of it is what later runs are held against. A work that is in the pool, or was told before, is no news.
 * @returns how many works are new in the run
 */
export async function putTrailNews(
  c: Context,
  { standingId, round, inquiryId }: { standingId: number; round: number; inquiryId: number },
  t: Transaction,
): Promise<number> {
  const walked = (of: string) =>
    `(SELECT MAX(p.round_id) FROM walks p STRAIGHT_JOIN rounds r ON r.id = p.round_id WHERE p.node_id = w.node_id AND p.direction = 'cited-by'
       AND p.day IS NOT NULL AND p.round_id < :round AND ${of})`
  const links = await c.db.sequelize.query<{ citing: number; cited: number }>(
    `SELECT x.citing, x.cited FROM (
       SELECT w.node_id, COALESCE(${walked('r.standing_id = :standingId AND r.found_new IS NOT NULL')},
         ${walked('(r.standing_id IS NULL OR r.standing_id <> :standingId)')}) AS since
       FROM walks w WHERE w.round_id = :round AND w.direction = 'cited-by' AND w.day IS NOT NULL) b
     JOIN citations x ON x.inquiry_id = :inquiryId AND x.cited = b.node_id AND x.said_by = 'index' AND x.round_id > b.since
     WHERE NOT EXISTS (
       SELECT 1 FROM trail_news n JOIN rounds r ON r.id = n.round_id
       WHERE n.citing = x.citing AND r.standing_id = :standingId AND r.id <> :round)`,
    { type: QueryTypes.SELECT, replacements: { standingId, round, inquiryId }, transaction: t },
  )
  const pooled = await worksOfNodes(
    c,
    inquiryId,
    links.map(l => l.citing),
    t,
  )
  const fresh = links.filter(l => !pooled.has(l.citing))
  await addMissing(
    c.db.trailNews,
    fresh.map(l => ({ ...l, roundId: round, told: false })),
    'citing',
    t,
  )
  return c.db.trailNews.count({ where: { roundId: round }, distinct: true, col: 'citing', transaction: t })
}

/** A record or a work that was new in a run. */
export interface News {
  id: number
  /** The sweep or the round. */
  run: number
  at: Date
  item: Item
  /** The catalogue that has it, or the works that it cites. */
  by: string
}

/** What was new in the runs of a standing sweep, or in one of them, the latest first. */
export async function sweepNewsOf(
  c: Context,
  where: { standing: number; run?: number },
  most: number,
): Promise<News[]> {
  const rows = await c.db.sequelize.query<Omit<News, 'item'> & { item: Item | string }>(
    `SELECT r.id, w.id AS run, w.at, h.catalogue AS \`by\`, r.item
     FROM sweeps w JOIN sweep_hits h ON h.sweep_id = w.id JOIN records r ON r.id = h.record_id
     WHERE w.standing_id = :standing AND h.is_new = 1 ${where.run ? 'AND w.id = :run' : ''}
     ORDER BY w.id DESC, h.position LIMIT :most`,
    { type: QueryTypes.SELECT, replacements: { ...where, most } },
  )
  const names = await catalogueNames(c)
  return rows.map(r => ({
    ...r,
    at: new Date(r.at),
    by: names.get(r.by) ?? r.by,
    item: readJson<Item>(r.item),
  }))
}

/** A work that newly cites others: its node, the run that told it, and the nodes that it cites. */
interface TrailNews {
  node: number
  run: number
  at: Date
  cited: number[]
}
/** What was new in the runs of standing trails of an inquiry, or of one of them, or in one run; the latest first. */
export async function trailNewsOf(
  c: Context,
  where: { inquiry: number; standing?: number; run?: number; untold?: true },
  most: number,
): Promise<TrailNews[]> {
  const rows = await c.db.sequelize.query<{ node: number; run: number; at: string; cited: string }>(
    `SELECT n.citing AS node, r.id AS run, r.at, GROUP_CONCAT(n.cited ORDER BY n.cited) AS cited
     FROM rounds r JOIN trail_news n ON n.round_id = r.id
     WHERE r.inquiry_id = :inquiry ${where.standing ? 'AND r.standing_id = :standing' : ''}
     ${where.run ? 'AND r.id = :run' : ''} ${where.untold ? 'AND n.told = 0' : ''}
     GROUP BY r.id, n.citing ORDER BY r.id DESC, COUNT(*) DESC, n.citing LIMIT :most`,
    { type: QueryTypes.SELECT, replacements: { ...where, most } },
  )
  return rows.map(r => ({ ...r, at: new Date(r.at), cited: r.cited.split(',').map(Number) }))
}
