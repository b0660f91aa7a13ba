/**
 * Whether chances of loans hold that are told: loans that are made by chance, each told at some day while it is under
 * way, and whether it was there when it was needed. The pace of a library is drawn from what its profile tells; or its
 * profile tells another one than is true, so that what was seen has to mend it.
 * npx tsx bench/arrival.ts [loans of each sort]
 */
import { arrivalOf, withinDay, withinDays, workDaysBetween, type Pace } from '../core/access/arrival'
import { addDays } from '../core/bib/dates'

const loans = Number(process.argv[2] ?? 10_000)
/** A generator of chances that begins anew with each run (mulberry32). */
let state = 20_261_005
const random = (): number => {
  state = (state + 0x6d2b79f5) | 0
  let t = Math.imul(state ^ (state >>> 15), 1 | state)
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
  return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
}
const normal = (): number => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())
/** Of shape 4: a sum of four waits. */
const gamma4 = (): number => -[1, 2, 3, 4].reduce(sum => sum + Math.log(1 - random()), 0)

/** How long loans of one library take, in working days. */
type Law = () => number
/** A law as the profile has it: its spread and middle drawn as the pace that is told leaves them open. */
function lawOf({ low, high }: Pace): Law {
  const scale = Math.log(high / low) / (2 * 1.396815)
  const spread = Math.sqrt((scale * scale * 4 * 4) / 5 / gamma4())
  const middle = Math.log(low * high) / 2 + (normal() * spread) / 2
  return () => Math.exp(middle + spread * normal())
}
/** One that is slower than is told by half, and one that has no tail: whole days, each as likely as the next. */
const slowerOf = (pace: Pace): Law => lawOf({ low: pace.low * 1.5, high: pace.high * 1.5 })
const evenOf =
  ({ low, high }: Pace): Law =>
  () =>
    low + Math.floor(random() * (high - low + 1))

const days = { weekend: [6, 7], closed: ['2026-10-26', '2026-12-24', '2026-12-25', '2026-12-31'] }
/** The day on which something comes that takes so many working days. */
function comesOn(asked: string, took: number): string {
  let at = asked
  for (let n = Math.ceil(took); n > 0;) {
    at = addDays(at, 1)
    if (workDaysBetween(days, addDays(at, -1), at)) n--
  }
  return at
}

interface Told {
  likely: number
  came: boolean
}
function run(law: (pace: Pace) => Law, seenBefore: number): Told[] {
  const told: Told[] = []
  while (told.length < loans) {
    const low = 1 + Math.floor(random() * 4)
    const pace = { low, high: low * (2 + Math.floor(random() * 3)) }
    const takes = law(pace)
    const seen = Array.from({ length: seenBefore }, () => withinDay(Math.ceil(takes())))
    const asked = addDays('2026-09-01', Math.floor(random() * 60))
    const came = comesOn(asked, takes())
    // it is told on the day it is asked for, or on one after while it is not here
    const today = addDays(asked, random() < 0.5 ? 0 : Math.floor(random() * 10))
    if (today > asked && came <= today) continue
    const needed = addDays(today, 1 + Math.floor(random() * 25))
    const { likely } = arrivalOf({ within: withinDays(pace, seen), days, asked, today, needed })
    told.push({ likely, came: came <= needed })
  }
  return told
}

const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / Math.max(1, list.length)
const points = (x: number) => (100 * x).toFixed(1)
console.log(`${loans} loans of each sort; chance told and share that came, in percent`)
const sorts: [string, (pace: Pace) => Law][] = [
  ['as told', lawOf],
  ['slower by half', slowerOf],
  ['even, no tail', evenOf],
]
for (const [name, law] of sorts)
  for (const seen of [0, 3, 10, 40]) {
    const told = run(law, seen)
    const off = Array.from({ length: 10 }, (_, i) => {
      const here = told.filter(t => Math.min(9, Math.floor(t.likely * 10)) === i)
      return { n: here.length, by: mean(here.map(t => Number(t.came))) - mean(here.map(t => t.likely)) }
    })
    const worst = off.filter(o => o.n >= loans / 50).toSorted((a, b) => Math.abs(b.by) - Math.abs(a.by))[0]!
    const [said, was] = [mean(told.map(t => t.likely)), mean(told.map(t => Number(t.came)))]
    console.log(
      `${name.padEnd(15)} ${String(seen).padStart(2)} seen: told ${points(said)}, came ${points(was)}, off by ${points(was - said)}; worst tenth off by ${points(worst.by)} (${worst.n} loans)`,
    )
  }
