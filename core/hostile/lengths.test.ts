import { expect, test } from '@jest/globals'
import { FILLERS, growth, READERS } from './lengths'

/**
 * Work of this thread alone. What other programs do makes it longer by the clock, and what else this process does, such as
 * collecting what is left in memory, makes it more by its use of the processor: the less of both is the nearest.
 */
const work = (act: () => void): number => {
  const [began, used] = [performance.now(), process.cpuUsage()]
  act()
  const { user, system } = process.cpuUsage(used)
  return Math.min(performance.now() - began, (user + system) / 1000)
}
/** Four times the length takes four times as long, sixteen times where it is quadratic; between them is the noise. */
const LINEAR = 10

test.each(Object.keys(READERS))('%s: what is four times as long takes no longer than in proportion', name => {
  const grows = FILLERS.filter(filler => {
    // only what grows too fast each time grows too fast
    for (let tries = 0; tries < 6; tries++) if (growth(READERS[name]!, filler, work) < LINEAR) return false
    return true
  })
  expect(grows).toEqual([])
})

test('a quadratic pattern is found out', () => {
  const slow = (t: string) => /\s*\n$/.test(t.slice(0, 40_000))
  // one measure may be off where the machine has much else to do
  expect([1, 2, 3, 4, 5].some(() => growth(slow, ' ', work) > LINEAR)).toBe(true)
})
