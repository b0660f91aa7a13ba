import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { readPasted, titleFit, titleIn } from './pasted'

test('identifiers are found wherever they stand, each once; other lines are references', () => {
  const text = ['https://doi.org/10.5555/ABC.1, 10.5555/abc.2', '', 'ISBN 978-990-00-1996-1', 'doi:10.5555/abc.1.', 'Okafor A. (2019) Moths at lamps. Night Notes 4:1.'].join('\n') // prettier-ignore
  expect(readPasted(text).map(p => [p.line, p.by, p.value])).toEqual([
    [1, 'doi', '10.5555/abc.1'],
    [1, 'doi', '10.5555/abc.2'],
    [3, 'isbn', '9789900019961'],
    [5, 'reference', 'Moths at lamps'],
  ])
})

test.each([
  [
    'Okafor, A., & Bee, C. (2021). Moth visits to flowers under street lighting. Night Notes, 4(2), 10–19.',
    'Moth visits to flowers under street lighting',
  ],
  ['[3] A. Okafor, “Moth visits to flowers,” Night Notes, vol. 4, 2021.', 'Moth visits to flowers'],
  [
    'Okafor A, Bee C. Moth visits to flowers under street lighting in towns. Night Notes. 2021;4:10-9.',
    'Moth visits to flowers under street lighting in towns',
  ],
  ['Can lamps change moths? Evidence from towns', 'Can lamps change moths? Evidence from towns'],
])('the title in %s', (reference, title) => expect(titleIn(reference)).toBe(title))

test('a fit is whole for the same words, none for others, and the same both ways', () => {
  expect(titleFit('The moths of towns', 'Moths of Towns')).toBe(1)
  expect(titleFit('Moths of towns', 'Hulls and sails')).toBe(0)
  fc.assert(
    fc.property(fc.string(), fc.string(), (a, b) => {
      expect(titleFit(a, b)).toBe(titleFit(b, a))
      expect(titleFit(a, b)).toBeLessThanOrEqual(1)
    }),
  )
})

test('nothing that is pasted makes it throw', () => {
  fc.assert(fc.property(fc.string(), s => void readPasted(s)))
})
