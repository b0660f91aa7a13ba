import type { Context } from '../base/context'
import { isDatabaseTrouble } from '../db/transaction'
import { logError } from '../base/log'
import { Problem } from '../base/problem'

/** Looks again and again, until stopped, for what is due by the day of the desk, and queues it. */
export function watchDue(
  c: Context,
  queues: readonly ((c: Context) => Promise<unknown>)[],
  everyMs = 2000,
): { stop(): void } {
  let going = false
  const look = async () => {
    for (const queue of queues)
      try {
        await queue(c)
      } catch (e) {
        // the database is away or the disk is full: the next look finds the same
        if (!isDatabaseTrouble(e) && !(e instanceof Problem)) logError('looking for what is due', e)
      }
  }
  const timer = setInterval(() => {
    if (going) return
    going = true
    void look().finally(() => (going = false))
  }, everyMs)
  return { stop: () => clearInterval(timer) }
}
