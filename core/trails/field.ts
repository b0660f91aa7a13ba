import { featuresOf, type Features } from '../sift/order'
import { escaped } from './captures'
import { chain, type Step } from './chain'
import type { End, Enough, FieldGraph, FieldWork, Lacking, ListKind, Ranked, RoundYield } from './field-shapes'
import { degree, graphOf, neighbours, type Graph } from './graph'
import { landmarks, type Candidate } from './landmarks'
import { best, citedTogether, coupled, together, type Tied } from './likeness'
import { mainPath, type MainPath } from './main-path'
import { percentile, sleeper, type Sleeper, type YearOfField } from './rate'
import { forecast, whichPays, type Forecast, type Pays } from './rounds'
import { suggestStrands, type Suggested, type Tie } from './strands'

/** Rows of a ranked list at most. */
const MOST = 200

/** All that trails tell of an inquiry: works of the pool and pointers as nodes 0 to n − 1, and the measures on them. */
export class Field {
  readonly ends: End[] = []
  readonly graph: Graph
  private readonly works: (FieldWork | null)[] = []
  private readonly titles: string[] = []
  private readonly cited: (number | null)[] = []
  private readonly fields: (string | null)[] = []
  private readonly rounds: (number | null)[] = []
  private readonly kept: number[] = []
  private readonly isKept: Uint8Array
  private readonly of = new Map<number, number>()
  private readonly years: Uint16Array
  private readonly tiedToKept: Uint32Array
  private readonly byYear = new Map<string, YearOfField>()
  private words: Features | undefined

  constructor(
    private readonly told: FieldGraph,
    private readonly pool: readonly FieldWork[],
    /** The day of the desk. */
    private readonly today: string,
  ) {
    const byId = new Map(pool.map(w => [w.id, w]))
    // nodes of one work are one
    const place = told.nodes.map(node => {
      const work = node.work === null ? undefined : byId.get(node.work)
      const there = work && this.of.get(work.id)
      if (there !== undefined) {
        this.cited[there] = Math.max(this.cited[there] ?? 0, node.citedBy ?? 0)
        this.fields[there] ??= node.field
        this.ends[there]!.node ??= node.id
        return there
      }
      return this.add(work ?? null, node)
    })
    for (const w of pool) if (w.state === 'kept' && !this.of.has(w.id)) this.add(w, undefined)
    const n = this.ends.length
    const at = (list: readonly number[]) => Uint32Array.from(list, i => place[i]!)
    this.graph = graphOf(n, at(told.citing), at(told.cited))
    this.isKept = Uint8Array.from(this.works, w => Number(w?.state === 'kept'))
    for (let i = 0; i < n; i++) if (this.isKept[i]) this.kept.push(i)
    this.years = Uint16Array.from(this.ends, e => e.year ?? 0)
    this.tiedToKept = new Uint32Array(n)
    for (const k of this.kept)
      for (const rows of [this.graph.cites, this.graph.citedBy])
        for (const o of neighbours(rows, k)) this.tiedToKept[o]!++
    for (const f of told.fields) this.byYear.set(`${f.field} ${f.year}`, f)
    this.place = place
  }
  private readonly place: number[]

  private add(work: FieldWork | null, node: FieldGraph['nodes'][number] | undefined): number {
    const at = this.ends.length
    this.ends.push({ work: work?.id ?? null, node: node?.id ?? null, year: work?.year ?? node?.year ?? null })
    this.works.push(work)
    this.titles.push(work?.title ?? node?.pointer?.title ?? '')
    this.cited.push(work?.citedBy ?? node?.citedBy ?? null)
    this.fields.push(node?.field ?? null)
    this.rounds.push(node?.round ?? null)
    if (work) this.of.set(work.id, at)
    return at
  }

  /** The node of a work of the pool; undefined where trails know nothing of it and it is not kept. */
  nodeOf(work: number): number | undefined {
    return this.of.get(work)
  }

  /** Works outside the pool that the kept ones cite beyond what their fame explains. */
  lacking(): Lacking[] {
    const { cites, citedBy } = this.graph
    const thisYear = Number(this.today.slice(0, 4))
    const candidates: Candidate[] = []
    const since = new Map<string, (number | undefined)[]>()
    for (let at = 0; at < this.ends.length; at++) {
      if (this.works[at]) continue
      const citing = [...neighbours(citedBy, at)].filter(c => this.isKept[c])
      if (!citing.length) continue
      const year = this.years[at]!
      const field = this.fields[at] ?? mostCommon(citing.map(c => this.fields[c] ?? null))
      const peers = (i: number) => this.fields[i] === field && this.years[i]! >= year && degree(cites, i) > 0
      candidates.push({
        node: at,
        citing: citing.length,
        k: citing.filter(peers).length,
        n: this.kept.filter(peers).length,
        K: Math.max(this.cited[at] ?? 0, citing.length),
        N: field && year ? worksSince(field, year, this.byYear, thisYear, since) : undefined,
      })
    }
    return landmarks(candidates).map(l => ({ ...l, percentile: this.percentileOf(l.node) }))
  }

  /** A ranked list: of one work, or of all kept ones where none is named. */
  list(kind: ListKind, of?: number): Ranked[] {
    const seeds = of === undefined ? this.kept : [of]
    const one = (at: number, value: number, shared: number): Ranked => ({
      at,
      value,
      shared,
      tied: this.tiedToKept[at]!,
      percentile: this.percentileOf(at),
    })
    if (kind === 'references' || kind === 'cited by') {
      const rows = kind === 'references' ? this.graph.cites : this.graph.citedBy
      const times = new Uint32Array(this.ends.length)
      for (const seed of seeds) for (const o of neighbours(rows, seed)) times[o]!++
      const rank = (a: number, b: number) =>
        times[b]! - times[a]! ||
        this.tiedToKept[b]! - this.tiedToKept[a]! ||
        (this.cited[b] ?? -1) - (this.cited[a] ?? -1)
      const met = [...times.keys()].filter(at => times[at] && (of !== undefined || !this.isKept[at]))
      return met
        .sort((a, b) => rank(a, b) || a - b)
        .slice(0, MOST)
        .map(at => one(at, times[at]!, times[at]!))
    }
    const own = new Set(seeds)
    const outside = (at: number) => !own.has(at) && (of !== undefined || !this.isKept[at])
    const by: Tied[] = []
    if (kind !== 'together') by.push(coupled(this.graph, seeds))
    if (kind !== 'shared') by.push(citedTogether(this.graph, seeds))
    const words = kind === 'alike' ? this.wordsLike(seeds) : undefined
    const value = Float64Array.from(this.ends, (_, at) =>
      together(...by.map(t => t.likeness[at]!), ...(words ? [words[at]!] : [])),
    )
    return best(value, MOST, outside).map(at =>
      one(
        at,
        value[at]!,
        by.reduce((sum, t) => sum + t.shared[at]!, 0),
      ),
    )
  }

  /** The way from the oldest to the newest of the kept works and what they lack, and where each of them stands on it. */
  path(lacking: readonly number[]): MainPath {
    const chosen = [...new Set([...this.kept, ...lacking])].sort((a, b) => a - b)
    const inner = new Int32Array(this.ends.length).fill(-1)
    chosen.forEach((at, i) => (inner[at] = i))
    const [citing, cited]: [number[], number[]] = [[], []]
    for (const at of chosen)
      for (const o of neighbours(this.graph.cites, at))
        if (inner[o]! >= 0) {
          citing.push(inner[at]!)
          cited.push(inner[o]!)
        }
    const own = graphOf(chosen.length, Uint32Array.from(citing), Uint32Array.from(cited))
    const found = mainPath(
      own,
      chosen.map(at => this.years[at]!),
    )
    const back = (pair: [number, number]): [number, number] => [chosen[pair[0]]!, chosen[pair[1]]!]
    const places: MainPath['places'] = Array(this.ends.length).fill('apart')
    chosen.forEach((at, i) => (places[at] = found.places[i]!))
    return {
      arcs: found.arcs.map(back),
      places,
      forward: found.forward.map(back),
      circles: found.circles.map(c => c.map(i => chosen[i]!)),
    }
  }

  /** Strands that the kept works’ shared references and words suggest. */
  suggested(): Suggested {
    const row = new Map(this.kept.map((at, i) => [at, i]))
    const ties: Tie[] = []
    for (const at of this.kept) {
      const links = coupled(this.graph, [at])
      const cites = citedTogether(this.graph, [at])
      const words = this.wordsLike([at])
      for (const other of this.kept) {
        if (other <= at) continue
        const direct =
          neighbours(this.graph.cites, at).includes(other) || neighbours(this.graph.cites, other).includes(at)
        const weight = together(links.likeness[other]!, cites.likeness[other]!, words[other]!, direct ? 0.3 : 0)
        if (weight > FAINT) ties.push([row.get(at)!, row.get(other)!, weight])
      }
    }
    const found = suggestStrands([...this.kept.keys()], ties, i => this.titles[this.kept[i]!]!)
    const back = (i: number) => this.kept[i]!
    return {
      strands: found.strands.map(s => ({ ...s, works: s.works.map(back) })),
      second: new Map([...found.second].map(([i, strand]) => [back(i), strand])),
      apart: found.apart.map(back),
    }
  }

  /** What sweeps and rounds gave, and how many works may have escaped both. */
  enough(): Enough {
    const pooled = this.works.flatMap((w, at) => (w ? [{ w, at }] : []))
    const sweeps = this.pool.filter(w => w.swept)
    const trailed = pooled.filter(({ w }) => w.byTrail)
    const rounds = new Map<string, RoundYield>()
    const yieldOf = new Map<number, RoundYield>()
    for (const { id, n, isStanding, trails, left } of this.told.rounds) {
      const key = `${n} ${isStanding}`
      const had = rounds.get(key) ?? { n, isStanding, walked: 0, brought: 0, kept: 0 }
      had.walked += trails - left
      rounds.set(key, had)
      yieldOf.set(id, had)
    }
    for (const { w, at } of trailed) {
      const round = yieldOf.get(this.rounds[at] ?? 0)
      if (!round) continue
      round.brought++
      if (w.state === 'kept') round.kept++
    }
    const known = this.kept.filter(at => this.ends[at]!.node !== null)
    const bySweep = known.filter(at => this.works[at]!.swept)
    const byTrail = known.filter(at => this.meetsKept(at))
    const both = bySweep.filter(at => this.meetsKept(at)).length
    return {
      sweeps: { brought: sweeps.length, kept: sweeps.filter(w => w.state === 'kept').length },
      rounds: [...rounds.values()].sort((a, b) => (a.n ?? 1e9) - (b.n ?? 1e9)),
      captures: {
        kept: this.kept.length,
        sweeps: bySweep.length,
        trails: byTrail.length,
        both,
        left: this.kept.length - (bySweep.length + byTrail.length - both),
        escaped: escaped(bySweep.length, byTrail.length, both) ?? null,
        apart: bySweep
          .filter(at => !this.meetsKept(at))
          .map(at => ({ at, cites: degree(this.graph.cites, at), citedBy: degree(this.graph.citedBy, at) })),
      },
    }
  }

  private meetsKept(at: number): boolean {
    return [this.graph.cites, this.graph.citedBy].some(rows => neighbours(rows, at).some(o => this.isKept[o]))
  }

  /** New works, and kept ones, that a next round of so many trails is expected to bring. */
  next(trails: number): { brought: Forecast; kept: Forecast } {
    const of = this.enough().rounds.filter(r => r.n !== null)
    return {
      brought: forecast(
        of.map(r => ({ walked: r.walked, works: r.brought })),
        trails,
      ),
      kept: forecast(
        of.map(r => ({ walked: r.walked, works: r.kept })),
        trails,
      ),
    }
  }

  /** Kept works by what their trails gave, or promise. */
  pays(): Pays[] {
    const walked = new Set(this.told.walks.map(w => this.place[w.node]!))
    return whichPays(
      this.kept.map(at => {
        const around = [...neighbours(this.graph.cites, at), ...neighbours(this.graph.citedBy, at)]
        const work = this.works[at]!
        const supposed = (work.references ?? 0) + (work.citedBy ?? 0)
        const isWalked = walked.has(at)
        return {
          node: at,
          neighbours: isWalked ? around.length : Math.max(around.length, supposed),
          pooled: around.filter(o => this.works[o]).length,
          kept: around.filter(o => this.isKept[o]).length,
          calls: 3 + Math.floor(supposed / 100),
          walked: isWalked,
        }
      }),
    )
  }

  /**
   * On which stem each node stands: kept works on their own, all others on that of most of the kept works that they
   * cite or are cited by; -1 of those that no kept work is tied to.
   */
  stems(own: ReadonlyMap<number, number>): Int16Array {
    const out = new Int16Array(this.ends.length).fill(-1)
    const last = Math.max(-1, ...own.values())
    const times = new Uint32Array(last + 1)
    for (let at = 0; at < out.length; at++) {
      const stem = this.isKept[at] ? own.get(at) : undefined
      if (stem !== undefined) {
        out[at] = stem
        continue
      }
      times.fill(0)
      for (const rows of [this.graph.cites, this.graph.citedBy])
        for (const o of neighbours(rows, at)) if (this.isKept[o] && own.has(o)) times[own.get(o)!]!++
      for (let k = 0; k <= last; k++) if (times[k]! > (times[out[at]!] ?? 0)) out[at] = k
    }
    return out
  }

  /** How many works outside the pool stand on each stem in each year. */
  strokes(stems: Int16Array): { stem: number; year: number; n: number }[] {
    const counts = new Map<number, number>()
    for (let at = 0; at < stems.length; at++) {
      if (this.works[at] || stems[at]! < 0 || !this.years[at]) continue
      const key = stems[at]! * 10_000 + this.years[at]!
      counts.set(key, (counts.get(key) ?? 0) + 1)
    }
    return [...counts].map(([key, n]) => ({ stem: Math.floor(key / 10_000), year: key % 10_000, n }))
  }

  /** A shortest chain of citations between two nodes. */
  chain = (from: number, to: number): Step[] | undefined => chain(this.graph, from, to)

  /** Whether a work slept and woke; only where all that cite it were read. */
  slept(at: number): Sleeper | undefined {
    const whole = this.told.walks.some(
      w => this.place[w.node] === at && w.direction === 'cited-by' && w.total > 0 && w.got >= w.total,
    )
    const year = this.years[at]!
    if (!whole || !year) return undefined
    return sleeper(
      year,
      [...neighbours(this.graph.citedBy, at)].flatMap(o => this.years[o] || []),
    )
  }

  /** Its place among works of the same field and year, by citations; null where that is not known, or too new. */
  percentileOf(at: number): number | null {
    const [year, field, cited] = [this.years[at]!, this.fields[at], this.cited[at]]
    if (!year || !field || cited == null || year >= Number(this.today.slice(0, 4))) return null
    const peers = this.byYear.get(`${field} ${year}`)
    return (peers && percentile(cited, peers)) ?? null
  }

  /** Of each node, how near the words of its title are to those of the seeds: their mean cosine. */
  private wordsLike(seeds: readonly number[]): Float64Array {
    this.words ??= featuresOf(this.titles.map(title => ({ title })))
    const { from, at, value } = this.words
    const sum = new Map<number, number>()
    for (const s of seeds)
      for (let k = from[s]!; k < from[s + 1]!; k++) sum.set(at[k]!, (sum.get(at[k]!) ?? 0) + value[k]!)
    const out = new Float64Array(this.ends.length)
    for (let i = 0; i < out.length; i++) {
      let dot = 0
      for (let k = from[i]!; k < from[i + 1]!; k++) dot += (sum.get(at[k]!) ?? 0) * value[k]!
      out[i] = dot / Math.max(1, seeds.length)
    }
    return out
  }
}

/** Ties under this are noise of common words. */
const FAINT = 0.08

/** Works of a field in the years from one on, as far as all of them were asked for. */
function worksSince(
  field: string,
  year: number,
  byYear: ReadonlyMap<string, YearOfField>,
  thisYear: number,
  since: Map<string, (number | undefined)[]>,
): number | undefined {
  let sums = since.get(field)
  if (!sums) {
    sums = []
    let sum: number | undefined = 0
    for (let y = thisYear; y > 1700 && sum !== undefined; y--) {
      const works: number | undefined = byYear.get(`${field} ${y}`)?.works
      sum = works === undefined ? undefined : sum + works
      sums[y] = sum
    }
    since.set(field, sums)
  }
  return sums[Math.min(year, thisYear)]
}

function mostCommon(list: readonly (string | null)[]): string | undefined {
  const counts = new Map<string, number>()
  for (const f of list) if (f) counts.set(f, (counts.get(f) ?? 0) + 1)
  return [...counts].sort((a, b) => b[1] - a[1] || a[0].localeCompare(b[0]))[0]?.[0]
}
