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

test('tells the rounds along citations, with or without a search', () => {
  const trails = {
    rounds: [
      { day: '2026-10-06', works: 12, fresh: 1204, isStanding: false },
      { day: '2026-10-09', works: 1, fresh: 3, isStanding: false },
    ],
    from: 'Lampyr Citations',
  }
  const said =
    'References and citing works were followed by Lampyr Citations in 2 rounds: 6 October 2026 from 12 works (1,204 met); 9 October 2026 from 1 work (3 met). 9 records'
  expect(methodsText([sweep], 'L', { records: 9, works: 8 }, trails)).toContain(said)
  expect(methodsText([], 'L', { records: 9, works: 8 }, trails)).toMatch(/^References and citing works/)
  // what stands is told together, however often it ran
  const again = (day: string, fresh: number) => ({ day, works: 12, fresh, isStanding: true })
  const standing = [again('2026-10-19', 2), again('2026-10-26', 1)]
  expect(
    methodsText([], 'L', { records: 9, works: 8 }, { ...trails, rounds: [...trails.rounds, ...standing] }),
  ).toContain(
    'in 2 rounds: 6 October 2026 from 12 works (1,204 met); 9 October 2026 from 1 work (3 met). Lampyr Citations was asked 2 times by schedule what cites them, the last time on 26 October 2026 (3 met). 9 records',
  )
  expect(methodsText([], 'L', { records: 9, works: 8 }, { ...trails, rounds: standing.slice(0, 1) })).toMatch(
    /^Lampyr Citations was asked once by schedule/,
  )
})

test('says so where nothing was run', () =>
  expect(methodsText([], 'L', { records: 0, works: 0 })).toBe('No search has been run yet.'))
