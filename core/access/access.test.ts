import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import { readEmbargo, readKbart, type Holding } from '../formats/kbart'
import { closedFrom, decideCoverage, linesFor, openFrom } from './coverage'
import { findRoutes } from './routes'

const today = '2026-10-05'
const wall = (text: string) => readEmbargo(text)![0]!
const item = (issued: number[], more: Partial<Item> = {}): Item => ({
  id: '',
  type: 'article-journal',
  title: 'T',
  'container-title': 'Night Papers',
  ISSN: '9990-0114',
  issued: { 'date-parts': [issued] },
  ...more,
})
const holding = (more: Partial<Holding> = {}): Holding => ({
  line: 2,
  title: 'Night Papers',
  printIdentifier: '9990-0114',
  free: false,
  ...more,
})

test('walls move by their unit', () => {
  expect(closedFrom(wall('P1Y'), today)).toBe('2025-12-31')
  expect(closedFrom(wall('P12M'), today)).toBe('2025-10-31')
  expect(closedFrom(wall('P365D'), today)).toBe('2025-10-05')
  expect(openFrom(wall('R5Y'), today)).toBe('2022-01-01')
})

test('a longer wall never opens more', () => {
  fc.assert(
    fc.property(
      fc.constantFrom('D', 'M', 'Y'),
      fc.integer({ min: 0, max: 60 }),
      fc.integer({ min: 0, max: 60 }),
      fc.integer({ min: 0, max: 3000 }),
      (unit, a, b, day) => {
        const on = new Date(Date.UTC(2019, 0, 1 + day)).toISOString().slice(0, 10)
        const [short, long] = [Math.min(a, b), Math.max(a, b)]
        expect(closedFrom(wall(`P${long}${unit}`), on) <= closedFrom(wall(`P${short}${unit}`), on)).toBe(true)
        expect(openFrom(wall(`R${long}${unit}`), on) <= openFrom(wall(`R${short}${unit}`), on)).toBe(true)
        expect(closedFrom(wall(`P${short}${unit}`), on)).toMatch(/^\d{4}-\d{2}-\d{2}$/)
      },
    ),
  )
})

describe('one line of coverage', () => {
  test.each([
    [
      [2021, 3, 3],
      { firstDate: '1998-01-01', embargo: 'P1Y' },
      'yes',
      'Held from 1998 to 31 December 2025, the wall moves each January; yours is of 3 March 2021: yes.',
    ],
    [[2026, 1, 1], { firstDate: '1998', embargo: 'P1Y' }, 'no', 'no.'],
    [[1997, 12], { firstDate: '1998' }, 'no', 'yours is of December 1997'],
    [[2025], { firstDate: '1998', embargo: 'P6M' }, 'yes', 'yes.'],
    [[2026], { firstDate: '1998', embargo: 'P6M' }, 'unsure', 'too coarse'],
    [[1998], { firstDate: '1998-06-01' }, 'unsure', 'too coarse'],
    [[2019], { embargo: 'R5Y' }, 'no', 'only since 1 January 2022'],
    [[2023], { embargo: 'R5Y;P1Y' }, 'yes', 'yes.'],
  ])('%j under %j: %s', (issued, more, held, said) => {
    const a = decideCoverage(item(issued), holding(more), today)
    expect(a.held).toBe(held)
    expect(a.said).toContain(said)
  })
  test('without a date, the volume decides', () => {
    const undated = { ...item([2000]), volume: '7' }
    delete undated.issued
    expect(decideCoverage(undated, holding({ firstVolume: '5' }), today).held).toBe('yes')
    expect(decideCoverage(undated, holding({ firstVolume: '8' }), today).held).toBe('no')
  })
})

test('a KBART file is read strictly and reported leniently', () => {
  const head =
    'publication_title\tprint_identifier\tonline_identifier\tdate_first_issue_online\tdate_last_issue_online\ttitle_url\tembargo_info\taccess_type'
  const r = readKbart(
    `${head}\nNight Papers\t99900114\t\t1998-01-01\t\thttp://x.example\tP1Y\tP\nOther\t1234-5678\t\tspring\t\t\t\tF\nThird\t\t\t2001\t\t\tP1W\t\n\t\t\t\t\t\t\t\n`,
  )
  expect(r.holdings).toMatchObject([
    { title: 'Night Papers', printIdentifier: '9990-0114', embargo: 'P1Y', free: false },
  ])
  expect(r.problems.map(p => p.line)).toEqual([3, 4])
  expect(readKbart('<html>').holdings).toEqual([])
})

test('the title is told by ISSN, and by name only where there is none', () => {
  const lines = [holding(), holding({ title: 'Other', printIdentifier: '9990-022X' })]
  expect(linesFor(item([2020]), lines)).toEqual([lines[0]])
  const { ISSN: _, ...nameless } = item([2020])
  expect(linesFor(nameless, lines)).toEqual([lines[0]])
  expect(linesFor({ ...item([2020]), ISSN: '9990-0335' }, lines)).toEqual([])
})

describe('routes', () => {
  const known = {
    holdings: [holding({ firstDate: '1998' })],
    open: [],
    today,
    due: '2026-10-29',
    resolver: 'http://doi.example/',
  }
  const open = { url: 'http://r.example/1.pdf', version: 'accepted manuscript' as const, from: 'Fennmark' }
  test('the version of record comes before the manuscript, and the author last', () => {
    const { routes } = findRoutes(
      item([2020], { DOI: '10.5555/np.4', author: [{ family: 'Okafor' }] }),
      {},
      { ...known, open: [open] },
    )
    expect(routes.map(r => [r.way, r.version])).toEqual([
      ['gate', 'version of record'],
      ['open', 'accepted manuscript'],
      ['author', 'accepted manuscript'],
    ])
    expect(routes[0]!.url).toBe('http://doi.example/10.5555/np.4')
  })
  test('an embargo that ends after the due date is closed, with its day', () => {
    const { routes, closed } = findRoutes(
      item([2020]),
      {},
      { ...known, holdings: [], open: [{ ...open, embargoUntil: '2027-03-01' }] },
    )
    expect(routes).toEqual([])
    expect(closed[0]).toContain('1 March 2027')
  })
})
