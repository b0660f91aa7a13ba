import { expect, test } from '@jest/globals'
import { format } from 'date-fns'
import { inDeskTime } from './desk-time'

const shown = (at: string, days: { from: string; day: string | null }[]) => format(inDeskTime(at, days), 'd MMM yyyy')
const time = (at: Date) => format(at, 'HH:mm:ss')

test('a moment is shown on the day on which the desk stood then, at the time of the clock', () => {
  const days = [
    { from: '2026-11-01T12:00:00.000Z', day: '2026-10-05' },
    { from: '2026-11-20T12:00:00.000Z', day: '2026-10-12' },
    { from: '2026-11-22T12:00:00.000Z', day: null },
  ]
  const at = '2026-11-10T12:34:56.000Z'
  expect(shown(at, days)).toBe('5 Oct 2026')
  expect(time(inDeskTime(at, days))).toBe(time(new Date(at)))
  expect(shown('2026-11-20T12:00:00.000Z', days)).toBe('12 Oct 2026')
  // where it went with the calendar, before and after, the calendar's day is the desk's
  for (const plain of ['2026-10-20T12:00:00.000Z', '2026-11-23T12:00:00.000Z'])
    expect(inDeskTime(plain, days).toISOString()).toBe(plain)
  expect(inDeskTime(at, []).toISOString()).toBe(at)
})

test('the last day of a month is no stumbling block', () => {
  expect(shown('2026-10-31T12:00:00.000Z', [{ from: '2000-01-01T00:00:00.000Z', day: '2027-02-28' }])).toBe(
    '28 Feb 2027',
  )
})
