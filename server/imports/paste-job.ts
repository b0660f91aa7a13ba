import type { Facts, Item } from '../../core/bib/item'
import { readCslJson } from '../../core/formats/csl-json'
import { readPasted, titleFit, type Pasted } from '../../core/match/pasted'
import type { Query } from '../../core/query/cql'
import { OutsideError, requireSuccess } from '../connect/http'
import type { Context } from '../base/context'
import type { ImportReport } from '../../core/formats/report'
import { askSru, explainOf, readRecord } from '../connect/sru-client'
import { readBlob } from '../db/blobs'
import { change } from '../db/revision'
import type { JobHandle } from '../jobs/queue'
import { Problem } from '../base/problem'
import { bringIn } from './import-job'

interface Found {
  item: Item
  facts: Facts
  raw: string
  format: string
}
/** A reference is answered by a record whose title has nearly all of its words. */
const FITS = 0.8

/** Looks up pasted lines: DOIs at the resolver, ISBNs and titles in the catalogues; what is not found is named. */
export async function runPaste(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const row = await c.db.imports.findByPk(Number(job.payload.importId), { raw: true })
  if (!row) throw new Problem(404, 'gone', 'The import is gone.')
  if (row.state === 'done') return { importId: row.id }
  const wanted = readPasted((await readBlob(c.db, row.hash)).toString('utf8'))
  const entries: (Found & { line: number })[] = []
  const refused: ImportReport['refused'] = []
  for (const [i, p] of wanted.entries()) {
    signal.throwIfAborted()
    await progress({ step: 'looking up', done: i, of: wanted.length })
    const no = (why: string) => refused.push({ line: p.line, why, excerpt: p.text.slice(0, 200) })
    try {
      const found = p.by === 'doi' ? await byDoi(c, p.value, signal) : await inCatalogues(c, p, signal)
      if (found) entries.push({ ...found, line: p.line })
      else
        no(
          {
            doi: `The DOI ${p.value} is not registered.`,
            isbn: `No catalogue has the ISBN ${p.value}.`,
            reference: `No catalogue has a work with the title “${p.value.slice(0, 120)}”.`,
          }[p.by],
        )
    } catch (e) {
      if (!(e instanceof OutsideError)) throw e
      no(`${e.message} Paste this line again later.`)
    }
  }
  const report: ImportReport = { format: 'pasted lines', read: entries.length, newWorks: 0, mended: [], refused }
  let works: number[] = []
  if (entries.length) works = await bringIn(c, row, job.userId, entries, report, signal, progress)
  else
    await change(c, row.inquiryId, t =>
      c.db.imports.update({ state: 'refused', report }, { where: { id: row.id }, transaction: t }),
    )
  return { importId: row.id, read: entries.length, works: works.slice(0, 100) }
}

/** DOI content negotiation (CSL-JSON). */
async function byDoi(c: Context, doi: string, signal: AbortSignal): Promise<Found | undefined> {
  const answer = await c.outside(c.settings.outside.resolver + doi, {
    headers: { accept: 'application/vnd.citationstyles.csl+json' },
    timeoutMs: 10_000,
    signal,
  })
  if (answer.status === 404) return undefined
  const raw = requireSuccess(answer).body.toString('utf8')
  const read = readCslJson(raw.trim().startsWith('[') ? raw : `[${raw}]`).entries[0]
  if (!read) throw new OutsideError('The resolver sent an answer that cannot be read.', true)
  return { item: read.item, facts: read.facts, raw, format: 'CSL-JSON' }
}

/** The record that fits best, of all catalogues that can be asked for it. */
async function inCatalogues(c: Context, p: Pasted, signal: AbortSignal): Promise<Found | undefined> {
  const query: Query = {
    root: {
      kind: 'clause',
      index: p.by === 'isbn' ? 'isbn' : 'title',
      relation: p.by === 'isbn' ? '=' : 'all',
      modifiers: [],
      term: p.value.replace(/[*?"\\^]/g, ' '),
    },
  }
  const found = await Promise.all(
    c.settings.outside.catalogues.map(async catalogue => {
      try {
        const { abilities } = await explainOf(c, catalogue, signal)
        if (abilities.indexes && !abilities.indexes.includes(p.by === 'isbn' ? 'isbn' : 'title')) return []
        const page = await askSru(c, catalogue, query, 1, 5, signal)
        return page.records.map(r => {
          const { item, facts } = readRecord(catalogue, r.raw)
          return {
            item,
            facts,
            raw: r.raw,
            format: catalogue.schema,
            fit: p.by === 'isbn' ? 1 : titleFit(p.value, item.title ?? ''),
          }
        })
      } catch (e) {
        if (!(e instanceof OutsideError)) throw e
        return []
      }
    }),
  )
  const best = found
    .flat()
    .sort((a, b) => b.fit - a.fit || Object.keys(b.item).length - Object.keys(a.item).length)
    .find(f => f.fit >= FITS)
  return best && { item: best.item, facts: best.facts, raw: best.raw, format: best.format }
}
