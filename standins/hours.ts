import { Router } from 'express'

const calendar = (name: string, ...entries: string[][]): string =>
  [
    ...['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//Halverane Library//Hours//EN', `X-WR-CALNAME:${name}`],
    ...entries.flatMap((e, i) => [
      'BEGIN:VEVENT',
      `UID:${name}-${i}@halverane.example`,
      'DTSTAMP:20260801T080000Z',
      ...e,
      'END:VEVENT',
    ]),
    'END:VCALENDAR',
    '',
  ].join('\r\n')
const FIRST: Record<string, string> = { MO: '20260831', TU: '20260901', SA: '20260905' }
const weekly = (days: string, from: string, to: string, ...more: string[]): string[] => [
  // the first of these days from the last of August on
  `DTSTART:${FIRST[days.slice(0, 2)]}T${from}00`,
  `DTEND:${FIRST[days.slice(0, 2)]}T${to}00`,
  `RRULE:FREQ=WEEKLY;BYDAY=${days}`,
  ...more,
]
const shut = (said: string, day: string, end: string): string[] => [
  ...[`SUMMARY:${said}`, `DTSTART;VALUE=DATE:${day}`, `DTEND;VALUE=DATE:${end}`],
]

const CALENDARS: Record<string, string> = {
  'main.ics': calendar(
    'Main Library',
    weekly('MO,TU,WE,TH,FR', '0800', '2200', 'EXDATE:20261014T080000'),
    ['SUMMARY:Closes early', 'DTSTART:20261014T080000', 'DTEND:20261014T140000'],
    weekly('SA', '1000', '1800'),
  ),
  'science.ics': calendar('Science Library', weekly('MO,TU,WE,TH,FR', '0900', '1800')),
  'harbour.ics': calendar('Harbour Annex', weekly('TU,WE,TH', '1000', '1600')),
  'estermark.ics': calendar('Estermark', weekly('TU,TH', '1000', '1700')),
  'closed.ics': calendar(
    'Closed days',
    shut('Staff day', '20261026', '20261027'),
    shut('Winter closing', '20261224', '20261226'),
    shut('Winter closing', '20261231', '20270101'),
  ),
}

/** When the branches of the home library are open, and when all of it is closed. */
export const openingHours = (): Router =>
  Router().get('/:name', (req, res) => {
    const text = CALENDARS[req.params.name]
    if (!text) return void res.status(404).type('text/plain').send('There is no such calendar.')
    res.type('text/calendar; charset=utf-8').send(text)
  })
