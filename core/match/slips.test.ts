import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { distance } from 'fastest-levenshtein'
import { nearlyEqual } from './slips'

const allowed = (a: string, b: string) => Math.max(1, Math.min(3, Math.floor(Math.max(a.length, b.length) / 20)))

test.each([
  ['lamps', 'lamps', true],
  ['lamps', 'lamp', true],
  ['lamps', 'lanps', true],
  ['lamps', 'lmaps', true],
  ['lamps', 'lnaps', false],
  ['lamps', 'lam', false],
  ['mothsandlampsatseaintheautumnoftheyear', 'mothsandlmapsatseaintheautumnofthyear', false],
  ['mothsandlampsatseaintheautumnoftheyearthatwas', 'mothsandlmapsatseaintheautumnofthyearthatwas', true],
  ['', 'a', true],
  ['', 'ab', false],
])('%s and %s: %p', (a, b, near) => expect([nearlyEqual(a, b), nearlyEqual(b, a)]).toEqual([near, near]))

const word = fc.constantFrom('moth', 'lamp', 'harbour', 'street', 'night', 'flower', 'garden', 'tower')
const slip = fc.record({ at: fc.nat(), how: fc.constantFrom('drop', 'add', 'turn'), to: fc.constantFrom('q', 'z') })

test('what another measure of distance calls near is near, and nothing is that it calls far, swaps apart', () => {
  fc.assert(
    fc.property(fc.array(word, { minLength: 1, maxLength: 14 }), fc.array(slip, { maxLength: 5 }), (words, slips) => {
      const a = words.join('')
      let b = a
      for (const { at, how, to } of slips) {
        const i = at % b.length
        b = b.slice(0, i) + (how === 'drop' ? '' : how === 'add' ? b[i]! + to : to) + b.slice(i + 1)
        if (!b) return
      }
      // letters that were never next to each other in the other text cannot have been swapped: q and z are new
      const d = distance(a, b)
      if (d <= allowed(a, b)) expect(nearlyEqual(a, b)).toBe(true)
      else if (d > 2 * allowed(a, b)) expect(nearlyEqual(a, b)).toBe(false)
    }),
    { numRuns: 400 },
  )
})

test('letters that changed places are one slip each, wherever they stand', () => {
  fc.assert(
    fc.property(fc.array(word, { minLength: 2, maxLength: 8 }), fc.nat(), (words, at) => {
      const a = words.join('')
      const i = at % (a.length - 1)
      expect(nearlyEqual(a, a.slice(0, i) + a[i + 1]! + a[i]! + a.slice(i + 2))).toBe(true)
    }),
  )
})
