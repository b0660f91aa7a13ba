import { Op } from 'sequelize'
import type { Context } from '../base/context'
import { inTransaction } from '../db/transaction'
import { dropOrphans } from '../db/blobs'

/** Deletes inquiries with all that hangs on them: the rows by their keys, and the bytes that only they held. */
export async function deleteInquiries(c: Context, ids: readonly number[]): Promise<void> {
  for (const id of ids)
    await inTransaction(c.db.sequelize, async t => {
      const where = { inquiryId: id }
      const options = { where, attributes: ['hash'], transaction: t, raw: true as const }
      const held = [
        ...(await c.db.imports.findAll(options)),
        ...(await c.db.copies.findAll(options)),
        ...(await c.db.uploads.findAll(options)),
        ...(await c.db.vocabularies.findAll(options)),
      ]
      await c.db.inquiries.destroy({ where: { id }, transaction: t })
      await dropOrphans(c.db, [...new Set(held.flatMap(h => h.hash ?? []))], t)
    })
}

/** Deletes a user and the inquiries that nobody else owns; what others own too stays theirs. */
export async function forgetUser(c: Context, userId: number): Promise<void> {
  const owned = await c.db.memberships.findAll({ where: { userId, role: 'owner' }, raw: true })
  const others = await c.db.memberships.findAll({
    where: { inquiryId: owned.map(o => o.inquiryId), userId: { [Op.ne]: userId }, role: 'owner' },
    raw: true,
  })
  const shared = new Set(others.map(o => o.inquiryId))
  await deleteInquiries(
    c,
    owned.map(o => o.inquiryId).filter(id => !shared.has(id)),
  )
  // what was theirs alone opens to nobody any more
  await c.db.copyRights.destroy({ where: { userId } })
  await c.db.users.destroy({ where: { id: userId } })
}
