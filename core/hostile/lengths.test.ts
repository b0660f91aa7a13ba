import { expect, test } from '@jest/globals'
import { FILLERS, growsTooFast, READERS } from './lengths'

test.each(Object.keys(READERS))('%s: a long text takes no longer than as many letters in short ones', name => {
  // a run at the end, and one that ends nothing
  for (const end of ['', 'x']) expect(FILLERS.filter(filler => growsTooFast(READERS[name]!, filler, end))).toEqual([])
})

test('a quadratic pattern is found out', () => {
  expect(growsTooFast(t => /\s*\n$/.test(t), ' ')).toBe(true)
})
