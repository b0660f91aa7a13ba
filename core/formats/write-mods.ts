import { XMLBuilder } from 'fast-xml-parser'
import { clean, partsAt, plainTitle } from '../bib/clean'
import type { Item, ItemDate, Name } from '../bib/item'
import { ROLES, type Role } from '../bib/roles'

const builder = new XMLBuilder({
  ...{ ignoreAttributes: false, attributeNamePrefix: '@', suppressEmptyNode: true, format: true, indentBy: ' ' },
})

/** Codes of the relator list (MARC). */
const RELATORS: Record<Role, string> = {
  ...{ author: 'aut', editor: 'edt', translator: 'trl', illustrator: 'ill', compiler: 'com', composer: 'cmp' },
  ...{ director: 'drt', performer: 'prf', narrator: 'nrt', interviewer: 'ivr', contributor: 'ctb' },
  'collection-editor': 'pbd',
}
/** What a thing is called: the term of the list of genres (MARC) where it has one, with the words of citation styles. */
const GENRES: Record<string, { genre: string; isListed?: boolean }> = {
  'article-journal': { genre: 'journal article' },
  'article-magazine': { genre: 'magazine article' },
  'article-newspaper': { genre: 'newspaper article' },
  article: { genre: 'preprint' },
  book: { genre: 'book', isListed: true },
  chapter: { genre: 'book chapter' },
  'paper-conference': { genre: 'conference paper' },
  thesis: { genre: 'thesis', isListed: true },
  report: { genre: 'technical report', isListed: true },
  'review-book': { genre: 'book review' },
  review: { genre: 'review', isListed: true },
  dataset: { genre: 'data set' },
  software: { genre: 'computer program', isListed: true },
  map: { genre: 'map', isListed: true },
  webpage: { genre: 'web site', isListed: true },
  periodical: { genre: 'periodical', isListed: true },
  'entry-encyclopedia': { genre: 'encyclopedia', isListed: true },
  patent: { genre: 'patent', isListed: true },
  standard: { genre: 'standard' },
  interview: { genre: 'interview', isListed: true },
  speech: { genre: 'speech', isListed: true },
  manuscript: { genre: 'manuscript' },
  graphic: { genre: 'picture', isListed: true },
  motion_picture: { genre: 'motion picture', isListed: true },
  song: { genre: 'sound', isListed: true },
  musical_score: { genre: 'musical score' },
}
const RESOURCES: Record<string, string> = {
  ...{ map: 'cartographic', musical_score: 'notated music', song: 'sound recording', graphic: 'still image' },
  ...{ motion_picture: 'moving image', software: 'software, multimedia' },
}
/** What holds parts of a kind, where it is neither a book nor a periodical. */
const HOSTS: Record<string, string> = {
  ...{ 'paper-conference': 'conference publication', webpage: 'web site' },
  ...{ 'article-newspaper': 'newspaper', 'article-magazine': 'magazine' },
}
/** Kinds that come out in numbers; all that stands in another thing besides is one part of one thing. */
const SERIAL = /^(article-|review|periodical)/

type Element = Record<string, unknown>
/** Elements that say something, in their order. */
const said = (elements: Element): Element =>
  Object.fromEntries(
    Object.entries(elements).filter(
      ([, v]) => v !== undefined && v !== '' && !(Array.isArray(v) && !v.length) && !isEmpty(v),
    ),
  )
const isEmpty = (v: unknown): boolean =>
  typeof v === 'object' && v !== null && !Array.isArray(v) && !Object.keys(v).length
const typed = (type: string, value: unknown): Element[] =>
  value === undefined || value === '' ? [] : [{ '@type': type, '#text': String(value) }]

function nameOf(role: Role, n: Name): Element {
  const family = [n['dropping-particle'], n['non-dropping-particle'], n.family].filter(Boolean).join(' ')
  const isPerson = Boolean(family || n.given)
  return {
    '@type': isPerson ? 'personal' : 'corporate',
    namePart: isPerson
      ? [...typed('family', family), ...typed('given', n.given), ...typed('termsOfAddress', n.suffix)]
      : (n.literal ?? ''),
    role: { roleTerm: { '@type': 'code', '@authority': 'marcrelator', '#text': RELATORS[role] } },
  }
}
const namesOf = (item: Item, roles: readonly Role[]): Element[] =>
  roles.flatMap(role => ((item[role] as Name[] | undefined) ?? []).map(n => nameOf(role, n)))

/** A date as machines read it (W3C-DTF), or as it was said. */
function dated(date: ItemDate | undefined): unknown {
  const ends = (date?.['date-parts'] ?? []).map(parts =>
    parts.map((p, i) => String(p).padStart(i ? 2 : 4, '0')).join('-'),
  )
  if (!ends.length || ends.some(e => !/^\d{4}(-\d\d){0,2}$/.test(e))) return date?.raw ?? date?.literal
  const one = (text: string, more: Element = {}) => ({ '@encoding': 'w3cdtf', ...more, '#text': text })
  return ends.length > 1
    ? [one(ends[0]!, { '@keyDate': 'yes', '@point': 'start' }), one(ends[1]!, { '@point': 'end' })]
    : one(ends[0]!, { '@keyDate': 'yes' })
}

/** Where it stands in what it is a part of; of a report, its number. */
function partOf(item: Item): Element {
  const detail = (['volume', 'issue', 'number'] as const).flatMap(type =>
    item[type] === undefined || item[type] === '' ? [] : [{ '@type': type, number: String(item[type] as string) }],
  )
  const pages = item.page?.trim()
  const range = pages === undefined ? null : /^([A-Za-z]*\d+)(?:\s*[-–—]+\s*([A-Za-z]*\d+))?$/.exec(pages)
  const extent = range ? said({ start: range[1], end: range[2] }) : { list: pages }
  return said({ detail, extent: pages ? { '@unit': 'pages', ...extent } : undefined })
}

const titled = (title: unknown): Element | undefined =>
  typeof title === 'string' && title ? { title: plainTitle(title) } : undefined

/**
 * One item as a record of MODS 3.8 (Library of Congress), without its collection around it.
 * @param key by which it is known among those of a file
 */
function recordOf(given: Item, key: string): Element {
  // letters that XML has no way to write
  const item = clean(given)
  const { genre, isListed } = GENRES[item.type] ?? { genre: item.type.replace(/[-_]/g, ' ') }
  const container = titled(item['container-title'])
  const isInBook = container !== undefined && !SERIAL.test(item.type)
  const ids = {
    own: [...typed('doi', item.DOI), ...(container ? [] : [...typed('isbn', item.ISBN), ...typed('issn', item.ISSN)])],
    host: container ? [...typed('issn', item.ISSN), ...typed('isbn', item.ISBN)] : [],
  }
  // of a part the editor is that of the whole
  const roles = ROLES.filter(r => !(isInBook && r === 'editor') && r !== 'collection-editor')
  const origin = said({
    place: item['publisher-place'] ? { placeTerm: { '@type': 'text', '#text': item['publisher-place'] } } : undefined,
    publisher: item.publisher,
    dateIssued: dated(item.issued),
    edition: item.edition === undefined ? undefined : String(item.edition),
    issuance: item.type === 'book' ? 'monographic' : undefined,
  })
  const part = partOf(item)
  const related = [
    container && {
      '@type': 'host',
      titleInfo: container,
      ...said({
        name: isInBook
          ? [...namesOf({ ...item, author: (item['container-author'] ?? []) as Name[] }, ['author', 'editor'])]
          : [],
        genre: HOSTS[item.type] ?? (isInBook ? 'book' : 'periodical'),
        originInfo: { issuance: isInBook ? 'monographic' : 'continuing' },
        part,
        identifier: ids.host,
      }),
    },
    titled(item['collection-title']) && {
      '@type': 'series',
      titleInfo: said({
        ...titled(item['collection-title']),
        partNumber: item['collection-number'] === undefined ? undefined : String(item['collection-number'] as string),
      }),
      ...said({ name: namesOf(item, ['collection-editor']) }),
    },
    titled(item['original-title']) && { '@type': 'original', titleInfo: titled(item['original-title']) },
  ].filter(Boolean)
  return {
    // the name of an element begins with no digit
    '@ID': /^\d/.test(key) ? `_${key}` : key,
    ...said({
      titleInfo: titled(item.title),
      name: [
        ...namesOf(item, roles),
        ...(item['event-title'] ? [{ '@type': 'conference', namePart: String(item['event-title'] as string) }] : []),
      ],
      typeOfResource: RESOURCES[item.type] ?? 'text',
      genre: { ...(isListed ? { '@authority': 'marcgt' } : {}), '#text': genre },
      originInfo: origin,
      language: item.language
        ? { languageTerm: { '@type': 'code', '@authority': 'rfc3066', '#text': item.language } }
        : undefined,
      abstract: item.abstract && plainTitle(item.abstract),
      note: [...(item.type === 'thesis' ? typed('thesis', item.genre) : []), ...(item.note ? [item.note] : [])],
      subject: partsAt(String(item.keyword ?? ''), /[,;]/)
        .filter(Boolean)
        .map(topic => ({ topic })),
      part: container ? undefined : part,
      relatedItem: related,
      identifier: ids.own,
      location: item.URL ? { url: { '@usage': 'primary', '#text': item.URL } } : undefined,
      recordInfo: { recordIdentifier: item.id },
    }),
  }
}

/** Items as one MODS collection. @param keys one for each item */
export const writeMods = (items: readonly Item[], keys: readonly string[]): string =>
  `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build({
    modsCollection: {
      '@xmlns': 'http://www.loc.gov/mods/v3',
      mods: items.map((item, i) => ({ '@version': '3.8', ...recordOf(item, keys[i]!) })),
    },
  })}`
