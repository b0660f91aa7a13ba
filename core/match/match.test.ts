import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Facts, Item } from '../bib/item'
import { FIELDS } from './best-fields'
import { buildWork, readField, writeField } from './best-fields'
import { fileNature } from './file-nature'
import { proveCopy } from './proof'
import { blockKeys, candidatePairs } from './blocks'
import { compare } from './compare'
import { prepare, type Prepared } from './prepare'
import { components, findLinks, publishedDoi, type MatchRecord, type PairLink } from './records'

const record = (id: number, more: Partial<Item> = {}): MatchRecord => ({
  id,
  facts: {},
  item: {
    id: '',
    type: 'article-journal',
    title: 'Lamps and the moths of the towns',
    author: [{ family: 'Okafor', given: 'Ada' }],
    issued: { 'date-parts': [[2020]] },
    ...more,
  },
})

describe('links between records', () => {
  const verdict = (a: Partial<Item>, b: Partial<Item>, facts: [Facts, Facts] = [{}, {}]) =>
    findLinks([{ ...record(1, a), facts: facts[0] }], [{ ...record(2, b), facts: facts[1] }])[0]?.verdict ?? 'different'
  test('the same DOI joins, whatever its clothes', () =>
    expect(
      findLinks([record(1, { DOI: '10.5555/A.1' })], [record(2, { DOI: 'https://doi.org/10.5555/a.1' })]),
    ).toMatchObject([{ a: 1, b: 2, verdict: 'same', by: 'identifier' }]))
  test.each(['RETRACTED: %', '[Withdrawn] %', '% (Retracted article)'])(
    'what was taken back is the same work: %s',
    mark => {
      const title = mark.replace('%', record(1).item.title!)
      expect(verdict({}, { title })).toBe('same')
      expect(verdict({ DOI: '10.5555/a' }, { DOI: '10.5555/a', title })).toBe('same')
      // its notice is another one
      expect(verdict({ title }, { title: `Retraction: ${record(1).item.title}` })).not.toBe('same')
    },
  )
  test('a DOI on a title and authors that say otherwise is asked', () =>
    expect(
      verdict(
        { DOI: '10.5555/a' },
        { DOI: '10.5555/a', title: 'Bats over the harbour at dusk', author: [{ family: 'Bee', given: 'C.' }] },
      ),
    ).toBe('asked'))
  test.each<[string, Partial<Item>, Partial<Item>, string]>([
    ['capitals, initials and a sign for "and"', {}, { title: 'LAMPS & THE MOTHS OF THE TOWNS', author: [{ family: 'OKAFOR', given: 'A.' }] }, 'same'],
    ['a letter lost, a year off by one', {}, { title: 'Lamps and the moths of te towns', issued: { 'date-parts': [[2021]] } }, 'same'],
    ['the same with pages', { volume: '4', page: '10-12' }, { title: 'Lamps and the moths of te towns', issued: { 'date-parts': [[2021]] }, volume: '4', page: '10' }, 'same'],
    ['no author', {}, { author: undefined }, 'same'],
    ['no author, another year', {}, { author: undefined, issued: { 'date-parts': [[2022]] } }, 'asked'],
    ['two DOIs', { DOI: '10.5555/a' }, { DOI: '10.5555/b' }, 'different'],
    ['other authors', {}, { author: [{ family: 'Bee', given: 'C.' }] }, 'different'],
    ['other authors, another journal', { 'container-title': 'Night Notes' }, { author: [{ family: 'Bee', given: 'C.' }], 'container-title': 'Sea Papers' }, 'different'],
    ['"Introduction" of two books', { title: 'Introduction' }, { title: 'Introduction', author: undefined }, 'different'],
    ['two parts', { title: 'Lamps and the moths of the towns: part I' }, { title: 'Lamps and the moths of the towns: part II' }, 'different'],
    ['two years of a report', { type: 'report', title: 'Annual report on the lamps of the towns, 2019' }, { type: 'report', title: 'Annual report on the lamps of the towns, 2020' }, 'different'],
    ['a correction', {}, { title: 'Correction: Lamps and the moths of the towns' }, 'different'],
    ['a review of the book', { type: 'book' }, { title: 'Review of Lamps and the moths of the towns, by Ada Okafor' }, 'different'],
    ['a paper and its article', { type: 'paper-conference' }, {}, 'linked'],
    ['a body’s name, cut and whole', { title: 'Lamps of the towns in winter nights', author: [{ literal: 'Council of Sarnhold' }] }, { title: 'Lamps of the towns in winter nights', author: [{ family: 'Sarnhold', given: 'Council of' }] }, 'same'],
    ['a title without spaces', { title: '光害における街路灯と夜行性昆虫' }, { title: '光害における街路灯と夜行性昆虫' }, 'same'],
    ['a year of 20217', {}, { issued: { 'date-parts': [[20217]] } }, 'different'],
  ])('%s', (_, a, b, wanted) => expect(verdict(a, b)).toBe(wanted)) // prettier-ignore
  test('a preprint joins its article, though it has a DOI of its own and no subtitle', () => {
    const author = [
      { family: 'Okafor', given: 'Ada' },
      { family: 'Bee', given: 'Cara' },
    ]
    const link = verdict(
      { DOI: '10.5555/a', title: 'Lamps and the moths of the towns: a count', author, volume: '4', page: '1-9' },
      { DOI: '10.5555/pre.a', type: 'article', author, issued: { 'date-parts': [[2018]] } },
      [{}, { version: 'preprint' }],
    )
    expect(link).toBe('same')
    expect(publishedDoi({ ...record(3, { DOI: '10.5555/pre.a' }), facts: { version: 'preprint' } })).toBeUndefined()
  })
  test('a chapter does not join its book by the ISBN', () => {
    expect(
      verdict(
        { type: 'book', ISBN: '9789900019961', title: 'Night in six towns' },
        { type: 'chapter', ISBN: '9789900019961', title: 'Moths at the harbour' },
      ),
    ).toBe('different')
    expect(verdict({ type: 'book', ISBN: '9789900019961' }, { type: 'book', ISBN: '99000-1996-4' })).toBe('same')
  })
})

const word = fc.constantFrom('lamps', 'moths', 'towns', 'night', 'flowers', 'owls', 'of', 'the', 'Ångström', '光害')
const someItem = fc.record({
  title: fc.option(fc.array(word, { maxLength: 9 }).map(w => w.join(' ')), { nil: undefined }),
  author: fc.option(
    fc.array(fc.record({ family: fc.constantFrom('Okafor', 'Bee', 'van Dusk'), given: fc.constantFrom('A.', 'Ada', '') }), { maxLength: 4 }),
    { nil: undefined },
  ),
  year: fc.constantFrom(1989, 2020, 2021, 20217),
  DOI: fc.constantFrom(undefined, '10.5555/a', '10.5555/b'),
  volume: fc.constantFrom(undefined, '4', 5),
  page: fc.constantFrom(undefined, '1-9', 'e12'),
}) // prettier-ignore
const someRecords = fc.array(someItem, { minLength: 2, maxLength: 12 }).map(list =>
  list.map(({ year, ...more }, i): MatchRecord => ({
    id: i + 1,
    facts: {},
    item: { id: '', type: 'article-journal', issued: { 'date-parts': [[year]] }, ...(more as Partial<Item>) },
  })),
)

describe('comparing', () => {
  test('is the same both ways', () => {
    fc.assert(
      fc.property(someRecords, list => {
        const [a, b] = list.map(prepare) as [Prepared, Prepared]
        const [x, y] = [compare(a, b), compare(b, a)]
        expect(x.verdict).toBe(y.verdict)
        expect(x.score).toBeCloseTo(y.score, 9)
      }),
    )
  })
  test('finds the same works in whatever order and portions records arrive', () => {
    fc.assert(
      fc.property(someRecords, fc.nat(), (list, seed) => {
        const key = (l: PairLink) => `${l.a}-${l.b} ${l.verdict} ${l.score}`
        const whole = findLinks([], list).map(key).sort()
        const mixed = [...list].sort((a, b) => ((a.id * 7919 + seed) % 13) - ((b.id * 7919 + seed) % 13))
        const cut = seed % mixed.length
        const first = mixed.slice(0, cut)
        const portions = [...findLinks([], first), ...findLinks(first, mixed.slice(cut))].map(key).sort()
        expect(portions).toEqual(whole)
      }),
    )
  })
  test('each pair of a block comes once, and only pairs with a new record', () => {
    fc.assert(
      fc.property(someRecords, fc.nat(12), (list, from) => {
        const pairs = [...candidatePairs(list.map(prepare), from)]
        expect(new Set(pairs.map(String)).size).toBe(pairs.length)
        for (const [i, j] of pairs) {
          expect(i).toBeLessThan(j)
          expect(j).toBeGreaterThanOrEqual(from)
        }
      }),
    )
  })
})

const someLinks = fc
  .array(
    fc.tuple(
      fc.integer({ min: 1, max: 9 }),
      fc.integer({ min: 1, max: 9 }),
      fc.constantFrom('same', 'same', 'never', 'asked'),
      fc.integer({ min: 1, max: 20 }),
    ),
    { maxLength: 25 },
  )
  .map(list => {
    const seen = new Map<string, PairLink>()
    for (const [x, y, verdict, score] of list)
      if (x !== y)
        seen.set(`${Math.min(x, y)}-${Math.max(x, y)}`, {
          a: Math.min(x, y),
          b: Math.max(x, y),
          verdict: verdict as PairLink['verdict'],
          score,
          by: 'identifier',
        })
    return [...seen.values()]
  })
const records = Array.from({ length: 9 }, (_, i) => ({ id: i + 1, doi: i % 3 === 0 ? `10.5555/${i % 2}` : undefined }))

describe('works as components', () => {
  test('do not depend on the order of arrival', () => {
    fc.assert(
      fc.property(someLinks, fc.integer(), (links, seed) => {
        const shuffled = [...links].sort((x, y) => ((x.a * 31 + x.b * seed) % 7) - ((y.a * 31 + y.b * seed) % 7))
        const mixed = [...records].sort((x, y) => ((x.id * seed) % 5) - ((y.id * seed) % 5))
        expect(components(mixed, shuffled)).toEqual(components(records, links))
      }),
    )
  })
  test('hold every record once, and never a pair that is not to be joined or two DOIs', () => {
    fc.assert(
      fc.property(someLinks, links => {
        const groups = components(records, links)
        expect(groups.flat().sort((a, b) => a - b)).toEqual(records.map(r => r.id))
        for (const g of groups) {
          for (const l of links) if (l.verdict === 'never') expect(g.includes(l.a) && g.includes(l.b)).toBe(false)
          expect(new Set(g.map(id => records[id - 1]!.doi).filter(Boolean)).size).toBeLessThanOrEqual(1)
        }
      }),
    )
  })
  test('a student’s word joins what identifiers keep apart', () => {
    expect(
      components(
        [
          { id: 1, doi: 'a' },
          { id: 2, doi: 'b' },
        ],
        [{ a: 1, b: 2, verdict: 'same', score: 20, by: 'student' }],
      ),
    ).toEqual([[1, 2]])
  })
})

test('a work takes each field from its best record and says from which', () => {
  const w = buildWork([
    record(1, { title: 'LAMPS AND THE MOTHS OF THE TOWNS', page: '1-9' }),
    record(2, { abstract: 'Long.', author: [{ family: 'Okafor', given: 'Ada' }, { family: 'Bee' }] }),
  ])
  expect(w.item).toMatchObject({ title: 'Lamps and the moths of the towns', page: '1-9', abstract: 'Long.' })
  expect(w.item.author).toHaveLength(2)
  expect(w.from).toMatchObject({ title: 2, page: 1, abstract: 2, author: 2 })
})

describe('a field of a work as the student wants it', () => {
  const records = [
    record(1, { title: 'Lamps and moths', volume: '3', author: [{ family: 'Okafor', given: 'Ada' }] }),
    record(2, { title: 'Lamps and months', volume: '4', issued: { 'date-parts': [[2012, 3]] } }),
  ]
  test('is taken from another record, or written by hand, and says so', () => {
    const w = buildWork(records, {
      title: { record: 2 },
      volume: { text: ' 34 ' },
      author: { text: 'Ruiz, B.; Bee, C' },
    })
    expect(w.item).toMatchObject({ title: 'Lamps and months', volume: '34' })
    expect(w.item.author).toEqual([
      { family: 'Ruiz', given: 'B.' },
      { family: 'Bee', given: 'C' },
    ])
    expect(w.from).toMatchObject({ title: 2, volume: 0, author: 0 })
    expect(records[0]!.item.title).toBe('Lamps and moths')
  })
  test('counts for nothing where the record is of another work by now, or has no such field', () => {
    expect(buildWork(records, { title: { record: 9 }, page: { record: 1 } })).toEqual(buildWork(records))
  })
  test('reads back as it is written', () => {
    const item = records[1]!.item
    for (const f of FIELDS) {
      const text = writeField(item, f)
      if (text) expect(readField(f, text)).toEqual(item[f])
    }
    expect(
      writeField({ ...item, author: [{ family: 'Berg', given: 'M', 'non-dropping-particle': 'van' }] }, 'author'),
    ).toBe('van Berg, M')
    expect(readField('title', '  ')).toBeUndefined()
  })
  test('is never invented: every value is a record’s own or the student’s', () => {
    const value = fc.option(fc.constantFrom('a', 'b', 'c'), { nil: undefined })
    const item = fc.record({ title: value, volume: value, page: value, publisher: value })
    const choice = fc.oneof(
      fc.record({ record: fc.integer({ min: 1, max: 6 }) }),
      fc.record({ text: fc.constantFrom('mine', ' ') }),
    )
    const said = fc.record({ title: choice, volume: choice, page: choice }, { requiredKeys: [] })
    fc.assert(
      fc.property(fc.array(item, { minLength: 1, maxLength: 5 }), said, (items, fields) => {
        const list = items.map((x, i) => ({ id: i + 1, item: { id: '', type: 'book', ...x } as Item, facts: {} }))
        const w = buildWork(list, fields)
        for (const f of ['title', 'volume', 'page', 'publisher'] as const) {
          if (w.item[f] === undefined) continue
          if (w.from[f] === 0) expect(w.item[f]).toBe('mine')
          else expect(w.item[f]).toBe(list.find(r => r.id === w.from[f])!.item[f])
        }
      }),
    )
  })
})

describe('what a file is', () => {
  const pdf = '%PDF-1.7\n'
  test.each([
    [fileNature(0, '', ''), 'an empty file'],
    [fileNature(90, '<!doctype html><title>Sign in</title><input type="password">', ''), 'a sign-in page'],
    [fileNature(90, '<html><title>Lamps</title>abstract</html>', ''), 'a web page'],
    [fileNature(90, '<html>prove that you are human</html>', ''), 'a challenge page'],
    [fileNature(90, pdf, 'stream'), 'half a file'],
    [fileNature(90, 'PK', ''), 'another kind of file'],
  ])('%# is told', (nature, really) => expect(nature).toMatchObject({ pdf: false, really }))
  test('a whole PDF is one', () => expect(fileNature(90, pdf, 'startxref 5\n%%EOF\n').pdf).toBe(true))
})

describe('the proof of a copy', () => {
  const work: Item = {
    id: '',
    type: 'article-journal',
    title: 'Lamps and the moths of six small towns',
    author: [
      { family: 'Okafor', given: 'A.' },
      { family: 'Ångvist', given: 'B.' },
    ],
    issued: { 'date-parts': [[2020]] },
    DOI: '10.5555/np.4',
    page: '10-12',
  }
  const BODY = Array.from({ length: 30 }, () => 'text of the article goes on here and on')
  const pages = (lines: string[]) => [1, 2, 3].map(page => ({ page, lines: [...(page === 1 ? lines : []), ...BODY] }))
  const right = [
    'Night Papers 4, 10–12 (2020)',
    'Lamps and the moths of six',
    'small towns',
    'Ada Okafor and Bo Angvist',
    'https://doi.org/10.5555/np.4',
  ]
  test('title over two lines, names without accents, DOI', () =>
    expect(proveCopy(work, pages(right)).outcome).toBe('proved'))
  test('another DOI is at most doubtful', () => {
    const p = proveCopy(work, pages([...right.slice(0, 4), 'doi:10.5555/np.5']))
    expect(p.outcome).toBe('doubtful')
    expect(p.evidence.find(e => !e.holds)!.said).toContain('10.5555/np.5')
  })
  test('a manuscript is proved by the title and DOI of its own record', () => {
    const preprint: Item = { ...work, title: 'Lamps and moths: first counts', DOI: '10.5555/pre.4' }
    const text = pages(['Lamps and moths: first counts', 'Ada Okafor and Bo Angvist, 2020', 'doi:10.5555/pre.4'])
    expect(proveCopy(work, text).outcome).toBe('not this work')
    expect(proveCopy(work, text, [], [preprint]).outcome).toBe('proved')
  })
  test('another work of the pool is named', () => {
    const other: Item = { id: '', type: 'article-journal', title: 'Bats over the old harbour at dusk' }
    const p = proveCopy(work, pages(['Night Papers', 'Bats over the old harbour at dusk', 'C. Bee']), [
      { id: 3, item: other },
    ])
    expect(p).toMatchObject({ outcome: 'not this work', really: '"Bats over the old harbour at dusk"' })
  })
  test('a scan without text is doubtful', () => expect(proveCopy(work, pages([''])).outcome).not.toBe('proved'))
  test('an accepted manuscript is known by its mark', () =>
    expect(proveCopy(work, pages(['Accepted manuscript', ...right.slice(1)])).version).toBe('accepted manuscript'))
  test('no text of other words is ever proved', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('bats', 'dusk', 'harbour', 'river', 'Okafor', '2020'), {
          minLength: 30,
          maxLength: 60,
        }),
        words => expect(proveCopy(work, pages([words.join(' ')])).outcome).not.toBe('proved'),
      ),
    )
  })
})

describe('what is told apart in the record of others', () => {
  const one = (more: Partial<Item>): MatchRecord => ({
    id: 1,
    item: {
      id: 'a',
      type: 'article-journal',
      title: 'Lamps of the towns in winter',
      author: [{ family: 'Okafor', given: 'Ada' }],
      'container-title': 'Night Papers',
      volume: '4',
      issue: '1',
      page: '1-9',
      issued: { 'date-parts': [[2001]] },
      ...more,
    },
    facts: {},
  })
  const told = (a: Partial<Item>, b: Partial<Item>) => compare(prepare(one(a)), prepare({ ...one(b), id: 2 })).verdict
  test('an editorial of one issue and that of the next, with nothing but a title', () => {
    const editorial = { title: 'Editorial' }
    const { author: _, page: __, ...bare } = one(editorial).item
    const pair = [bare, { ...bare, issue: '2' }].map((item, id) => prepare({ id, item, facts: {} }))
    expect(compare(pair[0]!, pair[1]!).verdict).toBe('different')
    expect(told(editorial, { ...editorial, page: '101-109', issue: '3' })).toBe('different')
    expect(told(editorial, editorial)).toBe('same')
  })
  test('nobody agrees with nobody', () => {
    const anonymous = { author: [{ literal: 'Anonymous' }], title: 'Street lamps', volume: '', page: '' }
    expect(prepare(one(anonymous)).authors).toEqual([])
    expect(told(anonymous, { ...anonymous, issued: { 'date-parts': [[2003]] } })).not.toBe('same')
  })
  test('the same page of another issue weighs less than of the same', () => {
    const score = (b: Partial<Item>) => compare(prepare(one({})), prepare({ ...one(b), id: 2 })).score
    expect(score({ issue: '2' })).toBeLessThan(score({}))
  })
  test('a short title with a slip meets its like in a block', () => {
    const keys = new Set(blockKeys(prepare(one({ title: 'Owls at dusk', volume: '', page: '' }))))
    expect(blockKeys(prepare(one({ title: 'Olws at dusk', volume: '', page: '' }))).some(k => keys.has(k))).toBe(true)
    expect(told({ title: 'Street lamps and owls' }, { title: 'Street lamsp and owls' })).not.toBe('different')
  })
  test('soft hyphens part no words', () => {
    expect(prepare(one({ title: 'Street\u00adlamps' })).title).toBe('streetlamps')
  })
})
