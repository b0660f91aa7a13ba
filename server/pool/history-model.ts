import { QueryTypes } from 'sequelize'
import type { Context } from '../base/context'
import type { DeedKind } from '../deeds/deeds-model'

/** A group of deeds, told by the first of its lines. */
export interface Grouped {
  at: Date
  /** Works that it speaks of, and matters. */
  works: number
  matters: number
  undone: boolean
  kind: DeedKind
  about: string
  value: unknown
  groupId: string
  undoes: string | null
  who: string | null
  first: number
  title: string | null
}

/**
 * The deeds of an inquiry, or those with one work, by the groups they were made in, the latest first. Groups with their
 * numbers are no matter of a model.
 */
export async function deedGroups(
  { db }: Context,
  of: { inquiryId: number; work: number | undefined; before: Date; limit: number },
): Promise<Grouped[]> {
  // a work has the id of its first record, and so had those that were joined to it
  const only = of.work === undefined ? '' : 'AND work_id IN (SELECT id FROM records WHERE work_id = :work)'
  const rows = await db.sequelize.query<Omit<Grouped, 'undone' | 'value'> & { undone: number; value: string | null }>(
    `SELECT g.at, g.works, g.matters, l.kind, l.about, CAST(l.value AS CHAR) AS value, l.group_id AS groupId, l.undoes, u.name AS who,
       l.work_id AS first, JSON_VALUE(w.line, '$.title') AS title,
       EXISTS (SELECT 1 FROM deeds x WHERE x.undoes = l.group_id) AS undone
     FROM (SELECT MAX(at) AS at, COUNT(DISTINCT work_id) AS works, MIN(n) AS n, MAX(n) AS last, COUNT(DISTINCT about) AS matters
         FROM deeds WHERE inquiry_id = :inquiryId ${only}
         GROUP BY group_id HAVING MAX(at) < :before ORDER BY MAX(n) DESC LIMIT :limit) g
       JOIN deeds l ON l.n = g.n LEFT JOIN users u ON u.id = l.user_id LEFT JOIN works w ON w.id = l.work_id
     ORDER BY g.last DESC`,
    { type: QueryTypes.SELECT, replacements: of },
  )
  return rows.map(r => ({
    ...r,
    at: new Date(r.at),
    works: Number(r.works),
    matters: Number(r.matters),
    undone: Boolean(r.undone),
    // as text, since what is said may be a text itself
    value: r.value === null ? null : (JSON.parse(r.value) as unknown),
  }))
}
