import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  FACETS,
  NONE,
  ORDER,
  placesWith,
  PoolIndex,
  sayValue,
  STANDING,
  type Facet,
  type Limited,
  type Limits,
} from './limits'

const work = (id: number, more: Partial<Limited> = {}): Limited => ({
  id,
  title: `Owls and lamps ${id}`,
  state: 'unread',
  pass: null,
  reason: null,
  decidedAt: null,
  part: null,
  strands: [],
  tags: [],
  kind: 'research article',
  year: 2010,
  language: 'en',
  sources: ['A'],
  sweeps: [],
  arrivals: [],
  reach: 'not asked',
  hasAbstract: true,
  pageCount: null,
  references: null,
  container: 'Night Papers',
  people: [],
  subjects: [],
  ...more,
})
const now = new Date('2026-10-05T12:00:00')
const ids = (list: readonly Limited[]) => list.map(w => w.id)

describe('limits on a pool', () => {
  const works = [
    work(1, { kind: 'book', strands: [4, 5], decidedAt: '2026-10-05T09:00:00', state: 'kept' }),
    work(2, { year: null, pageCount: 3, references: 0, tags: ['old', 'good'] }),
    work(3, { kind: 'book', year: 1999, language: null, decidedAt: '2026-10-01T09:00:00', state: 'set aside' }),
    work(4, { sources: ['A', 'B'], people: ['Okafor, A'], pageCount: 61, references: 200 }),
  ]
  const index = PoolIndex.of(works, now)
  test('take any of one facet’s values and all of the facets', () => {
    expect(ids(index.within({}))).toEqual([1, 2, 3, 4])
    expect(ids(index.within({ kind: ['book'] }))).toEqual([1, 3])
    expect(ids(index.within({ kind: ['book'], year: ['1999', '2010'], strand: ['5'] }))).toEqual([1])
    expect(ids(index.within({ year: [NONE] }))).toEqual([2])
    expect(ids(index.within({ catalogue: ['B', 'nowhere'] }))).toEqual([4])
    expect(ids(index.within({ pages: ['over 60'] }))).toEqual([4])
    expect(ids(index.within({ references: ['none'], pages: ['2 to 3'] }))).toEqual([2])
    expect(ids(index.within({ decided: ['in the last 7 days', 'today'] }))).toEqual([1, 3])
    expect(ids(index.within({}, 'okafor owls'))).toEqual([4])
  })
  test('a facet’s own limit does not narrow its counts, the others do', () => {
    expect(index.counts('kind', { kind: ['book'] })).toEqual([
      { value: 'book', works: 2 },
      { value: 'research article', works: 2 },
    ])
    expect(index.counts('kind', { catalogue: ['B'] })).toEqual([{ value: 'research article', works: 1 }])
    expect(index.counts('kind', { kind: ['book'] }, 'okafor')).toEqual([
      { value: 'research article', works: 1 },
      { value: 'book', works: 0 },
    ])
  })
  test('values with an order of their own keep it, the others stand by how many they are', () => {
    expect(index.counts('state', {}).map(c => c.value)).toEqual(['unread', 'kept', 'set aside'])
    expect(index.counts('year', {}).map(c => c.value)).toEqual(['2010', '1999', NONE])
    expect(index.counts('tag', {}).map(c => c.value)).toEqual([NONE, 'good', 'old'])
    for (const values of Object.values(ORDER)) expect(new Set(values).size).toBe(values.length)
  })
  test('a value is said by its name, and what is missing in words', () => {
    const names = (f: Facet, v: string) => (f === 'strand' && v === '4' ? 'Lamps' : undefined)
    expect(sayValue('strand', '4', names)).toBe('Lamps')
    expect(sayValue('strand', NONE, names)).toBe('no strand yet')
    expect(sayValue('language', 'de', names)).toBe('German')
    expect(sayValue('year', NONE, names)).toBe('not known')
  })
})

const anyWork = fc.record({
  state: fc.constantFrom('unread' as const, 'kept' as const, 'set aside' as const),
  kind: fc.constantFrom('book', 'thesis', 'report'),
  year: fc.option(fc.integer({ min: 2000, max: 2003 })),
  tags: fc.uniqueArray(fc.constantFrom('x', 'y', 'z')),
  sources: fc.uniqueArray(fc.constantFrom('A', 'B'), { minLength: 1 }),
})
const anyLimits = fc.record<Limits>(
  {
    state: fc.uniqueArray(fc.constantFrom('unread', 'kept')),
    kind: fc.uniqueArray(fc.constantFrom('book', 'thesis', 'nothing')),
    year: fc.uniqueArray(fc.constantFrom('2000', '2001', NONE)),
    tag: fc.uniqueArray(fc.constantFrom('x', 'y', NONE)),
    catalogue: fc.uniqueArray(fc.constantFrom('A', 'B')),
  },
  { requiredKeys: [] },
)

test('a count is what choosing that value alone would leave', () => {
  fc.assert(
    fc.property(fc.array(anyWork, { maxLength: 20 }), anyLimits, (list, limits) => {
      const index = PoolIndex.of(
        list.map((w, i) => work(i + 1, w)),
        now,
      )
      for (const facet of FACETS)
        for (const { value, works } of index.counts(facet, limits))
          expect(index.within({ ...limits, [facet]: [value] })).toHaveLength(works)
    }),
  )
})

test('words in copies are a limit as others are, once it is known where they stand', () => {
  const before = PoolIndex.of([work(1, {}), work(2, { kind: 'book' }), work(3, {})], now)
  expect(before.counts('text', {})).toEqual([{ value: NONE, works: 3 }])
  const index = before.knowing(
    new Map([
      ['lamp*', new Set([1, 2])],
      ['owl', new Set([2])],
      ['newt', new Set<number>()],
    ]),
  )
  expect(index.counts('text', {})).toEqual([
    { value: 'lamp*', works: 2 },
    { value: NONE, works: 1 },
    { value: 'owl', works: 1 },
  ])
  expect(ids(index.within({ text: ['owl', NONE] }))).toEqual([2, 3])
  expect(index.counts('kind', { text: ['owl'] })).toEqual([{ value: 'book', works: 1 }])
  // what nobody looked for is found nowhere
  expect(index.counts('text', { text: ['moth'] }).at(-1)).toEqual({ value: 'moth', works: 0 })
  expect(before.within({ text: ['owl'] })).toEqual([])
  const changed = index.next([...index.works.slice(0, 2), work(3, { kind: 'book' })])
  expect(ids(changed.within({ text: ['lamp*'] }))).toEqual([1, 2])
  expect(ids(index.next([work(2, {})]).within({ text: ['owl'] }))).toEqual([2])
  expect(index.knowing(new Map([['owl', new Set([3])]])).within({ text: ['owl'] })[0]!.id).toBe(3)
})

test('the pool after changes says what a fresh one says, and the one before what it said', () => {
  fc.assert(
    fc.property(fc.array(anyWork, { minLength: 1, maxLength: 12 }), anyWork, fc.nat(), anyLimits, (list, other, at, limits) => {
      const before = list.map((w, i) => work(i + 1, w))
      const index = PoolIndex.of(before, now)
      for (const f of FACETS) index.counts(f, {})
      const after = before.map((w, i) => (i === at % before.length ? work(w.id, other) : w))
      const told = FACETS.map(f => index.counts(f, limits))
      const next = index.next(after)
      const fresh = PoolIndex.of(after, now)
      expect(ids(next.within(limits))).toEqual(ids(fresh.within(limits)))
      for (const f of FACETS) expect(next.counts(f, limits)).toEqual(fresh.counts(f, limits))
      // the pool as it stood says what it said
      expect(FACETS.map(f => index.counts(f, limits))).toEqual(told)
      expect(ids(index.within(limits))).toEqual(ids(PoolIndex.of(before, now).within(limits)))
    }),
  ) // prettier-ignore
})

const anyStanding = fc.record({
  state: fc.constantFrom('unread', 'kept', 'later', 'set aside'),
  pass: fc.constantFrom('title', 'abstract', 'full text', null),
})

test('where works stand is kept in step: what a pass waits for is what its states say', () => {
  fc.assert(
    fc.property(
      fc.array(anyStanding, { minLength: 1, maxLength: 12 }),
      fc.array(fc.tuple(fc.nat(), anyStanding), { maxLength: 6 }),
      (list, changes) => {
        let works = list.map((w, i) => work(3 * i + 1, w as Partial<Limited>))
        let index = PoolIndex.of(works, now)
        const members = index.members
        for (const [at, to] of changes) {
          works = works.map((w, i) => (i === at % works.length ? work(w.id, to as Partial<Limited>) : w))
          index = index.next(works)
        }
        // decisions neither bring works nor take them away
        expect(index.members).toBe(members)
        const all = Uint32Array.from(works.keys())
        const at = (standing: number) => [...placesWith(all, index.standing, standing)].map(i => works[i]!.id)
        const where = (test: (w: Limited) => boolean) => ids(works.filter(test))
        expect(at(STANDING.UNREAD)).toEqual(where(w => w.state === 'unread'))
        expect(at(STANDING.KEPT_BY_TITLE)).toEqual(where(w => w.state === 'kept' && w.pass === 'title'))
        expect(at(STANDING.KEPT)).toEqual(where(w => w.state === 'kept' && w.pass !== 'title'))
        expect(at(STANDING.LATER)).toEqual(where(w => w.state === 'later'))
        expect(at(STANDING.ASIDE)).toEqual(where(w => w.state === 'set aside'))
      },
    ),
  )
})

test('works that come or go make another pool of it; a place keeps out as many limits as it fails', () => {
  const works = [work(1, { kind: 'book' }), work(2, { state: 'kept', year: 1999 })]
  const index = PoolIndex.of(works, now)
  const before = index.members
  expect([...index.barred({ kind: ['book'], year: ['2010'] })]).toEqual([0, 2])
  const more = index.next([...works, work(9, { state: 'later' })])
  expect(more.members).not.toBe(before)
  expect([...more.standing]).toEqual([STANDING.UNREAD, STANDING.KEPT, STANDING.LATER])
  expect([...more.barred({}, 'lamps 9')].map(Boolean)).toEqual([true, true, false])
  const none = more.next([])
  expect(none.standing).toHaveLength(0)
  expect(none.within({})).toEqual([])
  expect(index.next(works)).toBe(index)
})
