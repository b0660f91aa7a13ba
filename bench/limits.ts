/**
 * Limits on a pool: what each value would leave, for every facet at once, with and without limits set, and again
 * after one decision. Beside it, in the same run, bitsets counted by AND and popcount (which have to be built anew
 * for what changed), and the floor: reading one number of every work for every facet, and nothing else.
 * npx tsx bench/limits.ts [works]
 */
import { bitFacet, countBits } from './bitsets'
import { seeded } from '../core/world/random'
import { FACETS, PoolIndex, type Limited, type Limits } from '../core/sift/limits'

const size = Number(process.argv[2] ?? 100_000)
const r = seeded(31)
const KINDS = ['research article', 'literature review', 'book', 'chapter', 'thesis', 'news', 'preprint', 'unknown']
const works: Limited[] = Array.from({ length: size }, (_, i) => ({
  id: i + 1,
  title: `Work ${i}`,
  state: r.pick(['unread', 'unread', 'kept', 'set aside'] as const),
  pass: null,
  reason: null,
  decidedAt: r.chance(0.5) ? '2026-10-01T10:00:00Z' : null,
  part: null,
  strands: r.chance(0.1) ? [r.int(1, 8)] : [],
  tags: r.chance(0.05) ? [`tag ${r.int(1, 40)}`] : [],
  kind: r.pick(KINDS),
  year: r.int(1950, 2026),
  language: r.pick(['en', 'en', 'en', 'de', 'fr']),
  sources: [r.pick(['a', 'b', 'c']), r.pick(['d', 'e'])],
  sweeps: [r.int(1, 30)],
  arrivals: [`${r.int(1, 20)} new`],
  reach: r.pick(['in hand', 'within reach', 'out of reach', 'not asked']),
  hasAbstract: r.chance(0.8),
  pageCount: r.int(1, 60),
  references: r.int(0, 90),
  container: `Journal ${r.int(1, 3000)}`,
  people: [`Person ${r.int(1, 40_000)}`, `Person ${r.int(1, 40_000)}`],
  subjects: [`Subject ${r.int(1, 500)}`, `Subject ${r.int(1, 500)}`],
}))
const now = new Date('2026-10-05')
const limits: Limits = {
  kind: ['research article', 'book'],
  language: ['en'],
  reach: ['within reach', 'not asked'],
}

/** Median of several runs, in milliseconds. */
function timed(act: () => unknown, times = 7): number {
  const took: number[] = []
  for (let i = 0; i < times; i++) {
    const from = performance.now()
    act()
    took.push(performance.now() - from)
  }
  return took.sort((a, b) => a - b)[times >> 1]!
}
const line = (name: string, ms: number, floor: number) =>
  console.log(
    `${name.padEnd(58)} ${ms.toFixed(1).padStart(8)} ms  ${(ms / floor).toFixed(1).padStart(6)} times the floor`,
  )

const index = PoolIndex.of(works, now)
const built = timed(() => {
  const fresh = PoolIndex.of(works, now)
  for (const f of FACETS) fresh.counts(f, {})
}, 3)
for (const f of FACETS) index.counts(f, {})

const columns = FACETS.map(() => Uint32Array.from(works, () => r.int(0, 200)))
let sink = 0
const floor = timed(() => {
  for (const c of columns) for (let i = 0; i < c.length; i++) sink += c[i]!
})
console.log(`${size.toLocaleString('en')} works, ${FACETS.length} facets`)
line(
  'every facet counted, three limits set',
  timed(() => FACETS.forEach(f => index.counts(f, limits))),
  floor,
)
line(
  'one facet counted, three limits set',
  timed(() => index.counts('journal', limits)),
  floor,
)
line(
  'the works within three limits',
  timed(() => index.within(limits)),
  floor,
)
let turn = 0
line('after a decision: taken again and one facet counted', timed(() => {
    const at = turn++ % size
    index.next(works.map((w, i) => (i === at ? { ...w, state: 'kept' as const } : w)))
    index.counts('state', limits)
  }), floor) // prettier-ignore
line('every facet read and counted for the first time', built, floor)

// the same by bitsets: few values are quick to count, many values are not, and a decision builds its facet anew
const bits = (of: (w: Limited) => readonly string[]) => bitFacet(size, i => of(works[i]!))
const all = new Uint32Array((size + 31) >>> 5).fill(0xffffffff)
const kinds = bits(w => [w.kind])
const journals = bits(w => [w.container])
line(
  'bitsets: kinds counted',
  timed(() => countBits(kinds, all)),
  floor,
)
line(
  'ours:    kinds counted',
  timed(() => index.counts('kind', {})),
  floor,
)
line(
  'bitsets: 3,000 journals counted',
  timed(() => countBits(journals, all)),
  floor,
)
line(
  'ours:    3,000 journals counted',
  timed(() => index.counts('journal', {})),
  floor,
)
line(
  'bitsets: the states built anew after a decision',
  timed(() => bits(w => [w.state])),
  floor,
)
if (sink < 0) console.log(sink)
