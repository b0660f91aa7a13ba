import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import Papa from 'papaparse'
import { kbartParts, readKbart, type KbartReport } from './kbart'
import { readCoverageDate } from './kbart-dates'

const HEAD =
  'publication_title print_identifier online_identifier date_first_issue_online date_last_issue_online title_url embargo_info coverage_depth publication_type access_type'.split(
    ' ',
  )
const PAPERS = [
  'Night Papers',
  '9990-0114',
  '',
  '1998-01-01',
  '',
  'http://np.example',
  'P1Y',
  'fulltext',
  'serial',
  'P',
]
const OWLS = ['Owls, "a" life', '', '9990-022X', '2001', '2019', '', '', '', 'Monograph', 'F']
const rows = (sep: string, quote = '') =>
  [HEAD, PAPERS, OWLS].map(r => r.map(c => quote + (quote ? c.replaceAll('"', '""') : c) + quote).join(sep)).join('\n')
const short = (r: KbartReport) =>
  r.holdings.map(h => [h.title, h.printIdentifier ?? h.onlineIdentifier, h.firstDate, h.embargo, h.type, h.free])
const READ = [
  ['Night Papers', '9990-0114', '1998-01-01', 'P1Y', 'serial', false],
  ['Owls, "a" life', '9990-022X', '2001', undefined, 'monograph', true],
]

describe('the same file as others write it', () => {
  test.each<[string, string]>([
    ['by the standard', rows('\t')],
    ['with a mark before', `\ufeff${rows('\t')}`],
    ['lines ended as on Windows', rows('\t').replaceAll('\n', '\r\n')],
    ['lines ended as on old machines', rows('\t').replaceAll('\n', '\r')],
    ['all quoted', rows('\t', '"')],
    ['commas, all quoted', rows(',', '"')],
    ['commas, quoted where they must', Papa.unparse([HEAD, PAPERS, OWLS])],
    ['semicolons', Papa.unparse([HEAD, PAPERS, OWLS], { delimiter: ';' })],
    ['header in capitals', rows('\t').replace(HEAD.join('\t'), HEAD.join('\t').toUpperCase())],
    ['header with spaces', rows('\t').replace(HEAD.join('\t'), HEAD.join(' \t ').replaceAll('_', ' '))],
    ['header quoted', rows('\t').replace(HEAD.join('\t'), HEAD.map(h => `"${h}"`).join('\t'))],
    ['blank lines before', `\n\n${rows('\t')}`],
    [
      'comments before and among',
      `# Halverane Library\n# 40 titles\n${rows('\t').replace('\nOwls', '\n# the rest\nOwls')}`,
    ],
    ['the name of the file before', `Holdings of Halverane Library, autumn\n\n${rows('\t')}`],
    ['blank lines among and behind', rows('\t').replace('\nOwls', '\n\n\nOwls') + '\n\n\t\t\t\n'],
    ['columns the other way round', [HEAD, PAPERS, OWLS].map(r => [...r].reverse().join('\t')).join('\n')],
    ['columns that nobody asked for', [HEAD, PAPERS, OWLS].map((r, i) => [`x${i}`, ...r, 'y'].join('\t')).join('\n')],
  ])('%s', (_, text) => {
    const r = readKbart(text)
    expect(short(r)).toEqual(READ)
    expect([r.problems, r.refused]).toEqual([[], undefined])
  })
})

test('the title alone is enough; of a journal without dates it is not sure what is held', () => {
  const r = readKbart('publication_title\tpublication_type\nNight Papers\tserial\nOwls\tmonograph\n')
  expect(r.holdings).toMatchObject([
    { title: 'Night Papers', unclear: 'its file does not say from when on' },
    { title: 'Owls' },
  ])
  expect(r.holdings[1]!.unclear).toBeUndefined()
  expect(r.problems).toHaveLength(1)
})

test('what cannot be read of a line makes it unsure, never unheld', () => {
  const r = readKbart(
    [
      HEAD.join('\t'),
      PAPERS.with(3, 'n.d.').join('\t'),
      PAPERS.with(6, '1 year').join('\t'),
      PAPERS.with(1, '1234-5678').join('\t'),
      PAPERS.with(0, '').join('\t'),
    ].join('\n'),
  )
  expect(r.holdings.map(h => [h.line, h.unclear])).toEqual([
    [2, 'its file says “n.d.” where a date should stand'],
    [3, 'its file says “1 year” of an embargo'],
    [4, undefined],
  ])
  expect(r.problems.map(p => [p.line, p.said.slice(0, 30)])).toEqual([
    [2, '“n.d.” is no date: when the ti'],
    [3, '“1 year” is no embargo as KBAR'],
    [4, '“1234-5678” is no valid ISSN o'],
    [5, 'No title: the line is left out'],
  ])
})

test('a quotation mark that is not closed swallows no line', () => {
  const csv = `publication_title,print_identifier,date_first_issue_online\n"Night Papers,9990-0114,1998\nOwl Notes,9990-022X,2001\n`
  const r = readKbart(csv)
  expect(r.holdings).toHaveLength(2)
  expect(r.problems.some(p => p.said.includes('not closed'))).toBe(true)
  const tsv = readKbart(
    'publication_title\tprint_identifier\tdate_first_issue_online\n"Night" Papers\t9990-0114\t1998\n"Owls\t9990-022X\t2001\n',
  )
  expect(tsv.holdings.map(h => h.title)).toEqual(['"Night" Papers', '"Owls'])
})

test('a title over two lines keeps the numbers of the lines behind it', () => {
  const r = readKbart('publication_title,date_first_issue_online\n"Night\nPapers",1998\nOwls,soon\n')
  expect(r.holdings.map(h => h.line)).toEqual([2, 4])
  expect(r.problems).toMatchObject([{ line: 4 }])
})

test.each([
  '<html><body>Not found</body></html>',
  '{"error": "gone"}',
  '',
  '\n\n',
  'title,issn\nOwls,1',
  'PK\u0003\u0004',
])('%j is refused with a sentence', text =>
  expect(readKbart(text)).toEqual({
    holdings: [],
    problems: [],
    refused: expect.stringContaining('no line of it names a column publication_title'),
  }),
)

describe('dates of coverage', () => {
  test.each<[string, 'first' | 'last', string | undefined, string | undefined]>([
    ['1998', 'first', '1998', undefined],
    ['1998-03', 'first', '1998-03', undefined],
    ['1998-03-05', 'last', '1998-03-05', undefined],
    ['', 'last', undefined, undefined],
    ['0000-00-00', 'first', undefined, undefined],
    ['9999-12-31', 'last', undefined, undefined],
    ['present', 'last', undefined, undefined],
    ['1998-00-00', 'first', '1998', undefined],
    ['1998-02-31', 'first', '1998-02', undefined],
    ['1998-03-05T00:00:00Z', 'first', '1998-03-05', undefined],
    ['3/25/1998 0:00', 'first', '1998-03-25', undefined],
    ['1998/3/5', 'first', '1998-03-05', undefined],
    ['19980305', 'first', '1998-03-05', undefined],
    ['25/03/1998', 'first', '1998-03-25', undefined],
    ['05.03.1998', 'first', '1998-03-05', undefined],
    ['03/1998', 'first', '1998-03', undefined],
    ['Mar-98', 'first', '1998-03', undefined],
    ['March 1998', 'first', '1998-03', undefined],
    ['5 March 1998', 'first', '1998-03-05', undefined],
    ['Mar 5, 1998', 'first', '1998-03-05', undefined],
    ['1998.0', 'first', '1998', undefined],
    ['35859', 'first', '1998-03-05', undefined],
    ['05/03/1998', 'first', '1998-05-03', '1998-03-05'],
    ['05/03/1998', 'last', '1998-03-05', '1998-05-03'],
    ['04/04/1998', 'first', '1998-04-04', undefined],
    ['spring 1998', 'first', '1998-12-31', '1998-01-01'],
    ['spring 1998', 'last', '1998-01-01', '1998-12-31'],
  ])('%s as the %s', (text, which, date, perhaps) => {
    expect(readCoverageDate(text, which)).toMatchObject(date ? { date, ...(perhaps ? { perhaps } : {}) } : {})
    expect(readCoverageDate(text, which)!.perhaps).toBe(perhaps)
  })
  test.each(['n.d.', 'spring', '12', 'P1Y', '99/99/99'])('%s has no year', text => {
    expect(readCoverageDate(text, 'first')).toBeUndefined()
  })
  test('nothing is claimed that is not borne out, and what is not as the standard has it is said', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom(...'0123456789-/. TJanMar:'), maxLength: 12 }),
        fc.constantFrom('first' as const, 'last' as const),
        (text, which) => {
          const r = readCoverageDate(text, which)
          if (!r?.date) return
          expect(r.date).toMatch(/^\d{4}(-(0[1-9]|1[0-2])(-(0[1-9]|[12]\d|3[01]))?)?$/)
          if (r.date !== text.trim()) expect(r.said).toContain(text.trim())
          if (r.perhaps) expect(which === 'first' ? r.perhaps < r.date : r.perhaps > r.date).toBe(true)
        },
      ),
      { numRuns: 2000 },
    )
  })
})

test('of any table that another program writes every line with a title is read, in order', () => {
  const cell = fc.oneof(fc.string({ maxLength: 12 }), fc.constantFrom('1998', '"', 'a "b" c', 'x,y', 'x;y', 'l\nm'))
  fc.assert(
    fc.property(
      fc.array(fc.tuple(cell, cell, cell), { minLength: 1, maxLength: 12 }),
      fc.constantFrom(',', ';'),
      (table, delimiter) => {
        const named = table.filter(r => r[0].trim() && !r[0].startsWith('#'))
        const text = Papa.unparse([['publication_title', 'date_first_issue_online', 'notes'], ...named], {
          delimiter,
          newline: '\n',
          quotes: true,
        })
        const r = readKbart(text)
        const clean = (s: string) => s.replace(/\r\n?/g, '\n').trim()
        expect(r.holdings.map(h => h.title)).toEqual(named.map(n => clean(n[0])))
      },
    ),
    { numRuns: 400 },
  )
})

describe('a file read in pieces', () => {
  const cell = fc.stringMatching(/^[a-zA-Z ,;"'é\n-]{0,12}$/)
  const whole = (parts: Generator<{ text: string; skipped: number }>) => {
    const read = [...parts].map(p => readKbart(p.text, p.skipped))
    return { titles: read.flatMap(r => r.holdings.map(h => [h.line, h.title, h.firstDate])), pieces: read.length }
  }
  test('has the lines of the file in one, under the numbers that they have there, whatever is quoted', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(cell, cell), { maxLength: 30 }),
        fc.integer({ min: 100, max: 400 }),
        (cells, size) => {
          const lines = cells.map(([title, more]) => [`T${title}`, '9990-0114', '', '1998', '', more])
          const text = `# a comment\n\n${Papa.unparse([HEAD.slice(0, 6), ...lines], { quotes: true, newline: '\n' })}`
          const { holdings } = readKbart(text)
          expect(whole(kbartParts(text, size)).titles).toEqual(holdings.map(h => [h.line, h.title, h.firstDate]))
        },
      ),
    )
  })
  test('comes in as many as it has letters for, each with its header, the smallest in one', () => {
    const text = `${HEAD.join('\t')}\n${Array.from({ length: 500 }, (_, i) => `Papers ${i}\t\t\t1998`).join('\n')}`
    const { titles, pieces } = whole(kbartParts(text, 1000))
    expect(titles).toHaveLength(500)
    expect(pieces).toBeGreaterThan(5)
    expect([...kbartParts(text)]).toHaveLength(1)
    expect([...kbartParts('<html>no file</html>', 3)]).toEqual([{ text: '<html>no file</html>', skipped: 0 }])
  })
  test('a mark that is never closed costs two pieces at most', () => {
    const line = (i: number) => `"Papers ${i}"\t"9990-0114"`
    const text = `"publication_title"\t"print_identifier"\n"Papers x\t"9990-0114"\n${Array.from({ length: 900 }, (_, i) => line(i)).join('\n')}`
    const { titles } = whole(kbartParts(text, 2000))
    expect(titles.length).toBeGreaterThan(700)
  })
})
