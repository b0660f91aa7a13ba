import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { lineIn, placeOf } from './line'

test('a work is found among lines by its id, and what is not there is not', () => {
  fc.assert(
    fc.property(fc.uniqueArray(fc.nat(200)), fc.nat(200), (ids, wanted) => {
      const lines = ids.sort((a, b) => a - b).map(id => ({ id }))
      expect(placeOf(lines, wanted)).toBe(ids.indexOf(wanted))
      expect(lineIn(lines, wanted)?.id).toBe(ids.includes(wanted) ? wanted : undefined)
    }),
  )
})
