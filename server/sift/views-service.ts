import type { Transaction } from 'sequelize'
import type { Limits } from '../../core/sift/limits'
import type { Context } from '../base/context'
import { notFound } from '../base/problem'

const SHOWN = ['id', 'name', 'limits', 'words'] as const

/** The saved views of a pool. */
export const viewsOf = (c: Context, inquiryId: number) =>
  c.db.poolViews.findAll({ where: { inquiryId }, attributes: [...SHOWN], order: ['name', 'id'], raw: true })

/** Saves a view; one of the same name is replaced. */
export async function saveView(
  c: Context,
  inquiryId: number,
  { name, limits, words = '' }: { name: string; limits: Limits; words?: string | undefined },
  t: Transaction,
) {
  const there = await c.db.poolViews.findOne({ where: { inquiryId, name }, transaction: t })
  const view = there
    ? await there.update({ limits, words }, { transaction: t })
    : await c.db.poolViews.create({ inquiryId, name, limits, words }, { transaction: t })
  return { id: view.id, name, limits, words }
}

export async function endView(c: Context, where: { id: number; inquiryId: number }, t: Transaction): Promise<void> {
  if (!(await c.db.poolViews.destroy({ where, transaction: t }))) throw notFound()
}
