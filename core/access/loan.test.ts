import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { IllAnswer } from '../formats/ill'
import { comes, eventOf, inOrder, kindFor, lacking, LOAN_EVENTS, offersOf, OVER, sayStand, standOf, took } from './loan'
import type { LoanEvent, LoanKind, Office } from './loan'

const KEPT = { scan: 14, book: 7 }
const e = (what: LoanEvent['what'], day: string, more: Partial<LoanEvent> = {}): LoanEvent => ({
  ...{ what, at: `${day}T10:00:00.000Z` },
  ...more,
})
const heard = (what: LoanEvent['what'], day: string, more: Partial<LoanEvent> = {}) =>
  e(what, day, { heard: true, ...more })
const stand = (kind: LoanKind, ...events: LoanEvent[]) => standOf(kind, events, KEPT)
const asked = [e('asked', '2026-10-05'), e('sent', '2026-10-05')]

describe('how a request stands', () => {
  test('a scan from draft to hand', () => {
    expect(stand('scan', asked[0]!).state).toBe('not sent')
    expect(stand('scan', ...asked)).toMatchObject({ state: 'sent', asked: '2026-10-05T10:00:00.000Z' })
    const way = [...asked, heard('received', '2026-10-06'), heard('expected', '2026-10-07', { until: '2026-10-12' })]
    expect(stand('scan', ...way)).toMatchObject({ state: 'on its way', expected: '2026-10-12' })
    const there = [...way, heard('ready', '2026-10-09', { url: 'http://a.example/1.pdf' })]
    expect(stand('scan', ...there)).toMatchObject({
      state: 'ready',
      until: '2026-10-23',
      url: 'http://a.example/1.pdf',
    })
    expect(stand('scan', ...there, e('taken', '2026-10-10')).state).toBe('ended')
    expect(stand('scan', ...there, e('wrong', '2026-10-10', { said: 'Another article.' }))).toMatchObject({
      ...{ state: 'wrong text', said: 'Another article.' },
    })
  })
  test('a book is lent, kept longer, called back, given back', () => {
    const with_ = [...asked, heard('ready', '2026-10-12', { until: '2026-11-09' }), e('taken', '2026-10-13')]
    expect(stand('book', ...asked, heard('ready', '2026-10-12', { until: '2026-11-09' }))).toMatchObject({
      ...{ state: 'ready', until: '2026-10-19', due: '2026-11-09' },
    })
    expect(stand('book', ...with_)).toMatchObject({ state: 'with you', due: '2026-11-09' })
    expect(stand('book', ...with_, e('renewal asked', '2026-11-01'))).toMatchObject({ waits: 'renewal' })
    const longer = stand(
      'book',
      ...with_,
      e('renewal asked', '2026-11-01'),
      heard('renewed', '2026-11-02', { until: '2026-11-23' }),
    )
    expect(longer).toMatchObject({ state: 'with you', due: '2026-11-23' })
    expect(longer.waits).toBeUndefined()
    expect(stand('book', ...with_, heard('recalled', '2026-10-20', { until: '2026-10-27' }))).toMatchObject({
      ...{ due: '2026-10-27', recalled: true },
    })
    expect(stand('book', ...with_, e('returned', '2026-11-08')).state).toBe('ended')
    expect(stand('book', ...asked, e('taken', '2026-10-13', { until: '2026-11-10' }))).toMatchObject({
      ...{ state: 'with you', due: '2026-11-10' },
    })
  })
  test('a question stands until it is answered, and what was refused stays refused', () => {
    const back = [...asked, heard('question', '2026-10-06', { said: 'Will that do?' })]
    expect(stand('book', ...back)).toMatchObject({ state: 'asked back', said: 'Will that do?' })
    expect(stand('book', ...back, e('answered', '2026-10-07')).state).toBe('sent')
    expect(stand('book', ...asked, heard('refused', '2026-10-06'), heard('received', '2026-10-07')).state).toBe(
      'refused',
    )
    expect(
      stand('book', ...asked, e('cancel asked', '2026-10-06'), heard('not cancelled', '2026-10-07')),
    ).not.toHaveProperty('waits')
  })
  test('messages count in the order in which they were written; what was done here keeps its place', () => {
    // its clock is an hour behind: the answer to the wish is written before the wish
    const renewed = { ...heard('renewed', '2026-11-01', { until: '2026-11-23' }), at: '2026-11-01T09:00:00.000Z' }
    const all = [
      ...asked,
      heard('ready', '2026-10-12', { until: '2026-11-09' }),
      e('taken', '2026-10-13'),
      e('renewal asked', '2026-11-01'),
      renewed,
    ]
    expect(stand('book', ...all)).toMatchObject({ state: 'with you', due: '2026-11-23' })
    const swapped = [...asked, heard('ready', '2026-10-09'), heard('expected', '2026-10-07')]
    expect(inOrder(swapped).map(x => x.what)).toEqual(['asked', 'sent', 'expected', 'ready'])
    expect(stand('scan', ...swapped).state).toBe('ready')
  })
  test('an office that answers before it is written down that it was asked is not unheard', () => {
    const early = [
      e('asked', '2026-10-05'),
      heard('question', '2026-10-05', { said: 'Which?' }),
      e('sent', '2026-10-05'),
    ]
    expect(stand('scan', ...early)).toMatchObject({ state: 'asked back', said: 'Which?' })
    const will = [
      e('asked', '2026-10-05'),
      heard('expected', '2026-10-05'),
      e('sent', '2026-10-05'),
      heard('received', '2026-10-06'),
    ]
    expect(stand('scan', ...will).state).toBe('on its way')
  })
  test('whatever comes in whatever order, a stand comes of it, and what is over stays over but for nothing', () => {
    const event = fc.record({
      what: fc.constantFrom(...LOAN_EVENTS),
      at: fc.integer({ min: 1, max: 28 }).map(d => `2026-10-${String(d).padStart(2, '0')}T10:00:00.000Z`),
      heard: fc.boolean(),
    })
    fc.assert(
      fc.property(fc.constantFrom<LoanKind>('scan', 'book'), fc.array(event, { maxLength: 14 }), (kind, events) => {
        const s = stand(kind, ...asked, ...events)
        expect(sayStand(s, kind, '2026-10-15')).not.toBe('')
        // twice the same message changes nothing
        const heardTwice = events.flatMap(x => (x.heard ? [x, x] : [x]))
        if (!events.some(x => !x.heard)) expect(stand(kind, ...asked, ...heardTwice).state).toBe(s.state)
        // a late notice that the office has it takes nothing back
        if (OVER.includes(s.state))
          expect(stand(kind, ...asked, ...events, heard('received', '2026-10-29')).state).toBe(s.state)
      }),
    )
  })
  test('it is said in words, also when its days are past', () => {
    const ready = stand('scan', ...asked, heard('ready', '2026-10-09'))
    expect(sayStand(ready, 'scan', '2026-10-10')).toBe('Ready to fetch until 23 October')
    expect(sayStand(ready, 'scan', '2026-10-30')).toBe('Perhaps wiped by now')
    const lent = stand(
      'book',
      ...asked,
      heard('ready', '2026-10-09', { until: '2026-11-06' }),
      e('taken', '2026-10-09'),
    )
    expect(sayStand(lent, 'book', '2026-10-10')).toBe('Due back 6 November')
    expect(sayStand(lent, 'book', '2026-11-10')).toBe('Was due back 6 November')
  })
})

describe('what a message means', () => {
  const answer = (more: Partial<IllAnswer>): IllAnswer => ({
    ...{
      supplier: { type: 'ISIL', value: 'A' },
      requester: { type: 'ISIL', value: 'B' },
      request: 'x',
      at: '2026-10-06T08:00:00.000Z',
    },
    ...{ reason: 'StatusChange', status: '', note: '', yes: null, why: '', expected: null, due: null, url: null },
    ...more,
  })
  test.each([
    [{ status: 'RequestReceived' }, 'received'],
    [{ status: 'WillSupply' }, 'expected'],
    [{ status: 'CopyCompleted' }, 'ready'],
    [{ status: 'Loaned' }, 'ready'],
    [{ status: 'Unfilled' }, 'refused'],
    [{ status: 'RetryPossible' }, 'sent back'],
    [{ status: 'Recalled' }, 'recalled'],
    [{ status: 'Overdue' }, 'overdue'],
    [{ status: 'LoanCompleted' }, 'ended'],
    [{ status: 'Loaned', reason: 'RenewResponse', yes: true }, 'renewed'],
    [{ status: 'Loaned', reason: 'RenewResponse', yes: false }, 'not renewed'],
    [{ status: 'Cancelled', reason: 'CancelResponse', yes: true }, 'given up'],
    [{ status: 'WillSupply', reason: 'CancelResponse', yes: false }, 'not cancelled'],
    [{ reason: 'Notification', note: 'Will that do?' }, 'question'],
    [{ reason: 'Notification', note: '这样可以吗？' }, 'question'],
    [{ reason: 'Notification', note: 'We move house.' }, 'note'],
    [{ status: 'Pondering', note: 'Hm.' }, 'note'],
  ])('%j is “%s”', (more, what) => {
    expect(eventOf(answer(more))).toMatchObject({ what, heard: true, at: '2026-10-06T08:00:00.000Z' })
  })
  test('what nobody knows and says nothing is nothing; reasons are told in words', () => {
    expect(eventOf(answer({ status: 'Pondering' }))).toBeUndefined()
    expect(eventOf(answer({ status: 'Unfilled', why: 'OnLoan', note: 'Until May.' }))!.said).toBe(
      'It is on loan. Until May.',
    )
    expect(eventOf(answer({ status: 'Unfilled', why: 'Whatever' }))!.said).toBe('It says: Whatever.')
  })
})

describe('what can be asked for', () => {
  const office: Office = {
    library: { key: 'home', name: 'Home' },
    paces: { scan: { low: 2, high: 7 } },
    days: { weekend: [6, 7], closed: [] },
    seen: { scan: [], book: [] },
    partners: [],
  }
  test('an office offers what it sends, with when it comes', () => {
    expect(offersOf([office], '2026-10-05', '2026-10-24', 0.8)).toMatchObject([
      {
        kind: 'scan',
        from: '2026-10-07',
        to: '2026-10-14',
        evidence: 'Home gets a scan within 2 to 7 working days, as it says.',
      },
    ])
    const slow = { ...office, seen: { scan: [12, 14, 13, 15], book: [] } }
    const [late] = offersOf([slow], '2026-10-05', '2026-10-24', 0.8)
    expect(late!.evidence).toMatch(/and by 4 that came\.$/)
    expect(late!.likely).toBeLessThan(offersOf([office], '2026-10-05', '2026-10-24', 0.8)[0]!.likely)
  })
  test('how sure one wants to be moves the last day to ask, and nothing else', () => {
    const told = [0.5, 0.8, 0.9, 0.95].map(sure => offersOf([office], '2026-10-05', '2026-10-24', sure)[0]!)
    const days = told.map(o => o.askBy!)
    expect(days).toEqual([...days].sort().reverse())
    expect(new Set(days).size).toBeGreaterThan(2)
    const rest = told.map(({ askBy: _, ...o }) => o)
    expect(rest.every(o => JSON.stringify(o) === JSON.stringify(rest[0]))).toBe(true)
  })
  test('what stands still begins anew once it is answered; what is there comes no more', () => {
    const at = { kind: 'scan' as const, today: '2026-10-12', needed: '2026-10-24' }
    const waits = stand('scan', ...asked, heard('question', '2026-10-06'))
    expect(comes(office, { ...at, stand: waits })).toMatchObject({ from: '2026-10-14', to: '2026-10-21' })
    expect(comes(office, { ...at, stand: stand('scan', ...asked) })!.to < '2026-10-21').toBe(true)
    expect(comes(office, { ...at, stand: stand('scan', ...asked, heard('ready', '2026-10-09')) })).toBeUndefined()
  })
  test('how long it took is counted in days on which the office works', () => {
    expect(took(office.days, [...asked, heard('ready', '2026-10-12')])).toBe(5)
    expect(took(office.days, [...asked, heard('ready', '2026-10-05')])).toBe(0.5)
    expect(took(office.days, asked)).toBeUndefined()
    // what is sent by hand waits for the student first, and may come without a word before
    const byHand = [e('asked', '2026-10-05'), e('sent', '2026-10-08'), e('taken', '2026-10-12')]
    expect(took(office.days, byHand)).toBe(2)
  })
  test('books are lent and parts are scanned; what is lacking is named', () => {
    expect(kindFor({ type: 'book' })).toBe('book')
    expect(kindFor({ type: 'chapter' })).toBe('scan')
    expect(lacking({ id: '1', type: 'article-journal', title: 'Moths' })).toEqual([
      'the journal',
      'volume or issue',
      'pages',
    ])
    expect(lacking({ id: '1', type: 'book', title: 'Moths' })).toEqual([])
  })
})
