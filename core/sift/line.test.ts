import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { describeWork } from './describe'
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

test('a work whose records name no language has the one of its words, and says so; a record that names one is believed', () => {
  const abstract =
    'Wir haben gezählt, was in sechs Wochen an zwölf Laternen einer Hafenstadt kam, und was in dieser Zeit nicht kam.'
  const record = { id: 1, item: { id: '', type: 'article-journal', title: 'Nachtfalter', abstract }, facts: {} }
  const told = describeWork([record])
  expect([told.line.language, told.facts.languageTold, told.item.language]).toEqual(['de', 'de', undefined])
  const french = describeWork([{ ...record, item: { ...record.item, language: 'fre' } }])
  expect([french.line.language, french.facts.languageTold]).toEqual(['fr', undefined])
})
