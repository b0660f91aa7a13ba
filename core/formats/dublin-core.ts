import { partsAt } from '../bib/clean'
import { readDate } from '../bib/dates'
import { normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import type { Facts, Grant, Item, ItemDate, Name, ReadRecord, Version } from '../bib/item'
import { languageCode } from '../bib/languages'
import { readHeading } from '../bib/names'
import { pageCount } from '../bib/pages'
import { readSource } from '../bib/part'
import { roleOf, type Role } from '../bib/roles'
import { dataLink, grantsAmong } from './beside'
import { bare, otherTitles, pagesOfExtent, unshout, withoutUndefined } from './terms'
import { typeOfTerm } from '../bib/type-terms'
import { readXml, texts, type Xml } from './xml'

/**
 * Reads one record of Dublin Core, simple or with the terms that refine it. The citation stands in `source` (or in
 * `bibliographicCitation`) as free text there, so journal, volume, issue and pages are drawn from it.
 * @throws Error where it is not well-formed XML
 */
export function readDublinCore(xml: string): ReadRecord {
  const root = readXml(xml)
  const dc = Object.values(root).find((v): v is Xml => typeof v === 'object' && v !== null && 'title' in v)
  if (!dc) throw new Error('The record is not Dublin Core.')
  const said = (...names: string[]): string[] =>
    names.flatMap(n =>
      texts(dc, n)
        .map(t => t.trim())
        .filter(Boolean),
    )
  const types = said('type')
  const item: Item = { id: '', type: 'document' }
  // "Title : subtitle / who says so", as cataloguers write it
  const [title = ''] = (said('title')[0] ?? '').split(/ \/ (?=\S)/)
  item.title = unshout(bare(title.replace(/ ([:;]) /g, '$1 ')))!
  Object.assign(item, namesOf(said('creator'), said('contributor')))
  const facts: Facts = {}
  for (const id of said('identifier', 'relation', 'isPartOf', 'source', 'isVersionOf', 'uri')) {
    const isAddress = /^https?:/i.test(id)
    if (/doi|^10\.\d{4}|info:eu-repo\/semantics\/altIdentifier\/doi/i.test(id)) item.DOI ??= normaliseDoi(id)!
    if (!isAddress && /issn|^\d{4}-\d{3}[\dx]$/i.test(id)) item.ISSN ??= normaliseIssn(id)!
    if (!isAddress && /isbn|^97[89][\d-]{10,14}$/i.test(id)) item.ISBN ??= normaliseIsbn(id)!
    if (isAddress && !normaliseDoi(id)) {
      if (/\.pdf($|[?#])/i.test(id)) facts.openUrl ??= id
      else item.URL ??= id
    }
  }
  const cited = citationOf(said('bibliographicCitation', 'source', 'isPartOf', 'relation'), said('identifier'))
  const date = dateOf(said('issued', 'date', 'created', 'dateAccepted', 'dateSubmitted'))
  Object.assign(item, cited)
  item.issued = date ?? cited.issued!
  const [place, publisher] = /^(\p{Lu}[\p{L} .'-]{1,30}) : (.+)$/u.exec(said('publisher')[0] ?? '')?.slice(1) ?? []
  const year = /,\s*\[?c?\d{4}\]?\.?$/
  item.publisher = bare((publisher ?? said('publisher')[0])?.replace(year, ''))!
  item['publisher-place'] = bare(place)!
  item.abstract = said('abstract', 'description').find(
    d => !/^(bibliograph|includes |peer.?review|published version|refereed|tesis|thesis)/i.test(d) || d.length > 150,
  )!
  item.language = said('language').map(languageCode).find(Boolean)!
  const kinds = types
    .map(t => t.replace(/^.*[/#](?=[^/#]+$)/, ''))
    .filter(
      t =>
        !/^(text|resource|publishedversion|acceptedversion|submittedversion|updatedversion|(non)?peer.?reviewed|openaccess)$/i.test(
          t,
        ),
    )
  const told = kinds.find(t => typeOfTerm(t))
  item.type = typeOf(told ? typeOfTerm(told) : undefined, item)
  const genre = told ?? kinds[0] ?? types[0]
  if (genre) facts.genre = genre
  if (item.type === 'thesis') item.genre = kinds.find(t => /doctor|master|bachelor|thesis/i.test(t))!
  if (types.some(t => /^peer.?reviewed$|\brefereed\b/i.test(t)))
    facts.refereedVenue = !types.some(t => /not refereed/i.test(t))
  if (types.some(t => /^nonpeerreviewed$/i.test(t))) facts.refereedVenue = false
  // some give the title in another language beside it
  const others = otherTitles(item.title, [...said('title').slice(1), ...said('alternative')].map(bare))
  if (others) facts.otherTitles = others
  const subjects = said('subject')
    .flatMap(s => partsAt(s, ';'))
    .flatMap(s => (/^(ddc|lcc|udc):|^\d{3}(\.\d+)?$/i.test(s) ? [] : (bare(s) ?? [])))
  if (subjects.length) facts.keywords = [...new Set(subjects)]
  const version = types.map(versionOf).find(Boolean)
  if (version) facts.version = version
  const embargo = said('rights', 'accessRights', 'available', 'date')
    .map(r => /embargo\D{0,30}(\d{4}-\d{2}-\d{2})/i.exec(r)?.[1])
    .find(Boolean)
  if (embargo) facts.embargoUntil = embargo
  // what repositories write of grants and data, each in an address of its own kind
  const relations = said('relation', 'references', 'isReferencedBy').map(r => r.replace(/^info:eu-repo\//i, 'info:'))
  const grants = grantsAmong(relations.flatMap(grantIn))
  if (grants) facts.grants = grants
  const data = relations.flatMap(r => dataLink([/^info:semantics\/dataset\/\w+\/(.+)$/i.exec(r)?.[1]]))
  if (data.length) facts.data = data
  const licence = [...said('license', 'licence'), ...said('rights').filter(r => LICENCE.test(r))][0]
  if (licence) facts.licence = licence
  const pages = pageCount(item.page) ?? said('extent', 'format', 'description').map(pagesOfExtent).find(Boolean)
  if (pages) facts.pageCount = pages
  return { item: withoutUndefined(item), facts }
}

const LICENCE = /^https?:\/\/\S*(?:licen[cs]|creativecommons)|\bCC[ -]?(?:BY|0)\b/i

/** A grant by its address: funder, programme and number, each with its signs escaped. */
function grantIn(relation: string): Grant[] {
  const parts = /^info:grantAgreement\/(.+)$/i.exec(relation)?.[1]?.split('/') ?? []
  const [funder, programme, number] = parts.map(p =>
    p
      .replace(/%2f/gi, '/')
      .replace(/%20|\+/g, ' ')
      .trim(),
  )
  if (!number) return []
  return [{ number, ...(funder ? { funder: [funder, programme].filter(Boolean).join(' ') } : {}) }]
}

function versionOf(type: string): Version | undefined {
  if (/preprint|submitted/i.test(type)) return 'preprint'
  if (/accepted/i.test(type)) return 'accepted manuscript'
  if (/published|version of record/i.test(type)) return 'version of record'
  return undefined
}

/** The type by what it is called, and by where it stands. */
function typeOf(told: string | undefined, item: Item): string {
  const inJournal = Boolean(item['container-title'] && (item.ISSN ?? item.volume ?? item.issue))
  if (told === 'book' && inJournal && item.page && !item.ISBN) return 'article-journal'
  if (told === 'article-journal' && !inJournal && item.ISBN && item['container-title']) return 'chapter'
  if (told) return told
  if (inJournal || (item['container-title'] && item.page))
    return item.ISBN && !item.ISSN ? 'chapter' : 'article-journal'
  return item.ISBN ? 'book' : item['container-title'] ? 'article-journal' : 'document'
}

function namesOf(creators: string[], contributors: string[]): Partial<Item> {
  const found: Partial<Record<Role, Name[]>> = {}
  const add = (text: string, otherwise: Role) => {
    const heading = readHeading(text)
    if (!heading) return
    const role = heading.role ? roleOf(heading.role) : otherwise
    if (role) (found[role] ??= []).push(heading.name)
  }
  for (const c of creators) add(c, 'author')
  for (const c of contributors) add(c, creators.length ? 'contributor' : 'author')
  return found as Partial<Item>
}

/** The date it came out; what only says when it may be opened, or came into a repository, comes last. */
function dateOf(dates: string[]): ItemDate | undefined {
  const issued = dates.filter(d => !/embargo|available|accession/i.test(d))
  const read = issued.map(d => readDate(d.replace(/[[\]]/g, ''))).filter(d => d !== undefined)
  const known = read.filter(d => d['date-parts'])
  // repositories add the time of the deposit, to the second
  const plain = known.filter((_, i) => !/T\d{2}:/.test(issued[i] ?? ''))
  return plain[0] ?? known[0] ?? read[0]
}

/** What says in which journal or book it stands, and where there. */
function citationOf(sources: string[], identifiers: string[]): Partial<Item> {
  const isName = (s: string) =>
    !/^(https?:|urn:|info:|doi:)/i.test(s) && !/^(e?-?issn|isbn)\b/i.test(s) && /\p{L}{3}/u.test(s)
  const read = sources.filter(isName).map(s => ({ s, cited: readSource(s) }))
  const full = read.find(r => r.cited.volume ?? r.cited.page)
  // an identifier may be the whole citation
  const told =
    full ??
    identifiers
      .filter(i => isName(i) && i.includes(' '))
      .map(s => ({ s, cited: readSource(s) }))
      .find(r => r.cited.volume && r.cited.page) ??
    read[0]
  if (!told) return {}
  const { 'container-title': container, ...place } = told.cited
  const title = bare(
    container
      ?.replace(/^(in|published in|is part of|source):?\s+(?=\p{Lu})/iu, '')
      .replace(/,?\s*\(?ISSN:?\s*[\d-]{8,9}x?\)?.*$/i, ''),
  )
  return withoutUndefined({ 'container-title': title, ...place })
}
