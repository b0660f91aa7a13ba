import { randomUUID } from 'node:crypto'
import express, { Router, type Request } from 'express'
import { Op } from 'sequelize'
import { object, string } from 'yup'
import { cleanText, firstLetters } from '../../core/bib/clean'
import type { ReadEntry, ReadFile } from '../../core/formats/read-file'
import { leadOf } from '../../core/appraise/leads'
import { readPasted } from '../../core/match/pasted'
import { inquiryOf, userOf } from '../accounts/accounts'
import { ChildFailed, runChild } from '../child/run'
import type { Context } from '../context'
import type { ImportReport, JobRow } from '../db/models'
import { inParts } from '../db/rows'
import { act } from '../deeds/deeds-service'
import { recordOf } from '../pool/record'
import { readBlob, storeBlob } from '../inquiries/blobs'
import { change } from '../inquiries/revision'
import { answerOnce } from '../once'
import { enqueue, type JobHandle } from '../jobs/queue'
import { pool } from '../pool/pool'
import { check, notFound, Problem } from '../problem'

export const LARGEST_IMPORT = 20 * 1024 * 1024

/** Imports of bibliography files. The file is kept; it is read as a job, and comes into the pool whole or not at all. */
export function importRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })
  router.get('/imports', async (req, res) => {
    res.json(await c.db.imports.findAll({ where: { inquiryId: inquiryOf(req) }, order: [['id', 'DESC']], raw: true }))
  })
  router.get('/imports/:import', async (req, res) => {
    const row = await c.db.imports.findOne({
      where: { id: Number(req.params.import), inquiryId: inquiryOf(req) },
      raw: true,
    })
    if (!row) throw notFound()
    res.json(row)
  })
  router.post('/imports', express.raw({ type: () => true, limit: LARGEST_IMPORT }), async (req, res) => {
    const bytes = req.body as Buffer
    if (!Buffer.isBuffer(bytes) || !bytes.length) throw new Problem(422, 'empty-file', 'The file is empty.')
    const inquiryId = inquiryOf(req)
    const fileName = fileNameOf(req)
    await answerOnce(c, req, res, 202, async t => {
      const hash = await storeBlob(c.db, bytes, 'application/octet-stream', t)
      const row = await c.db.imports.create({ inquiryId, fileName, hash }, { transaction: t })
      return { id: row.id, job: await enqueue(c, 'import', inquiryId, userOf(req), { importId: row.id }, t) }
    })
  })
  /** Reads once more what was refused or given up. */
  router.post('/imports/:import/again', async (req, res) => {
    const where = { id: Number(req.params.import), inquiryId: inquiryOf(req) }
    await answerOnce(c, req, res, 202, async t => {
      const row = await c.db.imports.findOne({ where, transaction: t, raw: true })
      if (!row) throw notFound()
      if (row.state !== 'refused') throw new Problem(409, 'not-refused', 'This was read already, or is being read.')
      await c.db.imports.update({ state: 'waiting', report: null }, { where, transaction: t })
      const payload = { importId: row.id }
      const before = await c.db.jobs.findOne({
        where: { inquiryId: where.inquiryId, kind: ['import', 'paste'], payload },
        order: [['id', 'DESC']],
        transaction: t,
        raw: true,
      })
      return { id: row.id, job: await enqueue(c, before?.kind ?? 'import', where.inquiryId, userOf(req), payload, t) }
    })
  })
  /** Lines with DOIs, ISBNs or references, to be looked up one by one; it becomes an import with its report. */
  router.post('/pasted', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const { text } = check(object({ text: string().max(200_000).required('Paste at least one line.') }), req.body)
    const wanted = readPasted(text)
    if (!wanted.length) throw new Problem(422, 'nothing-pasted', 'There is no line to look up.')
    if (wanted.length > 500) throw new Problem(422, 'too-many', 'Look up 500 lines at a time.')
    await answerOnce(c, req, res, 202, async t => {
      const hash = await storeBlob(c.db, Buffer.from(text), 'text/plain', t)
      const row = await c.db.imports.create({ inquiryId, fileName: `${wanted.length} pasted ${wanted.length === 1 ? 'line' : 'lines'}`, hash }, { transaction: t }) // prettier-ignore
      return { id: row.id, job: await enqueue(c, 'paste', inquiryId, userOf(req), { importId: row.id }, t) }
    })
  })
  /** Looks up what a work leads to, as a pasted line is; the work counts as a lead unless its part was given. */
  router.post('/works/:work/lead', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const work = await c.db.works.findOne({
      where: { id: Number(req.params.work), inquiryId, successorId: null },
      raw: true,
    })
    if (!work) throw notFound()
    const lead = leadOf(work.item, work.kind)
    if (!lead) throw new Problem(422, 'no-lead', 'This work names no other that could be looked for.')
    const userId = userOf(req)
    await answerOnce(c, req, res, 202, async (t, revision) => {
      const hash = await storeBlob(c.db, Buffer.from(`“${lead.title}”`), 'text/plain', t)
      const row = await c.db.imports.create({ inquiryId, fileName: firstLetters(`A lead: ${lead.title}`, 255), hash }, { transaction: t }) // prettier-ignore
      if (!work.said?.part) {
        const deed = { id: randomUUID(), work: work.id, kind: 'mark' as const, about: 'part', value: 'lead' }
        await act(c, { inquiryId, userId, revision }, deed.id, [deed], t)
      }
      return { job: await enqueue(c, 'paste', inquiryId, userId, { importId: row.id }, t), title: lead.title }
    })
  })
  return router
}

/** The name of a file that is sent as bytes, from its own header. */
export function fileNameOf(req: Request): string {
  try {
    return firstLetters(cleanText(decodeURIComponent(req.get('X-File-Name') ?? '')), 255) || 'unnamed'
  } catch {
    throw new Problem(
      400,
      'bad-file-name',
      'The name of the file is not written as X-File-Name wants it, percent-encoded.',
    )
  }
}

/** An import whose job was given up says so, and can be brought again. */
export async function importGivenUp(c: Context, job: JobRow, why: string): Promise<void> {
  await refuseImport(c, Number(job.payload.importId), why, '')
}

async function refuseImport(c: Context, id: number, why: string, excerpt: string): Promise<void> {
  const row = await c.db.imports.findByPk(id, { raw: true })
  if (!row || row.state === 'done') return
  const report: ImportReport = { format: null, read: 0, newWorks: 0, mended: [], refused: [{ line: 1, why, excerpt }] }
  await change(c, row.inquiryId, t =>
    c.db.imports.update({ state: 'refused', report }, { where: { id }, transaction: t }),
  )
}

export async function runImport(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const row = await c.db.imports.findByPk(Number(job.payload.importId), { raw: true })
  if (!row) throw new Problem(404, 'gone', 'The import is gone.')
  if (row.state === 'done') return { importId: row.id } // done before a crash could be noted
  await progress({ step: 'reading' })
  const refuse = async (why: string, excerpt = '') => {
    await refuseImport(c, row.id, why, excerpt)
    return { importId: row.id, refused: why }
  }
  const bytes = await readBlob(c.db, row.hash)
  let read: ReadFile | null
  let latin1: boolean
  try {
    ;({ text: read, latin1 } = await runChild('bibliography', bytes, { seconds: 240, megabytes: 2048, signal }))
  } catch (e) {
    if (e instanceof ChildFailed) return refuse(`The file could not be read: ${e.message}`)
    throw e
  }
  if (!read)
    return refuse(
      'This is neither BibTeX, RIS nor CSL-JSON, whatever its name says. Nothing was imported.',
      bytes.subarray(0, 120).toString('latin1'),
    )
  await progress({ step: 'storing', entries: read.entries.length })
  const report: ImportReport = {
    format: read.format,
    read: read.entries.length,
    newWorks: 0,
    mended: read.entries
      .filter(e => e.mended.length)
      .map(e => ({ line: e.line, title: e.item.title ?? 'untitled', said: e.mended })),
    refused: read.refused,
  }
  if (latin1)
    report.mended.unshift({
      line: 1,
      title: 'The whole file',
      said: ['It is not UTF-8; its letters were read as Western European (Windows-1252).'],
    })
  await bringIn(
    c,
    row,
    job.userId,
    read.entries.map(e => ({ ...e, format: read.format })),
    report,
    signal,
    progress,
  )
  return { importId: row.id, read: report.read }
}

/** Entries of a report that are listed; all are counted. */
const LISTED = 500
const listed = (r: ImportReport): ImportReport => ({
  ...r,
  mended: r.mended.slice(0, LISTED),
  refused: r.refused.slice(0, LISTED),
  ...(r.mended.length > LISTED ? { mendedInAll: r.mended.length } : {}),
  ...(r.refused.length > LISTED ? { refusedInAll: r.refused.length } : {}),
})

/**
 * Stores entries with their sources and brings them into the pool, whole or not at all.
 * @returns the works they describe
 */
export async function bringIn(
  c: Context,
  row: { id: number; inquiryId: number },
  userId: number | null,
  entries: readonly (Pick<ReadEntry, 'item' | 'facts' | 'raw' | 'line'> & { format: string })[],
  report: ImportReport,
  signal: AbortSignal,
  progress: JobHandle['progress'],
): Promise<number[]> {
  const source = `file:${row.id}`
  const all = entries.flatMap((e, i) => {
    try {
      // the place among all makes the key unlike any other of the file
      const sourceKey = firstLetters(`line ${e.line}, entry ${i + 1}: ${e.item.id}`, 190)
      return [{ inquiryId: row.inquiryId, source, ...recordOf(e, sourceKey) }]
    } catch (why) {
      if (!(why instanceof RangeError)) throw why
      report.refused.push({ line: e.line, why: why.message, excerpt: firstLetters(e.raw, 120) })
      return []
    }
  })
  report.read = all.length
  report.refused = report.refused.sort((a, b) => a.line - b.line)
  return change(c, row.inquiryId, async (t, revision) => {
    // an entry that came with an earlier file, letter for letter, is there already
    const before = new Map<string, number>()
    for (let i = 0; i < all.length; i += 5000) {
      const same = await c.db.records.findAll({
        where: {
          inquiryId: row.inquiryId,
          source: { [Op.like]: 'file:%', [Op.ne]: source },
          rawHash: all.slice(i, i + 5000).map(r => r.rawHash),
        },
        attributes: ['id', 'rawHash'],
        transaction: t,
        raw: true,
      })
      for (const r of same) before.set(r.rawHash, r.id)
    }
    const rows = all.filter(r => !before.has(r.rawHash))
    for (const part of inParts(rows)) {
      signal.throwIfAborted()
      await c.db.records.bulkCreate(part, { transaction: t })
    }
    const stored = await c.db.records.findAll({
      where: { inquiryId: row.inquiryId, source },
      attributes: ['id'],
      transaction: t,
      raw: true,
    })
    if (stored.length !== rows.length) throw new Error(`of ${rows.length} records ${stored.length} were stored`)
    report.newWorks = (
      await pool(
        c,
        row.inquiryId,
        stored.map(s => s.id),
        { how: 'file', userId },
        t,
        revision,
        (done, of) => progress({ step: 'storing', entries: of, done }),
      )
    ).newWorks
    signal.throwIfAborted()
    await c.db.imports.update(
      { state: all.length ? 'done' : 'refused', report: listed(report) },
      { where: { id: row.id }, transaction: t },
    )
    const ids = [...stored.map(s => s.id), ...before.values()]
    const owners = await c.db.records.findAll({ where: { id: ids }, attributes: ['workId'], transaction: t, raw: true })
    return [...new Set(owners.flatMap(r => r.workId ?? []))]
  })
}
