import ICAL from 'ical.js'
import { firstLetters } from '../bib/clean'

/** A stretch of a day. */
export interface Span {
  /** ISO date, as the clocks of the place have it. */
  day: string
  /** Minutes since midnight, from 0 to 1440. */
  from: number
  to: number
  said: string
}
/** What a calendar says of days: stretches of them, and whole ones. */
export interface CalendarDays {
  spans: Span[]
  whole: { day: string; said: string }[]
  /** What of it could not be read, in sentences. */
  unread: string[]
}
/** The days that are wanted, ISO dates: the first, and the last. */
export interface Window {
  from: string
  to: string
}

const MINUTES = 1440
/** Times that one entry comes again at most until the last day that is wanted. */
const MOST_TIMES = 20_000
/** Entries that are looked at. */
const MOST_ENTRIES = 5_000
/** Sentences on what could not be read. */
const MOST_TOLD = 20

/**
 * Reads the days and hours of a calendar (RFC 5545): entries that come again, what is moved, what is left out, what is
 * called off. What stands in UTC is told by the clocks of the place, where the file names them. A rule that never comes
 * true can keep it busy for ever: it is to be called where it can be ended.
 * @throws Error where it is no calendar
 */
export function readCalendarDays(text: string, { from, to }: Window): CalendarDays {
  const spans: Span[] = []
  const whole: CalendarDays['whole'] = []
  const unread: string[] = []
  const last = ICAL.Time.fromDateString(to)
  for (const calendar of calendarsIn(text, unread)) {
    const zone = zoneOf(calendar)
    const entries = calendar.getAllSubcomponents('vevent')
    if (entries.length > MOST_ENTRIES) unread.push(`${entries.length - MOST_ENTRIES} entries more than are read.`)
    const shown = entries.slice(0, MOST_ENTRIES).filter(e => {
      try {
        byOwnClock(e, zone)
        return true
      } catch (why) {
        unread.push(sayUnread(e, why))
        return false
      }
    })
    const masters = new Set(shown.filter(e => !isMoved(e)).map(uidOf))
    const moved = new Map<string, ICAL.Component[]>()
    for (const e of shown.filter(isMoved)) moved.set(uidOf(e), [...(moved.get(uidOf(e)) ?? []), e])
    for (const entry of shown) {
      // what is moved belongs to what it is one of; without that it stands for itself
      if (isMoved(entry) && masters.has(uidOf(entry))) continue
      try {
        for (const { start, end, said } of timesOf(
          entry,
          isMoved(entry) ? [] : (moved.get(uidOf(entry)) ?? []),
          last,
        )) {
          if (start.isDate) whole.push(...daysFrom(start, end, said))
          else spans.push(...stretchesOf(inPlace(start, zone), inPlace(end, zone), said))
        }
      } catch (e) {
        unread.push(sayUnread(entry, e))
      }
    }
  }
  const isWanted = ({ day }: { day: string }) => day >= from && day <= to
  const more = unread.length - MOST_TOLD
  return {
    spans: spans.filter(isWanted).sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : a.from - b.from)),
    whole: whole.filter(isWanted).sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0)),
    unread: more > 0 ? [...unread.slice(0, MOST_TOLD), `And ${more} more.`] : unread,
  }
}

/** A line of a calendar: a name, with its parameters, and a value. */
const LINE = /^[\w-]+[;:]/

/** The calendars of a file; some write one after the other. Lines that are none are left out, and told. */
function calendarsIn(text: string, unread: string[]): ICAL.Component[] {
  const unfolded: string[] = []
  for (const line of text.split(/\r\n|\n|\r/).filter(l => l.trim())) {
    if (/^[ \t]/.test(line) && unfolded.length) unfolded.push(unfolded.pop()! + line.slice(1))
    else unfolded.push(line)
  }
  const lines = unfolded.filter(line => {
    if (LINE.test(line)) return true
    unread.push(`This is no line of a calendar: ${firstLetters(line, 60)}`)
    return false
  })
  let jcal: unknown[]
  try {
    jcal = ICAL.parse(lines.join('\r\n')) as unknown[]
  } catch (e) {
    throw new Error(`It is no calendar (RFC 5545): ${e instanceof Error ? e.message : String(e)}`, { cause: e })
  }
  const all = (typeof jcal[0] === 'string' ? [jcal] : jcal) as unknown[][]
  const calendars = all.map(c => new ICAL.Component(c)).filter(c => c.name === 'vcalendar')
  if (!calendars.length) throw new Error('It is no calendar (RFC 5545).')
  return calendars
}

const uidOf = (e: ICAL.Component): string => String(e.getFirstPropertyValue('uid') ?? '')
const sayUnread = (entry: ICAL.Component, why: unknown): string =>
  `“${summaryOf(entry) || 'An entry without a name'}”: ${why instanceof Error ? why.message : String(why)}`
const isMoved = (e: ICAL.Component): boolean => e.hasProperty('recurrence-id')
const summaryOf = (e: ICAL.Component): string => String(e.getFirstPropertyValue('summary') ?? '').trim()
const isOff = (e: ICAL.Component): boolean => /^cancelled$/i.test(String(e.getFirstPropertyValue('status') ?? ''))

/** The zone by whose clocks a calendar is told, where it says so. */
function zoneOf(calendar: ICAL.Component): string | undefined {
  const zones = calendar.getAllSubcomponents('vtimezone').map(z => String(z.getFirstPropertyValue('tzid') ?? ''))
  const named = [String(calendar.getFirstPropertyValue('x-wr-timezone') ?? ''), ...(zones.length === 1 ? zones : [])]
  return named.find(isZone)
}
function isZone(name: string): boolean {
  try {
    return name !== '' && Boolean(new Intl.DateTimeFormat('en', { timeZone: name }))
  } catch {
    return false
  }
}

const isUtc = (t: ICAL.Time): boolean => t.zone === ICAL.Timezone.utcTimezone
const TIMES = ['dtstart', 'dtend', 'exdate', 'rdate', 'recurrence-id'] as const

/**
 * Tells all times of an entry by the clocks by which it begins: it is left out, moved and ended in UTC or in zones that
 * the file does not describe. What begins in UTC stays there, since it moves against the clocks.
 */
function byOwnClock(entry: ICAL.Component, ofCalendar: string | undefined): void {
  const begins = entry.getFirstProperty('dtstart')
  const start = begins?.getFirstValue()
  if (!begins || !(start instanceof ICAL.Time) || start.isDate || isUtc(start)) return
  const own = begins.getFirstParameter('tzid')
  const zone = own && isZone(own) ? own : ofCalendar
  const there = (t: unknown): unknown => {
    if (!(t instanceof ICAL.Time) || t.isDate) return t
    const { day, minute } = inPlace(t, zone)
    return ICAL.Time.fromDateTimeString(`${day}T${two(Math.floor(minute / 60))}:${two(minute % 60)}:${two(t.second)}`)
  }
  for (const p of TIMES.flatMap(name => entry.getAllProperties(name))) {
    p.removeParameter('tzid')
    if (p.isMultiValue) p.setValues(p.getValues().map(there))
    else p.setValue(there(p.getFirstValue()))
  }
  for (const p of entry.getAllProperties('rrule')) {
    const rule = p.getFirstValue() as ICAL.Recur
    if (rule.until) rule.until = there(rule.until) as ICAL.Time
    p.setValue(rule)
  }
}

interface Time {
  start: ICAL.Time
  end: ICAL.Time
  said: string
}

/** The times of an entry up to a day. @throws Error where its rule cannot be followed */
function* timesOf(entry: ICAL.Component, exceptions: ICAL.Component[], last: ICAL.Time): Generator<Time> {
  if (isOff(entry)) return
  const event = new ICAL.Event(entry, { exceptions })
  if (!entry.hasProperty('dtstart')) throw new Error('It does not say when it begins.')
  if (!event.isRecurring()) {
    yield { start: event.startDate, end: event.endDate, said: summaryOf(entry) }
    return
  }
  for (const rule of entry.getAllProperties('rrule').map(p => p.getFirstValue() as ICAL.Recur))
    if (!OFTEN.includes(rule.freq)) throw new Error(`It comes again by a rule that no day follows (${rule.freq}).`)
  const times = event.iterator()
  for (let n = 0; ; n++) {
    const at = times.next() as ICAL.Time | undefined
    // one that was moved to an earlier day is named by its first one
    if (!at || at.compareDateOnlyTz(last, ICAL.Timezone.localTimezone) > 0) return
    if (n >= MOST_TIMES) throw new Error(`It comes again more than ${MOST_TIMES} times; the rest is not read.`)
    const { item, startDate: start, endDate: end } = event.getOccurrenceDetails(at)
    if (!isOff(item.component)) yield { start, end, said: summaryOf(item.component) }
  }
}
const OFTEN: readonly string[] = ['DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY']

/** Days from one up to another, which is not one of them. */
function* daysFrom(start: ICAL.Time, end: ICAL.Time, said: string): Generator<CalendarDays['whole'][number]> {
  const at = start.clone()
  for (let n = 0; n < MOST_DAYS; n++) {
    yield { day: dayOf(at), said }
    at.adjust(1, 0, 0, 0)
    if (at.compareDateOnlyTz(end, ICAL.Timezone.localTimezone) >= 0) return
  }
}
/** Days of one entry. */
const MOST_DAYS = 400

const two = (n: number): string => String(n).padStart(2, '0')
const dayOf = (t: { year: number; month: number; day: number }): string =>
  `${String(t.year).padStart(4, '0')}-${two(t.month)}-${two(t.day)}`

interface Clock {
  day: string
  minute: number
}

/** A time as the clocks of its place show it. */
function inPlace(t: ICAL.Time, zone: string | undefined): Clock {
  if (!zone || !isUtc(t)) return { day: dayOf(t), minute: t.hour * 60 + t.minute }
  const parts = new Map(
    clockOf(zone)
      .formatToParts(t.toJSDate())
      .map(p => [p.type, Number(p.value)]),
  )
  const [year, month, day] = [parts.get('year')!, parts.get('month')!, parts.get('day')!]
  return { day: dayOf({ year, month, day }), minute: (parts.get('hour')! % 24) * 60 + parts.get('minute')! }
}
const clocks = new Map<string, Intl.DateTimeFormat>()
function clockOf(timeZone: string): Intl.DateTimeFormat {
  const fields = { year: 'numeric', month: 'numeric', day: 'numeric', hour: 'numeric', minute: 'numeric' } as const
  const made = clocks.get(timeZone) ?? new Intl.DateTimeFormat('en-GB', { timeZone, ...fields })
  clocks.set(timeZone, made)
  return made
}

/** A stretch of time, parted at each midnight. */
function* stretchesOf(start: Clock, end: Clock, said: string): Generator<Span> {
  let { day, minute: from } = start
  for (let n = 0; n < MOST_DAYS && day <= end.day; n++) {
    const to = day === end.day ? end.minute : MINUTES
    if (to > from) yield { day, from, to, said }
    const next = ICAL.Time.fromDateString(day)
    next.adjust(1, 0, 0, 0)
    day = dayOf(next)
    from = 0
  }
}
