import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Modifier, QueryNode } from './cql'
import { evaluate, fromBits, KeptAnswers, NotUnderstood, popcount, type Searchable } from './evaluate'
import { IndexBuilder, sizeOf } from './positional-index'
import { parseCql } from './parse-cql'
import { matchSpans } from './spans'
import { BEGIN, END, fits, termRuns, tokenise, type Slot } from './tokens'

const texts = [
  'Moth visits to allotment flowers under street lighting',
  'Street lights and the flight of hawkmoths',
  'A moth class sail boat under lights of the street',
  'Der Nachtfalter und die Laterne: Ångström',
  '夜蛾と街灯の研究',
]
const years = [2020, 1989, 2003, 1931, 2024]

function build(docs: readonly string[]): Searchable {
  const b = new IndexBuilder()
  for (const d of docs) b.add({ title: d, keyword: ['night life', 'street'] })
  return {
    index: b.freeze(),
    names: { '': ['title'], title: ['title'], keyword: ['keyword'] },
    numbers: { year: Float64Array.from(years) },
  }
}
const on = build(texts)
const find = (text: string, at = on): number[] => {
  const p = parseCql(text)
  if (!p.ok) throw new Error(p.error.message)
  return [...evaluate(p.query, at)]
}

describe('searching', () => {
  test.each<[string, number[]]>([
    ['moth', [0, 2]],
    ['moth*', [0, 2]],
    ['*moth*', [0, 1, 2]],
    ['h?wkmoths', [1]],
    ['"street light*"', [0, 1]],
    ['street light*', [0, 1, 2]],
    ['moth not sail', [0]],
    ['angstrom', [3]],
    ['ÅNGSTRÖM', [3]],
    ['街灯', [4]],
    ['夜蛾', [4]],
    ['year within "1980 2010"', [1, 2]],
    ['year > 2003', [0, 4]],
    ['moth and year < 2010', [2]],
    ['moth prox/distance<=3 flowers', []],
    ['moth prox/distance<=4 flowers', [0]],
    ['title any "sail laterne"', [2, 3]],
    ['title == "street lights and the flight of hawkmoths"', [1]],
    ['title == "street lights"', []],
    ['keyword adj "life street"', []],
    ['keyword adj "night life"', [0, 1, 2, 3, 4]],
  ])('%s', (text, expected) => expect(find(text)).toEqual(expected))

  test.each([
    ['funder = x', 'index', 'funder'],
    ['title < moth', 'relation', '<'],
    ['title within "a b"', 'relation', 'within'],
    ['title encloses moth', 'relation', 'encloses'],
    ['title =/fuzzy moth', 'relation modifier', 'fuzzy'],
    ['moth and/rel.combine=sum lamp', 'boolean modifier', 'rel.combine'],
    ['moth prox/unit=sentence flowers', 'unit of nearness', 'sentence'],
    ['moth prox/distance<=few flowers', 'distance', 'few'],
    ['moth prox/glow flowers', 'boolean modifier', 'glow'],
    ['nothing-like-it and (moth prox/unit=paragraph nowhere)', 'unit of nearness', 'paragraph'],
  ])('%s: what is not understood is refused by its name', (text, what, named) => {
    expect(() => find(text)).toThrow(NotUnderstood)
    try {
      find(text)
    } catch (e) {
      expect(e).toMatchObject({ what, named })
    }
  })
  test.each<[string, number[]]>([
    ['moth prox/unit=word/distance<=4 flowers', [0]],
    ['flowers prox/unit=word/distance<=4/ordered moth', []],
    ['moth prox/distance=4/ordered flowers', [0]],
    ['moth prox/distance<4 flowers', []],
    ['year encloses 2003', [2]],
    ['year encloses "1990 2010"', []],
    ['title =/relevant/ignoreCase MOTH', [0, 2]],
    ['title =/unmasked m?th', []],
    ['title = m?th', [0, 2]],
    ['title =/masked moth*', [0, 2]],
    ['^moth', [0]],
    ['flight not hawkmoths^', []],
  ])('%s', (text, expected) => expect(find(text)).toEqual(expected))
})

/** Reads every text anew, without any index: what the index has to agree with. */
function naive(n: QueryNode, docs: readonly (readonly string[])[]): number[] {
  const words = docs.map(values => values.map(v => [BEGIN, ...tokenise(v).map(t => t.text), END]))
  const all = docs.map((_, i) => i)
  const standsAt = (run: Slot[], v: string[], i: number) => run.every((s, k) => i + k < v.length && fits(s, v[i + k]!))
  const holds = (n: QueryNode, d: number): boolean => {
    if (n.kind === 'boolean') {
      if (n.op === 'and') return holds(n.left, d) && holds(n.right, d)
      if (n.op === 'or') return holds(n.left, d) || holds(n.right, d)
      if (n.op === 'not') return holds(n.left, d) && !holds(n.right, d)
      const distance = Number(n.modifiers.find(m => m.name === 'distance')?.value ?? 1)
      const at = (c: QueryNode, value: string[]) =>
        c.kind === 'clause' ? value.flatMap((_, i) => (standsAt(termRuns(c.term)[0]!, value, i) ? [i] : [])) : []
      return words[d]!.some(v =>
        at(n.left, v).some(p => at(n.right, v).some(q => p !== q && Math.abs(p - q) <= distance)),
      )
    }
    const runs = termRuns(n.term)
    if (!runs.length) return false
    const has = (run: Slot[]) => words[d]!.some(v => v.some((_, i) => standsAt(run, v, i)))
    if (n.relation === 'adj') return has(runs.flat())
    if (n.relation === '==') return has([BEGIN, ...runs.flat(), END])
    return n.relation === 'any' ? runs.some(has) : n.relation === '<>' ? !runs.every(has) : runs.every(has)
  }
  return all.filter(d => holds(n, d))
}

const piece = fc.constantFrom('moth', 'moths', 'light', 'street', 'Ångström', "don't", 'LED', '夜蛾', 'a', '7', 'x-y')
const values = fc.array(
  fc.array(piece, { maxLength: 7 }).map(w => w.join(' ')),
  { minLength: 1, maxLength: 3 },
)
const asked: fc.Arbitrary<QueryNode> = fc.record({
  kind: fc.constant('clause' as const),
  relation: fc.constantFrom('=' as const, '==' as const, 'adj' as const, 'any' as const, 'all' as const, '<>' as const),
  modifiers: fc.constant<Modifier[]>([]),
  term: fc.oneof(
    piece,
    fc.constantFrom('moth*', 'm?th', '*t*', 'street light', 'light moth*', 'moths moth', 'dont', 'angstrom', '夜'),
  ),
})
const one: fc.Arbitrary<QueryNode> = fc.record({
  kind: fc.constant('clause' as const),
  relation: fc.constant('=' as const),
  modifiers: fc.constant<Modifier[]>([]),
  term: fc.constantFrom('moth', 'light', 'street', 'moth*', 'LED'),
})
const { tree } = fc.letrec<{ tree: QueryNode }>(tie => ({
  tree: fc.oneof(
    { maxDepth: 3 },
    asked,
    fc.record({
      kind: fc.constant('boolean' as const),
      op: fc.constant('prox' as const),
      modifiers: fc
        .integer({ min: 1, max: 4 })
        .map((d): Modifier[] => [{ name: 'distance', comparison: '<=', value: String(d) }]),
      left: one,
      right: one,
    }),
    fc.record({
      kind: fc.constant('boolean' as const),
      op: fc.constantFrom('and' as const, 'or' as const, 'not' as const),
      modifiers: fc.constant<Modifier[]>([]),
      left: tie('tree'),
      right: tie('tree'),
    }),
  ),
}))

test('the index finds what reading every text finds, for any query', () => {
  fc.assert(
    fc.property(fc.array(values, { minLength: 1, maxLength: 25 }), tree, (docs, root) => {
      const b = new IndexBuilder()
      for (const d of docs) b.add({ title: d })
      expect([...evaluate({ root }, { index: b.freeze(), names: { '': ['title'] } })]).toEqual(naive(root, docs))
    }),
    { numRuns: 800 },
  )
})

test('going on from kept answers finds the same, however few are kept', () => {
  const kept = new KeptAnswers(3)
  fc.assert(
    fc.property(tree, root => {
      expect([...evaluate({ root }, on, kept)]).toEqual([...evaluate({ root }, on)])
    }),
    { numRuns: 300 },
  )
})

describe('queries of hard days', () => {
  const words = (n: number) => Array.from({ length: n }, (_, i) => `word${i}`)
  test.each<[string, string, number[]]>([
    [
      '5,000 letters',
      `moth ${'or lampyrid'.padEnd(11)} `
        .repeat(250)
        .slice(0, 5000)
        .replace(/\s\S*$/, ''),
      [0, 2],
    ],
    ['200 terms', ['moth', ...words(199)].join(' or '), [0, 2]],
    ['brackets 300 deep', `${'('.repeat(300)}moth${')'.repeat(300)}`, [0, 2]],
    ['booleans 300 deep', `${'moth and ('.repeat(300)}moth${')'.repeat(300)}`, [0, 2]],
    ['right-to-left words', 'פרפר or moth', [0, 2]],
    ['emoji beside a word', 'moth or 🦋', [0, 2]],
    ['only a mask', '*', [0, 1, 2, 3, 4]],
  ])('%s', (_, text, expected) => expect(find(text)).toEqual(expected))
  test.each([
    '?',
    '**',
    '???',
    '"*"',
    '* *',
    '()',
    '((((',
    '"',
    'and',
    'not',
    'a and',
    ')moth(',
    '🦋',
    '“moth',
    'prox/',
    '/',
    '=',
    '<>',
    'title =',
    'moth sortBy',
    '\\',
    '\u0000',
    '\ud800',
  ])(
    // prettier-ignore
    '%s gives an answer or an error with its place, and never hangs',
    text => {
      const p = parseCql(text)
      if (p.ok) expect(evaluate(p.query, on).length).toBeLessThanOrEqual(texts.length)
      else expect(p.error.position).toBeGreaterThanOrEqual(0)
    },
  )
  test('whatever is typed', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ unit: 'binary', maxLength: 80 }),
          fc.string({ unit: fc.constantFrom(...'()"*?=<>/\\ -and not or moth'.split('')), maxLength: 60 }),
        ),
        text => {
          // prettier-ignore
          const p = parseCql(text)
          if (!p.ok) return expect(p.error.position).toBeLessThanOrEqual(text.length)
          try {
            evaluate(p.query, on)
          } catch (e) {
            expect(e).toBeInstanceOf(NotUnderstood)
          }
        },
      ),
      { numRuns: 1500 },
    )
  })
})

test('nearness never reaches from one field, or one value, into another', () => {
  const b = new IndexBuilder()
  b.add({ title: ['moth', 'lamp'], abstract: 'lamp' })
  b.add({ title: ['moth lamp'], abstract: '' })
  expect(find('moth prox/distance<=9 lamp', { index: b.freeze(), names: { '': ['title', 'abstract'] } })).toEqual([1])
  expect(() => find('moth prox shoe=lamp', { index: b.freeze(), names: { '': ['title'] } })).toThrow(NotUnderstood)
})

test('bits are counted and listed', () => {
  fc.assert(
    fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 400 })), list => {
      const bits = new Uint32Array(13)
      for (const d of list) bits[d >>> 5]! |= 1 << (d & 31)
      expect([...fromBits(bits)]).toEqual([...list].sort((a, b) => a - b))
      expect(bits.reduce((n, w) => n + popcount(w), 0)).toBe(list.length)
    }),
  )
})

test('a dictionary of many words is kept apart from its hashes', () => {
  const b = new IndexBuilder()
  for (let i = 0; i < 5000; i++) b.add({ title: `w${i} common W${i % 7}x` })
  const index = b.freeze()
  const at = { index, names: { '': ['title'] } }
  expect(find('w4999', at)).toEqual([4999])
  expect(find('w3x', at)).toHaveLength(Math.ceil((5000 - 3) / 7))
  expect(find('common', at)).toHaveLength(5000)
  expect(find('w49*', at)).toHaveLength(111)
  expect(sizeOf(index)).toBeLessThan(600_000)
})

test('documents can be added after freezing, and the earlier index stands', () => {
  const b = new IndexBuilder()
  b.add({ title: 'moth' })
  const early = b.freeze()
  b.add({ title: 'moth lamp' })
  const names = { '': ['title'] }
  expect(find('moth', { index: early, names })).toEqual([0])
  expect(find('moth', { index: b.freeze(), names })).toEqual([0, 1])
})

test('matched stretches are those of the positive terms', () => {
  const p = parseCql('"street light*" and moth not flowers')
  if (!p.ok) throw new Error('unreachable')
  const spans = matchSpans(p.query.root, texts[0]!)
  expect(spans.map(s => texts[0]!.slice(s.start, s.end))).toEqual(['Moth', 'street lighting'])
})
