import { QueryTypes } from 'sequelize'
import type { Context } from '../base/context'
import { describeTable, key, moment, whole, type RowOf, type Table } from '../db/table'

/** How long somebody stayed on a page of a copy, in all. */
export const pageTimes = describeTable('page_times', { userId: key(), copyId: key(), page: key(), seconds: whole() })
export type PageTimeRow = RowOf<typeof pageTimes>

/** Works that the student said are read, wherever they were. */
export const worksRead = describeTable('works_read', { workId: key(), at: moment() })
export type WorkReadRow = RowOf<typeof worksRead>

declare module '../base/context' {
  interface Db {
    pageTimes: Table<PageTimeRow>
    worksRead: Table<WorkReadRow>
  }
}

/** Seconds of one page that are kept at most. */
const LONGEST = 3600

/** Adds to the time that was spent on pages: two windows that tell theirs at once both count. */
export async function addPageTimes(
  { db }: Context,
  { userId, copyId }: { userId: number; copyId: number },
  pages: readonly { page: number; seconds: number }[],
): Promise<void> {
  if (!pages.length) return
  await db.sequelize.query(
    `INSERT INTO page_times (user_id, copy_id, page, seconds) VALUES ${pages.map(() => '(?, ?, ?, ?)').join(', ')}
     ON DUPLICATE KEY UPDATE seconds = LEAST(${LONGEST}, page_times.seconds + VALUES(seconds))`,
    {
      type: QueryTypes.INSERT,
      replacements: pages.flatMap(p => [userId, copyId, p.page, Math.min(LONGEST, p.seconds)]),
    },
  )
}

/** The works of an inquiry that are read by the student's word; of one that was joined into another, that other. */
export async function readByWord({ db }: Context, inquiryId: number): Promise<Set<number>> {
  const rows = await db.sequelize.query<{ id: number }>(
    `SELECT DISTINCT COALESCE(w.successor_id, w.id) AS id FROM works_read r JOIN works w ON w.id = r.work_id
     WHERE w.inquiry_id = ?`,
    { type: QueryTypes.SELECT, replacements: [inquiryId] },
  )
  return new Set(rows.map(r => Number(r.id)))
}
