import { QueryTypes, type Model } from 'sequelize'
import type { Facts, Item } from '../../core/bib/item'
import type { State } from '../../core/sift/decisions'
import type { Context } from '../base/context'
import { readJson } from '../db/rows'
import {
  day,
  describeTable,
  flag,
  json,
  key,
  keyText,
  moment,
  orNull,
  ownId,
  text,
  whole,
  word,
  type RowOf,
  type Table,
} from '../db/table'

export const sweeps = describeTable('sweeps', {
  id: ownId(),
  inquiryId: whole(),
  query: text(),
  cql: text(),
  repairs: json<string[]>(),
  deskDay: day(),
  name: orNull(word()),
  note: orNull(text()),
  /** The standing sweep of which this is a run. */
  standingId: orNull(whole()),
  /** Records that no earlier run had; null for the first run, which everything later is held against. */
  foundNew: orNull(whole()),
  toldAt: orNull(moment()),
  at: moment(),
})
export type SweepRow = RowOf<typeof sweeps>

export const sweepCatalogues = describeTable('sweep_catalogues', {
  sweepId: key(),
  catalogue: keyText(),
  asked: orNull(text()),
  changes: json<string[]>(),
  state: word<'waiting' | 'asking' | 'done' | 'failed'>(),
  count: orNull(whole()),
  fetched: whole(),
  /** Of those fetched, how many could not be read. */
  unread: whole(),
  error: orNull(text()),
})
export type SweepCatalogueRow = RowOf<typeof sweepCatalogues>

export const sweepHits = describeTable('sweep_hits', {
  sweepId: key(),
  catalogue: keyText(),
  position: key(),
  recordId: whole(),
  isNew: flag(),
})
export type SweepHitRow = RowOf<typeof sweepHits>

/** Records that could not be read, as they came. */
export const sweepUnread = describeTable('sweep_unread', {
  sweepId: key(),
  catalogue: keyText(),
  position: key(),
  why: text(),
  raw: text(),
})
export type SweepUnreadRow = RowOf<typeof sweepUnread>

declare module '../base/context' {
  interface Db {
    sweeps: Table<SweepRow>
    sweepCatalogues: Table<SweepCatalogueRow>
    sweepHits: Table<SweepHitRow>
    sweepUnread: Table<SweepUnreadRow>
  }
}

/** A sweep with its catalogues, and their names as they are set up here. */
export function withNames(names: ReadonlyMap<string, string>, sweep: Model<SweepRow, Partial<SweepRow>>) {
  const {
    catalogues,
    inquiryId: _,
    ...s
  } = sweep.get({ plain: true }) as SweepRow & { catalogues: SweepCatalogueRow[] }
  return {
    ...s,
    catalogues: catalogues.map(({ sweepId: _of, ...p }) => ({ ...p, name: names.get(p.catalogue) ?? p.catalogue })),
  }
}

/** Records of one sweep that are shown at most. */
const SHOWN = 2000
/** The records of a sweep, the catalogues taking turns, each in its own order. */
export async function foundRows({ db }: Context, sweep: number) {
  const rows = await db.sequelize.query<{
    id: number
    catalogue: string
    item: Item | string
    facts: Facts | string
    work: number | null
    state: State | null
    isNew: number
  }>(
    `SELECT r.id, r.source AS catalogue, r.item, r.facts, r.work_id AS work, w.state, h.is_new AS isNew
     FROM sweep_hits h JOIN records r ON r.id = h.record_id LEFT JOIN works w ON w.id = r.work_id
     WHERE h.sweep_id = :sweep ORDER BY h.position, h.catalogue LIMIT ${SHOWN}`,
    { type: QueryTypes.SELECT, replacements: { sweep } },
  )
  return rows.map(r => ({
    ...r,
    item: readJson<Item>(r.item),
    facts: readJson<Facts>(r.facts),
    isNew: Boolean(r.isNew),
  }))
}

/** What of a sweep another one did not find, told by the catalogue's own identifiers, which a join has to compare. */
export const foundOnlyBy = ({ db }: Context, a: number, b: number) =>
  db.sequelize.query<{ id: number; title: string | null; catalogue: string }>(
    `SELECT r.id, JSON_VALUE(r.item, '$.title') AS title, h.catalogue
     FROM sweep_hits h JOIN records r ON r.id = h.record_id
     WHERE h.sweep_id = :a AND NOT EXISTS (
       SELECT 1 FROM sweep_hits o JOIN records s ON s.id = o.record_id
       WHERE o.sweep_id = :b AND s.source = r.source AND s.source_key = r.source_key)
     ORDER BY h.position LIMIT 500`,
    { type: QueryTypes.SELECT, replacements: { a, b } },
  )

/** Works of the pool that a sweep met. */
export const sweptWorks = async ({ db }: Context, inquiryId: number): Promise<Set<number>> => {
  const rows = await db.sequelize.query<{ work: number }>(
    `SELECT DISTINCT r.work_id AS work FROM sweeps s JOIN sweep_hits h ON h.sweep_id = s.id JOIN records r ON r.id = h.record_id
     WHERE s.inquiry_id = :inquiryId AND r.work_id IS NOT NULL`,
    { type: QueryTypes.SELECT, replacements: { inquiryId } },
  )
  return new Set(rows.map(r => r.work))
}

/** Every work of the pool once for each source that described it. */
export const worksBySource = ({ db }: Context, inquiryId: number) =>
  db.sequelize.query<{ work: number; title: string; state: State; source: string }>(
    `SELECT DISTINCT w.id AS work, JSON_VALUE(w.line, '$.title') AS title, w.state, r.source
     FROM works w JOIN records r ON r.work_id = w.id WHERE w.inquiry_id = :inquiryId AND w.successor_id IS NULL`,
    { type: QueryTypes.SELECT, replacements: { inquiryId } },
  )

/** What a catalogue counted for a query on a day of the desk, not longer ago than a day. */
export async function keptCount({ db }: Context, catalogue: string, hash: string, on: string) {
  const [kept] = await db.sequelize.query<{ count: number }>(
    `SELECT count FROM counts
     WHERE catalogue = ? AND query_hash = ? AND desk_day = ? AND at > NOW(3) - INTERVAL 1 DAY`,
    { type: QueryTypes.SELECT, replacements: [catalogue, hash, on] },
  )
  return kept?.count
}
export const keepCount = ({ db }: Context, catalogue: string, hash: string, on: string, count: number) =>
  db.sequelize.query(
    `INSERT INTO counts (catalogue, query_hash, desk_day, count) VALUES (?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE count = VALUES(count), at = NOW(3)`,
    { replacements: [catalogue, hash, on, count] },
  )
