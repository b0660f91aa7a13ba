/**
 * Closeness of wording on texts of others: paragraphs of some documents as sources; paragraphs of other documents as a
 * student's own words, alone and with a sentence of a source in them: copied, patch-written (a fifth of the words are
 * others, some left out, some changed places) and told anew (half of them). Against plain overlap of five words in a
 * row, its threshold set so that as many own texts are blamed. And how long a keystroke takes with 60,000 words.
 * npx tsx bench/closeness.ts FOLDER-OF-SOURCES FOLDER-OF-OTHERS      PDFs of people who did not write together; SHOW=1 prints what own words are told for
 */
import { readdirSync, readFileSync } from 'node:fs'
import { tokenise } from '../core/query/tokens'
import { seeded } from '../core/world/random'
import { Wording, type WordSource } from '../core/write/closeness'
import { tasks } from '../server/child/tasks'

const [from, others] = process.argv.slice(2)
if (!from || !others) throw new Error('Which folders have the PDFs?')
const textsIn = async (folder: string): Promise<{ name: string; pages: string[] }[]> => {
  const out = []
  for (const name of readdirSync(folder).sort())
    if (name.endsWith('.pdf'))
      out.push({ name, pages: (await tasks.pdf(readFileSync(`${folder}/${name}`))).pages.map(p => p.text) })
  return out
}
const [theirs, ours] = [await textsIn(from), await textsIn(others)]

const words = (t: string) => t.split(/\s+/).filter(Boolean)
const isProse = (t: string) => {
  const w = words(t)
  return w.length >= 40 && w.length <= 220 && w.filter(x => /^[\p{L}’'(),.;:-]+$/u.test(x)).length > w.length * 0.9
}
const sources = theirs.map(({ name, pages }, i): WordSource => ({ key: name, work: i, what: 'copy', pages }))
const own = ours.flatMap(t => t.pages.flatMap(p => p.split('\n')).filter(isProse))
const sentences = sources
  .flatMap(s => s.pages.flatMap(p => p.split('\n')))
  .filter(isProse)
  .flatMap(p => p.split(/(?<=[.!?])\s+(?=\p{Lu})/u))
  .filter(s => words(s).length >= 14 && words(s).length <= 40)
const vocabulary = [...new Set(own.flatMap(p => tokenise(p).map(t => t.text)))].filter(w => /^[a-z]{4,}$/.test(w))

const r = seeded(7)
function altered(sentence: string, share: number): string {
  const w = words(sentence).flatMap(x => (r.chance(share) ? [r.pick(vocabulary)] : r.chance(0.05) ? [] : [x]))
  for (let i = 0; i + 1 < w.length; i++) if (r.chance(0.06)) [w[i], w[i + 1]] = [w[i + 1]!, w[i]!]
  return w.join(' ')
}
const within = (text: string, piece: string): string => {
  const w = words(text)
  const at = r.int(5, Math.max(6, w.length - 10))
  return [...w.slice(0, at), piece, ...w.slice(at)].join(' ')
}
const some = Array.from({ length: 600 }, () => ({ text: r.pick(own), sentence: r.pick(sentences) }))
const kinds = {
  copied: some.map(s => within(s.text, s.sentence)),
  'patch-written': some.map(s => within(s.text, altered(s.sentence, 0.2))),
  'told anew': some.map(s => within(s.text, altered(s.sentence, 0.55))),
}

const began = performance.now()
const wording = new Wording(sources)
wording.near('a first look')
const total = sources.reduce((n, s) => n + s.pages.reduce((m, p) => m + words(p).length, 0), 0)
console.log(
  `${theirs.length + ours.length} documents; ${total} words of sources in ${(performance.now() - began).toFixed(0)} ms; ${own.length} paragraphs of others`,
)

const blamed = own.filter(t => wording.near(t).length)
const share = (n: number, of: number) => `${((100 * n) / of).toFixed(1)}%`
console.log(`own words: ${blamed.length} of ${own.length} told (${share(blamed.length, own.length)})`)
if (process.env.SHOW)
  for (const t of blamed.slice(0, 12))
    for (const x of wording.near(t)) console.log('   ', x.words, t.slice(x.from, x.to), '|', x.there.text)

const grams = new Set<string>()
const five = (t: string) => {
  const w = tokenise(t).map(x => x.text)
  return w.slice(4).map((_, i) => w.slice(i, i + 5).join(' '))
}
for (const s of sources) for (const p of s.pages) for (const g of five(p)) grams.add(g)
const shared = (t: string) => five(t).filter(g => grams.has(g)).length
let least = 1
while (own.filter(t => shared(t) >= least).length > blamed.length) least++
for (const [kind, list] of Object.entries(kinds)) {
  const told = list.filter(t => wording.near(t).length).length
  console.log(
    `${kind}: ${share(told, list.length)}; five words in a row, ${least} times: ${share(list.filter(t => shared(t) >= least).length, list.length)}`,
  )
}

const big = new Wording([
  {
    key: 'all',
    work: 1,
    what: 'copy',
    pages: [...theirs, ...ours]
      .flatMap(t => t.pages)
      .join(' ')
      .split(/\s+/)
      .slice(0, 60_000)
      .join(' ')
      .match(/[^]{1,4000}/g)!,
  },
])
big.near('a first look')
const text = kinds['patch-written'].slice(0, 3).join(' ')
const times = Array.from({ length: 60 }, (_, i) => {
  const at = performance.now()
  big.near(text.slice(0, text.length - i))
  return performance.now() - at
}).sort((a, b) => a - b)
const floor = performance.now()
for (let i = 0; i < 60; i++) tokenise(text)
console.log(
  `a keystroke in ${words(text).length} words with 60,000 of sources: median ${times[30]!.toFixed(1)} ms, longest ${times[59]!.toFixed(1)} ms; cutting it into words alone ${((performance.now() - floor) / 60).toFixed(1)} ms`,
)
