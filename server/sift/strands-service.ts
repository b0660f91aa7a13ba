import type { Transaction } from 'sequelize'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'

/** The strands of an inquiry in their order. */
export const strandsOf = (c: Context, inquiryId: number) =>
  c.db.strands.scope('standing').findAll({ where: { inquiryId }, attributes: ['id', 'name', 'place'], raw: true })

/** @throws Problem 409 where there is one of this name */
export async function addStrand(c: Context, inquiryId: number, name: string, t: Transaction) {
  const rows = await c.db.strands.scope('standing').findAll({ where: { inquiryId }, transaction: t, raw: true })
  refuseTwice(rows, name)
  const place = Math.max(0, ...rows.map(r => r.place + 1))
  const row = await c.db.strands.create({ inquiryId, name, place, gone: false }, { transaction: t })
  return { id: row.id, name, place }
}

/** Names a strand anew, moves it to a place in the order, takes it away or brings it back. */
export async function changeStrand(
  c: Context,
  { id, inquiryId }: { id: number; inquiryId: number },
  { place, ...given }: { name?: string | undefined; place?: number | undefined; gone?: boolean | undefined },
  t: Transaction,
): Promise<void> {
  const rows = await c.db.strands.findAll({ where: { inquiryId }, order: ['place', 'id'], transaction: t, raw: true })
  if (!rows.some(r => r.id === id)) throw notFound()
  const others = rows.filter(r => r.id !== id && !r.gone)
  if (given.name) refuseTwice(others, given.name)
  const now = Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined))
  if (Object.keys(now).length) await c.db.strands.update(now, { where: { id }, transaction: t })
  if (place === undefined) return
  const order = others.map(r => r.id)
  order.splice(place, 0, id)
  for (const [i, s] of order.entries()) await c.db.strands.update({ place: i }, { where: { id: s }, transaction: t })
}

function refuseTwice(rows: readonly { name: string }[], name: string): void {
  if (rows.some(r => r.name.toLowerCase() === name.toLowerCase()))
    throw new Problem(409, 'name-taken', `There is a strand “${name}” already.`)
}
