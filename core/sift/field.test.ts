import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { byValue, byYear } from './field'
import type { Limited } from './limits'

const work = (more: Partial<Limited>): Limited =>
  ({ kind: 'book', state: 'unread', year: 2000, sources: ['A'], ...more }) as Limited

test('years without works keep their place, and a slip of the pen makes no axis of its own', () => {
  const chart = byYear([2000, 2001, 2004, 20217, 1859].map(year => work({ year })))
  expect(chart.bars.map(b => [b.value, b.works])).toEqual([
    ['2000', 1],
    ['2001', 1],
    ['2002', 0],
    ['2003', 0],
    ['2004', 1],
  ])
  expect(chart.more).toBe(2)
  expect(byYear([])).toMatchObject({ bars: [], more: 0, unknown: 0 })
  expect(byYear([work({ year: 20217 })]).bars).toHaveLength(1)
})

test('each bar is the sum of its parts, and bars with what is left out are all works', () => {
  const kinds = ['book', 'thesis', 'report', 'news', 'dataset', 'chapter']
  fc.assert(
    fc.property(
      fc.array(fc.record({ kind: fc.constantFrom(...kinds), year: fc.option(fc.integer({ min: 1990, max: 2020 })) })),
      list => {
        const { bars, unknown, more } = byYear(list.map(work))
        for (const b of bars) expect(b.split.reduce((t, x) => t + x, 0)).toBe(b.works)
        expect(bars.reduce((t, b) => t + b.works, 0) + unknown + more).toBe(list.length)
      },
    ),
  )
})

test('values stand by how many works have them, told apart by what was decided', () => {
  const works = [
    work({ people: ['Okafor, A', 'Ruiz, B'], state: 'kept' }),
    work({ people: ['Okafor, A'], state: 'set aside' }),
    work({ people: [] }),
  ]
  const chart = byValue('author', works, w => w.people)
  expect(chart.parts).toEqual(['kept', 'later', 'unread', 'set aside'])
  expect(chart.bars).toEqual([
    { value: 'Okafor, A', works: 2, split: [1, 0, 0, 1] },
    { value: 'Ruiz, B', works: 1, split: [1, 0, 0, 0] },
  ])
  expect(chart.unknown).toBe(1)
})
