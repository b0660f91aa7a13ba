/**
 * Lists of references as plain text: cut into entries again, and held against works. The works of a made-up world are
 * printed in styles of others, a line each, over several lines, set in, numbered, with empty lines between; then with
 * parts that are missing, shortened or wrong.
 * npx tsx bench/lists.ts [styles] [seed]      SHOW=1 prints what was cut or found wrongly
 */
import { readdirSync, readFileSync } from 'node:fs'
import type { Item } from '../core/bib/item'
import { yearOf } from '../core/bib/dates'
import { formatBibliography } from '../core/cite/format'
import { Finder } from '../core/match/finder'
import { compareEntry, readEntry, settle, verdictOf } from '../core/match/settle'
import { listOfText } from '../core/pdftext/plain-list'
import { seeded } from '../core/world/random'
import { WorldMaker } from '../demo/generate'

const styles = Number(process.argv[2] ?? 40)
const seed = Number(process.argv[3] ?? 5)
const folder = '/usr/share/citation-style-language'
const random = seeded(seed)
const items = [...new WorldMaker(seed, 4000, 1)].map(({ work: { item } }) => {
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
const some = readdirSync(`${folder}/styles`)
  .filter(f => f.endsWith('.csl') && /<bibliography/.test(readFileSync(`${folder}/styles/${f}`, 'utf8')))
  .map(f => ({ f, at: random() }))
  .sort((a, b) => a.at - b.at)
  .slice(0, styles)
/** Items as a style prints them. */
function printed(f: string, list: readonly Item[]): { id: string; text: string }[] {
  const style = readFileSync(`${folder}/styles/${f}`, 'utf8')
  return formatBibliography(list, { style, locale }).entries.map(e => ({
    id: e.id,
    // a style of its own numbers prints them in front
    text: e.citation
      .map(r => r.text)
      .join('')
      .replace(/^\s*[[(]?\d{1,3}[\]).]*\s*/, '')
      .replace(/\s+/g, ' ')
      .trim(),
  }))
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
const told: Record<string, [right: number, all: number]> = {}
for (const { f } of some)
  for (const size of [4, 25]) {
    const from = Math.floor(random() * (items.length - size))
    const texts = printed(f, items.slice(from, from + size)).map(e => e.text)
    for (const [way, lay] of Object.entries(WAYS)) {
      const got = new Set(listOfText(lay(texts)).entries.map(e => e.text))
      const wrong = texts.filter(t => !got.has(t))
      const sum = (told[`${way}, ${size}`] ??= [0, 0])
      sum[0] += texts.length - wrong.length
      sum[1] += texts.length
      if (process.env.SHOW) for (const t of wrong) console.log(`${way} ${f}: ${t}`)
    }
  }
console.log('entries cut as they were')
for (const [way, [right, all]] of Object.entries(told))
  console.log(`  ${way.padEnd(26)} ${((100 * right) / all).toFixed(1)} % of ${all}`)

/** A name as a manner shortens it: "Annals of Flower Biology", "Anna. Flow. Biol." */
const short = (name: string): string =>
  name
    .split(' ')
    .filter(w => !/^(of|the|and|for|in|on)$/i.test(w))
    .map(w => (w.length > 5 ? `${w.slice(0, 4)}.` : w))
    .join(' ')
const bare = ({ DOI: _, URL: __, ...i }: Item): Item => i as Item
const PARTS: Record<string, (i: Item) => Item> = {
  'as it is': i => i,
  'without its DOI': bare,
  'journal shortened': i => ({
    ...bare(i),
    ...(i['container-title'] ? { 'container-title': short(i['container-title']) } : {}),
  }),
  'year one off': i => ({ ...bare(i), issued: { 'date-parts': [[(yearOf(i) ?? 2000) + 1]] } }),
}
const known = items.slice(0, 3000)
const ids = new Set(known.map(i => i.id))
const finder = new Finder(known)
const tally = () => ({ n: 0, right: 0, wrong: 0, asked: 0, others: 0, taken: 0 })
function look(text: string, id: string, t: ReturnType<typeof tally>): void {
  const entry = readEntry(text)
  const near = finder.find(entry).map(i => known[i]!)
  const shares = settle(entry, near)
  const verdict = verdictOf(shares)
  const best = near[shares.indexOf(Math.max(...shares))]
  if (!ids.has(id)) {
    t.others++
    if (verdict === 'fits') t.taken++
    return
  }
  t.n++
  if (verdict === 'fits') t[best!.id === id ? 'right' : 'wrong']++
  else if (verdict === 'to settle' && near.some(x => x.id === id)) t.asked++
  if (process.env.SHOW && !(verdict === 'fits' && best!.id === id)) console.log(`${verdict}: ${text}`)
}
const say = (way: string, t: ReturnType<typeof tally>) => {
  const of = (x: number, all: number) => `${((100 * x) / Math.max(1, all)).toFixed(1)} %`
  const strangers = t.others ? `; of ${t.others} that are not there, taken for another ${t.taken}` : ''
  console.log(
    `  ${way.padEnd(36)} found ${of(t.right, t.n)}, wrongly ${t.wrong}, to settle ${of(t.asked, t.n)} of ${t.n}${strangers}`,
  )
}
console.log('works found for entries')
for (const [way, how] of Object.entries(PARTS)) {
  const t = tally()
  for (const { f } of some.slice(0, 12)) {
    const pick = new Set(
      [...Array(30).fill(3000), ...Array(10).fill(items.length)].map(
        most => items[Math.floor(random() * Number(most))]!,
      ),
    )
    for (const e of printed(f, [...pick].map(how))) look(e.text, e.id, t)
  }
  say(way, t)
}
const alone: Record<string, (a: string, j: string, y: number, v: string, p: string) => string> = {
  'author, journal, year, volume, page': (a, j, y, v, p) => `${a}, ${j} ${v}, ${p} (${y}).`,
  'journal, volume, page': (_, j, __, v, p) => `${j} ${v}, ${p}.`,
  'author, year, page': (a, _, y, __, p) => `${a} ${y}, p. ${p}.`,
  'author, year, journal': (a, j, y) => `${a} (${y}) ${j}.`,
}
const whole = known.filter(i => i.volume && i.page && i['container-title'] && i.author?.[0]?.family).slice(0, 400)
for (const [way, line] of Object.entries(alone)) {
  const t = tally()
  for (const i of whole)
    look(
      line(
        i.author![0]!.family!,
        short(i['container-title']!),
        yearOf(i)!,
        String(i.volume),
        i.page!.split(/[-–]/)[0]!,
      ),
      i.id,
      t,
    )
  say(way, t)
}

// against holding every entry against every work
const lines = printed(some[0]!.f, known.slice(0, 100)).map(e => readEntry(e.text))
const clock = (run: () => void) => {
  const from = performance.now()
  run()
  return performance.now() - from
}
const build = clock(() => new Finder(known))
const found = clock(() => lines.forEach(l => finder.find(l)))
const all = clock(() => lines.slice(0, 5).forEach(l => known.forEach(w => compareEntry(l, w)))) * 20
console.log(
  `a finder of ${known.length} works: made in ${build.toFixed(0)} ms, 100 entries in ${found.toFixed(0)} ms; each against all ${all.toFixed(0)} ms, ${(all / found).toFixed(0)} times`,
)
