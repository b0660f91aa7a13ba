import { addDays, daysBetween } from '../bib/dates'

/** How somebody works on an inquiry. */
export interface Rhythm {
  /** Minutes on a day. */
  minutesADay: number
  /** Days of the week that are free, 1 for Monday to 7 (ISO 8601). */
  free: readonly number[]
  /** Days at the end that are kept for looking it over. */
  spare: number
  /** Minutes for a page and for writing an entry; null: as they were seen, or as they are guessed. */
  aPage: number | null
  anEntry: number | null
  /** Whether reading is timed. */
  timed: boolean
  /** The chance to be here in time that a loan keeps until the last day to ask for it. */
  sure: number
}
/** Chances among which one chooses how sure a loan has to be. */
export const SURE = [0.5, 0.8, 0.9, 0.95] as const
export const USUAL: Rhythm = { minutesADay: 60, free: [], spare: 2, aPage: null, anEntry: null, timed: true, sure: 0.8 }

/** Minutes that something takes once. */
export interface Pace {
  minutes: number
  from: 'said' | 'seen' | 'guessed'
  /** How often it was seen. */
  seen: number
}
/** What is guessed counts as much as so many that were seen: with fewer it is a guess still. */
const GUESS_COUNTS = 10
/** Minutes for a page that is read to be written about, for a work that is decided on, for an entry that is written. */
export const GUESSED = { page: 2.5, decision: 1 / 3, entry: 30 } as const

/**
 * How long something takes, for reckoning how long many of it take: the mean, drawn towards the guess as long as little
 * was seen (James & Stein 1961, with the weight of the guess fixed).
 * @param seconds of each that was seen
 * @param said minutes, where the student said them
 */
export function paceOf(guess: number, seconds: readonly number[], said: number | null = null): Pace {
  const seen = seconds.length
  if (said !== null) return { minutes: said, from: 'said', seen }
  const sum = seconds.reduce((a, b) => a + b, 0) / 60
  return {
    minutes: (guess * GUESS_COUNTS + sum) / (GUESS_COUNTS + seen),
    from: seen >= GUESS_COUNTS ? 'seen' : 'guessed',
    seen,
  }
}

/** A stay on a page that is shorter was a turning of leaves, seconds. */
export const LEAST_ON_A_PAGE = 10
/** A decision that took longer had a pause in it, seconds. */
const LONGEST_DECISION = 120

/** Seconds that decisions took, from their moments in milliseconds, in their order: those of one press are one. */
export function decisionSeconds(moments: readonly number[]): number[] {
  return moments.slice(1).flatMap((at, i) => {
    const s = (at - moments[i]!) / 1000
    return s >= 0.2 && s <= LONGEST_DECISION ? [s] : []
  })
}

/** A work that is read and written about. */
export interface ToRead {
  id: number
  /** Of its copy, or of its page range; null where neither is known. */
  pages: number | null
  /** Of how many of them it was seen that they were read. */
  pagesRead: number
  /** The student said that it is read. */
  isRead: boolean
  hasCopy: boolean
  /** ISO date on which it goes back, where it is borrowed and lies on the student's desk. */
  until: string | null
  isBook: boolean
  /** It is an overview of others. */
  isOverview: boolean
  year: number | null
  /** It is on the list. */
  isListed: boolean
  /** Words of its annotation. */
  words: number
}
/** Pages of a work of which nothing is known, and those of a book that are read for an entry at most. */
export const TYPICAL_PAGES = 15
export const PAGES_OF_A_BOOK = 40
/** Words of an annotation where the brief does not say it, and minutes of a first search. */
const USUAL_WORDS = 150
export const FIRST_SEARCH = 90

/** What a work still asks for. */
export interface Reading {
  work: number
  /** Pages that are left, and whether their number is guessed. */
  pages: number
  isGuess: boolean
  /** Minutes of reading, and of writing about it. */
  read: number
  write: number
  /** The day on which it goes back, and whether it goes before it is read at the student's own rhythm. */
  until: string | null
  goesBefore: boolean
}

export const STEPS = ['search', 'sift', 'read', 'write'] as const
export interface Step {
  step: (typeof STEPS)[number]
  /** Minutes that are left. */
  minutes: number
  /**
   * The last days on which it can begin and has to end, at the student's own rhythm, or the one that is asked for where
   * that is more; null where nothing is due or left, or no day is.
   */
  begin: string | null
  end: string | null
}

export interface Plan {
  steps: Step[]
  /** In the order in which it is best read. */
  reading: Reading[]
  /** Entries that are asked for and have no work yet; kept works beyond those that are asked for. */
  missing: number
  beyond: number
  /** Of those that are asked for, how many are read and written. */
  done: number
  minutes: number
  /** The last day of work; null where nothing is due. */
  lastDay: string | null
  /** Days of work from today on, and minutes on each of them; null where nothing is due, or no day is left. */
  days: number
  aDay: number | null
  /** When it is done at the student's own rhythm, begun today. */
  doneBy: string | null
  /** How many entries can be done until then, at that rhythm. */
  reached: number
  /** The last day on which it can begin, at that rhythm; null where it is too late, or nothing is due. */
  lastStart: string | null
  /** What each later beginning asks for a day. */
  later: { day: string; aDay: number }[]
}

const isFree = (day: string, { free }: Pick<Rhythm, 'free'>): boolean =>
  free.includes(new Date(`${day}T00:00:00Z`).getUTCDay() || 7)

/** Days that are looked over at most, in either direction. */
const FARTHEST = 3650

/** Days of work from one day on, in one direction, until there are so many or the end is passed. */
function daysOfWork(from: string, rhythm: Rhythm, way: 1 | -1, most: number, until?: string): string[] {
  const days: string[] = []
  for (let at = from, i = 0; days.length < most && i < FARTHEST; at = addDays(at, way), i++) {
    if (until && (way > 0 ? at > until : at < until)) break
    if (!isFree(at, rhythm)) days.push(at)
  }
  return days
}

/** The last day of work before something is due. */
const lastDayOf = (due: string, { spare }: Rhythm): string => addDays(due, -1 - spare)

/**
 * The day by which the last text has to be here, so that it can still be read and written about.
 * @param due ISO date; null where nothing is due
 */
export function neededBy(due: string | null, rhythm: Rhythm = USUAL): string | null {
  if (!due) return null
  const minutes = TYPICAL_PAGES * (rhythm.aPage ?? GUESSED.page) + (rhythm.anEntry ?? GUESSED.entry)
  const days = daysOfWork(lastDayOf(due, rhythm), rhythm, -1, Math.ceil(minutes / rhythm.minutesADay))
  return addDays(days.at(-1) ?? due, -1)
}

/** What works still ask for, in the order in which they are best read: first what goes back, in the order of its days. */
function readingOf(
  works: readonly ToRead[],
  page: Pace,
  entry: Pace,
  { today, rhythm, ...words }: { from: number; wanted: number; today: string; rhythm: Rhythm },
): Reading[] {
  const rank = (w: ToRead) => [
    w.until ? daysBetween(today, w.until) : FARTHEST,
    ...[w.pagesRead > 0 ? 0 : 1, w.hasCopy ? 0 : 1, w.isOverview ? 0 : 1, w.year ?? 9999, w.id],
  ]
  let minutes = 0
  return [...works]
    .map(w => ({ w, rank: rank(w) }))
    .sort((a, b) => a.rank.map((r, i) => r - b.rank[i]!).find(Boolean) ?? 0)
    .map(({ w }) => {
      const isWritten = w.words >= words.from
      const known = w.pages ?? TYPICAL_PAGES
      const all = w.isBook ? Math.min(known, PAGES_OF_A_BOOK) : known
      const pages = w.isRead || isWritten ? 0 : Math.max(0, all - w.pagesRead)
      const write = isWritten ? 0 : Math.max(0, 1 - w.words / words.wanted) * entry.minutes
      const read = pages * page.minutes
      minutes += read
      const { until } = w
      const readBy = until && daysOfWork(today, rhythm, 1, Math.ceil(minutes / rhythm.minutesADay)).at(-1)
      const goesBefore = Boolean(until && pages && (!readBy || readBy > until))
      return { work: w.id, pages, isGuess: w.pages === null, read, write, until, goesBefore }
    })
}

/**
 * A plan back from the due date: what is left of each step, when it has to begin, and what a later beginning costs.
 * @param o.due ISO date; null where nothing is due
 * @param o.wanted entries that are asked for; null where the brief does not say it
 * @param o.words of an annotation, as the brief asks
 */
export function makePlan(o: {
  today: string
  due: string | null
  rhythm: Rhythm
  works: readonly ToRead[]
  wanted: number | null
  words: { from: number | null; to: number | null }
  /** Works in the pool, and of them those that are not decided. */
  pool: number
  unread: number
  paces: { page: Pace; entry: Pace; decision: Pace }
}): Plan {
  const { today, due, rhythm, paces } = o
  const wanted = o.wanted ?? o.works.length
  // those that are on the list are meant; of the others, those that can be read
  const chosen = [...o.works]
    .sort((a, b) => Number(b.isListed) - Number(a.isListed) || Number(b.hasCopy) - Number(a.hasCopy) || a.id - b.id)
    .slice(0, Math.max(wanted, o.works.filter(w => w.isListed).length))
  const missing = Math.max(0, wanted - chosen.length)
  // of what is nowhere asked for, half counts as written
  const from = Math.max(1, o.words.from ?? (o.words.to ?? USUAL_WORDS) / 2)
  const middle = o.words.from && o.words.to ? (o.words.from + o.words.to) / 2 : (o.words.from ?? o.words.to)
  const reading = readingOf(chosen, paces.page, paces.entry, {
    ...{ from, wanted: middle ?? USUAL_WORDS, today, rhythm },
  })

  const oneMore = { read: TYPICAL_PAGES * paces.page.minutes, write: paces.entry.minutes }
  const sum = (of: 'read' | 'write') => reading.reduce((n, r) => n + r[of], 0) + missing * oneMore[of]
  const left: Record<Step['step'], number> = {
    search: o.pool ? 0 : FIRST_SEARCH,
    sift: o.unread * paces.decision.minutes,
    read: sum('read'),
    write: sum('write'),
  }
  const minutes = STEPS.reduce((n, s) => n + left[s], 0)
  const own = rhythm.minutesADay
  const lastDay = due && lastDayOf(due, rhythm)
  const ahead = lastDay ? daysOfWork(today, rhythm, 1, FARTHEST, lastDay) : []
  const onADay = Math.max(own, minutes / Math.max(1, ahead.length))
  const back = [...ahead].reverse()
  let behind = minutes
  const steps = STEPS.map((step): Step => {
    const mine = left[step]
    const before = behind
    behind -= mine
    if (!mine || !back.length) return { step, minutes: mine, begin: null, end: null }
    // a step that fills its last day to the end does not reach into the next
    const at = (m: number) => back[Math.min(back.length - 1, Math.max(0, Math.ceil(m / onADay - 1e-9) - 1))]!
    return { step, minutes: mine, begin: at(before), end: at(behind + 1e-3) }
  })
  const forward = daysOfWork(today, rhythm, 1, Math.max(1, Math.ceil(minutes / own)))
  const lastStart = ahead[ahead.length - Math.max(1, Math.ceil(minutes / own - 1e-9))] ?? null
  const stride = Math.max(1, Math.ceil(ahead.length / MOST_POINTS))
  const later = ahead.flatMap((day, i) => (i % stride ? [] : [{ day, aDay: minutes / (ahead.length - i) }]))

  const isDone = (r: { read: number; write: number }) => r.read + r.write < 1e-9
  // what is done is reached, even where there is no time for what comes before
  let room = lastDay ? Math.max(0, ahead.length * own - left.search - left.sift) : Infinity
  const costs = [...reading, ...Array.from({ length: missing }, () => oneMore)].map(r => r.read + r.write)
  const reached = costs.sort((x, y) => x - y).filter(m => (room -= m) >= -1e-9).length
  return {
    ...{ steps, reading, missing, minutes, lastDay, lastStart, later, reached },
    beyond: o.works.length - chosen.length,
    done: reading.filter(isDone).length,
    days: ahead.length,
    aDay: ahead.length ? minutes / ahead.length : null,
    doneBy: !minutes ? today : forward.length * own + 1e-9 >= minutes ? forward.at(-1)! : null,
  }
}
/** Later beginnings that are told at most. */
const MOST_POINTS = 60
