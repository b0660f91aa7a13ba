import { expect, test } from '@jest/globals'
import { Problem } from '../base/problem'
import { spend } from './budget'

/** How often a user may ask in a row. */
function untilRefused(user: number, now: number): { times: number; refused: Problem } {
  for (let times = 0; times < 10_000; times++)
    try {
      spend(user, 600, now)
    } catch (refused) {
      return { times, refused: refused as Problem }
    }
  throw new Error('never refused')
}

test('a user may have catalogues asked so often in five minutes, and is told when there is room again', () => {
  const { times, refused } = untilRefused(1, 1_000_000)
  expect(times).toBe(600)
  expect(refused).toMatchObject({ status: 429, code: 'too-many-counts', more: { retryAfter: 300 } })
  expect(untilRefused(1, 1_000_000 + 299_000).refused.more.retryAfter).toBe(1)
  // what was asked five minutes ago counts no more, and others have their own
  expect(untilRefused(1, 1_000_000 + 300_000).times).toBe(600)
  expect(untilRefused(2, 1_000_000 + 300_000).times).toBe(600)
})
