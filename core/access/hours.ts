import { addDays } from '../bib/dates'
import { fold } from '../bib/fold'
import type { CalendarDays, Span } from '../formats/hours'
import { sayNear } from './coverage'

/** When a branch of a library is open. */
export interface Hours {
  /** Its name; empty where it goes for the whole library. */
  branch: string
  /** Its opening hours; null where no calendar tells them. */
  open: Pick<Span, 'day' | 'from' | 'to'>[] | null
  /** Whole days on which it is closed, and why. */
  shut: CalendarDays['whole']
  /** The last day that is known. */
  until: string
}

/**
 * What two calendars say together: one of opening hours, one of times when it is closed. A whole day says in either that
 * it is closed: nobody writes that a library is open by naming a day without hours.
 */
export function hoursBy(branch: string, until: string, opening?: CalendarDays, closed?: CalendarDays): Hours {
  const shut = [...(opening?.whole ?? []), ...(closed?.whole ?? [])]
  const days = new Set(shut.map(s => s.day))
  const off = closed?.spans ?? []
  const open = opening?.spans
    .filter(s => !days.has(s.day))
    .flatMap(s =>
      without(
        s,
        off.filter(o => o.day === s.day),
      ),
    )
  const once = new Map(shut.map(s => [s.day, s]))
  return { branch, open: open ?? null, shut: [...once.values()].sort((a, b) => (a.day < b.day ? -1 : 1)), until }
}

/** What is left of a stretch of a day. */
const without = ({ day, from, to }: Span, off: readonly Span[]): NonNullable<Hours['open']> =>
  off.reduce<{ day: string; from: number; to: number }[]>(
    (left, o) =>
      left.flatMap(s =>
        o.to <= s.from || o.from >= s.to
          ? [s]
          : [
              { ...s, to: Math.max(s.from, o.from) },
              { ...s, from: Math.min(s.to, o.to) },
            ].filter(x => x.to > x.from),
      ),
    [{ day, from, to }],
  )

/** The hours that go for a branch: its own, else those of the whole library. */
export const hoursFor = <H extends Pick<Hours, 'branch'>>(all: readonly H[], branch: string): H | undefined =>
  all.find(h => h.branch && fold(h.branch) === fold(branch)) ?? all.find(h => !h.branch)

/** The hours of where a thing stands: a partner's are its own alone, since it does not open with the library. */
export const hoursAt = <H extends Pick<Hours, 'branch'>>(
  all: readonly H[],
  { partner, shelf }: { partner?: string; shelf?: { branch: string } },
): H | undefined =>
  partner ? all.find(h => h.branch && fold(h.branch) === fold(partner)) : hoursFor(all, shelf?.branch ?? '')

/** The hours of a day, none where it is closed; undefined where it is not known. */
export function openOn({ open, shut, until }: Hours, day: string): NonNullable<Hours['open']> | undefined {
  if (day > until) return undefined
  if (shut.some(s => s.day === day)) return []
  return open?.filter(s => s.day === day)
}

/** Days that are looked ahead for the next one on which it is open. */
const AHEAD = 90

/** The first day from one on for which it is not said that it is closed; undefined where that is far away. */
export function nextOpen(hours: Hours, from: string): string | undefined {
  for (let n = 0; n < AHEAD; n++) {
    const day = addDays(from, n)
    if (day > hours.until) return undefined
    if (openOn(hours, day)?.length !== 0) return day
  }
  return undefined
}

const clock = (minutes: number): string => `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, '0')}`
const WEEKDAY = new Intl.DateTimeFormat('en-GB', { weekday: 'short', timeZone: 'UTC' })
const sayDay = (day: string, today: string): string =>
  day === addDays(today, 1) ? 'tomorrow' : `on ${WEEKDAY.format(new Date(`${day}T00:00:00Z`))} ${sayNear(day, today)}`
/** Days within which a closed one is told beforehand. */
const SOON = 7

/** Hours for a table. @example '9–12, 14–18:30' */
export const shortHours = (spans: readonly Pick<Span, 'from' | 'to'>[]): string =>
  spans.map(s => [s.from, s.to].map(m => clock(m).replace(/:00$/, '')).join('–')).join(', ')

/** Hours in words. @example '9:00–12:00 and 14:00–18:00' */
export const sayHours = (spans: readonly Pick<Span, 'from' | 'to'>[]): string =>
  spans.map(s => `${clock(s.from)}–${clock(s.to)}`).join(' and ')

/** Whether it is open on a day, in a sentence; empty where nothing is known that matters. */
export function sayOpen(hours: Hours, today: string): string {
  const now = openOn(hours, today)
  const why = (day: string) => {
    const said = hours.shut.find(s => s.day === day)?.said
    return said ? ` (${said})` : ''
  }
  if (now?.length === 0) {
    const next = nextOpen(hours, addDays(today, 1))
    const first = next && openOn(hours, next)?.[0]
    const then = first ? `, opens ${sayDay(first.day, today)} at ${clock(first.from)}` : ''
    const again = next && !first ? `, open again ${sayDay(next, today)}` : ''
    return `Closed today${why(today)}${then}${again}.`
  }
  const soon = hours.shut.find(s => s.day > today && s.day <= addDays(today, SOON))
  const parts = [
    ...(now ? [`Open today ${sayHours(now)}`] : []),
    ...(soon ? [`${now ? 'closed' : 'Closed'} ${sayDay(soon.day, today)}${why(soon.day)}`] : []),
  ]
  return parts.length ? `${parts.join(', ')}.` : ''
}
