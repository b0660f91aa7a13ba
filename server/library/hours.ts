import { hoursBy, hoursFor, openOn, sayOpen, shortHours, type Hours } from '../../core/access/hours'
import { addDays, daysBetween } from '../../core/bib/dates'
import type { CalendarDays, Window } from '../../core/formats/hours'
import type { Answer } from '../../core/schema/api'
import type { LibraryProfile } from '../../core/schema/library'
import type { Context } from '../base/context'
import { memory } from '../base/memory'
import { ChildFailed, ChildKilled, runChild } from '../child/run'
import { OutsideError, requireSuccess } from '../connect/http'
import { Patience } from '../connect/patience'
import { deskDay } from '../db/desk-day'
import { leaveOf, type Library } from './libraries'
import type { LibraryHoursRow } from './libraries-model'

type Calendars = LibraryProfile['hours'][number]

/** Days for which calendars hold before they are fetched again, and for which they are read. */
const HOLD = 7
const BEFORE = 60
const AHEAD = 400
const LARGEST_CALENDAR = 5_000_000
const READING = { seconds: 20 }

const addressesOf = ({ opening, closed }: Calendars): string => `${opening} ${closed}`

/**
 * Fetches the calendars of libraries where they were not for a week. Those that cannot be read leave what they said
 * before, and why.
 * @param again those of today too
 */
export async function renewHours(
  c: Context,
  libraries: readonly Library[],
  signal?: AbortSignal,
  again = false,
): Promise<void> {
  const today = await deskDay(c.db)
  const window = { from: addDays(today, -BEFORE), to: addDays(today, AHEAD) }
  for (const library of libraries) {
    const read = readerOf(c, library, window, signal)
    const rows = await rowsOf(c, [library.key])
    for (const of of library.hours) {
      const row = rows.find(r => r.branch === of.branch && r.addresses === addressesOf(of))
      const age = row ? daysBetween(row.deskDay, today) : Infinity
      if (again || age < 0 || age >= HOLD)
        await renew(c, library, of, row?.hours ?? null, { read, today, until: window.to })
    }
  }
}

type Read = (address: string) => Promise<CalendarDays | undefined>

/** Fetches and reads calendars, each once: branches share that of the closed days. */
function readerOf(c: Context, library: Library, window: Window, signal?: AbortSignal): Read {
  const stop = signal ? { signal } : {}
  const known = new Map<string, Promise<CalendarDays>>()
  const patience = new Patience()
  const fetched = async (address: string): Promise<CalendarDays> => {
    const got = await patience.ask(new URL(address).host, () =>
      c.outside(address, { timeoutMs: 20_000, maxBytes: LARGEST_CALENDAR, ...leaveOf(library), ...stop }),
    )
    return runChild('calendar', requireSuccess(got).body, { ...READING, ...stop }, window)
  }
  return async address => {
    if (!address) return undefined
    const days = known.get(address) ?? fetched(address)
    known.set(address, days)
    return days
  }
}

async function renew(
  c: Context,
  library: Library,
  of: Calendars,
  before: Hours | null,
  { read, today, until }: { read: Read; today: string; until: string },
): Promise<void> {
  const troubles: string[] = []
  let hours = before
  let day = today
  try {
    const [opening, closed] = [await read(of.opening), await read(of.closed)]
    hours = hoursBy(of.branch, until, opening, closed)
    troubles.push(...(opening?.unread ?? []), ...(closed?.unread ?? []))
  } catch (e) {
    if (!(e instanceof OutsideError || e instanceof ChildFailed || e instanceof ChildKilled)) throw e
    // it is asked for again the next time
    day = addDays(today, -HOLD)
    troubles.push(before ? `${e.message} What it said before stands.` : e.message)
  }
  await c.db.libraryHours.upsert({
    ...{ library: library.key, branch: of.branch, addresses: addressesOf(of), hours },
    ...{ trouble: troubles.join(' ') || null, deskDay: day, at: new Date() },
  })
  lately.forget(c)
}

/** A list asks for them for the ways and for what offices offer. */
const lately = memory<LibraryHoursRow[]>({ holds: 1000 })
const rowsOf = (c: Context, keys: readonly string[]) =>
  lately.get(c, keys.join('\n'), () =>
    c.db.libraryHours.findAll({ where: { library: [...keys] }, order: ['library', 'branch'], raw: true }),
  )

/** The rows of the calendars that libraries have now. */
async function currentOf(c: Context, libraries: readonly Library[]) {
  const having = libraries.filter(l => l.hours.length)
  if (!having.length) return []
  const rows = await rowsOf(
    c,
    having.map(l => l.key),
  )
  return having.flatMap(library =>
    library.hours.flatMap(of => {
      const row = rows.find(r => r.library === library.key && r.branch === of.branch && r.addresses === addressesOf(of))
      return row ? [{ library, row }] : []
    }),
  )
}

/** When libraries are open, by their keys, as it was read last. */
export async function hoursOf(c: Context, libraries: readonly Library[]): Promise<ReadonlyMap<string, Hours[]>> {
  const known = new Map<string, Hours[]>()
  for (const { library, row } of await currentOf(c, libraries))
    if (row.hours) known.set(library.key, [...(known.get(library.key) ?? []), row.hours])
  return known
}

/** Days on which the office of a library does not work, besides its weekends. */
export function closedFor({ office }: Pick<Library, 'office'>, hours: readonly Hours[] = []): string[] {
  const own = hoursFor(hours, office?.pickUp ?? '')
  return [...new Set([...(office?.closed ?? []), ...(own?.shut.map(s => s.day) ?? [])])]
}

/** When libraries are open, in words. */
export async function toldHours(c: Context, libraries: readonly Library[]): Promise<Answer<'hours'>> {
  const today = await deskDay(c.db)
  return (await currentOf(c, libraries)).map(({ library, row: { branch, hours, trouble } }) => ({
    ...{ library: library.key, branch, said: hours ? sayOpen(hours, today) : '', trouble },
    week: hours
      ? Array.from({ length: 7 }, (_, n) => {
          const day = addDays(today, n)
          const open = openOn(hours, day)
          return {
            ...{ day, hours: open ? shortHours(open) : null },
            why: hours.shut.find(s => s.day === day)?.said ?? '',
          }
        })
      : [],
  }))
}

/** Fetches the calendars of a library now, and tells what came of it; what they say is shown beside. */
export async function tryHours(c: Context, library: Library): Promise<{ holds: boolean; said: string }> {
  await renewHours(c, [library], undefined, true)
  const today = await deskDay(c.db)
  const rows = (await currentOf(c, [library])).map(({ row }) => row)
  const ahead = new Set(rows.flatMap(r => r.hours?.shut ?? []).flatMap(s => (s.day >= today ? s.day : []))).size
  const failing = rows.filter(r => r.trouble)
  if (rows.length === 1 && failing[0]) return { holds: false, said: failing[0].trouble! }
  const all = rows.length === 1 ? 'It is read' : `All ${rows.length} are read`
  const read = failing.length ? `${rows.length - failing.length} of ${rows.length} are read without a complaint` : all
  const troubles = [...new Set(failing.map(r => `${r.branch || 'The whole library'}: ${r.trouble}`))]
  return {
    holds: !failing.length,
    said: [`${read}. ${ahead} closed ${ahead === 1 ? 'day' : 'days'} ahead.`, ...troubles].join(' '),
  }
}
