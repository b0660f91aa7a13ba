import { format, parseISO } from 'date-fns'

/** The days to a due date in words: "24 days", "1 day", "due today", "2 days late". */
export function sayDays(days: number): string {
  if (days === 0) return 'due today'
  const n = Math.abs(days)
  return `${n} ${n === 1 ? 'day' : 'days'}${days < 0 ? ' late' : ''}`
}

/** A day of the desk, in short. @example shortDay('2026-10-05') // '5 Oct' */
export const shortDay = (day: string): string => format(parseISO(day.slice(0, 10)), 'd MMM')
/** The same with its day of the week. @example weekDay('2026-10-05') // 'Mon 5 Oct' */
export const weekDay = (day: string): string => format(parseISO(day.slice(0, 10)), 'EEE d MMM')

/** A stretch of work in words, as exactly as it can be reckoned. @example sayMinutes(134) // '2 h 15 min' */
export function sayMinutes(minutes: number): string {
  if (minutes > 0 && minutes < 1) return 'under a minute'
  // hours of work are not known to the minute
  const m = minutes < 60 ? Math.round(minutes) : Math.round(minutes / 5) * 5
  const [h, rest] = [Math.floor(m / 60), m % 60]
  if (h >= 20) return `${Math.round(m / 60).toLocaleString('en')} h`
  return [h && `${h} h`, (rest || !h) && `${rest} min`].filter(Boolean).join(' ')
}
