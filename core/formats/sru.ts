import type { Abilities } from '../query/abilities'
import { all, first, readXml, textOf, type Xml } from './xml'

export interface SruRecord {
  /** The record's own XML, exactly as it came. */
  raw: string
  position: number
  /** Identifier in that catalogue, where it gives one. */
  identifier?: string
}

export interface SruAnswer {
  count: number
  records: SruRecord[]
  next?: number
  /** Messages of the server's diagnostics. */
  diagnostics: string[]
}

/** Reads the answer of a searchRetrieve request (SRU 1.2 or 2.0). @throws Error where it is not one */
export function readSruAnswer(xml: string): SruAnswer {
  const root = first(readXml(xml), 'searchRetrieveResponse') as Xml | undefined
  if (!root) throw new Error('The answer is not that of an SRU search.')
  const payloads = [...xml.matchAll(/<((?:\w+:)?recordData)\b[^>]*>([\s\S]*?)<\/\1>/g)].map(m => m[2]!.trim())
  const listed = all(first(root, 'records'), 'record')
  const records = listed.map((r, i): SruRecord => {
    const packed = textOf(first(r, 'recordPacking')) === 'string' || textOf(first(r, 'recordXMLEscaping')) === 'string'
    const raw = payloads[i] ?? ''
    const identifier = textOf(first(r, 'recordIdentifier'))
    return {
      raw: packed ? unescapeXml(raw) : raw,
      position: Number(textOf(first(r, 'recordPosition')) ?? i + 1),
      ...(identifier ? { identifier } : {}),
    }
  })
  const next = textOf(first(root, 'nextRecordPosition'))
  const diagnostics = all(first(root, 'diagnostics'), 'diagnostic').map(d =>
    [textOf(first(d, 'message')), textOf(first(d, 'details'))].filter(Boolean).join(': '),
  )
  const count = Number(textOf(first(root, 'numberOfRecords')))
  if (!Number.isInteger(count)) throw new Error('The answer does not say how many records it found.')
  return { count, records, diagnostics, ...(next ? { next: Number(next) } : {}) }
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

export const unescapeXml = (s: string): string =>
  s
    .replace(/&lt;/g, '<')
    .replace(/&gt;/g, '>')
    .replace(/&quot;/g, '"')
    .replace(/&apos;/g, "'")
    .replace(/&amp;/g, '&')

export interface Explained {
  title: string
  description?: string
  /** How much it holds, in its own words. */
  extent?: string
  schemas: string[]
  abilities: Abilities
}

/** Names of other context sets for our indexes. */
const ours: Record<string, string> = {
  creator: 'author',
  contributor: 'author',
  date: 'year',
  description: 'abstract',
  publisher: 'publisher',
  source: 'journal',
}

/** Reads an explain answer (ZeeRex 2.0). @throws Error where it is not one */
export function readExplain(xml: string): Explained {
  const root = readXml(xml)
  const explain = (first(root, 'explainResponse', 'record', 'recordData', 'explain') ?? first(root, 'explain')) as
    Xml | undefined
  if (!explain) throw new Error('The answer is not an explain record.')
  const indexes = all(first(explain, 'indexInfo'), 'index')
    .flatMap(i => all(i, 'map').map(m => textOf(first(m, 'name'))))
    .filter((n): n is string => Boolean(n))
    .map(n => ours[n.toLowerCase()] ?? n.toLowerCase())
  const config = first(explain, 'configInfo')
  const supports = all(config, 'supports').map(s => `${String(s['@type'])}:${textOf(s) ?? ''}`.toLowerCase())
  const settings = all(config, 'setting')
  const window = settings.find(s => s['@type'] === 'maximumRecordPosition')
  const facets = supports
    .filter(s => s.startsWith('facets:'))
    .flatMap(s => s.slice('facets:'.length).split(/\s+/))
    .filter(Boolean)
  const abilities: Abilities = {
    indexes: [...new Set(indexes)],
    truncation: supports.some(s => s.startsWith('maskingcharacter:*')),
    proximity: supports.some(s => s.startsWith('booleanoperator:prox') || s === 'proximity:'),
    ...(supports.some(s => s.startsWith('scan:')) ? { scan: true } : {}),
    ...(facets.length ? { facets } : {}),
    ...(window ? { window: Number(textOf(window)) } : {}),
  }
  const description = textOf(first(explain, 'databaseInfo', 'description'))
  const extent = textOf(first(explain, 'databaseInfo', 'extent'))
  return {
    title: textOf(first(explain, 'databaseInfo', 'title')) ?? 'unnamed catalogue',
    ...(description ? { description } : {}),
    ...(extent ? { extent } : {}),
    schemas: all(first(explain, 'schemaInfo'), 'schema').map(s => String(s['@name'])),
    abilities,
  }
}
