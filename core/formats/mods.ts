import { readDate } from '../bib/dates'
import { normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import { readName } from '../bib/names'
import { pageCount } from '../bib/pages'
import type { Facts, Item, Name, ReadRecord } from '../bib/item'
import { all, first, readXml, textOf, texts, type Xml } from './xml'

const typeByGenre: [RegExp, string][] = [
  [/thesis|dissertation/i, 'thesis'],
  [/book review|review of/i, 'review-book'],
  [/chapter/i, 'chapter'],
  [/conference/i, 'paper-conference'],
  [/magazine/i, 'article-magazine'],
  [/news/i, 'article-newspaper'],
  [/report/i, 'report'],
  [/preprint/i, 'article'],
  [/data/i, 'dataset'],
  [/article|review|editorial|letter|correction|erratum/i, 'article-journal'],
  [/book|monograph/i, 'book'],
]

/** The CSL type for a genre as catalogues word it. */
export function typeOfGenre(genre: string | undefined, hasHost: boolean): string {
  return typeByGenre.find(([test]) => test.test(genre ?? ''))?.[1] ?? (hasHost ? 'article-journal' : 'document')
}

/** Reads one MODS record (Library of Congress, version 3). @throws Error where it is not well-formed XML */
export function readMods(xml: string): ReadRecord {
  const root = readXml(xml)
  const mods = (first(root, 'mods') ?? first(root, 'modsCollection', 'mods')) as Xml | undefined
  if (!mods) throw new Error('The record is not MODS.')
  const host = all(mods, 'relatedItem').find(r => r['@type'] === 'host')
  const genre = texts(mods, 'genre')[0]
  const titleInfo = all(mods, 'titleInfo').find(t => !t['@type']) ?? all(mods, 'titleInfo')[0]
  const title = [
    [textOf(first(titleInfo, 'nonSort')), textOf(first(titleInfo, 'title'))].filter(Boolean).join(' '),
    textOf(first(titleInfo, 'subTitle')),
  ]
    .filter(Boolean)
    .join(': ')
  const item: Item = {
    id: textOf(first(mods, 'recordInfo', 'recordIdentifier')) ?? '',
    type: typeOfGenre(genre, Boolean(host)),
  }
  if (title) item.title = title
  const names = all(mods, 'name').map(n => ({
    name: readModsName(n),
    role: textOf(first(n, 'role', 'roleTerm')) ?? 'author',
  }))
  const authors = names.filter(n => /^(aut|author|creator)/i.test(n.role)).map(n => n.name)
  const editors = names.filter(n => /^(edt|editor)/i.test(n.role)).map(n => n.name)
  if (authors.length) item.author = authors
  if (editors.length) item.editor = editors
  const hostTitle = textOf(first(host, 'titleInfo', 'title'))
  if (hostTitle) item['container-title'] = hostTitle
  const part = first(host, 'part')
  for (const d of all(part, 'detail')) {
    const n = textOf(first(d, 'number'))
    if (n && d['@type'] === 'volume') item.volume = n
    if (n && d['@type'] === 'issue') item.issue = n
  }
  const extent = all(part, 'extent').find(e => e['@unit'] === 'pages') ?? first(part, 'extent')
  const start = textOf(first(extent, 'start'))
  const end = textOf(first(extent, 'end'))
  if (start) item.page = end && end !== start ? `${start}-${end}` : start
  const origins = [first(mods, 'originInfo'), first(host, 'originInfo')]
  const date = origins.map(o => textOf(first(o, 'dateIssued'))).find(Boolean) ?? textOf(first(part, 'date'))
  if (date) item.issued = readDate(date)
  const publisher = origins.map(o => textOf(first(o, 'publisher'))).find(Boolean)
  if (publisher) item.publisher = publisher
  const place = origins.map(o => textOf(first(o, 'place', 'placeTerm'))).find(Boolean)
  if (place) item['publisher-place'] = place
  for (const id of [...all(mods, 'identifier'), ...all(host, 'identifier')]) {
    const value = textOf(id)
    if (id['@type'] === 'doi' && !item.DOI) item.DOI = normaliseDoi(value)
    if (id['@type'] === 'issn' && !item.ISSN) item.ISSN = normaliseIssn(value) ?? value
    if (id['@type'] === 'isbn' && !item.ISBN) item.ISBN = normaliseIsbn(value) ?? value
  }
  const abstract = texts(mods, 'abstract')[0]
  if (abstract) item.abstract = abstract
  const language = textOf(first(mods, 'language', 'languageTerm'))
  if (language) item.language = language
  const url = textOf(first(mods, 'location', 'url'))
  if (url) item.URL = url
  const facts: Facts = {}
  if (genre) facts.genre = genre
  const subjects = all(mods, 'subject')
  const keywords = subjects.filter(s => !s['@authority']).flatMap(s => texts(s, 'topic'))
  const controlled = subjects.filter(s => s['@authority']).flatMap(s => texts(s, 'topic'))
  if (keywords.length) facts.keywords = keywords
  if (controlled.length) facts.subjects = controlled
  const notes = all(mods, 'note')
  if (notes.some(n => /refereed/i.test(textOf(n) ?? '')))
    facts.refereedVenue = !notes.some(n => /not refereed/i.test(textOf(n) ?? ''))
  const references = notes.map(n => /(\d+) references/i.exec(textOf(n) ?? '')?.[1]).find(Boolean)
  if (references) facts.referenceCount = Number(references)
  const pages =
    pageCount(item.page) ?? Number(/(\d+)\s*p/.exec(textOf(first(mods, 'physicalDescription', 'extent')) ?? '')?.[1])
  if (pages) facts.pageCount = pages
  return { item: withoutUndefined(item), facts }
}

function readModsName(n: Xml): Name {
  const parts = all(n, 'namePart')
  const family = textOf(parts.find(p => p['@type'] === 'family'))
  const given = textOf(parts.find(p => p['@type'] === 'given'))
  if (family) return given ? { family, given } : { family }
  const whole = parts.map(textOf).filter(Boolean).join(' ')
  return n['@type'] === 'corporate' ? { literal: whole } : readName(whole)
}

export function withoutUndefined<T extends object>(o: T): T {
  return Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined)) as T
}
