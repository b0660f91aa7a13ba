/**
 * The made-up world: how long it takes to make and to serve, against the time of only printing the same lines as JSON.
 * npx tsx bench/world.ts [works]
 */
import { readFileSync } from 'node:fs'
import { seeded } from '../core/world/random'
import { tokenise } from '../core/query/tokens'
import { WorldMaker } from '../demo/generate'
import { writeKbart } from '../demo/kbart'
import { makeCatalogues } from '../standins/catalogues'
import { drawPdf } from '../standins/pdf'
import { serveWorld } from '../standins/world'

const size = Number(process.argv[2] ?? 24_000)
const timed = <T>(run: () => T): [T, number] => {
  const began = performance.now()
  const out = run()
  return [out, (performance.now() - began) / 1000]
}
const peak = (): number => Number(/VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))?.[1]) / 1024
const median = (list: number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1]!

const maker = new WorldMaker(1, size)
const [made, making] = timed(() => [...maker])
const works = made.map(m => m.work)
const [lines, printing] = timed(() => works.map(w => JSON.stringify(w)))
const bytes = lines.reduce((n, l) => n + l.length, 0)
console.log(
  `making ${size} works: ${making.toFixed(1)} s, ${(bytes / 1e6).toFixed(0)} MB; ${(making / printing).toFixed(1)} times as long as printing them; peak ${peak().toFixed(0)} MB`,
)

const abstracts = new Map<number, Set<string>[]>()
for (const w of works) {
  if (!w.item.abstract) continue
  const t = tokenise(w.item.abstract).map(x => x.text)
  const grams = new Set(t.slice(4).map((_, i) => t.slice(i, i + 5).join(' ')))
  abstracts.set(w.text.lexicon, [...(abstracts.get(w.text.lexicon) ?? []), grams])
}
const r = seeded(1)
const shared: number[] = []
for (const list of abstracts.values())
  for (let n = 0; n < 1000; n++) {
    const [a, b] = r.some(list, 2) as [Set<string>, Set<string>]
    shared.push([...a].filter(g => b.has(g)).length / Math.min(a.size, b.size))
  }
console.log(
  `five-word runs that two abstracts of one subject share: median ${(100 * median(shared)).toFixed(1)}%, mean ${((100 * shared.reduce((x, y) => x + y, 0)) / shared.length).toFixed(1)}%`,
)

const world = serveWorld(works, maker.facts, writeKbart(1, maker.facts.venues, works))
const [catalogues, indexing] = timed(() => makeCatalogues(world))
console.log(
  `indexing ${catalogues.reduce((n, c) => n + c.entries.length, 0)} records of ${catalogues.length} catalogues: ${indexing.toFixed(1)} s`,
)

const article = works.find(w => w.form === 'research article' && w.pages === 20 && w.year > 2005)!
const times: number[] = []
for (let n = 0; n < 12; n++) {
  const began = performance.now()
  await drawPdf(world, article, { version: 'version of record' })
  if (n > 1) times.push(performance.now() - began)
}
console.log(`a PDF of 20 pages: median ${median(times).toFixed(0)} ms`)
