import { UndirectedGraph } from 'graphology'
import louvain from 'graphology-communities-louvain'
import { tokenise } from '../query/tokens'
import { seeded } from '../world/random'

/** A tie of two works, with its weight above 0. */
export type Tie = readonly [a: number, b: number, weight: number]

export interface SuggestedStrand {
  works: number[]
  /** The words that tell it from the others. */
  name: string
}
export interface Suggested {
  strands: SuggestedStrand[]
  /** Of works that belong to another strand nearly as much: which one, by its place among the strands. */
  second: Map<number, number>
  /** Works that nothing ties to others. */
  apart: number[]
}

/** Drawings of lots, of which the best division is taken: one alone moves with the lot. */
const TRIES = 8
/** A strand of fewer works is none. */
const SMALLEST = 3
/** Ties to another strand, against those to its own, from which on a work stands on both. */
const NEARLY = 0.6

/**
 * Groups of works that are tied to one another more than to the rest (Louvain: Blondel et al. 2008), of several tries
 * the one of highest modularity; named by their distinguishing words. The same works and ties give the same strands.
 * @param words of each work: its title and keywords
 */
export function suggestStrands(
  works: readonly number[],
  ties: readonly Tie[],
  words: (work: number) => string,
): Suggested {
  const graph = new UndirectedGraph<object, { weight: number }>()
  for (const w of works) graph.addNode(w)
  for (const [a, b, weight] of ties)
    if (a !== b) graph.updateEdge(a, b, had => ({ weight: (had.weight ?? 0) + weight }))
  const apart = works.filter(w => !graph.degree(w))
  for (const w of apart) graph.dropNode(w)
  if (!graph.size) return { strands: [], second: new Map(), apart: [...works] }
  const tries = Array.from({ length: TRIES }, (_, i) => louvain.detailed(graph, { rng: seeded(i + 1) }))
  const { communities } = tries.reduce((best, t) => (t.modularity > best.modularity + 1e-9 ? t : best))
  const groups = new Map<number, number[]>()
  for (const w of works) {
    const of = communities[w]
    if (of !== undefined) groups.set(of, [...(groups.get(of) ?? []), w])
  }
  const large = [...groups.values()]
    .filter(g => g.length >= SMALLEST)
    .sort((a, b) => b.length - a.length || a[0]! - b[0]!)
  const place = new Map(large.flatMap((g, i) => g.map(w => [w, i] as const)))
  const second = new Map<number, number>()
  for (const [work, own] of place) {
    const to = new Float64Array(large.length)
    graph.forEachEdge(work, (_, { weight }, a, b) => {
      const other = place.get(Number(a) === work ? Number(b) : Number(a))
      if (other !== undefined) to[other]! += weight
    })
    const next = to.reduce((best, v, i) => (i !== own && v > (to[best] ?? 0) ? i : best), -1)
    if (next >= 0 && to[next]! >= NEARLY * to[own]!) second.set(work, next)
  }
  const names = distinguishing(large.map(g => g.map(words)))
  return {
    strands: large.map((g, i) => ({ works: g, name: names[i]!.join(', ') || `Group ${i + 1}` })),
    second,
    apart: works.filter(w => !place.has(w)),
  }
}

const STOP = new Set(
  'a an and are as at by can do does for from how in into is it its no not of on or the their them they to under was were what when where which with without between among after before during effect effects study evidence using use'.split(
    ' ',
  ),
)
/** Words of a name at most. */
const NAMED_BY = 3

/**
 * The words that distinguish each group of texts from all others: log-odds with a Dirichlet prior drawn from all texts,
 * over their standard error (Monroe, Colaresi & Quinn 2008). A word counts once a text.
 * @example distinguishing([['red lamps'], ['blue moths']]) // [['red', 'lamps'], ['blue', 'moths']]
 */
export function distinguishing(groups: readonly (readonly string[])[], most = NAMED_BY): string[][] {
  const counts = groups.map(texts => {
    const of = new Map<string, number>()
    for (const text of texts)
      for (const w of new Set([...tokenise(text)].map(t => t.text)))
        if (w.length > 2 && !STOP.has(w) && !/^\d+$/.test(w)) of.set(w, (of.get(w) ?? 0) + 1)
    return of
  })
  const all = new Map<string, number>()
  for (const c of counts) for (const [w, n] of c) all.set(w, (all.get(w) ?? 0) + n)
  const sum = (c: Map<string, number>) => [...c.values()].reduce((t, n) => t + n, 0)
  const whole = sum(all)
  return counts.map((own, g) => {
    const n = sum(own)
    const score = (w: string, k: number) => {
      const a = all.get(w)!
      const odds = (y: number, of: number) => Math.log((y + a) / (of + whole - y - a))
      const rest = a - k
      return (odds(k, n) - odds(rest, whole - n)) / Math.sqrt(1 / (k + a) + 1 / (rest + a))
    }
    return [...own]
      .filter(([, k]) => k >= Math.min(2, groups[g]!.length))
      .map(([w, k]) => ({ w, s: score(w, k) }))
      .filter(x => x.s > 0)
      .sort((a, b) => b.s - a.s || a.w.localeCompare(b.w))
      .slice(0, most)
      .map(x => x.w)
  })
}
