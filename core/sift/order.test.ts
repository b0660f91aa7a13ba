import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { Learner } from './learner'
import { FIRST_PAGE, featuresOf, learn, readingOrder, scoresOf, why, type Described } from './order'
import { atMost } from './hypergeometric'
import { drawsFor, levelOf, mostLeft } from './stopping'

const moths = ['Moths at street lamps', 'Street lamps and moths of towns', 'Night moths near lamps', 'Lamps draw moths']
const boats = [
  'Hulls of moth boats',
  'Sails and foils of dinghies',
  'Foils under racing hulls',
  'Boats that sail on foils',
]
const works: Described[] = [...moths, ...boats].map(title => ({ title }))
const question = { title: 'Do street lamps change what moths do?' }

describe('what is wanted', () => {
  test('begins with the words of the question', () => {
    const f = featuresOf(works)
    const s = scoresOf(f, learn(f, new Int8Array(8), question))
    expect([...s.slice(0, 2)].every(x => x > Math.max(...s.slice(4)))).toBe(true)
  })
  test('is learned from decisions, even against the question', () => {
    const f = featuresOf(works)
    const decided = Int8Array.of(-1, -1, 0, 0, 1, 1, 0, 0)
    const s = scoresOf(f, learn(f, decided, question))
    expect(Math.min(s[6]!, s[7]!)).toBeGreaterThan(Math.max(s[2]!, s[3]!))
  })
  test('is told by the words that moved it', () => {
    const f = featuresOf(works)
    const m = learn(f, Int8Array.of(1, 1, 0, 0, -1, -1, 0, 0), question)
    const told = why({ title: 'Street lamps over racing hulls' }, f, m)
    expect(told.towards).toContain('street lamps')
    expect(told.away.join(' ')).toMatch(/hulls/)
  })
  test('nothing said, nothing known: no word gives no error', () => {
    const f = featuresOf([{ title: '' }, { title: 'the of' }])
    expect([...scoresOf(f, learn(f, new Int8Array(2), { title: '' }))].every(Number.isFinite)).toBe(true)
  })
  test('long texts are read as short ones are: a row hangs on what it says, not on how long the rows before it were', () => {
    const long = Array.from({ length: 30 }, (_, i) => ({
      title: `Work ${i}`,
      abstract: Array.from({ length: 40 * i }, (_, k) => `w${(k * 7 + i) % 900}x`).join(' '),
    }))
    const f = featuresOf(long)
    const turned = featuresOf([...long].reverse())
    expect(f.at.length).toBeGreaterThan(30 * 64)
    for (let i = 0; i < 30; i++) {
      const row = (g: typeof f, r: number) =>
        new Map([...g.at.subarray(g.from[r], g.from[r + 1])].map((p, k) => [p, g.value[g.from[r]! + k]]))
      expect(row(f, i)).toEqual(row(turned, 29 - i))
    }
  })
  test('rows have length one', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ maxLength: 40 }), { minLength: 1, maxLength: 6 }), titles => {
        const f = featuresOf(titles.map(title => ({ title })))
        for (let i = 0; i < f.rows; i++) {
          const row = f.value.subarray(f.from[i], f.from[i + 1])
          const length = Math.hypot(...row)
          expect(length === 0 || Math.abs(length - 1) < 1e-5).toBe(true)
        }
      }),
    )
  })
})

describe('the order of reading', () => {
  test('holds every unread work once, behind the first page one in ten by chance, the others by score', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ noNaN: true, min: -9, max: 9 }), { maxLength: 80 }),
        fc.nat(5000),
        (list, read) => {
          const scores = Float32Array.from(list)
          const unread = list.map((_, i) => i).filter(i => i % 3 !== 1)
          const order = readingOrder(scores, unread, read)
          expect(order.map(o => o.row).sort((a, b) => a - b)).toEqual(unread)
          order.forEach((o, i) => expect(o.chance).toBe(read + i >= FIRST_PAGE && (read + i) % 10 === 9))
          const ranked = order.filter(o => !o.chance).map(o => scores[o.row]!)
          expect([...ranked].sort((a, b) => b - a)).toEqual(ranked)
          expect(readingOrder(scores, unread, read)).toEqual(order)
        },
      ),
    )
  })
})

describe('what may be left', () => {
  test('a small case counted by hand: 2 of 5 wanted, 2 drawn', () => {
    // 10 draws: 3 without a wanted one, 6 with one, 1 with both
    expect(atMost(0, 5, 2, 2)).toBeCloseTo(0.3, 12)
    expect(atMost(1, 5, 2, 2)).toBeCloseTo(0.9, 12)
    expect(atMost(2, 5, 2, 2)).toBeCloseTo(1, 12)
  })
  test('the bound is the largest number that the draw does not speak against', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 60 }),
        fc.nat(),
        fc.nat(),
        fc.constantFrom(0.05, 0.025, 0.0125),
        (N, a, b, level) => {
          const n = a % (N + 1)
          const k = b % (n + 1)
          const left = mostLeft(N, n, k, level)
          const possible = Array.from({ length: N - n + 1 }, (_, x) => x).filter(
            x => x === 0 || atMost(k, N, x + k, n) > level,
          )
          expect(left).toBe(Math.max(...possible))
        },
      ),
    )
  })
  test('drawing everything leaves nothing; drawing nothing tells nothing', () => {
    expect(mostLeft(212, 212, 3, levelOf(1))).toBe(0)
    expect(mostLeft(212, 0, 0, levelOf(1))).toBe(212)
  })
  test('enough draws are enough, and one fewer is not', () => {
    const n = drawsFor(212, 9, levelOf(1))
    expect(mostLeft(212, n, 0, levelOf(1))).toBeLessThanOrEqual(9)
    expect(mostLeft(212, n - 1, 0, levelOf(1))).toBeGreaterThan(9)
  })
})

test('the learner puts the likeliest first, however many were read', () => {
  const learner = new Learner()
  const many = Array.from({ length: 30 }, (_, i) => ({ title: i % 2 ? `Moths at lamps ${i}` : `Hulls of boats ${i}` }))
  learner.load(many)
  const decided = Int8Array.from(many, (_, i) => (i < 8 ? (i % 2 ? 1 : -1) : 0))
  for (let read = 8; read < 15; read++) {
    const { rows, chance } = learner.order(decided, question)
    expect(rows).toHaveLength(30 - read)
    // the first page leaves nothing to chance
    expect(chance[0]).toBe(0)
    expect(many[rows[0]!]!.title).toMatch(/^Moths/)
    decided[rows[0]!] = rows[0]! % 2 ? 1 : -1
  }
})

test('with nothing decided a pool begins with what answers the question, learned words or not', () => {
  const learner = new Learner()
  // every title holds a word of the question; few hold what it asks
  const pool = Array.from({ length: 200 }, (_, i) => ({
    title: i % 20 ? `Lamps of ${i % 2 ? 'mines' : 'ships'}, part ${i}` : `Moths at lamps of gardens ${i}`,
    ...(i % 20 ? { abstract: 'On oil, wicks and the men who kept the lamps. '.repeat(3) } : {}),
  }))
  learner.load(pool)
  const { rows, chance } = learner.order(new Int8Array(pool.length), {
    title: 'Do lamps change what moths do in gardens?',
  })
  expect([...rows.slice(0, 10)].every(r => r % 20 === 0)).toBe(true)
  expect([...chance.slice(0, FIRST_PAGE)].every(c => c === 0)).toBe(true)
})
