import ICAL from 'ical.js'

/** A day to be kept in mind. */
export interface CalendarDay {
  /** By which the same day is known again when it moved. */
  id: string
  /** ISO date. */
  day: string
  title: string
  text: string
}

/**
 * Days as a calendar file (RFC 5545).
 * @param made ISO moment
 */
export function writeCalendar(days: readonly CalendarDay[], made: string): string {
  const calendar = new ICAL.Component('vcalendar')
  calendar.addPropertyWithValue('version', '2.0')
  calendar.addPropertyWithValue('prodid', '-//Vine Path//Asked for//EN')
  for (const { id, day, title, text } of days) {
    const entry = new ICAL.Component('vevent')
    const e = new ICAL.Event(entry)
    e.uid = id
    e.summary = title
    e.description = text
    e.startDate = ICAL.Time.fromDateString(day)
    entry.addPropertyWithValue('dtstamp', ICAL.Time.fromJSDate(new Date(made), true))
    entry.addPropertyWithValue('transp', 'TRANSPARENT')
    calendar.addSubcomponent(entry)
  }
  return `${calendar.toString()}\r\n`
}
