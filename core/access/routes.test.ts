import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Holding } from '../formats/kbart'
import type { Item } from '../bib/item'
import { opensOn } from './coverage'
import { bestWay, doingOf, isAskedFor } from './doing'
import type { Profile } from './profile'
import {
  afterWalk,
  findRoutes,
  inOrder,
  isFetchable,
  stillWalked,
  withLoans,
  wayKey,
  type Known,
  type Route,
  type Tried,
} from './routes'
import { reach } from './reach'
import { ENDS } from './walk'

const day = '2026-10-05'
const item = (year: number, more: Partial<Item> = {}): Item => ({
  ...{ id: 'x', type: 'article-journal', title: 'Lit paths', ISSN: '9990-0017' },
  issued: { 'date-parts': [[year, 3, 1]] },
  ...more,
})
const line = (more: Partial<Holding> = {}): Holding => ({
  ...{
    line: 2,
    free: false,
    title: 'Night Paths',
    printIdentifier: '9990-0017',
    publisher: 'Tessary',
    firstDate: '1998',
  },
  ...more,
})
const HOME = { key: 'home', name: 'Halverane Library', door: 'gate' as const }
const known = (holdings: Holding[], more: Partial<Known> = {}): Known => ({
  ...{ libraries: [{ ...HOME, holdings }], open: [] },
  ...{ today: day, due: '2026-10-29', resolver: 'http://doi.example/' },
  ...more,
})
const ways = (routes: readonly Route[]) => routes.map(r => `${r.way} ${r.url ?? ''}`.trim())

describe('ways', () => {
  test('a DOI leads to one platform; each of the others is begun at its own page', () => {
    const { routes } = findRoutes(
      item(2020, { DOI: '10.5555/a.1' }),
      {},
      known([line({ url: 'http://tessary.example/j/1' }), line({ publisher: 'Vault', url: 'http://vault.example/j' })]),
    )
    expect(ways(routes)).toEqual([
      'gate http://doi.example/10.5555/a.1',
      'gate http://tessary.example/j/1',
      'gate http://vault.example/j',
    ])
  })
  test('what stands on a shelf is a way, with branch and call number, also where no file names it', () => {
    const shelf = [{ branch: 'Hill Branch', call: 'QL561 .W49 1989' }]
    const { routes, closed } = findRoutes(item(1989), { shelf }, known([]))
    expect(routes).toMatchObject([
      { way: 'shelf', expected: day, evidence: 'Hill Branch, QL561 .W49 1989.', shelf: shelf[0] },
    ])
    expect(closed).toEqual([])
    expect(reach(item(1989), { profiles: [], day, lookedUp: { proved: false, routes } }).reach).toBe('within reach')
  })
  test.each([
    ['on loan until 2026-10-12', '2026-10-13'],
    ['on loan until 12 October 2026', '2026-10-13'],
    ['ausgeliehen bis 12.10.2026', '2026-10-13'],
    ['on loan until 2026-09-01', day],
    ['oversize', day],
  ])('a copy that is “%s” can be had from %s on', (note, expected) => {
    const { routes } = findRoutes(item(1989), { shelf: [{ branch: 'Hill', call: 'A 1', note }] }, known([]))
    expect(routes[0]!.expected).toBe(expected)
    expect(routes[0]!.likely < 0.9).toBe(expected > day)
  })
  test('a wall that falls before the due date is a way that comes later; one after it is told', () => {
    const wall = [line({ embargo: 'P6M' })]
    const soon = item(2026, { issued: { 'date-parts': [[2026, 5, 2]] }, DOI: '10.5555/a.1' })
    expect(findRoutes(soon, {}, known(wall, { due: '2026-12-01' })).routes).toMatchObject([
      { way: 'gate', expected: '2026-11-01', asks: 'nothing but waiting' },
    ])
    const late = findRoutes(soon, {}, known(wall))
    expect(late.routes).toEqual([])
    expect(late.closed[0]).toMatch(/It opens on 1 November 2026\.$/)
  })
})

test('the day on which a wall falls is the first one on which the line covers the item', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 36 }),
      fc.constantFrom('D', 'M', 'Y'),
      fc.integer({ min: 0, max: 700 }),
      (n, unit, back) => {
        const of = new Date(Date.UTC(2026, 9, 5 - back)).toISOString().slice(0, 10)
        const dated = item(2026, { issued: { 'date-parts': [of.split('-').map(Number)] } })
        const wall = line({ embargo: `P${unit === 'D' ? n * 30 : unit === 'Y' ? Math.ceil(n / 6) : n}${unit}` })
        const opens = opensOn(dated, wall, day)
        const held = (on: string) => findRoutes(dated, {}, known([wall], { today: on, due: on })).routes.length > 0
        if (opens === undefined) expect(held(day)).toBe(true)
        else {
          const before = new Date(Date.parse(opens) - 86_400_000).toISOString().slice(0, 10)
          expect([held(before), held(opens)]).toEqual([false, true])
        }
      },
    ),
    { numRuns: 60 },
  )
})

describe('ways that were walked', () => {
  const tried = (ended: Tried['ended'], more: Partial<Tried> = {}): Tried => ({
    ...{ ended, said: `It ended: ${ended}.`, on: 'http://tessary.example/a', day },
    ...more,
  })
  const gate: Route = {
    ...{ way: 'gate', version: 'version of record', from: 'Tessary', url: 'http://doi.example/1' },
    ...{ evidence: 'Held.', expected: day, likely: 0.95, asks: 'signing in at the gate' },
  }
  const open: Route = {
    ...gate,
    way: 'open',
    version: 'accepted manuscript',
    from: 'Fennmark',
    url: 'http://f.example/1',
    likely: 0.97,
  }
  const row = (routes: Route[]) => ({
    routes,
    copies: [],
    reach: reach(item(2020), { profiles: [], day, lookedUp: { proved: false, routes } }).reach,
  })
  const now = `${day}T10:00:00.000Z`

  test('a promise that failed is taken back, and the next way is the best one', () => {
    for (const ended of ['not paid', 'gone', 'wrong file', 'lost'] as const) {
      const routes = afterWalk([gate, open], gate.url!, tried(ended))
      expect(bestWay(routes)).toMatchObject({ way: 'open' })
      expect(routes.at(-1)).toMatchObject({ way: 'gate', likely: 0, evidence: `It ended: ${ended}.` })
      const left = row(afterWalk(routes, open.url!, tried(ended)))
      expect([left.reach, doingOf(left, day, now)]).toEqual(['out of reach', 'no way in time'])
    }
  })
  test.each([
    ['terms', {}, 'waits for you'],
    ['by chapter', {}, 'waits for you'],
    ['challenge', {}, 'waits for you'],
    ['sign in', {}, 'waits for you'],
    ['by hand', {}, 'waits for you'],
    ['session over', {}, 'fetch now'],
    ['embargo', { opens: '2026-10-20' }, 'comes later'],
    ['embargo', {}, 'no way in time'],
    ['later', { again: `${day}T11:00:00.000Z` }, 'comes later'],
    ['later', { again: `${day}T09:00:00.000Z` }, 'fetch now'],
  ] as const)('after %s %j a text %s', (ended, more, doing) => {
    expect(doingOf(row(afterWalk([gate], gate.url!, tried(ended, more))), day, now)).toBe(doing)
  })
  test('what was found stands on its day, and not beyond', () => {
    const before = afterWalk([gate], gate.url!, tried('gone'))
    expect(stillWalked([gate], before, day)).toEqual(before)
    expect(stillWalked([gate], before, '2026-10-06')).toEqual([gate])
  })
  test('however walks end, no way is lost, and none becomes likelier', () => {
    const ended = fc.constantFrom(...ENDS)
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.boolean(), ended), { maxLength: 6 }), steps => {
        let routes = inOrder([gate, open])
        for (const [first, end] of steps) routes = afterWalk(routes, first ? gate.url! : open.url!, tried(end))
        expect(routes.map(r => r.url).toSorted()).toEqual([gate.url, open.url].toSorted())
        for (const r of routes) expect(r.likely).toBeLessThanOrEqual(r.way === 'gate' ? 0.95 : 0.97)
      }),
    )
  })
})

describe('several libraries', () => {
  const held = line()
  const two = (first: Partial<Profile>, second: Partial<Profile>) =>
    findRoutes(
      item(2020, { DOI: '10.5555/a.1' }),
      {},
      {
        ...known([]),
        libraries: [
          { ...HOME, holdings: [held], ...first },
          { ...HOME, key: '7', name: 'Town Library', holdings: [held], ...second },
        ],
      },
    )
  test('that both hold a text each offer it through their own gate, the first of them first', () => {
    const { routes } = two({}, {})
    expect(routes.filter(r => r.way === 'gate').map(r => [r.library!.name, r.url])).toEqual([
      ['Halverane Library', 'http://doi.example/10.5555/a.1'],
      ['Town Library', 'http://doi.example/10.5555/a.1'],
    ])
    // one that was walked in vain leaves that of the other
    const tried = { ended: 'not paid' as const, said: 'Not licensed.', on: '', day }
    const after = afterWalk(routes, wayKey(routes[0]!), tried)
    expect(after.filter(r => r.way === 'gate').map(r => [r.library!.name, r.likely])).toEqual([
      ['Town Library', 0.95],
      ['Halverane Library', 0],
    ])
  })
  test('what is open to all is offered once, whoever points to it', () => {
    const free = line({ free: true, url: 'http://free.example/' })
    const { routes } = two({ holdings: [free] }, { holdings: [free] })
    expect(routes.filter(r => r.way === 'open').map(r => r.url)).toEqual([
      'http://doi.example/10.5555/a.1',
      'http://free.example/',
    ])
  })
  test.each([
    ['window' as const, 'signing in in your own window'],
    ['none' as const, 'reading it in the library'],
  ])('by a door of %s the way is the student’s own to open', (door, asks) => {
    const { routes } = two({ holdings: [] }, { door })
    const way = routes.find(r => r.way === 'gate')!
    expect(way).toMatchObject({ hand: true, asks, library: { key: '7' } })
    expect(isFetchable(way, day)).toBe(false)
    expect(doingOf({ reach: 'within reach', routes, copies: [] }, day, `${day}T09:00:00Z`)).toBe('waits for you')
  })
  test('each says for itself that it does not hold a title, or that nobody knows', () => {
    const { closed } = two({ holdings: [] }, { holdings: [], unread: ['a.tsv: A page.'] })
    expect(closed).toEqual([
      'Halverane Library does not hold this title.',
      'Whether Town Library holds it is not known: a file of its holdings could not be read. a.tsv: A page.',
    ])
  })
  test('what stands in print is at the first that has it so', () => {
    const print = line({ coverage: 'print' })
    const { routes } = two({ holdings: [] }, { holdings: [print] })
    expect(routes.filter(r => r.way === 'shelf').map(r => r.from)).toEqual(['Town Library'])
  })
})

describe('ways by loan', () => {
  const library = { key: 'home', name: 'Halverane Library' }
  const offer = (kind: 'scan' | 'book', likely: number) => ({
    ...{
      library,
      kind,
      likely,
      evidence: 'Within days.',
      from: '2026-10-07',
      to: '2026-10-14',
      expected: '2026-10-09',
    },
    askBy: '2026-10-15',
  })
  const way = (more: Partial<Route>): Route => ({
    ...{ way: 'open', version: 'accepted manuscript', from: 'Repository', evidence: '', expected: day, likely: 0.97 },
    asks: 'nothing',
    ...more,
  })
  const both = [offer('scan', 0.99), offer('book', 0.95)]
  test('an article is asked for as a scan, a book as itself', () => {
    expect(withLoans([], { type: 'article-journal' }, both).map(r => r.loan!.kind)).toEqual(['scan'])
    expect(withLoans([], { type: 'book' }, both).map(r => r.loan!.kind)).toEqual(['book'])
    expect(withLoans([], { type: 'book' }, [offer('scan', 0.9)])).toEqual([])
  })
  test('they stand behind what is there by itself, also what is not sure, and before the author', () => {
    const ways = [way({}), way({ way: 'gate', likely: 0.5 }), way({ way: 'author', likely: 0.3 })]
    const order = withLoans(ways, { type: 'article-journal' }, both)
    expect(order.map(r => r.way)).toEqual(['open', 'gate', 'loan', 'author'])
    expect(order[2]).toMatchObject({ asks: 'asking for a scan', loan: { askBy: '2026-10-15' } })
  })
  const row = (routes: Route[] | null, more: object = {}) => ({
    reach: 'within reach' as const,
    copies: [],
    routes,
    ...more,
  })
  const doing = (r: Parameters<typeof doingOf>[0]) => doingOf(r, day, `${day}T10:00:00Z`)
  const scan = withLoans([], { type: 'article-journal' }, both)
  test('what is to be done follows from how the request stands', () => {
    expect(doing(row(scan))).toBe('ask for it')
    expect(doing(row(scan, { reach: 'out of reach' }))).toBe('no way in time')
    expect(doing(row(scan, { loan: { state: 'sent', byHand: false } }))).toBe('on its way')
    expect(doing(row(scan, { loan: { state: 'asked back' } }))).toBe('waits for you')
    expect(doing(row(scan, { loan: { state: 'ready' } }))).toBe('pick up')
    expect(doing(row(scan, { loan: { state: 'with you' } }))).toBe('with you')
    expect(doing(row(scan, { loan: { state: 'refused', byHand: false } }))).toBe('ask for it')
    expect(doing(row(null, { loan: { state: 'sent', byHand: false } }))).toBe('on its way')
    expect(doing(row(scan, { loan: { state: 'sent', byHand: false }, reach: 'in hand' }))).toBe('in hand')
  })
  test('what can be fetched today need not be waited for', () => {
    const open = withLoans([way({ url: 'http://a.example/x' })], { type: 'article-journal' }, both)
    expect(doing(row(open, { loan: { state: 'sent', byHand: false } }))).toBe('fetch now')
    expect(isAskedFor({ state: 'sent', byHand: false }, 'fetch now')).toBe(false)
    expect(isAskedFor({ state: 'sent', byHand: false }, 'on its way')).toBe(true)
    expect([isAskedFor(null, 'on its way'), isAskedFor({ state: 'refused', byHand: false }, 'ask for it')]).toEqual([
      false,
      false,
    ])
    expect(doing(row(open, { loan: { state: 'ready' } }))).toBe('pick up')
  })
})
