import { expect, test } from '@jest/globals'
import type { Item } from '../bib/item'
import { nearness } from './nearest'
import { parseCql } from './parse-cql'

const item = (title: string, abstract?: string): { item: Item } => ({
  item: { id: title, type: 'article-journal', title, ...(abstract ? { abstract } : {}) },
})
const near = (list: { item: Item }[], cql: string): number[] => {
  const p = parseCql(cql)
  if (!p.ok) throw new Error(p.error.message)
  return [...nearness(list, p.query)]
}

test('a word in the title is nearer than in the abstract, a rare word nearer than a common one, and without either it is 0', () => {
  const list = [
    item('Moths and lamps', 'of towns'),
    item('Lamps of towns', 'moths are named once among many other words of this text'),
    item('Bridges', 'of towns'),
  ]
  const [both, second, none] = near(list, 'moth* and lamp*')
  expect(both!).toBeGreaterThan(second!)
  expect(second!).toBeGreaterThan(none!)
  expect(none).toBe(0)
})
test('what is left out does not count, and nothing is an answer of nothing', () => {
  expect(near([item('Sailing boats')], 'moth* not sailing')).toEqual([0])
  expect(near([], 'moth')).toEqual([])
})
