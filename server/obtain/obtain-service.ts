import type { Transaction } from 'sequelize'
import type { Member } from '../sessions/member'
import type { Context } from '../base/context'
import { storeBlob } from '../db/blobs'
import { enqueue } from '../jobs/queue'
import { redescribe } from '../pool/describe'
import { workLines } from '../pool/lines'
import { notFound } from '../base/problem'
import type { SentFile } from '../serve/serve'
import { receiveCopy, receiveFile, type Received, type Recognised } from './copies'
import { requireWorks } from './retrieve-job'

type Who = Pick<Member, 'inquiryId' | 'userId'>

/** The kept works with the ways to their texts as they were found, and their copies. */
export async function waysOf(c: Context, member: Member) {
  const { inquiryId } = member
  const [lines, routes, copies] = await Promise.all([
    workLines(c, member),
    c.db.routes.findAll({ where: { inquiryId }, raw: true }),
    c.db.copies.findAll({
      where: { inquiryId, outcome: ['proved', 'doubtful'] },
      attributes: ['id', 'workId', 'outcome', 'version', 'pages', 'proof'],
      order: ['id'],
      raw: true,
    }),
  ])
  const found = new Map(routes.map(r => [r.workId, r]))
  const held = new Map<number, object[]>()
  for (const { workId, proof, ...x } of copies) {
    const said = proof.evidence.filter(e => !e.holds).map(e => e.said)
    const copy = { ...x, said }
    held.set(workId, [...(held.get(workId) ?? []), copy])
  }
  return lines
    .filter(w => w.state === 'kept')
    .map(w => {
      const ways = found.get(w.id)
      return {
        ...w,
        routes: ways?.routes ?? null,
        closed: ways?.closed ?? [],
        trouble: ways?.trouble ?? null,
        copies: (held.get(w.id) ?? []) as (Pick<(typeof copies)[number], 'id' | 'outcome' | 'version' | 'pages'> & {
          said: string[]
        })[],
      }
    })
}

/** Queues work on the texts of kept works: of these, or of all. @throws Problem 422 where none of them is kept */
export async function enqueueFor(
  c: Context,
  kind: 'routes' | 'retrieval',
  { inquiryId, userId }: Who,
  wanted: readonly number[] | undefined,
  t: Transaction,
): Promise<{ job: number }> {
  const rows = await c.db.works.scope('living').findAll({
    where: { inquiryId, state: 'kept' },
    attributes: ['id'],
    transaction: t,
    raw: true,
  })
  const kept = rows.map(r => r.id)
  const works = wanted ? wanted.filter(w => kept.includes(w)) : kept
  requireWorks(works)
  return { job: await enqueue(c, kind, inquiryId, userId, { works }, t) }
}

/** Keeps a file of the student's that is to find its work, and queues its reading. */
export async function takeText(
  c: Context,
  { inquiryId, userId }: Who,
  { bytes, name }: SentFile,
  t: Transaction,
): Promise<{ job: number }> {
  const hash = await storeBlob(c.db, bytes, 'application/pdf', t)
  const upload = await c.db.uploads.create({ inquiryId, workId: null, hash, name }, { transaction: t })
  return { job: await enqueue(c, 'copy', inquiryId, userId, { upload: upload.id, name }, t) }
}

/** Keeps a file of the student's for a work, and queues its reading. */
export async function takeCopy(
  c: Context,
  { inquiryId, userId }: Who,
  work: number,
  { bytes, name }: SentFile,
  t: Transaction,
): Promise<{ job: number }> {
  if (!(await c.db.works.scope('living').count({ where: { id: work, inquiryId }, transaction: t }))) throw notFound()
  const hash = await storeBlob(c.db, bytes, 'application/pdf', t)
  const upload = await c.db.uploads.create({ inquiryId, workId: work, hash, name }, { transaction: t })
  return { job: await enqueue(c, 'copy', inquiryId, userId, { upload: upload.id, work, name }, t) }
}

/** Reads a locked file with its password while one waits: neither of them is written down before it is proved. */
export async function openCopy(
  c: Context,
  inquiryId: number,
  work: number,
  { bytes, name, password = '' }: SentFile,
  signal: AbortSignal,
): Promise<Received> {
  if (!(await c.db.works.scope('living').count({ where: { id: work, inquiryId } }))) throw notFound()
  return receiveCopy(c, inquiryId, work, bytes, `your file "${name}"`, { signal, password })
}

/** The same of one that finds its work by its own text. */
export const openText = (
  c: Context,
  inquiryId: number,
  { bytes, name, password = '' }: SentFile,
  signal: AbortSignal,
): Promise<Recognised> => receiveFile(c, { inquiryId, name }, bytes, { signal, password })

/** Drops a copy; what its pages said of the work's kind goes with it. */
export async function dropCopy(
  c: Context,
  where: { id: number; inquiryId: number },
  t: Transaction,
  revision: number,
): Promise<void> {
  const copy = await c.db.copies.findOne({ where, attributes: ['workId'], transaction: t, raw: true })
  if (!copy) throw notFound()
  await c.db.copies.destroy({ where, transaction: t })
  await redescribe(c, where.inquiryId, [copy.workId], t, revision)
}
