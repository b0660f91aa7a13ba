import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { atLeast, atMost, lnFactorial } from '../sift/hypergeometric'
import { seeded } from '../world/random'
import { escaped } from './captures'
import { landmarks, type Candidate } from './landmarks'
import { citationsPerYear, percentile, sleeper } from './rate'
import { forecast, whichPays, type Origin } from './rounds'
import { distinguishing, suggestStrands, type Tie } from './strands'

describe('citations a year', () => {
  test('count from the middle of the year of publication, and say nothing below a year', () => {
    expect(citationsPerYear(40, 2016, '2026-10-05')).toBeCloseTo(40 / 10.25)
    expect(citationsPerYear(5, 2026, '2026-10-05')).toBeUndefined()
    expect(citationsPerYear(undefined, 2016, '2026-10-05')).toBeUndefined()
  })
  test('stand among works of the same field and year', () => {
    const counts = Object.entries({ 0: 50, 1: 30, 2: 10, 9: 10 }).map(([n, works]) => [Number(n), works] as const)
    expect([0, 1, 2, 5, 9, 99].map(n => percentile(n, { counts }))).toEqual([25, 65, 85, 90, 95, 100])
    expect(percentile(3, { counts: [[0, 4]] })).toBeUndefined()
  })
  test('tell a work that slept and woke from one that was read at once', () => {
    const yearly = (of: number[]) => of.flatMap((k, t) => Array<number>(k).fill(1990 + t))
    const late = sleeper(1990, yearly([0, 0, 1, 0, 0, 1, 0, 0, 0, 0, 1, 2, 9, 14, 20]))
    expect(late?.woke).toBeGreaterThanOrEqual(2000)
    expect(late?.woke).toBeLessThanOrEqual(2002)
    expect(sleeper(1990, yearly([4, 9, 12, 8, 5, 3, 2, 2, 1]))).toBeUndefined()
    expect(sleeper(1990, [])).toBeUndefined()
    // what is said to cite it before it was there does not count
    expect(sleeper(1990, [1980, 1985])).toBeUndefined()
  })
})

describe('the hypergeometric law', () => {
  test('sums to one from both ends, small and large', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 4000 }), fc.nat(), fc.nat(), fc.nat(), (N, a, b, c) => {
        const [K, n] = [a % (N + 1), b % (N + 1)]
        const k = c % (Math.min(K, n) + 1)
        expect(atLeast(k, N, K, n) + (k ? atMost(k - 1, N, K, n) : 0)).toBeCloseTo(1, 8)
      }),
    )
  })
  test('knows factorials beyond its table', () => {
    let ln = 0
    for (let i = 1; i <= 300; i++) {
      ln += Math.log(i)
      expect(lnFactorial(i) / ln || 1).toBeCloseTo(1, 13)
    }
  })
})

describe('landmarks', () => {
  const c = (more: Partial<Candidate>): Candidate => ({ node: 0, citing: 5, k: 5, n: 20, K: 10, N: 2000, ...more })
  /** Works on the subject of 40 kept ones: cited by them as often as their fame says, five times over. */
  const crowd = (r: () => number, size = 300): Candidate[] =>
    Array.from({ length: size }, (_, node) => {
      const K = 5 + Math.floor(r() * 100)
      let k = 0
      for (let j = 0; j < 40; j++) if (r() < (5 * K) / 2000) k++
      return c({ node, citing: k, k, n: 40, K })
    })
  test('stand out where more of the kept works cite them than fame among works on their subject explains', () => {
    const list = landmarks([...crowd(seeded(2)), c({ node: 900, citing: 19, k: 19, n: 40, K: 40 })])
    const [first, ...rest] = list
    expect(first).toMatchObject({ node: 900, standsOut: true })
    // one in forty is cited as often as this; on their subject five times as often
    expect(first!.fame).toBeGreaterThan(3)
    expect(first!.fame).toBeLessThan(5)
    expect(rest.filter(l => l.standsOut)).toEqual([])
    const citing = rest.map(l => l.citing)
    expect([...citing].sort((a, b) => b - a)).toEqual(citing)
    expect(Math.min(...citing)).toBeGreaterThanOrEqual(3)
  })
  test('that fame explains do not stand out, seldom even by chance', () => {
    const r = seeded(5)
    let wrong = 0
    for (let i = 0; i < 40; i++) if (landmarks(crowd(r)).some(l => l.standsOut)) wrong++
    expect(wrong).toBeLessThan(5)
  })
  test('that cannot be tested are named with the others, by how many cite them, their fame unknown', () => {
    const list = landmarks([
      c({ node: 1, N: undefined, citing: 3 }),
      c({ node: 2, N: undefined, citing: 9 }),
      c({ node: 3, citing: 2, k: 2 }),
    ])
    expect(list.map(l => [l.node, l.fame, l.standsOut])).toEqual([
      [2, undefined, false],
      [1, undefined, false],
    ])
  })
  test('hold with counts of an index that do not fit', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(60), fc.nat(60), fc.nat(9000), fc.option(fc.nat(5000))), { maxLength: 40 }),
        list => {
          const of = list.map(([k, n, K, N], node) =>
            c({ node, k: Math.min(k, n), citing: k, n, K, N: N ?? undefined }),
          )
          for (const l of landmarks(of)) {
            expect(l.citing).toBeGreaterThanOrEqual(3)
            if (l.fame !== undefined) expect(l.fame).toBeLessThanOrEqual(l.n)
          }
        },
      ),
    )
  })
})

describe('what escaped', () => {
  test('is not said below seven caught by both', () => {
    expect(escaped(40, 30, 6)).toBeUndefined()
    expect(escaped(40, 30, 7)).toBeDefined()
  })
  test('is nothing where both caught all, and a floor with bounds else', () => {
    expect(escaped(12, 12, 12)).toEqual({ least: 0, about: 0, most: 0 })
    const of = escaped(44, 38, 31)!
    expect(of.about).toBeCloseTo((45 * 39) / 32 - 1 - 51, 9)
    expect(of.least).toBeLessThan(of.about)
    expect(of.most).toBeGreaterThan(of.about)
  })
  test('holds the truth nearly always, where the captures are independent', () => {
    const r = seeded(11)
    let [held, said] = [0, 0]
    for (let i = 0; i < 1000; i++) {
      const N = 40 + Math.floor(r() * 80)
      let [s, t, b] = [0, 0, 0]
      for (let w = 0; w < N; w++) {
        const [x, y] = [r() < 0.7, r() < 0.5]
        if (x) s++
        if (y) t++
        if (x && y) b++
      }
      const e = escaped(s, t, b)
      if (!e) continue
      said++
      const left = N - (s + t - b)
      if (left >= Math.floor(e.least) && left <= Math.ceil(e.most)) held++
    }
    expect(held / said).toBeGreaterThan(0.93)
  })
})

describe('the next round', () => {
  test('is foretold by the rounds before, the later ones counting more', () => {
    const after = (...works: number[]) =>
      forecast(
        works.map(n => ({ walked: 40, works: n })),
        20,
      )
    const [dry, rising] = [after(30, 2), after(2, 30)]
    expect(dry.about).toBeLessThan(rising.about)
    expect(forecast([], 0)).toEqual({ about: 0, least: 0, most: 0 })
    expect(forecast([], 10).most).toBeGreaterThan(10)
  })
  test('lies within its bounds nine times in ten', () => {
    const r = seeded(3)
    const poisson = (m: number) => {
      let [k, p] = [0, r()]
      for (const least = Math.exp(-m); p > least; p *= r()) k++
      return k
    }
    let held = 0
    for (let i = 0; i < 1000; i++) {
      const rate = 0.1 + r()
      const f = forecast([{ walked: 30, works: poisson(rate * 30) }], 30)
      const came = poisson(rate * 30)
      if (came >= f.least && came <= f.most) held++
    }
    expect(held).toBeGreaterThan(870)
  })
  test('begins with the trail that pays most for a call', () => {
    const o = (more: Partial<Origin>): Origin => ({
      node: 0,
      neighbours: 30,
      pooled: 0,
      kept: 0,
      calls: 2,
      walked: false,
      ...more,
    })
    const list = whichPays([
      o({ node: 1, walked: true, neighbours: 50, pooled: 20, kept: 10 }),
      o({ node: 2, walked: true, neighbours: 2, pooled: 2, kept: 1 }),
      o({ node: 3, neighbours: 60 }),
      o({ node: 4, neighbours: 60, calls: 6 }),
    ])
    expect(list.map(p => p.node)).toEqual([3, 4, 1, 2])
    const [, , large, small] = list
    expect(large!.share).toBeLessThan(0.22)
    // half of two is not more than a fifth of fifty
    expect(small!.share).toBeLessThan(0.3)
  })
})

describe('suggested strands', () => {
  const ring = (from: number, size: number): Tie[] =>
    Array.from({ length: size }, (_, i) => [from + i, from + ((i + 1) % size), 1] as const)
  const words = (w: number) => (w < 10 ? `Lamps and moths ${w}` : `Frost and pears ${w}`)
  test('are what hangs together, named by what tells them apart, the same each time', () => {
    const works = [...Array(21).keys()]
    const ties = [
      ...ring(0, 10),
      ...ring(10, 10),
      [0, 5, 1],
      [2, 7, 1],
      [10, 15, 1],
      [12, 17, 1],
      [3, 13, 0.2],
    ] as Tie[]
    const found = suggestStrands(works, ties, words)
    expect(found.strands.flatMap(s => s.works).sort((a, b) => a - b)).toEqual(works.slice(0, 20))
    for (const s of found.strands) {
      expect(new Set(s.works.map(w => w < 10)).size).toBe(1)
      expect(s.name).toMatch(s.works[0]! < 10 ? /lamps|moths/ : /frost|pears/)
    }
    expect(found.apart).toEqual([20])
    expect(suggestStrands(works, ties, words)).toEqual(found)
  })
  test('tell a work that stands on two', () => {
    const full = (list: number[]): Tie[] => list.flatMap((a, i) => list.slice(i + 1).map(b => [a, b, 1] as const))
    const ties = [...full([0, 1, 2, 3]), ...full([4, 5, 6, 7]), [8, 0, 1], [8, 1, 1], [8, 4, 0.9], [8, 5, 0.9]] as Tie[]
    const { strands, second } = suggestStrands([...Array(9).keys()], ties, String)
    const own = strands.findIndex(s => s.works.includes(8))
    expect(second.get(8)).toBe(1 - own)
    expect([...second.keys()]).toEqual([8])
  })
  test('are none where nothing is tied', () => {
    expect(suggestStrands([1, 2, 3], [], String)).toEqual({ strands: [], second: new Map(), apart: [1, 2, 3] })
  })
  test('are named by words that the others have not', () => {
    expect(
      distinguishing([
        ['Red lamps', 'Red lamps at night'],
        ['Blue moths', 'Blue moths at night'],
      ]),
    ).toEqual([
      ['lamps', 'red'],
      ['blue', 'moths'],
    ])
  })
})
