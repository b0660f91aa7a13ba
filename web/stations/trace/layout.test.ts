import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { beside, floorOf, labelsClear, layLeaves, spanOf, stemAt, ticksOf, xOf, type Laying, type Rect } from './layout'

const laying = (more: Partial<Laying> = {}): Laying => ({
  width: 850,
  height: 560,
  left: 116,
  right: 14,
  from: 1990,
  to: 2026,
  stems: 4,
  ...more,
})

describe('the trellis', () => {
  test('of up to three hundred leaves keeps each by its year and its stem, in whatever order they come', () => {
    const leaf = fc.record({ year: fc.integer({ min: 1990, max: 2026 }), stem: fc.nat(3) })
    fc.assert(
      fc.property(fc.array(leaf, { maxLength: 300 }), list => {
        const to = list.map((l, at) => ({ at, ...l }))
        const l = laying()
        const laid = layLeaves(to, l)
        expect(laid).toHaveLength(to.length)
        const yearWidth = (850 - 116 - 14) / 37
        for (const x of laid) {
          expect(Math.abs(x.x - xOf(l, x.year))).toBeLessThanOrEqual(yearWidth / 2 + 0.01)
          expect(Math.abs(x.y - stemAt(l, x.stem, x.x))).toBeLessThanOrEqual(560 / 4 / 2)
        }
        // in whatever order they come
        const again = new Map(layLeaves([...to].reverse(), l).map(x => [x.at, x]))
        for (const x of laid) expect(again.get(x.at)).toEqual(x)
      }),
      { numRuns: 40 },
    )
  })
  test('puts the leaves of a year above and below in turn, and then away from the stem', () => {
    const laid = layLeaves(
      [0, 1, 2, 3].map(at => ({ at, year: 2010, stem: 0 })),
      laying(),
    )
    expect(laid.map(l => l.up)).toEqual([true, false, true, false])
    expect(new Set(laid.map(l => `${l.x.toFixed(1)} ${l.y.toFixed(1)}`)).size).toBeGreaterThan(2)
    expect(floorOf(laying(), 1)).toBeGreaterThan(stemAt(laying(), 1, 300))
  })
  test('leaves out years that are not shown', () => {
    expect(layLeaves([{ at: 1, year: 1980, stem: 0 }], laying())).toEqual([])
  })
  test('spans its years with air, and at least twelve of them', () => {
    expect(spanOf([2020, 0], 2026)).toEqual({ from: 2014, to: 2026 })
    expect(spanOf([1980, 2027], 2026)).toEqual({ from: 1979, to: 2027 })
    expect(spanOf([], 2026)).toEqual({ from: 2013, to: 2026 })
  })
  test('draws lines at round years, not too close', () => {
    expect(ticksOf(laying())).toEqual([1990, 1995, 2000, 2005, 2010, 2015, 2020, 2025])
    expect(ticksOf(laying({ from: 1700 })).length).toBeLessThan(12)
    expect(ticksOf(laying({ from: 2020 }))).toHaveLength(7)
  })
  test('writes no name on another', () => {
    const [a, b, c] = [
      { x: 0, y: 0, width: 40 },
      { x: 20, y: 4, width: 40 },
      { x: 100, y: 0, width: 40 },
    ]
    expect(labelsClear([a!, b!, c!])).toEqual([a, c])
  })
})

test('a name stands beside its place where nothing is covered, and within the room', () => {
  const room = { width: 600, height: 300 }
  const size = { width: 200, height: 50 }
  const clear = (r: Rect, d: Rect) =>
    r.x + r.width <= d.x || d.x + d.width <= r.x || r.y + r.height <= d.y || d.y + d.height <= r.y
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 600 }), fc.integer({ min: 0, max: 300 }), (x, y) => {
      const r = beside({ x, y }, size, room, [])
      expect(r.x).toBeGreaterThanOrEqual(4)
      expect(r.y).toBeGreaterThanOrEqual(4)
      expect(r.x + r.width).toBeLessThanOrEqual(596)
      expect(r.y + r.height).toBeLessThanOrEqual(296)
    }),
  )
  // what is drawn to the left and above sends it to the right and below
  const drawn = [
    { x: 80, y: 60, width: 210, height: 200 },
    { x: 200, y: 0, width: 400, height: 140 },
  ]
  const r = beside({ x: 300, y: 150 }, size, room, drawn)
  expect(drawn.every(d => clear(r, d))).toBe(true)
})
