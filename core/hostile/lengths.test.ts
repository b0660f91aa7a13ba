import { expect, test } from '@jest/globals'
import { FILLERS, growsTooFast, READERS } from './lengths'

test.each(Object.keys(READERS))('%s: a long text takes no longer than as many letters in short ones', name => {
  // a run at the end, and one that ends nothing
  for (const end of ['', 'x']) expect(FILLERS.filter(filler => growsTooFast(READERS[name]!, filler, end))).toEqual([])
})

// by a clock that goes on with the letters read, so that no busy machine has a say
const grows = (msOf: (letters: number) => number, stall: number) => {
  let ms = 0
  let reads = 0
  return growsTooFast(
    t => (ms += msOf(t.length) + (++reads % 9 ? 0 : stall)),
    'and ',
    'x',
    () => ms,
  )
}
test.each<[string, (letters: number) => number]>([
  ['the square', n => n ** 2 / 1e4],
  ['the square, small beside what each letter takes', n => n / 1e3 + n ** 2 / 1e5],
  ['what is more than the square', n => n ** 3 / 1e9],
])('a reader that takes %s of the letters is found out', (_, msOf) => expect(grows(msOf, 0)).toBe(true))
test.each<[string, (letters: number) => number, number]>([
  ['the same for each letter', n => n / 1e3, 0],
  ['a little more for each letter of a long text', n => (n * Math.log2(n + 1)) / 1e4, 0],
  ['much once, whatever it is given', n => 40 + n / 1e3, 0],
  ['next to nothing', n => n / 1e7, 0],
  ['the same for each letter, on a machine that stands still now and then', n => n / 1e3, 400],
])('a reader that takes %s is not suspected', (_, msOf, stall) => expect(grows(msOf, stall)).toBe(false))
