import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { printCql, type Comparison, type Query, type QueryNode } from './cql'
import { parseCql } from './parse-cql'

const read = (text: string): Query => {
  const p = parseCql(text)
  if (!p.ok) throw new Error(p.error.message)
  return p.query
}
const printed = (text: string): string => printCql(read(text))

describe('reading what people type', () => {
  test('bare words are and-ed', () => expect(printed('moth garden')).toBe('moth and garden'))
  test('a quoted run is a phrase', () =>
    expect(printed('"street light*"')).toBe('cql.serverChoice adj "street light*"'))
  test('a minus means not', () => expect(printed('moth -sail')).toBe('moth not sail'))
  test('a hyphen inside a word is no minus', () => expect(printed('night-flying')).toBe('night-flying'))
  test('booleans have equal precedence, left to right', () => {
    expect(printed('a or b and c')).toBe('(a or b) and c')
    expect(printed('a or (b and c)')).toBe('a or (b and c)')
  })
  test('a DOI needs no quotes', () =>
    expect(printed('doi=10.5555/np.4 and moth')).toBe('doi = "10.5555/np.4" and moth'))
  test('exact is read as ==', () => expect(printed('title exact moth')).toBe('title == moth'))
  test('prox keeps its modifiers', () =>
    expect(printed('moth prox/unit=word/distance<=5 lamp')).toBe('moth prox/unit=word/distance<=5 lamp'))
  test.each([
    ['dc.title = moth', 'title = moth'],
    ['dc.creator all "ruiz bea"', 'author all "ruiz bea"'],
    ['bath.personalName = ruiz', 'author = ruiz'],
    ['cql.anywhere any "moth lamp"', 'cql.serverChoice any "moth lamp"'],
    ['> d = "info:srw/cql-context-set/1/dc-v1.1" d.title = moth and d.date > 1990', 'title = moth and year > 1990'],
    ['> "info:srw/cql-context-set/1/dc-v1.1" creator = ruiz', 'author = ruiz'],
    ['> d = info:srw/cql-context-set/1/dc-v1.1 d.title = moth', 'title = moth'],
    ['lamp and (> d = "info:srw/cql-context-set/1/dc-v1.1" d.title = moth)', 'lamp and title = moth'],
    ['> z = "http://sets.example/own" z.glow = 3 and lamp', '> z = "http://sets.example/own" z.glow = 3 and lamp'],
    ['title cql.any "moth lamp"', 'title any "moth lamp"'],
    ['year encloses 2005', 'year encloses 2005'],
    ['rec.identifier = 7', 'rec.identifier = 7'],
  ])('%s', (text, meant) => {
    expect(printed(text)).toBe(meant)
    expect(printed(printed(text))).toBe(meant)
  })
  test.each(['>', '> dc =', '> dc = "x"', '> "x"'])('%j names a set and asks nothing', text => {
    const p = parseCql(text)
    expect(p.ok).toBe(false)
    expect(!p.ok && p.error.message).toMatch(/set of indexes|A term is missing/)
  })
  test('sortBy is kept', () =>
    expect(printed('moth sortBy year/sort.descending')).toBe('moth sortBy year/sort.descending'))
  test('other letters work', () =>
    expect(printed('Nachtfalter and Straße and 夜蛾')).toBe('Nachtfalter and Straße and 夜蛾'))
  test.each([
    ['“street light” moth', 'Curly quotes'],
    ['"street light', 'closing quote'],
    ['(moth or lamp', 'closing bracket'],
    ['moth) lamp', 'without an opening one'],
    ['-sail moth', 'moved behind'],
    ['moth and not sail', 'read as "not"'],
  ])('%s is repaired, and the repair is said', (text, said) => {
    const p = parseCql(text)
    expect(p.ok).toBe(true)
    expect(p.ok && p.repairs.map(r => r.said).join(' ')).toContain(said)
  })
  test.each([
    ['', 0],
    ['moth and', 8],
    ['moth and (', 10],
    ['title =', 7],
    ['and moth', 0],
    ['not moth', 0],
    ['moth sortby', 11],
  ])('%j is an error at %i', (text, position) => {
    const p = parseCql(text)
    expect(p.ok).toBe(false)
    if (!p.ok) expect(p.error.position).toBe(position)
  })
  test('an error offers a repaired query', () => {
    const p = parseCql('moth and (lamp or')
    expect(!p.ok && p.error.repaired).toBe('moth and lamp')
  })
})

const term = fc
  .array(
    fc.oneof(
      { weight: 6, arbitrary: fc.constantFrom(...'aZé蛾-9 ():=<>/"\'and') },
      fc.constantFrom('\\*', '\\?', '\\\\', '*', '?', 'and', 'sortby'),
    ),
    {
      minLength: 1,
      maxLength: 8,
    },
  )
  .map(parts => parts.join(''))
  .filter(t => t.trim().length > 0)
const name = fc.constantFrom('title', 'author', 'year', 'own.subject', 'x y')
const modifier = fc.oneof(
  fc.record({ name: fc.constantFrom('relevant', 'stem') }),
  fc.record({
    name: fc.constantFrom('distance', 'unit'),
    comparison: fc.constantFrom('=' as const, '<=' as const, '>' as const),
    value: fc.constantFrom('5', 'word', 'a b'),
  }),
)
const modifiers = fc.array(modifier, { maxLength: 2 })
const clause: fc.Arbitrary<QueryNode> = fc.record(
  {
    kind: fc.constant('clause' as const),
    index: name,
    relation: fc.constantFrom<Comparison>('=', '==', '<>', '<', '<=', '>', '>=', 'any', 'all', 'adj', 'within'),
    modifiers,
    term,
  },
  { requiredKeys: ['kind', 'relation', 'modifiers', 'term'] },
)
const { tree } = fc.letrec<{ tree: QueryNode }>(tie => ({
  tree: fc.oneof(
    { maxDepth: 4 },
    clause,
    fc.record({
      kind: fc.constant('boolean' as const),
      op: fc.constantFrom('and', 'or', 'not', 'prox'),
      modifiers,
      left: tie('tree'),
      right: tie('tree'),
    }),
  ),
}))

test('parsing what was printed gives the same tree', () => {
  fc.assert(
    fc.property(tree, fc.array(fc.record({ index: name, modifiers }), { maxLength: 2 }), (root, sort) => {
      const query: Query = sort.length ? { root, sort } : { root }
      expect(read(printCql(query))).toEqual(query)
    }),
    { numRuns: 600 },
  )
})

test('no text makes the reader throw, and a repaired query always parses', () => {
  fc.assert(
    fc.property(
      fc.oneof(
        fc.string(),
        fc
          .array(fc.constantFrom('moth', 'and', 'or', 'not', '(', ')', '"', '=', '/', '-x', ' ', 'prox'), {
            maxLength: 12,
          })
          .map(a => a.join(' ')),
      ),
      text => {
        const p = parseCql(text)
        if (!p.ok && p.error.repaired) expect(parseCql(p.error.repaired).ok).toBe(true)
        if (p.ok) expect(parseCql(printCql(p.query)).ok).toBe(true)
      },
    ),
    { numRuns: 600 },
  )
})
