import { Op, type Transaction } from 'sequelize'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'

/**
 * Works with all that were joined into them: what was said of a retired work counts for the one that has its records
 * now.
 */
export interface Family {
  /** The works that are in the pool now. */
  works: number[]
  /** Of each of these, and of each that was joined into one, the one that has its records now. */
  heir: ReadonlyMap<number, number>
}

/** @throws Problem 422 where one of these works is not in the inquiry */
export async function familyOf(
  context: Context,
  inquiryId: number,
  ids: readonly number[],
  t?: Transaction,
): Promise<Family> {
  const heir = new Map<number, number>()
  const asked = new Set(ids)
  // a work that is itself retired leads to another, whose own retired ones are then looked for too
  for (let wanted = [...asked]; wanted.length;) {
    const found = await context.db.works.findAll({
      where: { inquiryId, [Op.or]: [{ id: wanted }, { successorId: wanted }] },
      attributes: ['id', 'successorId'],
      ...(t ? { transaction: t } : {}),
      raw: true,
    })
    for (const w of found) heir.set(w.id, w.successorId ?? w.id)
    wanted = [...new Set(found.flatMap(w => w.successorId ?? []))].filter(id => !heir.has(id))
  }
  for (const id of asked)
    if (!heir.has(id)) throw new Problem(422, 'unknown-work', 'A work of this is not in the pool.')
  return { works: [...new Set([...asked].map(id => heir.get(id)!))], heir }
}

/** Of each of these works that is there, the one that has its records now. */
export async function heirsOf(
  context: Context,
  inquiryId: number,
  ids: readonly number[],
  t?: Transaction,
): Promise<Family['heir']> {
  const there = await context.db.works.findAll({
    where: { inquiryId, id: [...new Set(ids)] },
    attributes: ['id'],
    raw: true,
    ...(t ? { transaction: t } : {}),
  })
  const found = there.map(w => w.id)
  return (await familyOf(context, inquiryId, found, t)).heir
}
