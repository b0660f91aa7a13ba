/**
 * Measures of citation graphs. Their time on graphs of the made-up world of 10⁴, 10⁵ and 10⁶ links, beside the same
 * measure written plainly over the iterators of a graph library, and beside one pass over the arrays of links. What
 * they find, on worlds that nothing was tuned by: landmarks against the planted ones, suggested strands against true
 * subjects and against k-means on words, the estimate of what escaped against simulated inquiries.
 * npx tsx bench/trails.ts [seeds]
 */
import { DirectedGraph } from 'graphology'
import { seeded, type Random } from '../core/world/random'
import { escaped } from '../core/trails/captures'
import { Field } from '../core/trails/field'
import type { FieldGraph, FieldWork } from '../core/trails/field-shapes'
import { degree, graphOf, type Graph } from '../core/trails/graph'
import { coupled } from '../core/trails/likeness'
import { mainPath } from '../core/trails/main-path'
import { featuresOf } from '../core/sift/order'
import { WorldMaker, type Made } from '../demo/generate'

const seeds = Number(process.argv[2] ?? 3)
const ms = (t: number) => `${t.toFixed(t < 10 ? 2 : 0)} ms`
function timed<T>(what: () => T, times = 5): [number, T] {
  let [best, got] = [Infinity, undefined as T]
  for (let i = 0; i < times; i++) {
    const began = performance.now()
    got = what()
    best = Math.min(best, performance.now() - began)
  }
  return [best, got]
}

interface Links {
  n: number
  citing: Uint32Array
  cited: Uint32Array
}
/** The links of a world, as many as are asked for, by number of work. */
function linksOf(works: readonly Made[], most: number): Links {
  const at = new Map(works.map((m, i) => [m.work.id, i]))
  const [citing, cited]: [number[], number[]] = [[], []]
  let n = 0
  for (const [i, { work }] of works.entries()) {
    if (citing.length >= most) break
    n = i + 1
    for (const ref of work.references) {
      citing.push(i)
      cited.push(at.get(ref)!)
    }
  }
  return { n, citing: Uint32Array.from(citing), cited: Uint32Array.from(cited) }
}

/** Coupling of seeds over the iterators of a graph library. */
function plainCoupling(graph: DirectedGraph, seeds: readonly number[]): Map<string, number> {
  const likeness = new Map<string, number>()
  for (const seed of seeds) {
    const both = new Map<string, number>()
    graph.forEachOutNeighbor(String(seed), between =>
      graph.forEachInNeighbor(between, other => void both.set(other, (both.get(other) ?? 0) + 1)),
    )
    for (const [other, n] of both)
      if (other !== String(seed))
        likeness.set(
          other,
          (likeness.get(other) ?? 0) +
            n / Math.sqrt(graph.outDegree(String(seed)) * graph.outDegree(other)) / seeds.length,
        )
  }
  return likeness
}

/** One pass over the two arrays, and nothing else. */
function onePass({ citing, cited, n }: Links): Uint32Array {
  const count = new Uint32Array(n)
  for (let i = 0; i < citing.length; i++) count[cited[i]!]! += citing[i]! & 1
  return count
}

function speed(works: readonly Made[], most: number): void {
  const links = linksOf(works, most)
  const { n, citing, cited } = links
  const [pass] = timed(() => onePass(links), 20)
  const [built, graph] = timed(() => graphOf(n, citing, cited))
  const r = seeded(9)
  const kept = r.some(
    Array.from({ length: n }, (_, i) => i).filter(i => degree(graph.cites, i) > 4),
    60,
  )
  const [own, ours] = timed(() => coupled(graph, kept, Infinity), 20)
  const years = works.slice(0, n).map(m => m.work.year)
  const [path] = timed(() => mainPath(graph, years), 2)
  const library = new DirectedGraph()
  for (let i = 0; i < n; i++) library.addNode(String(i))
  for (let i = 0; i < citing.length; i++) library.mergeEdge(String(citing[i]), String(cited[i]))
  const [plain, theirs] = timed(() => plainCoupling(library, kept), 2)
  for (const [other, value] of theirs)
    if (Math.abs(ours.likeness[Number(other)]! - value) > 1e-9) throw new Error(`coupling of ${other} differs`)
  const bytes = (g: Graph) => [g.cites, g.citedBy].reduce((sum, x) => sum + x.start.byteLength + x.to.byteLength, 0)
  console.log(
    `${citing.length.toLocaleString('en')} links of ${n.toLocaleString('en')} works: built in ${ms(built)} (${(built / pass).toFixed(1)} passes; ${(bytes(graph) / 1e6).toFixed(1)} MB), ` +
      `coupling of 60 works ${ms(own)} (${(own / pass).toFixed(1)} passes; library ${ms(plain)}, ${(plain / own).toFixed(0)} times), main path of all ${ms(path)} (${(path / pass).toFixed(0)} passes)`,
  )
}

/** An inquiry as it stands after its kept works' trails were walked. */
function inquiry(
  made: readonly Made[],
  keptIds: ReadonlySet<string>,
  poolIds: ReadonlySet<string>,
  fieldOf: (m: Made) => string | null,
  drop = 0,
  r?: Random,
) {
  const byId = new Map(made.map(m => [m.work.id, m]))
  const links: [string, string][] = []
  const known = (m: Made) =>
    // an index has not linked every reference
    m.work.references.slice(m.work.unlinked)
  for (const m of made)
    for (const ref of known(m)) if (keptIds.has(m.work.id) || keptIds.has(ref)) links.push([m.work.id, ref])
  // some links are others than they were
  if (r)
    for (let i = 0; i < links.length * drop; i++) {
      const at = r.int(0, links.length - 1)
      links[at] = [links[at]![0], links[r.int(0, links.length - 1)]![1]]
    }
  const citedBy = new Map<string, number>()
  for (const m of made) for (const ref of known(m)) citedBy.set(ref, (citedBy.get(ref) ?? 0) + 1)
  const ids = [...new Set([...keptIds, ...links.flat()])]
  const place = new Map(ids.map((id, i) => [id, i]))
  const number = (id: string) => Number(id.slice(1)) + 1
  const counts = new Map<string, Map<number, number>>()
  for (const m of made) {
    const field = fieldOf(m)
    if (!field) continue
    const key = `${field} ${m.work.year}`
    const of = counts.get(key) ?? new Map<number, number>()
    const k = citedBy.get(m.work.id) ?? 0
    of.set(k, (of.get(k) ?? 0) + 1)
    counts.set(key, of)
  }
  const fields = new Set(made.flatMap(m => fieldOf(m) ?? []))
  const graph: FieldGraph = {
    nodes: ids.map((id, i) => {
      const m = byId.get(id)!
      const work = poolIds.has(id) || keptIds.has(id) ? number(id) : null
      return {
        ...{ id: i + 1, work, year: m.work.year, citedBy: citedBy.get(id) ?? 0, field: fieldOf(m), round: 1 },
        pointer: work === null ? { title: m.work.item.title! } : null,
      }
    }),
    citing: links.map(l => place.get(l[0])!),
    cited: links.map(l => place.get(l[1])!),
    walks: [],
    rounds: [],
    fields: [...fields].flatMap(field =>
      Array.from({ length: 138 }, (_, i) => {
        const of = [...(counts.get(`${field} ${1889 + i}`) ?? [])]
        return { field, year: 1889 + i, works: of.reduce((s, [, w]) => s + w, 0), counts: of }
      }),
    ),
  }
  const works: FieldWork[] = made
    .filter(m => keptIds.has(m.work.id) || poolIds.has(m.work.id))
    .map(m => ({
      ...{
        id: number(m.work.id),
        title: m.work.item.title!,
        year: m.work.year,
        strands: [],
        citedBy: null,
        references: null,
      },
      state: keptIds.has(m.work.id) ? ('kept' as const) : ('unread' as const),
      ...{ swept: true, byTrail: false },
    }))
  return {
    field: new Field(graph, works, '2026-10-05'),
    idOf: (at: number, f: Field) => ids[(f.ends[at]!.node ?? 1) - 1]!,
  }
}

/** Agreement of two divisions beyond chance (adjusted Rand; Hubert & Arabie 1985). */
function adjustedRand(a: readonly number[], b: readonly number[]): number {
  const two = (x: number) => (x * (x - 1)) / 2
  const count = <K>(keys: readonly K[]) => {
    const m = new Map<K, number>()
    for (const k of keys) m.set(k, (m.get(k) ?? 0) + 1)
    return [...m.values()].reduce((s, x) => s + two(x), 0)
  }
  const [both, left, right, all] = [count(a.map((x, i) => `${x} ${b[i]}`)), count(a), count(b), two(a.length)]
  const expected = (left * right) / all
  return (both - expected) / ((left + right) / 2 - expected)
}

/** k-means on the words of titles, the best of ten beginnings. */
function kMeans(titles: readonly string[], k: number, r: Random): number[] {
  const f = featuresOf(titles.map(title => ({ title })))
  const row = (i: number) =>
    Array.from(
      { length: f.from[i + 1]! - f.from[i]! },
      (_, j) => [f.at[f.from[i]! + j]!, f.value[f.from[i]! + j]!] as const,
    )
  let [best, found] = [-Infinity, [] as number[]]
  for (let tries = 0; tries < 10; tries++) {
    let centres = r.some([...titles.keys()], k).map(i => new Map(row(i)))
    let of: number[] = []
    let sum = 0
    for (let step = 0; step < 30; step++) {
      sum = 0
      of = titles.map((_, i) => {
        const scores = centres.map(c => row(i).reduce((s, [at, v]) => s + v * (c.get(at) ?? 0), 0))
        const most = Math.max(...scores)
        sum += most
        return scores.indexOf(most)
      })
      centres = centres.map((_, c) => {
        const mean = new Map<number, number>()
        of.forEach((o, i) => o === c && row(i).forEach(([at, v]) => mean.set(at, (mean.get(at) ?? 0) + v)))
        const length = Math.hypot(...mean.values()) || 1
        return new Map([...mean].map(([at, v]) => [at, v / length]))
      })
    }
    if (sum > best) [best, found] = [sum, of]
  }
  return found
}

/** Ids of so many works, drawn by chance. */
const drawn = (r: Random, n: number, of: readonly Made[], wanted: (m: Made) => boolean = () => true): Set<string> =>
  new Set(r.some(of.filter(wanted), n).map(m => m.work.id))

function finds(seed: number): void {
  const maker = new WorldMaker(seed, 24_000)
  const made = [...maker]
  const venues = new Map(maker.facts.venues.map(v => [v.code, v]))
  const fieldOf = (m: Made) => (m.work.venue ? venues.get(m.work.venue)!.field : null)
  const r = seeded(seed)
  const subjects = [...new Set(made.map(m => m.label.subject))]
  const study = (m: Made, subject: string, theme?: string) =>
    m.label.subject === subject &&
    (!theme || m.label.theme === theme) &&
    m.work.form === 'research article' &&
    m.work.year >= 2008 &&
    m.work.references.length > 8
  let [right, named, planted] = [0, 0, 0]
  for (const theme of [...new Set(made.map(m => m.label.theme))].filter(t => !t.endsWith('other'))) {
    const { subject } = made.find(m => m.label.theme === theme)!.label
    const studies = made.filter(m => study(m, subject, theme))
    if (studies.length < 40) continue
    const kept = drawn(r, 35, studies)
    const pool = drawn(r, 120, made, m => m.label.subject === subject)
    const { field, idOf } = inquiry(made, kept, pool, fieldOf)
    const lacking = field
      .lacking()
      .filter(l => l.standsOut)
      .map(l => idOf(l.node, field))
    const citing = new Map<string, number>()
    for (const m of made)
      if (kept.has(m.work.id))
        for (const ref of m.work.references.slice(m.work.unlinked)) citing.set(ref, (citing.get(ref) ?? 0) + 1)
    const truth = new Set(
      made
        .filter(m => m.label.landmark && m.label.theme === theme && !kept.has(m.work.id) && !pool.has(m.work.id))
        .map(m => m.work.id)
        .filter(id => (citing.get(id) ?? 0) >= 3),
    )
    named += lacking.length
    planted += truth.size
    right += lacking.filter(id => truth.has(id)).length
  }
  const part = r.some(subjects, 3)
  const ids = part.flatMap(s => [...drawn(r, 40, made, m => study(m, s))])
  const kept = new Set(ids)
  const group = (f: Field, idOf: (at: number, f: Field) => string) => {
    const of = new Map<string, number>()
    f.suggested().strands.forEach((s, i) => s.works.forEach(at => of.set(idOf(at, f), i)))
    return ids.map((id, i) => of.get(id) ?? 1000 + i)
  }
  const byId = new Map(made.map(m => [m.work.id, m]))
  const truth = ids.map(id => part.indexOf(byId.get(id)!.label.subject))
  const before = inquiry(made, kept, new Set(), fieldOf)
  const after = inquiry(made, kept, new Set(), fieldOf, 0.01, r)
  const [took, ours] = timed(() => group(before.field, before.idOf), 1)
  const again = group(after.field, after.idOf)
  const titles = ids.map(id => byId.get(id)!.work.item.title!)
  const words = kMeans(titles, 3, r)
  console.log(
    `seed ${seed}: landmarks ${right} of ${named} named are planted (precision ${(right / named).toFixed(2)}), of ${planted} to be found (recall ${(right / planted).toFixed(2)}); strands of ${ids.length} works in ${ms(took)}, adjusted Rand to subjects ${adjustedRand(ours, truth).toFixed(2)} (k-means on words ${adjustedRand(words, truth).toFixed(2)}), to itself with 1% of links changed ${adjustedRand(ours, again).toFixed(2)}`,
  )
}

function estimate(): void {
  const r = seeded(77)
  let [said, held] = [0, 0]
  for (let i = 0; i < 1000; i++) {
    const N = r.int(30, 150)
    const [p, q] = [0.4 + r() * 0.5, 0.3 + r() * 0.5]
    let [s, t, b] = [0, 0, 0]
    for (let w = 0; w < N; w++) {
      const [x, y] = [r() < p, r() < q]
      if (x) s++
      if (y) t++
      if (x && y) b++
    }
    const e = escaped(s, t, b)
    if (!e) continue
    said++
    if (N - (s + t - b) >= Math.floor(e.least) && N - (s + t - b) <= Math.ceil(e.most)) held++
  }
  console.log(
    `what escaped: the interval held in ${held} of ${said} simulated inquiries (${((100 * held) / said).toFixed(1)}%)`,
  )
}

const large = [...new WorldMaker(4, 90_000)]
if (!process.env.ONLY) for (const most of [1e4, 1e5, 1e6]) speed(large, most)
estimate()
for (let i = 0; i < seeds; i++) finds(101 + i)
