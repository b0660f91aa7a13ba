import { Op } from 'sequelize'
import { firstLetters, plainTitle } from '../../core/bib/clean'
import type { ReadEntry, ReadFile } from '../../core/formats/read-file'
import type { ImportReport } from '../../core/formats/report'
import { ChildFailed, runChild } from '../child/run'
import type { Context } from '../base/context'
import type { Charset } from '../base/decode'
import { inParts } from '../db/rows'
import { readBlob } from '../db/blobs'
import { change } from '../db/revision'
import type { JobRow } from '../jobs/jobs-model'
import type { JobHandle } from '../jobs/queue'
import { pool } from '../pool/pool'
import { recordOf } from '../pool/record'
import { Problem } from '../base/problem'

/** An import whose job was given up says so, and can be brought again. */
export async function importGivenUp(c: Context, job: JobRow, why: string): Promise<void> {
  await refuseImport(c, Number(job.payload.importId), why, '')
}

async function refuseImport(c: Context, id: number, why: string, excerpt: string, final = false): Promise<void> {
  const row = await c.db.imports.findByPk(id, { raw: true })
  if (!row || row.state === 'done') return
  const report: ImportReport = {
    format: null,
    read: 0,
    newWorks: 0,
    mended: [],
    refused: [{ line: 1, why, excerpt }],
    ...(final ? { final } : {}),
  }
  await change(c, row.inquiryId, t =>
    c.db.imports.update({ state: 'refused', report }, { where: { id }, transaction: t }),
  )
}

export async function runImport(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const row = await c.db.imports.findByPk(Number(job.payload.importId), { raw: true })
  if (!row) throw new Problem(404, 'gone', 'The import is gone.')
  if (row.state === 'done') return { importId: row.id } // done before a crash could be noted
  await progress({ step: 'reading' })
  const refuse = async (why: string, excerpt = '', final = false) => {
    await refuseImport(c, row.id, why, excerpt, final)
    return { importId: row.id, refused: why }
  }
  const bytes = await readBlob(c.db, row.hash)
  let read: ReadFile | null
  let charset: Charset
  try {
    ;({ text: read, charset } = await runChild('bibliography', bytes, { seconds: 240, signal }))
  } catch (e) {
    if (e instanceof ChildFailed) return refuse(`The file could not be read: ${e.message}`)
    throw e
  }
  if (!read)
    return refuse(
      'This is neither BibTeX, RIS, CSL-JSON, MARC 21, MODS nor Dublin Core, whatever its name says. Nothing was imported.',
      bytes.subarray(0, 120).toString('latin1'),
      true,
    )
  await progress({ step: 'storing', entries: read.entries.length })
  const report: ImportReport = {
    format: read.format,
    read: read.entries.length,
    newWorks: 0,
    mended: read.entries
      .filter(e => e.mended.length)
      .map(e => ({ line: e.line, title: plainTitle(e.item.title, 'untitled'), said: e.mended })),
    refused: read.refused,
  }
  if (charset !== 'utf-8')
    report.mended.unshift({
      line: 1,
      title: 'The whole file',
      said: [
        `It is not UTF-8; its letters were read as ${charset === 'windows-1252' ? 'Western European (Windows-1252)' : 'UTF-16'}.`,
      ],
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
