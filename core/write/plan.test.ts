import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { addDays } from '../bib/dates'
import { decisionSeconds, GUESSED, makePlan, neededBy, paceOf, USUAL, type Rhythm, type ToRead } from './plan'

const work = (id: number, more: Partial<ToRead> = {}): ToRead => ({
  ...{ id, pages: 10, pagesRead: 0, isRead: false, hasCopy: true, isBook: false, isOverview: false, year: 2020 },
  ...{ isListed: true, words: 0, until: null, ...more },
})
const paces = { page: paceOf(GUESSED.page, [], 3), entry: paceOf(GUESSED.entry, [], 30), decision: paceOf(0.5, []) }
const given = {
  ...{ today: '2026-10-05', due: '2026-10-29', rhythm: USUAL, works: [work(1), work(2)], wanted: 2 },
  ...{ words: { from: 120, to: 180 }, pool: 10, unread: 0, paces },
}

describe('how long something takes', () => {
  test('is what the student says, then what was seen and guessed together, then the guess', () => {
    expect(paceOf(2, [60, 60], 5)).toEqual({ minutes: 5, from: 'said', seen: 2 })
    expect(paceOf(2, [])).toEqual({ minutes: 2, from: 'guessed', seen: 0 })
    expect(paceOf(2, [60, 60])).toMatchObject({ from: 'guessed', seen: 2 })
    // ten of two minutes that are guessed and ten of one minute that were seen
    expect(paceOf(2, Array<number>(10).fill(60))).toEqual({ minutes: 1.5, from: 'seen', seen: 10 })
  })

  test('of decisions leaves out pauses and what was decided by one press', () => {
    expect(decisionSeconds([0, 5000, 5010, 200_000, 203_000])).toEqual([5, 3])
  })
})

describe('the day by which the last text is needed', () => {
  test('leaves time to read it, to write about it and to look all over', () => {
    // 15 pages of 2.5 minutes and 30 for its entry are two days of an hour, before two spare days and the due date
    expect(neededBy('2026-10-29')).toBe('2026-10-24')
    expect(neededBy(null)).toBeNull()
  })

  test('moves with the rhythm: free days are passed over, more minutes a day leave more time', () => {
    // the last day of work is Monday the 26th
    expect(neededBy('2026-10-29', { ...USUAL, free: [6, 7] })).toBe('2026-10-22')
    expect(neededBy('2026-10-29', { ...USUAL, minutesADay: 120 })).toBe('2026-10-25')
    expect(neededBy('2026-10-29', { ...USUAL, free: [1, 2, 3, 4, 5, 6, 7] })).toBe('2026-10-28')
  })
})

describe('a plan back from the due date', () => {
  test('says what is left of each step, and when it begins and ends at the latest', () => {
    const plan = makePlan({ ...given, unread: 120 })
    // 120 decisions of half a minute, 20 pages of three, two entries of thirty: an hour each
    expect(plan.steps).toEqual([
      { step: 'search', minutes: 0, begin: null, end: null },
      { step: 'sift', minutes: 60, begin: '2026-10-24', end: '2026-10-24' },
      { step: 'read', minutes: 60, begin: '2026-10-25', end: '2026-10-25' },
      { step: 'write', minutes: 60, begin: '2026-10-26', end: '2026-10-26' },
    ])
    expect(plan).toMatchObject({
      ...{ minutes: 180, lastDay: '2026-10-26', days: 22, doneBy: '2026-10-07', lastStart: '2026-10-24' },
      ...{ done: 0, reached: 2, missing: 0, beyond: 0 },
    })
    expect(plan.later[0]).toEqual({ day: '2026-10-05', aDay: 180 / 22 })
    expect(plan.later.at(-1)).toEqual({ day: '2026-10-26', aDay: 180 })
  })

  test('that is late says what can be done until then', () => {
    const plan = makePlan({ ...given, due: '2026-10-09', works: [1, 2, 3, 4].map(i => work(i)), wanted: 4 })
    // the 5th and 6th are left: two hours for four entries of an hour each
    expect(plan).toMatchObject({ days: 2, aDay: 120, reached: 2, lastStart: null, doneBy: '2026-10-08' })
    // at the two hours a day that it asks for
    expect(plan.steps.slice(2)).toMatchObject([
      { step: 'read', begin: '2026-10-05', end: '2026-10-05' },
      { step: 'write', begin: '2026-10-06', end: '2026-10-06' },
    ])
  })

  test('without a day left, and past the due date, asks nothing of a day', () => {
    for (const due of ['2026-10-06', '2026-10-01'])
      expect(makePlan({ ...given, due })).toMatchObject({ days: 0, aDay: null, reached: 0, lastStart: null, later: [] })
  })

  test('without a due date says when it would be done', () => {
    const plan = makePlan({ ...given, due: null })
    expect(plan).toMatchObject({
      lastDay: null,
      days: 0,
      aDay: null,
      doneBy: '2026-10-06',
      lastStart: null,
      reached: 2,
    })
  })

  test('counts entries that have no work yet, and not the works beyond those that are asked for', () => {
    const few = makePlan({ ...given, wanted: 5 })
    expect(few).toMatchObject({ missing: 3, beyond: 0, minutes: 2 * 60 + 3 * (15 * 3 + 30) })
    const many = makePlan({ ...given, works: [work(1), work(2, { isListed: false }), work(3)], wanted: 2 })
    expect(many.beyond).toBe(1)
    expect(many.reading.map(r => r.work)).toEqual([1, 3])
  })

  test('takes what was read and written off; of a book, what is read of it for an entry', () => {
    const { reading, done } = makePlan({
      ...given,
      wanted: null,
      works: [
        work(1, { pagesRead: 4 }),
        work(2, { isRead: true, words: 75 }),
        work(3, { words: 130 }),
        work(4, { pages: 300, isBook: true }),
        work(5, { pages: null }),
      ],
    })
    expect(new Map(reading.map(r => [r.work, [r.pages, r.write, r.isGuess]]))).toEqual(
      new Map([
        [1, [6, 30, false]],
        [2, [0, 15, false]],
        [3, [0, 0, false]],
        [4, [40, 30, false]],
        [5, [15, 30, true]],
      ]),
    )
    expect(done).toBe(1)
  })

  test('reads first what goes back, and says where that is before it can be read', () => {
    const works = [
      work(1, { pagesRead: 2 }),
      work(2, { until: '2026-10-20', pages: 30 }),
      work(3, { until: '2026-10-06', pages: 20 }),
      work(4, { until: '2026-10-06', pages: 40 }),
      work(5, { until: '2026-10-01', isRead: true }),
    ]
    // an hour a day, three minutes a page: 20 pages are read today, 40 more by the 7th
    const { reading } = makePlan({ ...given, works, wanted: 5 })
    expect(reading.map(r => [r.work, r.until, r.goesBefore])).toEqual([
      [5, '2026-10-01', false],
      [3, '2026-10-06', false],
      [4, '2026-10-06', true],
      [2, '2026-10-20', false],
      [1, null, false],
    ])
  })

  test('reads what was begun first, then what is here, overviews before others and older before newer', () => {
    const works = [
      work(1, { hasCopy: false }),
      work(2, { year: 2021 }),
      work(3, { year: 1999 }),
      work(4, { year: 2022, isOverview: true }),
      work(5, { pagesRead: 2 }),
    ]
    expect(makePlan({ ...given, works, wanted: null }).reading.map(r => r.work)).toEqual([5, 4, 3, 2, 1])
  })

  test('what is done is reached, even where there is no time for what comes before', () => {
    const done = [work(1, { words: 150 }), work(2, { words: 10, isRead: true })]
    expect(makePlan({ ...given, due: '2026-10-08', unread: 9000, works: done })).toMatchObject({ done: 1, reached: 1 })
  })

  const rhythms = fc.record({
    minutesADay: fc.integer({ min: 5, max: 600 }),
    free: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { maxLength: 7 }),
    spare: fc.integer({ min: 0, max: 14 }),
    ...{ aPage: fc.constant(null), anEntry: fc.constant(null), timed: fc.constant(true), sure: fc.constant(0.8) },
  })
  const states = fc.record({
    days: fc.integer({ min: -20, max: 400 }),
    rhythm: rhythms,
    unread: fc.oneof(fc.constant(0), fc.integer({ min: 0, max: 6000 })),
    pages: fc.array(fc.option(fc.integer({ min: 1, max: 900 })), { maxLength: 30 }),
    wanted: fc.option(fc.integer({ min: 1, max: 40 })),
  })
  const planOf = (s: {
    days: number
    rhythm: Rhythm
    unread: number
    pages: (number | null)[]
    wanted: number | null
  }) =>
    makePlan({
      ...given,
      ...{ due: addDays(given.today, s.days), rhythm: s.rhythm, unread: s.unread, wanted: s.wanted },
      works: s.pages.map((pages, i) => work(i + 1, { pages })),
    })

  test('whatever is left: steps follow one another and end in time, and the sum is theirs', () => {
    fc.assert(
      fc.property(states, s => {
        const plan = planOf(s)
        expect(plan.steps.reduce((n, x) => n + x.minutes, 0)).toBeCloseTo(plan.minutes, 6)
        const dated = plan.steps.filter(x => x.begin)
        for (const [i, x] of dated.entries()) {
          expect(given.today <= x.begin! && x.begin! <= x.end!).toBe(true)
          if (i) expect(dated[i - 1]!.end! <= x.begin!).toBe(true)
        }
        if (dated.length) expect(dated.at(-1)!.end! <= plan.lastDay!).toBe(true)
      }),
    )
  })

  test('whatever is left: it can begin today where a day asks no more than the student gives, and all is reached then', () => {
    fc.assert(
      fc.property(states, s => {
        const plan = planOf(s)
        if (plan.aDay === null) return
        const fits = plan.aDay <= s.rhythm.minutesADay + 1e-9
        expect(plan.lastStart !== null).toBe(fits)
        // where nothing is left of them, entries are reached though works to decide on are not
        const isLeft = plan.steps.some(x => x.minutes > 0 && (x.step === 'read' || x.step === 'write'))
        expect(plan.reached === plan.reading.length + plan.missing).toBe(fits || !isLeft)
        // each day later asks more
        for (const [i, x] of plan.later.entries()) if (i) expect(x.aDay).toBeGreaterThanOrEqual(plan.later[i - 1]!.aDay)
      }),
    )
  })
})
