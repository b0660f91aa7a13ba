/**
 * References read back: the works of a made-up world printed in every style on offer, and what the reader makes of each
 * line, field by field.
 * npx tsx bench/references.ts [works] [seed]      SHOW=1 prints what was wrong
 * OTHERS=60 takes that many styles that are not on offer, by chance, in their own languages
 */
import { readdirSync, readFileSync } from 'node:fs'
import type { Item } from '../core/bib/item'
import { formatBibliography } from '../core/cite/format'
import { STYLES } from '../core/cite/styles'
import { readReference } from '../core/match/reference'
import { seeded } from '../core/world/random'
import { WorldMaker } from '../demo/generate'
import { FIELDS, printed } from './reference-fields'

const works = Number(process.argv[2] ?? 400)
const seed = Number(process.argv[3] ?? 21)
const folder = '/usr/share/citation-style-language'
const made = [...new WorldMaker(seed, works, 1)].map(m => m.work.item)
const items = made.map(({ abstract: _, keyword: __, ...i }) => i as Item)

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
  const { entries } = formatBibliography(items, { style, locale })
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
