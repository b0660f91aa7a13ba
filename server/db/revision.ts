import type { Transaction } from 'sequelize'
import type { Context } from '../base/context'
import { requireRoom } from './room'
import { inTransaction } from './transaction'
import { notFound } from '../base/problem'

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
  return inTransaction(c.db.sequelize, async t => write(t, await raiseRevision(c, inquiryId, t)))
}

/** Raises and locks in one statement, which a model cannot: the new number comes back as the connection's last one. */
export async function raiseRevision(c: Context, inquiryId: number, t: Transaction): Promise<number> {
  const [done] = (await c.db.sequelize.query(
    'UPDATE inquiries SET revision = LAST_INSERT_ID(revision + 1) WHERE id = ?',
    { replacements: [inquiryId], transaction: t },
  )) as unknown as [{ affectedRows: number; insertId: number | bigint }]
  if (!done.affectedRows) throw notFound()
  return Number(done.insertId)
}
