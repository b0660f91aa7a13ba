import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { KINDS, type Kind } from '../appraise/kind'
import type { Facts } from '../bib/item'
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
  },
  annotation: 'moth '.repeat(more.words ?? 3),
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
