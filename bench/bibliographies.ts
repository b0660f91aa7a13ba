/** What the benches of joins share: the bibliographies of a folder, and the faults that catalogues and hands make. */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { foldTitle } from '../core/bib/fold'
import type { Item } from '../core/bib/item'
import { yearOf } from '../core/bib/dates'
import { readBibliography, type ReadEntry } from '../core/formats/read-file'
import { decodeText } from '../server/base/decode'

/** The .bib files below a folder, by name. */
export const bibFiles = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter(f => f.endsWith('.bib'))
    .sort()

/** The entries of each .bib file below a folder that have a title; two that are word for word alike count as one. */
export function* bibliographies(folder: string): Generator<{ file: string; entries: ReadEntry[] }> {
  for (const file of bibFiles(folder)) {
    const seen = new Set<string>()
    const entries = (readBibliography(decodeText(readFileSync(join(folder, file))).text)?.entries ?? []).filter(
      ({ item }) => {
        if (!item.title || item.title.length < 4) return false
        const { type, author, issued, page, volume, publisher } = item
        const words = JSON.stringify([type, foldTitle(item.title), author, issued, page, volume, publisher])
        return !seen.has(words) && seen.add(words)
      },
    )
    if (entries.length >= 5) yield { file, entries }
  }
}

export type Fault = (item: Item, random: () => number) => Item | undefined
const slip = (text: string, random: () => number): string => {
  const at = 1 + Math.floor(random() * (text.length - 2))
  const kind = Math.floor(random() * 3)
  if (kind === 0) return text.slice(0, at) + text.slice(at + 1)
  if (kind === 1) return text.slice(0, at) + text[at] + text.slice(at)
  return text.slice(0, at) + text[at + 1] + text[at] + text.slice(at + 2)
}
/** An item less some of its fields; undefined where it has none of them. */
export const without = (item: Item, ...fields: (keyof Item)[]): Item | undefined => {
  if (!fields.some(f => item[f] !== undefined)) return undefined
  const left = { ...item }
  for (const f of fields) delete left[f]
  return left
}
const abbreviate = (name: string): string =>
  name
    .split(' ')
    .filter(w => !/^(of|the|and|for|in|on|der|des|de|la|et|und)$/i.test(w))
    .map(w => (w.length > 5 ? `${w.slice(0, 4)}.` : w))
    .join(' ')

/** One fault each; undefined where an entry has nothing that could be wrong so. */
export const faults: Record<string, Fault> = {
  'a slip in the title': (i, r) => (i.title && i.title.length > 8 ? { ...i, title: slip(i.title, r) } : undefined),
  'no subtitle': i => {
    const at = i.title?.search(/[:.?!] /) ?? -1
    return at > 5 ? { ...i, title: i.title!.slice(0, at) } : undefined
  },
  'title in capitals': i => (i.title ? { ...i, title: i.title.toUpperCase() } : undefined),
  'initials for given names': i =>
    i.author?.some(a => (a.given?.length ?? 0) > 2)
      ? { ...i, author: i.author.map(a => (a.given ? { ...a, given: `${a.given[0]}.` } : a)) }
      : undefined,
  'first author only': i => (i.author && i.author.length > 1 ? { ...i, author: i.author.slice(0, 1) } : undefined),
  'a slip in the first author': (i, r) => {
    const [first, ...rest] = i.author ?? []
    return first?.family && first.family.length > 4
      ? { ...i, author: [{ ...first, family: slip(first.family, r) }, ...rest] }
      : undefined
  },
  'no authors': i => without(i, 'author'),
  'container abbreviated': i => {
    const short = i['container-title'] && abbreviate(i['container-title'])
    return short && short !== i['container-title'] ? { ...i, 'container-title': short } : undefined
  },
  'no container': i => without(i, 'container-title'),
  'a year later': i => {
    const year = yearOf(i)
    return year ? { ...i, issued: { 'date-parts': [[year + 1]] } } : undefined
  },
  'no year': i => without(i, 'issued'),
  'first page only': i => {
    const first = i.page && /^\w+/.exec(i.page)?.[0]
    return first && first !== i.page ? { ...i, page: first } : undefined
  },
  'no volume, issue, pages': i => without(i, 'volume', 'issue', 'page'),
  'type unknown': i => (i.type === 'article-journal' ? { ...i, type: 'document' } : undefined),
}
