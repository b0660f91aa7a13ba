import { XMLParser } from 'fast-xml-parser'

/**
 * The order and number of elements that a protocol's schema asks for. A rule is `name`, `name?`, `name*` or `name+`,
 * in order; an element without rules may hold anything.
 */
export type Rules = Record<string, string[]>

/** searchRetrieveResponse, scanResponse and explainResponse as in the schema of SRU 1.2 (zing.srw). */
export const SRU_1: Rules = {
  searchRetrieveResponse: ['version', 'numberOfRecords', 'resultSetId?', 'resultSetIdleTime?', 'records?', 'nextRecordPosition?', 'echoedSearchRetrieveRequest?', 'diagnostics?', 'extraResponseData?'],
  records: ['record+'],
  'records/record': ['recordSchema', 'recordPacking', 'recordData', 'recordIdentifier?', 'recordPosition?', 'extraRecordData?'],
  echoedSearchRetrieveRequest: ['version', 'query', 'xQuery?', 'startRecord?', 'maximumRecords?', 'recordPacking?', 'recordSchema?', 'recordXPath?', 'resultSetTTL?', 'sortKeys?', 'stylesheet?', 'extraRequestData?'],
  diagnostics: ['diagnostic+'],
  diagnostic: ['uri', 'details?', 'message?'],
  scanResponse: ['version', 'terms?', 'echoedScanRequest?', 'diagnostics?', 'extraResponseData?'],
  terms: ['term+'],
  'terms/term': ['value', 'numberOfRecords?', 'displayTerm?', 'whereInList?', 'extraTermData?'],
  echoedScanRequest: ['version', 'scanClause', 'xScanClause?', 'responsePosition?', 'maximumTerms?', 'stylesheet?', 'extraRequestData?'],
  explainResponse: ['version', 'record', 'echoedExplainRequest?', 'diagnostics?', 'extraResponseData?'],
  'explainResponse/record': ['recordSchema', 'recordPacking', 'recordData', 'recordPosition?', 'extraRecordData?'],
} // prettier-ignore

/** The answer of SRU 2.0 (OASIS searchRetrieve, part 3) with its facets. */
export const SRU_2: Rules = {
  searchRetrieveResponse: ['numberOfRecords', 'resultSetId?', 'records?', 'nextRecordPosition?', 'echoedSearchRetrieveRequest?', 'diagnostics?', 'extraResponseData?', 'resultSetTTL?', 'resultCountPrecision?', 'facetedResults?', 'searchResultAnalysis?'],
  records: ['record+'],
  'records/record': ['recordSchema', 'recordXMLEscaping', 'recordData', 'recordIdentifier?', 'recordPosition?', 'extraRecordData?'],
  diagnostics: ['diagnostic+'],
  diagnostic: ['uri', 'details?', 'message?'],
  facetedResults: ['datasource+'],
  datasource: ['datasourceDisplayLabel', 'datasourceDescription?', 'baseURL?', 'facets'],
  facets: ['facet+'],
  'facets/facet': ['facetDisplayLabel', 'facetDescription?', 'index', 'relation?', 'terms'],
  terms: ['term*'],
  'terms/term': ['actualTerm', 'query?', 'requestUrl?', 'count'],
} // prettier-ignore

/** OAI-PMH 2.0. */
export const OAI: Rules = {
  'OAI-PMH': ['responseDate', 'request', 'error*', 'Identify?', 'ListMetadataFormats?', 'ListSets?', 'GetRecord?', 'ListIdentifiers?', 'ListRecords?'],
  Identify: ['repositoryName', 'baseURL', 'protocolVersion', 'adminEmail+', 'earliestDatestamp', 'deletedRecord', 'granularity', 'compression*', 'description*'],
  ListMetadataFormats: ['metadataFormat+'],
  metadataFormat: ['metadataPrefix', 'schema', 'metadataNamespace'],
  GetRecord: ['record'],
  ListRecords: ['record+', 'resumptionToken?'],
  ListIdentifiers: ['header+', 'resumptionToken?'],
  record: ['header', 'metadata?', 'about*'],
  header: ['identifier', 'datestamp', 'setSpec*'],
} // prettier-ignore

type Node = Record<string, unknown>
const parser = new XMLParser({ preserveOrder: true, removeNSPrefix: true, ignoreAttributes: false })

/** What of an answer breaks the rules, an element each; payloads (recordData, metadata) are not looked into. */
export function breaches(xml: string, rules: Rules): string[] {
  const out: string[] = []
  const nameOf = (n: Node): string | undefined => Object.keys(n).find(k => k !== ':@' && k !== '#text')
  const walk = (name: string, children: Node[], parent: string) => {
    const rule = rules[`${parent}/${name}`] ?? rules[name]
    const names = children.map(nameOf).filter((n): n is string => n !== undefined)
    if (rule) {
      let at = 0
      for (const r of rule) {
        const wanted = r.replace(/[?*+]$/, '')
        let n = 0
        while (names[at] === wanted) {
          at++
          n++
        }
        const most = /[*+]$/.test(r) ? Infinity : 1
        if (n > most) out.push(`${name}: ${wanted} stands ${n} times`)
        if (n === 0 && !/[?*]$/.test(r)) out.push(`${name}: ${wanted} is missing`)
      }
      if (at < names.length) out.push(`${name}: ${names[at]} does not belong at its place`)
    }
    if (name === 'recordData' || name === 'metadata') return
    for (const c of children) {
      const n = nameOf(c)
      if (n) walk(n, c[n] as Node[], name)
    }
  }
  for (const n of parser.parse(xml) as Node[]) {
    const name = nameOf(n)
    if (name && !name.startsWith('?')) walk(name, n[name] as Node[], '')
  }
  return out
}
