import { Op, type Transaction } from 'sequelize'
import { appraise } from '../../core/appraise/kind'
import type { Signs } from '../../core/appraise/signs'
import { buildWork } from '../../core/match/best-fields'
import type { MatchRecord } from '../../core/match/records'
import { projectMarks, type Said } from '../../core/sift/marks'
import type { Context } from '../context'
import type { MarkRow } from '../db/models'
import { Problem } from '../problem'

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

/** The works that a request speaks of, each with the one that has its records now; refused where one is not here. */
export async function worksAsked(
  c: Context,
  inquiryId: number,
  ids: readonly number[],
  t: Transaction,
): Promise<Map<number, number>> {
  const asked = [...new Set(ids)]
  const found = await c.db.works.findAll({
    where: { inquiryId, id: { [Op.in]: asked } },
    attributes: ['id', 'successorId'],
    transaction: t,
    raw: true,
  })
  if (found.length < asked.length) throw new Problem(422, 'unknown-work', 'A work of this is not in the pool.')
  return new Map(found.map(f => [f.id, f.successorId ?? f.id]))
}

/** Works that were joined into these, each with the one that has its records now. */
export async function heirsOf(
  c: Context,
  inquiryId: number,
  workIds: readonly number[],
  t: Transaction,
): Promise<Map<number, number>> {
  const retired = await c.db.works.findAll({
    where: { inquiryId, successorId: { [Op.in]: [...workIds] } },
    attributes: ['id', 'successorId'],
    transaction: t,
    raw: true,
  })
  return new Map(retired.map(r => [r.id, r.successorId!]))
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
