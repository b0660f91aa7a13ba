import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { agesOfYears, currencyOf, sayAge, sayCurrency, shareYounger, type Ages } from './currency'

const CITED: Ages = [
  [0, 10],
  [4, 40],
  [10, 100],
  [30, 50],
  [-2, 7],
]

test('half are younger than the half-life; ages below nought do not count', () => {
  // 100 of 200: 50 before, 50 of the 100 that are ten years old
  expect(currencyOf(CITED)).toEqual({ n: 200, half: 10.5, recent: 0.25 })
  expect(currencyOf([[3, 29]])).toBeUndefined()
  expect(currencyOf([])).toBeUndefined()
  expect(currencyOf([[0, 30]])).toEqual({ n: 30, half: 0.5, recent: 1 })
})

test('the half-life parts any ages into halves, whatever their order', () => {
  const ages = fc.array(fc.tuple(fc.nat(80), fc.integer({ min: 1, max: 60 })), { minLength: 30, maxLength: 60 })
  fc.assert(
    fc.property(ages, list => {
      const { half, n, recent } = currencyOf(list)!
      const whole = Math.floor(half)
      const count = (isIn: (age: number) => boolean) => list.reduce((sum, [a, k]) => sum + (isIn(a) ? k : 0), 0)
      expect(count(a => a < whole)).toBeLessThanOrEqual(n / 2)
      expect(count(a => a <= whole)).toBeGreaterThanOrEqual(n / 2)
      expect(recent).toBeCloseTo(count(a => a < 5) / n)
      expect(currencyOf([...list].reverse())!.half).toBeCloseTo(half)
    }),
  )
})

test('a field speaks in sentences, as far as there is enough to tell', () => {
  expect(sayCurrency(CITED, agesOfYears(Array<number>(40).fill(2024), 2026), 12)).toEqual([
    'This field renews itself every 11 years: half of what your kept works cite was younger than that when they cited it (200 references of 12 works).',
    'Of the works here 100 % are of the last five years; of what your kept works cite, 25 % were when they cited it.',
  ])
  expect(sayCurrency([], agesOfYears([...Array<number>(40).fill(2024), null], 2026), 0)).toEqual([
    'Of the works here 100 % are of the last five years, and half are younger than 2.5 years.',
  ])
  expect(sayCurrency([[0, 40]], [], 1)[0]).toContain('every year: half')
  expect(sayCurrency([], [], 0)).toEqual([])
})

test.each([
  [2026, 'this year’s: newer than nearly all the kept works cite'],
  [2025, '1 year: newer than 95 % of what the kept works cite'],
  [2015, '11 years: older than 75 % of what the kept works cite'],
  [1950, '76 years: older than nearly all the kept works cite'],
  [2030, undefined],
])('a work of %s', (year, said) => {
  expect(sayAge(year, 2026, CITED)).toBe(said)
})

test('where too little is cited a work has its age alone', () => {
  expect(sayAge(2012, 2026, [[1, 3]])).toBe('14 years')
  expect(shareYounger([[1, 3]], 2)).toBeUndefined()
})
