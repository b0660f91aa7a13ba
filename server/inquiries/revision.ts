import type { Transaction } from 'sequelize'
import type { Context } from '../context'
import { requireRoom } from '../db/room'
import { inTransaction } from '../db/transaction'
import { notFound } from '../problem'

/**
 * Every write to an inquiry goes through here: its row is locked, its revision raised, and both are committed with
 * the write or not at all.
 */
export async function change<T>(
  c: Context,
  inquiryId: number,
  write: (t: Transaction, revision: number) => Promise<T>,
): Promise<T> {
  await requireRoom(c)
  return inTransaction(c.db.sequelize, async t => {
    const row = await c.db.inquiries.findByPk(inquiryId, {
      transaction: t,
      lock: t.LOCK.UPDATE,
      attributes: ['id', 'revision'],
    })
    if (!row) throw notFound()
    const revision = row.revision + 1
    await c.db.inquiries.update({ revision }, { where: { id: inquiryId }, transaction: t })
    return write(t, revision)
  })
}
