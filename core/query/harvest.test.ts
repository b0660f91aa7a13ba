import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { harvest, wordsIn } from './harvest'

const wanted = [
  { title: 'Moths and street lighting', keywords: ['phototaxis', 'LED'], subjects: ['Lepidoptera'] },
  { title: 'Street lighting and hawkmoths', keywords: ['phototaxis'], subjects: ['Lepidoptera'] },
  { title: 'The pull of street lighting', keywords: ['phototaxis', 'moths'], subjects: ['Lepidoptera'] },
]
const others = Array.from({ length: 12 }, (_, i) => ({
  title: `Sailing boats ${i} and lighting`,
  keywords: ['LED', 'hulls'],
  subjects: ['Sailboats'],
}))

test('phrases of a title, keywords and subject terms whole', () => {
  expect([...wordsIn({ title: 'Moth flight at the lamp', keywords: ['Light traps'], subjects: ['Insects'] })]).toEqual([
    ['moth flight', 'title'],
    ['insects', 'subject'],
    ['light traps', 'keyword'],
  ])
})

test('what sets the wanted apart comes first; what all share, or one alone has, does not come', () => {
  const found = harvest(wanted, others)
  expect(
    found
      .slice(0, 2)
      .map(h => h.text)
      .sort(),
  ).toEqual(['lepidoptera', 'phototaxis'])
  expect(found.find(h => h.text === 'phototaxis')).toMatchObject({ from: 'keyword', wanted: 3, others: 0 })
  expect(found.map(h => h.text)).toContain('street lighting')
  for (const not of ['led', 'hulls', 'pull', 'sailing']) expect(found.map(h => h.text)).not.toContain(not)
})

test('nothing is harvested where nothing is wanted, and order of works does not matter', () => {
  expect(harvest([], others)).toEqual([])
  fc.assert(
    fc.property(
      fc.shuffledSubarray(wanted, { minLength: 3 }),
      fc.shuffledSubarray(others, { minLength: 12 }),
      (w, o) => {
        expect(harvest(w, o)).toEqual(harvest(wanted, others))
      },
    ),
    { numRuns: 30 },
  )
})
