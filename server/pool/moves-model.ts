import { QueryTypes, type Transaction } from 'sequelize'
import type { Context } from '../base/context'
import { moveRights } from '../copies/copy-rights'

/** Tables of which a row is of one work, and of one only. */
const OF_WORKS = ['copies', 'passages', 'attempts', 'way_walks', 'loans', 'entries']

/**
 * Has what is of works go where their records went: joined, it stands with the heir; parted again, each row goes back to
 * the work that it was of. What the heir has already (the same file, an entry) stays where it is, out of sight, and is
 * there again after a parting.
 * @param records those that are in another work than before
 */
export async function moveRows(
  c: Context,
  inquiryId: number,
  records: readonly number[],
  t: Transaction,
): Promise<void> {
  if (!records.length) return
  const how = { transaction: t, replacements: { inquiryId, records } }
  for (const table of OF_WORKS) {
    // a work has the id of its first record: that is where its rows are at home
    await c.db.sequelize.query(
      `INSERT IGNORE INTO moved_rows (of_table, row_id, inquiry_id, home_id)
         SELECT '${table}', x.id, :inquiryId, r.id FROM records r JOIN ${table} x ON x.work_id = r.id
         WHERE r.inquiry_id = :inquiryId AND r.id IN (:records) AND r.work_id <> r.id`,
      how,
    )
    await c.db.sequelize.query(
      `UPDATE IGNORE moved_rows m JOIN records r ON r.id = m.home_id JOIN ${table} x ON x.id = m.row_id
         SET x.work_id = r.work_id
         WHERE m.of_table = '${table}' AND m.inquiry_id = :inquiryId AND m.home_id IN (:records)
           AND r.work_id IS NOT NULL AND x.work_id <> r.work_id`,
      how,
    )
  }
  // a passage is read in the copy of its work
  await c.db.sequelize.query(
    `UPDATE moved_rows m JOIN passages p ON p.id = m.row_id JOIN copies c ON c.id = p.copy_id
       JOIN copies d ON d.work_id = p.work_id AND d.hash = c.hash
       SET p.copy_id = d.id
       WHERE m.of_table = 'passages' AND m.inquiry_id = :inquiryId AND m.home_id IN (:records) AND c.work_id <> p.work_id`,
    how,
  )
  const twice = await c.db.sequelize.query<{ id: number; heir: number }>(
    `SELECT c.id, d.id AS heir FROM copies c JOIN records r ON r.id = c.work_id
       JOIN copies d ON d.work_id = r.work_id AND d.hash = c.hash
       WHERE r.inquiry_id = :inquiryId AND r.id IN (:records) AND r.work_id <> r.id`,
    { ...how, type: QueryTypes.SELECT },
  )
  for (const { id, heir } of twice) await moveRights(c, id, heir, t)
}

/** Has rows that a student gave to another work be at home there. */
export async function atHome(
  c: Context,
  table: 'copies' | 'passages',
  rows: readonly { id: number }[],
  transaction: Transaction,
): Promise<void> {
  if (!rows.length) return
  await c.db.sequelize.query('DELETE FROM moved_rows WHERE of_table = :table AND row_id IN (:rows)', {
    ...{ replacements: { table, rows: rows.map(r => r.id) }, transaction },
  })
}
