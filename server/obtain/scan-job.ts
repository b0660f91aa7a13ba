import type { Transaction } from 'sequelize'
import { signsOf } from '../../core/appraise/signs'
import { clean } from '../../core/bib/clean'
import type { DrawnPage } from '../../core/pdftext/page'
import { partsOf } from '../../core/pdftext/read-text'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { ChildFailed, runChild } from '../child/run'
import { readBlob } from '../db/blobs'
import { change } from '../db/revision'
import { addMissing } from '../db/rows'
import { enqueue, type JobHandle } from '../jobs/queue'
import { redescribe } from '../pool/describe'
import type { Member } from '../sessions/member'
import { keepText, wordsOn } from './copies'

/** Pages that are read in one go; what was read stays where it is cut off. */
const AT_ONCE = 4
/** Seconds for one page; on a slow machine a full one takes a fourth of it. */
const SECONDS = 60

const LOCKED =
  'The PDF is locked, and its password is kept nowhere: its other pages cannot be read by machine. Bring it without its lock.'

/** Queues the reading of all pages of a scan. @throws Problem 422 where the copy is none */
export async function beginScan(
  c: Context,
  { inquiryId, userId }: Pick<Member, 'inquiryId' | 'userId'>,
  id: number,
  t: Transaction,
): Promise<{ job: number }> {
  const copy = await c.db.copies.findOne({ where: { id, inquiryId }, transaction: t, raw: true })
  if (!copy) throw notFound()
  if (!copy.parts?.scan) throw new Problem(422, 'not-a-scan', 'This copy has a text of its own.')
  return { job: await enqueue(c, 'scan', inquiryId, userId, { copy: id }, t) }
}

/** Reads the pages of a scan by machine, a few at a time, those first that were not read before; then all as one text. */
export async function runScan(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const id = Number(job.payload.copy)
  const copy = await c.db.copies.findByPk(id, { raw: true })
  if (!copy?.parts?.scan) return { pages: 0 }
  const work = await c.db.works.findByPk(copy.workId, { attributes: ['item'], raw: true })
  const how = wordsOn(work?.item)
  const there = await c.db.copyScans.findAll({ where: { copyId: id }, attributes: ['page'], raw: true })
  const done = new Set(there.map(r => r.page))
  const missing = Array.from({ length: copy.pages }, (_, i) => i + 1).filter(n => !done.has(n))
  const bytes = await readBlob(c.db, copy.hash)
  for (let at = 0; at < missing.length; at += AT_ONCE) {
    await progress({ read: done.size, of: copy.pages })
    const pages = missing.slice(at, at + AT_ONCE)
    const limits = { seconds: SECONDS * pages.length, signal }
    const drawn = await runChild('scan', bytes, limits, { pages, ...how }).catch((e: Error) => {
      if (!(e instanceof ChildFailed)) throw e
      const isLocked = /^PasswordException/.test(e.message)
      throw new Problem(422, 'unreadable', isLocked ? LOCKED : `The pages could not be read by machine. ${e.message}`)
    })
    const rows = drawn.map((d, i) => ({ copyId: id, page: pages[i]!, drawn: d }))
    await c.db.sequelize.transaction(t => addMissing(c.db.copyScans, rows, 'page', t))
    for (const n of pages) done.add(n)
  }
  await progress({ read: copy.pages, of: copy.pages })
  await keepScan(c, id, how, signal)
  return { pages: copy.pages }
}

/** Takes the pages of a scan that were read apart as one text, in place of what was read of it before. */
async function keepScan(c: Context, id: number, how: { page?: string }, signal: AbortSignal): Promise<void> {
  const rows = await c.db.copyScans.findAll({ where: { copyId: id }, order: ['page'] })
  const drawn = rows.map((r): DrawnPage => r.drawn)
  const text = await runChild('drawn', Buffer.from(JSON.stringify(drawn)), { seconds: 240, signal }, how)
  const copy = await c.db.copies.findByPk(id, { raw: true })
  if (!copy?.parts?.scan) return
  const { why } = copy.parts.scan
  const scan = { why, read: rows.map(r => r.page), drawn: [] }
  await change(c, copy.inquiryId, async (t, revision) => {
    const noted = await c.db.passages.count({ where: { copyId: id }, transaction: t })
    await c.db.copies.update(
      {
        parts: clean(partsOf({ ...text, scan })),
        signs: signsOf(text.pages),
        // passages were noted by the labels as they are
        ...(noted ? {} : { labels: text.labels }),
      },
      { where: { id }, transaction: t },
    )
    await c.db.copyReferences.destroy({ where: { copyId: id }, transaction: t })
    await keepText(c, id, text, t)
    await redescribe(c, copy.inquiryId, [copy.workId], t, revision)
  })
}
