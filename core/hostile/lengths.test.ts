import { expect, test } from '@jest/globals'
import { FILLERS, growsTooFast, READERS } from './lengths'

test.each(Object.keys(READERS))('%s: a long text takes no longer than as many letters in short ones', name => {
  // a run at the end, and one that ends nothing
  for (const end of ['', 'x']) expect(FILLERS.filter(filler => growsTooFast(READERS[name]!, filler, end))).toEqual([])
})

test.each<[string, (t: string) => unknown, string, string]>([
  ['white space before an end', t => /\s*\n$/.test(t), ' ', ''],
  ['that is sought in every place of a sparse text', t => /(?:and )*$/.test(t), 'and ', 'x'],
])('a quadratic pattern is found out: %s', (_, read, filler, end) => {
  expect(growsTooFast(read, filler, end)).toBe(true)
})
