import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Facts, Item } from '../bib/item'
import type { ShelfHolding } from '../formats/marc-shelf'
import { findRoutes, inOrder, type Route } from './routes'
import { isSought, runHolds, soughtOnShelf, shelfRoutes } from './shelf'

const book: Item = {
  ...{ id: '1', type: 'book', title: 'Lamps of the lower town', publisher: 'Moorgrave Press', ISBN: '9789900019961' },
  author: [{ family: 'Bergoja', given: 'Ilse' }],
  issued: { 'date-parts': [[2009]] },
}
const article: Item = {
  ...{
    id: '2',
    type: 'article-journal',
    title: 'Moths at lamps',
    'container-title': 'Night Ecology',
    ISSN: '2049-3630',
  },
  issued: { 'date-parts': [[1994]] },
}
const library = { key: 'home', name: 'Hill Library' }
const day = '2026-10-05'
const copies = (of: Partial<ShelfHolding>): ShelfHolding => ({
  branch: 'Hill Branch',
  call: 'B 12.3 Ber',
  copies: 1,
  ...of,
})
const ways = (item: Item, ...holdings: ShelfHolding[]) => shelfRoutes(item, { library, day, holdings })

describe('what is looked for on a shelf', () => {
  test('a chapter stands in its book, an article in its journal', () => {
    const chapter: Item = { ...book, type: 'chapter', title: 'On wicks', 'container-title': 'A book of lamps' }
    expect(soughtOnShelf(chapter)).toMatchObject({ as: 'book', item: { type: 'book', title: 'A book of lamps' } })
    // whoever wrote the chapter need not have made the book
    expect(soughtOnShelf(chapter)!.item.author).toBeUndefined()
    expect(soughtOnShelf(article)).toMatchObject({ as: 'journal', item: { title: 'Night Ecology', ISSN: '2049-3630' } })
  })
  test('a paper of a conference stands in its serial, else in its book', () => {
    const paper: Item = { ...article, type: 'paper-conference', author: [{ family: 'Okuneva' }] }
    const { ISSN: _, ...unnumbered } = paper
    expect([soughtOnShelf(paper)!.as, soughtOnShelf(unnumbered)!.as]).toEqual(['journal', 'book'])
    expect(soughtOnShelf(unnumbered)!.item.author).toBeUndefined()
  })
  test('pages of the web and data stand on none', () => {
    expect(['webpage', 'dataset', 'software'].map(type => soughtOnShelf({ ...book, type }))).toEqual([
      undefined,
      undefined,
      undefined,
    ])
  })
})

describe('which record is the thing that is looked for', () => {
  const is = (wanted: Item, item: Partial<Item>, facts: Facts = {}) =>
    isSought(soughtOnShelf(wanted)!, { item: { id: 'x', type: 'book', ...item }, facts })
  const { ISBN: _, ...unnumbered } = book

  test('one of the same number', () => expect(is(book, { title: 'Lamps', ISBN: '9789900019961' })).toBe('it'))
  test('one of the same title, maker and year', () => expect(is(unnumbered, { ...unnumbered, id: '9' })).toBe('it'))
  test('a later edition is another', () =>
    expect(is(book, { ...unnumbered, edition: '2', issued: { 'date-parts': [[2016]] } })).toBe('another edition'))
  test('a title of others is none', () =>
    expect(is(book, { ...unnumbered, author: [{ family: 'Okuneva', given: 'P.' }] })).toBeUndefined())
  test('another book is none', () => expect(is(book, { title: 'Tides', author: book.author! })).toBeUndefined())
  test('a journal by its number or its title, and no book of that name', () => {
    const serial = { genre: 'journal' }
    expect(is(article, { title: 'Something', ISSN: '2049-3630' }, serial)).toBe('it')
    expect(is({ ...article, ISSN: undefined! }, { title: 'Night ecology.' }, serial)).toBe('it')
    expect(
      is({ ...article, ISSN: undefined! }, { title: 'Ecology' }, { ...serial, otherTitles: ['Night Ecology'] }),
    ).toBe('it')
    expect(is(article, { title: 'Night Ecology' })).toBeUndefined()
  })
})

describe('runs of journals', () => {
  test.each([
    ['v.1(1989)-v.24(2012)', 1994, true],
    ['v.1(1989)-v.24(2012)', 2013, false],
    ['1989-', 2026, true],
    ['1989-', 1988, false],
    ['1950-1960, 1990-', 1975, false],
    ['1950-1960; 1994', 1994, true],
    ['1994', 1995, false],
    ['v. 3 no. 1 - v. 9', 1994, undefined],
  ])('%s of %d: %s', (run, year, holds) => expect(runHolds(run, year)).toBe(holds))

  test('a year that is said to be lacking is not there', () => {
    expect(runHolds('1989-2012', 1994, 'lacks 1994')).toBe(false)
    expect(runHolds('1989-2012', 1995, 'lacks 1994')).toBe(true)
  })
  test('every year of a span is in it, and none outside', () => {
    const year = fc.integer({ min: 1800, max: 2030 })
    fc.assert(
      fc.property(year, year, year, (a, b, y) => {
        const [from, to] = [Math.min(a, b), Math.max(a, b)]
        expect(runHolds(`v.1(${from})-v.9(${to})`, y)).toBe(from <= y && y <= to)
      }),
    )
  })
})

describe('ways to a shelf', () => {
  test('one that is in is fetched today', () => {
    expect(ways(book, copies({ copies: 2, free: 1, room: 'Floor 2' })).routes).toMatchObject([
      {
        ...{ way: 'shelf', library, from: 'Hill Branch', expected: day, asks: 'going to the shelf' },
        evidence: '1 of 2 copies is in: Hill Branch, Floor 2, B 12.3 Ber; asked on 5 October 2026.',
        shelf: { call: 'B 12.3 Ber', room: 'Floor 2', day },
      },
    ])
  })

  test('one that is out comes when it is back, later and less surely where others wait', () => {
    const [out] = ways(book, copies({ free: 0, back: '2026-10-12' })).routes
    const [waited] = ways(book, copies({ free: 0, back: '2026-10-12', waiting: 2 })).routes
    expect(out).toMatchObject({ expected: '2026-10-13', shelf: { out: true } })
    expect(waited!.likely).toBeLessThan(out!.likely)
    expect(waited!.evidence).toContain('and 2 wait for it')
  })

  test('one that nobody says when, or that is late, is hardly counted on', () => {
    for (const back of [undefined, '2026-09-01']) {
      const [r] = ways(book, copies({ free: 0, ...(back ? { back } : {}) })).routes
      expect(r!.likely).toBeLessThan(0.5)
      expect(r!.expected > day).toBe(true)
    }
  })

  test('years that are not there are said, and are no way', () => {
    const { routes, closed } = ways(article, copies({ run: '2001-' }), copies({ run: '1989-1999', room: 'Store' }))
    expect(routes.map(r => r.shelf!.room)).toEqual(['Store'])
    expect(closed).toEqual(['Hill Branch, B 12.3 Ber: 2001-; yours is of 1994.'])
  })

  test('a journal of which nobody says the years is unsure; a set of books is not', () => {
    const [journal] = ways(article, copies({ free: 1 })).routes
    expect(journal).toMatchObject({ likely: 0.5, evidence: expect.stringContaining('of which years is not said') })
    const [volumes] = ways(article, copies({ run: 'v. 1-9', free: 1 })).routes
    expect(volumes!.evidence).toContain('; v. 1-9, of which years is not said')
    const set = ways(book, copies({ free: 1, run: 'v.2 (1998)' })).routes[0]!
    expect(set).toMatchObject({ likely: 0.95, evidence: expect.stringContaining('; v.2 (1998); asked on') })
  })

  test('another edition is told, and is no way to this one', () => {
    const { routes, closed } = shelfRoutes(book, { library, day, holdings: [], others: ['edition 2, 2016'] })
    expect(routes).toEqual([])
    expect(closed).toEqual(['Hill Library has it in another edition: edition 2, 2016.'])
  })

  test('one that its catalogue knows without a place is not said to be missing', () => {
    const { closed } = shelfRoutes(book, { library, day, holdings: [], known: true })
    expect(closed).toEqual(['The catalogue of Hill Library knows it and names no shelf; asked on 5 October 2026.'])
  })

  const known = { libraries: [], open: [], today: day, due: '2026-10-29', resolver: 'http://doi.example/' }
  const recorded: Facts = { shelf: [{ branch: 'Hill Branch', call: 'B 12.3 BER', note: 'on loan until 2026-12-01' }] }

  test('what the shelf says now is nearer than what a record once said', () => {
    const shelves = [{ library, day, holdings: [copies({ free: 1 })] }]
    const found = findRoutes(book, recorded, { ...known, shelves }).routes.filter(r => r.way === 'shelf')
    expect(found).toHaveLength(1)
    expect(found[0]!.evidence).toContain('It is in')
  })

  test('where it was not asked the record speaks', () => {
    const found = findRoutes(book, recorded, known).routes.filter(r => r.way === 'shelf')
    expect(found.map(r => r.evidence)).toEqual(['Hill Branch, B 12.3 BER; on loan until 1 December 2026.'])
  })

  test('a library that has none of it says so once', () => {
    const profile = { ...library, door: 'none' as const, holdings: [] }
    const { closed } = findRoutes(
      book,
      {},
      { ...known, libraries: [profile], shelves: [{ library, day, holdings: [] }] },
    )
    expect(closed).toEqual(['Nothing of it stands on the shelves of Hill Library; asked on 5 October 2026.'])
  })

  test('while all copies are out a loan comes first where it is likelier', () => {
    const out = shelfRoutes(book, { library, day, holdings: [copies({ free: 0, back: '2026-10-20' })] }).routes
    const loan: Route = {
      ...{ way: 'loan', version: 'version of record', from: 'Hill Library', evidence: '', asks: '' },
      ...{ expected: '2026-10-14', likely: 0.9, loan: { kind: 'book', from: '2026-10-08', to: '2026-10-21' } },
    }
    expect(inOrder([...out, loan]).map(r => r.way)).toEqual(['loan', 'shelf'])
    const there = shelfRoutes(book, { library, day, holdings: [copies({ free: 1 })] }).routes
    expect(inOrder([loan, ...there]).map(r => r.way)).toEqual(['shelf', 'loan'])
  })

  test('files that cannot be read are named first, whatever the shelves say', () => {
    const profile = { ...library, door: 'none' as const, holdings: [], unread: ['This is not a KBART file.'] }
    const { closed } = findRoutes(
      book,
      {},
      { ...known, libraries: [profile], shelves: [{ library, day, holdings: [] }] },
    )
    expect(closed.map(c => c.slice(0, 40))).toEqual([
      'Whether Hill Library holds it is not kno',
      'Nothing of it stands on the shelves of H',
    ])
  })

  test('two numbers at one branch are two ways', () => {
    const shelves = [{ library, day, holdings: [copies({ free: 1 }), copies({ call: 'Q 1', free: 1 })] }]
    expect(findRoutes(book, {}, { ...known, shelves }).routes.filter(r => r.way === 'shelf')).toHaveLength(2)
  })
})
