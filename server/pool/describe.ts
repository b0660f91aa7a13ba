import { Op, type Transaction } from 'sequelize'
import { appraise } from '../../core/appraise/kind'
import type { Signs } from '../../core/appraise/signs'
import { buildWork } from '../../core/match/best-fields'
import type { MatchRecord } from '../../core/match/records'
import { projectMarks, type Said } from '../../core/sift/marks'
import type { Context } from '../context'
import type { MarkRow } from '../db/models'

/**
 * What a work is, from its records, what its student said of it and what its copies say of themselves. A kind the
 * student gave stands; the evidence stays what it was.
 */
export function describe(records: readonly MatchRecord[], said: Said = {}, signs: Signs = {}) {
  const built = buildWork(records, said.fields)
  const judged = appraise(built.item, built.facts, signs)
  return {
    item: built.item,
    facts: built.facts,
    fieldFrom: built.from,
    kind: said.kind ?? judged.kind,
    confidence: said.kind ? 1 : judged.confidence,
    evidence: judged.evidence,
    said: Object.keys(said).length ? said : null,
  }
}

export const lineOfMark = (m: MarkRow, work = m.workId) => ({
  group: m.groupId,
  work,
  about: m.about,
  value: m.value,
  undoes: m.undoes,
})

/**
 * What students said of works and what their copies say, by work. Words on a retired work, which has the id of one of
 * the records, count for the work that has its records now.
 * @param recordsOf ids of the records of each work
 */
export async function saidAndSigns(
  c: Context,
  recordsOf: ReadonlyMap<number, readonly number[]>,
  t: Transaction,
): Promise<{ said: Map<number, Said>; signs: Map<number, Signs> }> {
  const owner = new Map([...recordsOf].flatMap(([work, records]) => records.map(r => [r, work] as const)))
  const where = { workId: { [Op.in]: [...owner.keys()] } }
  const log = await c.db.marks.findAll({ where, order: ['n'], transaction: t, raw: true })
  const copies = await c.db.copies.findAll({
    where: { ...where, outcome: 'proved' },
    attributes: ['workId', 'signs'],
    order: ['id'],
    transaction: t,
    raw: true,
  })
  return {
    said: projectMarks(log.map(m => lineOfMark(m, owner.get(m.workId)))),
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
  const { said, signs } = await saidAndSigns(c, new Map([...of].map(([w, rs]) => [w, rs.map(r => r.id)])), t)
  for (const [work, its] of of)
    await c.db.works.update(
      { ...describe(its, said.get(work), signs.get(work)), revision },
      { where: { id: work, inquiryId }, transaction: t },
    )
}
