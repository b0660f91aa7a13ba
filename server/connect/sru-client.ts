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
import { printCql, type Query } from '../../core/query/cql'
import type { Context } from '../base/context'
import type { Outside } from '../base/settings'
import { OutsideError, requireSuccess } from './http'

export type CatalogueSetting = Outside['catalogues'][number]

/** Bytes of one answer at most: a page of fifty long descriptions is some two megabytes. */
const LONGEST_ANSWER = 8_000_000

const explained = new Map<string, { at: number; answer: Explained }>()

/** What a catalogue can do, by its own explain; asked again after an hour. */
export async function explainOf(c: Context, catalogue: CatalogueSetting, signal?: AbortSignal): Promise<Explained> {
  const have = explained.get(catalogue.sru)
  if (have && Date.now() - have.at < 3_600_000) return have.answer
  const a = requireSuccess(
    await c.outside(`${catalogue.sru}?version=1.2&operation=explain`, {
      timeoutMs: 8000,
      maxBytes: LONGEST_ANSWER,
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
    await c.outside(`${catalogue.sru}?${p.toString()}`, {
      timeoutMs: 8000,
      maxBytes: LONGEST_ANSWER,
      ...(signal ? { signal } : {}),
    }),
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
    await c.outside(`${catalogue.sru}?${p.toString()}`, {
      timeoutMs: 10_000,
      maxBytes: LONGEST_ANSWER,
      ...(signal ? { signal } : {}),
    }),
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
    await c.outside(`${catalogue.sru}?${p.toString()}`, {
      timeoutMs: 10_000,
      maxBytes: LONGEST_ANSWER,
      ...(signal ? { signal } : {}),
    }),
  )
  const answer = readXmlAnswer(catalogue, () => readSruAnswer(a.body.toString('utf8')))
  if (answer.diagnostics.length && !answer.records.length && !answer.count)
    throw new OutsideError(`${catalogue.name} refuses: ${answer.diagnostics.join('; ')}`, false)
  return { count: answer.count, records: answer.records, more: answer.next !== undefined && answer.records.length > 0 }
}

const readers = { mods: readMods, dc: readDublinCore, marcxml: readMarcXml }
export const readRecord = (catalogue: CatalogueSetting, raw: string) => readers[catalogue.schema](raw)
