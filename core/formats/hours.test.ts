import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { readCalendarDays } from './hours'

const calendar = (...lines: string[]): string =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//x//', ...lines, 'END:VCALENDAR', ''].join('\r\n')
const entry = (...lines: string[]): string[] => ['BEGIN:VEVENT', 'UID:1', ...lines, 'END:VEVENT']
const window = { from: '2026-01-01', to: '2027-12-31' }
const read = (...lines: string[]) => readCalendarDays(calendar(...lines), window)
const days = (...lines: string[]) => read(...lines).spans.map(s => s.day)
const weekly = [
  ...['SUMMARY:Open', 'DTSTART;TZID=Europe/Vienna:20261005T090000', 'DTEND;TZID=Europe/Vienna:20261005T173000'],
]

describe('hours of a calendar', () => {
  test('an entry that comes again, by the clocks of its place', () => {
    const { spans, unread } = read(...entry(...weekly, 'RRULE:FREQ=WEEKLY;BYDAY=MO,WE;COUNT=4'))
    expect(spans).toEqual([
      { day: '2026-10-05', from: 540, to: 1050, said: 'Open' },
      { day: '2026-10-07', from: 540, to: 1050, said: 'Open' },
      { day: '2026-10-12', from: 540, to: 1050, said: 'Open' },
      { day: '2026-10-14', from: 540, to: 1050, said: 'Open' },
    ])
    expect(unread).toEqual([])
  })
  // as python-dateutil 2.8.2 follows them
  test.each([
    ['FREQ=MONTHLY;BYDAY=-1FR;COUNT=4', '2026-10-30 2026-11-27 2026-12-25 2027-01-29'],
    ['FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1;COUNT=3', '2026-10-30 2026-11-30 2026-12-31'],
    ['FREQ=YEARLY;BYMONTH=12;BYMONTHDAY=24,25,26;COUNT=4', '2026-12-24 2026-12-25 2026-12-26 2027-12-24'],
    ['FREQ=YEARLY;BYMONTH=11;BYDAY=4TH', '2026-11-26 2027-11-25'],
    ['FREQ=WEEKLY;INTERVAL=2;BYDAY=MO;UNTIL=20261102T080000Z', '2026-10-05 2026-10-19 2026-11-02'],
    ['FREQ=WEEKLY;INTERVAL=2;BYDAY=MO;UNTIL=20261102T075959Z', '2026-10-05 2026-10-19'],
  ])('%s', (rule, wanted) => {
    const found = days(...entry(...weekly, `RRULE:${rule}`))
    // the first is one of them where it follows the rule
    expect(found.filter(d => d !== '2026-10-05' || wanted.startsWith(d)).join(' ')).toBe(wanted)
  })
  test('what is left out in UTC, moved, called off, and added', () => {
    const found = days(
      ...entry(
        ...weekly,
        'RRULE:FREQ=WEEKLY;COUNT=4',
        'EXDATE:20261012T070000Z',
        'RDATE;TZID=Europe/Vienna:20261031T090000',
      ),
      ...entry(
        ...['RECURRENCE-ID;TZID=Europe/Vienna:20261019T090000', 'DTSTART;TZID=Europe/Vienna:20261020T100000'],
        ...['DTEND;TZID=Europe/Vienna:20261020T110000', 'SUMMARY:Moved'],
      ),
      ...entry('RECURRENCE-ID;TZID=Europe/Vienna:20261026T090000', ...weekly, 'STATUS:CANCELLED'),
    )
    expect(found).toEqual(['2026-10-05', '2026-10-20', '2026-10-31'])
  })
  test('what stands in UTC is told by the clocks that the file names, in summer and in winter', () => {
    const utc = entry('SUMMARY:Open', 'DTSTART:20261019T220000Z', 'DTEND:20261019T233000Z', 'RRULE:FREQ=WEEKLY;COUNT=2')
    expect(read('X-WR-TIMEZONE:Europe/Vienna', ...utc).spans).toEqual([
      { day: '2026-10-20', from: 0, to: 90, said: 'Open' },
      { day: '2026-10-26', from: 1380, to: 1440, said: 'Open' },
      { day: '2026-10-27', from: 0, to: 30, said: 'Open' },
    ])
    expect(read(...utc).spans[0]).toMatchObject({ day: '2026-10-19', from: 1320 })
  })
  test('whole days, of which the last is the one before its end', () => {
    const { whole, spans } = read(
      ...entry('SUMMARY:Winter', 'DTSTART;VALUE=DATE:20261230', 'DTEND;VALUE=DATE:20270102'),
    )
    expect(whole.map(w => w.day)).toEqual(['2026-12-30', '2026-12-31', '2027-01-01'])
    expect(spans).toEqual([])
    const yearly = read(...entry('SUMMARY:May', 'DTSTART;VALUE=DATE:20200501', 'RRULE:FREQ=YEARLY'))
    expect(yearly.whole).toEqual([
      { day: '2026-05-01', said: 'May' },
      { day: '2027-05-01', said: 'May' },
    ])
  })
  test('one that lasts beyond midnight is parted there', () => {
    const { spans } = read(...entry('DTSTART:20261005T200000', 'DTEND:20261007T020000', 'SUMMARY:Long night'))
    expect(spans.map(s => [s.day, s.from, s.to])).toEqual([
      ['2026-10-05', 1200, 1440],
      ['2026-10-06', 0, 1440],
      ['2026-10-07', 0, 120],
    ])
  })
  test('lines that are none, and folds after empty lines, are no end of it', () => {
    // as files of others have them
    const text = [
      'BEGIN:VCALENDAR',
      'VERSION',
      '',
      ' :2.0',
      'BEGIN:VEVENT',
      'SUMMARY=none',
      'DTSTART:20261005T0900',
      '',
      ' 00',
    ]
    const { spans, unread } = readCalendarDays(
      [...text, 'DURATION:PT2H', 'END:VEVENT', 'END:VCALENDAR'].join('\n'),
      window,
    )
    expect(spans).toEqual([{ day: '2026-10-05', from: 540, to: 660, said: '' }])
    expect(unread).toEqual(['This is no line of a calendar: SUMMARY=none'])
  })
  test('an entry that cannot be followed is named, and the others are read', () => {
    const bad = (...more: string[]) => entry('SUMMARY:Odd', 'DTSTART:20261005T090000', ...more)
    const { spans, unread } = read(
      ...bad('RRULE:FREQ=SECONDLY'),
      ...entry('SUMMARY:Endless', 'DTSTART:19000101T090000', 'RRULE:FREQ=DAILY'),
      ...entry('SUMMARY:Nowhere'),
      ...entry('SUMMARY:Never', 'DTSTART:in autumn'),
      ...entry(...weekly),
    )
    expect(spans.map(s => s.day)).toContain('2026-10-05')
    expect(unread).toEqual([
      expect.stringMatching(/^“Never”: invalid date-time value/),
      '“Odd”: It comes again by a rule that no day follows (SECONDLY).',
      '“Endless”: It comes again more than 20000 times; the rest is not read.',
      '“Nowhere”: It does not say when it begins.',
    ])
    expect(() => readCalendarDays('<html>Not found</html>', window)).toThrow('It is no calendar (RFC 5545)')
    expect(() => readCalendarDays('', window)).toThrow('It is no calendar (RFC 5545)')
  })
  test('nothing beyond what is wanted, in order, each within its day', () => {
    const rules = fc.record({
      day: fc.integer({ min: 1, max: 28 }),
      hour: fc.integer({ min: 0, max: 23 }),
      lasts: fc.integer({ min: 1, max: 60 }),
      freq: fc.constantFrom('DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'),
      each: fc.integer({ min: 1, max: 5 }),
    })
    fc.assert(
      fc.property(rules, r => {
        const two = (n: number) => String(n).padStart(2, '0')
        const { spans } = readCalendarDays(
          calendar(
            ...entry(
              ...[`DTSTART:202606${two(r.day)}T${two(r.hour)}0000`, `DURATION:PT${r.lasts}H`],
              `RRULE:FREQ=${r.freq};INTERVAL=${r.each}`,
            ),
          ),
          { from: '2026-06-10', to: '2026-09-10' },
        )
        expect(spans.every(s => s.day >= '2026-06-10' && s.day <= '2026-09-10')).toBe(true)
        expect(spans.every(s => 0 <= s.from && s.from < s.to && s.to <= 1440)).toBe(true)
        expect(spans.map(s => s.day)).toEqual(spans.map(s => s.day).toSorted())
      }),
      { numRuns: 60 },
    )
  })
})
