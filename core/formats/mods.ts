import { readDate } from '../bib/dates'
import { normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import type { Facts, Item, ItemDate, Name, ReadRecord } from '../bib/item'
import { languageCode } from '../bib/languages'
import { readHeading } from '../bib/names'
import { pageCount } from '../bib/pages'
import { readPart, type Part } from '../bib/part'
import { roleOf, type Role } from '../bib/roles'
import { authorIdsAmong, dataLink, grantsAmong } from './beside'
import { bare, contentsOf, editionOf, otherTitles, pagesOfExtent, unshout, withoutUndefined } from './terms'
import { typeOfTerm } from '../bib/type-terms'
import { all, first, readXml, textOf, texts, type Xml } from './xml'

/** Reads one MODS record (Library of Congress, version 3). @throws Error where it is not well-formed XML */
export function readMods(xml: string): ReadRecord {
  const root = readXml(xml)
  const mods = (first(root, 'mods') ?? first(root, 'modsCollection', 'mods')) as Xml | undefined
  if (!mods) throw new Error('The record is not MODS.')
  const related = (...types: string[]) => all(mods, 'relatedItem').find(r => types.includes(String(r['@type'])))
  const host = related('host')
  const genres = texts(mods, 'genre').flatMap(g => bare(g.replace(/^https?:\S+[/#]/, '')) ?? [])
  const genre = genres.find(g => typeOfTerm(g)) ?? genres[0]
  const part = first(host, 'part') ?? first(mods, 'part')
  const item: Item = {
    id: textOf(first(mods, 'recordInfo', 'recordIdentifier')) ?? '',
    type: typeOf(mods, host, genre, part),
  }
  const main =
    all(mods, 'titleInfo').find(t => !t['@type'] && t['@usage'] === 'primary') ??
    all(mods, 'titleInfo').find(t => !t['@type']) ??
    all(mods, 'titleInfo')[0]
  item.title = unshout(titleOf(main))!
  item['original-title'] =
    titleOf(first(related('original'), 'titleInfo')) ??
    titleOf(all(mods, 'titleInfo').find(t => t['@type'] === 'uniform' && t !== main))
  Object.assign(item, namesOf(mods))
  item['container-title'] = titleOf(first(host, 'titleInfo'))!
  if (item.type === 'chapter' || item.type === 'paper-conference') {
    const of = namesOf(host)
    item.editor ??= of.editor!
    item['container-author'] = of.author
  }
  Object.assign(item, placeOf(part))
  if (item.type === 'book' && host) {
    item['collection-title'] = item['container-title']!
    item['collection-number'] = item.volume
    delete item['container-title']
    delete item.volume
  }
  if (item.type === 'report' && item.issue) {
    item.number = item.issue
    delete item.issue
  }
  const origins = [...all(mods, 'originInfo'), ...all(host, 'originInfo')]
  const inOrigins = (read: (o: Xml) => string | undefined) => origins.map(read).find(Boolean)
  item.issued = dateOf(all(mods, 'originInfo')) ?? item.issued ?? dateOf(all(host, 'originInfo'))!
  item.publisher = bare(inOrigins(o => textOf(first(o, 'publisher')) ?? agentOf(o)))!
  item['publisher-place'] = bare(
    inOrigins(o =>
      all(o, 'place')
        .flatMap(p =>
          all(p, 'placeTerm')
            .filter(t => t['@type'] !== 'code')
            .map(textOf),
        )
        .find(Boolean),
    ),
  )!
  item.edition = editionOf(inOrigins(o => textOf(first(o, 'edition'))))!
  const series = related('series')
  item['collection-title'] ??= titleOf(first(series, 'titleInfo'), false)!
  item['collection-number'] ??= bare(
    textOf(first(series, 'titleInfo', 'partNumber')) ?? textOf(first(series, 'part', 'detail', 'number')),
  )?.replace(/^\D{1,12}(?=\d)/, '')
  const urls = all(mods, 'location').flatMap(l => all(l, 'url'))
  for (const id of [...all(mods, 'identifier'), ...all(host, 'identifier')]) {
    if (id['@invalid'] === 'yes') continue
    const [type, value] = [String(id['@type'] ?? '').toLowerCase(), textOf(id)]
    // some write no type, and addresses of a resolver
    if (type === 'doi' || /doi\.org|^(doi:|10\.\d{4})/i.test(value ?? '')) item.DOI ??= normaliseDoi(value)!
    else if (type.startsWith('issn') || /^issn/i.test(value ?? '')) item.ISSN ??= normaliseIssn(value)!
    else if (type.startsWith('isbn') || /^isbn/i.test(value ?? '')) item.ISBN ??= normaliseIsbn(value)!
  }
  item.DOI ??= urls.map(u => (/doi\.org\//i.test(textOf(u) ?? '') ? normaliseDoi(textOf(u)) : undefined)).find(Boolean)!
  item.abstract = texts(mods, 'abstract')[0] ?? contentsOf(texts(mods, 'tableOfContents'))!
  item.language = all(mods, 'language')
    .flatMap(l => all(l, 'languageTerm').map(t => languageCode(textOf(t))))
    .find(Boolean)!
  item.URL = textOf(
    urls.find(u => u['@usage'] === 'primary' || u['@usage'] === 'primary display') ??
      urls.find(u => u['@access'] !== 'preview'),
  )!
  const notes = all(mods, 'note').map(n => ({ type: String(n['@type'] ?? ''), said: textOf(n) ?? '' }))
  if (item.type === 'thesis') {
    const degree = notes.find(n => /thesis|degree/i.test(n.type))?.said
    item.genre = bare(degree) ?? genres.find(g => typeOfTerm(g) === 'thesis' && !/^thesis$/i.test(g)) ?? genre!
    const school = namesWith(mods, /^(dgg|degree grant)/i)[0]?.literal
    if (school) item.publisher ??= school
  }
  const subjects = all(mods, 'subject')
  const said = (s: Xml) => [...texts(s, 'topic'), ...texts(s, 'geographic')].flatMap(t => bare(t) ?? [])
  const keywords = subjects.filter(s => !s['@authority']).flatMap(said)
  const controlled = subjects.filter(s => s['@authority']).flatMap(said)
  const refereed = notes.map(n => n.said).filter(n => /refereed/i.test(n))
  const references = notes.map(n => /(\d{1,5}) references/i.exec(n.said)?.[1]).find(Boolean)
  const open = urls.find(u => u['@access'] === 'raw object')
  const data = all(mods, 'relatedItem')
    .filter(r => [...texts(r, 'genre'), ...texts(r, 'typeOfResource')].some(g => typeOfTerm(bare(g)) === 'dataset'))
    .flatMap(r =>
      dataLink(
        [
          ...texts(r, 'identifier'),
          ...all(r, 'location').flatMap(l => texts(l, 'url')),
          textOf({ '#text': r['@href'] }),
        ],
        titleOf(first(r, 'titleInfo')),
      ),
    )
  const facts = withoutUndefined({
    genre,
    otherTitles: otherTitles(
      item.title,
      all(mods, 'titleInfo')
        .filter(t => t !== main && t['@type'] !== 'uniform')
        .map(t => titleOf(t)),
    ),
    keywords: keywords.length ? keywords : undefined,
    subjects: controlled.length ? controlled : undefined,
    refereedVenue: refereed.length ? !refereed.some(n => /not refereed/i.test(n)) : undefined,
    referenceCount: references ? Number(references) : undefined,
    pageCount:
      pageCount(item.page) ?? texts(first(mods, 'physicalDescription'), 'extent').map(pagesOfExtent).find(Boolean),
    openUrl: textOf(open),
    authorIds: authorIdsAmong(
      all(mods, 'name').map(n => ({
        name: nameOf(n)?.name,
        beside: [...texts(n, 'nameIdentifier'), textOf({ '#text': n['@valueURI'] })],
      })),
    ),
    grants: grantsAmong([
      ...notes.filter(n => /^fund/i.test(n.type)).map(n => n.said),
      ...namesWith(mods, /(^|\/)(fnd|funder)$/i).flatMap(n => (n.literal ? [{ funder: n.literal }] : [])),
    ]),
    data: data.length ? data : undefined,
    licence: licenceOf(mods),
  }) as Facts
  return { item: withoutUndefined(item), facts }
}

/** Under which licence it may be used: the address that says it, else the words. */
function licenceOf(mods: Xml): string | undefined {
  const conditions = all(mods, 'accessCondition').filter(c => /use|licen[cs]e/i.test(String(c['@type'] ?? '')))
  return conditions.map(c => textOf({ '#text': c['@href'] }) ?? bare(textOf(c))).find(Boolean)
}

/** Title with what does not sort, subtitle, number and name of the part. */
function titleOf(info: unknown, withPart = true): string | undefined {
  if (!info) return undefined
  const said = (name: string) => bare(textOf(first(info, name)))
  const lead = textOf(first(info, 'nonSort'))
  const title = said('title')
  if (!title) return undefined
  const whole = lead ? `${lead.trim()}${/['’]$/.test(lead.trim()) ? '' : ' '}${title}` : title
  const part = withPart ? [said('partNumber'), said('partName')].filter(Boolean).join(', ') : ''
  return [whole, said('subTitle')].filter(Boolean).join(': ') + (part ? `. ${part}` : '')
}

/** The type by what the record is said to be (`typeOfResource`), where its genre does not tell. */
const BY_RESOURCE: [RegExp, string][] = [
  [/cartographic/, 'map'],
  [/notated music/, 'musical_score'],
  [/sound recording/, 'song'],
  [/still image/, 'graphic'],
  [/moving image/, 'motion_picture'],
  [/software/, 'software'],
]

function typeOf(mods: Xml, host: Xml | undefined, genre: string | undefined, part: unknown): string {
  const told = typeOfTerm(genre)
  const resource = all(mods, 'typeOfResource')
  const manuscript = resource.some(r => r['@manuscript'] === 'yes')
  const said = resource.map(r => (textOf(r) ?? '').toLowerCase())
  const bySaid = BY_RESOURCE.find(([is]) => said.some(s => is.test(s)))?.[1]
  const issuance = all(mods, 'originInfo').flatMap(o => texts(o, 'issuance'))
  if (told && told !== 'article-journal' && told !== 'book' && told !== 'periodical') return told
  if (bySaid) return told === 'book' || !told ? bySaid : told
  if (host) {
    const ids = all(host, 'identifier').map(i => String(i['@type'] ?? '').toLowerCase())
    const hostGenre = texts(host, 'genre')
    const issued = all(host, 'originInfo').flatMap(o => texts(o, 'issuance'))
    const place = placeOf(part)
    // some have the series of a book for a host
    if (told === 'book' && !place.page) return 'book'
    // the proceedings of a society are a journal, those of a meeting are not
    if (/conference publication|proceedings/i.test(hostGenre.join(' '))) return 'paper-conference'
    if (
      ids.some(i => i.startsWith('issn')) ||
      hostGenre.some(g => typeOfTerm(g) === 'periodical') ||
      issued.some(i => /serial|continuing/.test(i)) ||
      place.issue
    )
      return 'article-journal'
    if (/conference|symposium|congress|workshop|meeting|kongress|tagung/i.test(titleOf(first(host, 'titleInfo')) ?? ''))
      return 'paper-conference'
    if (ids.some(i => i.startsWith('isbn')) || hostGenre.some(g => typeOfTerm(g) === 'book')) return 'chapter'
    return told === 'article-journal' || place.volume || !told ? 'article-journal' : 'chapter'
  }
  if (manuscript) return told ?? 'manuscript'
  if (issuance.some(i => /serial|continuing/.test(i))) return 'periodical'
  if (told) return told
  const isBook = issuance.some(i => /monograph/.test(i)) || all(mods, 'identifier').some(i => i['@type'] === 'isbn')
  return isBook ? 'book' : 'document'
}

const codeOrWord = (n: Xml): string[] =>
  all(n, 'role').flatMap(r => all(r, 'roleTerm').flatMap(t => textOf(t) ?? textOf({ '#text': t['@valueURI'] }) ?? []))

function namesOf(of: unknown): Partial<Item> {
  const found: Partial<Record<Role, Name[]>> & { 'event-title'?: string | undefined } = {}
  for (const n of all(of, 'name')) {
    if (n['@type'] === 'conference') {
      found['event-title'] ??= bare(
        all(n, 'namePart')
          .filter(p => !p['@type'])
          .map(textOf)
          .find(Boolean),
      )
      continue
    }
    const heading = nameOf(n)
    if (!heading) continue
    const said = codeOrWord(n)
    if (heading.role) said.push(heading.role)
    const roles = said.map(roleOf).filter(r => r !== undefined)
    const cited = roles.find(r => r !== 'contributor') ?? roles[0]
    if (said.length && !cited) continue
    ;(found[cited ?? 'author'] ??= []).push(heading.name)
  }
  return withoutUndefined<Partial<Item>>(found)
}
const namesWith = (of: unknown, role: RegExp): Name[] =>
  all(of, 'name')
    .filter(n => codeOrWord(n).some(r => role.test(r)))
    .flatMap((n): Name[] => {
      const name = nameOf(n)?.name
      return name ? [name] : []
    })

function nameOf(n: Xml): { name: Name; role?: string } | undefined {
  const parts = all(n, 'namePart')
  const of = (type: string) => parts.filter(p => p['@type'] === type).flatMap(p => textOf(p)?.trim() ?? [])
  const [family, given] = [of('family').join(' '), of('given').join(' ')]
  const suffix = of('termsOfAddress').find(t => /^(jr|sr|ii|iii|iv)\b/i.test(t))
  if (family)
    return { name: { family: family.replace(/,$/, ''), ...(given ? { given } : {}), ...(suffix ? { suffix } : {}) } }
  const whole = parts.filter(p => !p['@type'] || p['@type'] === 'given').flatMap(p => textOf(p)?.trim() ?? [])
  const shown = whole.length ? whole : texts(n, 'displayForm')
  if (!shown.length) return undefined
  if (n['@type'] === 'corporate') return { name: { literal: shown.flatMap(s => bare(s) ?? []).join('. ') } }
  return readHeading(shown.join(' '))
}

/** Where it stands in its host: by details and extents, or out of a text. */
function placeOf(part: unknown): Part {
  if (!part) return {}
  const place: Part = {}
  for (const d of all(part, 'detail')) {
    const type = String(d['@type'] ?? '').toLowerCase()
    const n = textOf(first(d, 'number')) ?? textOf(first(d, 'caption'))
    const bareNumber = n?.replace(/^\s*(\p{L}{1,10}\.?|№)\s*(?=\d)/u, '').trim()
    if (!bareNumber) continue
    if (/^(volume|vol|band|tome)/.test(type)) place.volume ??= bareNumber
    else if (/^(issue|number|no|heft|fasc)/.test(type)) place.issue ??= bareNumber
    else if (/^(page|pages|article)/.test(type)) place.page ??= bareNumber
    else if (!type) Object.assign(place, { ...withoutStrange(n!), ...place })
  }
  const extents = all(part, 'extent')
  const extent = extents.find(e => /^(pages?|pp?\.?|seiten?)$/i.test(String(e['@unit']))) ?? extents[0]
  const [start, end] = [textOf(first(extent, 'start')), textOf(first(extent, 'end'))]
  const listed = textOf(first(extent, 'list'))
  if (start) place.page ??= end && end !== start ? `${start}-${end}` : start
  else if (listed)
    place.page ??= readPart(/\d/.test(listed) && !/^\D{1,8}\s?\d/.test(listed) ? `p. ${listed}` : listed).page!
  const date = textOf(first(part, 'date'))
  if (date) place.issued = readDate(date)!
  for (const t of texts(part, 'text')) Object.assign(place, { ...withoutStrange(t), ...place })
  return withoutUndefined(place) as Part
}
function withoutStrange(text: string): Part {
  const { strange: _, ...place } = readPart(text)
  return withoutUndefined(place) as Part
}

/** When it came out: the date meant for machines before the one for readers, its issue before its copyright. */
function dateOf(origins: Xml[]): ItemDate | undefined {
  for (const name of ['dateIssued', 'copyrightDate', 'dateOther', 'dateCreated', 'dateCaptured']) {
    const dates = origins.flatMap(o => all(o, name))
    const read = (d: Xml | undefined) => (d ? readDate((textOf(d) ?? '').replace(/[[\]]/g, '')) : undefined)
    const key = read(
      dates.find(d => d['@keyDate'] === 'yes') ?? dates.find(d => d['@encoding'] && d['@point'] !== 'end'),
    )
    const best = key?.['date-parts'] ? key : dates.map(read).find(d => d?.['date-parts'])
    if (best) return best
  }
  return origins
    .flatMap(o => all(o, 'dateIssued'))
    .map(d => readDate(textOf(d) ?? ''))
    .find(Boolean)
}

/** The publisher as newer records have it, as an agent. */
const agentOf = (o: Xml): string | undefined =>
  all(o, 'agent')
    .map(a => textOf(first(a, 'namePart')))
    .find(Boolean)
