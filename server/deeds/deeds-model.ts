import { Op, UniqueConstraintError, type Transaction } from 'sequelize'
import type { Context } from '../base/context'
import { inParts } from '../db/rows'
import { describeTable, json, moment, orNull, ownId, whole, word, type RowOf, type Table } from '../db/table'

/** What lines of the log speak of; a later station adds its own. */
export type DeedKind = 'decision' | 'mark' | 'pair' | 'undo'

/** The log of what students did with works; it is only ever added to. */
export const deeds = describeTable('deeds', {
  n: ownId(),
  /** Made by the client, so that sending twice changes nothing. */
  id: word(),
  /** Made together, undone together. */
  groupId: word(),
  inquiryId: whole(),
  workId: whole(),
  kind: word<DeedKind>(),
  /** The matter within its kind: the pass of a decision, what a mark is about, the two records of a pair. */
  about: word(),
  /** What was said of it, in the shape of its kind. */
  value: json<unknown>(),
  /** The group that this line takes back; in lines of the kind "undo" alone. */
  undoes: orNull(word()),
  userId: orNull(whole()),
  revision: whole(),
  at: moment(),
})
export type DeedRow = RowOf<typeof deeds>

declare module '../base/context' {
  interface Db {
    deeds: Table<DeedRow>
  }
}
export type NewDeed = Omit<DeedRow, 'n' | 'at' | 'undoes'> & { undoes?: string }

/** The lines of some works that are of these kinds or take lines back, oldest first. */
export const deedsOf = (
  context: Context,
  inquiryId: number,
  works: readonly number[],
  kinds: readonly DeedKind[],
  t: Transaction,
): Promise<DeedRow[]> =>
  context.db.deeds.findAll({
    where: { inquiryId, workId: { [Op.in]: [...works] }, kind: { [Op.in]: [...kinds, 'undo'] } },
    order: ['n'],
    transaction: t,
    raw: true,
  })

/** The lines of a group, and those that took it back. */
export const deedsOfGroup = (context: Context, inquiryId: number, group: string, t: Transaction): Promise<DeedRow[]> =>
  context.db.deeds.findAll({
    where: { inquiryId, [Op.or]: [{ groupId: group }, { undoes: group }] },
    order: ['n'],
    transaction: t,
    raw: true,
  })

/**
 * Adds lines to the log.
 * @returns those that were not added because a line has their id already, each with that line
 */
export async function addDeeds(
  context: Context,
  rows: readonly NewDeed[],
  t: Transaction,
): Promise<{ given: NewDeed; there: DeedRow }[]> {
  const add = async (some: readonly NewDeed[]) => {
    for (const part of inParts(some)) await context.db.deeds.bulkCreate(part, { transaction: t })
  }
  try {
    await add(rows)
    return []
  } catch (e) {
    if (!(e instanceof UniqueConstraintError)) throw e
  }
  // sent before, as a whole or in part: a statement that was refused has left nothing, earlier parts have
  const found = await context.db.deeds.findAll({ where: { id: rows.map(r => r.id) }, transaction: t, raw: true })
  const there = new Map(found.map(d => [d.id, d]))
  await add(rows.filter(r => !there.has(r.id)))
  return rows.flatMap(given => {
    const line = there.get(given.id)
    return line ? [{ given, there: line }] : []
  })
}
