import { expect, test } from '@jest/globals'
import { nearestWords } from './spelling'

const dictionary = [
  { text: 'allotments', count: 40 },
  { text: 'allotment', count: 90 },
  { text: 'allots', count: 2 },
  { text: 'moth', count: 900 },
  { text: 'both', count: 4000 },
  { text: 'moths', count: 700 },
  { text: 'gone', count: 0 },
]

test('nearer words come first, among equals the more frequent', () => {
  expect(nearestWords('allotmants', dictionary)).toEqual([
    { text: 'allotments', count: 40 },
    { text: 'allotment', count: 90 },
  ])
  expect(nearestWords('noth', dictionary).map(w => w.text)).toEqual(['both', 'moth'])
})
test('masks and marks do not count, the word itself is no suggestion', () => {
  expect(nearestWords('Môths*', dictionary).map(w => w.text)).toEqual(['moth', 'both'])
})
test('short words have one letter’s grace, and words without records are none', () => {
  expect(nearestWords('gond', dictionary)).toEqual([])
  expect(nearestWords('zzzzzz', dictionary)).toEqual([])
})
