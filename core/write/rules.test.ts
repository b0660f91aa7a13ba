import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { KINDS, type Kind } from '../appraise/kind'
import type { Facts, Item } from '../bib/item'
import { checkBrief, shutOut, type BriefEntry, type BriefRules, type Entering } from './rules'

const entry = (
  id: number,
  more: {
    kind?: Kind
    facts?: Facts
    year?: number | null
    language?: string
    words?: number
    confidence?: number
    item?: Partial<Item>
    strands?: number[]
    annotation?: string
  } = {},
): BriefEntry => ({
  id,
  kind: more.kind ?? 'research article',
  confidence: more.confidence ?? 1,
  facts: more.facts ?? {},
  item: {
    id: '',
    type: 'article-journal',
    ...(more.year === null ? {} : { issued: { 'date-parts': [[more.year ?? 2020]] } }),
    ...(more.language ? { language: more.language } : {}),
    ...more.item,
  },
  strands: more.strands ?? [],
  work: id,
  marks: [],
  annotation: more.annotation ?? 'moth '.repeat(more.words ?? 3),
})
const verdicts = (rules: BriefRules, entries: BriefEntry[]) =>
  Object.fromEntries(checkBrief(rules, entries, '2026-10-05').map(a => [a.rule, [a.verdict, a.have, a.counting]]))

test('each rule holds, is short or over by some, or unsure, and says which entries count', () => {
  const rules = {
    entriesWanted: 3,
    refereedAtLeast: 2,
    recentAtLeast: 1,
    recentYears: 8,
    booksAtMost: 0,
    wordsFrom: 3,
    wordsTo: 4,
  }
  const entries = [
    entry(1, { facts: { refereedVenue: true }, year: 2018 }),
    entry(2, { year: 2001 }),
    entry(3, { kind: 'book', facts: { refereedVenue: false }, year: 1990 }),
  ]
  expect(verdicts(rules, entries)).toEqual({
    entries: ['holds', 3, [1, 2, 3]],
    refereed: ['unsure', 1, [1]],
    recent: ['holds', 1, [1]],
    books: ['over', 1, [3]],
    words: ['holds', 3, [1, 2, 3]],
  })
  expect(verdicts({ ...rules, refereedAtLeast: 3 }, entries).refereed).toEqual(['short', 1, [1]])
})

test.each([
  ['the year at the border counts', { recentAtLeast: 1, recentYears: 8 }, { year: 2018 }, 'recent', 'holds'],
  ['the year before it does not', { recentAtLeast: 1, recentYears: 8 }, { year: 2017 }, 'recent', 'short'],
  ['without a year nobody can tell', { recentAtLeast: 1, recentYears: 8 }, { year: null }, 'recent', 'unsure'],
  ['fewest words', { wordsFrom: 3, wordsTo: 5 }, { words: 3 }, 'words', 'holds'],
  ['one word too few', { wordsFrom: 3, wordsTo: 5 }, { words: 2 }, 'words', 'short'],
  ['most words', { wordsFrom: 3, wordsTo: 5 }, { words: 5 }, 'words', 'holds'],
  ['one word too many', { wordsFrom: 3, wordsTo: 5 }, { words: 6 }, 'words', 'short'],
  ['as many books as allowed', { booksAtMost: 1 }, { kind: 'chapter' as const }, 'books', 'holds'],
  [
    'a review of a refereed venue is not refereed',
    { refereedAtLeast: 1 },
    { kind: 'book review' as Kind, facts: { refereedVenue: true } },
    'refereed',
    'short',
  ],
  ['an asked language', { languages: ['en'] }, { language: 'en-GB' }, 'language', 'holds'],
  ['another language', { languages: ['en', 'de'] }, { language: 'fre' }, 'language', 'over'],
  ['a language that is not told', { languages: ['en'] }, {}, 'language', 'unsure'],
  ['of the first year that is taken', { notBefore: 2000 }, { year: 2000 }, 'age', 'holds'],
  ['too old', { notBefore: 2000 }, { year: 1999 }, 'age', 'over'],
  ['a kind that is not taken', { kindsOut: ['news' as const] }, { kind: 'news' as const }, 'kind', 'over'],
  [
    'one that may be of it',
    { kindsOut: ['news' as const] },
    { kind: 'news' as const, confidence: 0.79 },
    'kind',
    'holds',
  ],
] as const)('%s', (_, rules, more, rule, verdict) => {
  const answers = checkBrief({ entriesWanted: 1, ...(rules as Partial<BriefRules>) }, [entry(1, more)], '2026-10-05')
  expect(answers.find(a => a.rule === rule)?.verdict).toBe(verdict)
})

describe('what shuts a work out', () => {
  const works = fc.record<Entering>({
    kind: fc.constantFrom(...KINDS),
    confidence: fc.double({ min: 0, max: 1, noNaN: true }),
    year: fc.option(fc.integer({ min: 1900, max: 2026 })),
    language: fc.option(fc.constantFrom('en', 'de-AT', 'fr', 'EN_us')),
  })
  test('a work of which nothing is known is shut out by nothing, and without rules none is', () => {
    const all = { entriesWanted: 1, languages: ['en'], notBefore: 2026, kindsOut: [...KINDS] }
    expect(shutOut(all, { kind: 'news', confidence: 0.5, year: null, language: null })).toBeUndefined()
    fc.assert(fc.property(works, w => expect(shutOut({ entriesWanted: 1 }, w)).toBeUndefined()))
  })
  test('more languages, an earlier year and fewer kinds never shut more out', () => {
    fc.assert(
      fc.property(works, fc.integer({ min: 1900, max: 2026 }), fc.integer({ min: 0, max: 50 }), (w, year, less) => {
        const strict = {
          entriesWanted: 1,
          languages: ['en'],
          notBefore: year,
          kindsOut: ['news' as const, 'magazine' as const],
        }
        const mild = { entriesWanted: 1, languages: ['en', 'de'], notBefore: year - less, kindsOut: ['news' as const] }
        if (!shutOut(strict, w)) expect(shutOut(mild, w)).toBeUndefined()
      }),
    )
  })
})

describe('entries of one journal', () => {
  const of = (id: number, item: Partial<Item>) => entry(id, { item })
  const ask = (entries: BriefEntry[], journalAtMost = 2) => checkBrief({ journalAtMost }, entries, '2026-10-05')[0]
  const night = { 'container-title': 'Night Papers' }
  test('are counted by its number or its name; those of all that have too many are told', () => {
    const three = [of(1, { ...night, ISSN: '2049-3630' }), of(2, night), of(3, { 'container-title': 'NIGHT papers.' })]
    expect(ask(three)).toEqual({
      ...{ rule: 'journal', verdict: 'holds', have: 2, want: 2, counting: [2, 3] },
      said: 'from “Night Papers”, 2 allowed',
    })
    const four = [...three, of(4, night), of(5, { 'container-title': 'Dusk' })]
    expect(ask(four)).toMatchObject({ verdict: 'over', have: 3, counting: [2, 3, 4] })
    expect(ask([of(5, { 'container-title': 'Dusk' })])).toMatchObject({ have: 1, said: 'from one journal, 2 allowed' })
  })
  test('of an unknown journal may be of the same; books and chapters stand in none', () => {
    const two = [of(1, night), of(2, night)]
    expect(ask([...two, of(3, {})])!.verdict).toBe('unsure')
    expect(ask([...two, of(3, { type: 'book' }), of(4, { type: 'chapter', ...night })])!.verdict).toBe('holds')
    expect(ask([], 0)!.verdict).toBe('holds')
  })
})

describe('primary sources', () => {
  const ask = (rules: BriefRules, ...kinds: Kind[]) =>
    checkBrief(
      { primaryAtLeast: 2, ...rules },
      kinds.map((kind, i) => entry(i + 1, { kind })),
      '2026-10-05',
    )[0]
  test('are counted by the kinds that the brief names; without any, by those that are some whatever is asked', () => {
    expect(ask({}, 'dataset', 'news', 'image or recording')).toEqual({
      ...{ rule: 'primary', verdict: 'holds', have: 2, want: 2, counting: [1, 3] },
      said: 'primary sources (image or recording, dataset), 2 asked',
    })
    expect(ask({ primaryKinds: ['news'] }, 'dataset', 'news', 'news')).toMatchObject({ have: 2, counting: [2, 3] })
    expect(ask({ primaryKinds: ['news'] }, 'dataset')).toMatchObject({ verdict: 'short', have: 0 })
  })
  test('what is of unknown kind may be one', () =>
    expect(ask({}, 'dataset', 'unknown')).toMatchObject({ verdict: 'unsure', have: 1 }))
})

describe('entries on each strand', () => {
  const strands = [
    { id: 4, name: 'Lamps' },
    { id: 7, name: 'Moths' },
  ]
  const ask = (perStrand: number, entries: BriefEntry[], of = strands) =>
    checkBrief({ perStrand }, entries, '2026-10-05', of)[0]
  test('are enough where each strand has its number, and those that lack some are named', () => {
    const entries = [entry(1, { strands: [4, 7] }), entry(2, { strands: [4] }), entry(3, { strands: [99] })]
    expect(ask(1, entries)).toMatchObject({ verdict: 'holds', have: 2, want: 2, counting: [1, 2], lacking: [] })
    expect(ask(2, entries)).toMatchObject({ verdict: 'short', have: 1, said: 'strands with 2 entries', lacking: [7] })
  })
  test('cannot be told where there is no strand', () => {
    expect(ask(1, [entry(1)], [])).toMatchObject({
      ...{ verdict: 'unsure', have: 0, want: 0 },
      said: 'strands yet, each to have an entry',
    })
  })
})

test('parts of annotations are told by their words, and never said to be missing where something is written', () => {
  const whole = 'The authors argue that lamps matter. However, the sample is small. I will use it in my introduction.'
  const entries = [
    entry(1, { annotation: whole }),
    entry(2, { annotation: 'It has an index.' }),
    entry(3, { annotation: '' }),
  ]
  const parts = ['summary', 'judgement'] as const
  const ask = (n: number) => checkBrief({ parts: [...parts] }, entries.slice(0, n), '2026-10-05')[0]
  expect(ask(1)).toMatchObject({ rule: 'parts', verdict: 'holds', have: 1, counting: [1] })
  expect(ask(2)).toMatchObject({ verdict: 'unsure', have: 1, want: 2, counting: [1] })
  expect(ask(3)).toMatchObject({ verdict: 'short', have: 1, want: 3 })
})
