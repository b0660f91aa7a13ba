import type { Transaction } from 'sequelize'
import type { Context } from '../context'
import { notFound } from '../problem'

/**
 * Every write to an inquiry goes through here: its row is locked, its revision raised, and both are committed with
 * the write or not at all. A deadlock (1213) is tried again.
 */
export async function change<T>(
  c: Context,
  inquiryId: number,
  write: (t: Transaction, revision: number) => Promise<T>,
): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await c.db.sequelize.transaction(async t => {
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
    } catch (e) {
      const errno = (e as { original?: { errno?: number } }).original?.errno
      if (tries >= 4 || (errno !== 1213 && errno !== 1205)) throw e
    }
  }
}
