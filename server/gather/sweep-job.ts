import { createHash } from 'node:crypto'
import { readDublinCore } from '../../core/formats/dublin-core'
import { readMarcXml } from '../../core/formats/marcxml'
import { readMods } from '../../core/formats/mods'
import {
  readExplain,
  readFacets,
  readScan,
  readSruAnswer,
  type Explained,
  type SruRecord,
} from '../../core/formats/sru'
import { checkQuery } from '../../core/query/abilities'
import { printCql, type Query } from '../../core/query/cql'
import { parseCql } from '../../core/query/parse-cql'
import type { Context } from '../context'
import { OutsideError, requireSuccess } from '../connect/http'
import type { Outside } from '../settings'
import { change } from '../inquiries/revision'
import type { JobHandle } from '../jobs/queue'
import { Problem } from '../problem'

export type CatalogueSetting = Outside['catalogues'][number]

/** Records fetched of a catalogue in one sweep; more can be asked for. */
export const FIRST_FETCH = 200
const PAGE = 50

const explained = new Map<string, { at: number; answer: Explained }>()

/** What a catalogue can do, by its own explain; asked again after an hour. */
export async function explainOf(c: Context, catalogue: CatalogueSetting, signal?: AbortSignal): Promise<Explained> {
  const have = explained.get(catalogue.sru)
  if (have && Date.now() - have.at < 3_600_000) return have.answer
  const a = requireSuccess(
    await c.outside(`${catalogue.sru}?version=1.2&operation=explain`, {
      timeoutMs: 8000,
      ...(signal ? { signal } : {}),
    }),
  )
  const answer = readXmlAnswer(catalogue, () => readExplain(a.body.toString('utf8')))
  explained.set(catalogue.sru, { at: Date.now(), answer })
  return answer
}

function readXmlAnswer<T>(catalogue: CatalogueSetting, read: () => T): T {
  try {
    return read()
  } catch (e) {
    throw new OutsideError(
      `${catalogue.name} sent an answer that cannot be read: ${e instanceof Error ? e.message : String(e)}`,
      true,
    )
  }
}

export interface SruPage {
  count: number
  records: SruRecord[]
  more: boolean
}

/** Words of a catalogue's dictionary from one on, in its own order. @throws OutsideError */
export async function scanWords(
  c: Context,
  catalogue: CatalogueSetting,
  from: string,
  signal?: AbortSignal,
): Promise<{ text: string; count: number }[]> {
  const p = new URLSearchParams({
    version: '1.2',
    operation: 'scan',
    scanClause: `title = "${from.replace(/["\\]/g, '')}"`,
    maximumTerms: '200',
  })
  const a = requireSuccess(
    await c.outside(`${catalogue.sru}?${p.toString()}`, { timeoutMs: 8000, ...(signal ? { signal } : {}) }),
  )
  return readXmlAnswer(catalogue, () => readScan(a.body.toString('utf8')))
}

/** How an answer is made up by the values of some indexes (SRU 2.0). @throws OutsideError */
export async function askFacets(
  c: Context,
  catalogue: CatalogueSetting,
  query: Query,
  wanted: Record<string, number>,
  signal?: AbortSignal,
): Promise<ReturnType<typeof readFacets>> {
  const p = new URLSearchParams({
    version: '2.0',
    queryType: 'cql',
    query: printCql(query),
    maximumRecords: '0',
    facetLimit: Object.entries(wanted)
      .map(([index, most]) => `${most}:${index}`)
      .join(','),
  })
  const a = requireSuccess(
    await c.outside(`${catalogue.sru}?${p.toString()}`, { timeoutMs: 10_000, ...(signal ? { signal } : {}) }),
  )
  return readXmlAnswer(catalogue, () => readFacets(a.body.toString('utf8')))
}

/** One page of a search. @throws OutsideError with the catalogue's own diagnostic where it refuses */
export async function askSru(
  c: Context,
  catalogue: CatalogueSetting,
  query: Query,
  start: number,
  most: number,
  signal?: AbortSignal,
): Promise<SruPage> {
  const p = new URLSearchParams({
    version: '1.2',
    operation: 'searchRetrieve',
    query: printCql(query),
    startRecord: String(start),
    maximumRecords: String(most),
    recordSchema: catalogue.schema,
  })
  const a = requireSuccess(
    await c.outside(`${catalogue.sru}?${p.toString()}`, { timeoutMs: 10_000, ...(signal ? { signal } : {}) }),
  )
  const answer = readXmlAnswer(catalogue, () => readSruAnswer(a.body.toString('utf8')))
  if (answer.diagnostics.length && !answer.records.length && !answer.count)
    throw new OutsideError(`${catalogue.name} refuses: ${answer.diagnostics.join('; ')}`, false)
  return { count: answer.count, records: answer.records, more: answer.next !== undefined && answer.records.length > 0 }
}

const readers = { mods: readMods, dc: readDublinCore, marcxml: readMarcXml }
export const readRecord = (catalogue: CatalogueSetting, raw: string) => readers[catalogue.schema](raw)

/** Runs a sweep: each catalogue in its own time; one that fails is named, the others' results stand. */
export async function runSweep(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const { sweepId, only, most } = job.payload as { sweepId: number; only?: string; most?: number }
  const sweep = await c.db.sweeps.findByPk(sweepId, { raw: true })
  if (!sweep) throw new Problem(404, 'gone', 'The sweep is gone.')
  const parsed = parseCql(sweep.cql)
  if (!parsed.ok) throw new Problem(422, 'query', parsed.error.message)
  const parts = await c.db.sweepCatalogues.findAll({ where: { sweepId }, raw: true })
  const at: Record<string, { count: number | null; fetched: number }> = {}
  await Promise.all(
    parts
      .filter(p => (only ? p.catalogue === only : p.state !== 'done'))
      .map(async part => {
        const catalogue = c.settings.outside.catalogues.find(x => x.id === part.catalogue)
        if (!catalogue) return
        const save = (values: object) =>
          change(c, sweep.inquiryId, t =>
            c.db.sweepCatalogues.update(values, { where: { sweepId, catalogue: part.catalogue }, transaction: t }),
          )
        try {
          await save({ state: 'asking', error: null })
          const abilities = (await explainOf(c, catalogue, signal)).abilities
          const checked = checkQuery(parsed.query, abilities)
          if (!checked.query) throw new OutsideError(checked.changes.join(' '), false)
          await save({ asked: printCql(checked.query), changes: checked.changes })
          // goes on where a crash or an earlier fetch left it
          let fetched = part.fetched
          let count = part.count
          const said = new Set<string>()
          const goal = Math.min(Math.max(most ?? FIRST_FETCH, FIRST_FETCH), abilities.window ?? Infinity)
          for (;;) {
            signal.throwIfAborted()
            const page = await askWithPatience(
              () => askSru(c, catalogue, checked.query!, fetched + 1, Math.min(PAGE, goal - fetched), signal),
              signal,
            )
            const rows = page.records.flatMap(r => {
              try {
                const { item, facts } = readRecord(catalogue, r.raw)
                return [{ raw: r.raw, position: r.position, key: r.identifier ?? String(r.position), item, facts }]
              } catch {
                return [] // one unreadable record does not cost the page
              }
            })
            fetched += page.records.length
            // catalogues change while they are read, and some count what they do not give
            if (count !== null && page.count !== count) said.add(`Its answer changed while it was read: ${count} records at first, then ${page.count}.`) // prettier-ignore
            count = page.count
            if (!page.more && fetched < Math.min(count, goal)) said.add(`It counts ${count} records and gave ${fetched}.`) // prettier-ignore
            await change(c, sweep.inquiryId, async (t, revision) => {
              await c.db.records.bulkCreate(
                rows.map(r => ({
                  inquiryId: sweep.inquiryId,
                  source: catalogue.id,
                  sourceKey: r.key,
                  rawHash: hashOf(r.raw),
                  raw: r.raw,
                  format: catalogue.schema,
                  item: r.item,
                  facts: r.facts,
                })),
                { ignoreDuplicates: true, transaction: t },
              )
              const stored = await c.db.records.findAll({
                where: { inquiryId: sweep.inquiryId, source: catalogue.id, rawHash: rows.map(r => hashOf(r.raw)) },
                attributes: ['id', 'sourceKey', 'rawHash', 'workId'],
                transaction: t,
                raw: true,
              })
              const idOf = new Map(stored.map(s => [`${s.sourceKey} ${s.rawHash}`, s.id]))
              await c.db.sweepHits.bulkCreate(
                rows.map(r => ({
                  sweepId,
                  catalogue: catalogue.id,
                  position: r.position,
                  recordId: idOf.get(`${r.key} ${hashOf(r.raw)}`)!,
                })),
                { ignoreDuplicates: true, transaction: t },
              )
              // works of the pool that this sweep found as well
              const known = stored.flatMap(s => s.workId ?? [])
              if (known.length) await c.db.works.update({ revision }, { where: { id: known }, transaction: t })
              await c.db.sweepCatalogues.update(
                { count: page.count, fetched },
                { where: { sweepId, catalogue: catalogue.id }, transaction: t },
              )
            })
            at[catalogue.id] = { count: page.count, fetched }
            await progress({ catalogues: at })
            if (!page.more || fetched >= goal) break
          }
          await save({ state: 'done', ...(said.size ? { changes: [...checked.changes, ...said] } : {}) })
        } catch (e) {
          if (signal.aborted) throw e
          if (!(e instanceof OutsideError)) throw e
          await save({ state: 'failed', error: e.message })
        }
      }),
  )
  return { catalogues: at }
}

/** Once more after a pause where the service asks for one or broke off. */
async function askWithPatience<T>(ask: () => Promise<T>, signal: AbortSignal): Promise<T> {
  try {
    return await ask()
  } catch (e) {
    if (!(e instanceof OutsideError) || !e.again || signal.aborted) throw e
    await new Promise(r => setTimeout(r, Math.min(e.afterSeconds ?? 1, 5) * 1000))
    signal.throwIfAborted()
    return ask()
  }
}

export const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex')
