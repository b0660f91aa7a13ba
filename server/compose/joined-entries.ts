import { Op, type Transaction } from 'sequelize'
import { beneath } from '../../core/write/written'
import type { Context } from '../base/context'
import { grouped } from '../db/rows'
import type { EntryRow } from './compose-model'

/** Entries of works that were joined into others which have one too, by those others. */
async function joinedInto(
  c: Context,
  inquiryId: number,
  works: readonly number[],
  t?: Transaction,
): Promise<ReadonlyMap<number, EntryRow[]>> {
  const how = { raw: true, ...(t ? { transaction: t } : {}) } as const
  const gone = await c.db.works.findAll({
    where: { inquiryId, successorId: [...works] },
    attributes: ['id', 'successorId'],
    ...how,
  })
  if (!gone.length) return new Map()
  const entries = await c.db.entries.findAll({ where: { workId: gone.map(w => w.id) }, order: ['id'], ...how })
  const heir = new Map(gone.map(w => [w.id, w.successorId!]))
  return grouped(entries, e => heir.get(e.workId)!)
}

/**
 * Entries of an inquiry as they are read: of works that were joined, each with an entry, what is said of one stands beneath what is
 * said of the other. Its version is another than that of either, so that no window writes over what it did not see.
 */
export async function withJoined<E extends EntryRow>(c: Context, entries: readonly E[], t?: Transaction): Promise<E[]> {
  if (!entries.length) return []
  const joined = await joinedInto(
    c,
    entries[0]!.inquiryId,
    entries.map(e => e.workId),
    t,
  )
  const shown = new Set([...joined.values()].flat().map(e => e.id))
  return entries
    .filter(e => !shown.has(e.id))
    .map(e => {
      const others = joined.get(e.workId) ?? []
      const said = others.reduce((a, b) => beneath(a, { text: b.annotation, marks: b.marks }), {
        text: e.annotation,
        marks: e.marks,
      })
      const version = others.reduce((n, o) => n + o.version, e.version)
      return { ...e, annotation: said.text, marks: said.marks, version }
    })
}

/** Lets go of the entries that stand beneath that of a work. */
export async function dropJoined(
  c: Context,
  { inquiryId, workId }: Pick<EntryRow, 'inquiryId' | 'workId'>,
  t: Transaction,
): Promise<void> {
  const joined = [...(await joinedInto(c, inquiryId, [workId], t)).values()].flat()
  if (joined.length) await c.db.entries.destroy({ where: { id: { [Op.in]: joined.map(e => e.id) } }, transaction: t })
}
