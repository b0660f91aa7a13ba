import { QueryTypes } from 'sequelize'
import { HINT } from '../../core/appraise/taken-back'
import type { Context } from '../base/context'

/** A title of a work in one source, or of a work outside the pool. */
export interface Titled {
  /** The work of the pool; null of a work outside. */
  work: number | null
  /** Of a work outside. */
  node: number | null
  title: string
  /** The catalogue's own name; of a work outside, of the index. */
  source: string
  at: Date
}

/** Titles are compared by this many of their letters, before they are compared whole. */
const LETTERS = 30

// capitals and accents do not tell titles apart
const TITLE = "(JSON_VALUE(x.item, '$.title') COLLATE utf8mb4_unicode_ci)"
/** Titles of works of the pool in their sources, and of those around it, under a condition. */
async function titlesWhere(c: Context, inquiryId: number, where: string, given: object): Promise<Titled[]> {
  const rows = await c.db.sequelize.query<Omit<Titled, 'at'> & { at: string | Date }>(
    `SELECT x.work_id AS work, NULL AS node, ${TITLE} AS title, x.source, x.at FROM records x
       WHERE x.inquiry_id = :inquiryId AND x.work_id IS NOT NULL AND (${where})
     UNION ALL SELECT NULL, x.id, ${TITLE}, 'trail', COALESCE(r.at, CURRENT_TIMESTAMP(3)) FROM nodes x LEFT JOIN rounds r ON r.id = x.round_id
       WHERE x.inquiry_id = :inquiryId AND (${where})`,
    { type: QueryTypes.SELECT, replacements: { inquiryId, ...given } },
  )
  return rows.map(r => ({ ...r, at: new Date(r.at) }))
}

/** Titles that may say that a work was taken back or corrected. */
export const tellingTitles = (c: Context, inquiryId: number): Promise<Titled[]> =>
  titlesWhere(c, inquiryId, `${TITLE} REGEXP :hint`, { hint: HINT })

/** Works of the pool and around it that may be called like one of these. */
export async function titledLike(c: Context, inquiryId: number, titles: readonly string[]): Promise<Titled[]> {
  if (!titles.length) return []
  const within = (s: string) => `%${s.slice(0, LETTERS).replace(/[\\%_]/g, '\\$&')}%`
  return titlesWhere(
    c,
    inquiryId,
    titles.map((_, i) => `${TITLE} LIKE :like${i}`).join(' OR '),
    Object.fromEntries(titles.map((t, i) => [`like${i}`, within(t)])),
  )
}
