import { QueryTypes } from 'sequelize'
import type { Update } from '../../core/bib/item'
import type { Context } from '../base/context'
import { readJson } from '../db/rows'
import { TIED, WORK } from './graph-model'

/** What a work is called, in a source of the pool or by the citation index. */
export interface Titled {
  work: number | null
  /** Of what a citation index told. */
  node: number | null
  title: string
  doi: string | null
  /** A catalogue's own name; `trail` of what an index told. */
  source: string
  at: Date
}
/** What the works of the pool and those around it are called, in every source. */
export async function titlesAround(c: Context, inquiryId: number): Promise<Titled[]> {
  const how = { type: QueryTypes.SELECT as const, replacements: { inquiryId } }
  const rows = await c.db.sequelize.query<Omit<Titled, 'title' | 'at'> & { title: string | null; at: string | Date }>(
    `SELECT x.work_id AS work, NULL AS node, JSON_VALUE(x.item, '$.title') AS title, x.doi, x.source, x.at FROM records x
       WHERE x.inquiry_id = :inquiryId AND x.work_id IS NOT NULL
     UNION ALL SELECT ${WORK}, n.id, JSON_VALUE(n.item, '$.title'), n.doi, 'trail', COALESCE(MIN(o.at), CURRENT_TIMESTAMP(3)) ${TIED}
       LEFT JOIN rounds o ON o.id = n.round_id WHERE n.inquiry_id = :inquiryId GROUP BY n.id`,
    how,
  )
  return rows.map(r => ({ ...r, title: r.title ?? '', at: new Date(r.at) }))
}

/** A work that was changed by a notice, or a notice, as a source says it. */
export interface Updated extends Pick<Titled, 'work' | 'node' | 'source' | 'at'> {
  updates: Update[]
  updatedBy: Update[]
  /** Whether the source is a registration of DOIs, by its name. */
  isRegistered: boolean
}
/** What sources and registrations say of changes to the works of the pool and those around it. */
export async function updatesAround(c: Context, inquiryId: number): Promise<Updated[]> {
  const said = (of: string) =>
    `JSON_EXTRACT(${of}.facts, '$.updates') AS updates, JSON_EXTRACT(${of}.facts, '$.updatedBy') AS updatedBy`
  // the letters alone first: few have them, and each would have to be taken apart to be asked for its fields
  const any = (of: string) => `${of}.facts LIKE '%"update%'`
  const rows = await c.db.sequelize.query<{
    work: number | null
    node: number | null
    updates: string | Update[] | null
    updatedBy: string | Update[] | null
    source: string
    isRegistered: 0 | 1
    at: string | Date
  }>(
    `SELECT x.work_id AS work, NULL AS node, ${said('x')}, x.source, 0 AS isRegistered, x.at FROM records x
       WHERE x.inquiry_id = :inquiryId AND x.work_id IS NOT NULL AND ${any('x')}
     UNION ALL SELECT x.work_id, NULL, ${said('g')}, g.source, 1, g.day FROM records x STRAIGHT_JOIN doi_registrations g ON g.doi = x.doi
       WHERE x.inquiry_id = :inquiryId AND x.work_id IS NOT NULL AND ${any('g')}
     UNION ALL SELECT ${WORK}, n.id, ${said('n')}, 'trail', 0, COALESCE(MIN(o.at), CURRENT_TIMESTAMP(3)) ${TIED}
       LEFT JOIN rounds o ON o.id = n.round_id WHERE n.inquiry_id = :inquiryId AND ${any('n')} GROUP BY n.id`,
    { type: QueryTypes.SELECT, replacements: { inquiryId } },
  )
  return rows.map(r => ({
    ...r,
    updates: r.updates === null ? [] : readJson(r.updates),
    updatedBy: r.updatedBy === null ? [] : readJson(r.updatedBy),
    isRegistered: Boolean(r.isRegistered),
    at: new Date(r.at),
  }))
}
