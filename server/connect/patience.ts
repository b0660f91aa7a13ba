import { OutsideError } from './http'

/** A server that failed so often on end is asked no more. */
const TRIES = 2

/**
 * Asks servers for one thing after the other. One that is away would hold up every one of them by as long as it is waited
 * for, so that it is left alone for the rest of a job, and its last failure is told each time.
 */
export class Patience {
  private readonly failed = new Map<string, number>()
  private readonly last = new Map<string, OutsideError>()

  /** @param key what the server is told by from others @throws OutsideError as it failed last, where it is left alone */
  async ask<T>(key: string, go: () => Promise<T>): Promise<T> {
    const times = this.failed.get(key) ?? 0
    if (times >= TRIES) throw this.last.get(key)!
    try {
      const got = await go()
      this.failed.delete(key)
      return got
    } catch (e) {
      // a no is an answer
      if (e instanceof OutsideError && e.again) {
        this.failed.set(key, times + 1)
        this.last.set(key, e)
      }
      throw e
    }
  }
}
