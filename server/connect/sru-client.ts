import { readDublinCore } from '../../core/formats/dublin-core'
import { readMarcXml } from '../../core/formats/marcxml'
import { readMods } from '../../core/formats/mods'
import {
  readExplain,
  readFacets,
  readScan,
  readSruAnswer,
  type Explained,
  type SruAnswer,
  type SruRecord,
} from '../../core/formats/sru'
import { printCql, type Query } from '../../core/query/cql'
import type { Context } from '../base/context'
import { decodeXml } from '../base/decode'
import type { Outside } from '../base/settings'
import { OutsideError, requireSuccess } from './http'

export type CatalogueSetting = Outside['catalogues'][number]

/** Bytes of one answer at most: a page of fifty long descriptions is some two megabytes. */
const LONGEST_ANSWER = 8_000_000

const explained = new Map<string, { until: number; answer: Known }>()
const HOUR = 3_600_000

/** What is known of what a catalogue can do; `assumed` says why that is no more than what most can. */
export interface Known extends Explained {
  assumed?: string
}

/**
 * What a catalogue can do, by its own explain; asked again after an hour. One that does not explain itself is asked as
 * queries stand: it says itself what it refuses.
 */
export async function explainOf(c: Context, catalogue: CatalogueSetting, signal?: AbortSignal): Promise<Known> {
  const have = explained.get(catalogue.sru)
  if (have && Date.now() < have.until) return have.answer
  try {
    const xml = await ask(c, catalogue, { version: '1.2', operation: 'explain' }, signal)
    const answer = readXmlAnswer(catalogue, readExplain, xml)
    explained.set(catalogue.sru, { until: Date.now() + HOUR, answer })
    return answer
  } catch (e) {
    if (!(e instanceof OutsideError) || signal?.aborted) throw e
    const answer: Known = {
      title: catalogue.name,
      schemas: [],
      abilities: { truncation: true, proximity: true },
      assumed: `It does not say what it can do, so it was asked as the query stands. ${e.message}`,
    }
    // one that is away for a moment may explain itself in the next
    explained.set(catalogue.sru, { until: Date.now() + (e.again ? 5000 : HOUR), answer })
    return answer
  }
}

/** Asks a catalogue, whose address may have a query of its own. An error that is told in XML is an answer too. */
async function ask(
  c: Context,
  catalogue: CatalogueSetting,
  given: Record<string, string>,
  signal: AbortSignal | undefined,
  timeoutMs = 8000,
): Promise<string> {
  const at = new URL(catalogue.sru)
  for (const [name, value] of Object.entries(given)) at.searchParams.set(name, value)
  const a = await c.outside(at.href, { timeoutMs, maxBytes: LONGEST_ANSWER, ...(signal ? { signal } : {}) })
  const text = decodeXml(a.body, String(a.headers['content-type'] ?? ''))
  if (a.status >= 400 && !/<([\w.-]+:)?diagnostic[\s>]/.test(text)) requireSuccess(a)
  return text
}

function readXmlAnswer<T>(catalogue: CatalogueSetting, read: (xml: string) => T, xml: string): T {
  try {
    return read(xml)
  } catch (e) {
    throw new OutsideError(
      `${catalogue.name} sent an answer that cannot be read: ${e instanceof Error ? e.message : String(e)}`,
      true,
    )
  }
}

export interface SruPage {
  count: number
  /** It said how many itself; else it is what came so far. */
  counted: boolean
  records: SruRecord[]
  /** Records that it gave in no form that can be read, or said it could not give. */
  unread: SruAnswer['unread']
  more: boolean
}

/** Words of a catalogue's dictionary from one on, in its own order. @throws OutsideError */
export async function scanWords(
  c: Context,
  catalogue: CatalogueSetting,
  from: string,
  signal?: AbortSignal,
): Promise<{ text: string; count: number }[]> {
  const given = {
    version: '1.2',
    operation: 'scan',
    scanClause: `title = "${from.replace(/["\\]/g, '')}"`,
    maximumTerms: '200',
  }
  return readXmlAnswer(catalogue, readScan, await ask(c, catalogue, given, signal))
}

/** How an answer is made up by the values of some indexes (SRU 2.0). @throws OutsideError */
export async function askFacets(
  c: Context,
  catalogue: CatalogueSetting,
  query: Query,
  wanted: Record<string, number>,
  signal?: AbortSignal,
): Promise<ReturnType<typeof readFacets>> {
  const given = {
    version: '2.0',
    queryType: 'cql',
    query: printCql(query),
    maximumRecords: '0',
    facetLimit: Object.entries(wanted)
      .map(([index, most]) => `${most}:${index}`)
      .join(','),
  }
  return readXmlAnswer(catalogue, readFacets, await ask(c, catalogue, given, signal, 10_000))
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
  const given = {
    version: '1.2',
    operation: 'searchRetrieve',
    query: printCql(query),
    startRecord: String(start),
    maximumRecords: String(most),
    recordSchema: catalogue.schema,
  }
  const xml = await ask(c, catalogue, given, signal, 10_000)
  const { records, unread, diagnostics, next, count } = readXmlAnswer(catalogue, x => readSruAnswer(x, start), xml)
  const got = records.length + unread.length
  // what went wrong is looked at first: a count of none beside it means nothing
  if (diagnostics.length && !got && !(count && most === COUNTED))
    throw new OutsideError(`${catalogue.name} refuses: ${diagnostics.map(d => d.said).join('; ')}`, false)
  const reached = start - 1 + got
  return {
    // where it does not say, there is what came, and more while pages are full
    count: count ?? reached + (next || got >= most ? 1 : 0),
    counted: count !== undefined,
    records,
    unread,
    more: got > 0 && (next !== undefined || (count === undefined ? got >= most : reached < count)),
  }
}
/** So many records are asked for where their number alone is wanted. */
const COUNTED = 1

const readers = { mods: readMods, dc: readDublinCore, marcxml: readMarcXml }
export const readRecord = (catalogue: CatalogueSetting, raw: string) => readers[catalogue.schema](raw)
