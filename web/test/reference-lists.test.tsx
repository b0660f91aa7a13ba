/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Answer } from '../../core/schema/api'
import { Trace } from '../stations/trace/trace'
import { answers, open, posted, sent, work } from './rig'

type List = Answer<'list'>
type Entry = List['entries'][number]
const article = (title: string, more: object = {}) => ({
  id: '',
  type: 'article-journal',
  title,
  author: [{ family: 'Okafor', given: 'Ada' }],
  issued: { 'date-parts': [[2001]] },
  'container-title': 'Night Papers',
  ...more,
})
const nodes: List['nodes'] = [
  { id: 31, work: 1, item: article('Moths at lamp 1', { volume: '7', page: '1-9' }), kind: 'research article' },
  { id: 32, work: null, item: article('Lamps in the allotment'), kind: 'book' },
  {
    id: 33,
    work: null,
    item: article('Light at night: the flowers', { volume: '104', page: '88-90' }),
    kind: 'literature review',
  },
  { id: 34, work: null, item: article('Light at night', { volume: '14', page: '80-96' }), kind: 'research article' },
]
const entry = (n: number, text: string, more: Partial<Entry> = {}): Entry => ({
  ...{ n, text, label: String(n), page: null, item: {}, others: false, looked: true },
  ...{ matches: [], means: null, byHand: false, inIndex: null, missing: null },
  ...more,
})
const list = (more: Partial<List> = {}): List => ({
  ...{ id: 5, name: 'A draft', copy: null, work: null, day: '2026-10-05', job: 9, entries: [], left: 0 },
  ...{ by: 'numbers', indexDay: null, indexOnly: [], nodes },
  ...more,
})
const four = [
  entry(1, 'Okafor A. (2001) Moths at lamp 1. Night Papers 7, 1.', { means: 0, matches: [{ node: 0, share: 0.99 }] }),
  entry(2, 'Okafor A. (2001) Lamps in the allotment.', { means: 1, matches: [{ node: 1, share: 0.99 }] }),
  entry(3, 'Okafor (2001) Light at night. Night Papers 104, 80.', {
    item: { title: 'Light at night', volume: '104', page: '80' },
    matches: [
      { node: 2, share: 0.5 },
      { node: 3, share: 0.4 },
    ],
  }),
  entry(4, 'Lamp Committee. Return of lamps.', { missing: 'Register of Titles could not be asked.' }),
]

beforeEach(() => {
  answers['GET /inquiries/1/works'] = [work(1, { state: 'kept' }), work(2)]
  answers['GET /inquiries/1/graph'] = {
    from: 'Lampyr Citations',
    stamp: '1',
    nodes: [],
    citing: [],
    cited: [],
    walks: [],
    rounds: [],
    fields: [],
  }
  answers['GET /inquiries/1/rounds/plan'] = {
    n: 1,
    origins: 1,
    trails: 2,
    calls: 3,
    comparing: 0,
    withoutDoi: [],
    walked: 0,
  }
  answers['GET /inquiries/1/copies'] = []
  answers['GET /inquiries/1/lists'] = []
  answers['GET /inquiries/1/lists/5'] = list({ entries: four })
  answers['PUT /inquiries/1/lists/5/entries/3'] = { node: 34 }
})
const puts = () => sent.filter(s => s.method === 'PUT').map(s => s.body)
const row = async (n: number) => (await screen.findAllByRole('listitem'))[n - 1]!

test('entries stand across from what they mean, with what told it, and are limited by how they stand', async () => {
  open(Trace, 'trace?entries=5')
  expect(await row(1)).toHaveTextContent(/in pool · keptevery part agrees/)
  expect(await row(2)).toHaveTextContent(/you lack itevery part agrees/)
  expect(await row(3)).toHaveTextContent(/Two works may fitto settle/)
  expect(await row(4)).toHaveTextContent(/No work foundunknown · say what it isRegister of Titles could not be asked\./)
  expect(screen.getByText('For 1 entry not everybody could be asked.')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'to settle 1' }))
  expect(screen.getAllByRole('listitem')).toHaveLength(1)
  answers['POST /inquiries/1/pointers'] = {
    records: 1,
    newWorks: 1,
    known: 0,
    asked: 0,
    arrival: 3,
    works: [],
    revision: 9,
  }
  await userEvent.click(screen.getByRole('button', { name: 'Bring 1 into the pool' }))
  await waitFor(() => expect(posted('/inquiries/1/pointers')[0]!.body).toEqual({ nodes: [32] }))
})

test('a doubtful entry is settled beside its works by a key, taken back, and one goes on by keys', async () => {
  open(Trace, 'trace?entries=5')
  await userEvent.click(within(await row(3)).getByRole('button', { name: 'Two works may fit' }))
  const panel = screen.getByRole('group', { name: 'Entry 3 beside the works that it may mean' })
  expect(panel).toHaveFocus()
  expect(panel).toHaveTextContent(/50% likely/)
  expect(within(panel).getAllByText('begins alike')).toHaveLength(1)
  expect(within(panel).getAllByText('differs').length).toBeGreaterThan(0)
  await userEvent.keyboard('{ArrowRight}')
  await waitFor(() => expect(puts()).toEqual([{ means: 'this', node: 34 }]))
  await userEvent.click(await screen.findByRole('button', { name: 'Undo' }))
  await waitFor(() => expect(puts()[1]).toEqual({ means: 'as found' }))
  // by keys to the first, and decided there
  answers['POST /inquiries/1/decisions'] = { revision: 3 }
  await userEvent.keyboard('{ArrowUp}{ArrowUp}f')
  await waitFor(() => expect(posted('/inquiries/1/decisions')).toHaveLength(1))
})

test('the words of an entry are put right, and it is kept as it is printed', async () => {
  answers['POST /inquiries/1/lists/5/entries/4'] = { id: 5, job: 10 }
  answers['PUT /inquiries/1/lists/5/entries/4'] = { node: 40 }
  open(Trace, 'trace?entries=5')
  await userEvent.click(within(await row(4)).getByRole('button', { name: 'No work found' }))
  await userEvent.click(screen.getByRole('button', { name: 'Keep it as printed' }))
  await waitFor(() => expect(puts()).toEqual([{ means: 'as printed' }]))
  await userEvent.click(within(await row(4)).getByRole('button', { name: 'No work found' }))
  const words = screen.getByRole('textbox')
  await userEvent.type(words, ' 1998')
  await userEvent.click(screen.getByRole('button', { name: 'Look again' }))
  await waitFor(() =>
    expect(posted('/inquiries/1/lists/5/entries/4')[0]!.body).toEqual({
      text: 'Lamp Committee. Return of lamps. 1998',
    }),
  )
})

test('where the index disagrees, both are told; a list is taken out after asking', async () => {
  answers['GET /inquiries/1/lists/5'] = list({
    work: 1,
    copy: 3,
    indexDay: '2026-10-05',
    entries: [
      { ...four[0]!, inIndex: true },
      { ...four[1]!, inIndex: false },
    ],
    indexOnly: [3],
  })
  answers['DELETE /inquiries/1/lists/5'] = {}
  open(Trace, 'trace?entries=5')
  expect(
    await screen.findByText(
      /has 1 of these among the work’s references. 1 stands in the list alone, 1 in the index alone/,
    ),
  ).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Which' }))
  expect(screen.getByText('Light at night')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Take out this list' }))
  expect(sent.some(s => s.method === 'DELETE')).toBe(false)
  await userEvent.click(screen.getByRole('button', { name: 'Take it out' }))
  await waitFor(() => expect(sent.filter(s => s.method === 'DELETE')).toHaveLength(1))
})

test('a list is pasted, or read from a file; what is a PDF is told where it belongs', async () => {
  answers['POST /inquiries/1/lists'] = { id: 5, job: 9 }
  open(Trace, 'trace')
  await userEvent.click(await screen.findByRole('button', { name: 'Lists' }))
  expect(screen.getByRole('button', { name: 'Find its works' })).toBeDisabled()
  const file = screen.getByLabelText('A text file with the references')
  await userEvent.upload(file, new File(['%PDF-1.7 …'], 'draft.pdf'))
  expect(await screen.findByText(/is a PDF\. Drop it on its work in Obtain/)).toBeInTheDocument()
  await userEvent.upload(file, new File(['Okafor A. (2001) Moths.'], 'draft.txt'))
  expect(await screen.findByDisplayValue('Okafor A. (2001) Moths.')).toBeInTheDocument()
  await userEvent.selectOptions(screen.getByLabelText('Whose list it is'), '1')
  await userEvent.click(screen.getByRole('button', { name: 'Find its works' }))
  await waitFor(() =>
    expect(posted('/inquiries/1/lists')[0]!.body).toEqual({ text: 'Okafor A. (2001) Moths.', name: 'draft', work: 1 }),
  )
  expect(await screen.findByRole('heading', { name: 'A draft' })).toBeInTheDocument()
})
