import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { clean, cleanText, DEEPEST, firstLetters } from './clean'

test('half letters and control characters do not pass; line ends, tabs and whole letters do', () => {
  expect(cleanText('a\u0000b\u0007\ud83dc')).toBe('ab\ufffdc')
  expect(cleanText('moth \u{1F319}\t1\r\n2')).toBe('moth \u{1F319}\t1\r\n2')
})

test('every text becomes well-formed, once and for all', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), fc.array(fc.integer({ min: 0, max: 0xffff })), (s, units) => {
      const text = s + String.fromCharCode(...units)
      const out = cleanText(text)
      expect(out.isWellFormed()).toBe(true)
      expect(cleanText(out)).toBe(out)
      expect(JSON.parse(JSON.stringify(out))).toBe(out)
    }),
  )
})

test('all texts of a value are clean, its names too, and nothing else of it changes', () => {
  const given = { 'a\u0000': ['\ud800', 1, null, true, { b: 'c' }], d: undefined }
  expect(clean(given)).toEqual({ a: ['\ufffd', 1, null, true, { b: 'c' }], d: undefined })
})

test('what is nested too deep is refused, and by a loop of nothing else', () => {
  const nested = (n: number): unknown => (n ? [nested(n - 1)] : 'x')
  expect(clean(nested(DEEPEST))).toEqual(nested(DEEPEST))
  expect(() => clean(nested(DEEPEST + 1))).toThrow(RangeError)
})

test('the first letters of a text end at a whole letter', () => {
  expect(firstLetters('ab', 5)).toBe('ab')
  expect(firstLetters('a\u{1F319}b', 2)).toBe('a')
  expect(firstLetters('a\u{1F319}b', 3)).toBe('a\u{1F319}')
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), fc.nat(40), (s, n) => {
      const part = firstLetters(s, n)
      expect(part.isWellFormed()).toBe(true)
      expect(part.length).toBeLessThanOrEqual(n)
      expect(s.startsWith(part)).toBe(true)
    }),
  )
})
