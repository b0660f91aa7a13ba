import { partsAt } from '../bib/clean'
import { foldTitle } from '../bib/fold'
import { joinGrants } from '../bib/grants'
import type { DataLink, Facts, Grant, Item, Update } from '../bib/item'
import { readDate } from '../bib/dates'
import { readName } from '../bib/names'
import type { MatchRecord } from './records'

/** A field of a work as the student wants it: taken from another of its records, or written by hand. */
export type FieldChoice = { record: number } | { text: string }

/** Fields of a work that can be chosen from another record or corrected by hand. */
export const FIELDS = [
  'title',
  'author',
  'editor',
  'issued',
  'container-title',
  'volume',
  'issue',
  'page',
  'publisher',
  'edition',
  'DOI',
  'ISBN',
  'URL',
  'language',
  'abstract',
] as const
export type Field = (typeof FIELDS)[number]
export type Chosen = Partial<Record<Field, FieldChoice>>

export interface BuiltWork {
  item: Item
  facts: Facts
  /** For each field of the item, the id of the record it was taken from; 0 where the student wrote it. */
  from: Record<string, number>
}

/**
 * A work from its records: each field from its best record. A fuller list of authors, an abstract of more words and a
 * title in mixed case are better; otherwise the record with most fields, then the one that came first. What the student
 * chose or wrote stands before all of it; a choice of a record that is of another work by now counts for nothing.
 */
export function buildWork(records: readonly MatchRecord[], said: Chosen = {}): BuiltWork {
  const ranked = [...records].sort((a, b) => Object.keys(b.item).length - Object.keys(a.item).length || a.id - b.id)
  const published = ranked.filter(r => r.facts.version !== 'preprint' && r.facts.version !== 'accepted manuscript')
  const order = [...published, ...ranked.filter(r => !published.includes(r))]
  const item = { id: '', type: 'document' } as Item
  const from: Record<string, number> = {}
  const take = (field: string, better: (a: MatchRecord, b: MatchRecord) => number = () => 0) => {
    const best = order.filter(r => r.item[field] !== undefined && r.item[field] !== '').sort(better)[0]
    if (!best) return
    item[field] = best.item[field]
    from[field] = best.id
  }
  const fields = new Set(order.flatMap(r => Object.keys(r.item)))
  fields.delete('id')
  for (const f of fields) {
    if (f === 'title') take(f, (a, b) => titleRank(b.item.title!) - titleRank(a.item.title!))
    else if (f === 'author') take(f, (a, b) => authorRank(b.item) - authorRank(a.item))
    else if (f === 'abstract') take(f, (a, b) => b.item.abstract!.length - a.item.abstract!.length)
    else if (f === 'issued') take(f, (a, b) => datePrecision(b.item) - datePrecision(a.item))
    else if (f === 'type') take(f, (a, b) => Number(a.item.type === 'document') - Number(b.item.type === 'document'))
    else take(f)
  }
  for (const [field, choice] of Object.entries(said)) {
    const own = 'text' in choice
    const value = own ? readField(field as Field, choice.text) : records.find(r => r.id === choice.record)?.item[field]
    if (value === undefined) continue
    item[field] = value
    from[field] = own ? 0 : choice.record
  }
  return { item, facts: joinFacts(order.map(r => r.facts)), from }
}

/**
 * A field as a student writes it: authors one a line or parted by semicolons, "Family, Given"; a date as a year or
 * year-month-day. Undefined where it cannot be read.
 */
export function readField(field: Field, text: string): unknown {
  const t = text.trim()
  if (!t) return undefined
  if (field === 'issued') return readDate(t)
  if (field === 'author' || field === 'editor') return partsAt(t, /[;\n]/).filter(Boolean).map(readName)
  return t
}

/** A field as it is written by hand: what `readField` reads back. */
export function writeField(item: Item, field: Field): string {
  if (field === 'issued')
    return (item.issued?.['date-parts']?.[0] ?? [])
      .map((p, i) => (i ? String(p).padStart(2, '0') : String(p)))
      .join('-')
  if (field === 'author' || field === 'editor')
    return (item[field] ?? [])
      .map(
        a =>
          a.literal ??
          [
            [a['non-dropping-particle'], a.family].filter(Boolean).join(' '),
            [a.given, a['dropping-particle']].filter(Boolean).join(' '),
            a.suffix,
          ]
            .filter(Boolean)
            .join(', '),
      )
      .join('; ')
  const v = item[field]
  return v === undefined || v === null ? '' : String(v as string)
}

const titleRank = (t: string): number => (/\p{Ll}/u.test(t) ? 1000 : 0) + Math.min(foldTitle(t).length, 400)
const authorRank = (i: Item): number =>
  (i.author ?? []).reduce((n, a) => n + (a.family ? 2 : 1) + (a.given ? Math.min(a.given.length, 12) / 12 : 0), 0)
const datePrecision = (i: Item): number => i.issued?.['date-parts']?.[0]?.length ?? 0

function joinFacts(list: Facts[]): Facts {
  const out: Facts = {}
  for (const f of list) {
    for (const [k, v] of Object.entries(f) as [keyof Facts, never][]) {
      if (k === 'keywords' || k === 'subjects' || k === 'otherTitles' || k === 'dataOf')
        out[k] = [...new Set([...(out[k] ?? []), ...(v as string[])])]
      else if (k === 'grants') out.grants = joinGrants([...(out.grants ?? []), ...(v as Grant[])])
      else if (k === 'authorIds') out.authorIds = onceEach([...(out.authorIds ?? []), ...(v as AuthorIds)], a => a.id)
      else if (k === 'updates' || k === 'updatedBy')
        out[k] = onceEach([...(out[k] ?? []), ...(v as Update[])], u => `${u.doi} ${u.type}`)
      else if (k === 'data')
        out.data = onceEach([...(out.data ?? []), ...(v as DataLink[])], d => d.doi ?? d.address ?? d.title ?? '')
      else if (out[k] === undefined) out[k] = v
    }
  }
  return out
}

type AuthorIds = NonNullable<Facts['authorIds']>
/** The first of each key. */
const onceEach = <T>(of: readonly T[], keyOf: (x: T) => string): T[] =>
  [...new Map(of.toReversed().map(x => [keyOf(x), x])).values()].toReversed()
