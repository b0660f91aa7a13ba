import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { awaitedAfter, byNeed, opensLater } from './awaited'
import { doingOf } from './doing'
import { TOLD_FIRST, type Fetched } from './fetched'
import type { Route } from './routes'

const today = '2026-10-05'
const way = (more: Partial<Route> = {}): Route => ({
  ...{ way: 'gate', version: 'version of record', from: 'Lanternhill', url: 'http://l.example/a' },
  ...{ evidence: 'It is held.', expected: today, likely: 0.95, asks: 'signing in' },
  ...more,
})
const later = (expected: string, more: Partial<Route> = {}) => way({ expected, ...more })

describe('when a text that did not come is fetched by itself', () => {
  test.each<[Fetched['state'], readonly Route[], unknown]>([
    ['limit', [way()], { day: '2026-10-06', why: 'limit' }],
    // nobody knows at which gate
    ['gate needed', [way()], undefined],
    ['session over', [way()], undefined],
    [
      'embargo',
      [later('2027-03-03'), later('2027-01-01', { url: 'http://l.example/b' })],
      { day: '2027-01-01', why: 'opens' },
    ],
    ['no route', [later('2027-01-01', { way: 'open' })], { day: '2027-01-01', why: 'opens' }],
    ['not paid', [way({ likely: 0 })], undefined],
    // what does not come by itself: by hand, from a shelf, from an office, by a way that is shut
    ['no route', [later('2027-01-01', { hand: true })], undefined],
    ['no route', [later('2027-01-01', { way: 'shelf' }), later('2027-01-01', { way: 'loan' })], undefined],
    ['gone', [later('2027-01-01', { likely: 0 })], undefined],
    // what the student has to do, what is tried again within minutes, and what came
    ['terms', [way(), later('2027-01-01')], undefined],
    ['later', [way(), later('2027-01-01')], undefined],
    ['proved', [way(), later('2027-01-01')], undefined],
    ['doubtful', [way(), later('2027-01-01')], undefined],
  ])('%s', (state, routes, awaited) => expect(awaitedAfter({ state }, routes, today)).toEqual(awaited))

  test('what stands behind a gate waits for it', () =>
    expect(awaitedAfter({ state: 'gate needed', gate: 'home' }, [way()], today)).toEqual({ day: today, why: 'gate' }))

  test('nothing but a gate is asked for again on the same day: it would be asked for without end', () => {
    const states = [...TOLD_FIRST, 'proved', 'waiting', 'fetching'] as const
    const days = fc.constantFrom('2026-09-30', today, '2026-10-06', '2027-01-01')
    fc.assert(
      fc.property(fc.constantFrom(...states), fc.array(days), (state, all) => {
        const next = awaitedAfter(
          { state },
          all.map(d => later(d)),
          today,
        )
        expect(next === undefined || next.day > today).toBe(true)
      }),
    )
  })

  test('a way of today is none that opens later', () => expect(opensLater([way()], today)).toBeUndefined())

  test('until then nothing is to be done about it', () => {
    const row = { reach: 'within reach' as const, routes: [way()], copies: [] }
    const doing = (day?: string) =>
      doingOf({ ...row, ...(day ? { awaited: { day, why: 'limit' } } : {}) }, today, `${today}T12:00:00Z`)
    expect([doing(), doing('2026-10-06'), doing(today)]).toEqual(['fetch now', 'comes later', 'fetch now'])
  })
})

describe('in the order of need', () => {
  const work = (n: number, ...routes: Route[]) => ({ work: n, routes })
  const loan = (likely: number) => way({ way: 'loan', likely, expected: '2026-10-14' })
  test('first what nothing else would bring; behind a gate before open to all; else as it was given', () => {
    const open = way({ way: 'open' })
    const works = [
      ...[work(1, way(), loan(0.9)), work(2, open), work(3, way()), work(4, way(), loan(0.4)), work(5, way())],
      work(6, way(), loan(0.41)),
    ]
    expect(byNeed(works, today).map(w => w.work)).toEqual([3, 5, 2, 4, 6, 1])
  })
  test('an author is nothing to count on', () => {
    const author = way({ way: 'author', likely: 0.3 })
    expect(byNeed([work(1, way(), author), work(2, way())], today).map(w => w.work)).toEqual([1, 2])
  })
  test('every work is there once', () => {
    const route = fc
      .record({
        way: fc.constantFrom('open' as const, 'gate' as const, 'loan' as const, 'author' as const),
        likely: fc.double({ min: 0, max: 1, noNaN: true }),
        expected: fc.constantFrom(today, '2026-10-12'),
      })
      .map(way)
    fc.assert(
      fc.property(fc.array(fc.array(route, { maxLength: 4 })), all => {
        const works = all.map((routes, i) => work(i, ...routes))
        expect(byNeed(works, today).toSorted((a, b) => a.work - b.work)).toEqual(works)
      }),
    )
  })
})
