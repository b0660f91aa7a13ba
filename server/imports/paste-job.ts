import { firstLetters, plainTitle } from '../../core/bib/clean'
import { answers } from '../../core/match/answers'
import { readPasted, type Pasted } from '../../core/match/pasted'
import type { ImportReport } from '../../core/formats/report'
import type { Context } from '../base/context'
import { logError } from '../base/log'
import { Problem } from '../base/problem'
import { OutsideError } from '../connect/http'
import { readBlob } from '../db/blobs'
import { change } from '../db/revision'
import { isDatabaseTrouble } from '../db/transaction'
import type { JobHandle } from '../jobs/queue'
import { bringIn } from './import-job'
import { byDoi, searchAll, type Found } from './look-up'

interface Taken extends Found {
  /** Why it may be another. */
  doubt?: string
}
/** What came of looking something up: a work, or why there is none. */
type Answer = { found: Taken } | { why: string }

/** A reference is answered by a record whose title has nearly all of its words; below the second only with a doubt. */
const FITS = 0.8
const SURE = 0.95

/** Looks up pasted lines: DOIs at their registrations, ISBNs and titles in catalogues and registers; what is not found is named. */
export async function runPaste(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const row = await c.db.imports.findByPk(Number(job.payload.importId), { raw: true })
  if (!row) throw new Problem(404, 'gone', 'The import is gone.')
  if (row.state === 'done') return { importId: row.id }
  const wanted = readPasted((await readBlob(c.db, row.hash)).toString('utf8'))
  const entries: (Taken & { line: number })[] = []
  const report: ImportReport = { format: 'pasted lines', read: 0, newWorks: 0, mended: [], refused: [], found: [] }
  for (const [i, p] of wanted.entries()) {
    signal.throwIfAborted()
    await progress({ step: 'looking up', done: i, of: wanted.length })
    const answer = orAsDescribed(p, await lookUp(c, row.inquiryId, p, signal))
    if ('why' in answer) report.refused.push({ line: p.line, why: answer.why, excerpt: firstLetters(p.text, 200) })
    else {
      const { found } = answer
      entries.push({ ...found, line: p.line })
      report.found!.push({
        line: p.line,
        asked: firstLetters(p.by === 'reference' ? p.text : p.value, 200),
        title: plainTitle(found.item.title, 'untitled'),
        where: found.where,
        ...(found.doubt ? { doubt: found.doubt } : {}),
      })
    }
  }
  report.read = entries.length
  let works: number[] = []
  if (entries.length) works = await bringIn(c, row, job.userId, entries, report, signal, progress)
  else
    await change(c, row.inquiryId, t =>
      c.db.imports.update({ state: 'refused', report }, { where: { id: row.id }, transaction: t }),
    )
  return { importId: row.id, read: entries.length, works: works.slice(0, 100) }
}

/** What nobody has stands as a link describes it, where that names it. */
function orAsDescribed({ link, text }: Pasted, answer: Answer): Answer {
  if (!('why' in answer) || !link?.title) return answer
  const item = { ...link, id: 'link', type: link.type ?? 'document' }
  const doubt = `${answer.why} It stands as the link describes it.`
  return { found: { item, facts: {}, raw: text, format: 'OpenURL', where: 'the link itself', doubt } }
}

/** Looks one line up; whatever comes back for it ends no other. */
async function lookUp(c: Context, inquiryId: number, p: Pasted, signal: AbortSignal): Promise<Answer> {
  try {
    if (p.by !== 'doi') return await bySearch(c, inquiryId, p, signal)
    const found = (await byDoi(c, p.value, signal)) ?? (p.or && (await byDoi(c, p.or, signal)))
    return found ? { found } : { why: `The DOI ${p.value} is not registered.` }
  } catch (e) {
    if (signal.aborted || isDatabaseTrouble(e)) throw e
    if (e instanceof OutsideError) return { why: `${e.message} Paste this line again later.` }
    logError(`looking up ${p.by}`, e)
    return { why: 'What came back for it could not be taken.' }
  }
}

/** The record that fits best, of all that can be asked for it. */
async function bySearch(c: Context, inquiryId: number, p: Pasted, signal: AbortSignal): Promise<Answer> {
  const { found, asked, away, refusing } = await searchAll(
    c,
    inquiryId,
    p.by === 'isbn' ? 'isbn' : 'title',
    p.value,
    signal,
  )
  const fit = found
    .map((f): Found & { fit: number; against?: string } => ({
      ...f,
      ...(p.reference ? answers(p.reference, f.item) : { fit: 1 }),
    }))
    .filter(f => f.fit >= FITS)
    .sort((a, b) => b.fit - a.fit || Object.keys(b.item).length - Object.keys(a.item).length)
  const best = fit.find(f => !f.against)
  if (best) {
    const { item, facts, raw, format, where } = best
    const doubt = best.fit < SURE ? `Its title differs a little from what was pasted.` : undefined
    return { found: { item, facts, raw, format, where, ...(doubt ? { doubt } : {}) } }
  }
  const what = p.by === 'isbn' ? `the ISBN ${p.value}` : `a work with the title “${firstLetters(p.value, 120)}”`
  // who could not be asked has not said no
  const later = away.length ? ` ${away.join(', ')} could not be asked: paste this line again later.` : ''
  const missing = later + refusing.map(r => ` ${r}`).join('')
  if (fit[0])
    return { why: `${fit[0].where} has that title, but ${fit[0].against}, so it was not taken for yours.${missing}` }
  return {
    why: asked ? `Nobody who was asked has ${what}.${missing}` : `Nobody could be asked for ${what}.${missing}`,
  }
}
