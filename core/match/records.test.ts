import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Facts, Item } from '../bib/item'
import { components, findLinks, publishedDoi, worksAmong, type PairLink } from './records'

const record = (id: number, item: Partial<Item>, facts: Facts = {}) => ({
  id,
  item: { id: '', type: 'article-journal', title: 'Moth visits to flowers in towns', ...item } as Item,
  facts,
})
const link = (a: number, b: number, more: Partial<PairLink> = {}): PairLink => ({
  a,
  b,
  verdict: 'same',
  score: 6,
  by: 'description',
  ...more,
})
const ids = (n: number) => Array.from({ length: n }, (_, i) => ({ id: i + 1 }))

describe('links', () => {
  const same = { DOI: '10.5555/a', issued: { 'date-parts': [[2000]] } }
  test('are found between new ones and all, each once, the smaller id first; the known ones are not asked again', () => {
    const known = [record(5, same), record(9, same)]
    expect(findLinks(known, [record(7, same)]).map(l => [l.a, l.b])).toEqual([
      [5, 7],
      [7, 9],
    ])
    expect(findLinks(known, [])).toEqual([])
    expect(findLinks([], [record(3, same), record(2, same)])).toMatchObject([{ a: 2, b: 3 }])
    expect(findLinks([record(5, same)], [record(5, same)])).toEqual([])
  })
  test('say by what, and how sure: to two places', () => {
    expect(findLinks([], [record(1, same), record(2, same)])).toEqual([
      { a: 1, b: 2, verdict: 'same', score: 13.3, by: 'identifier' },
    ])
    const described = { issued: { 'date-parts': [[2000]] }, 'container-title': 'Night Notes', page: '1-9' }
    expect(findLinks([], [record(1, described), record(2, described)])[0]).toMatchObject({
      verdict: 'same',
      by: 'description',
    })
    // an identifier that speaks against it is not what joins them
    const apart = findLinks(
      [],
      [
        record(1, { ...described, DOI: '10.5555/a', abstract: 'x'.repeat(60) }),
        record(2, { ...described, DOI: '10.5555/b', abstract: 'x'.repeat(60) }),
      ],
    )
    expect(apart.every(l => l.by === 'description')).toBe(true)
    expect(findLinks([], [record(1, {}), record(2, {})])[0]).toMatchObject({ verdict: 'asked', by: 'description' })
    expect(findLinks([], [record(1, { ...same, DOI: '' }), record(2, { title: 'Hulls and sails' })])).toEqual([])
  })
})

test('a record that may be either of two that are surely not one is joined to neither, but asked', () => {
  const column = (id: number, year: number, volume?: number): ReturnType<typeof record> =>
    record(id, {
      title: 'Lamps of the month',
      author: [{ family: 'Okafor', given: 'Ada' }],
      'container-title': 'Night Notes',
      issued: { 'date-parts': [[year]] },
      ...(volume ? { volume, page: `${volume}` } : {}),
    })
  const [first, second] = [column(1, 2000, 4), column(2, 2000, 5)]
  expect(findLinks([], [first, second])).toEqual([])
  const bare = column(3, 2000)
  expect(findLinks([first], [bare])).toMatchObject([{ a: 1, b: 3, verdict: 'same' }])
  expect(findLinks([first, second], [bare]).map(l => [l.a, l.b, l.verdict])).toEqual([
    [1, 3, 'asked'],
    [2, 3, 'asked'],
  ])
  // one that is clearly nearer is it
  expect(findLinks([first, second], [column(3, 2000, 5)])).toMatchObject([{ a: 2, b: 3, verdict: 'same' }])
})

test('a preprint’s DOI does not tell it from its article', () => {
  expect(publishedDoi(record(1, { DOI: '10.5555/A' }))).toBe('10.5555/a')
  expect(publishedDoi(record(1, { DOI: '10.5555/A' }, { version: 'accepted manuscript' }))).toBe('10.5555/a')
  expect(publishedDoi(record(1, { DOI: '10.5555/A' }, { version: 'preprint' }))).toBeUndefined()
})

describe('works', () => {
  test('are what links join, each ascending, the works by their first record', () => {
    expect(components(ids(5), [link(3, 5), link(1, 5), link(2, 4)])).toEqual([
      [1, 3, 5],
      [2, 4],
    ])
    expect(components([{ id: 9 }, { id: 3 }, { id: 12 }], [link(9, 12)])).toEqual([[3], [9, 12]])
  })
  test('other links join nothing, nor do links to records that are not there', () => {
    const links = (['asked', 'linked', 'never'] as const).map(verdict => link(1, 2, { verdict }))
    expect(components(ids(2), links)).toEqual([[1], [2]])
    expect(components(ids(2), [link(1, 9), link(9, 2)])).toEqual([[1], [2]])
  })
  test('the surer link comes first, and keeps out what it speaks against', () => {
    const never = link(1, 3, { verdict: 'never' })
    expect(components(ids(3), [link(1, 2, { score: 6 }), link(2, 3, { score: 9 }), never])).toEqual([[1], [2, 3]])
    expect(components(ids(3), [link(1, 2, { score: 9 }), link(2, 3, { score: 6 }), never])).toEqual([[1, 2], [3]])
    // of two as sure, the one between the smaller ids
    expect(components(ids(3), [link(2, 3), link(1, 2), never])).toEqual([[1, 2], [3]])
    expect(components(ids(3), [link(1, 3), link(1, 2), link(2, 3, { verdict: 'never' })])).toEqual([[1, 2], [3]])
  })
  test('a student’s word comes before any other, and joins what has two DOIs', () => {
    const never = link(1, 3, { verdict: 'never' })
    const mine = link(2, 3, { score: 1, by: 'student' })
    expect(components(ids(3), [link(1, 2, { score: 20 }), mine, never])).toEqual([[1], [2, 3]])
    const doi = [
      { id: 1, doi: 'a' },
      { id: 2, doi: 'b' },
    ]
    expect(components(doi, [link(1, 2)])).toEqual([[1], [2]])
    expect(components(doi, [link(1, 2, { by: 'student' })])).toEqual([[1, 2]])
  })
  test('a DOI is handed on to what joins, so that no two meet in the end', () => {
    const list = [{ id: 1, doi: 'a' }, { id: 2 }, { id: 3, doi: 'b' }, { id: 4, doi: 'a' }]
    expect(components(list, [link(1, 2, { score: 9 }), link(2, 3, { score: 8 }), link(2, 4, { score: 7 })])).toEqual([
      [1, 2, 4],
      [3],
    ])
    expect(components(list, [link(2, 3, { score: 9 }), link(1, 2, { score: 8 })])).toEqual([[1], [2, 3], [4]])
  })
  test('whatever the links: never-pairs stay apart, every record is in one work, and their order changes nothing', () => {
    const any = fc.record({
      a: fc.integer({ min: 1, max: 8 }),
      b: fc.integer({ min: 1, max: 8 }),
      verdict: fc.constantFrom('same' as const, 'never' as const, 'asked' as const),
      score: fc.constantFrom(5, 6, 7),
      by: fc.constantFrom('identifier' as const, 'student' as const),
    })
    const links = fc.uniqueArray(any, { maxLength: 14, selector: l => [l.a, l.b].sort().join() })
    fc.assert(
      fc.property(
        links,
        fc.array(fc.constantFrom('x', 'y', undefined), { minLength: 8, maxLength: 8 }),
        (some, dois) => {
          const given = some.filter(l => l.a !== l.b).map(l => ({ ...l, a: Math.min(l.a, l.b), b: Math.max(l.a, l.b) }))
          const records = dois.map((doi, i) => ({ id: i + 1, doi }))
          const works = components(records, given)
          expect(works.flat().sort((x, y) => x - y)).toEqual(records.map(r => r.id))
          const workOf = new Map(works.flatMap((w, i) => w.map(id => [id, i] as const)))
          for (const l of given) if (l.verdict === 'never') expect(workOf.get(l.a)).not.toBe(workOf.get(l.b))
          expect(components(records, [...given].reverse())).toEqual(works)
        },
      ),
    )
  })
})

test('a list of records told by works: what one catalogue has twice, several have once, or the pool has joined', () => {
  const author = [{ family: 'Okafor', given: 'Ada' }]
  const issued = { 'date-parts': [[2000]] }
  const list = [
    { ...record(7, { author, issued }), work: null },
    { ...record(3, { title: 'Owls at sea', author, issued }), work: 5 },
    { ...record(4, { author, issued, page: '1-9' }), work: null },
    { ...record(9, { title: 'Hulls and sails' }), work: 5 },
    { ...record(8, { title: 'Harbour gulls in a cold winter', author, issued }), work: 6 },
  ]
  expect(worksAmong(list)).toEqual([[7, 4], [3, 9], [8]])
  expect(worksAmong([])).toEqual([])
})
