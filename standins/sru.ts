import { Router, type Response } from 'express'
import { escapeXml } from '../core/formats/xml'
import { clauses, mapClauses, printCql, type Query, type QueryNode } from '../core/query/cql'
import { evaluate, NotUnderstood } from '../core/query/evaluate'
import { readDocuments, termNumbers } from '../core/query/positional-index'
import { parseCql } from '../core/query/parse-cql'
import { isMasked } from '../core/query/tokens'
import { yearOf, type Catalogue } from './catalogues'
import { entered, genreFor, type Entry } from './records'
import type { ServedWorld } from './world'

const schemaUri = {
  mods: 'http://www.loc.gov/mods/v3',
  dc: 'info:srw/schema/1/dc-v1.1',
  marcxml: 'info:srw/schema/1/marcxml-v1.1',
}
const schemaTitle = { mods: 'MODS 3.8', dc: 'Dublin Core, simple', marcxml: 'MARC 21 in XML' }
const ns1 = 'http://www.loc.gov/zing/srw/'
const ns2 = 'http://docs.oasis-open.org/ns/search-ws/sruResponse'

/** A diagnostic of the standard's list (info:srw/diagnostic/1/n). */
class Diagnostic extends Error {
  constructor(
    readonly code: number,
    said: string,
    readonly details: string,
  ) {
    super(said)
  }
}

const KNOWN1 = new Set(
  'version operation query startRecord maximumRecords recordPacking recordSchema resultSetTTL stylesheet extraRequestData sortKeys scanClause responsePosition maximumTerms'.split(
    ' ',
  ),
)
const KNOWN2 = new Set(
  'version operation query queryType startRecord maximumRecords recordXMLEscaping recordPacking recordSchema resultSetTTL renderedBy httpAccept stylesheet sortKeys facetLimit facetStart facetSort facetCount'.split(
    ' ',
  ),
)

/**
 * An SRU server over one catalogue, version 1.1, 1.2 and 2.0: searchRetrieve, explain and scan, the standard's
 * diagnostics, and facets in 2.0. Only what is listed by the day on which the world stands is there.
 */
export function sruServer(c: Catalogue, world: ServedWorld): Router {
  const router = Router()
  router.get('/sru', (req, res) => {
    const p = Object.fromEntries(
      Object.entries(req.query).map(([k, v]) => [k, Array.isArray(v) ? String(v[0]) : String(v as string)]),
    )
    // 2.0 names no operation: a query is a search, a scanClause a scan, neither is explain
    const two =
      p.version === '2.0' || (!p.version && !p.operation && (p.query !== undefined || p.queryType !== undefined))
    const operation =
      p.operation ??
      (two || p.query !== undefined
        ? p.query !== undefined
          ? 'searchRetrieve'
          : 'explain'
        : p.scanClause !== undefined
          ? 'scan'
          : 'explain')
    try {
      if (p.version && !['1.1', '1.2', '2.0'].includes(p.version)) throw new Diagnostic(5, 'Unsupported version', '1.2')
      const unknown = Object.keys(p).find(k => !(two ? KNOWN2 : KNOWN1).has(k) && !k.startsWith('x-'))
      if (unknown) throw new Diagnostic(8, 'Unsupported parameter', unknown)
      if (operation === 'explain') return send(res, explain(c))
      if (operation === 'scan') return send(res, scan(c, world, p))
      if (operation !== 'searchRetrieve') throw new Diagnostic(4, 'Unsupported operation', operation)
      send(res, search(c, world, p, two))
    } catch (e) {
      if (!(e instanceof Diagnostic)) throw e
      send(res, failed(operation, p, e, two))
    }
  })
  return router
}

const send = (res: Response, body: string): void => {
  res.type('application/xml').send(`<?xml version="1.0" encoding="UTF-8"?>\n${body}`)
}

/** Where there are numbers, they have to be whole and positive. */
function whole(p: Record<string, string>, name: string, otherwise: number, least = 1): number {
  if (p[name] === undefined) return otherwise
  if (!/^\d+$/.test(p[name]) || Number(p[name]) < least) throw new Diagnostic(6, 'Unsupported parameter value', name)
  return Number(p[name])
}

function read(c: Catalogue, text: string | undefined): Query {
  if (!text) throw new Diagnostic(7, 'Mandatory parameter not supplied', 'query')
  const parsed = parseCql(text)
  if (!parsed.ok) throw new Diagnostic(10, 'Query syntax error', parsed.error.message)
  for (const { clause } of clauses(parsed.query.root)) {
    if (!c.truncation && isMasked(clause.term) && clause.term.trim() !== '*')
      throw new Diagnostic(28, 'Masking character not supported', '*')
    if (/^[*?\s]+$/.test(clause.term) && clause.term.trim() !== '*')
      throw new Diagnostic(27, 'Empty term unsupported', clause.term)
  }
  if (!c.proximity && nodes(parsed.query.root).some(n => n.kind === 'boolean' && n.op === 'prox'))
    throw new Diagnostic(39, 'Proximity not supported', '')
  // its indexes are of its own set, whether or not that is named
  const root = mapClauses(parsed.query.root, q => (q.index ? { ...q, index: q.index.replace(/^vine\./i, '') } : q))!
  return { ...parsed.query, root }
}

const nodes = (n: QueryNode): QueryNode[] => (n.kind === 'clause' ? [n] : [n, ...nodes(n.left), ...nodes(n.right)])

/** What is not understood, by the standard's numbers and words. */
const REFUSED: Record<NotUnderstood['what'], [number, string]> = {
  index: [16, 'Unsupported index'],
  relation: [19, 'Unsupported relation'],
  'relation modifier': [20, 'Unsupported relation modifier'],
  'boolean modifier': [46, 'Unsupported boolean modifier'],
  'unit of nearness': [42, 'Unsupported proximity unit'],
  distance: [41, 'Unsupported proximity distance'],
}

/** Numbers of the entries that match and are listed by now. */
export function matches(c: Catalogue, world: ServedWorld, query: Query): number[] {
  try {
    return [...evaluate(query, c.on, c.kept)].filter(n => c.entries[n]!.from <= world.day)
  } catch (e) {
    if (e instanceof NotUnderstood) throw new Diagnostic(...REFUSED[e.what], e.named)
    throw e
  }
}

function ordered(c: Catalogue, found: number[], query: Query): number[] {
  const keys: NonNullable<Query['sort']> = query.sort?.length
    ? query.sort
    : [{ index: 'year', modifiers: [{ name: 'sort.descending' }] }]
  const columns = keys.map(k => {
    const name = k.index.toLowerCase()
    if (query.sort?.length && !c.sort.includes(name))
      throw new Diagnostic(
        c.sort.length ? 82 : 80,
        c.sort.length ? 'Unsupported sort sequence' : 'Sort not supported',
        k.index,
      )
    const down = k.modifiers.some(m => /descending$/i.test(m.name)) ? -1 : 1
    const value = (n: number): string | number => {
      const e = c.entries[n]!
      if (name === 'year') return e.how.year ?? yearOf(e)
      if (e.journal) return e.journal.title
      const i = entered(e)
      return name === 'title' ? i.title! : (i.author?.[0]?.family ?? i.author?.[0]?.literal ?? '')
    }
    const of = new Map(found.map(n => [n, value(n)]))
    return (a: number, b: number) => {
      const x = of.get(a)!
      const y = of.get(b)!
      return down * (typeof x === 'number' ? x - (y as number) : x < y ? -1 : x > y ? 1 : 0)
    }
  })
  return found.sort((a, b) => columns.reduce((d, cmp) => d || cmp(a, b), 0) || b - a)
}

function search(c: Catalogue, world: ServedWorld, p: Record<string, string>, two: boolean): string {
  const start = whole(p, 'startRecord', 1)
  const most = Math.min(whole(p, 'maximumRecords', 10, 0), 100)
  const packing = (two ? p.recordXMLEscaping : p.recordPacking) ?? 'xml'
  if (!['xml', 'string'].includes(packing))
    throw new Diagnostic(71, two ? 'Unsupported record XML escaping' : 'Unsupported record packing', packing)
  const form = Object.entries(c.also ?? {}).find(([name, f]) =>
    [name, f.identifier].includes(p.recordSchema ?? ''),
  )?.[1]
  if (p.recordSchema && !form && ![c.schema, schemaUri[c.schema]].includes(p.recordSchema))
    throw new Diagnostic(66, 'Unknown schema for retrieval', p.recordSchema)
  if (two && p.queryType && p.queryType !== 'cql') throw new Diagnostic(6, 'Unsupported parameter value', 'queryType')
  if (p.sortKeys) throw new Diagnostic(80, 'Sort not supported', 'sortKeys; use sortBy in the query')
  const query = read(c, p.query)
  const found = matches(c, world, query)
  if (found.length && start > Math.min(found.length, c.window))
    throw new Diagnostic(61, 'First record position out of range', String(start))
  const order = ordered(c, found, query)
  const page = order.slice(start - 1, Math.min(start - 1 + most, c.window))
  const next = start + page.length
  const records = page
    .map((n, i) => {
      const e = c.entries[n]!
      const data = form ? form.render(e, world.day) : c.render(e)
      return `<record><recordSchema>${form ? form.identifier : schemaUri[c.schema]}</recordSchema>${two ? `<recordXMLEscaping>${packing}</recordXMLEscaping>` : `<recordPacking>${packing}</recordPacking>`}<recordData>${packing === 'xml' ? data : escapeXml(data)}</recordData>${two || p.version !== '1.1' ? `<recordIdentifier>${e.id}</recordIdentifier>` : ''}<recordPosition>${start + i}</recordPosition></record>`
    })
    .join('')
  return (
    `${begin(two, 'searchRetrieveResponse', p.version)}<numberOfRecords>${found.length}</numberOfRecords>` +
    `${records ? `<records>${records}</records>` : ''}${page.length && next <= found.length && next <= c.window ? `<nextRecordPosition>${next}</nextRecordPosition>` : ''}` +
    echo(two, 'echoedSearchRetrieveRequest', { ...p, query: printCql(query) }) +
    (two
      ? `<resultCountPrecision>info:srw/vocabulary/resultCountPrecision/1/exact</resultCountPrecision>${p.facetLimit ? facets(c, found, p.facetLimit) : ''}`
      : '') +
    end(two, 'searchRetrieveResponse')
  )
}

const begin = (two: boolean, name: string, version: string | undefined): string =>
  two
    ? `<sruResponse:${name} xmlns:sruResponse="${ns2}" xmlns="${ns2}">`
    : `<${name} xmlns="${ns1}"><version>${version ?? '1.2'}</version>`
const end = (two: boolean, name: string): string => (two ? `</sruResponse:${name}>` : `</${name}>`)

/** The request as it was understood, its parameters in the standard's order. */
function echo(two: boolean, name: string, p: Record<string, string>): string {
  const order = two
    ? 'version query queryType startRecord maximumRecords recordXMLEscaping recordPacking recordSchema'
    : name === 'echoedScanRequest'
      ? 'version scanClause responsePosition maximumTerms'
      : 'version query startRecord maximumRecords recordPacking recordSchema'
  const given: Record<string, string> = { version: two ? '2.0' : '1.2', ...p }
  return `<${name}>${order
    .split(' ')
    .map(k => (given[k] === undefined ? '' : `<${k}>${escapeXml(given[k])}</${k}>`))
    .join('')}</${name}>`
}

function failed(operation: string, p: Record<string, string>, d: Diagnostic, two: boolean): string {
  const body = `<diagnostics><diagnostic xmlns="${two ? 'http://docs.oasis-open.org/ns/search-ws/diagnostic' : 'http://www.loc.gov/zing/srw/diagnostic/'}"><uri>info:srw/diagnostic/1/${d.code}</uri>${d.details ? `<details>${escapeXml(d.details)}</details>` : ''}<message>${escapeXml(d.message)}</message></diagnostic></diagnostics>`
  const version = p.version && ['1.1', '1.2'].includes(p.version) ? p.version : undefined
  if (operation === 'scan') return `${begin(two, 'scanResponse', version)}${body}${end(two, 'scanResponse')}`
  if (operation === 'explain') return `${begin(two, 'explainResponse', version)}${body}${end(two, 'explainResponse')}`
  return `${begin(two, 'searchRetrieveResponse', version)}<numberOfRecords>0</numberOfRecords>${body}${end(two, 'searchRetrieveResponse')}`
}

/** Facets as in SRU 2.0: `facetLimit=10:subject,5:year`; each term with a query that narrows to it. */
function facets(c: Catalogue, found: number[], limit: string): string {
  const asked = limit.split(',').map(part => {
    const [n, index] = part.includes(':') ? part.split(':') : [part, '']
    return { n: Number(n) || 10, index: index!.trim() }
  })
  const wanted = asked.some(a => !a.index) ? c.facets.map(index => ({ n: asked[0]!.n, index })) : asked
  const lists = wanted.map(({ n, index }) => {
    if (!c.facets.includes(index)) throw new Diagnostic(16, 'Unsupported index', index)
    const counts = new Map<string, number>()
    for (const d of found) for (const v of facetValues(c.entries[d]!, index)) counts.set(v, (counts.get(v) ?? 0) + 1)
    const terms = [...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1)).slice(0, n)
    return (
      `<facet:facet><facet:facetDisplayLabel>${index}</facet:facetDisplayLabel><facet:index>${index}</facet:index><facet:relation>==</facet:relation><facet:terms>` +
      terms
        .map(
          ([v, k]) =>
            `<facet:term><facet:actualTerm>${escapeXml(v)}</facet:actualTerm><facet:query>${escapeXml(`${index} == "${v.replace(/"/g, '\\"')}"`)}</facet:query><facet:count>${k}</facet:count></facet:term>`,
        )
        .join('') +
      `</facet:terms></facet:facet>`
    )
  })
  return (
    `<facet:facetedResults xmlns:facet="http://docs.oasis-open.org/ns/search-ws/facetedResults"><facet:datasource><facet:datasourceDisplayLabel>${escapeXml(c.title)}</facet:datasourceDisplayLabel>` +
    `<facet:facets>${lists.join('')}</facet:facets></facet:datasource></facet:facetedResults>`
  )
}

function facetValues(e: Entry, index: string): string[] {
  if (index === 'year') return [String(e.how.year ?? yearOf(e))]
  if (e.journal) return index === 'type' ? ['journal'] : []
  const i = entered(e)
  switch (index) {
    case 'type':
      return [genreFor(e.work)]
    case 'language':
      return [i.language ?? 'en']
    case 'journal':
      return i['container-title'] ? [i['container-title']] : []
    case 'subject':
      return e.work.subjects
    case 'author':
      return (i.author ?? []).map(n => [n.family ?? n.literal, n.given].filter(Boolean).join(', '))
    default:
      return []
  }
}

/** scan: the terms of an index around a term, with the number of records of each (SRU 1.2). */
function scan(c: Catalogue, world: ServedWorld, p: Record<string, string>): string {
  if (!c.scan) throw new Diagnostic(4, 'Unsupported operation', 'scan')
  if (!p.scanClause) throw new Diagnostic(7, 'Mandatory parameter not supplied', 'scanClause')
  const parsed = parseCql(p.scanClause)
  if (!parsed.ok || parsed.query.root.kind !== 'clause')
    throw new Diagnostic(10, 'Query syntax error', parsed.ok ? 'one clause is wanted' : parsed.error.message)
  const { index: named = c.anywhere[0]!, term } = parsed.query.root
  const index = named.replace(/^vine\./i, '')
  const field = c.on.index.fields[index.toLowerCase()]
  if (!c.indexes.includes(index.toLowerCase()) || !field) throw new Diagnostic(16, 'Unsupported index', index)
  const most = Math.min(whole(p, 'maximumTerms', 20), 200)
  const position = whole(p, 'responsePosition', 1, 0)
  const words = field.terms.filter(t => t >= '\u0020')
  const wanted = term.toLowerCase()
  let at = words.findIndex(t => t >= wanted)
  if (at < 0) at = words.length
  const from = Math.max(0, at - position + 1)
  const terms = words.slice(from, from + most)
  return (
    `${begin(false, 'scanResponse', p.version)}<terms>` +
    terms
      .map((t, i) => {
        const n = [...readDocuments(field, termNumbers(field, t)[0]!)].filter(
          d => c.entries[d]!.from <= world.day,
        ).length
        const where = words[0] === t ? 'first' : words.at(-1) === t ? 'last' : 'inner'
        return `<term><value>${escapeXml(t)}</value><numberOfRecords>${n}</numberOfRecords>${i === 0 || where !== 'inner' ? `<whereInList>${where}</whereInList>` : ''}</term>`
      })
      .join('') +
    `</terms>${echo(false, 'echoedScanRequest', p)}</scanResponse>`
  )
}

/** A ZeeRex 2.0 description that tells what the server can really do. */
function explain(c: Catalogue): string {
  const indexes = c.indexes
    .map(
      i =>
        `<index search="true" scan="${c.scan}" sort="${c.sort.includes(i)}"><title>${i}</title><map><name set="vine">${i}</name></map></index>`,
    )
    .join('')
  const supports = (type: string, value = '') => `<supports type="${type}">${value}</supports>`
  return (
    `<explainResponse xmlns="${ns1}"><version>1.2</version><record><recordSchema>http://explain.z3950.org/dtd/2.0/</recordSchema><recordPacking>xml</recordPacking><recordData>` +
    `<explain xmlns="http://explain.z3950.org/dtd/2.0/"><serverInfo protocol="SRU" version="2.0"><host>${c.host}</host><port>80</port><database>sru</database></serverInfo>` +
    `<databaseInfo><title>${escapeXml(c.title)}</title><description>${escapeXml(c.description)}</description><extent>${c.entries.length} records</extent></databaseInfo>` +
    `<indexInfo><set name="vine" identifier="info:vine-path/context/1"/>${indexes}</indexInfo>` +
    `<schemaInfo><schema name="${c.schema}" identifier="${schemaUri[c.schema]}" retrieve="true" sort="false"><title>${schemaTitle[c.schema]}</title></schema>${Object.entries(
      c.also ?? {},
    )
      .map(([name, f]) => `<schema name="${name}" identifier="${f.identifier}"><title>${f.title}</title></schema>`)
      .join('')}</schemaInfo>` +
    `<configInfo><default type="numberOfRecords">10</default><setting type="maximumRecords">100</setting><setting type="maximumRecordPosition">${c.window}</setting>` +
    'and or not'
      .split(' ')
      .map(b => supports('booleanOperator', b))
      .join('') +
    (c.proximity ? supports('booleanOperator', 'prox') + supports('proximity') : '') +
    '= == any all adj'
      .split(' ')
      .map(r => supports('relation', r))
      .join('') +
    (c.truncation
      ? supports('maskingCharacter', '*') + supports('maskingCharacter', '?')
      : supports('maskingCharacter')) +
    (c.scan ? supports('scan') : '') +
    (c.sort.length ? supports('sort') : '') +
    (c.facets.length ? supports('facets', c.facets.join(' ')) : '') +
    `</configInfo></explain></recordData></record></explainResponse>`
  )
}
