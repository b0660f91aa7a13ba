import { randomUUID } from 'node:crypto'
import { Op, type Transaction } from 'sequelize'
import type { Answer } from '../../core/schema/api'
import { ASK } from '../../core/match/weights'
import type { Context } from '../base/context'
import type { PairLinkRow } from './pool-model'
import { act, type By, type Follow } from '../deeds/deeds-service'
import { Problem } from '../base/problem'
import { sourcesOf } from './lines'
import { rebuild } from './pool'

/** What a line of the kind "pair" says; it is about two records, `12-15`. */
interface PairSaid {
  verdict: PairLinkRow['verdict']
  /** How the links that it changed stood before. */
  before: PairLinkRow[]
}

/** Pairs of works that may be one, the likeliest first; one question for each pair of works. */
export async function twinsOf(c: Context, inquiryId: number): Promise<Answer<'twins'>> {
  const links = await c.db.pairLinks.findAll({
    where: { inquiryId, verdict: 'asked' },
    order: [['score', 'DESC'], 'a', 'b'],
    raw: true,
  })
  const records = await c.db.records.findAll({
    where: { inquiryId, id: { [Op.in]: [...new Set(links.flatMap(l => [l.a, l.b]))] }, workId: { [Op.ne]: null } },
    attributes: ['id', 'workId', 'source', 'item', 'facts'],
    raw: true,
  })
  const sources = await sourcesOf(c)
  const sides = new Map(
    records.map(({ id, workId, source, item, facts }) => [
      id,
      { record: id, work: workId!, source: sources(source), item, facts },
    ]),
  )
  const pairs = new Map<string, Answer<'twins'>[number]>()
  for (const l of links) {
    const [a, b] = [sides.get(l.a), sides.get(l.b)]
    if (!a || !b || a.work === b.work) continue
    const key = a.work < b.work ? `${a.work}-${b.work}` : `${b.work}-${a.work}`
    if (!pairs.has(key)) pairs.set(key, { a, b, score: l.score })
  }
  return [...pairs.values()]
}

/**
 * Writes down what a student says of a pair of records: it holds for their two works. "asked" takes an answer back.
 * @throws Problem 422 where one of them is not in the pool
 */
export async function answerPair(
  context: Context,
  by: By,
  given: { a: number; b: number; verdict: PairLinkRow['verdict']; group: string },
  t: Transaction,
): Promise<number[]> {
  const { inquiryId } = by
  const { verdict } = given
  const [a, b] = given.a < given.b ? [given.a, given.b] : [given.b, given.a]
  const records = await context.db.records.findAll({
    where: { inquiryId, id: [a, b], workId: { [Op.ne]: null } },
    attributes: ['id', 'workId'],
    transaction: t,
    raw: true,
  })
  if (records.length < 2) throw new Problem(422, 'unknown-record', 'Both records have to be in the pool.')
  const works = records.map(r => r.workId!)
  // an answer holds for the two works, not for one pair of their records
  const all = await context.db.records.findAll({
    where: { inquiryId, workId: works },
    attributes: ['id', 'workId'],
    transaction: t,
    raw: true,
  })
  const [left, right] = works.map(w => all.filter(r => r.workId === w).map(r => r.id))
  const between = {
    inquiryId,
    [Op.or]: [
      { a: left!, b: right! },
      { a: right!, b: left! },
    ],
  }
  const parted = verdict === 'never' || verdict === 'linked'
  const before = await context.db.pairLinks.findAll({ where: between, transaction: t, raw: true })
  if (works[0] !== works[1])
    await context.db.pairLinks.update(
      parted ? { verdict, decidedBy: 'student' } : { verdict: 'asked', decidedBy: 'description' },
      {
        where: {
          ...between,
          // an answer taken back, or turned, frees the other pairs that it had closed
          ...(parted ? { verdict: 'asked' } : { verdict: ['never', 'linked'], decidedBy: 'student' }),
        },
        transaction: t,
      },
    )
  await context.db.pairLinks.upsert(
    verdict === 'asked'
      ? { inquiryId, a, b, verdict, score: ASK, decidedBy: 'description' }
      : { inquiryId, a, b, verdict, score: 20, decidedBy: 'student' },
    { transaction: t },
  )
  const said: PairSaid = { verdict, before }
  const deed = { id: randomUUID(), work: Math.min(...works), kind: 'pair' as const, about: `${a}-${b}`, value: said }
  return (await act(context, by, given.group, [deed], t)).works
}

/** Builds the works of pairs anew; taken back, the links stand as before, the last changed first. */
export const followPairs: Follow = async (context, by, _family, { lines, undone }, t) => {
  const touched = new Set<number>()
  for (const line of lines.toReversed()) {
    const [a, b] = line.about.split('-').map(Number) as [number, number]
    if (undone) {
      const { before } = line.value as PairSaid
      if (!before.some(x => x.a === a && x.b === b))
        await context.db.pairLinks.destroy({ where: { inquiryId: by.inquiryId, a, b }, transaction: t })
      for (const link of before) await context.db.pairLinks.upsert(link, { transaction: t })
    }
    for (const w of (await rebuild(context, by.inquiryId, [a, b], t, by.revision)).values()) touched.add(w)
  }
  return [...touched]
}
