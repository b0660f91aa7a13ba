import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { readOut } from './concepts'
import { printCql, type Modifier, type Query, type QueryNode } from './cql'
import { evaluate } from './evaluate'
import { parseCql } from './parse-cql'
import { IndexBuilder } from './positional-index'
import { emptySheet, ladder, rungsOf, sheetOf, sheetQuery, termNode, wordsOf, type Sheet, type Term } from './sheet'

let ids = 0
const newId = (): string => `t${++ids}`
const read = (text: string): Query => {
  const p = parseCql(text)
  if (!p.ok) throw new Error(p.error.message)
  return p.query
}
const term = (text: string, more: Partial<Term> = {}): Term => ({ id: newId(), text, role: 'main', on: true, ...more })
const lamps: Sheet = {
  ...emptySheet(),
  concepts: [
    {
      id: 'c1',
      name: 'lamps',
      terms: [term('street light', { ending: true }), term('LED'), term('gas lamp', { on: false })],
    },
    { id: 'c2', name: 'moths', terms: [term('moth', { ending: true }), term('Sphingidae', { role: 'narrower' })] },
  ],
  without: [term('sailing')],
  years: { from: 2018 },
}

test('a sheet is a query: terms side by side, concepts together, the rest taken away', () => {
  expect(printCql(sheetQuery(lamps)!)).toBe(
    '(((cql.serverChoice adj "street light*" or LED) and (moth* or Sphingidae)) not sailing) and year >= 2018',
  )
  expect(sheetQuery(emptySheet())).toBeUndefined()
})

test('a term says what its switches mean', () => {
  const printed = (t: Partial<Term>) => printCql({ root: termNode(term('night flight', t))! })
  expect(printed({})).toBe('cql.serverChoice adj "night flight"')
  expect(printed({ apart: true })).toBe('cql.serverChoice all "night flight"')
  expect(printed({ ending: true, field: 'title' })).toBe('title adj "night flight*"')
  expect(printed({ cql: 'moth prox/distance<=4 lamp' })).toBe('moth prox/distance<=4 lamp')
  for (const nothing of ['', '  ', '*', '?!', '„“']) expect(termNode(term(nothing))).toBeUndefined()
})

describe('the ladder', () => {
  test('narrows rung by rung, and knows what each alone takes away', () => {
    const steps = ladder(lamps)
    expect(steps.map(s => s.label)).toEqual(['lamps', 'moths', 'without sailing', 'since 2018'])
    expect(steps[0]!.lost).toBeUndefined()
    expect(steps[1]!.lost).toBe('(cql.serverChoice adj "street light*" or LED) not (moth* or Sphingidae)')
    expect(steps[2]!.lost).toContain('and sailing')
    expect(steps.at(-1)!.cql).toBe(printCql(sheetQuery(lamps)!))
  })
  test('is put in another order, and rungs are switched off', () => {
    const steps = ladder({ ...lamps, order: ['years', 'c2', 'c1'], off: ['c1'] })
    expect(steps.map(s => [s.id, s.on])).toEqual([
      ['years', true],
      ['c2', true],
      ['c1', false],
      ['without', true],
    ])
    expect(steps[2]!.cql).toBe(steps[1]!.cql)
    expect(steps[2]!.lost).toBeUndefined()
  })
  test('does not begin with a "not": it waits until there is something to take from', () => {
    const steps = ladder({ ...lamps, order: ['without'] })
    expect(steps[0]).toMatchObject({ id: 'without' })
    expect(steps[0]!.cql).toBeUndefined()
    expect(steps[1]!.cql).toBe('(cql.serverChoice adj "street light*" or LED) not sailing')
  })
  test('judged rungs come last, whatever the order', () => {
    const ids = rungsOf({ ...lamps, refereed: true, kinds: ['research article'], order: ['refereed', 'c2'] }).map(
      r => r.id,
    )
    expect(ids.slice(-2)).toEqual(['refereed', 'kinds'])
    expect(ids[0]).toBe('c2')
  })
})

describe('a query typed as text', () => {
  test('becomes concepts, things left out and limits', () => {
    const s = sheetOf(
      read('("street light*" or lamp) and title=moth* and language any "en de" and year within "2001 2020" -sailing'),
      emptySheet(),
      newId,
    )
    expect(s.concepts.map(c => c.terms.map(t => t.text))).toEqual([['street light', 'lamp'], ['moth']])
    expect(s.concepts[1]!.terms[0]).toMatchObject({ ending: true, field: 'title' })
    expect(s.without.map(t => t.text)).toEqual(['sailing'])
    expect(s).toMatchObject({ years: { from: 2001, to: 2020 }, languages: ['en', 'de'] })
  })
  test('keeps what the sheet knew: names, roles, terms switched off', () => {
    const s = sheetOf(read('("street light*" or LED or lantern) and (moth* or Sphingidae)'), lamps, newId)
    expect(s.concepts.map(c => [c.id, c.name])).toEqual([
      ['c1', 'lamps'],
      ['c2', 'moths'],
    ])
    expect(s.concepts[0]!.terms.map(t => [t.text, t.on])).toEqual([
      ['street light', true],
      ['LED', true],
      ['lantern', true],
      ['gas lamp', false],
    ])
    expect(s.concepts[1]!.terms[1]!.role).toBe('narrower')
    expect(s.years).toBeUndefined()
  })
  test('what words cannot say stands as CQL', () => {
    const s = sheetOf(read('moth prox/unit=word/distance<=3 lamp and (a and b or c)'), emptySheet(), newId)
    expect(s.concepts.flatMap(c => c.terms.map(t => t.cql))).toContain('moth prox/unit=word/distance<=3 lamp')
  })
})

const words = ['moth', 'lamp', 'light', 'street', 'town', 'sail']
const docs = Array.from({ length: 60 }, (_, i) =>
  [0, 1, 2, 3].map(k => words[(i * (k + 3) + k * k + (i >> k)) % words.length]!).join(' '),
)
const builder = new IndexBuilder()
docs.forEach(d => builder.add({ title: d }))
const on = {
  index: builder.freeze(),
  names: { '': ['title'], title: ['title'] },
  numbers: { year: Float64Array.from(docs, (_, i) => 1990 + (i % 30)) },
}

const leaf: fc.Arbitrary<QueryNode> = fc.oneof(
  fc.record({
    kind: fc.constant('clause' as const),
    relation: fc.constantFrom('=' as const, 'all' as const, 'adj' as const, 'any' as const),
    modifiers: fc.constant<Modifier[]>([]),
    term: fc.constantFrom(...words, 'mo*', 'street light', 'moth lamp', 'l?mp'),
  }),
  fc.record({
    kind: fc.constant('clause' as const),
    index: fc.constant('year'),
    relation: fc.constantFrom('>=' as const, '<' as const, '=' as const, '<>' as const),
    modifiers: fc.constant<Modifier[]>([]),
    term: fc.constantFrom('2001', '1995', '2012'),
  }),
  fc.record({
    kind: fc.constant('clause' as const),
    index: fc.constant('title'),
    relation: fc.constantFrom('=' as const, '<>' as const),
    modifiers: fc.constant<Modifier[]>([]),
    term: fc.constantFrom('2001', '1995', '2012'),
  }),
)
const { tree } = fc.letrec<{ tree: QueryNode }>(tie => ({
  tree: fc.oneof(
    { maxDepth: 4 },
    leaf,
    fc.record({
      kind: fc.constant('boolean' as const),
      op: fc.constantFrom('and' as const, 'or' as const, 'not' as const),
      modifiers: fc.constant<Modifier[]>([]),
      left: tie('tree'),
      right: tie('tree'),
    }),
  ),
}))

test('the sheet of any query finds what the query finds, and is stable', () => {
  fc.assert(
    fc.property(tree, root => {
      const sheet = sheetOf({ root }, emptySheet(), newId)
      const back = sheetQuery(sheet)!
      expect([...evaluate(back, on)]).toEqual([...evaluate({ root }, on)])
      expect(printCql(sheetQuery(sheetOf(back, sheet, newId))!)).toBe(printCql(back))
    }),
    { numRuns: 500 },
  )
})

test('each rung and what it takes away make up the rung above', () => {
  fc.assert(
    fc.property(tree, fc.shuffledSubarray(['years', 'without'], { minLength: 0 }), (root, order) => {
      let above: number | undefined
      for (const s of ladder({ ...sheetOf({ root }, emptySheet(), newId), order })) {
        if (!s.cql) continue
        const here = evaluate(read(s.cql), on).length
        if (s.lost !== undefined && above !== undefined) expect(here + evaluate(read(s.lost), on).length).toBe(above)
        above = here
      }
    }),
    { numRuns: 300 },
  )
})

test('the words of a question that can become concepts', () => {
  expect(wordsOf('Does street lighting change what night-flying pollinators do in towns?')).toEqual([
    'street lighting',
    'night-flying pollinators',
    'towns',
  ])
  expect(wordsOf('Нужен ли свет?')).toEqual(['нужен ли свет'])
  expect(wordsOf('  ?! ')).toEqual([])
})

describe('an earlier sweep as a term', () => {
  const earlier: Term = { id: 'e', text: 'Lamps, first look', role: 'related', on: true, cql: 'lamp* or LED', sweep: 7 }
  const sheet: Sheet = {
    ...emptySheet(),
    concepts: [{ id: 'c', name: 'lamps', terms: [earlier, { id: 't', text: 'lantern', role: 'main', on: true }] }],
    without: [{ ...earlier, id: 'w', text: 'Sailing', cql: 'sail* and (boat or regatta)', sweep: 9 }],
  }
  test('stands in the query as what it asked', () => {
    expect(printCql(sheetQuery(sheet)!)).toBe('(lamp* or LED or lantern) not (sail* and (boat or regatta))')
  })
  test('stays one term under its name when the query is edited as text', () => {
    const p = parseCql('(lamp* or LED or lantern) and moth* not (sail* and (boat or regatta))')
    if (!p.ok) throw new Error(p.error.message)
    let n = 0
    const next = sheetOf(p.query, sheet, () => `n${++n}`)
    expect(next.concepts[0]!.terms).toEqual(sheet.concepts[0]!.terms)
    expect(next.without).toEqual(sheet.without)
    expect(next.concepts[1]!.terms.map(t => t.text)).toEqual(['moth'])
  })
  test('alone in a concept, a sweep of several concepts stays one', () => {
    const both: Sheet = {
      ...emptySheet(),
      concepts: [{ id: 'c', name: '', terms: [{ ...earlier, cql: 'lamp* and moth*' }] }],
    }
    const p = parseCql('lamp* and moth* and garden')
    if (!p.ok) throw new Error(p.error.message)
    let n = 0
    const next = sheetOf(p.query, both, () => `n${++n}`)
    expect(next.concepts.map(c => c.terms.map(t => t.text))).toEqual([['Lamps, first look'], ['garden']])
  })
  test('is called by its name in the sentence', () => {
    const names = new Map([[earlier.cql!, earlier.text]])
    expect(
      readOut(sheetQuery({ ...sheet, without: [] })!.root, names)
        .map(p => p.text)
        .join(''),
    ).toBe('Works about what “Lamps, first look” asked or lantern.')
  })
})

test('works that are asked for by their author alone are read out as such', () => {
  const clause = (index: string, term: string): QueryNode => ({
    kind: 'clause',
    index,
    relation: 'all',
    modifiers: [],
    term,
  })
  const said = (root: QueryNode) =>
    readOut(root)
      .map(p => p.text)
      .join('')
  expect(said(clause('author', 'Lune Mara'))).toBe('Works by Lune Mara.')
  expect(said(clause('title', 'lamp*'))).toBe('Works about lamp… in the title.')
})
