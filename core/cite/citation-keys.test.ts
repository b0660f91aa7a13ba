import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import { citationKeys } from './citation-keys'

const item = (family: string | undefined, year?: number, title = 'On Owls'): Item => ({
  id: 'x',
  type: 'article',
  title,
  ...(family === undefined ? {} : { author: [{ family }] }),
  ...(year ? { issued: { 'date-parts': [[year]] } } : {}),
})

test('family name and year; without a name the title’s first word, without letters "work"', () => {
  expect(citationKeys([item('Ångvist', 2020), item(undefined, 1999), item('王'), item(undefined, 2001, '')])).toEqual([
    'angvist2020',
    'on1999',
    'work',
    'work2001',
  ])
})

test('letters tell apart what would be the same, past z as well', () => {
  const keys = citationKeys(Array.from({ length: 30 }, () => item('Bee', 2020)))
  expect([keys[0], keys[1], keys[26], keys[27], keys[29]]).toEqual([
    'bee2020',
    'bee2020a',
    'bee2020z',
    'bee2020aa',
    'bee2020ac',
  ])
})

test('no two are alike, however many there are of one name', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 900 }), n => {
      const keys = citationKeys(Array.from({ length: n }, () => item('Bee', 2020)))
      expect(new Set(keys).size).toBe(n)
    }),
    { numRuns: 10 },
  )
})
