import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { sentencesOf } from './sentences'

const of = (text: string) => sentencesOf(text).map(s => text.slice(s.from, s.to).trim())

test('a page, an “et al.” and the like end no sentence; a line does', () => {
  expect(of('It fell.³⁻⁵ Then it rose.² \nSo.¹')).toEqual(['It fell.³⁻⁵', 'Then it rose.²', 'So.¹'])
  expect(of('Lune et al. say so (see p. 147). It fell.\nThen no more')).toEqual([
    'Lune et al. say so (see p. 147).',
    'It fell.',
    'Then no more',
  ])
})
test('they lie beside each other over all of the text, however long its lines are', () => {
  fc.assert(
    fc.property(
      fc.string({ unit: fc.constantFrom('a', ' ', '. ', 'A', '\n', 'p. ', '🌒'), maxLength: 90 }),
      fc.nat(80),
      (part, n) => {
        const text = part.repeat(n)
        let at = 0
        for (const { from, to } of sentencesOf(text)) {
          expect(from).toBe(at)
          expect(to).toBeGreaterThan(from)
          at = to
        }
        expect(at).toBe(text.length)
      },
    ),
  )
})
