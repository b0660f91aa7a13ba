import type { Transaction } from 'sequelize'
import { reach } from '../../core/access/reach'
import { appraise, itemRefereed } from '../../core/appraise/kind'
import { yearOf } from '../../core/bib/dates'
import { printCql } from '../../core/query/cql'
import { parseCql, type Parsed } from '../../core/query/parse-cql'
import type { Answer } from '../../core/schema/api'
import { citationsPerYear } from '../../core/trails/rate'
import type { Member } from '../sessions/member'
import type { Context } from '../base/context'
import { enqueue } from '../jobs/queue'
import { catalogueNames, cataloguesFor } from '../library/catalogues'
import { profilesFor } from '../library/holdings'
import { notFound, Problem } from '../base/problem'
import { AT_ONCE, type Brought } from './bring'
import { foundRows, withNames, type SweepRow } from './gather-model'

/** The sweeps of an inquiry with what each catalogue gave. */
export async function sweepsOf(c: Context, inquiryId: number, order: 'first' | 'latest') {
  const sweeps = await c.db.sweeps.findAll({
    where: { inquiryId },
    include: 'catalogues',
    order: [['id', order === 'first' ? 'ASC' : 'DESC']],
  })
  const names = await catalogueNames(c)
  return sweeps.map(s => withNames(names, s))
}

export async function sweepOf(c: Context, inquiryId: number, id: number): Promise<SweepRow> {
  const row = await c.db.sweeps.findOne({ where: { id, inquiryId }, raw: true })
  if (!row) throw notFound()
  return row
}

/** A query that can be asked. @throws Problem 422 with where it breaks off */
export function readQuery(text: string): Extract<Parsed, { ok: true }> {
  const parsed = parseCql(text)
  if (parsed.ok) return parsed
  throw new Problem(422, 'query', parsed.error.message, {
    fields: [{ field: 'query', said: parsed.error.message }],
    ...parsed.error,
  })
}

export const isCatalogue = async (c: Context, inquiryId: number, id: string): Promise<boolean> =>
  (await cataloguesFor(c, inquiryId)).some(x => x.id === id)

/** Writes a sweep down and queues it. */
export async function beginSweep(
  c: Context,
  { inquiryId, userId, day }: Member,
  given: { query: string; catalogues: readonly string[] },
  t: Transaction,
) {
  const parsed = readQuery(given.query)
  const there = new Set((await cataloguesFor(c, inquiryId)).map(x => x.id))
  const unknown = given.catalogues.find(x => !there.has(x))
  if (unknown)
    throw new Problem(422, 'invalid', `There is no catalogue "${unknown}".`, {
      fields: [{ field: 'catalogues', said: 'unknown' }],
    })
  const sweep = await c.db.sweeps.create(
    {
      inquiryId,
      query: given.query,
      cql: printCql(parsed.query),
      repairs: parsed.repairs.map(r => r.said),
      deskDay: day,
    },
    { transaction: t },
  )
  await c.db.sweepCatalogues.bulkCreate(
    [...new Set(given.catalogues)].map(catalogue => ({ sweepId: sweep.id, catalogue, changes: [] })),
    { transaction: t },
  )
  await c.db.inquiries.update({ query: given.query }, { where: { id: inquiryId }, transaction: t })
  const job = await enqueue(c, 'sweep', inquiryId, userId, { sweepId: sweep.id }, t)
  return { id: sweep.id, job, repairs: parsed.repairs }
}

export async function nameSweep(
  c: Context,
  where: { id: number; inquiryId: number },
  given: { name?: string | null | undefined; note?: string | null | undefined },
  t: Transaction,
): Promise<void> {
  if (!(await c.db.sweeps.count({ where, transaction: t }))) throw notFound()
  const now = {
    ...(given.name !== undefined ? { name: given.name || null } : {}),
    ...(given.note !== undefined ? { note: given.note || null } : {}),
  }
  if (Object.keys(now).length) await c.db.sweeps.update(now, { where, transaction: t })
}

/** The records of a sweep as its list shows them. */
export async function recordsOf(c: Context, { inquiryId, day }: Member, id: number) {
  await sweepOf(c, inquiryId, id)
  const found = await foundRows(c, id)
  const profiles = await profilesFor(
    c,
    inquiryId,
    found.map(r => r.item),
  )
  return found.map(({ item, facts, ...r }) => {
    const { kind, confidence } = appraise(item, facts)
    return {
      ...r,
      item,
      kind,
      confidence,
      within: reach(item, { profiles, day, facts }).reach === 'within reach',
      pages: facts.pageCount ?? null,
      refereed: itemRefereed(kind, facts) ?? null,
      perYear: citationsPerYear(facts.citedByCount, yearOf(item), day) ?? null,
    }
  })
}

/** Records of a sweep that could not be read, as they came. */
export async function unreadOf(c: Context, inquiryId: number, id: number): Promise<Answer<'unreadRecords'>> {
  await sweepOf(c, inquiryId, id)
  return c.db.sweepUnread.findAll({
    where: { sweepId: id },
    attributes: ['catalogue', 'position', 'why', 'raw'],
    order: ['catalogue', 'position'],
    limit: 200,
    raw: true,
  })
}

/** What is to be brought in of a sweep, and whether that is so much that it takes a job. */
export async function chosenOf(
  c: Context,
  inquiryId: number,
  given: { sweep: number; records?: number[] | undefined; all?: boolean | undefined; decide?: Given | undefined },
): Promise<{ wanted: Brought; long: boolean }> {
  const sweep = await sweepOf(c, inquiryId, given.sweep)
  const hits = await c.db.sweepHits.findAll({ where: { sweepId: sweep.id }, attributes: ['recordId'], raw: true })
  const asked = new Set(given.records)
  const ids = [...new Set(hits.map(h => h.recordId))].filter(id => given.all || asked.has(id))
  if (!ids.length) throw new Problem(422, 'nothing-chosen', 'Choose at least one record of this sweep.')
  const decide = given.decide && { ...given.decide, reason: given.decide.reason || null }
  return { wanted: { records: ids, ...(decide ? { decide } : {}) }, long: ids.length > AT_ONCE }
}
interface Given {
  group: string
  choice: 'keep' | 'set aside'
  reason?: string | null | undefined
}
