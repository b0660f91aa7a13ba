import { expect, test } from '@jest/globals'
import { flowsOf } from '../sift/flow'
import { asMarkdown } from './markdown'
import { methodsWriting, type MethodsFacts } from './methods'

const none = flowsOf({ records: [], works: [] })
const facts = (more: Partial<MethodsFacts> = {}): MethodsFacts => ({
  ...{ question: 'Do lamps change moths?', author: '', day: '2026-10-05', libraries: ['Halverane Library'] },
  ...{
    sweeps: [],
    files: [],
    rounds: [],
    index: 'Lampyr Citations',
    lists: 0,
    records: 0,
    works: 0,
    flows: none,
    rules: {},
    people: 1,
  },
  ...more,
})
const told = (more?: Partial<MethodsFacts>) => asMarkdown(methodsWriting(facts(more), { sheet: 'a4' }))
const catalogue = { asked: 'moth* and lamp*', count: 1240, fetched: 200, state: 'done', changes: [] as string[] }
const sweeps: MethodsFacts['sweeps'] = [
  {
    ...{ name: 'first look', cql: 'moth* and lamp*', deskDay: '2026-10-05', note: 'Too wide yet.' },
    catalogues: [
      { ...catalogue, name: 'Broadleaf Index' },
      { ...catalogue, name: 'Old Press Vault', asked: null, count: null, fetched: 0, state: 'failed' },
      { ...catalogue, name: 'Civic Paper File', changes: ['It cannot limit by year.'] },
    ],
  },
]

test('what was not done is said, and what only the student knows is left to them', () => {
  const text = told()
  expect(text).toContain('No catalogue was searched.')
  expect(text).toContain('No search has been run yet.')
  expect(text).toContain('The assignment sets no limits that are on record here.')
  expect(text).toContain('| S14 strategy looked over by somebody else | to be told by you |')
  expect(text).toContain('| S1 databases by name | no search was run |')
})

test('every search stands as each catalogue was asked, with what it gave and what it could not', () => {
  const text = told({ sweeps })
  expect(text).toContain('3 catalogues were searched through Halverane Library.')
  expect(text).toContain('| 1 first look | 5 October 2026 | Broadleaf Index | moth\\* and lamp\\* | 1,240 | 200 |  |')
  expect(text).toContain('| Old Press Vault | moth\\* and lamp\\* | no answer | 0 |  |')
  expect(text).toContain('| It cannot limit by year. |')
  expect(text).toContain('Did not answer: Old Press Vault (search 1).')
  expect(text).toContain('Search 1: Too wide yet.')
  expect(text).toContain('| S12 searching again later | searched on one day alone |')
  const again = told({ sweeps: [...sweeps, { ...sweeps[0]!, deskDay: '2026-10-19' }] })
  expect(again).toContain('| S12 searching again later | Searches: by their days |')
})

test('files, rounds and lists are sources; limits of the assignment are what was looked for', () => {
  const text = told({
    files: [{ name: 'from a friend.ris', records: 1 }],
    rounds: [
      { day: '2026-10-12', works: 12, calls: 30, fresh: 9, isStanding: false },
      { day: '2026-10-19', works: 12, calls: 30, fresh: 4, isStanding: true },
    ],
    lists: 2,
    rules: {
      languages: ['en', 'de'],
      notBefore: 2000,
      kindsOut: ['news'],
      refereedAtLeast: 7,
      recentAtLeast: 3,
      recentYears: 5,
    },
  })
  expect(text).toContain('Files were brought: from a friend.ris (1 record).')
  expect(text).toContain('on 12 October 2026 from 12 works (30 calls of the index)')
  expect(text).not.toContain('on 19 October 2026 from')
  expect(text).toContain(
    'Lampyr Citations was asked once by schedule what cites them, the last time on 19 October 2026',
  )
  expect(text).toContain('The lists of references of 2 texts were read.')
  expect(text).toContain('in English or German; from 2000 or later; of no kind of these: news; at least 7 refereed')
  expect(text).toContain('| S5 searching by citations | Sources |')
})

test('the way from records to kept works adds up, with the reasons of each pass', () => {
  const records = [1, 2, 3, 4].map(work => ({ source: 'catalogue' as const, work }))
  const flows = flowsOf({
    records: [...records, { source: 'catalogue', work: 1 }, { source: 'file', work: 5 }],
    works: [
      { id: 1, state: 'kept', pass: 'full text', reason: null, inHand: true },
      { id: 2, state: 'set aside', pass: 'title', reason: 'not the question', inHand: false },
      { id: 3, state: 'set aside', pass: 'abstract', reason: 'not the question', inHand: false },
      { id: 4, state: 'set aside', pass: 'abstract', reason: 'too old', inHand: false },
      { id: 5, state: 'unread', pass: null, reason: null, inHand: false },
    ],
  })
  const text = told({ flows, records: 6, works: 5, people: 2 })
  expect(text).toContain('6 records came together.')
  expect(text).toContain('5 works remained.')
  expect(text).toContain('by 2 people.')
  expect(text).toContain('| Step | By catalogues | By files and trails alone |')
  expect(text).toContain('| Records found | 5 | 1 |')
  expect(text).toContain('| – Describe a work already there | 1 | 0 |')
  expect(text).toContain('| Kept by their text | 1 | 0 |')
  expect(text.indexOf('| not the question | 1 | 1 | 0 |')).toBeGreaterThan(0)
  expect(text.indexOf('| too old | 0 | 1 | 0 |')).toBeGreaterThan(text.indexOf('| not the question |'))
})
