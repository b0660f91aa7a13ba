import { readDate } from '../bib/dates'
import { normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import { readName } from '../bib/names'
import { pageCount } from '../bib/pages'
import type { Facts, Item, ReadRecord, Version } from '../bib/item'
import { typeOfGenre, withoutUndefined } from './mods'
import { readXml, texts, type Xml } from './xml'

/**
 * Reads one record of simple Dublin Core (the fifteen elements). The citation stands in `source` as free text there,
 * so volume, issue and pages are drawn from it where it follows the common manner "Journal 12(3), 345-367".
 * @throws Error where it is not well-formed XML
 */
export function readDublinCore(xml: string): ReadRecord {
  const root = readXml(xml)
  const dc = Object.values(root).find((v): v is Xml => typeof v === 'object' && v !== null && 'title' in v)
  if (!dc) throw new Error('The record is not Dublin Core.')
  const types = texts(dc, 'type')
  const source = texts(dc, 'source')[0]
  const cited = readSource(source)
  const item: Item = { id: '', type: typeOfGenre(types.join(' '), Boolean(cited['container-title'])) }
  item.title = unshout(texts(dc, 'title')[0])
  const authors = texts(dc, 'creator').map(readName)
  if (authors.length) item.author = authors
  const date = texts(dc, 'date')[0]
  if (date) item.issued = readDate(date)
  Object.assign(item, cited)
  const publisher = texts(dc, 'publisher')[0]
  if (publisher) item.publisher = publisher
  item.abstract = texts(dc, 'description')[0]
  item.language = texts(dc, 'language')[0]
  const facts: Facts = {}
  for (const id of [...texts(dc, 'identifier'), ...texts(dc, 'relation')]) {
    item.DOI ??= normaliseDoi(id)
    if (/issn/i.test(id)) item.ISSN ??= normaliseIssn(id)
    if (/isbn/i.test(id)) item.ISBN ??= normaliseIsbn(id)
    if (/^https?:/.test(id) && !normaliseDoi(id)) {
      if (/\.pdf$/.test(id)) facts.openUrl ??= id
      else item.URL ??= id
    }
  }
  if (types[0]) facts.genre = types[0]
  const subjects = texts(dc, 'subject')
  if (subjects.length) facts.keywords = subjects
  const version = types.map(versionOf).find(Boolean)
  if (version) facts.version = version
  const embargo = texts(dc, 'rights')
    .map(r => /embargo\w* until (\d{4}-\d{2}-\d{2})/i.exec(r)?.[1])
    .find(Boolean)
  if (embargo) facts.embargoUntil = embargo
  const pages = pageCount(item.page)
  if (pages) facts.pageCount = pages
  return { item: withoutUndefined(item), facts }
}

function versionOf(type: string): Version | undefined {
  if (/preprint|submitted/i.test(type)) return 'preprint'
  if (/accepted/i.test(type)) return 'accepted manuscript'
  if (/published|version of record/i.test(type)) return 'version of record'
  return undefined
}

/** Letters of a source that are looked at for volume and pages. */
const LONGEST_SOURCE = 500

function readSource(source: string | undefined): Partial<Item> {
  const m =
    /^(.+?)[,.]?\s+(?:vol\.?\s*)?(\d+)\s*(?:\((\w+)\))?(?:[,:]\s*(?:pp?\.?\s*)?([A-Za-z]?\d+(?:\s*[-–]+\s*[A-Za-z]?\d+)?))?\s*$/i.exec(
      (source ?? '').slice(0, LONGEST_SOURCE),
    )
  if (!m) return source ? { 'container-title': source } : {}
  return withoutUndefined({
    'container-title': m[1],
    volume: m[2],
    issue: m[3],
    page: m[4]?.replace(/\s*[-–]+\s*/, '-'),
  })
}

/**
 * A title in capitals throughout is put in sentence case; short all-capital words cannot be told from shouting there.
 */
function unshout(title: string | undefined): string | undefined {
  if (!title || title.length < 12 || /\p{Ll}/u.test(title)) return title
  const lower = title.toLowerCase()
  return lower.charAt(0).toUpperCase() + lower.slice(1)
}
