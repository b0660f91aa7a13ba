import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import type { Holding } from '../formats/kbart'
import { reach, REACHES } from './reach'

const day = '2026-10-05'
const item: Item = {
  id: '',
  type: 'article-journal',
  title: 'T',
  ISSN: '9990-0114',
  issued: { 'date-parts': [[2020]] },
}
const holding = (more: Partial<Holding>): Holding => ({
  line: 2,
  title: 'Night Papers',
  printIdentifier: '9990-0114',
  free: false,
  ...more,
})
const library = (...holdings: Holding[]) => [
  { key: 'home', name: 'Halverane Library', door: 'gate' as const, holdings },
]
const way = (more: object) => ({ way: 'gate' as const, likely: 0.95, expected: day, evidence: 'Held.', ...more })
const of = (known: object) => reach(item, { profiles: [], day, ...known }).reach

describe('what was looked up decides', () => {
  test.each([
    ['a proved copy', { proved: true }, 'in hand'],
    ['a proved copy, whatever the ways', { proved: true, routes: [] }, 'in hand'],
    ['a sure way', { proved: false, routes: [way({})] }, 'within reach'],
    ['a way at the very border of sure', { proved: false, routes: [way({ likely: 0.9 })] }, 'within reach'],
    ['a way that may deliver', { proved: false, routes: [way({ likely: 0.89 })] }, 'unsure'],
    ['a way at the very border of may', { proved: false, routes: [way({ likely: 0.5 })] }, 'unsure'],
    ['a way that hardly delivers', { proved: false, routes: [way({ likely: 0.49 })] }, 'out of reach'],
    ['the better of two', { proved: false, routes: [way({ likely: 0.5 }), way({})] }, 'within reach'],
    ['only the author', { proved: false, routes: [way({ way: 'author' })] }, 'out of reach'],
    ['no way', { proved: false, routes: [] }, 'out of reach'],
  ])('%s', (_, lookedUp, expected) => {
    expect(of({ lookedUp })).toBe(expected)
    // the holdings do not overrule it
    expect(of({ lookedUp, profiles: library(holding({ firstDate: '1998' })) })).toBe(expected)
  })
  test('of ways that are sure the first speaks, be another likelier', () => {
    const routes = [
      way({ likely: 0.95, evidence: 'Held from 2004.' }),
      way({ way: 'loan', likely: 0.99, evidence: 'A scan.' }),
    ]
    expect(reach(item, { profiles: [], day: '2026-10-05', lookedUp: { proved: false, routes } })).toEqual({
      ...{ reach: 'within reach', said: 'Held from 2004.' },
    })
  })
  test('a way that comes too late is none', () => {
    const lookedUp = { proved: false, routes: [way({ expected: '2026-11-01' })], closed: ['Closed until November.'] }
    expect(of({ lookedUp, neededBy: '2026-11-01' })).toBe('within reach')
    expect(reach(item, { profiles: [], day, lookedUp, neededBy: '2026-10-31' })).toEqual({
      reach: 'out of reach',
      said: 'Closed until November.',
    })
  })
})

describe('before anything was looked up', () => {
  test.each([
    ['held', { profiles: library(holding({ firstDate: '1998' })) }, 'within reach'],
    [
      'held at a border that the record’s date is too coarse for',
      { profiles: library(holding({ firstDate: '2020-06-01' })) },
      'unsure',
    ],
    ['not held for its year', { profiles: library(holding({ firstDate: '2021' })) }, 'not asked'],
    [
      'held by the second line',
      { profiles: library(holding({ firstDate: '2021' }), holding({ firstDate: '2001' })) },
      'within reach',
    ],
    ['held by the second library', { profiles: [...library(), ...library(holding({}))] }, 'within reach'],
    ['open by its description', { facts: { openUrl: 'http://r.example/1' } }, 'within reach'],
    ['open from today', { facts: { openUrl: 'http://r.example/1', embargoUntil: day } }, 'within reach'],
    [
      'open tomorrow, needed today',
      { facts: { openUrl: 'http://r.example/1', embargoUntil: '2026-10-06' }, neededBy: day },
      'not asked',
    ],
    [
      'open tomorrow, needed tomorrow',
      { facts: { openUrl: 'http://r.example/1', embargoUntil: '2026-10-06' }, neededBy: '2026-10-06' },
      'within reach',
    ],
    ['on the shelves', { facts: { shelf: [{}] } }, 'within reach'],
    ['nothing known', {}, 'not asked'],
  ])('%s', (_, known, expected) => expect(of(known)).toBe(expected))
  test('it says which library was asked, or that nobody was', () => {
    expect(reach(item, { profiles: library(), day }).said).toContain('Halverane Library does not hold it')
    expect(reach(item, { profiles: [], day }).said).toBe('Nobody has looked yet.')
  })
})

test('more ways and more time never put a work further away', () => {
  const ways = fc.array(
    fc.record({
      way: fc.constantFrom('open' as const, 'gate' as const, 'author' as const),
      likely: fc.double({ min: 0, max: 1, noNaN: true }),
      expected: fc.constantFrom('2026-10-05', '2026-10-20', '2026-11-20'),
      evidence: fc.constant('x'),
    }),
    { maxLength: 4 },
  )
  const rank = (r: string) => REACHES.indexOf(r as (typeof REACHES)[number])
  fc.assert(
    fc.property(ways, ways, fc.constantFrom('2026-10-10', '2026-11-01'), (a, b, neededBy) => {
      const few = of({ lookedUp: { proved: false, routes: a }, neededBy })
      expect(rank(of({ lookedUp: { proved: false, routes: [...a, ...b] }, neededBy }))).toBeLessThanOrEqual(rank(few))
      expect(rank(of({ lookedUp: { proved: false, routes: a }, neededBy: '2026-12-01' }))).toBeLessThanOrEqual(
        rank(few),
      )
    }),
  )
})
