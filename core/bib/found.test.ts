import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { findLetters, lettersIn } from './found'

const at = (text: string, piece: string, share = 0.2) =>
  findLetters(lettersIn(text), piece, share).map(f => [text.slice(f.from, f.to), f.errors])

test('room, signs, accents, capitals and breaks of lines say nothing', () => {
  expect(at('On LAMPS\n& mo-\nths of Ångvik.', 'lamps and moths of angvik')).toEqual([
    ['LAMPS\n& mo-\nths of Ångvik', 0],
  ])
  expect(at('L a m p s', 'Lamps', 0)).toEqual([['L a m p s', 0]])
  expect(at('Die Straße am Fluß', 'strasse')).toEqual([['Straße', 0]])
  expect(at('夜の 灯', '夜の灯')).toEqual([['夜の 灯', 0]])
})
test('every place, and where none is right the nearest ones', () => {
  expect(at('lamps, moths, lamps', 'lamps')).toHaveLength(2)
  expect(at('of larnps and of owls', 'lamps', 0.5)).toEqual([['larnps', 2]])
  expect(at('of owls', 'lamps')).toEqual([])
  expect(at('', 'lamps')).toEqual([])
  expect(at('lamps', '…')).toEqual([])
  expect(at('lemps', 'lamps', 0)).toEqual([])
})
test('a piece of a text is found where it stands', () => {
  const text = fc.string({ unit: 'grapheme', maxLength: 200 })
  fc.assert(
    fc.property(text, fc.nat(), fc.nat(), (whole, a, b) => {
      const [from, to] = [Math.min(a, b) % (whole.length + 1), Math.max(a, b) % (whole.length + 1)].sort(
        (x, y) => x - y,
      )
      const piece = whole.slice(from, to)
      const { letters } = lettersIn(piece)
      fc.pre(letters.length > 0 && lettersIn(whole).letters.includes(letters))
      const [first] = findLetters(lettersIn(whole), piece, 0)
      expect(first!.errors).toBe(0)
      // one sign may stand for several letters
      expect(lettersIn(whole.slice(first!.from, first!.to)).letters).toContain(letters)
    }),
  )
})
