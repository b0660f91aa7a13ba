import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { chain } from './chain'
import { degree, graphOf, neighbours, type Graph } from './graph'
import { best, citedTogether, coupled, together } from './likeness'
import { mainPath, stronglyConnected } from './main-path'
import { cites } from './rig'

type Links = readonly (readonly [number, number])[]
const graph = (n: number, links: Links): Graph =>
  graphOf(
    n,
    Uint32Array.from(links, l => l[0]),
    Uint32Array.from(links, l => l[1]),
  )
/** Graphs of up to twelve nodes, with citations of themselves, twice given ones and circles. */
const anyGraph = fc
  .integer({ min: 1, max: 12 })
  .chain(n =>
    fc.tuple(
      fc.constant(n),
      fc.array(fc.tuple(fc.nat(n - 1), fc.nat(n - 1)), { maxLength: 60 }),
      fc.array(fc.constantFrom(0, 1990, 1995, 2000, 2010, 2020), { minLength: n, maxLength: n }),
    ),
  )
const naive = (links: Links) => {
  const set = new Set(links.filter(([a, b]) => a !== b).map(([a, b]) => `${a} ${b}`))
  return { has: (a: number, b: number) => set.has(`${a} ${b}`), size: set.size }
}

describe('a graph of citations', () => {
  test('holds each citation once, both ways, and counts what it left out', () => {
    fc.assert(
      fc.property(anyGraph, ([n, links]) => {
        const g = graph(n, links)
        const plain = naive(links)
        expect(g.cites.to.length).toBe(plain.size)
        expect(g.ofItself + g.again + plain.size).toBe(links.length)
        for (let a = 0; a < n; a++) {
          const wanted = [...Array(n).keys()].filter(b => plain.has(a, b))
          expect([...neighbours(g.cites, a)]).toEqual(wanted)
          expect(degree(g.citedBy, a)).toBe([...Array(n).keys()].filter(b => plain.has(b, a)).length)
          expect([...neighbours(g.citedBy, a)]).toEqual([...Array(n).keys()].filter(b => plain.has(b, a)))
        }
      }),
    )
  })
  test('refuses an end that is no node', () => {
    expect(() => graph(2, [[0, 2]])).toThrow(RangeError)
  })
})

describe('likeness', () => {
  test('counts what two works share, forward and back, by the cosine', () => {
    fc.assert(
      fc.property(anyGraph, fc.nat(11), fc.nat(11), ([n, links], s, t) => {
        const g = graph(n, links)
        const plain = naive(links)
        const seeds = [...new Set([s % n, t % n])]
        for (const [how, has] of [
          [coupled, plain.has],
          [citedTogether, (a: number, b: number) => plain.has(b, a)],
        ] as const) {
          const tied = how(g, seeds)
          for (let a = 0; a < n; a++) {
            const of = (x: number) => [...Array(n).keys()].filter(r => has(x, r))
            const both = (x: number) => (x === a ? 0 : of(x).filter(r => has(a, r)).length)
            const shared = seeds.reduce((sum, x) => sum + both(x), 0)
            const cosine = seeds.reduce(
              (sum, x) => sum + (both(x) ? both(x) / Math.sqrt(of(x).length * of(a).length) : 0),
              0,
            )
            expect(tied.shared[a]).toBe(shared)
            expect(tied.likeness[a]).toBeCloseTo(cosine / seeds.length, 12)
            expect(tied.seeds[a]).toBe(seeds.filter(both).length)
          }
        }
      }),
    )
  })
  test('leaves out a reference that a crowd shares', () => {
    const links: [number, number][] = [0, 1, 2, 3].map(i => [i, 4])
    links.push([0, 5], [1, 5])
    expect([...coupled(graph(6, links), [0], 3).shared]).toEqual([0, 1, 0, 0, 0, 0])
  })
  test('of links and words is enough by one of them', () => {
    expect(together(1, 0, 0)).toBe(1)
    expect(together(0.5, 0, 0.5)).toBe(0.75)
    expect(together(0, 0)).toBe(0)
  })
  test('names the best, equals by number', () => {
    expect(best(Float64Array.of(0.2, 0, 0.5, 0.2), 3)).toEqual([2, 0, 3])
    expect(best(Float64Array.of(0.2, 0, 0.5, 0.2), 3, at => at !== 2)).toEqual([0, 3])
  })
})

describe('a chain', () => {
  test('leads from one work to the other by the fewest citations', () => {
    fc.assert(
      fc.property(anyGraph, fc.nat(11), fc.nat(11), ([n, links], s, t) => {
        const [from, to] = [s % n, t % n]
        const plain = naive(links)
        const linked = (a: number, b: number) => plain.has(a, b) || plain.has(b, a)
        // how far everything is, plainly
        const far = new Map([[from, 0]])
        for (let d = 0; d < n; d++)
          for (let a = 0; a < n; a++)
            if (far.get(a) === d) for (let b = 0; b < n; b++) if (linked(a, b) && !far.has(b)) far.set(b, d + 1)
        const steps = chain(graph(n, links), from, to)
        expect(steps?.length).toBe(far.get(to))
        let at = from
        for (const { node, by } of steps ?? []) {
          expect(by === 'cites' ? plain.has(at, node) : plain.has(node, at)).toBe(true)
          at = node
        }
        if (steps) expect(at).toBe(to)
      }),
    )
  })
})

describe('the main path', () => {
  test('follows the citations that most ways lead over', () => {
    // two old works, a junction, two new ones; and a branch of its own
    const path = mainPath(graph(7, cites('2-0 2-1 3-2 4-2 4-3 6-5')), [1990, 1991, 2000, 2005, 2010, 1995, 1999])
    expect(path.arcs).toContainEqual([2, 3])
    expect(path.arcs).toContainEqual([3, 4])
    expect(path.places[2]).toBe('junction')
    expect(path.places[0]).toBe('beginning')
    expect(path.forward).toEqual([])
  })
  test('drops citations of newer works by older ones and names them, and draws circles together', () => {
    const path = mainPath(graph(4, cites('0-1 1-2 2-1 3-1')), [1990, 2000, 2000, 2010])
    expect(path.forward).toEqual([[0, 1]])
    expect(path.circles).toEqual([[1, 2]])
    expect(path.arcs).toEqual([[1, 3]])
    expect(path.places).toEqual(['apart', 'beginning', 'side branch', 'on the path'])
  })
  test('of any graph runs along its citations, from older to newer, without a circle', () => {
    fc.assert(
      fc.property(anyGraph, ([n, links, years]) => {
        const plain = naive(links)
        const { arcs, places, forward, circles } = mainPath(graph(n, links), years)
        expect(places).toHaveLength(n)
        for (const [older, newer] of arcs) {
          expect(plain.has(newer, older)).toBe(true)
          if (years[older] && years[newer]) expect(years[older]).toBeLessThanOrEqual(years[newer]!)
          for (const w of [older, newer]) expect(['beginning', 'junction', 'on the path']).toContain(places[w])
        }
        for (const [citing, cited] of forward) expect(years[cited]).toBeGreaterThan(years[citing]!)
        // what is left without the circles has an order
        const part = (node: number) => circles.findIndex(c => c.includes(node))
        const ends = new Set(arcs.map(a => a[1]))
        if (arcs.length) expect(arcs.some(([older]) => !ends.has(older) || part(older) >= 0)).toBe(true)
        const any = links.some(
          ([a, b]) =>
            a !== b && !(years[a] && years[b] && years[b]! > years[a]!) && !(part(a) >= 0 && part(a) === part(b)),
        )
        expect(arcs.length > 0).toBe(any)
      }),
    )
  })
  test('counts more ways than numbers can hold', () => {
    // forty diamonds, one on the other, thirty times over: 2^1200 ways
    const links: [number, number][] = []
    const n = 3 * 1200 + 1
    for (let i = 0; i < 1200; i++)
      links.push([3 * i + 1, 3 * i], [3 * i + 2, 3 * i], [3 * i + 3, 3 * i + 1], [3 * i + 3, 3 * i + 2])
    const { arcs } = mainPath(graph(n, links), new Uint16Array(n), 1)
    expect(arcs).toHaveLength(2400)
  })
  test('parts that lead to one another are found as by trying every pair', () => {
    fc.assert(
      fc.property(anyGraph, ([n, links]) => {
        const plain = naive(links)
        const reach = Array.from({ length: n }, (_, a) =>
          Array.from({ length: n }, (_, b) => a === b || plain.has(a, b)),
        )
        for (let k = 0; k < n; k++)
          for (let a = 0; a < n; a++) for (let b = 0; b < n; b++) reach[a]![b] ||= reach[a]![k]! && reach[k]![b]!
        const { of, count } = stronglyConnected(graph(n, links))
        for (let a = 0; a < n; a++)
          for (let b = 0; b < n; b++) expect(of[a] === of[b]).toBe(reach[a]![b]! && reach[b]![a]!)
        expect(Math.max(...of) + 1).toBe(count)
      }),
    )
  })
})
