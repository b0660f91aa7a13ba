import { expect, test } from '@jest/globals'
import { methodsText, type LoggedSweep } from './methods'

const sweep: LoggedSweep = {
  name: 'first look',
  cql: 'moth* and lamp*',
  deskDay: '2026-10-05',
  catalogues: [
    { name: 'Broadleaf Index', asked: 'moth* and lamp*', count: 240, fetched: 200, state: 'done', changes: [] },
    { name: 'Civic Paper File', asked: 'moth and lamp', count: 3, fetched: 3, state: 'done', changes: ['x'] },
    { name: 'Old Press Vault', asked: null, count: null, fetched: 0, state: 'failed', changes: [] },
  ],
}

test('names catalogues, dates, full queries, adaptations, counts and failures', () => {
  const text = methodsText([sweep, { ...sweep, name: null, deskDay: '2026-10-12' }], 'Halverane Library', {
    records: 203,
    works: 190,
  })
  expect(text).toContain(
    '3 catalogues were searched between 5 October 2026 and 12 October 2026 through Halverane Library',
  )
  expect(text).toContain('Search 1 (first look), 5 October 2026: moth* and lamp*.')
  expect(text).toContain('Broadleaf Index 240 (200 examined); Civic Paper File 3.')
  expect(text).toContain('Not answered: Old Press Vault.')
  expect(text).toContain('Adapted for Civic Paper File: moth and lamp.')
  expect(text).toContain(
    '203 records were brought together; after records of the same work were joined, 190 works remained.',
  )
})

test('says so where nothing was run', () =>
  expect(methodsText([], 'L', { records: 0, works: 0 })).toBe('No search has been run yet.'))
