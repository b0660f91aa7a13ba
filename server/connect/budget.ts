import { Problem } from '../base/problem'

/**
 * Counts what is done on behalf of users, each within a span.
 * @param span milliseconds that are looked back on
 * @throws Problem 429 where there was too much lately, with the seconds until there is room again
 */
function budget(span: number, code: string, said: (most: number, seconds: number) => string) {
  const spent = new Map<number, number[]>()
  return (userId: number, most: number, now = Date.now()): void => {
    const times = (spent.get(userId) ?? []).filter(t => t > now - span)
    if (times.length >= most) {
      const retryAfter = Math.ceil((times[0]! + span - now) / 1000)
      throw new Problem(429, code, said(most, retryAfter), { retryAfter })
    }
    times.push(now)
    spent.set(userId, times)
  }
}

/** Counts one asking of a catalogue: so many a user may have in five minutes while they wait. */
export const spend = budget(
  5 * 60_000,
  'too-many-counts',
  (most, seconds) =>
    `The catalogues were asked ${most} times in five minutes, as often as they may be. Counting goes on in ${seconds} seconds.`,
)

/** Counts one letter of a user: so many they may send in an hour. */
export const spendLetter = budget(
  60 * 60_000,
  'too-many-letters',
  (most, seconds) =>
    `${most} letters were sent in an hour, as many as may be. The next may go in ${Math.ceil(seconds / 60)} minutes.`,
)
