/**
 * The positional index against two JavaScript search libraries and a MariaDB FULLTEXT index, on the same records in the
 * same run: building, memory, queries, counts of next limits.
 * node --expose-gc --import tsx bench/query.ts [records] [--database]
 */
import { mkdtempSync, rmSync } from 'node:fs'
import { once } from 'node:events'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { serialize, deserialize } from 'node:v8'
import { Worker } from 'node:worker_threads'
import FlexSearch from 'flexsearch'
import MiniSearch from 'minisearch'
import { evaluate, KeptAnswers, type Searchable } from '../core/query/evaluate'
import { parseCql } from '../core/query/parse-cql'
import { IndexBuilder, sizeOf } from '../core/query/positional-index'
import { WorldMaker } from '../demo/generate'
// @ts-expect-error a script without types
import { startDatabase, stopDatabase } from '../scripts/database.mjs'
import { connect } from '../server/db/connection'

const size = Number(process.argv[2] ?? 50_000)
const withDatabase = process.argv.includes('--database')
const gc = (globalThis as { gc?: () => void }).gc ?? (() => undefined)
const heap = () => {
  gc()
  gc()
  return (process.memoryUsage().heapUsed + process.memoryUsage().arrayBuffers) / 1e6
}
const now = () => performance.now()
const median = (list: number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1]!
const time = (run: () => unknown, times: number): number => {
  for (let i = 0; i < Math.min(3, times); i++) run()
  return median(
    Array.from({ length: times }, () => {
      const began = now()
      run()
      return now() - began
    }),
  )
}
const x = (a: number, b: number) => `${(a / b).toFixed(1)}×`

const records = [...new WorldMaker(2, size)].map(({ work: w }, i) => ({
  id: i,
  title: w.item.title ?? '',
  abstract: w.item.abstract ?? '',
  keywords: w.keywords.join('; '),
  year: w.year,
  kind: w.form,
  language: w.item.language ?? 'en',
  journal: w.item['container-title'] ?? '',
  authors: (w.item.author ?? []).map(a => `${a.family ?? a.literal} ${a.given ?? ''}`),
}))
console.log(
  `${size} records, ${(records.reduce((n, r) => n + r.title.length + r.abstract.length + r.keywords.length, 0) / 1e6).toFixed(0)} MB of text`,
)

// building
let began = now()
const builder = new IndexBuilder()
for (const r of records) builder.add({ title: r.title, abstract: r.abstract, keyword: r.keywords })
const index = builder.freeze()
const ours = { build: now() - began, bytes: sizeOf(index) / 1e6 }
const on: Searchable = {
  index,
  names: { '': ['title', 'abstract', 'keyword'], title: ['title'] },
  numbers: { year: Float64Array.from(records, r => r.year) },
}

let before = heap()
began = now()
const mini = new MiniSearch<(typeof records)[number]>({ fields: ['title', 'abstract', 'keywords'], idField: 'id' })
mini.addAll(records)
const miniBuild = now() - began
const miniBytes = heap() - before

before = heap()
began = now()
const flex = new FlexSearch.Document({
  document: { id: 'id', index: ['title', 'abstract', 'keywords'] },
  tokenize: 'strict',
  context: false,
})
for (const r of records) flex.add(r as never)
const flexBuild = now() - began
const flexBytes = heap() - before

console.log(
  `build: ours ${(ours.build / 1000).toFixed(2)} s; minisearch ${x(miniBuild, ours.build)}, flexsearch ${x(flexBuild, ours.build)} as long (they keep no positions)`,
)
console.log(
  `memory: ours ${ours.bytes.toFixed(1)} MB with positions; minisearch ${x(miniBytes, ours.bytes)}, flexsearch ${x(flexBytes, ours.bytes)}`,
)
const buffer = serialize(index)
console.log(
  `serialised ${(buffer.length / 1e6).toFixed(1)} MB, read back in ${time(() => deserialize(buffer), 5).toFixed(0)} ms`,
)

// into a worker: the bytes are handed over, not copied, and read there; the limit is copying the same bytes once
const worker = new Worker(
  `const { parentPort } = require('node:worker_threads'), { deserialize } = require('node:v8')
   parentPort.on('message', b => parentPort.postMessage(deserialize(b).documents))`,
  { eval: true },
)
const handed: number[] = []
for (let i = 0; i < 6; i++) {
  const bytes = Uint8Array.from(buffer)
  began = now()
  worker.postMessage(bytes, [bytes.buffer])
  await once(worker, 'message')
  handed.push(now() - began)
}
await worker.terminate()
const copying = time(() => Buffer.from(buffer), 20)
console.log(
  `loaded into a worker in ${median(handed).toFixed(0)} ms, ${x(median(handed), copying)} as long as copying its bytes`,
)

// queries, with the same answers checked where the peer can express them
const find = (cql: string) => {
  const p = parseCql(cql)
  if (!p.ok) throw new Error(p.error.message)
  return (kept?: KeptAnswers) => evaluate(p.query, on, kept)
}
const ids = (list: { id: unknown }[]) => new Set(list.map(r => Number(r.id)))
const exactly = { prefix: false, fuzzy: false } as const
const flexIds = (q: string): Set<number> =>
  new Set((flex.search(q, size) as unknown as { result: number[] }[]).flatMap(r => r.result))
const sameAs = (a: Uint32Array, b: Set<number>) =>
  a.length === b.size && a.every(d => b.has(d)) ? 'same answer' : `differs: ${a.length} and ${b.size}`
const cases: [string, string, (() => Set<number>) | undefined, (() => Set<number>) | undefined][] = [
  ['one word', 'lamps', () => ids(mini.search('lamps', exactly)), () => flexIds('lamps')],
  ['a common word', 'moth', () => ids(mini.search('moth', exactly)), () => flexIds('moth')],
  [
    'two words',
    'moth and street',
    () => ids(mini.search('moth street', { ...exactly, combineWith: 'AND' })),
    undefined,
  ],
  ['either', 'moth or bats', () => ids(mini.search('moth bats', { ...exactly, combineWith: 'OR' })), undefined],
  [
    'without',
    'moth not street',
    () => ids(mini.search({ combineWith: 'AND_NOT', queries: ['moth', 'street'], ...exactly })),
    undefined,
  ],
  ['any ending', 'pollinat*', () => ids(mini.search('pollinat', { prefix: true, fuzzy: false })), undefined],
  ['a phrase', '"street lighting"', undefined, undefined],
]
const ratios: number[] = []
for (const [name, cql, m, f] of cases) {
  const run = find(cql)
  const t = time(() => run(), 200)
  const parts = [`${name} (${cql}): ours ${(t * 1000).toFixed(0)} µs for ${run().length}`]
  if (m) {
    const tm = time(m, 9)
    ratios.push(tm / t)
    parts.push(`minisearch ${x(tm, t)}, ${sameAs(run(), m())}`)
  }
  if (f) parts.push(`flexsearch ${x(time(f, 9), t)}, ${sameAs(run(), f())}`)
  console.log(parts.join('; '))
}
console.log(`queries against minisearch: median ${median(ratios).toFixed(0)}× as fast`)

// ladder of eight rungs, and all next limits
const rungs = [
  'moth* or lamp*',
  'light or lighting',
  'street or urban or city',
  'year >= 1980',
  'not sailing',
  'night*',
  'sites',
  'year >= 2000',
]
let so = ''
const ladder = rungs.map(r => (so = r.startsWith('not') ? `(${so}) ${r}` : so ? `(${so}) and (${r})` : r)).map(find)
const alone = time(() => ladder.forEach(l => l()), 30)
const onward = time(() => {
  const kept = new KeptAnswers()
  ladder.forEach(l => l(kept))
}, 30)
console.log(
  `a ladder of eight rungs: ${alone.toFixed(1)} ms each from the beginning, ${onward.toFixed(1)} ms going on from the rung above`,
)
if (withDatabase) {
  const folder = mkdtempSync(join(tmpdir(), 'vine-bench-'))
  const { password } = await startDatabase(folder, 4990)
  const db = connect({ host: '127.0.0.1', port: 4990, name: 'vinepath', user: 'vinepath', password })
  try {
    await db.query(
      'CREATE TABLE bench (id INT PRIMARY KEY, title TEXT, abstract TEXT, keywords TEXT, FULLTEXT (title, abstract, keywords)) ENGINE=InnoDB',
    )
    began = now()
    for (let i = 0; i < size; i += 1000)
      await db.query('INSERT INTO bench VALUES ?', {
        replacements: [records.slice(i, i + 1000).map(r => [r.id, r.title, r.abstract, r.keywords])],
      })
    console.log(`MariaDB FULLTEXT: build ${x(now() - began, ours.build)} as long`)
    for (const [name, cql, boolean] of [
      ['one word', 'lamps', '+lamps'],
      ['two words', 'moth and street', '+moth +street'],
      ['without', 'moth not street', '+moth -street'],
      ['a phrase', '"street lighting"', '"street lighting"'],
      ['any ending', 'pollinat*', 'pollinat*'],
    ] as const) {
      const times: number[] = []
      let rows: { id: number }[] = []
      for (let n = 0; n < 5; n++) {
        began = now()
        ;[rows] = (await db.query(
          'SELECT id FROM bench WHERE MATCH (title, abstract, keywords) AGAINST (? IN BOOLEAN MODE)',
          { replacements: [boolean] },
        )) as unknown as [{ id: number }[]]
        times.push(now() - began)
      }
      console.log(
        `${name}: MariaDB ${x(
          median(times),
          time(() => find(cql)(), 50),
        )}, ${sameAs(find(cql)(), ids(rows))}`,
      )
    }
  } finally {
    await db.close()
    await stopDatabase(folder)
    rmSync(folder, { recursive: true, force: true })
  }
}
