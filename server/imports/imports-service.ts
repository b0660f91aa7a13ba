import { randomUUID } from 'node:crypto'
import type { Transaction } from 'sequelize'
import { leadOf } from '../../core/appraise/leads'
import { firstLetters } from '../../core/bib/clean'
import { readPasted } from '../../core/match/pasted'
import type { Context } from '../base/context'
import { act, type By } from '../deeds/deeds-service'
import { storeBlob } from '../db/blobs'
import { enqueue } from '../jobs/queue'
import { notFound, Problem } from '../base/problem'

type Who = Pick<By, 'inquiryId' | 'userId'>

export const importsOf = (c: Context, inquiryId: number) =>
  c.db.imports.findAll({ where: { inquiryId }, order: [['id', 'DESC']], raw: true })

export async function oneImport(c: Context, where: { id: number; inquiryId: number }) {
  const row = await c.db.imports.findOne({ where, raw: true })
  if (!row) throw notFound()
  return row
}

/** Keeps a file and queues its reading. */
export async function takeFile(
  c: Context,
  { inquiryId, userId }: Who,
  file: { bytes: Buffer; name: string },
  t: Transaction,
): Promise<{ id: number; job: number }> {
  const hash = await storeBlob(c.db, file.bytes, 'application/octet-stream', t)
  const row = await c.db.imports.create({ inquiryId, fileName: file.name, hash }, { transaction: t })
  return { id: row.id, job: await enqueue(c, 'import', inquiryId, userId, { importId: row.id }, t) }
}

/** Reads once more what was refused or given up. */
export async function readAgain(
  c: Context,
  { inquiryId, userId }: Who,
  id: number,
  t: Transaction,
): Promise<{ id: number; job: number }> {
  const where = { id, inquiryId }
  const row = await c.db.imports.findOne({ where, transaction: t, raw: true })
  if (!row) throw notFound()
  if (row.state !== 'refused') throw new Problem(409, 'not-refused', 'This was read already, or is being read.')
  await c.db.imports.update({ state: 'waiting', report: null }, { where, transaction: t })
  const payload = { importId: row.id }
  const before = await c.db.jobs.findOne({
    where: { inquiryId, kind: ['import', 'paste'], payload },
    order: [['id', 'DESC']],
    transaction: t,
    raw: true,
  })
  return { id: row.id, job: await enqueue(c, before?.kind ?? 'import', inquiryId, userId, payload, t) }
}

const MOST_LINES = 500
/** @throws Problem 422 where there is nothing to look up, or too much at once */
export function requireLines(text: string): number {
  const { length } = readPasted(text)
  if (!length) throw new Problem(422, 'nothing-pasted', 'There is no line to look up.')
  if (length > MOST_LINES) throw new Problem(422, 'too-many', `Look up ${MOST_LINES} lines at a time.`)
  return length
}

/** Queues the looking up of lines; it becomes an import with its report. */
export async function lookUp(
  c: Context,
  { inquiryId, userId }: Who,
  text: string,
  called: string,
  t: Transaction,
): Promise<{ id: number; job: number }> {
  const hash = await storeBlob(c.db, Buffer.from(text), 'text/plain', t)
  const row = await c.db.imports.create({ inquiryId, fileName: firstLetters(called, 255), hash }, { transaction: t })
  return { id: row.id, job: await enqueue(c, 'paste', inquiryId, userId, { importId: row.id }, t) }
}

/** Looks up what a work leads to, as a pasted line is; the work counts as a lead unless its part was given. */
export async function followLead(
  c: Context,
  by: By,
  workId: number,
  t: Transaction,
): Promise<{ job: number; title: string }> {
  const where = { id: workId, inquiryId: by.inquiryId }
  const work = await c.db.works.scope('living').findOne({ where, transaction: t, raw: true })
  if (!work) throw notFound()
  const lead = leadOf(work.item, work.kind)
  if (!lead) throw new Problem(422, 'no-lead', 'This work names no other that could be looked for.')
  const { job } = await lookUp(c, by, `“${lead.title}”`, `A lead: ${lead.title}`, t)
  if (!work.said?.part) {
    const deed = { id: randomUUID(), work: work.id, kind: 'mark' as const, about: 'part', value: 'lead' }
    await act(c, by, deed.id, [deed], t)
  }
  return { job, title: lead.title }
}
