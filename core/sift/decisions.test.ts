import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { project, type Decision } from './decisions'
import { contradictions as blocked } from './log'

const contradictions = (log: readonly Decision[], group: string) => blocked(log, group, d => d.pass)

const d = (
  group: string,
  work: number,
  pass: Decision['pass'],
  choice: Decision['choice'],
  undoes?: string,
): Decision => ({ id: group, group, work, pass, choice, ...(undoes ? { undoes } : {}) })

test('a work counts as kept while its latest decided pass keeps it and none has set it aside', () => {
  expect(project([d('a', 1, 'title', 'keep')]).get(1)!.state).toBe('kept')
  expect(project([d('a', 1, 'title', 'keep'), d('b', 1, 'abstract', 'later')]).get(1)!.state).toBe('later')
  expect(project([d('a', 1, 'title', 'set aside'), d('b', 1, 'abstract', 'keep')]).get(1)!.state).toBe('set aside')
  expect(project([d('a', 1, 'title', 'set aside'), d('b', 1, 'title', 'keep')]).get(1)!.state).toBe('kept')
})

test('an undone decision leaves what was before it', () => {
  const log = [d('a', 1, 'title', 'keep'), d('b', 1, 'title', 'set aside'), d('c', 1, 'title', null, 'b')]
  expect(project(log).get(1)!.state).toBe('kept')
})

test('an undo is contradicted by a later decision in the same pass, not by one that was itself undone', () => {
  const log = [d('a', 1, 'title', 'keep'), d('b', 1, 'title', 'set aside')]
  expect(contradictions(log, 'a')).toEqual([1])
  expect(contradictions([...log, d('c', 1, 'title', null, 'b')], 'a')).toEqual([])
  expect(contradictions([d('a', 1, 'title', 'keep'), d('b', 1, 'abstract', 'keep')], 'a')).toEqual([])
})

test('undoing everything, newest first, leaves every work unread', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.tuple(
          fc.integer({ min: 1, max: 4 }),
          fc.constantFrom('title', 'abstract', 'full text'),
          fc.constantFrom('keep', 'set aside', 'later'),
        ),
        { maxLength: 20 },
      ),
      steps => {
        const log = steps.map(([work, pass, choice], i) =>
          d(`g${i}`, work, pass as Decision['pass'], choice as Decision['choice']),
        )
        const full = [...log]
        for (const line of [...log].reverse()) {
          expect(contradictions(full, line.group)).toEqual([])
          full.push(d(`u${line.group}`, line.work, line.pass, null, line.group))
        }
        expect([...project(full).values()].filter(s => s.state !== 'unread')).toEqual([])
      },
    ),
  )
})
