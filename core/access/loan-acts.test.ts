import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { LOAN_KINDS, LOAN_STATES, OVER } from './loan'
import { actsFor, isScanOf, LOAN_ACTS, type Standing } from './loan-acts'

const of = (more: Partial<Standing>): Standing => ({ state: 'sent', kind: 'book', byHand: false, ...more })
const standings = fc.record({
  state: fc.constantFrom(...LOAN_STATES),
  kind: fc.constantFrom(...LOAN_KINDS),
  byHand: fc.boolean(),
})

describe('what can be done with a request', () => {
  test.each<[string, Partial<Standing>, readonly string[]]>([
    ['that an office has', {}, ['give up', 'it came']],
    ['of a scan that an office has', { kind: 'scan' }, ['give up']],
    ['that is yours to send', { state: 'not sent', byHand: true }, ['give up', 'handed over']],
    ['that could not be sent', { state: 'not sent' }, ['give up', 'send again']],
    ['that was sent by hand', { byHand: true }, ['give up', 'it came', 'picked up', 'turned down']],
    ['of a scan that was sent by hand', { kind: 'scan', byHand: true }, ['give up', 'turned down']],
    ['of a scan that is there', { state: 'ready', kind: 'scan' }, ['give up', 'fetch']],
    ['of a book that waits', { state: 'ready' }, ['give up', 'picked up']],
    ['of a book that you have', { state: 'with you' }, ['keep longer', 'given back']],
    ['of a book that you have by hand', { state: 'with you', byHand: true }, ['due on', 'given back']],
    ['that the office asks of', { state: 'asked back' }, ['answer', 'give up']],
  ])('one %s', (_, more, acts) => {
    expect(actsFor(of(more))).toEqual(acts)
  })

  test('nothing of what is over, and something of all else', () => {
    fc.assert(
      fc.property(standings, s => {
        expect(actsFor(s).length === 0).toBe(OVER.includes(s.state))
        expect(LOAN_ACTS).toEqual(expect.arrayContaining(actsFor(s)))
      }),
    )
  })

  test('no office is told by a message what it takes none of', () => {
    fc.assert(
      fc.property(standings, s => {
        const told = actsFor({ ...s, byHand: true })
        expect(told).not.toContain('keep longer')
        expect(told).not.toContain('send again')
        expect(told).not.toContain('answer')
      }),
    )
  })
})

test('a file that is brought is the scan that is awaited by mail, or lies ready', () => {
  const scan = (more: Partial<Standing>) => isScanOf(of({ kind: 'scan', ...more }))
  expect([scan({ state: 'ready' }), scan({ byHand: true }), scan({ byHand: true, state: 'not sent' })]).toEqual([
    ...[true, true, true],
  ])
  // an office is still at work: the student may have found it elsewhere
  expect([scan({}), scan({ state: 'ended' }), isScanOf(of({ state: 'ready' }))]).toEqual([false, false, false])
})
