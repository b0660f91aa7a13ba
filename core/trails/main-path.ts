import { degree, graphOf, neighbours, type Graph, type Rows } from './graph'

/** Where a work stands in the way from the oldest works to the newest. */
export type Place = 'beginning' | 'junction' | 'on the path' | 'side branch' | 'apart'

export interface MainPath {
  /** Citations of the path, from the older work to the newer, in their order. */
  arcs: [older: number, newer: number][]
  places: Place[]
  /** Citations of a work by an older one, which are left out. */
  forward: [citing: number, cited: number][]
  /** Works that cite one another in a circle, which count as one. */
  circles: number[][]
}

/** Key routes drawn beside the heaviest one. */
const ROUTES = 3

/**
 * The main path of a field (idea: Hummon & Doreian 1989): each citation weighs by the search path count (Batagelj
 * 2003), the number of ways from the oldest works to the newest that lead over it, counted by logarithms since there
 * are more of them than numbers; from the heaviest citations on, the path follows the heaviest ones to both ends (key
 * routes, Liu & Lu 2012). Citations of a work by an older one are dropped before, and circles drawn together.
 * @param years of publication; 0 where it is not known
 */
export function mainPath(graph: Graph, years: ArrayLike<number>, routes = ROUTES): MainPath {
  const { n } = graph
  const { dag, forward } = inTime(graph, years)
  const { of, circles, count } = stronglyConnected(dag)
  const whole = condensed(dag, of, count)
  const order = fromTheOldest(whole)
  const before = ways(whole.cites, order)
  const after = ways(whole.citedBy, order.toReversed())
  // of each citation between two parts, the works at its ends: the first there are
  const arcs = new Map<number, [number, number]>()
  const chosen = keyRoutes(whole, before, after, routes)
  for (let node = 0; node < n; node++)
    for (const older of neighbours(dag.cites, node)) {
      const key = of[older]! * count + of[node]!
      if (of[older] !== of[node] && chosen.has(key) && !arcs.has(key)) arcs.set(key, [older, node])
    }
  const list = [...arcs.values()].sort((a, b) => rank(a[0]) - rank(b[0]) || rank(a[1]) - rank(b[1]))
  return { arcs: list, places: placesOf(dag, list), forward, circles }

  function rank(node: number): number {
    return (years[node] || 9999) * n + node
  }
}

function inTime({ n, cites }: Graph, years: ArrayLike<number>) {
  const forward: [number, number][] = []
  const [citing, cited] = [new Uint32Array(cites.to.length), new Uint32Array(cites.to.length)]
  let at = 0
  for (let node = 0; node < n; node++)
    for (const older of neighbours(cites, node)) {
      if (years[node] && years[older] && years[older]! > years[node]!) forward.push([node, older])
      else [citing[at], cited[at++]] = [node, older]
    }
  return { dag: graphOf(n, citing.subarray(0, at), cited.subarray(0, at)), forward }
}

/** Parts of a graph in which every node leads to every other (Tarjan 1972), without recursion. */
export function stronglyConnected({ n, cites }: Graph): { of: Uint32Array; circles: number[][]; count: number } {
  const of = new Uint32Array(n)
  const index = new Uint32Array(n)
  const low = new Uint32Array(n)
  const next = new Uint32Array(n)
  const onStack = new Uint8Array(n)
  const stack: number[] = []
  const circles: number[][] = []
  let [clock, count] = [0, 0]
  for (let root = 0; root < n; root++) {
    if (index[root]) continue
    const walk = [root]
    while (walk.length) {
      const node = walk.at(-1)!
      if (!index[node]) {
        index[node] = low[node] = ++clock
        next[node] = cites.start[node]!
        stack.push(node)
        onStack[node] = 1
      }
      if (next[node]! < cites.start[node + 1]!) {
        const to = cites.to[next[node]!++]!
        if (!index[to]) walk.push(to)
        else if (onStack[to]) low[node] = Math.min(low[node]!, index[to])
        continue
      }
      walk.pop()
      const parent = walk.at(-1)
      if (parent !== undefined) low[parent] = Math.min(low[parent]!, low[node]!)
      if (low[node] !== index[node]) continue
      const part: number[] = []
      for (let one = -1; one !== node;) {
        one = stack.pop()!
        onStack[one] = 0
        of[one] = count
        part.push(one)
      }
      if (part.length > 1) circles.push(part.sort((a, b) => a - b))
      count++
    }
  }
  return { of, circles, count }
}

function condensed({ n, cites }: Graph, of: Uint32Array, count: number): Graph {
  const [citing, cited] = [new Uint32Array(cites.to.length), new Uint32Array(cites.to.length)]
  let at = 0
  for (let node = 0; node < n; node++)
    for (const to of neighbours(cites, node)) [citing[at], cited[at++]] = [of[node]!, of[to]!]
  return graphOf(count, citing, cited)
}

/** Every node after all that it cites. */
function fromTheOldest({ n, cites, citedBy }: Graph): number[] {
  const open = Uint32Array.from({ length: n }, (_, node) => degree(cites, node))
  const order = [...open.keys()].filter(node => !open[node])
  for (let i = 0; i < order.length; i++)
    for (const newer of neighbours(citedBy, order[i]!)) if (!--open[newer]!) order.push(newer)
  return order
}

/** ln of the number of ways that lead to each node from an end, along rows. */
function ways(rows: Rows, order: readonly number[]): Float64Array {
  const ln = new Float64Array(rows.start.length - 1)
  for (const node of order) {
    const from = neighbours(rows, node)
    if (!from.length) continue
    let most = -Infinity
    for (const f of from) most = Math.max(most, ln[f]!)
    let sum = 0
    for (const f of from) sum += Math.exp(ln[f]! - most)
    ln[node] = most + Math.log(sum)
  }
  return ln
}

/** Citations between parts, each as one number. */
type Arcs = Set<number>

function keyRoutes({ n, cites, citedBy }: Graph, before: Float64Array, after: Float64Array, routes: number): Arcs {
  const weight = (older: number, newer: number) => before[older]! + after[newer]!
  const chosen: Arcs = new Set()
  for (let route = 0; route < routes; route++) {
    let [most, from, to] = [-Infinity, -1, -1]
    for (let newer = 0; newer < n; newer++)
      for (const older of neighbours(cites, newer))
        if (weight(older, newer) > most && !chosen.has(older * n + newer))
          [most, from, to] = [weight(older, newer), older, newer]
    if (from < 0) break
    chosen.add(from * n + to)
    // it ends where it meets a route that is drawn already
    for (let at = from; ;) {
      const next = heaviest(neighbours(cites, at), o => weight(o, at))
      if (next === undefined || chosen.has(next * n + at)) break
      chosen.add(next * n + at)
      at = next
    }
    for (let at = to; ;) {
      const next = heaviest(neighbours(citedBy, at), o => weight(at, o))
      if (next === undefined || chosen.has(at * n + next)) break
      chosen.add(at * n + next)
      at = next
    }
  }
  return chosen
}

function heaviest(nodes: Uint32Array, weight: (node: number) => number): number | undefined {
  let [found, most] = [undefined as number | undefined, -Infinity]
  for (const node of nodes) if (weight(node) > most) [found, most] = [node, weight(node)]
  return found
}

function placesOf({ n, cites, citedBy }: Graph, arcs: readonly [number, number][]): Place[] {
  const into = new Map<number, number>()
  const out = new Map<number, number>()
  for (const [older, newer] of arcs) {
    out.set(older, (out.get(older) ?? 0) + 1)
    into.set(newer, (into.get(newer) ?? 0) + 1)
  }
  return Array.from({ length: n }, (_, node): Place => {
    const [from, to] = [into.get(node) ?? 0, out.get(node) ?? 0]
    if (from > 1 || to > 1) return 'junction'
    if (to && !from) return 'beginning'
    if (from || to) return 'on the path'
    return degree(cites, node) || degree(citedBy, node) ? 'side branch' : 'apart'
  })
}
