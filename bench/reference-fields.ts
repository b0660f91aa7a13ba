import { fold, foldTitle } from '../core/bib/fold'
import type { Item, Name } from '../core/bib/item'
import { familyName } from '../core/bib/names'
import { readPages } from '../core/bib/pages'

const year = (i: Partial<Item>) => i.issued?.['date-parts']?.[0]?.[0]
const families = (names: Name[] | undefined) => (names ?? []).map(n => fold(familyName(n))).join('|')
const pages = (p: unknown) => {
  const r = readPages(String(p ?? ''))
  return r ? `${r.prefix}${r.first}-${r.last}` : ''
}
type Same = (a: Partial<Item>, b: Partial<Item>) => boolean
const text = (k: keyof Item): [(i: Partial<Item>) => boolean, Same] => [
  i => Boolean(i[k]),
  (a, b) => foldTitle(String(a[k] ?? '')) === foldTitle(String(b[k] ?? '')),
]
/** Fields of a reference that are compared: whether an item has one, and whether what was read is the same. */
export const FIELDS: Record<string, [(i: Partial<Item>) => boolean, Same]> = {
  // styles cut long lists: the first three are compared
  authors: [
    i => Boolean(i.author),
    (a, b) =>
      families(a.author?.slice(0, 3)) === families(b.author?.slice(0, Math.min(3, a.author?.length ?? 0))) ||
      (families(a.author?.slice(0, 1)) === families(b.author?.slice(0, 1)) && (b.author?.length ?? 0) < 3),
  ],
  year: [i => Boolean(year(i)), (a, b) => Number(year(a)) === Number(year(b))],
  title: text('title'),
  container: text('container-title'),
  volume: text('volume'),
  issue: text('issue'),
  pages: [i => Boolean(i.page), (a, b) => pages(a.page) === pages(b.page)],
  publisher: [
    i => Boolean(i.publisher) && ['book', 'chapter', 'thesis', 'report'].includes(i.type!),
    text('publisher')[1],
  ],
  DOI: text('DOI'),
}
/** Whether a line prints a field at all. */
export function printed(field: string, item: Item, line: string): boolean {
  const has = (s: unknown) => fold(line).includes(fold(String(s ?? '')))
  switch (field) {
    case 'authors':
      return has(familyName(item.author![0]!))
    case 'year':
      return has(year(item))
    case 'volume':
    case 'issue':
      return new RegExp(`(?<!\\d)${String(item[field])}(?!\\d)`).test(line)
    case 'pages':
      return has(readPages(item.page)?.first)
    case 'DOI':
      return has(item.DOI)
    default:
      return foldTitle(line).includes(foldTitle(String(item[field === 'container' ? 'container-title' : field] ?? '')))
  }
}
