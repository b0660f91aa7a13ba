import { compile } from 'json-p3'
import LinkHeader from 'http-link-header'
import { clean } from '../bib/clean'
import type { Facts, Grant, Name, ReadRecord } from '../bib/item'
import { joinGrants, readGrants } from '../bib/grants'
import { normaliseAuthorId } from '../bib/identifiers'
import { mendItem } from '../bib/mend-item'
import { readName } from '../bib/names'
import { factsOfRegistry } from '../bib/registry'
import { finish } from '../formats/entry'
import type { Call, Fields, TallyCall } from './description'
import type { Place } from './request'

export interface AnsweredRecord extends ReadRecord {
  /** As it came. */
  raw: string
}
export interface AnswerPage {
  /** How many there are in all, where that is said. */
  total?: number
  records: AnsweredRecord[]
  /** Records that could not be read, with the place from 1 in this page. */
  unread: { position: number; why: string; raw: string }[]
  /** Where the next page is; nothing after the last. */
  next?: Place
}

/**
 * Reads an answer by its description.
 * @param link the answer's Link header (RFC 8288)
 * @param asked the address that answered, for those that are relative to it
 * @throws SyntaxError where it is no JSON; RangeError where it is nested too deep
 */
export function readAnswer(
  call: Call,
  text: string,
  link: string | undefined,
  place: Place,
  asked: string,
): AnswerPage {
  const answer = clean(JSON.parse(text) as unknown)
  const given = all(call.records, answer)
  const page: AnswerPage = { records: [], unread: [] }
  given.forEach((value, i) => {
    const raw = JSON.stringify(value)
    const read = typeof value === 'object' && value !== null ? readFields(call, value) : { why: 'It is no object.' }
    if ('why' in read) page.unread.push({ position: i + 1, why: read.why, raw })
    else page.records.push({ ...read, raw })
  })
  const total = call.total ? countOf(first(call.total, answer)) : undefined
  if (total !== undefined) page.total = total
  const next = given.length ? nextOf(call, answer, link, place, asked, given.length, total) : undefined
  if (next) page.next = next
  return page
}

/**
 * Reads how works are cited: pairs of a number of citations and of works, by the number; what is no count is left out.
 * @throws SyntaxError where it is no JSON; RangeError where it is nested too deep
 */
export function readTallies(call: TallyCall, text: string): [citedBy: number, works: number][] {
  const sums = new Map<number, number>()
  for (const tally of all(call.tallies, clean(JSON.parse(text) as unknown))) {
    if (typeof tally !== 'object' || tally === null) continue
    const [citedBy, works] = [countOf(first(call.citedBy, tally)), countOf(first(call.works, tally))]
    if (citedBy !== undefined && works !== undefined) sums.set(citedBy, (sums.get(citedBy) ?? 0) + works)
  }
  return [...sums].sort((a, b) => a[0] - b[0])
}

function nextOf(
  { paging }: Call,
  answer: unknown,
  link: string | undefined,
  place: Place,
  asked: string,
  got: number,
  total: number | undefined,
): Place | undefined {
  if (!paging) return undefined
  const told = paging.next ? first(paging.next, answer) : undefined
  const at = 'address' in place ? { offset: 0, page: 1 } : place
  if (paging.by === 'link') {
    const address = paging.next ? told : linked(link)
    if (typeof address !== 'string' || !URL.canParse(address, asked)) return undefined
    const to = new URL(address, asked)
    // what is sent along is for that server alone
    if (to.origin !== new URL(asked).origin) return undefined
    const next = to.href
    return next === asked || ('address' in place && next === place.address) ? undefined : { address: next }
  }
  const on = { offset: at.offset + got, page: at.page + 1 }
  if (paging.by === 'cursor') {
    const cursor = typeof told === 'string' || typeof told === 'number' ? String(told) : ''
    return cursor && !('cursor' in at && at.cursor === cursor) ? { ...on, cursor } : undefined
  }
  if (paging.next) {
    const number = countOf(told)
    // one that does not lead on would go round for ever
    if (number === undefined || number <= (paging.by === 'page' ? at.page : at.offset)) return undefined
    return paging.by === 'page' ? { ...on, page: number } : { ...on, offset: number }
  }
  const more = total === undefined ? got >= paging.size : on.offset < total
  return more ? on : undefined
}

function linked(header: string | undefined): string | undefined {
  try {
    return header ? LinkHeader.parse(header).rel('next')[0]?.uri : undefined
  } catch {
    return undefined
  }
}

const TEXTS = {
  type: 'type', title: 'title', subtitle: 'subtitle', date: 'issued', container: 'container-title', volume: 'volume', issue: 'issue',
  pages: 'page', publisher: 'publisher', place: 'publisher-place', edition: 'edition', doi: 'DOI', isbn: 'ISBN', issn: 'ISSN',
  address: 'URL', abstract: 'abstract', language: 'language', genre: 'genre',
} as const satisfies Partial<Record<keyof Fields, string>> // prettier-ignore

function readFields({ fields, types }: Call, record: object): ReadRecord | { why: string } {
  const value = (name: keyof Fields) => (typeof fields[name] === 'string' ? first(fields[name], record) : undefined)
  const whole = value('item')
  const raw: Record<string, unknown> = typeof whole === 'object' && whole !== null ? { ...whole } : {}
  for (const [name, as] of Object.entries(TEXTS)) {
    const v = value(name as keyof Fields)
    if (v !== undefined) raw[as] = v
  }
  const [from, to] = [value('firstPage'), value('lastPage')]
  if (raw.page === undefined && from !== undefined)
    raw.page = [from, to]
      .filter(p => p !== undefined)
      .map(String)
      .join('-')
  for (const [name, as] of [
    ['authors', 'author'],
    ['editors', 'editor'],
  ] as const) {
    const list = namesOf(fields[name], record)
    if (list.length) raw[as] = list
  }
  raw.type = types?.find(t => t.said === raw.type)?.is ?? raw.type
  const read = mendItem(raw, 'answer')
  if ('why' in read) return read
  if (!read.item.title && !read.item.author) return { why: 'It has neither a title nor an author.' }
  const { item, facts } = finish(read.item, read.mended)
  return { item, facts: { ...facts, ...factsOfRegistry(raw), ...factsOf(fields, record) } }
}

function factsOf(fields: Fields, record: object): Facts {
  const value = (path: string | undefined) => (path ? first(path, record) : undefined)
  const texts = (path: string | undefined) =>
    path
      ? all(path, record)
          .flat()
          .filter((v): v is string => typeof v === 'string' && v.trim() !== '')
      : []
  const [genre, refereed, open] = [value(fields.genre), value(fields.refereedVenue), value(fields.openCopy)]
  const [field, licence] = [value(fields.field), value(fields.licence)]
  const [authorIds, grants] = [idsOf(fields.authors, record), grantsOf(fields.grants, record)]
  const [citedBy, references] = [countOf(value(fields.citedBy)), countOf(value(fields.references))]
  const [keywords, subjects] = [texts(fields.keywords), texts(fields.subjects)]
  return {
    ...(typeof genre === 'string' && genre ? { genre } : {}),
    ...(typeof field === 'string' && field ? { field } : {}),
    ...(typeof refereed === 'boolean' ? { refereedVenue: refereed } : {}),
    ...(references === undefined ? {} : { referenceCount: references }),
    ...(citedBy === undefined ? {} : { citedByCount: citedBy }),
    ...(typeof open === 'string' && URL.canParse(open) ? { openUrl: open } : {}),
    ...(keywords.length ? { keywords } : {}),
    ...(subjects.length ? { subjects } : {}),
    ...(typeof licence === 'string' && licence ? { licence } : {}),
    ...(authorIds.length ? { authorIds } : {}),
    ...(grants.length ? { grants } : {}),
  }
}

/** Identifiers of the authors that have one. */
function idsOf(of: Fields['authors'], record: object): NonNullable<Facts['authorIds']> {
  if (!of?.identifier) return []
  return all(of.each, record).flatMap(n => {
    if (typeof n !== 'object' || n === null) return []
    const part = (path: string | undefined) => textOf(path ? first(path, n) : undefined)
    const id = normaliseAuthorId(part(of.identifier))
    const [family, given, whole] = [part(of.family), part(of.given), part(of.name)]
    const name: Name | undefined = family
      ? { family, ...(given ? { given } : {}) }
      : whole
        ? readName(whole)
        : undefined
    return id && name ? [{ name, id }] : []
  })
}

function grantsOf(of: Fields['grants'], record: object): Grant[] {
  if (!of) return []
  const told = all(of.each, record).flatMap((g): Grant[] => {
    if (typeof g === 'string') return readGrants(g)
    if (typeof g !== 'object' || g === null) return []
    const part = (path: string | undefined) => textOf(path ? first(path, g) : undefined)
    const [number, funder, title] = [part(of.number), part(of.funder), part(of.title)]
    if (!number && !funder) return []
    return [{ ...(number ? { number } : {}), ...(funder ? { funder } : {}), ...(title ? { title } : {}) }]
  })
  return joinGrants(told)
}

/** A text or a number that is short enough to be a name. */
const textOf = (v: unknown): string | undefined =>
  (typeof v === 'string' || typeof v === 'number') && String(v).length <= 500
    ? String(v).trim() || undefined
    : undefined

function namesOf(of: Fields['authors'], record: object): unknown[] {
  if (!of) return []
  const { each, name, family, given } = of
  return all(each, record).flatMap((n): unknown[] => {
    if (typeof n !== 'object' || n === null) return n === null ? [] : [n]
    const part = (path: string | undefined) => (path ? first(path, n) : undefined)
    const [f, g, whole] = [part(family), part(given), part(name)]
    if (f !== undefined) return [{ family: f, ...(g === undefined ? {} : { given: g }) }]
    return whole === undefined ? [] : [whole]
  })
}

const paths = new Map<string, ReturnType<typeof compile>>()
function all(path: string, value: unknown): unknown[] {
  let query = paths.get(path)
  if (!query) paths.set(path, (query = compile(path)))
  return query.query(value as Parameters<typeof query.query>[0]).values()
}
/** The first value that says something. */
const first = (path: string, value: unknown): unknown =>
  all(path, value).find(v => v !== null && v !== undefined && v !== '')

/** A count, as number or text. */
function countOf(v: unknown): number | undefined {
  const n = typeof v === 'string' && /^\d{1,15}$/.test(v) ? Number(v) : v
  return Number.isSafeInteger(n) && (n as number) >= 0 ? (n as number) : undefined
}
