import { signsOf } from '../../core/appraise/signs'
import type { Transaction } from 'sequelize'
import { Op } from 'sequelize'
import { fileNature } from '../../core/match/file-nature'
import { proveCopy, type Proof } from '../../core/match/proof'
import { ChildFailed, runChild } from '../child/run'
import type { PdfText } from '../child/tasks'
import type { Context } from '../base/context'
import type { JobRow } from '../jobs/jobs-model'
import type { JobHandle } from '../jobs/queue'
import { cleanText, firstLetters } from '../../core/bib/clean'
import { dropOrphans, readBlob, storeBlob } from '../db/blobs'
import { change } from '../db/revision'
import { redescribe } from '../pool/describe'

export interface Received {
  outcome: Proof['outcome'] | 'refused'
  /** A sentence for the student. */
  said: string
  copyId?: number
  proof?: Proof
}

/**
 * Takes in a file for a work: what it is, then its text against the work. Proved and doubtful ones are kept with
 * their proof; what is not a readable PDF, or is another work, is refused with what it really was.
 */
export async function receiveCopy(
  c: Context,
  inquiryId: number,
  workId: number,
  bytes: Buffer,
  origin: string,
  signal?: AbortSignal,
): Promise<Received> {
  const nature = fileNature(
    bytes.length,
    bytes.subarray(0, 65_536).toString('latin1'),
    bytes.subarray(-2048).toString('latin1'),
  )
  if (!nature.pdf) return refuse(c, workId, origin, nature.said!)
  let text: PdfText
  try {
    text = await runChild('pdf', bytes, { seconds: 60, ...(signal ? { signal } : {}) })
  } catch (e) {
    if (!(e instanceof ChildFailed)) throw e
    if (/password/i.test(e.message))
      return refuse(c, workId, origin, 'The PDF is encrypted, so its text cannot be read or proved.')
    return refuse(c, workId, origin, 'The PDF is damaged and cannot be opened. Fetch it again, or drop another file.')
  }
  const work = await c.db.works.findOne({ where: { id: workId, inquiryId }, raw: true })
  const others = await c.db.works.findAll({
    where: { inquiryId, successorId: null, id: { [Op.ne]: workId } },
    attributes: ['id', 'item'],
    raw: true,
  })
  const records = await c.db.records.findAll({ where: { workId }, attributes: ['item'], raw: true })
  const proof = proveCopy(
    work!.item,
    text.pages,
    others,
    records.map(r => r.item),
  )
  if (proof.outcome === 'not this work')
    return { ...(await refuse(c, workId, origin, `This is not the work: the file is ${proof.really}.`)), proof }
  const said =
    proof.outcome === 'proved'
      ? 'Its own text proves it.'
      : `Doubtful: ${proof.evidence
          .filter(e => !e.holds)
          .map(e => e.said)
          .join(' ')}`
  const copyId = await change(c, inquiryId, async (t, revision) => {
    const hash = await storeBlob(c.db, bytes, 'application/pdf', t)
    const have = await c.db.copies.findOne({ where: { workId, hash }, transaction: t, raw: true })
    if (have) return have.id
    await c.db.attempts.create(
      { workId, url: firstLetters(origin, 1000), outcome: proof.outcome, said },
      { transaction: t },
    )
    return keep(c, { inquiryId, workId, hash, origin }, proof, text, t, revision)
  })
  return { outcome: proof.outcome, said, copyId, proof }
}

/** Reads a file that a student brought for a work; of one that is refused, nothing is kept. */
export async function runCopy(c: Context, { job, signal }: JobHandle): Promise<Record<string, unknown>> {
  const upload = await c.db.uploads.findByPk(Number(job.payload.upload), { raw: true })
  // read before a crash could be noted
  if (!upload)
    return job.progress.got ? (job.progress.got as Record<string, unknown>) : { outcome: 'refused', said: GONE }
  const { inquiryId, workId, hash, name } = upload
  const got = await receiveCopy(c, inquiryId, workId, await readBlob(c.db, hash), `your file "${name}"`, signal)
  await doneWith(c, upload.id, hash, job.id, got)
  return { ...got }
}

const GONE = 'The file is not there any more. Bring it again.'

/** What was brought is held by its copy, or by nobody. */
async function doneWith(c: Context, id: number, hash: string, job: number, got: Received): Promise<void> {
  await c.db.sequelize.transaction(async t => {
    await c.db.uploads.destroy({ where: { id }, transaction: t })
    await c.db.jobs.update({ progress: { got } }, { where: { id: job }, transaction: t })
    await dropOrphans(c.db, [hash], t)
  })
}

/** A file whose reading was given up is not kept. */
export async function copyGivenUp(c: Context, job: JobRow, why: string): Promise<void> {
  const upload = await c.db.uploads.findByPk(Number(job.payload.upload), { raw: true })
  if (upload) await doneWith(c, upload.id, upload.hash, job.id, { outcome: 'refused', said: why })
}

async function refuse(c: Context, workId: number, origin: string, said: string): Promise<Received> {
  await c.db.attempts.create({ workId, url: firstLetters(origin, 1000), outcome: 'refused', said })
  return { outcome: 'refused', said }
}

async function keep(
  c: Context,
  of: { inquiryId: number; workId: number; hash: string; origin: string },
  proof: Proof,
  text: PdfText,
  t: Transaction,
  revision: number,
): Promise<number> {
  const { inquiryId, workId, hash, origin } = of
  const version = proof.version ?? 'version of record'
  const row = await c.db.copies.create(
    {
      inquiryId,
      workId,
      hash,
      origin: firstLetters(origin, 500),
      outcome: proof.outcome,
      version,
      proof,
      pages: text.pages.length,
      labels: text.labels,
      signs: signsOf(text.pages),
    },
    { transaction: t },
  )
  for (const p of text.pages)
    await c.db.sequelize.query('INSERT INTO copy_pages (copy_id, page, content) VALUES (?, ?, ?)', {
      replacements: [row.id, p.page, cleanText(p.lines.join('\n'))],
      transaction: t,
    })
  // what its pages say of its kind joins the evidence
  await redescribe(c, inquiryId, [workId], t, revision)
  return row.id
}
