import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { addDays } from '../bib/dates'
import { arrivalOf, withinDay, withinDays, workDaysBetween, worksOn } from './arrival'
import { studentT } from './student-t'

const WEEK = { weekend: [6, 7], closed: [] as string[] }
const MONDAY = '2026-10-05'

test.each([
  // of printed tables
  [6.313752, 1, 0.95],
  [2.919986, 2, 0.95],
  [2.353363, 3, 0.95],
  [1.396815, 8, 0.9],
  [3.249836, 9, 0.995],
  [1.310415, 30, 0.9],
  [-1.833113, 9, 0.05],
  [0, 7, 0.5],
])('Student’s t of %d with %d degrees of freedom is %d', (t, degrees, share) => {
  expect(studentT(t, degrees)).toBeCloseTo(share, 6)
})

describe('working days', () => {
  test('weekends and closed days are none', () => {
    expect(worksOn(WEEK, MONDAY)).toBe(true)
    expect(worksOn(WEEK, '2026-10-10')).toBe(false)
    expect(worksOn({ ...WEEK, closed: [MONDAY] }, MONDAY)).toBe(false)
    // Monday to Monday: Tuesday, Wednesday, Thursday, Friday, Monday
    expect(workDaysBetween(WEEK, MONDAY, '2026-10-12')).toBe(5)
    expect(workDaysBetween({ ...WEEK, closed: ['2026-10-07', '2026-10-10'] }, MONDAY, '2026-10-12')).toBe(4)
    expect(workDaysBetween(WEEK, MONDAY, MONDAY)).toBe(0)
    expect(workDaysBetween(WEEK, '2026-10-12', MONDAY)).toBe(0)
  })
})

/** Libraries whose habits are drawn as the pace that is told leaves them open: each gives how long a loan takes. */
function habits({ low, high }: { low: number; high: number }): () => () => number {
  let seed = 20261005
  const draw = () => {
    // a generator of Park and Miller is enough to throw dice
    seed = (seed * 48271) % 2147483647
    return seed / 2147483647
  }
  const normal = () => Math.sqrt(-2 * Math.log(draw())) * Math.cos(2 * Math.PI * draw())
  // a gamma of whole shape is a sum of exponentials
  const gamma = (shape: number) => Array.from({ length: shape }, () => -Math.log(draw())).reduce((x, y) => x + y, 0)
  const scale = Math.log(high / low) / (2 * 1.396815)
  return () => {
    const variance = (scale * scale * 16) / 5 / gamma(4)
    const mean = Math.log(low * high) / 2 + normal() * Math.sqrt(variance / 4)
    return () => Math.exp(mean + normal() * Math.sqrt(variance))
  }
}

describe('the chance to come within some days', () => {
  test('is the pace that is told, before anything was seen', () => {
    const within = withinDays({ low: 3, high: 10 }, [])
    expect(within(3)).toBeCloseTo(0.1, 4)
    expect(within(10)).toBeCloseTo(0.9, 4)
    expect(within(Math.sqrt(30))).toBeCloseTo(0.5, 6)
    expect(within(0)).toBe(0)
  })
  test('what was seen counts, the more of it the more', () => {
    const told = withinDays({ low: 3, high: 10 }, [])
    const slow = withinDays({ low: 3, high: 10 }, [14, 15, 13])
    const slower = withinDays(
      { low: 3, high: 10 },
      Array.from({ length: 40 }, (_, i) => 13 + (i % 3)),
    )
    expect(slow(10)).toBeLessThan(told(10))
    expect(slower(10)).toBeLessThan(slow(10))
    expect(slower(16)).toBeGreaterThan(0.7)
  })
  test('worked by hand: two loans of 4 and 9 days after 2 to 8 as told', () => {
    // m = ln 4, scale = ln 4 / (2 · 1.396815) = 0.49624, b = 0.24625 · 4 · 4 / 5 = 0.78801
    // mean = ln 6, k = 6, m' = (4 ln 4 + 2 ln 6) / 6 = 1.52145, a' = 5
    // b' = 0.78801 + 0.32881 + 4 · 2 · 0.40547² / 12 … (ln 9 − ln 6)² = 0.16440 twice, halved = 0.16440
    // b' = 0.78801 + 0.16440 + 0.10960 = 1.06201, spread = √(1.06201 · 7 / 30) = 0.49780
    const within = withinDays({ low: 2, high: 8 }, [4, 9])
    expect(within(Math.exp(1.52145))).toBeCloseTo(0.5, 4)
    // t with 10 degrees of freedom has 0.9 below 1.372184
    expect(within(Math.exp(1.52145 + 1.372184 * 0.4978))).toBeCloseTo(0.9, 3)
  })
  test('stated chances hold: of ten thousand libraries whose habits are drawn, so many come as was said', () => {
    const habit = habits({ low: 3, high: 12 })
    const bins = Array.from({ length: 10 }, () => 0)
    const times = 10_000
    for (let i = 0; i < times; i++) {
      const delay = habit()
      const seen = Array.from({ length: i % 7 }, delay)
      bins[Math.min(9, Math.floor(withinDays({ low: 3, high: 12 }, seen)(delay()) * 10))]!++
    }
    let below = 0
    bins.forEach((n, i) => {
      below += n / times
      expect(Math.abs(below - (i + 1) / 10)).toBeLessThan(0.02)
    })
  })
  test('whole days that were counted end some time on the last of them, and so chances hold', () => {
    expect([0.5, 1, 2, 9].map(withinDay)).toEqual([0.25, 0.5, 1.5, 8.5])
    const pace = { low: 2, high: 8 }
    const habit = habits(pace)
    const times = 10_000
    let told = 0
    let came = 0
    for (let i = 0; i < times; i++) {
      const delay = habit()
      const counted = Array.from({ length: 10 }, () => withinDay(Math.ceil(delay())))
      told += withinDays(pace, counted)(4)
      came += Number(delay() <= 4)
    }
    expect(Math.abs(told - came) / times).toBeLessThan(0.02)
  })
  test('is none of less, and never goes back', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 20, noNaN: true }),
        fc.double({ min: 1.1, max: 6, noNaN: true }),
        fc.array(fc.double({ min: 0.5, max: 60, noNaN: true }), { maxLength: 12 }),
        (low, times, seen) => {
          const within = withinDays({ low, high: low * times }, seen)
          let before = 0
          for (let d = 0; d < 60; d++) {
            const now = within(d)
            // what is certain within the digits of a sum (`studentT`) cannot grow
            expect(now).toBeGreaterThanOrEqual(before - 1e-14)
            expect(now).toBeLessThanOrEqual(1)
            before = now
          }
        },
      ),
      { examples: [[0.5, 1.1, [0.5, 0.5]]] },
    )
  })
})

describe('when something comes', () => {
  const within = withinDays({ low: 3, high: 10 }, [])
  const known = { within, days: WEEK, asked: MONDAY, today: MONDAY, wanted: 0.8 }
  test('its tenths are days on which the library works', () => {
    // three working days after Monday is Thursday, ten is the Monday after next
    expect(arrivalOf({ ...known, needed: '2026-10-24' })).toMatchObject({ from: '2026-10-08', to: '2026-10-19' })
    expect(arrivalOf({ ...known, needed: '2026-10-24' }).expected).toBe('2026-10-13')
    expect(arrivalOf({ ...known, needed: null })).toMatchObject({ likely: 1 })
  })
  test('what is needed on a Sunday has to come on Friday', () => {
    const chance = (needed: string) => arrivalOf({ ...known, needed }).likely
    expect(chance('2026-10-18')).toBe(chance('2026-10-16'))
    expect(chance('2026-10-19')).toBeGreaterThan(chance('2026-10-18'))
    expect(chance(MONDAY)).toBe(0)
  })
  test('the last day to ask is the last on which the chance is as wanted', () => {
    const needed = '2026-10-30'
    const { askBy } = arrivalOf({ ...known, needed })
    const at = (day: string) => within(workDaysBetween(WEEK, day, needed))
    expect(askBy).toBeDefined()
    expect(at(askBy!)).toBeGreaterThanOrEqual(0.8)
    expect(worksOn(WEEK, askBy!)).toBe(true)
    let next = addDays(askBy!, 1)
    while (!worksOn(WEEK, next)) next = addDays(next, 1)
    expect(at(next)).toBeLessThan(0.8)
    expect(arrivalOf({ ...known, needed: '2026-10-08' }).askBy).toBeUndefined()
  })
  test('what was asked for and is not here yet comes later, and is less likely in time', () => {
    const needed = '2026-10-24'
    const fresh = arrivalOf({ ...known, needed })
    const waiting = arrivalOf({ ...known, today: '2026-10-16', needed })
    expect(waiting.from > '2026-10-16').toBe(true)
    expect(waiting.likely).toBeLessThan(fresh.likely)
    expect(waiting.askBy).toBeUndefined()
  })
  test('a library that never works brings nothing, and ends', () => {
    const never = { weekend: [1, 2, 3, 4, 5, 6, 7], closed: [] }
    expect(arrivalOf({ ...known, days: never, needed: '2026-10-24' }).likely).toBe(0)
  })
})
