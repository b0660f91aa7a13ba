import { describe, expect, test } from '@jest/globals'
import type { CalendarDays } from '../formats/hours'
import { hoursBy, hoursFor, nextOpen, openOn, sayOpen, shortHours } from './hours'

const span = (day: string, from: number, to: number) => ({ day, from: from * 60, to: to * 60, said: '' })
const days = (more: Partial<CalendarDays>): CalendarDays => ({ spans: [], whole: [], unread: [], ...more })
// Monday 5 October 2026 and the days after it
const opening = days({
  spans: [span('2026-10-05', 9, 20), span('2026-10-06', 9, 12), span('2026-10-06', 14, 18), span('2026-10-08', 9, 20)],
})
const holiday = days({ whole: [{ day: '2026-10-08', said: 'Staff day' }], spans: [span('2026-10-05', 12, 14)] })
const hours = hoursBy('', '2026-12-31', opening, holiday)

describe('when a library is open', () => {
  test('what is closed is taken out of the hours, in whole days and in stretches', () => {
    expect(openOn(hours, '2026-10-05')).toEqual([
      { day: '2026-10-05', from: 540, to: 720 },
      { day: '2026-10-05', from: 840, to: 1200 },
    ])
    expect(openOn(hours, '2026-10-08')).toEqual([])
    expect(openOn(hours, '2026-10-07')).toEqual([])
    expect(openOn(hours, '2027-01-01')).toBeUndefined()
    const covered = hoursBy('', '2026-12-31', opening, days({ spans: [span('2026-10-05', 0, 24)] }))
    expect(openOn(covered, '2026-10-05')).toEqual([])
  })
  test('closed days alone leave open whether it is open on others', () => {
    const only = hoursBy('', '2026-12-31', undefined, holiday)
    expect(openOn(only, '2026-10-07')).toBeUndefined()
    expect(openOn(only, '2026-10-08')).toEqual([])
    expect([nextOpen(only, '2026-10-07'), nextOpen(only, '2026-10-08')]).toEqual(['2026-10-07', '2026-10-09'])
  })
  test('the next day on which one is let in', () => {
    expect(nextOpen(hours, '2026-10-05')).toBe('2026-10-05')
    // nothing is known to open any more
    expect(nextOpen(hours, '2026-10-07')).toBeUndefined()
    expect(nextOpen(hoursBy('', '2026-12-31', opening), '2026-10-07')).toBe('2026-10-08')
  })
  test('a branch has its own hours, else those of the whole library', () => {
    const all = [hoursBy('', '2026-12-31', opening), hoursBy('Harbour Annex', '2026-12-31', opening)]
    expect(hoursFor(all, 'harbour annex')!.branch).toBe('Harbour Annex')
    expect(hoursFor(all, 'Main Library')!.branch).toBe('')
    expect(hoursFor(all.slice(1), 'Main Library')).toBeUndefined()
  })
  test.each([
    ['2026-10-05', 'Open today 9:00–12:00 and 14:00–20:00, closed on Thu 8 October (Staff day).'],
    ['2026-10-06', 'Open today 9:00–12:00 and 14:00–18:00, closed on Thu 8 October (Staff day).'],
    ['2026-10-07', 'Closed today.'],
  ])('on %s: %s', (day, said) => {
    expect(sayOpen(hours, day)).toBe(said)
  })
  test('hours of a table leave out what says nothing', () => {
    expect(shortHours([span('2026-10-05', 9, 12), span('2026-10-05', 14, 18.5)])).toBe('9–12, 14–18:30')
  })
  test('what opens tomorrow says when, and what nobody knows is not said', () => {
    const two = hoursBy('', '2026-12-31', days({ spans: [span('2026-10-06', 10, 16)] }))
    expect(sayOpen(two, '2026-10-05')).toBe('Closed today, opens tomorrow at 10:00.')
    const only = hoursBy('', '2026-12-31', undefined, holiday)
    expect(sayOpen(only, '2026-10-05')).toBe('Closed on Thu 8 October (Staff day).')
    expect(sayOpen(only, '2026-10-08')).toBe('Closed today (Staff day), open again tomorrow.')
    expect(sayOpen(only, '2026-11-05')).toBe('')
  })
})
