import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { contradictions, standingLines } from './log'
import { projectMarks, type Mark } from './marks'

const mark = (group: string, work: number, about: string, value: unknown, undoes: string | null = null): Mark => ({
  group,
  work,
  about,
  value,
  undoes,
})

describe('what is said of works', () => {
  test('of one matter the latest word stands; others stand beside it', () => {
    const said = projectMarks([
      mark('a', 1, 'part', 'evidence'),
      mark('b', 1, 'tag:owls', true),
      mark('c', 1, 'part', 'lead'),
      mark('d', 1, 'strand:9', true),
      mark('e', 1, 'strand:3', true),
      mark('f', 1, 'field:title', { text: 'Owls' }),
      mark('g', 2, 'kind', 'book'),
      mark('h', 2, 'note', 'Mine'),
    ])
    expect(said.get(1)).toEqual({ part: 'lead', tags: ['owls'], strands: [3, 9], fields: { title: { text: 'Owls' } } })
    expect(said.get(2)).toEqual({ kind: 'book', note: 'Mine' })
  })
  test('what is taken off, emptied or taken back is gone, and what it covered shows again', () => {
    const log = [
      mark('a', 1, 'tag:owls', true),
      mark('b', 1, 'note', 'First'),
      mark('c', 1, 'note', 'Second'),
      mark('d', 1, 'tag:owls', false),
    ]
    expect(projectMarks(log).get(1)).toEqual({ note: 'Second' })
    expect(projectMarks([...log, mark('u', 1, 'note', null, 'c')]).get(1)).toEqual({ note: 'First' })
  })
  test('a tag that has a colon, and a pair that was spoken of, change nothing else', () => {
    const said = projectMarks([mark('a', 1, 'tag:part: two', true), mark('b', 1, 'pair:1-2', { verdict: 'same' })])
    expect(said.get(1)).toEqual({ tags: ['part: two'] })
  })
})

const matters = ['part', 'note', 'tag:a', 'strand:1']
const steps = fc.array(
  fc.record({ work: fc.integer({ min: 1, max: 3 }), about: fc.constantFrom(...matters), value: fc.constantFrom('x', null, true) }),
  { maxLength: 12 },
) // prettier-ignore

test('taking a group back restores what stood before it, unless something later spoke of the same', () => {
  fc.assert(
    fc.property(steps, fc.nat(), (list, pick) => {
      const log = list.map((s, i) => mark(`g${i}`, s.work, s.about, s.value))
      if (!log.length) return
      const last = log[pick % log.length]!
      const undo = mark('undo', last.work, last.about, null, last.group)
      const blocked = contradictions(log, last.group, m => m.about)
      const later = log.slice(log.indexOf(last) + 1).some(m => m.work === last.work && m.about === last.about)
      expect(blocked.length > 0).toBe(later)
      if (later) return
      const without = log.filter(m => m !== last)
      expect(projectMarks([...log, undo]).get(last.work) ?? {}).toEqual(projectMarks(without).get(last.work) ?? {})
      expect(standingLines([...log, undo])).toHaveLength(log.length - 1)
    }),
  )
})
