import { withoutEnd } from '../bib/clean'
import { readDate } from '../bib/dates'
import { normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import type { Facts, Grant, Item, Name, ReadRecord } from '../bib/item'
import { languageCode } from '../bib/languages'
import { readHeading } from '../bib/names'
import { pageCount } from '../bib/pages'
import { readPart, type Part } from '../bib/part'
import { roleOf, type Role } from '../bib/roles'
import { shelfHoldingsOfMarc } from './marc-shelf'
import { authorIdsAmong, dataLink, grantsAmong } from './beside'
import { bare, contentsOf, editionOf, otherTitles, pagesOfExtent, unshout, withoutUndefined } from './terms'
import { typeOfTerm } from '../bib/type-terms'

export interface MarcField {
  tag: string
  /** Two indicators, blanks where they say nothing. */
  indicators: string
  /** Code and value of each subfield, in their order. */
  subfields: [string, string][]
}

/** One record of MARC 21, whatever it was packed in. */
export interface MarcRecord {
  leader: string
  /** Tag and value of the fields that have no subfields. */
  control: [string, string][]
  fields: MarcField[]
}

/** All values of some subfields, in their order. */
const all = (f: MarcField | undefined, codes: string): string[] =>
  (f?.subfields ?? []).flatMap(([code, value]) => (codes.includes(code) && value.trim() ? [value] : []))
const sub = (f: MarcField | undefined, code: string): string | undefined => all(f, code)[0]

/** Reads one bibliographic record of MARC 21: what is cited, and what it says beside that. */
export function readMarc(record: MarcRecord): ReadRecord {
  const tagged = (...tags: string[]): MarcField[] => record.fields.filter(f => tags.includes(f.tag))
  const one = (tag: string, code = 'a'): string | undefined => sub(tagged(tag)[0], code)
  const control = (tag: string): string => record.control.find(([t]) => t === tag)?.[1] ?? ''
  const host = tagged('773')[0]
  const thesis = tagged('502')[0]
  const genre = genreOf(record, tagged)
  const item: Item = { id: control('001').trim(), type: typeOf(record, host, genre) }
  Object.assign(item, titlesOf(tagged))
  Object.assign(item, namesOf(tagged, one('245', 'c')))
  const origin =
    tagged('264').find(f => f.indicators[1] === '1') ??
    tagged('260')[0] ??
    tagged('264').find(f => f.indicators[1] !== '4') ??
    tagged('264')[0]
  const coded = control('008')
  Object.assign(item, {
    publisher: bare(sub(origin, 'b')),
    'publisher-place': bare(sub(origin, 'a')),
    issued: issuedOf(
      all(origin, 'c').at(-1) ??
        sub(
          tagged('264').find(f => f.indicators[1] === '4'),
          'c',
        ),
      coded,
    ),
    edition: editionOf(one('250')),
    ISBN:
      tagged('020')
        .map(f => normaliseIsbn(sub(f, 'a')))
        .find(Boolean) ??
      tagged('776')
        .map(f => normaliseIsbn(sub(f, 'z')))
        .find(Boolean),
    ISSN: normaliseIssn(one('022')),
    DOI: doiOf(tagged),
    language: languageCode(one('041')) ?? languageCode(coded.slice(35, 38).trim()),
    abstract:
      tagged('520')
        .filter(f => f.indicators[0] !== '4')
        .map(f => all(f, 'ab').join(' '))
        .find(Boolean) ?? contentsOf(tagged('505').map(f => all(f, 'agrtu').join(' '))),
    URL: tagged('856')
      .filter(f => f.indicators[1] !== '2')
      .map(f => sub(f, 'u'))
      .find(Boolean),
  })
  const series = tagged('490')[0] ?? tagged('830')[0] ?? tagged('440')[0]
  item['collection-title'] = bare(sub(series, 'a'))!
  item['collection-number'] = bare(sub(series, 'v'))?.replace(/^\D{1,12}(?=\d)/, '')
  if (thesis) Object.assign(item, thesisOf(thesis, item))
  if (host) Object.assign(item, hostOf(host, item))
  const volumes = /(\d{1,3})\s*(?:v\.|vol|volumes|bände|bde|tomes|t\.)/i.exec(one('300') ?? '')?.[1]
  if (volumes && !host) item['number-of-volumes'] = volumes
  const pages = pageCount(item.page) ?? pagesOfExtent(one('300'))
  const subjects = tagged('600', '610', '611', '630', '647', '648', '650', '651').flatMap(f => {
    const said = all(f, 'abtvxyz').flatMap(s => bare(s) ?? [])
    return said.length ? said.join(' — ') : []
  })
  const keywords = tagged('653').flatMap(f => all(f, 'a').flatMap(s => bare(s) ?? []))
  const shelf = shelfHoldingsOfMarc(record).map(({ branch, call, note }) => withoutUndefined({ branch, call, note }))
  const runs = tagged('866').map(f => all(f, 'az').join(', '))
  const open = tagged('856').find(
    f => f.indicators[1] !== '2' && (sub(f, '7') === '0' || /open access|kostenfrei|free/i.test(all(f, 'z').join(' '))),
  )
  const data = [
    // a work that it was made from, or that goes with it, and is said to be data
    ...tagged('786', '787').filter(f => f.tag === '786' || /\bdata/i.test(sub(f, 'i') ?? '')),
    ...tagged('856').filter(f => f.indicators[1] === '2' && /\bdata/i.test(all(f, '3yz').join(' '))),
  ].flatMap(f => dataLink(all(f, 'ou'), bare(sub(f, 't'))))
  const facts = withoutUndefined({
    genre,
    otherTitles: otherTitles(item.title, [
      ...tagged('246').map(f => bare([sub(f, 'a'), sub(f, 'b')].flatMap(t => bare(t) ?? []).join(': '))),
      // what a journal was called before
      ...(isSerial(record) ? tagged('780').map(f => bare(sub(f, 't'))) : []),
    ]),
    subjects: subjects.length ? [...new Set(subjects)] : undefined,
    keywords: keywords.length ? keywords : undefined,
    pageCount: pages,
    openUrl: sub(open, 'u'),
    shelf: shelf.length ? shelf : undefined,
    runs: runs.length ? runs : undefined,
    authorIds: authorIdsAmong(tagged('100', '700').map(f => ({ name: nameOf(f)?.name, beside: all(f, '01') }))),
    grants: grantsAmong(
      tagged('536').flatMap((f): (string | Grant)[] => {
        const funder = bare(sub(f, 'a'))
        const numbers = all(f, 'bcf').flatMap(n => bare(n) ?? [])
        return numbers.length
          ? numbers.map(number => ({ number, ...(funder ? { funder } : {}) }))
          : all(f, 'a').flatMap(a => bare(a) ?? [])
      }),
    ),
    data: data.length ? data : undefined,
    licence: tagged('540')
      .map(f => sub(f, 'u') ?? bare(sub(f, 'a')))
      .find(Boolean),
  }) as Facts
  return { item: withoutUndefined(item), facts }
}

/** What the record calls it: a thesis by its note, else the first of its genres that says a kind. */
function genreOf(record: MarcRecord, tagged: (...tags: string[]) => MarcField[]): string | undefined {
  if (tagged('502').length) return degreeOf(tagged('502')[0]!) ?? 'thesis'
  if (isSerial(record)) return 'journal'
  const genres = tagged('655').flatMap(f => bare(sub(f, 'a')) ?? [])
  return genres.find(g => typeOfTerm(g)) ?? genres[0]
}
const isSerial = (r: MarcRecord): boolean => r.leader[7] === 's'

/** Type of record (leader 06) where it alone decides. */
const BY_LEADER: Record<string, string> = {
  c: 'musical_score', d: 'musical_score', e: 'map', f: 'map', g: 'motion_picture', i: 'song', j: 'song', k: 'graphic', p: 'collection', r: 'figure',
} // prettier-ignore
/** Nature of contents (books, 008/24–27). */
const BY_CONTENTS: Record<string, string> = {
  m: 'thesis',
  t: 'report',
  j: 'patent',
  u: 'standard',
  l: 'legislation',
  v: 'legal_case',
}

function typeOf(record: MarcRecord, host: MarcField | undefined, genre: string | undefined): string {
  if (isSerial(record)) return 'periodical'
  if (record.fields.some(f => f.tag === '502')) return 'thesis'
  const told = typeOfTerm(genre)
  const [type = 'a', level = 'm'] = [record.leader[6], record.leader[7]]
  const coded = record.control.find(([tag]) => tag === '008')?.[1] ?? ''
  const physical = record.control.filter(([tag]) => tag === '007').map(([, v]) => v[0])
  if (type === 'm')
    return told && told !== 'book'
      ? told
      : coded[26] === 'b'
        ? 'software'
        : coded[26] === 'd'
          ? host
            ? 'article-journal'
            : 'book'
          : 'dataset'
  if (type === 'g' && (physical.includes('g') || /[kstn]/.test(coded[33] ?? ''))) return 'graphic'
  if (BY_LEADER[type]) return told && told !== 'book' && told !== 'periodical' ? told : BY_LEADER[type]
  if (host || level === 'a' || level === 'b') return partOf(host, level, told)
  if (told && told !== 'periodical' && told !== 'article-journal') return told
  const contents = [...coded.slice(24, 28)].map(c => BY_CONTENTS[c]).find(Boolean)
  if (contents && (type === 'a' || type === 't')) return contents
  if (type === 't') return 'manuscript'
  if (level === 'i') return 'webpage'
  if (level === 'c') return 'collection'
  return 'book'
}

/** Where in its host it stands: in words (g), and what those leave open by the enumeration for machines (q). */
function placeIn(host: MarcField | undefined): Part {
  const [words, coded] = ['g', 'q'].map(code => readPart(all(host, code).join(', ')))
  const { strange: _, ...place } = { ...coded!, ...words! }
  return place
}

/** What stands in a host: in a journal or paper by what is said of the host, else in a book. */
function partOf(host: MarcField | undefined, level: string, told: string | undefined): string {
  const place = placeIn(host)
  const inSerial =
    level === 'b' ||
    sub(host, '7')?.[3] === 's' ||
    Boolean(normaliseIssn(sub(host, 'x'))) ||
    Boolean(place.issue ?? (place.volume && !sub(host, 'z')))
  const inBook = Boolean(normaliseIsbn(sub(host, 'z'))) || sub(host, '7')?.[3] === 'm'
  if (told && !['book', 'periodical', 'article-journal', 'chapter'].includes(told)) return told
  if (inBook && !sub(host, 'x')) return 'chapter'
  return inSerial || (told === 'article-journal' && !inBook) ? 'article-journal' : 'chapter'
}

function titlesOf(tagged: (...tags: string[]) => MarcField[]): Partial<Item> {
  const f = tagged('245')[0]
  let title = ''
  let wasParallel = false
  for (const [code, value] of f?.subfields ?? []) {
    if (!'abnpk'.includes(code)) continue
    // what follows an equals sign is the title again in another tongue
    const text = bare(value.split(/ = /)[0])
    if (text && !(wasParallel && code === 'b'))
      title += !title
        ? text
        : code === 'b'
          ? `: ${text}`
          : code === 'p' && /[\p{L}\d],?$/u.test(title) && title.includes('. ')
            ? `, ${text}`
            : `. ${text}`
    wasParallel = /=\s*$/.test(value)
  }
  const original = tagged('240').find(x => sub(x, 'l'))
  return withoutUndefined({
    title: unshout(title) || undefined,
    'original-title': bare(sub(original, 'a')) ?? bare(sub(tagged('765')[0], 't')),
  })
}

/** Words of a statement of responsibility that make those named behind them editors or translators. */
const BEFORE: [Role, RegExp][] = [
  ['editor', /\b(edited|editors?|eds?\.|hrsg|herausgegeben|sous la direction|dirigé|a cura di|redigerad|onder redactie|coordinad|red\.)/iu],
  ['translator', /\b(translated|übersetzt|aus dem .{3,20} von|traduit|traducido|traduzione|tradotto|oversatt|översatt|vertaald)/iu],
  ['illustrator', /\b(illustrated|illustriert|illustré|ill\.)/iu],
] // prettier-ignore

function namesOf(tagged: (...tags: string[]) => MarcField[], statement = ''): Partial<Item> {
  const found = new Map<Role, Name[]>()
  const out: Partial<Item> = {}
  for (const f of tagged('100', '110', '700', '710', '720')) {
    // a name with a title is another work of that person
    if (f.tag[0] === '7' && sub(f, 't')) continue
    const heading = nameOf(f)
    if (!heading) continue
    const said = [...all(f, '4'), ...all(f, 'e')].flatMap(s => bare(s) ?? [])
    if (heading.role) said.push(heading.role)
    // one of several roles that is cited is enough; of them the first
    const roles = said.map(roleOf).filter(r => r !== undefined)
    const cited = roles.find(r => r !== 'contributor') ?? roles[0]
    if (said.length && !cited) continue
    const role = cited ?? (f.tag[0] === '1' ? 'author' : (roleIn(statement, heading.name) ?? 'author'))
    const list = found.get(role) ?? found.set(role, []).get(role)!
    const key = JSON.stringify(heading.name)
    if (!list.some(n => JSON.stringify(n) === key)) list.push(heading.name)
  }
  for (const [role, names] of found) out[role] = names
  const meeting = tagged('111')[0] ?? tagged('711').find(f => !sub(f, 't'))
  if (meeting) {
    out['event-title'] = bare(bracketsOff(sub(meeting, 'a')))
    out['event-place'] = bare(bracketsOff(sub(meeting, 'c')))
    const date = sub(meeting, 'd')
    if (date) out['event-date'] = readDate(date)
  }
  return withoutUndefined(out)
}
const bracketsOff = (s: string | undefined): string | undefined => s?.replace(/[()]/g, '')

function nameOf(f: MarcField): { name: Name; role?: string } | undefined {
  if (f.tag.endsWith('10')) {
    const body = all(f, 'ab').flatMap(s => bare(s) ?? [])
    return body.length ? { name: { literal: body.join('. ') } } : undefined
  }
  const text = all(f, 'a')[0]
  if (!text) return undefined
  // numeration and titles of rulers and popes belong to the name
  const numeration = bare(sub(f, 'b'))
  if (f.indicators[0] === '0') return { name: { literal: [bare(text), numeration].filter(Boolean).join(' ') } }
  const heading = readHeading(withoutEnd(text, /[\s,;:/]/))
  const suffix = bare(sub(f, 'c'))
  if (heading && suffix && /^(jr|sr|ii|iii|iv)\b/i.test(suffix)) heading.name.suffix = suffix
  return heading
}

/** The role that a statement of responsibility gives somebody: the last word of a role before the name. */
function roleIn(statement: string, name: Name): Role | undefined {
  const at = statement.indexOf(name.family ?? name.literal ?? '')
  if (at < 0) return undefined
  const before = statement.slice(0, at).split(';').at(-1)!
  return BEFORE.find(([, is]) => is.test(before))?.[0]
}

function issuedOf(said: string | undefined, coded: string) {
  const read = said ? readDate(said.replace(/\[(\d)/g, '$1')) : undefined
  if (read?.['date-parts']) return read
  const year = /^(1[0-9]|20)\d{2}$/.exec(coded.slice(7, 11))?.[0]
  return year ? { 'date-parts': [[Number(year)]] } : read
}

function doiOf(tagged: (...tags: string[]) => MarcField[]): string | undefined {
  const given = tagged('024').filter(f => /doi/i.test(sub(f, '2') ?? '') || /doi\.|^10\./i.test(sub(f, 'a') ?? ''))
  const places = [
    ...given.map(f => sub(f, 'a')),
    ...tagged('856')
      .filter(f => f.indicators[1] !== '2')
      .map(f => sub(f, 'u'))
      .filter(u => /doi/i.test(u ?? '')),
  ]
  return places.map(normaliseDoi).find(Boolean)
}

/** "Thesis (Ph. D.)--Halverane University, 2019", "Ostmere, Univ., Diss., 2019", or in subfields of their own. */
function degreeOf(f: MarcField): string | undefined {
  const said = sub(f, 'a') ?? ''
  return (
    bare(sub(f, 'b')) ??
    /\(([^()]{2,40})\)/.exec(said)?.[1] ??
    (/-{2}|—/.test(said) || /,/.test(said)
      ? /\b(Diss|Habil|Mag|Master|Bachelor|Doctoral|Thesis)[\p{L}. ]{0,20}/u.exec(said)?.[0].trim()
      : bare(said))
  )
}
function thesisOf(f: MarcField, item: Item): Partial<Item> {
  const said = sub(f, 'a') ?? ''
  const behind = /(?:-{2}|—|–)\s*(.+)$/.exec(said)?.[1]
  const parts = (behind ?? '').split(/,\s*/)
  const school = bare(sub(f, 'c')) ?? bare(parts.filter(p => !/^\[?\d{4}/.test(p)).join(', '))
  const year = sub(f, 'd') ?? (item.issued?.['date-parts'] ? undefined : /(?<!\d)(1[89]|20)\d{2}(?!\d)/.exec(said)?.[0])
  return withoutUndefined({
    genre: degreeOf(f),
    publisher: school ?? item.publisher,
    ...(year && !item.issued?.['date-parts'] ? { issued: readDate(year) } : {}),
  })
}

/** The journal or book it stands in (773), with the place in it in whatever wording. */
function hostOf(host: MarcField, item: Item): Partial<Item> {
  const place = placeIn(host)
  const title =
    bare(sub(host, 't')) ??
    bare(sub(host, 's')) ??
    (sub(host, 'a') && !sub(host, 't') && item.type === 'article-journal' ? bare(sub(host, 'a')) : undefined)
  const imprint = /^(?:(.{2,60}?)\s*:\s*)?(.+?)(?:,\s*\[?c?(\d{4})\]?)?\.?$/.exec((sub(host, 'd') ?? '').slice(0, 300))
  const inBook = item.type === 'chapter'
  const by = inBook && sub(host, 't') ? readHeading(sub(host, 'a') ?? '')?.name : undefined
  return withoutUndefined({
    'container-title': title,
    ...place,
    // a record that has its own date keeps it, unless the place says the day of the same year
    issued: finer(item.issued, place.issued) ?? (imprint?.[3] ? readDate(imprint[3]) : undefined),
    ISSN: item.ISSN ?? normaliseIssn(sub(host, 'x')),
    ISBN: item.ISBN ?? normaliseIsbn(sub(host, 'z')),
    publisher: item.publisher ?? (inBook ? bare(imprint?.[2]) : undefined),
    'publisher-place': item['publisher-place'] ?? (inBook ? bare(imprint?.[1]) : undefined),
    'container-author': by ? [by] : undefined,
  })
}

function finer(own: Item['issued'], other: Item['issued']): Item['issued'] {
  const [a, b] = [own?.['date-parts']?.[0], other?.['date-parts']?.[0]]
  if (!a) return other ?? own
  return b && b[0] === a[0] && b.length > a.length && other!['date-parts']!.length === 1 ? other : own
}
