import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { Field } from './field'
import { cites } from './rig'
import type { FieldGraph, FieldWork } from './field-shapes'

const work = (id: number, more: Partial<FieldWork> = {}): FieldWork => ({
  ...{ id, title: `Lamps and moths of street ${id}`, year: 2015 + (id % 10), state: 'kept', strands: [] },
  ...{ citedBy: 10, references: 5, swept: true, byTrail: false },
  ...more,
})
type Node = FieldGraph['nodes'][number]
const node = (id: number, more: Partial<Node> = {}): Node => ({
  ...{ id, work: null, year: 2000, citedBy: 40, field: 'night', round: 1, pointer: { title: `Pointer ${id}` } },
  ...more,
})
const of = (id: number, w: number, more: Partial<Node> = {}) =>
  node(id, { work: w, year: 2015 + (w % 10), pointer: null, round: null, ...more })
/** Years of the field of night, in each so many works: one half never cited, the other ten times. */
function years(from: number, works: number): FieldGraph['fields'] {
  const half = works / 2
  return Array.from({ length: 2026 - from + 1 }, (_, i) => {
    const counts = [
      [0, half],
      [10, half],
    ] as const
    return { field: 'night', year: from + i, works, counts }
  })
}
const graph = (nodes: Node[], links: [number, number][], more: Partial<FieldGraph> = {}): FieldGraph => ({
  nodes,
  citing: links.map(l => nodes.findIndex(n => n.id === l[0])),
  cited: links.map(l => nodes.findIndex(n => n.id === l[1])),
  walks: [],
  rounds: [],
  fields: years(1990, 100),
  ...more,
})
const today = '2026-10-05'

describe('what one lacks', () => {
  const kept = [1, 2, 3, 4, 5, 6].map(i => work(i))
  // a dozen more that two of them cite, by which it is told how near they are to their subject
  const others = Array.from({ length: 12 }, (_, i) => node(70 + i, { citedBy: 60 }))
  const nodes = [
    ...kept.map(w => of(w.id, w.id)),
    node(50, { citedBy: 40 }),
    node(51, { citedBy: 2900 }),
    node(52),
    ...others,
  ]
  const links: [number, number][] = others.flatMap(
    o =>
      [
        [1, o.id],
        [2, o.id],
      ] as [number, number][],
  )
  links.push(
    ...kept.flatMap(
      w =>
        [
          [w.id, 50],
          [w.id, 51],
        ] as [number, number][],
    ),
  )
  test('is cited by three kept works or more, with both numbers', () => {
    const f = new Field(graph(nodes, [...links, ...cites('1-52 2-52')]), kept, today)
    const found = f.lacking()
    expect(found.map(l => f.ends[l.node])).toMatchObject([
      { node: 50, work: null },
      { node: 51, work: null },
    ])
    expect(found[0]).toMatchObject({ citing: 6, k: 6, n: 6, K: 40, N: 2700 })
    expect(found[0]!.fame).toBeLessThan(found[1]!.fame!)
  })
  test('is not a work of the pool, whatever its state', () => {
    const pool = [...kept, work(7, { state: 'set aside' })]
    const f = new Field(graph([...nodes.filter(n => n.id !== 50), of(50, 7)], [...links]), pool, today)
    expect(f.lacking().map(l => f.ends[l.node]!.node)).toEqual([51])
  })
  test('is said untested where the index does not tell how many works the field has in every year', () => {
    const f = new Field(graph(nodes, links, { fields: years(2010, 100) }), kept, today)
    expect(f.lacking().map(l => [f.ends[l.node]!.node, l.fame])).toEqual([
      [50, undefined],
      [51, undefined],
    ])
  })
})

describe('a field', () => {
  test('takes two nodes of one work as one, with the links of both', () => {
    const kept = [work(1), work(2)]
    const nodes = [of(10, 1), of(11, 1), of(20, 2), node(30), node(31)]
    const f = new Field(graph(nodes, cites('10-30 11-31 20-11')), kept, today)
    const at = f.nodeOf(1)!
    expect(f.list('references', at).map(r => f.ends[r.at]!.node)).toEqual([30, 31])
    expect(f.list('cited by', at).map(r => f.ends[r.at]!.work)).toEqual([2])
    expect(f.ends.filter(e => e.work === 1)).toHaveLength(1)
  })
  test('has kept works that no index knows, and pointers to works that are gone', () => {
    const f = new Field(graph([of(10, 99, { pointer: null })], []), [work(1)], today)
    expect(f.nodeOf(1)).toBe(1)
    expect(f.ends[0]).toEqual({ work: null, node: 10, year: 2024 })
    expect(f.lacking()).toEqual([])
    expect(f.list('alike', 1)).toEqual([])
  })
  test('ranks neighbours by what more of the kept works are tied to, and those of all kept by how many they have', () => {
    const kept = [1, 2, 3].map(i => work(i))
    const nodes = [...kept.map(w => of(w.id, w.id)), node(50), node(51, { citedBy: 900 }), node(52)]
    const f = new Field(graph(nodes, cites('1-51 1-50 2-50 3-50 3-52 2-52')), kept, today)
    expect(f.list('references', f.nodeOf(1)).map(r => [f.ends[r.at]!.node, r.tied])).toEqual([
      [50, 3],
      [51, 1],
    ])
    expect(f.list('references').map(r => [f.ends[r.at]!.node, r.shared])).toEqual([
      [50, 3],
      [52, 2],
      [51, 1],
    ])
    expect(f.list('shared', f.nodeOf(1)).map(r => [f.ends[r.at]!.work, r.shared])).toEqual([
      [2, 1],
      [3, 1],
    ])
    // of all kept ones: what is outside of them
    expect(f.list('shared')).toEqual([])
  })
  test('places pointers on the stem of most of the works they are tied to', () => {
    const kept = [1, 2, 3].map(i => work(i))
    const nodes = [...kept.map(w => of(w.id, w.id)), node(50), node(51)]
    const f = new Field(graph(nodes, cites('1-50 2-50 3-50')), kept, today)
    const stems = f.stems(new Map(kept.map((w, i) => [f.nodeOf(w.id)!, Math.min(i, 1)])))
    expect([...stems]).toEqual([0, 1, 1, 1, -1])
    expect(f.strokes(stems)).toEqual([{ stem: 1, year: 2000, n: 1 }])
  })
  test('says where a count stands among works of its field and year, but not of this year', () => {
    const f = new Field(
      graph([of(1, 1), node(50, { citedBy: 10 }), node(51, { year: 2026 }), node(52, { field: null })], []),
      [work(1)],
      today,
    )
    expect([1, 2, 3].map(at => f.percentileOf(at))).toEqual([75, null, null])
  })
})

describe('rounds', () => {
  const rounds = [
    { id: 4, n: 1, isStanding: false, trails: 20, left: 0 },
    { id: 5, n: null, isStanding: false, trails: 2, left: 0 },
    { id: 7, n: null, isStanding: true, trails: 3, left: 0 },
    { id: 6, n: 2, isStanding: false, trails: 10, left: 4 },
  ]
  const byTrail = { swept: false, byTrail: true }
  const pool = [
    work(1),
    work(2, { state: 'unread' }),
    work(3, byTrail),
    work(4, { ...byTrail, state: 'unread' }),
    work(5, byTrail),
  ]
  const nodes = [of(1, 1), of(2, 2), of(3, 3, { round: 4 }), of(4, 4, { round: 4 }), of(5, 5, { round: 5 })]
  test('are told with what came of them and what was kept, single looks and standing trails apart', () => {
    const f = new Field(graph(nodes, cites('1-3 5-1'), { rounds }), pool, today)
    const { sweeps, rounds: told, captures } = f.enough()
    expect(sweeps).toEqual({ brought: 2, kept: 1 })
    expect(told).toEqual([
      { n: 1, isStanding: false, walked: 20, brought: 2, kept: 1 },
      { n: 2, isStanding: false, walked: 6, brought: 0, kept: 0 },
      { n: null, isStanding: false, walked: 2, brought: 1, kept: 1 },
      { n: null, isStanding: true, walked: 3, brought: 0, kept: 0 },
    ])
    expect(captures).toMatchObject({ kept: 3, sweeps: 1, trails: 3, both: 1, left: 0, escaped: null })
    expect(captures.apart).toEqual([])
    expect(f.next(0).kept.most).toBe(0)
    expect(f.next(20).brought.most).toBeGreaterThan(0)
  })
  test('tell of kept works that sweeps alone found: tied to none that is kept, whoever else they cite', () => {
    const swept = [work(1), work(2), work(6), work(7, byTrail), work(8)]
    const known = [of(1, 1), of(2, 2), of(6, 6), of(7, 7), node(50), node(51)]
    // 1 cites 7, which is kept; 2 cites two pointers; 6 is in the graph and cites nothing; no index knows 8
    const f = new Field(graph(known, cites('1-7 2-50 2-51 50-2')), swept, today)
    const told = f.enough().captures.apart.map(a => ({ ...a, at: f.ends[a.at]!.work }))
    expect(told).toEqual([
      { at: 2, cites: 2, citedBy: 1 },
      { at: 6, cites: 0, citedBy: 0 },
    ])
  })
  test('begin with the trail that pays', () => {
    const walks = [{ node: 0, direction: 'references' as const, total: 1, got: 1 }]
    const f = new Field(graph(nodes, cites('1-3 5-1'), { rounds, walks }), pool, today)
    expect(f.pays().map(p => [f.ends[p.node]!.work, p.walked])).toEqual([
      [3, false],
      [5, false],
      [1, true],
    ])
  })
})

test('a work that slept and woke is told only where all that cite it were read', () => {
  const citing = Array.from({ length: 24 }, (_, i) => node(100 + i, { year: i < 2 ? 2003 : 2018 + (i % 4) }))
  const links = citing.map(c => [c.id, 1] as [number, number])
  const with_ = (got: number) =>
    new Field(
      graph([of(1, 1, { year: 1995 }), ...citing], links, {
        walks: [{ node: 0, direction: 'cited-by', total: 24, got }],
      }),
      [work(1, { year: 1995 })],
      today,
    )
  expect(with_(24).slept(0)?.woke).toBeGreaterThan(2010)
  expect(with_(20).slept(0)).toBeUndefined()
})

test('suggested strands follow shared references, and the main path runs over kept works and what they lack', () => {
  const kept = Array.from({ length: 12 }, (_, i) =>
    work(i + 1, { year: 2005 + i, title: i < 6 ? `Lamps ${i}` : `Moths ${i}` }),
  )
  const nodes = [...kept.map(w => of(w.id, w.id, { year: w.year })), ...[60, 61, 62, 63].map(i => node(i))]
  const links: [number, number][] = kept.flatMap(w =>
    (w.id <= 6 ? [60, 61] : [62, 63]).map(r => [w.id, r] as [number, number]),
  )
  links.push(...cites('3-1 5-3 9-5'))
  const f = new Field(graph(nodes, links), kept, today)
  const { strands } = f.suggested()
  expect(strands.map(s => new Set(s.works.map(at => f.ends[at]!.work! <= 6)).size)).toEqual([1, 1])
  const { arcs, places } = f.path([])
  expect(arcs.map(a => a.map(at => f.ends[at]!.work))).toEqual([
    [1, 3],
    [3, 5],
    [5, 9],
  ])
  expect(places[f.nodeOf(1)!]).toBe('beginning')
  expect(places[f.nodeOf(2)!]).toBe('apart')
})

test('of any graph, whatever is asked comes to an end, names what is there, and joins no work twice', () => {
  const any = fc.record({
    nodes: fc.array(
      fc.record({
        work: fc.option(fc.integer({ min: 1, max: 5 })),
        year: fc.option(fc.integer({ min: 1900, max: 2030 })),
        citedBy: fc.option(fc.nat(500)),
        field: fc.option(fc.constantFrom('night', 'day')),
        round: fc.option(fc.constantFrom(1, 2)),
      }),
      { maxLength: 12 },
    ),
    links: fc.array(fc.tuple(fc.nat(11), fc.nat(11)), { maxLength: 40 }),
    states: fc.array(fc.constantFrom('kept' as const, 'unread' as const, 'set aside' as const), {
      minLength: 5,
      maxLength: 5,
    }),
  })
  fc.assert(
    fc.property(any, ({ nodes, links, states }) => {
      const list = nodes.map((n, i) => ({ id: i + 1, ...n, pointer: n.work === null ? { title: `P ${i}` } : null }))
      const within = links.filter(l => l[0] < list.length && l[1] < list.length)
      const told: FieldGraph = {
        ...graph(list, []),
        citing: within.map(l => l[0]),
        cited: within.map(l => l[1]),
        rounds: [{ id: 1, n: 1, isStanding: false, trails: 3, left: 0 }],
      }
      const f = new Field(
        told,
        states.map((state, i) => work(i + 1, { state })),
        today,
      )
      const works = f.ends.flatMap(e => e.work ?? [])
      expect(new Set(works).size).toBe(works.length)
      for (const l of f.lacking()) expect(f.ends[l.node]!.work).toBeNull()
      for (const kind of ['references', 'cited by', 'shared', 'together', 'alike'] as const)
        for (const of of [undefined, ...f.ends.keys()])
          for (const r of f.list(kind, of)) {
            expect(r.at).toBeLessThan(f.ends.length)
            expect(r.at).not.toBe(of)
          }
      f.path(f.lacking().map(l => l.node))
      f.suggested()
      f.pays()
      const { captures } = f.enough()
      expect(captures.both).toBeLessThanOrEqual(Math.min(captures.sweeps, captures.trails))
    }),
    { numRuns: 60 },
  )
})
