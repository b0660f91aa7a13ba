/**
 * References read back: the works of a made-up world printed in every style on offer, and what the reader makes of each
 * line, field by field.
 * npx tsx bench/references.ts [works] [seed]      SHOW=1 prints what was wrong
 * OTHERS=60 takes that many styles that are not on offer, by chance, in their own languages
 */
import { readdirSync, readFileSync } from 'node:fs'
import type { Item, Name } from '../core/bib/item'
import { foldTitle, fold } from '../core/bib/fold'
import { familyName } from '../core/bib/names'
import { readPages } from '../core/bib/pages'
import { formatBibliography } from '../core/cite/format'
import { STYLES } from '../core/cite/styles'
import { readReference } from '../core/match/reference'
import { seeded } from '../core/world/random'
import { WorldMaker } from '../demo/generate'

const works = Number(process.argv[2] ?? 400)
const seed = Number(process.argv[3] ?? 21)
const folder = '/usr/share/citation-style-language'
const made = [...new WorldMaker(seed, works, 1)].map(m => m.work.item)
const items = made.map(({ abstract: _, keyword: __, ...i }) => i as Item)

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
const FIELDS: Record<string, [(i: Partial<Item>) => boolean, Same]> = {
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
const others = Number(process.env.OTHERS ?? 0)
const ours = new Set<string>(STYLES.map(s => s.id))
const random = seeded(seed)
const styles: { id: string; name: string }[] = others
  ? readdirSync(`${folder}/styles`)
      .filter(f => f.endsWith('.csl') && !ours.has(f.slice(0, -4)))
      .map(f => ({ id: f.slice(0, -4), name: f.slice(0, -4), at: random() }))
      .sort((a, b) => a.at - b.at)
      .filter(({ id }) => /<bibliography/.test(readFileSync(`${folder}/styles/${id}.csl`, 'utf8')))
      .slice(0, others)
  : [...STYLES]

const locale = (l: string): string | undefined => {
  try {
    return readFileSync(`${folder}/locales/locales-${l}.xml`, 'utf8')
  } catch {
    return undefined
  }
}
const all: Record<string, [number, number]> = {}
for (const { id, name } of styles) {
  const style = readFileSync(`${folder}/styles/${id}.csl`, 'utf8')
  const lang = /default-locale="([\w-]+)"/.exec(style)?.[1] ?? 'en-US'
  const { entries } = formatBibliography(items, { style, locale }, lang)
  const tally: Record<string, [number, number]> = {}
  for (const e of entries) {
    const item = items.find(i => i.id === e.id)!
    const { citation: runs } = e
    const line = runs.map(r => r.text).join('')
    const read = readReference(line)
    const wrong: string[] = []
    for (const [field, [has, same]] of Object.entries(FIELDS)) {
      // what the style does not print cannot be read
      if (!has(item) || !printed(field, item, line)) continue
      const ok = same(item, read.item)
      for (const t of [tally, all]) {
        t[field] ??= [0, 0]
        t[field][1]++
        if (ok) t[field][0]++
      }
      if (!ok) wrong.push(field)
    }
    if (process.env.SHOW && wrong.length) console.log(`${wrong.join(',')}\t${line}\n\t\t${JSON.stringify(read.item)}`)
  }
  console.log(
    name.slice(0, 44).padEnd(others ? 46 : 24),
    Object.entries(tally)
      .map(([f, [r, n]]) => `${f} ${((100 * r) / n).toFixed(1)}`)
      .join('  '),
  )
}
const [right, of] = Object.values(all).reduce(([a, b], [r, n]) => [a + r, b + n], [0, 0])
console.log(`all ${((100 * right) / of).toFixed(2)}% of ${of} fields`)

function printed(field: string, item: Item, line: string): boolean {
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
