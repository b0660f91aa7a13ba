import { expect, test } from '@jest/globals'
import { wouldFill } from './fill'

const work = { kind: 'research article', confidence: 1, year: 2021, language: 'en', strands: [4] }
const rules = { entriesWanted: 3, recentAtLeast: 2, recentYears: 5, languages: ['en'], booksAtMost: 1 }
const fills = (rule: string, more: Partial<typeof work> = {}) =>
  wouldFill({ rule, lacking: [4, 7] }, rules, { ...work, ...more }, '2026-05-01')

test('a work fills a rule that it counts for, unless another rule shuts it out', () => {
  expect(fills('entries')).toBe(true)
  expect(fills('recent')).toBe(true)
  expect(fills('recent', { year: 2020 })).toBe(false)
  expect(fills('refereed', { kind: 'book' })).toBe(false)
  expect(fills('entries', { language: 'de' })).toBe(false)
  expect(fills('books')).toBe(false)
  expect(fills('primary')).toBe(false)
  expect(fills('primary', { kind: 'dataset' })).toBe(true)
  expect(fills('strands')).toBe(true)
  expect(fills('strands', { strands: [5] })).toBe(false)
})
