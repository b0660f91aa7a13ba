/** A reader who gives no sign for longer has gone, milliseconds: a full page may be read for minutes without any. */
const GONE = 4 * 60_000
/** What is told at once is no longer than this, milliseconds: after a sleep of the machine nothing was read. */
const LONGEST_BEAT = 5000

/** How long pages are before a reader. */
export class PageClock {
  private readonly spent = new Map<number, number>()
  private last: number
  private sign: number

  /** @param now milliseconds */
  constructor(now: number) {
    this.last = this.sign = now
  }

  /** The reader moved, scrolled or pressed a key. */
  signs(now: number): void {
    this.sign = now
  }

  /** @param pages those that are before the reader since the last beat; none while the window is away */
  beat(now: number, pages: readonly number[]): void {
    const passed = now - this.last
    this.last = now
    if (passed > LONGEST_BEAT || now - this.sign > GONE) return
    for (const page of pages) this.spent.set(page, (this.spent.get(page) ?? 0) + passed / pages.length)
  }

  /** Whole seconds of each page since the last time; what is left of a second is kept. */
  take(): { page: number; seconds: number }[] {
    const told: { page: number; seconds: number }[] = []
    for (const [page, ms] of this.spent) {
      const seconds = Math.floor(ms / 1000)
      if (!seconds) continue
      told.push({ page, seconds })
      this.spent.set(page, ms - seconds * 1000)
    }
    return told
  }
}
