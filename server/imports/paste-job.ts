import { firstLetters, plainTitle } from '../../core/bib/clean'
import type { Facts, Item, ReadRecord } from '../../core/bib/item'
import { asksFor } from '../../core/connectors/description'
import { readPasted, type Pasted } from '../../core/match/pasted'
import { answers } from '../../core/match/answers'
import type { Query } from '../../core/query/cql'
import { askConnector, askConnectorOnce, connectorsFor } from '../connect/connectors'
import { OutsideError } from '../connect/http'
import type { Context } from '../base/context'
import type { ImportReport } from '../../core/formats/report'
import { explainOf, search } from '../catalogues/catalogue'
import { readRecord } from '../../core/formats/records'
import type { CatalogueSetting } from '../connect/sru-client'
import { readBlob } from '../db/blobs'
import { change } from '../db/revision'
import { isDatabaseTrouble } from '../db/transaction'
import { logError } from '../base/log'
import type { JobHandle } from '../jobs/queue'
import { Problem } from '../base/problem'
import { bringIn } from './import-job'

interface Found {
  item: Item
  facts: Facts
  raw: string
  format: string
  /** Who has it. */
  where: string
  /** Why it may be another. */
  doubt?: string
}
/** What came of looking something up: a work, or why there is none. */
type Answer = { found: Found } | { why: string }

/** A reference is answered by a record whose title has nearly all of its words; below the second only with a doubt. */
const FITS = 0.8
const SURE = 0.95

/** Looks up pasted lines: DOIs at their registrations, ISBNs and titles in catalogues and registers; what is not found is named. */
export async function runPaste(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const row = await c.db.imports.findByPk(Number(job.payload.importId), { raw: true })
  if (!row) throw new Problem(404, 'gone', 'The import is gone.')
  if (row.state === 'done') return { importId: row.id }
  const wanted = readPasted((await readBlob(c.db, row.hash)).toString('utf8'))
  const entries: (Found & { line: number })[] = []
  const report: ImportReport = { format: 'pasted lines', read: 0, newWorks: 0, mended: [], refused: [], found: [] }
  for (const [i, p] of wanted.entries()) {
    signal.throwIfAborted()
    await progress({ step: 'looking up', done: i, of: wanted.length })
    const answer = await lookUp(c, p, signal)
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

/** Looks one line up; whatever comes back for it ends no other. */
async function lookUp(c: Context, p: Pasted, signal: AbortSignal): Promise<Answer> {
  try {
    if (p.by !== 'doi') return await bySearch(c, p, signal)
    const found = await byDoi(c, p.value, signal)
    return found ? { found } : { why: `The DOI ${p.value} is not registered.` }
  } catch (e) {
    if (signal.aborted || isDatabaseTrouble(e)) throw e
    if (e instanceof OutsideError) return { why: `${e.message} Paste this line again later.` }
    logError(`looking up ${p.by}`, e)
    return { why: 'What came back for it could not be taken.' }
  }
}

/** A work by its DOI, from the first registration that knows it; one that does not answer has not said no. */
async function byDoi(c: Context, doi: string, signal: AbortSignal): Promise<Found | undefined> {
  let away: OutsideError | undefined
  for (const connector of connectorsFor(c.settings.outside, 'work'))
    try {
      for await (const { records, unread } of askConnector(c, connector, 'work', { doi }, signal)) {
        if (unread[0]) throw new OutsideError(`${connector.name} sent what cannot be read: ${unread[0].why}`, true)
        const [record] = records
        if (record) return { ...record, format: 'CSL-JSON', where: connector.name }
      }
    } catch (e) {
      if (!(e instanceof OutsideError)) throw e
      away ??= e
    }
  if (away) throw away
  return undefined
}

type Candidate = Found & { fit: number; against?: string }
/** One that can be asked for works by title or number; its candidates, or nothing where it cannot be asked for those. */
interface Source {
  name: string
  ask: () => Promise<Candidate[] | undefined>
}

function sourcesFor(c: Context, p: Pasted, signal: AbortSignal): Source[] {
  const index = p.by === 'isbn' ? 'isbn' : 'title'
  const query: Query = {
    root: {
      ...{ kind: 'clause', index, modifiers: [] },
      relation: p.by === 'isbn' ? '=' : 'all',
      term: p.value.replace(/[*?"\\^]/g, ' '),
    },
  }
  const judged = (found: Found): Candidate => ({
    ...found,
    ...(p.reference ? answers(p.reference, found.item) : { fit: 1 }),
  })
  const catalogues = c.settings.outside.catalogues.map(catalogue => ({
    name: catalogue.name,
    ask: async () => {
      const { abilities } = await explainOf(c, catalogue, signal)
      if (abilities.indexes && !abilities.indexes.includes(index)) return undefined
      const page = await search(c, catalogue, query, 1, CANDIDATES, signal)
      return page.records.flatMap(r => {
        const read = readIfCan(catalogue, r.raw)
        return read ? [judged({ ...read, raw: r.raw, format: catalogue.schema, where: catalogue.name })] : []
      })
    },
  }))
  const connectors = connectorsFor(c.settings.outside, 'search').map(connector => ({
    name: connector.name,
    ask: async () => {
      if (!asksFor(connector, 'search', index)) return undefined
      const page = await askConnectorOnce(c, connector, 'search', { [index]: p.value }, signal)
      return (page?.records ?? [])
        .slice(0, CANDIDATES)
        .map(r => judged({ ...r, format: 'CSL-JSON', where: connector.name }))
    },
  }))
  return [...catalogues, ...connectors]
}
/** Records that one source is asked for at most. */
const CANDIDATES = 5

/** The record that fits best, of all that can be asked for it. */
async function bySearch(c: Context, p: Pasted, signal: AbortSignal): Promise<Answer> {
  const away: string[] = []
  const refusing: string[] = []
  let asked = 0
  const found = await Promise.all(
    sourcesFor(c, p, signal).map(async ({ name, ask }) => {
      try {
        const candidates = await ask()
        if (candidates) asked++
        return candidates ?? []
      } catch (e) {
        if (!(e instanceof OutsideError)) throw e
        if (e.again) away.push(name)
        else refusing.push(e.message)
        return []
      }
    }),
  )
  const fit = found
    .flat()
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

function readIfCan(catalogue: CatalogueSetting, raw: string): ReadRecord | undefined {
  try {
    return readRecord(catalogue.schema, raw)
  } catch {
    return undefined
  }
}
