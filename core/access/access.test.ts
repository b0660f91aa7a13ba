import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import { readEmbargo, type Holding } from '../formats/kbart'
import { closedFrom, decideCoverage, decideTitle, linesFor, openFrom } from './coverage'
import { reach } from './reach'
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

describe('what a line says beside its dates', () => {
  test.each<[Partial<Holding>, string, string]>([
    [{ coverage: 'fulltext' }, 'yes', 'yes.'],
    [{ coverage: 'Full Text (PDF)' }, 'yes', 'yes.'],
    [{ coverage: 'abstracts' }, 'no', 'Only abstracts'],
    [{ coverage: 'selected articles' }, 'unsure', 'only selected articles'],
    [{ coverage: 'platinum' }, 'unsure', 'its file says “platinum”'],
    [{ coverage: 'print' }, 'yes', 'yes.'],
    [
      { unclear: 'its file says “1 year” of an embargo' },
      'unsure',
      'Not sure: its file says “1 year” of an embargo. Held from 1998',
    ],
    [{ type: 'monograph' }, 'yes', 'Held as a whole.'],
    [{ type: 'monograph', coverage: 'abstracts' }, 'no', 'Only abstracts'],
    [{ firstDate: '2020-12-31', firstPerhaps: '2020-01-01' }, 'unsure', 'too coarse'],
    [{ firstDate: '2021-05-01', firstPerhaps: '2021-01-05' }, 'no', 'no.'],
  ])('%j: %s', (more, held, said) => {
    const a = decideCoverage(item([2020]), holding({ firstDate: '1998', ...more }), today)
    expect(a.held).toBe(held)
    expect(a.said).toContain(said)
  })
  test('a sentence never says yes or no where the answer is unsure', () => {
    fc.assert(
      fc.property(
        fc.record(
          {
            firstDate: fc.constantFrom('1998', '2019-06', '2020-05-03'),
            lastDate: fc.constantFrom('2020', '2020-04', '2023'),
            embargo: fc.constantFrom('P1Y', 'R5Y', 'P30D', 'R5Y;P1Y'),
            coverage: fc.constantFrom('fulltext', 'selected articles', 'abstracts', 'print', 'what'),
            unclear: fc.constant('its file does not say from when on'),
            type: fc.constantFrom('serial' as const, 'monograph' as const),
            firstPerhaps: fc.constant('1997'),
          },
          { requiredKeys: [] },
        ),
        fc.constantFrom<number[]>([2020], [2020, 4], [2020, 5, 3], [1997], [2026]),
        (more, issued) => {
          const { held, said } = decideCoverage(item(issued), holding(more), today)
          const ends = /: (yes|no)\.$/.exec(said)?.[1]
          if (ends) expect(ends).toBe(held)
          if (held === 'unsure') expect(said).toMatch(/not sure|Not sure|too coarse|Held, but|gives no date/)
        },
      ),
    )
  })
  test('stretches that follow each other are one before anything is unsure', () => {
    const first = holding({ firstDate: '2001', lastDate: '2019-06-30' })
    const second = holding({ firstDate: '2019-07-01', lastDate: '2024' })
    const gap = holding({ firstDate: '2019-08-01', lastDate: '2024' })
    expect(decideTitle(item([2019]), [second, first], today)[0]).toMatchObject({ held: 'yes', holding: second })
    expect(decideTitle(item([2019]), [first, gap], today)[0]!.held).toBe('unsure')
    expect(decideTitle(item([2019, 3]), [gap, first], today)[0]).toMatchObject({ held: 'yes', holding: first })
    expect(decideTitle(item([1999]), [first, second], today).map(a => a.held)).toEqual(['no', 'no'])
    const part = { ...second, coverage: 'selected articles' }
    expect(decideTitle(item([2019]), [first, part], today)[0]!.held).toBe('unsure')
    expect(decideTitle(item([2019]), [], today)).toEqual([])
  })
})

const HOME = { key: 'home', name: 'Halverane Library', door: 'gate' as const }

test('a title that no file names is not called not held while a file could not be read', () => {
  const library = {
    ...HOME,
    holdings: [holding()],
    unread: ['e-journals.tsv: This is no KBART file.'],
  }
  const other = { ...item([2020]), ISSN: '9990-0335' }
  const { reach: at, said } = reach(other, { profiles: [library], day: today })
  expect(at).toBe('not asked')
  expect(said).toBe(
    'Whether Halverane Library holds it is not known: a file of its holdings could not be read. e-journals.tsv: This is no KBART file.',
  )
  const known = { libraries: [library], open: [], today, due: '2026-10-29', resolver: 'http://doi.example/' }
  expect(findRoutes(other, {}, known).closed).toEqual([said])
  expect(findRoutes(other, {}, { ...known, libraries: [{ ...library, unread: [] }] }).closed).toEqual([
    'Halverane Library does not hold this title.',
  ])
  // what a file that was read says stands
  expect(reach(item([2020]), { profiles: [library], day: today }).reach).toBe('within reach')
})

test('what stands in print is no way through the gate, and within reach', () => {
  const library = { ...HOME, holdings: [holding({ firstDate: '1998', coverage: 'print' })] }
  expect(reach(item([2020]), { profiles: [library], day: today })).toEqual({
    reach: 'within reach',
    said: 'It stands on the shelves.',
  })
  const { routes, closed } = findRoutes(
    item([2020]),
    {},
    { libraries: [library], open: [], today, due: '2026-10-29', resolver: '' },
  )
  expect(routes).toMatchObject([{ way: 'shelf', evidence: 'In print. Held from 1998; yours is of 2020: yes.' }])
  expect(closed).toEqual([])
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
    libraries: [{ ...HOME, holdings: [holding({ firstDate: '1998' })] }],
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
      {
        ...known,
        libraries: [{ ...HOME, holdings: [] }],
        open: [{ ...open, embargoUntil: '2027-03-01' }],
      },
    )
    expect(routes).toEqual([])
    expect(closed[0]).toContain('1 March 2027')
  })
})
