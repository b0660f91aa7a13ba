import { expect, test } from '@jest/globals'
import ICAL from 'ical.js'
import { writeCalendar } from './calendar'

test('days become events of a whole day, whatever stands in their titles, in lines of 75 bytes', () => {
  const title =
    'Fetch: Moths, lamps; and “light” \\ again, with many more words than a line of a calendar file has room for, Ünïcödé'
  const made = '2026-10-05T10:00:00.000Z'
  const days = [
    { id: 'loan-1-until@vine.example', day: '2026-10-12', title, text: 'By 12 October.\nThen it is wiped.' },
    { id: 'loan-2-due@vine.example', day: '2026-11-02', title: 'Give back', text: '' },
  ]
  const text = writeCalendar(days, made)
  expect(text.split('\r\n').every(line => Buffer.byteLength(line) <= 75)).toBe(true)
  const events = new ICAL.Component(ICAL.parse(text) as unknown[]).getAllSubcomponents('vevent')
  expect(
    events.map(e => new ICAL.Event(e)).map(e => [e.uid, e.summary, e.startDate.toString(), e.startDate.isDate]),
  ).toEqual([
    ['loan-1-until@vine.example', title, '2026-10-12', true],
    ['loan-2-due@vine.example', 'Give back', '2026-11-02', true],
  ])
  expect(new ICAL.Event(events[0]!).description).toBe('By 12 October.\nThen it is wiped.')
  expect(events[0]!.getFirstPropertyValue('dtstamp')!.toString()).toBe('2026-10-05T10:00:00Z')
})
