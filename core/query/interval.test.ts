import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { together, wilson } from './interval'

test('the interval of a share lies within 0 and 1, holds the share, and is narrower for more draws', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 2000 }), fc.double({ min: 0, max: 1, noNaN: true }), (n, share) => {
      const k = Math.round(share * n)
      const [low, high] = wilson(k, n)
      expect(0 <= low && low <= k / n && k / n <= high && high <= 1).toBe(true)
      const [less, more] = wilson(4 * k, 4 * n)
      expect(more - less).toBeLessThan(high - low)
    }),
  )
})

test('of none, or all, of any number of draws the bound is that share itself', () => {
  for (let n = 1; n <= 2000; n++) expect([n, wilson(0, n)[0], wilson(n, n)[1]]).toEqual([n, 0, 1])
})

test('the interval is that of the formula, and knows nothing of nothing', () => {
  expect(wilson(0, 0)).toEqual([0, 1])
  const [low, high] = wilson(5, 50)
  // computed by hand
  expect(low).toBeCloseTo(0.0435, 3)
  expect(high).toBeCloseTo(0.2136, 3)
})

test('catalogues together: from the largest to the sum', () => {
  expect(together([5, 9, null, 0])).toEqual({ least: 9, most: 14 })
  expect(together([])).toEqual({ least: 0, most: 0 })
})
