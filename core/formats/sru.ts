import type { Abilities } from '../query/abilities'
import { ourIndex, setOf } from '../query/cql'
import { all, first, readXml, textOf, type Xml } from './xml'

export interface SruRecord {
  /** The record's own XML, as it came; out of its packing where it was packed as a string. */
  raw: string
  position: number
  /** Identifier in that catalogue, where it gives one. */
  identifier?: string
}

/** What a server says went wrong. */
export interface SruDiagnostic {
  /** Its number in the standard's list, where it is one of these. */
  number?: number
  said: string
}

export interface SruAnswer {
  /** How many it found; undefined where it does not say. */
  count?: number
  records: SruRecord[]
  /** Records that it did not give, or gave in no form that can be read, in their places, each with why. */
  unread: { position: number; why: string; raw: string }[]
  next?: number
  diagnostics: SruDiagnostic[]
}

/** What the commonest numbers of the standard's list mean, for servers that send nothing but an address. */
const MEANINGS: Record<number, string> = {
  1: 'General system error', 2: 'System temporarily unavailable', 4: 'Unsupported operation', 5: 'Unsupported version',
  6: 'Unsupported parameter value', 7: 'Mandatory parameter not supplied', 8: 'Unsupported parameter', 10: 'Query syntax error',
  12: 'Too many characters in query', 15: 'Unsupported context set', 16: 'Unsupported index', 19: 'Unsupported relation',
  20: 'Unsupported relation modifier', 22: 'Unsupported combination of relation and index', 23: 'Too many characters in term',
  27: 'Empty term unsupported', 28: 'Masking character not supported', 35: 'Term contains only stopwords', 37: 'Unsupported boolean operator',
  38: 'Too many boolean operators in query', 39: 'Proximity not supported', 48: 'Query feature unsupported', 60: 'Result set not created: too many matching records',
  61: 'First record position out of range', 64: 'Record temporarily unavailable', 65: 'Record does not exist', 66: 'Unknown schema for retrieval',
  67: 'Record not available in this schema', 68: 'Not authorised to send record', 70: 'Record too large to send', 71: 'Unsupported record packing',
  80: 'Sort not supported', 235: 'Database does not exist',
} // prettier-ignore

function diagnosticOf(d: Xml): SruDiagnostic {
  const uri = textOf(first(d, 'uri'))
  const number = Number(/diagnostic\/1\/(\d+)$/.exec(uri ?? '')?.[1] ?? NaN)
  const message = textOf(first(d, 'message')) ?? MEANINGS[number]
  const details = textOf(first(d, 'details'))
  const said = [message ?? (details ? undefined : uri), details].filter(Boolean).join(': ')
  return { ...(Number.isNaN(number) ? {} : { number }), said: said || 'an error without a word' }
}

/**
 * Reads the answer of a searchRetrieve request (SRU 1.1, 1.2 or 2.0), in whatever prefixes and packing. A record that is
 * missing or broken keeps its place and shifts no other.
 * @param start the position that was asked for, for servers that do not number what they send
 * @throws Error where it is no answer of SRU at all
 */
export function readSruAnswer(xml: string, start = 1): SruAnswer {
  const tree = readXml(xml, 'recordData')
  const root = first(tree, 'searchRetrieveResponse') ?? first(tree, 'explainResponse') ?? first(tree, 'scanResponse')
  // some send what went wrong and nothing around it
  const told = all(first(root ?? tree, 'diagnostics'), 'diagnostic').concat(all(root ?? tree, 'diagnostic'))
  if (!root && !told.length) throw new Error('The answer is not that of an SRU search.')
  const diagnostics = told.map(diagnosticOf)
  const records: SruRecord[] = []
  const unread: SruAnswer['unread'] = []
  let last = start - 1
  for (const r of all(first(root, 'records'), 'record')) {
    const given = Number(textOf(first(r, 'recordPosition')))
    // some number each page from one, or not at all
    const position = Number.isInteger(given) && given > last ? given : last + 1
    last = position
    const data = first(r, 'recordData') as Xml | undefined
    const said = textOf(data)
    const raw = said?.startsWith('<') ? said : ((data?.['#raw'] as string | undefined) ?? '')
    const identifier = textOf(first(r, 'recordIdentifier'))
    const why = whyUnread(raw, textOf(first(r, 'recordSchema')))
    if (why) unread.push({ position, why, raw })
    else records.push({ raw, position, ...(identifier ? { identifier } : {}) })
  }
  const number = (name: string): number | undefined => {
    const digits = textOf(first(root, name))?.replace(/[\s.,']/g, '')
    return digits && /^\d+$/.test(digits) ? Number(digits) : undefined
  }
  const [count, next] = [number('numberOfRecords'), number('nextRecordPosition')]
  if (count === undefined && !records.length && !unread.length && !diagnostics.length)
    throw new Error('The answer does not say how many records it found.')
  return { records, unread, diagnostics, ...(count === undefined ? {} : { count }), ...(next ? { next } : {}) }
}

/** Why what stands in the place of a record is none; undefined where it is one. */
function whyUnread(raw: string, schema = ''): string | undefined {
  if (!raw) return 'It is empty.'
  if (!raw.startsWith('<')) return 'It is no XML.'
  if (!/diagnostics/i.test(schema) && !/^<([\w.-]+:)?diagnostic[\s>]/.test(raw)) return undefined
  try {
    const d = first(readXml(raw), 'diagnostic') as Xml | undefined
    return d ? `The catalogue says: ${diagnosticOf(d).said}.` : undefined
  } catch {
    return 'The catalogue gave an error in its place.'
  }
}

/**
 * Reads the answer of a scan request (SRU 1.2): terms of a dictionary with the number of records of each. @throws
 * Error where it is not one
 */
export function readScan(xml: string): { text: string; count: number }[] {
  const root = first(readXml(xml), 'scanResponse') as Xml | undefined
  if (!root) throw new Error('The answer is not that of a scan.')
  return all(first(root, 'terms'), 'term').flatMap(t => {
    const text = textOf(first(t, 'value'))
    return text ? [{ text, count: Number(textOf(first(t, 'numberOfRecords')) ?? 0) }] : []
  })
}

/** Facets of an answer (SRU 2.0, faceted results) by index: the values with the number of records of each. */
export function readFacets(xml: string): Record<string, { value: string; count: number }[]> {
  const lists = all(first(readXml(xml), 'searchRetrieveResponse', 'facetedResults', 'datasource', 'facets'), 'facet')
  return Object.fromEntries(
    lists.map(f => [
      textOf(first(f, 'index')) ?? '',
      all(first(f, 'terms'), 'term').flatMap(t => {
        const value = textOf(first(t, 'actualTerm'))
        return value ? [{ value, count: Number(textOf(first(t, 'count')) ?? 0) }] : []
      }),
    ]),
  )
}

export interface Explained {
  title: string
  description?: string
  /** How much it holds, in its own words. */
  extent?: string
  /** Short names of its schemas with their identifiers. */
  schemas: { name: string; identifier: string }[]
  abilities: Abilities
  /** What it calls our indexes, with the set each is of: `dc.date` for year. */
  names: Record<string, string>
}

/** Reads an explain answer (ZeeRex 2.0). @throws Error where it is not one */
export function readExplain(xml: string): Explained {
  const root = readXml(xml)
  const explain = (first(root, 'explainResponse', 'record', 'recordData', 'explain') ?? first(root, 'explain')) as
    Xml | undefined
  if (!explain) throw new Error('The answer is not an explain record.')
  const names: Record<string, string> = {}
  const indexes = all(first(explain, 'indexInfo'), 'index')
  // some are there to sort by or to look through only
  for (const { set, name } of indexes
    .filter(i => i['@search'] !== 'false')
    .flatMap(i => all(i, 'map').flatMap(m => all(m, 'name')))
    .map(n => ({ set: (n['@set'] as string | undefined) ?? '', name: textOf(n) ?? '' }))) {
    // some write the set into the name
    const [own = '', prefix = set] = name.split('.').reverse()
    if (!own) continue
    const our = ourIndex(setOf(prefix) ?? prefix, own) ?? own.toLowerCase()
    // of several that mean the same to us, the one who made it and the day it came out
    if (our && (!(our in names) || /creator$|date$/i.test(own))) names[our] = prefix ? `${prefix}.${own}` : own
  }
  const config = first(explain, 'configInfo')
  const supports = all(config, 'supports').map(s => `${String(s['@type'])}:${textOf(s) ?? ''}`.toLowerCase())
  const settings = all(config, 'setting')
  const set = (type: string): number | undefined => {
    const n = Number(textOf(settings.find(s => s['@type'] === type)) ?? NaN)
    return Number.isInteger(n) && n > 0 ? n : undefined
  }
  const window = set('maximumRecordPosition')
  const atOnce = set('maximumRecords')
  const masks = supports.filter(s => s.startsWith('maskingcharacter:'))
  const facets = supports
    .filter(s => s.startsWith('facets:'))
    .flatMap(s => s.slice('facets:'.length).split(/\s+/))
    .filter(Boolean)
  const abilities: Abilities = {
    indexes: Object.keys(names),
    // what it does not speak of is asked for, until it is refused
    truncation: !masks.length || masks.some(m => m.includes('*')),
    proximity: supports.some(s => s.startsWith('booleanoperator:prox') || s.startsWith('proximity')),
    ...(supports.some(s => s.startsWith('scan:')) || indexes.some(i => i['@scan'] === 'true') ? { scan: true } : {}),
    ...(facets.length ? { facets } : {}),
    ...(atOnce ? { atOnce } : {}),
    ...(window ? { window } : {}),
  }
  const description = textOf(first(explain, 'databaseInfo', 'description'))
  const extent = textOf(first(explain, 'databaseInfo', 'extent'))
  return {
    title: textOf(first(explain, 'databaseInfo', 'title')) ?? 'unnamed catalogue',
    ...(description ? { description } : {}),
    ...(extent ? { extent } : {}),
    schemas: all(first(explain, 'schemaInfo'), 'schema').map(s => ({
      name: String(s['@name'] ?? ''),
      identifier: String(s['@identifier'] ?? ''),
    })),
    abilities,
    names,
  }
}
