import { expect, test } from '@jest/globals'
import { WEIGHTS } from '../../core/appraise/weights'
import { learnedWeights } from './learn'
import { judgedRecords } from './read'

test('the weights in use are those that are learned from the open half', () => {
  const learned = learnedWeights(judgedRecords('open'))
  expect(Object.keys(WEIGHTS).sort()).toEqual(Object.keys(learned).sort())
  // another processor may round otherwise, no more
  for (const [feature, kinds] of Object.entries(learned))
    for (const kind of new Set([...Object.keys(kinds), ...Object.keys(WEIGHTS[feature]!)]) as Set<keyof typeof kinds>)
      expect(Math.abs((kinds[kind] ?? 0) - (WEIGHTS[feature]![kind] ?? 0))).toBeLessThan(0.07)
})
