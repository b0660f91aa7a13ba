import { Problem } from '../base/problem'

/** Milliseconds that are looked back on. */
const SPAN = 5 * 60_000

const spent = new Map<number, number[]>()

/**
 * Counts one asking of a catalogue on behalf of a user.
 * @param most so many they may have in five minutes while they wait
 * @throws Problem 429 where there were too many lately, with the seconds until there is room again
 */
export function spend(userId: number, most: number, now = Date.now()): void {
  const times = (spent.get(userId) ?? []).filter(t => t > now - SPAN)
  if (times.length >= most) {
    const retryAfter = Math.ceil((times[0]! + SPAN - now) / 1000)
    throw new Problem(
      429,
      'too-many-counts',
      `The catalogues were asked ${most} times in five minutes, as often as they may be. Counting goes on in ${retryAfter} seconds.`,
      { retryAfter },
    )
  }
  times.push(now)
  spent.set(userId, times)
}
