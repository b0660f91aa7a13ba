import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { ReadRecord } from '../bib/item'
import { NotUnderstood } from './evaluate'
import { answering, holds } from './holds'
import { parseCql } from './parse-cql'

const query = (text: string) => {
  const p = parseCql(text)
  if (!p.ok) throw new Error(p.error.message)
  return p.query
}
const record = (title: string, more: Partial<ReadRecord['item']> = {}): ReadRecord => ({
  item: { id: '', type: 'article-journal', title, ...more },
  facts: {},
})
const LIST = [
  record('Wells of the valley', { issued: { 'date-parts': [[2001]] }, author: [{ family: 'Quist', given: 'Rutger' }] }),
  record('Harbours', { abstract: 'Lamps stand along old wells.' }),
  record('Lamps and wells', { issued: { 'date-parts': [[1990]] } }),
]

test.each<[string, number[]]>([
  ['well*', [0, 1, 2]],
  ['title = well*', [0, 2]],
  ['title = well* and year > 1995', [0]],
  ['author = quist', [0]],
  ['wells not lamps', [0]],
  ['abstract = lamps', [1]],
  // what no record fills is known all the same, and finds nothing
  ['isbn = 9789900019961', []],
  ['"old wells"', [1]],
])('of many records at once: %s', (text, places) => expect([...answering(query(text), LIST)]).toEqual(places))

test('a work is found by the titles it is known by besides', () => {
  const known = { ...LIST[0]!, facts: { otherTitles: ['Brunnen im Tal'] } }
  expect([...answering(query('title = brunnen'), [known, LIST[1]!])]).toEqual([0])
})

test('what cannot be asked is named', () => {
  expect(() => answering(query('colour = red'), LIST)).toThrow(NotUnderstood)
  expect([...answering(query('lamps'), [])]).toEqual([])
})

test('many at once are told as each by itself, where each fills what is asked for', () => {
  const word = fc.constantFrom('lamps', 'wells', 'owls', 'moths')
  const words = fc.array(word, { minLength: 1, maxLength: 4 }).map(w => w.join(' '))
  const asked = fc
    .tuple(word, fc.constantFrom('and', 'or', 'not'), word)
    .map(([a, op, b]) => `title = ${a} ${op} title = ${b}`)
  fc.assert(
    fc.property(asked, fc.array(words, { maxLength: 8 }), (text, titles) => {
      const records = titles.map(t => record(t))
      const q = query(text)
      const each = records.flatMap((r, i) => (holds(q.root, r) ? [i] : []))
      expect([...answering(q, records)]).toEqual(each)
    }),
  )
})
