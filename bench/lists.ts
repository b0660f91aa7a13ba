/**
 * Lists of references as plain text, cut into entries again: the works of a made-up world printed in styles of others,
 * a line each, over several lines, set in, numbered, with empty lines between.
 * npx tsx bench/lists.ts [styles] [seed]      SHOW=1 prints what was cut wrongly
 */
import { readdirSync, readFileSync } from 'node:fs'
import type { Item } from '../core/bib/item'
import { formatBibliography } from '../core/cite/format'
import { listOfText } from '../core/pdftext/plain-list'
import { seeded } from '../core/world/random'
import { WorldMaker } from '../demo/generate'

const styles = Number(process.argv[2] ?? 40)
const seed = Number(process.argv[3] ?? 5)
const folder = '/usr/share/citation-style-language'
const random = seeded(seed)
const items = [...new WorldMaker(seed, 400, 1)].map(({ work: { item } }) => {
  const { abstract: _, keyword: __, ...i } = item
  return i as Item
})
const locale = (l: string): string | undefined => {
  try {
    return readFileSync(`${folder}/locales/locales-${l}.xml`, 'utf8')
  } catch {
    return undefined
  }
}
/** Lines no wider than so many letters. */
function wrapped(text: string, width: number, indent = ''): string {
  const lines = ['']
  for (const word of text.split(' ')) {
    const room = width - (lines.length > 1 ? indent.length : 0)
    if (lines.at(-1) && lines.at(-1)!.length + 1 + word.length > room) lines.push(word)
    else lines.push([lines.pop(), word].filter(Boolean).join(' '))
  }
  return lines.join(`\n${indent}`)
}
const WAYS: Record<string, (entries: string[]) => string> = {
  'a line each': e => e.join('\n'),
  'lines of 72': e => e.map(x => wrapped(x, 72)).join('\n'),
  'lines of 100': e => e.map(x => wrapped(x, 100)).join('\n'),
  'hanging lines': e => e.map(x => wrapped(x, 80, '    ')).join('\n'),
  'empty lines between': e => e.map(x => wrapped(x, 80)).join('\n\n'),
  numbered: e => e.map((x, i) => wrapped(`${i + 1}. ${x}`, 90)).join('\n'),
  bracketed: e => `References\n\n${e.map((x, i) => wrapped(`[${i + 1}] ${x}`, 60)).join('\n')}`,
}
const some = readdirSync(`${folder}/styles`)
  .filter(f => f.endsWith('.csl') && /<bibliography/.test(readFileSync(`${folder}/styles/${f}`, 'utf8')))
  .map(f => ({ f, at: random() }))
  .sort((a, b) => a.at - b.at)
  .slice(0, styles)
const told: Record<string, [right: number, all: number]> = {}
for (const { f } of some) {
  const style = readFileSync(`${folder}/styles/${f}`, 'utf8')
  const lang = /default-locale="([\w-]+)"/.exec(style)?.[1] ?? 'en-US'
  for (const size of [4, 25]) {
    const from = Math.floor(random() * (items.length - size))
    const { entries } = formatBibliography(items.slice(from, from + size), { style, locale }, lang)
    // a style of its own numbers prints them in front
    const texts = entries.map(e =>
      e.citation
        .map(r => r.text)
        .join('')
        .replace(/^\s*[[(]?\d{1,3}[\]).]*\s*/, '')
        .replace(/\s+/g, ' ')
        .trim(),
    )
    for (const [way, lay] of Object.entries(WAYS)) {
      const got = new Set(listOfText(lay(texts)).entries.map(e => e.text))
      const wrong = texts.filter(t => !got.has(t))
      const sum = (told[`${way}, ${size}`] ??= [0, 0])
      sum[0] += texts.length - wrong.length
      sum[1] += texts.length
      if (process.env.SHOW) for (const t of wrong) console.log(`${way} ${f}: ${t}`)
    }
  }
}
for (const [way, [right, all]] of Object.entries(told))
  console.log(`${way.padEnd(26)} ${((100 * right) / all).toFixed(1)} % of ${all}`)
