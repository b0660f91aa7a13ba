import { addDays } from '../bib/dates'
import { studentT } from './student-t'

/** Working days within which a thing comes: one in ten before the first, one in ten after the second. */
export interface Pace {
  low: number
  high: number
}
/** When a library works. */
export interface WorkDays {
  /** Days of the week on which it does not, 1 for Monday to 7 (ISO 8601). */
  weekend: readonly number[]
  /** ISO dates on which it is closed besides. */
  closed: readonly string[]
}

/** A pace that was told counts as much as so many loans that were seen. */
const TOLD_COUNTS = 4
/** The 0.9 quantile of Student's t with `2 * TOLD_COUNTS` degrees of freedom. */
const T_90_OF_8 = 1.396815

/**
 * The chance that something comes within so many working days of being asked for. Delays are log-normal; the pace that
 * the library tells is the prior (normal-inverse-gamma, conjugate), what was seen updates it, and the answer is the
 * predictive distribution, a Student's t of the logarithm (Gelman et al., Bayesian Data Analysis, 3rd ed., section 3.3).
 * Before anything was seen, one in ten comes before `low` and one in ten after `high`.
 * @param seen working days that earlier ones took, each above 0
 */
export function withinDays({ low, high }: Pace, seen: readonly number[]): (days: number) => number {
  const m = (Math.log(low) + Math.log(high)) / 2
  const k = TOLD_COUNTS
  const a = TOLD_COUNTS
  // so that the predictive distribution has the pace for its tenths
  const scale = (Math.log(high) - Math.log(low)) / (2 * T_90_OF_8)
  const b = (scale * scale * a * k) / (k + 1)
  const logs = seen.map(Math.log)
  const n = logs.length
  const mean = n ? logs.reduce((x, y) => x + y, 0) / n : m
  const kn = k + n
  const mn = (k * m + n * mean) / kn
  const an = a + n / 2
  const bn = b + logs.reduce((sum, x) => sum + (x - mean) ** 2, 0) / 2 + (k * n * (mean - m) ** 2) / (2 * kn)
  const spread = Math.sqrt((bn * (kn + 1)) / (an * kn))
  return days => (days <= 0 ? 0 : studentT((Math.log(days) - mn) / spread, 2 * an))
}

/**
 * How long a thing took of which whole working days were counted: it came some time on the last of them. Without this
 * all that was seen would count as half a day slower than it was.
 */
export const withinDay = (counted: number): number => (counted >= 1 ? counted - 0.5 : counted / 2)

/** Whether a library works on a day. */
export function worksOn({ weekend, closed }: WorkDays, iso: string): boolean {
  const day = new Date(`${iso}T00:00:00Z`).getUTCDay() || 7
  return !weekend.includes(day) && !closed.includes(iso)
}

/** Days that are looked ahead at most. */
const AHEAD = 200

/** The working days after one day up to and with another. */
export function workDaysBetween(days: WorkDays, from: string, to: string): number {
  let n = 0
  for (let at = addDays(from, 1), i = 0; at <= to && i < 4 * AHEAD; at = addDays(at, 1), i++) if (worksOn(days, at)) n++
  return n
}

/** Chances are told to the tenth of a percent. */
const ROUNDED = 0.0005

/** When something is likely to come. */
export interface Arrival {
  /** ISO dates: one in ten comes before the first, one in ten after the last. */
  from: string
  to: string
  /** The day by which it comes as likely as not. */
  expected: string
  /** The chance that it is here on the day on which it is needed. */
  likely: number
  /** The last day on which it can be asked for with the chance that is wanted; none where it is too late already. */
  askBy?: string
}

/**
 * When something comes that is asked for on a day, or was: what did not come until today comes later.
 * @param o.within as {@link withinDays} gives it
 * @param o.asked ISO date on which it is asked for, or was
 * @param o.needed ISO date by which it is needed; null where there is none
 * @param o.wanted chance that is kept until the last day to ask for it; without it no such day is told
 */
export function arrivalOf(o: {
  within: (days: number) => number
  days: WorkDays
  asked: string
  today: string
  needed: string | null
  wanted?: number
}): Arrival {
  const { within, days, asked, today, needed } = o
  // what was asked for is not here yet
  const gone = workDaysBetween(days, asked, today)
  const before = within(gone)
  const left = 1 - before
  const chance = (n: number) => (left > 1e-9 ? (within(gone + n) - before) / left : 0)
  const chances: { at: string; chance: number }[] = []
  for (let at = today, n = 0, i = 0; i < AHEAD; i++) {
    at = addDays(at, 1)
    if (!worksOn(days, at)) continue
    chances.push({ at, chance: chance(++n) })
    if (chances.at(-1)!.chance > 0.9 && (!needed || at > needed)) break
  }
  const reached = (share: number) => chances.find(x => x.chance >= share - ROUNDED)?.at ?? chances.at(-1)?.at ?? today
  const likely = needed ? (chances.findLast(x => x.at <= needed)?.chance ?? 0) : 1
  const isAsked = needed && o.wanted !== undefined && asked === today
  const askBy = isAsked ? lastDay(within, days, today, needed, o.wanted!) : undefined
  return { from: reached(0.1), to: reached(0.9), expected: reached(0.5), likely, ...(askBy ? { askBy } : {}) }
}

/** The last day on which something can be asked for so that the chance is still as wanted. */
function lastDay(
  within: (days: number) => number,
  days: WorkDays,
  today: string,
  needed: string,
  wanted: number,
): string | undefined {
  for (let at = needed, n = 0, i = 0; at >= today && i < AHEAD; at = addDays(at, -1), i++) {
    if (within(n) >= wanted && worksOn(days, at)) return at
    if (worksOn(days, at)) n++
  }
  return undefined
}
