import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { PASSES, type State } from './decisions'
import { flowOf, flowsOf, type FlowInput, type Reasoned } from './flow'

const sum = (list: Reasoned[]) => list.reduce((n, r) => n + r.works, 0)
const someWork = fc.record({
  state: fc.constantFrom<State>('unread', 'kept', 'set aside', 'later'),
  pass: fc.constantFrom(...PASSES),
  reason: fc.constantFrom(null, 'Too old', 'Not about it'),
  inHand: fc.boolean(),
  records: fc.integer({ min: 1, max: 4 }),
})
const someInput = fc.tuple(fc.array(someWork, { maxLength: 40 }), fc.nat(20)).map(([works, left]): FlowInput => {
  const sources = ['catalogue', 'file', 'trail'] as const
  return {
    works: works.map((w, i) => ({ ...w, id: i + 1, pass: w.state === 'unread' ? null : w.pass })),
    records: [
      ...works.flatMap((w, i) =>
        Array.from({ length: w.records }, (_, k) => ({ source: sources[(i + k) % 3]!, work: i + 1 })),
      ),
      ...Array.from({ length: left }, () => ({ source: 'catalogue' as const, work: null })),
    ],
  }
})

test('the numbers always add up', () => {
  fc.assert(
    fc.property(someInput, input => {
      const f = flowOf(input)
      expect(f.found.catalogues + f.found.files + f.found.trails).toBe(f.left + f.joined + f.works)
      const aside = sum(f.asideByTitle) + sum(f.asideByAbstract) + sum(f.asideByText)
      const kept = f.awaitingAbstract + f.notInHand + f.awaitingText + f.keptByText
      expect(f.unread + f.later + aside + kept).toBe(f.works)
      expect(f.sought).toBe(f.notInHand + f.inHand)
      expect(f.inHand).toBe(f.awaitingText + f.keptByText + sum(f.asideByText))
      for (const n of [f.joined, f.left, f.sought, f.inHand]) expect(n).toBeGreaterThanOrEqual(0)
    }),
  )
})

test('the two columns are all there is, each work in one of them', () => {
  fc.assert(
    fc.property(someInput, input => {
      const { catalogues, others } = flowsOf(input)
      const all = flowOf(input)
      for (const key of ['left', 'joined', 'works', 'unread', 'sought', 'inHand', 'keptByText'] as const)
        expect(catalogues[key] + others[key]).toBe(all[key])
      expect(others.found.catalogues).toBe(0)
      expect(others.found.files + others.found.trails).toBe(others.left + others.joined + others.works)
    }),
  )
})

test('a small pool, counted by hand', () => {
  const work = (id: number, state: State, pass: 'title' | 'abstract' | 'full text' | null, more = {}) => ({
    id,
    state,
    pass,
    reason: null,
    inHand: false,
    ...more,
  })
  const f = flowOf({
    records: [
      { source: 'catalogue', work: 1 },
      { source: 'catalogue', work: 1 },
      { source: 'file', work: 2 },
      { source: 'trail', work: 3 },
      { source: 'catalogue', work: null },
    ],
    works: [
      work(1, 'kept', 'full text', { inHand: true }),
      work(2, 'set aside', 'abstract', { reason: 'Too old' }),
      work(3, 'kept', 'abstract'),
    ],
  })
  expect(f).toMatchObject({ left: 1, joined: 1, works: 3, sought: 2, notInHand: 1, inHand: 1, keptByText: 1 })
  expect(f.asideByAbstract).toEqual([{ reason: 'Too old', works: 1 }])
})
