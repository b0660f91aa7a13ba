import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { printCql, type Modifier, type Query, type QueryNode } from './cql'
import { evaluate, type Searchable } from './evaluate'
import { holds } from './holds'
import { parseCql } from './parse-cql'
import { IndexBuilder } from './positional-index'
import { inItsNames, learn, suit, type Refusals, type Suitable } from './suit'

const read = (text: string): Query => {
  const p = parseCql(text)
  if (!p.ok) throw new Error(p.error.message)
  return p.query
}
const all: Suitable = { abilities: { truncation: true, proximity: true } }
const asked = (text: string, to: Suitable) => {
  const { query, sift, changes } = suit(read(text), to)
  return { asked: query && printCql(query), sift: sift && printCql({ root: sift }), changes }
}

describe('a query in the nearest form', () => {
  test('what is understood stays as it stands; names are the catalogue’s own', () => {
    expect(asked('title=moth* and year>2010', all)).toEqual({
      asked: 'title = moth* and year > 2010',
      sift: undefined,
      changes: [],
    })
    expect(
      printCql(inItsNames(read('title=moth and year>2010 sortBy year'), { title: 'dc.title', year: 'dc.date' })),
    ).toBe('dc.title = moth and dc.date > 2010 sortBy dc.date')
  })
  const few: Suitable = { abilities: { indexes: ['title', 'year'], truncation: true, proximity: false } }
  test.each([
    ['title=moth and funder=lamp and year>2010', 'title = moth and lamp and year > 2010', 'funder = lamp'],
    ['title=moth and language=en', 'title = moth', 'language = en'],
    // what cannot be asked stands beside what can: all of it may be wanted
    ['title=moth or language=en', undefined, 'title = moth or language = en'],
    ['(title=moth or language=en) and title=owl', 'title = owl', 'title = moth or language = en'],
    // nothing may be taken away that is not surely unwanted
    ['title=moth not type=thesis', 'title = moth', '* not type = thesis'],
    ['title=moth not (title=owl and type=thesis)', 'title = moth', '* not (title = owl and type = thesis)'],
    ['title=moth not (title=owl or type=thesis)', 'title = moth not title = owl', '* not (title = owl or type = thesis)'],
    ['title=moth not author=lune', 'title = moth', '* not author = lune'],
    ['title=moth prox/distance<3 title=owl', 'title = moth and title = owl', 'title = moth prox/distance<3 title = owl'],
    ['author==lune', 'cql.serverChoice adj lune', 'author == lune'],
  ])('%s', (text, expected, sift) => {
    const { changes, ...rest } = asked(text, few)
    expect(rest).toEqual({ asked: expected, sift })
    expect(changes.length).toBeGreaterThan(0)
  }) // prettier-ignore
  test('endings that there are in place of a mask, and the stem with a warning where nobody knows any', () => {
    const cannot: Suitable = {
      abilities: { truncation: false, proximity: true },
      endings: w => (w === 'moth*' ? ['moths', 'moth'] : undefined),
    }
    expect(asked('title=moth*', cannot).asked).toBe('title = moths or title = moth')
    expect(asked('title all "moth* lamp"', cannot).asked).toBe('(title = moths or title = moth) and title = lamp')
    expect(asked('title adj "street moth*"', cannot).asked).toBe('title adj "street moths" or title adj "street moth"')
    expect(asked('owl*', cannot)).toMatchObject({
      asked: 'owl',
      changes: ['It cannot truncate: "owl*" is asked as "owl", and endings are missed.'],
    })
  })
  const refused = (r: Refusals): Suitable => ({ ...all, refused: r })
  test.each<[string, Refusals, string | undefined]>([
    ['year within "2001 2005"', { relations: ['year within'] }, 'year >= 2001 and year <= 2005'],
    ['year within "2001 2005"', { relations: ['year within', 'year >=', 'year <='] }, 'year > 2000 and year < 2006'],
    ['x and year within "2001 2005"', { relations: ['year within', 'year >=', 'year <=', 'year >', 'year <'] }, 'x'],
    ['year>=2001', { relations: ['year >='] }, 'year > 2000'],
    ['year>2000', { relations: ['year >'] }, 'year within "2001 9999"'],
    ['title any "a b"', { relations: ['title any'] }, 'title = a or title = b'],
    ['title==moth', { relations: ['title =='] }, 'title = moth'],
    ['title =/relevant moth', { modifiers: true }, 'title = moth'],
    ['a not b', { not: true }, 'a'],
    ['a sortBy year', { sort: true }, 'a'],
  ])('%s where the catalogue refused %j', (text, r, expected) => {
    expect(asked(text, refused(r)).asked).toBe(expected)
  })
})

describe('what is learned from a refusal', () => {
  test.each<[string, { number?: number; said: string }, Refusals | undefined]>([
    ['title=a and year>1', { number: 16, said: 'Unsupported index: dc.date' }, { indexes: ['year'] }],
    ['title=a and type=b', { number: 16, said: 'Unsupported index' }, { indexes: ['type'] }],
    ['title=a', { said: 'Unknown access point title' }, { indexes: ['title'] }],
    ['year>=1 and title all "a b"', { number: 19, said: 'Unsupported relation: >=' }, { relations: ['year >='] }],
    ['year within "1 2"', { number: 22, said: 'x' }, { relations: ['year within'] }],
    ['a*', { number: 28, said: '*' }, { truncation: true }],
    ['a*', { said: 'Wildcards are not allowed' }, { truncation: true }],
    ['a prox b', { number: 39, said: '' }, { proximity: true }],
    ['a not b', { number: 37, said: 'not' }, { not: true }],
    ['a sortBy year', { number: 80, said: '' }, { sort: true }],
    ['a', { number: 80, said: '' }, undefined],
    ['a', { number: 2, said: 'System temporarily unavailable' }, undefined],
    ['a', { number: 10, said: 'Query syntax error' }, undefined],
  ])('%s: %j', (text, diagnostic, learned) => {
    expect(learn({}, diagnostic, read(text), { year: 'dc.date' })).toEqual(learned)
  })
  test('nothing is learned twice, so that asking comes to an end', () => {
    const query = read('title=a* and year within "1 2" not type=b sortBy year')
    let r: Refusals | undefined = {}
    let rounds = 0
    for (const number of [16, 19, 28, 37, 39, 80])
      for (let next: Refusals | undefined = r; next; next = learn(r!, { number, said: '' }, query)) {
        r = next
        expect(rounds++).toBeLessThan(30)
      }
  })
})

test('a record is looked at by its own fields; what it does not say, it does not fail by', () => {
  const lamps = {
    item: { id: '', type: 'book', title: 'Street lamps', issued: { 'date-parts': [[2003]] }, language: 'en' },
    facts: {},
  }
  const answer = (text: string) => holds(read(text).root, lamps)
  expect(answer('year within "2001 2005"')).toBe(true)
  expect(answer('year > 2003')).toBe(false)
  expect(answer('title = lamps and language = de')).toBe(false)
  expect(answer('subject = moths')).toBeUndefined()
  expect(answer('year > 2003 or subject = moths')).toBeUndefined()
  expect(answer('* not language = en')).toBe(false)
  expect(holds(read('year > 2003').root, { item: { id: '', type: 'book' }, facts: {} })).toBeUndefined()
})

test('whatever a catalogue cannot do, it is asked for all that is wanted, and what is sifted out was not', () => {
  const words = ['moth', 'moths', 'lamp', 'owl']
  const works = fc.array(
    fc.record({
      title: fc.array(fc.constantFrom(...words), { minLength: 1, maxLength: 4 }),
      author: fc.constantFrom(...words),
      year: fc.integer({ min: 2000, max: 2005 }),
    }),
    { minLength: 1, maxLength: 12 },
  )
  const clause = fc.oneof(
    fc.record({ kind: fc.constant('clause' as const), index: fc.constantFrom('title', 'author'), relation: fc.constantFrom('=' as const, 'any' as const, 'all' as const), modifiers: fc.constant<Modifier[]>([]), term: fc.constantFrom('moth', 'owl', 'moth lamp', 'mot*') }),
    fc.record({ kind: fc.constant('clause' as const), index: fc.constant('year'), relation: fc.constantFrom('>' as const, '<=' as const, '>=' as const), modifiers: fc.constant<Modifier[]>([]), term: fc.constantFrom('2001', '2003') }),
  ) // prettier-ignore
  const { node } = fc.letrec<{ node: QueryNode }>(tie => ({
    node: fc.oneof(
      { maxDepth: 3 },
      clause,
      fc.record({
        kind: fc.constant('boolean' as const),
        op: fc.constantFrom('and' as const, 'or' as const, 'not' as const),
        modifiers: fc.constant<Modifier[]>([]),
        left: tie('node'),
        right: tie('node'),
      }),
    ),
  }))
  const to = fc.record({
    indexes: fc.subarray(['title', 'author', 'year']),
    truncation: fc.boolean(),
    not: fc.boolean(),
    relations: fc.subarray(['year >', 'year >=', 'title any', 'title all', 'author =']),
  })
  fc.assert(
    fc.property(works, node, to, (docs, root, { indexes, truncation, not, relations }) => {
      const b = new IndexBuilder()
      for (const d of docs) b.add({ title: d.title.join(' '), author: d.author })
      const on: Searchable = {
        index: b.freeze(),
        names: { '': ['title', 'author'], title: ['title'], author: ['author'] },
        numbers: { year: Float64Array.from(docs, d => d.year) },
      }
      const wanted = new Set(evaluate({ root }, on))
      const suited = suit(
        { root },
        {
          abilities: { indexes, truncation, proximity: true },
          refused: { not, relations },
          endings: () => ['moth', 'moths'],
        },
      )
      const given = suited.query ? evaluate(suited.query, on) : Uint32Array.from(docs.keys())
      for (const n of wanted) expect(given).toContain(n)
      for (const n of given) {
        const d = docs[n]!
        const record = {
          item: {
            id: '',
            type: 'book',
            title: d.title.join(' '),
            author: [{ literal: d.author }],
            issued: { 'date-parts': [[d.year]] },
          },
          facts: {},
        }
        const fits = suited.sift ? holds(suited.sift, record) : true
        // a record that says everything is told for certain
        expect(fits ?? true).toBe(wanted.has(n))
      }
    }),
    { numRuns: 400 },
  )
})
