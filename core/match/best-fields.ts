import { foldTitle } from '../bib/fold'
import type { Facts, Item } from '../bib/item'
import type { MatchRecord } from './records'

export interface BuiltWork {
  item: Item
  facts: Facts
  /** For each field of the item, the id of the record it was taken from. */
  from: Record<string, number>
}

/**
 * A work from its records: each field from its best record. A fuller list of authors, an abstract of more words and a
 * title in mixed case are better; otherwise the record with most fields, then the one that came first.
 */
export function buildWork(records: readonly MatchRecord[]): BuiltWork {
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
  return { item, facts: joinFacts(order.map(r => r.facts)), from }
}

const titleRank = (t: string): number => (/\p{Ll}/u.test(t) ? 1000 : 0) + Math.min(foldTitle(t).length, 400)
const authorRank = (i: Item): number =>
  (i.author ?? []).reduce((n, a) => n + (a.family ? 2 : 1) + (a.given ? Math.min(a.given.length, 12) / 12 : 0), 0)
const datePrecision = (i: Item): number => i.issued?.['date-parts']?.[0]?.length ?? 0

function joinFacts(list: Facts[]): Facts {
  const out: Facts = {}
  for (const f of list) {
    for (const [k, v] of Object.entries(f) as [keyof Facts, never][]) {
      if (k === 'keywords' || k === 'subjects') out[k] = [...new Set([...(out[k] ?? []), ...(v as string[])])]
      else if (out[k] === undefined) out[k] = v
    }
  }
  return out
}
