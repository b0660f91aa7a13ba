import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { compareCalls } from './call-number'

/** Shelves as they stand, each in its own manner. */
const SHELVES = [
  [
    'QK1 .A3',
    'QL9 .B2 1990',
    'QL56 .W5 1989',
    'QL561 .W49 1989',
    'QL561 .W49 1992',
    'QL561 .W5 1980',
    'QL561.2 .A1',
    'QL1000 .C1',
  ],
  ['PR6005 .O4 T5 1946 v.2', 'PR6005 .O4 T5 1946 v.10', 'PR6005 .O4 Z5 1946', 'PR6005 .O41 T5'],
  ['59 ABE', '595 ABE', '595.7 ZUR', '595.78 ABE', '595.78 BEN', '595.8 ABE', '600 ABE'],
  ['Ref. 595.7 KEL', '595.78 ABE', 'Oversize 595.79 ABE'],
  ['NWc 2/1', 'NWc 2/3', 'NWc 12/1', 'NWd 1/1'],
]

test.each(SHELVES.map(s => [s[0]!, s] as const))('the shelf that begins with %s stands as it is', (_, shelf) => {
  fc.assert(
    fc.property(fc.shuffledSubarray(shelf, { minLength: shelf.length }), mixed => {
      expect([...mixed].sort(compareCalls)).toEqual(shelf)
    }),
    { numRuns: 30 },
  )
})

test('any call numbers have one order', () => {
  const call = fc.stringMatching(/^[A-Z]{1,2}\d{1,4}( ?\.[A-Z]\d{1,3})?( \d{4})?$/)
  fc.assert(
    fc.property(call, call, call, (a, b, c) => {
      expect(Math.sign(compareCalls(a, b))).toBe(-Math.sign(compareCalls(b, a)))
      if (compareCalls(a, b) <= 0 && compareCalls(b, c) <= 0) expect(compareCalls(a, c)).toBeLessThanOrEqual(0)
    }),
  )
})
