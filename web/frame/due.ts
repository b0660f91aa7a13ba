import { format, parseISO } from 'date-fns'

/** The days to a due date in words: "24 days", "1 day", "due today", "2 days late". */
export function sayDays(days: number): string {
  if (days === 0) return 'due today'
  const n = Math.abs(days)
  return `${n} ${n === 1 ? 'day' : 'days'}${days < 0 ? ' late' : ''}`
}

/** A day of the desk, in short. @example shortDay('2026-10-05') // '5 Oct' */
export const shortDay = (day: string): string => format(parseISO(day.slice(0, 10)), 'd MMM')
