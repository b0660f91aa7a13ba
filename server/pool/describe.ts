import { Op, type Transaction } from 'sequelize'
import type { Signs } from '../../core/appraise/signs'
import type { MatchRecord } from '../../core/match/records'
import { describeWork } from '../../core/sift/describe'
import { projectMarks, type Mark, type Said } from '../../core/sift/marks'
import type { Context } from '../base/context'
import { deedsOf, type DeedRow } from '../deeds/deeds-model'

/** A line of the log as what is said of a work. */
export const markOf = (d: DeedRow, work = d.workId): Mark => ({
  group: d.groupId,
  work,
  about: d.about,
  value: d.value,
  undoes: d.undoes,
})

/**
 * What students said of works and what their copies say, by work. Words on a retired work, which has the id of one of
 * the records, count for the work that has its records now.
 * @param recordsOf ids of the records of each work
 */
export async function saidAndSigns(
  c: Context,
  inquiryId: number,
  recordsOf: ReadonlyMap<number, readonly number[]>,
  t: Transaction,
): Promise<{ said: Map<number, Said>; signs: Map<number, Signs> }> {
  const owner = new Map([...recordsOf].flatMap(([work, records]) => records.map(r => [r, work] as const)))
  const where = { workId: { [Op.in]: [...owner.keys()] } }
  const log = await deedsOf(c, inquiryId, [...owner.keys()], ['mark'], t)
  const copies = await c.db.copies.findAll({
    where: { ...where, outcome: 'proved' },
    attributes: ['workId', 'signs'],
    order: ['id'],
    transaction: t,
    raw: true,
  })
  return {
    said: projectMarks(log.map(d => markOf(d, owner.get(d.workId)))),
    signs: new Map(copies.flatMap(x => (x.signs ? [[owner.get(x.workId)!, x.signs] as const] : []))),
  }
}

/** Describes works anew, after something was said of them or a copy came. */
export async function redescribe(
  c: Context,
  inquiryId: number,
  workIds: readonly number[],
  t: Transaction,
  revision: number,
): Promise<void> {
  const records = await c.db.records.findAll({
    where: { inquiryId, workId: { [Op.in]: [...workIds] } },
    attributes: ['id', 'item', 'facts', 'workId'],
    order: ['id'],
    transaction: t,
    raw: true,
  })
  const of = new Map<number, MatchRecord[]>()
  for (const r of records) of.set(r.workId!, [...(of.get(r.workId!) ?? []), r])
  const { said, signs } = await saidAndSigns(c, inquiryId, new Map([...of].map(([w, rs]) => [w, rs.map(r => r.id)])), t)
  for (const [work, its] of of)
    await c.db.works.update(
      { ...describeWork(its, said.get(work), signs.get(work)), revision },
      { where: { id: work, inquiryId }, transaction: t },
    )
}

/** Writes what stands of many works; those of which the same stands are written together. */
export async function writeAlike(
  c: Context,
  inquiryId: number,
  workIds: readonly number[],
  standing: (work: number) => object,
  t: Transaction,
): Promise<void> {
  const alike = new Map<string, number[]>()
  for (const id of workIds) {
    const key = JSON.stringify(standing(id))
    const ids = alike.get(key)
    if (ids) ids.push(id)
    else alike.set(key, [id])
  }
  for (const [text, ids] of alike)
    await c.db.works.update(JSON.parse(text) as object, { where: { id: ids, inquiryId }, transaction: t })
}
