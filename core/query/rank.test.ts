import { describe, expect, test } from '@jest/globals'
import { evaluate } from './evaluate'
import { parseCql } from './parse-cql'
import { IndexBuilder } from './positional-index'
import { best, scores } from './rank'

const docs = [
  { title: 'Moths at lamps', abstract: 'Lamps and moths in a town.' },
  {
    title: 'Town planning',
    abstract: 'Moths are named once in this long text on the planning of towns, their streets and their squares.',
  },
  { title: 'Moths', abstract: '' },
  { title: 'Hulls', abstract: 'Boats.' },
]
const b = new IndexBuilder()
docs.forEach(d => b.add(d))
const on = { index: b.freeze(), names: { '': ['title', 'abstract'], title: ['title'] } }
const read = (text: string) => {
  const p = parseCql(text)
  if (!p.ok) throw new Error(p.error.message)
  return p.query
}
const order = (text: string) => [...best(evaluate(read(text), on), scores(read(text), on), 10)]

describe('ranking', () => {
  test('a word in a title counts more than one in a long abstract', () => expect(order('moth*').at(-1)).toBe(1))
  test('the score is that of the formula', () => {
    // one word, one field: tf 1, weight 3, length 1 against an average of (3+2+1+1)/4; N = 4, n = 2
    const w = 3 / (1 - 0.75 + (0.75 * 1) / (7 / 4))
    const expected = Math.log(1 + (4 - 2 + 0.5) / (2 + 0.5)) * (w / (1.2 + w))
    expect(scores(read('title = moths'), on)[2]).toBeCloseTo(expected, 5)
  })
  test('what is left out and what is a number do not count', () => {
    expect([...scores(read('hulls not moths'), on)].filter(s => s > 0)).toHaveLength(1)
  })
  test('all endings of a masked word are one word', () => {
    const s = scores(read('lamp*'), on)
    expect(s[0]).toBeGreaterThan(0)
    expect(s[1]).toBe(0)
  })
})
