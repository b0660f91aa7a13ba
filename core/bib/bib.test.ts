import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { addDays, daysBetween, daySpan, isDay, readDate } from './dates'
import { fold, foldTitle } from './fold'
import {
  authorIdCheckDigit,
  doiAddress,
  issnCheckDigit,
  normaliseAuthorId,
  normaliseDoi,
  normaliseIsbn,
  normaliseIssn,
} from './identifiers'
import { authorLine, nameKey, readName } from './names'
import { pageCount, readPages } from './pages'

test.each([
  ['https://doi.org/10.5555/ABC.1', '10.5555/abc.1'],
  ['doi:10.5555/abc(1)2.', '10.5555/abc(1)2'],
  ['(10.5555/abc)', '10.5555/abc'],
  ['http://doi.example/10.5555%2Fabc', '10.5555/abc'],
  // of the days before the standard, and of a registrant with a part of its own
  ['10.5555/0000-1111(199908)25:3<213::AID-XX5>3.0.CO;2-K', '10.5555/0000-1111(199908)25:3<213::aid-xx5>3.0.co;2-k'],
  ['https://doi.org/10.5555/abc</a>', '10.5555/abc'],
  ['see 10.5555/abc<br>', '10.5555/abc'],
  ['10.5555.12/abc', '10.5555.12/abc'],
  ['11.5555/abc', undefined],
  ['', undefined],
])('the DOI in %j', (text, doi) => expect(normaliseDoi(text)).toBe(doi))

test('a normal DOI is its own normal form', () => {
  fc.assert(
    fc.property(fc.string({ minLength: 1 }), s => {
      const doi = normaliseDoi(`10.5555/${s}`)
      if (doi) expect(normaliseDoi(doi)).toBe(doi)
    }),
  )
})

test('check digits', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 9999999 }), n => {
      const seven = String(n).padStart(7, '0')
      expect(normaliseIssn(seven + issnCheckDigit(seven))).toMatch(/^\d{4}-\d{3}[\dX]$/)
    }),
  )
  expect(normaliseIssn('1234-5678')).toBeUndefined()
  expect(normaliseIsbn('978-990-00-1996-1')).toBe('9789900019961')
  expect(normaliseIsbn('9789900019962')).toBeUndefined()
})

test('folding is idempotent and blind to case, marks and punctuation', () => {
  fc.assert(fc.property(fc.string({ unit: 'grapheme' }), s => expect(fold(fold(s))).toBe(fold(s))))
  expect(foldTitle('The <i>Ångström</i> lamp: “half”-light')).toBe(foldTitle('ANGSTROM LAMP half light'))
})

test('names', () => {
  expect(readName('de la Cruz, María')).toEqual({ family: 'de la Cruz', given: 'María' })
  expect(readName('Ada B. Okafor')).toEqual({ family: 'Okafor', given: 'Ada B.' })
  expect(readName('Maria van der Berg')).toEqual({ family: 'van der Berg', given: 'Maria' })
  expect(readName('Council')).toEqual({ literal: 'Council' })
  expect(nameKey({ family: 'Ångvist', given: 'Éva' })).toBe('angvist e')
  expect(authorLine([1, 2, 3, 4, 5].map(n => ({ family: `A${n}` })))).toBe('A1, A2, A3 and 2 more')
})

test('dates', () => {
  expect(readDate('c1989')).toEqual({ 'date-parts': [[1989]] })
  expect(readDate('March 2020')).toEqual({ 'date-parts': [[2020, 3]] })
  expect(daySpan({ 'date-parts': [[2024, 2]] })).toMatchObject({ from: '2024-02-01', to: '2024-02-29' })
  fc.assert(
    fc.property(fc.integer({ min: -4000, max: 4000 }), n =>
      expect(daysBetween('2026-10-05', addDays('2026-10-05', n))).toBe(n),
    ),
  )
})

test('pages', () => {
  expect(readPages('345-67')).toEqual({ prefix: '', first: 345, last: 367 })
  expect(pageCount('140–158')).toBe(19)
  expect(pageCount('158-140')).toBe(pageCount('e104'))
  expect(pageCount('12')).toBeUndefined()
})

test('a DOI in an address keeps nothing that means something else there', () => {
  const doi = '10.5555/a(1)b:c;d<2::e>f#g?h%i j'
  const address = doiAddress('http://doi.example/', doi)
  expect(address).toBe('http://doi.example/10.5555/a(1)b:c;d%3C2::e%3Ef%23g%3Fh%25i%20j')
  expect(decodeURIComponent(new URL(address).pathname.slice(1))).toBe(doi)
})

test('a day is one that there is', () => {
  expect(['2026-02-28', '2028-02-29', '2026-12-31'].map(isDay)).toEqual([true, true, true])
  const none = ['2026-02-30', '2026-02-29', '2026-13-01', '2026-00-10', '2026-04-31', '2026-4-1', '', '2026-01-00']
  expect(none.filter(isDay)).toEqual([])
  fc.assert(fc.property(fc.integer({ min: 0, max: 40_000 }), n => isDay(addDays('2000-01-01', n))))
})

describe('identifiers of persons', () => {
  test.each([
    ['9999-0001-2345-618X', '9999-0001-2345-618X'],
    ['https://people.example/9999000123456016', '9999-0001-2345-6016'],
    ['(isni) 9999 0001 2345 618x, seen today', '9999-0001-2345-618X'],
    // another check digit, a number that is longer, nothing at all
    ['9999-0001-2345-6181', undefined],
    ['99990001234560160', undefined],
    ['0000-0000-0000-0001', undefined],
    ['', undefined],
  ])('“%s”', (said, id) => expect(normaliseAuthorId(said)).toBe(id))
  test('one wrong digit, or two in each other’s place, never passes', () => {
    const fifteen = fc.stringMatching(/^[1-9]\d{14}$/)
    fc.assert(
      fc.property(fifteen, fc.nat(14), fc.integer({ min: 1, max: 9 }), (of, at, by) => {
        const right = of + authorIdCheckDigit(of)
        expect(normaliseAuthorId(right)?.replaceAll('-', '')).toBe(right)
        const digit = String((Number(of[at]) + by) % 10)
        expect(normaliseAuthorId(of.slice(0, at) + digit + right.slice(at + 1))).toBeUndefined()
        if (at < 14 && of[at] !== of[at + 1])
          expect(normaliseAuthorId(of.slice(0, at) + of[at + 1]! + of[at]! + right.slice(at + 2))).toBeUndefined()
      }),
    )
  })
})
