import { offersOf } from '../../core/formats/records'
import {
  readExplain,
  readFacets,
  readScan,
  readSruAnswer,
  type Explained,
  type SruAnswer,
  type SruDiagnostic,
  type SruRecord,
} from '../../core/formats/sru'
import { fold } from '../../core/bib/fold'
import { clauses, printCql, type Query, type QueryNode } from '../../core/query/cql'
import { inItsNames, learn, suit, type Refusals, type Suited } from '../../core/query/suit'
import { fits, isMasked, termRuns } from '../../core/query/tokens'
import type { Context } from '../base/context'
import { decodeXml } from '../base/decode'
import type { Outside } from '../base/settings'
import { OutsideError, type OutsideRequest, requireSuccess } from './http'

/** What catalogues are asked with. */
export interface Asking extends Pick<Context, 'outside'> {
  settings: { outside: Outside }
}

export type CatalogueSetting = Outside['catalogues'][number] & Pick<OutsideRequest, 'also'>
/** One that is searched where it is. */
export type SruSetting = CatalogueSetting & {
  sru: string
  /** The name of a schema that it offers and that is asked for in place of its own, until it is refused. */
  as?: string
}
const isSru = (x: CatalogueSetting): x is SruSetting => x.sru !== undefined

/** Bytes of one answer at most: a page of fifty long descriptions is some two megabytes. */
const LONGEST_ANSWER = 8_000_000

const explained = new Map<string, { until: number; answer: Promise<Known> }>()
const HOUR = 3_600_000
const MOMENT = 5000

/** What is known of what a catalogue can do; `assumed` says why that is no more than what most can. */
export interface Known extends Explained {
  assumed?: string
  /** It may explain itself in a moment. */
  again?: boolean
  /** What it refused since, whatever it said of itself. */
  refused: Refusals
  version: string
  /** Names of the schema that it refused. */
  noSchema: Set<string>
  /** Endings of masked words, as dictionaries have them; each word is asked for once, however many counts wait for it. */
  endings: Map<string, Promise<readonly string[]>>
}
const fresh = () => ({
  refused: {},
  version: '1.2',
  noSchema: new Set<string>(),
  endings: new Map<string, Promise<readonly string[]>>(),
})

/**
 * What a catalogue can do, by its own explain; asked again after an hour. One that does not explain itself is asked as
 * queries stand: it says itself what it refuses, and that is remembered as long.
 */
export async function explainOf(c: Asking, catalogue: SruSetting, signal?: AbortSignal): Promise<Known> {
  let kept = explained.get(catalogue.sru)
  if (!kept || Date.now() >= kept.until) {
    // asked once for all who wait for it, so that nobody's leaving breaks it off
    const asking = { until: Infinity, answer: explainNow(c, catalogue) }
    explained.set(catalogue.sru, (kept = asking))
    asking.answer.then(
      ({ again }) => (asking.until = Date.now() + (again ? MOMENT : HOUR)),
      () => explained.delete(catalogue.sru),
    )
  }
  return orLeave(kept.answer, signal)
}

/** What others wait for too; who leaves waits no longer. */
function orLeave<T>(answer: Promise<T>, signal: AbortSignal | undefined): Promise<T> {
  if (!signal) return answer
  return new Promise<T>((yes, no) => {
    const leave = () => no(signal.reason as Error)
    if (signal.aborted) return leave()
    signal.addEventListener('abort', leave, { once: true })
    answer.then(yes, no).finally(() => signal.removeEventListener('abort', leave))
  })
}

async function explainNow(c: Asking, catalogue: SruSetting): Promise<Known> {
  try {
    const xml = await ask(c, catalogue, { version: '1.2', operation: 'explain' }, undefined)
    return { ...readXmlAnswer(catalogue, readExplain, xml), ...fresh() }
  } catch (e) {
    if (!(e instanceof OutsideError)) throw e
    return {
      title: catalogue.name,
      schemas: [],
      abilities: { truncation: true, proximity: true },
      names: {},
      assumed: `It does not say what it can do, so it was asked as the query stands. ${e.message}`,
      // one that is away for a moment may explain itself in the next
      again: e.again,
      ...fresh(),
    }
  }
}

/** A catalogue's no to what it was asked, in its own words. */
class Refused extends OutsideError {
  constructor(
    catalogue: SruSetting,
    readonly diagnostics: SruDiagnostic[],
  ) {
    super(`${catalogue.name} refuses: ${diagnostics.map(d => d.said).join('; ')}`, false)
  }
}

/** Asks a catalogue, whose address may have a query of its own. An error that is told in XML is an answer too. */
async function ask(
  c: Asking,
  catalogue: SruSetting,
  given: Record<string, string>,
  signal: AbortSignal | undefined,
  timeoutMs = 8000,
): Promise<string> {
  const at = new URL(catalogue.sru)
  for (const [name, value] of Object.entries(given)) at.searchParams.set(name, value)
  const a = await c.outside(at.href, {
    ...{ timeoutMs, maxBytes: LONGEST_ANSWER },
    ...(catalogue.also ? { also: catalogue.also } : {}),
    ...(signal ? { signal } : {}),
  })
  const text = decodeXml(a.body, String(a.headers['content-type'] ?? ''))
  if (a.status >= 400 && !/<([\w.-]+:)?diagnostic[\s>]/.test(text)) requireSuccess(a)
  return text
}

function readXmlAnswer<T>(catalogue: SruSetting, read: (xml: string) => T, xml: string): T {
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
  c: Asking,
  catalogue: SruSetting,
  from: string,
  signal?: AbortSignal,
): Promise<{ text: string; count: number }[]> {
  const { names, version } = await explainOf(c, catalogue, signal)
  const given = {
    version: version === '2.0' ? '1.2' : version,
    operation: 'scan',
    scanClause: `${names.title ?? 'title'} = "${from.replace(/["\\]/g, '')}"`,
    maximumTerms: '200',
  }
  return readXmlAnswer(catalogue, readScan, await ask(c, catalogue, given, signal))
}

/** How an answer is made up by the values of some indexes (SRU 2.0). @throws OutsideError */
export async function askFacets(
  c: Asking,
  catalogue: SruSetting,
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

/** A query as one catalogue is asked it, and what is left to do here. */
export interface Suits extends Suited {
  known: Known
  /** The query by the catalogue's own names. */
  asked?: Query
}

/** Brings a query into the form that a catalogue understands, as far as that is known by now. @throws OutsideError */
export async function suitTo(c: Asking, catalogue: SruSetting, query: Query, signal?: AbortSignal): Promise<Suits> {
  const known = await explainOf(c, catalogue, signal)
  const cannot = !known.abilities.truncation || known.refused.truncation
  const masked = cannot ? clauses(query.root).flatMap(({ clause }) => clause.term.split(/\s+/).filter(isMasked)) : []
  const asking = [...new Set(masked)].map(async w => [w, await knownEndings(c, catalogue, known, w)] as const)
  const found = await orLeave(Promise.all(asking), signal)
  const endings = new Map(found)
  const suited = suit(query, { ...known, endings: word => endings.get(word) })
  if (known.assumed) suited.changes.unshift(known.assumed)
  return { ...suited, known, ...(suited.query ? { asked: inItsNames(suited.query, known.names) } : {}) }
}

/** The endings of a masked word, asked for once; they are kept for whoever asks next, so nobody's leaving breaks it off. */
function knownEndings(c: Asking, catalogue: SruSetting, known: Known, masked: string): Promise<readonly string[]> {
  const have = known.endings.get(masked)
  if (have) return have
  const asked = endingsOf(c, catalogue, masked).catch((e: unknown) => {
    known.endings.delete(masked)
    throw e
  })
  known.endings.set(masked, asked)
  return asked
}

/** Words that a masked one stands for: of the catalogue's own dictionary, else of those of the others. */
async function endingsOf(c: Asking, catalogue: SruSetting, masked: string): Promise<readonly string[]> {
  const from = fold(/^[^*?]*/.exec(masked)![0])
  const slot = termRuns(masked)[0]?.[0]
  if (from.length < 3 || !slot) return []
  const scanned = async (x: SruSetting) => {
    try {
      return (await explainOf(c, x)).abilities.scan ? await scanWords(c, x, from) : []
    } catch (e) {
      if (e instanceof OutsideError) return []
      throw e
    }
  }
  const own = await scanned(catalogue)
  const others = c.settings.outside.catalogues.filter(isSru).filter(x => x.id !== catalogue.id)
  const words = own.length ? own : (await Promise.all(others.map(scanned))).flat()
  const counts = new Map<string, number>()
  for (const { text, count } of words)
    if (fits(slot, fold(text))) counts.set(fold(text), (counts.get(fold(text)) ?? 0) + count)
  return [...counts].sort((a, b) => b[1] - a[1]).map(([word]) => word)
}

/** A page of an answer, and how it was asked for. */
export interface Searched extends SruPage {
  asked: Query
  changes: string[]
  /** What the records have still to be looked at by here. */
  sift?: QueryNode
}

/** Times that a refused query is asked again in another form. */
const FORMS = 12

/**
 * One page of a search. What the catalogue refuses is asked again in the nearest form that it may understand, and what
 * it refused is remembered.
 * @throws OutsideError with the catalogue's own diagnostic where no form helps
 */
export async function askSru(
  c: Asking,
  catalogue: SruSetting,
  query: Query,
  start: number,
  most: number,
  signal?: AbortSignal,
): Promise<Searched> {
  let atOnce = Math.min(most, (await explainOf(c, catalogue, signal)).abilities.atOnce ?? most)
  for (let forms = 1; ; forms++) {
    const { query: suited, asked, sift, changes, known } = await suitTo(c, catalogue, query, signal)
    if (!suited || !asked) throw new OutsideError(changes.join(' '), false)
    const schema = schemaOf(catalogue, known)
    try {
      const page = await askOnce(c, catalogue, known.version, schema, asked, start, atOnce, signal)
      return { ...page, asked, changes, ...(sift ? { sift } : {}) }
    } catch (e) {
      if (!(e instanceof Refused) || forms >= FORMS) throw e
      const tooMany = e.diagnostics.some(d => d.number === 6 && /maximumRecords/i.test(d.said)) && atOnce > 1
      if (tooMany) atOnce = Math.ceil(atOnce / 4)
      else if (!learnFrom(e.diagnostics, known, schema, suited)) throw e
    }
  }
}

/** Remembers what a catalogue refused; false where another form would be refused as well. */
function learnFrom(diagnostics: SruDiagnostic[], known: Known, schema: string | undefined, query: Query): boolean {
  for (const d of diagnostics) {
    if (d.number === 5) {
      const next = /\b(1\.1|1\.2|2\.0)\b/.exec(d.said)?.[1] ?? (known.version === '1.2' ? '1.1' : '2.0')
      if (next === known.version) return false
      known.version = next
      return true
    }
    if ((d.number === 66 || d.number === 67) && schema) {
      known.noSchema.add(schema)
      return true
    }
    const learned = learn(known.refused, d, query, known.names)
    if (learned) {
      known.refused = learned
      return true
    }
  }
  return false
}

/** How the catalogue calls the schema that is wanted; undefined where it is to send what it likes. */
function schemaOf({ schema, as }: SruSetting, { schemas, noSchema }: Known): string | undefined {
  if (as !== undefined && !noSchema.has(as)) return as
  const fit = offersOf(schema, schemas)
  const tries = [...fit.map(s => s.name), schema, ...fit.map(s => s.identifier)]
  return tries.find(name => name && !noSchema.has(name))
}

async function askOnce(
  c: Asking,
  catalogue: SruSetting,
  version: string,
  schema: string | undefined,
  query: Query,
  start: number,
  most: number,
  signal?: AbortSignal,
): Promise<SruPage> {
  const given = {
    version,
    ...(version === '2.0' ? { queryType: 'cql' } : { operation: 'searchRetrieve' }),
    query: printCql(query),
    startRecord: String(start),
    maximumRecords: String(most),
    ...(schema ? { recordSchema: schema } : {}),
  }
  const xml = await ask(c, catalogue, given, signal, 10_000)
  const { records, unread, diagnostics, next, count } = readXmlAnswer(catalogue, x => readSruAnswer(x, start), xml)
  const got = records.length + unread.length
  // what went wrong is looked at first: a count of none beside it means nothing
  if (diagnostics.length && !got && !(count && most === COUNTED)) throw new Refused(catalogue, diagnostics)
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
