import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { addYears, medianYear } from './years'

test('the median year is that of the middle record', () => {
  const counts = fc.array(fc.record({ year: fc.integer({ min: 1900, max: 2026 }), n: fc.integer({ min: 0, max: 9 }) }))
  fc.assert(
    fc.property(counts, list => {
      const records = list.flatMap(({ year, n }) => Array.from({ length: n }, () => year)).sort((a, b) => a - b)
      expect(medianYear(list)).toBe(records[Math.ceil(records.length / 2) - 1])
    }),
  )
})
test('counts of several catalogues are added by year; what is no year is left out', () => {
  expect(
    addYears([
      [
        { value: '2004', count: 2 },
        { value: 'n.d.', count: 7 },
      ],
      [
        { value: '1999', count: 1 },
        { value: '2004', count: 3 },
      ],
    ]),
  ).toEqual([
    { year: 1999, n: 1 },
    { year: 2004, n: 5 },
  ])
})
