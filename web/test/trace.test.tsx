/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, expect, test } from '@jest/globals'
import { act, cleanup, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { GraphAnswer } from '../../core/schema/api'
import { Trace } from '../stations/trace/trace'
import { answers, inquiry, open, sent, sheet, tellJob, work } from './rig'

type Node = GraphAnswer['nodes'][number]
const pointer = (id: number, title: string, more: Partial<Node> = {}): Node => ({
  ...{ id, work: null, year: 2001, citedBy: 60, field: 'night', round: 1 },
  pointer: {
    ...{ title, authors: 'Wexcombe and 2 more', container: 'Night Papers', kind: 'research article', confidence: 0.9 },
    ...{ language: 'en', doi: `10.5555/x.${id}`, references: 12, perYear: 2.4, reach: 'within reach' },
  },
  ...more,
})
const own = (id: number, w: number): Node => ({
  id,
  work: w,
  year: 2000 + w,
  citedBy: 9,
  field: 'night',
  round: null,
  pointer: null,
})
const round = {
  isStanding: false,
  id: 4,
  n: 1,
  scope: 'kept' as const,
  of: null,
  day: '2026-10-05',
  job: 7,
  trails: 8,
  left: 0,
  planned: 12,
  calls: 12,
  found: 3,
  fresh: 3,
}
const graph = (more: Partial<GraphAnswer> = {}): GraphAnswer => ({
  from: 'Lampyr Citations',
  stamp: '1',
  nodes: [
    own(1, 1),
    own(2, 2),
    own(3, 3),
    own(4, 4),
    pointer(50, 'Lamps in the allotment'),
    pointer(51, 'A null model', { year: 2024 }),
  ],
  // all four cite the first pointer, one cites the second and another kept work
  citing: [0, 1, 2, 3, 0, 3],
  cited: [4, 4, 4, 4, 5, 0],
  walks: [0, 1, 2, 3].map(node => ({
    node,
    direction: 'references',
    round: 4,
    total: 1,
    got: 1,
    trouble: null,
    day: '2026-10-05',
  })),
  rounds: [round],
  fields: Array.from({ length: 40 }, (_, i) => ({
    field: 'night',
    year: 1987 + i,
    works: 100,
    counts: [
      [0, 50],
      [80, 50],
    ],
  })),
  ...more,
})
const plan = { n: 2, origins: 2, trails: 4, calls: 9, comparing: 30, withoutDoi: [3], walked: 4 }
const posted = (path: string) => sent.filter(s => s.method === 'POST' && s.path === path).map(s => s.body)

beforeEach(() => {
  answers['GET /inquiries/1/works'] = [1, 2, 3, 4].map(id =>
    work(id, { state: 'kept', sweeps: [1], strands: id < 3 ? [8] : [9] }),
  )
  answers['GET /inquiries/1/strands'] = [
    { id: 8, name: 'What lamps change', place: 0 },
    { id: 9, name: 'Which hours', place: 1 },
  ]
  answers['GET /inquiries/1/graph'] = graph()
  answers['GET /inquiries/1/rounds/plan'] = plan
  answers['POST /inquiries/1/pointers'] = {
    records: 1,
    newWorks: 1,
    known: 0,
    asked: 0,
    arrival: 3,
    works: [],
    revision: 9,
  }
})

const rows = (name: string) =>
  screen.findAllByRole('listitem').then(() => within(screen.getByRole('list', { name })).getAllByRole('listitem'))

test('shows what is lacking with the numbers it is ranked by, and keeps it by key in one step', async () => {
  open(Trace, 'trace')
  const [first, ...rest] = await rows('You lack')
  expect(rest).toEqual([])
  expect(first).toHaveTextContent('Lamps in the allotment')
  expect(first).toHaveTextContent(
    /4 of your 4 cite it · its fame is not known · 2\.\d a year · above 50% of its field and year/,
  )
  await userEvent.keyboard('{ArrowDown}j')
  await waitFor(() => expect(posted('/inquiries/1/pointers')).toHaveLength(1))
  const [sentOne] = posted('/inquiries/1/pointers') as { nodes: number[]; group: string; choice: string }[]
  expect(sentOne).toMatchObject({ nodes: [50], choice: 'keep' })
  expect(await screen.findByText(/Kept, and brought into the pool/)).toBeInTheDocument()
  await userEvent.keyboard('u')
  await waitFor(() => expect(posted('/inquiries/1/undo')).toHaveLength(1))
  expect(posted('/inquiries/1/undo')[0]).toMatchObject({ group: sentOne!.group })
})

test('lists stay those of the work they speak of while one goes through them, until it is looked from another', async () => {
  open(Trace, 'trace?list=references&from=1')
  expect((await rows('References')).map(r => r.querySelector('button')!.textContent)).toEqual([
    'Lamps in the allotment',
    'A null model',
  ])
  await userEvent.keyboard('{ArrowDown}{ArrowDown}')
  const list = screen.getByRole('list', { name: 'References' })
  expect(within(list).getAllByRole('listitem')[1]).toHaveAttribute('data-current')
  expect(within(list).getAllByRole('listitem')).toHaveLength(2)
  await userEvent.click(screen.getByRole('button', { name: 'Chain to it' }))
  expect(await screen.findByText('Okafor 2001 cites Wexcombe 2024, “A null model”.')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Look from here' }))
  await userEvent.click(screen.getByRole('tab', { name: 'Cited by' }))
  expect((await rows('Cited by')).map(r => r.querySelector('button')!.textContent)).toEqual(['Moths at lamp 1'])
  // a work of the pool is decided as everywhere
  await userEvent.keyboard('{ArrowDown}f')
  await waitFor(() => expect(posted('/inquiries/1/decisions')).toHaveLength(1))
})

test('many are chosen and brought, and limits say what they leave', async () => {
  open(Trace, 'trace?list=references&from=1')
  await rows('References')
  await userEvent.click(screen.getByRole('button', { name: 'Choose all shown' }))
  await userEvent.click(screen.getByRole('button', { name: 'Bring 2 into the pool' }))
  await waitFor(() => expect(posted('/inquiries/1/pointers')).toEqual([{ nodes: [50, 51] }]))
  await userEvent.click(screen.getByRole('button', { name: 'Order and limits' }))
  await userEvent.selectOptions(screen.getByLabelText('Since'), '2021')
  expect((await rows('References')).map(r => r.querySelector('button')!.textContent)).toEqual(['A null model'])
  await userEvent.selectOptions(screen.getByLabelText('Text'), 'in hand')
  expect(await screen.findByText('The limits leave nothing')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Lift them' }))
  expect(await rows('References')).toHaveLength(2)
})

test('arrow keys lead along citations and between strands, and Enter opens the work', async () => {
  open(Trace, 'trace?from=4')
  const trellis = await screen.findByRole('application', { name: /Trellis/ })
  const on = () => trellis.querySelector('[data-on]')?.getAttribute('data-leaf')
  await waitFor(() => expect(on()).toBe('3'))
  trellis.focus()
  await userEvent.keyboard('{ArrowLeft}')
  await waitFor(() => expect(on()).toBe('0'))
  await userEvent.keyboard('{ArrowRight}')
  await waitFor(() => expect(on()).toBe('3'))
  await userEvent.keyboard('{ArrowUp}')
  await waitFor(() => expect(on()).toBe('1'))
  answers['GET /inquiries/1/works/2'] = sheet(work(2))
  await userEvent.keyboard('{Enter}')
  expect(await screen.findByRole('dialog', { name: 'Work sheet' })).toBeInTheDocument()
})

test('a round says what it asks and may bring, shows how far it is, and is gone on with where it was left', async () => {
  open(Trace, 'trace')
  await userEvent.click(await screen.findByRole('button', { name: 'Walk round 2' }))
  const dialog = await screen.findByRole('dialog', { name: 'Walk round 2' })
  await within(dialog).findByText(/About/)
  expect(dialog).toHaveTextContent(/4 trails of 2 works/)
  expect(dialog).toHaveTextContent(/About 9 calls to Lampyr Citations, and at most 30 calls to compare/)
  expect(dialog).toHaveTextContent(/1 work has no DOI on record/)
  await waitFor(() => expect(dialog).toHaveTextContent(/By the rounds so far it brings about/))
  answers['POST /inquiries/1/rounds'] = { job: 9, round: 5 }
  await userEvent.selectOptions(within(dialog).getByLabelText('Whose trails'), 'On the strand “Which hours”')
  await userEvent.click(within(dialog).getByRole('button', { name: 'Walk 4 trails' }))
  await waitFor(() => expect(posted('/inquiries/1/rounds')).toEqual([{ scope: 'strand', of: 9 }]))
  const job = { id: 9, kind: 'round', payload: { round: 5 }, result: null, error: null, cancelAsked: false }
  act(() => tellJob({ ...job, state: 'running', progress: { done: 1, of: 4, found: 61, calls: 3 } }))
  expect(await screen.findByText('Walking: 1 of 4 trails, 61 found, 3 calls')).toBeInTheDocument()
  answers['GET /inquiries/1/graph'] = graph({
    stamp: '2',
    rounds: [round, { ...round, id: 5, n: 2, job: 9, trails: 4, left: 3 }],
  })
  act(() => tellJob({ ...job, state: 'failed', error: 'The index broke off.', progress: {} }))
  const notice = await screen.findByText(
    /The index broke off\. 3 trails of round 2 are not walked yet; the one that was walked is kept\./,
  )
  expect(notice).toBeInTheDocument()
  // a job that did end tells what it met, too
  answers['GET /inquiries/1/graph'] = graph({
    stamp: '3',
    rounds: [round, { ...round, id: 5, n: 2, job: 11, trails: 2, left: 2 }],
  })
  const trouble = 'The index is out of service.'
  act(() => tellJob({ ...job, id: 11, state: 'done', result: { trouble }, progress: {} }))
  expect(await screen.findByText(`${trouble} 2 trails of round 2 are not walked yet.`)).toBeInTheDocument()
  // walked to its end, with what was compared
  const unasked = '3 comparisons are left for the next round.'
  answers['GET /inquiries/1/graph'] = graph({
    stamp: '4',
    rounds: [round, { ...round, id: 5, n: 2, job: 11, trails: 2, left: 0, found: 61, fresh: 38 }],
  })
  act(() => tellJob({ ...job, id: 11, state: 'done', result: { unasked }, progress: {} }))
  expect(await screen.findByText('Round 2')).toBeInTheDocument()
  expect(screen.getByText('Round 2').parentElement).toHaveTextContent(`Round 2: 61 found, 38 new. ${unasked}`)
  answers['GET /inquiries/1/graph'] = graph({
    stamp: '5',
    rounds: [round, { ...round, id: 5, n: 2, job: 11, trails: 2, left: 2 }],
  })
  act(() => tellJob({ ...job, id: 11, state: 'done', result: { trouble }, progress: {} }))
  await screen.findByRole('button', { name: 'Walk on' })
  answers['POST /inquiries/1/rounds/5/walk'] = { job: 10 }
  await userEvent.click(screen.getByRole('button', { name: 'Walk on' }))
  await waitFor(() => expect(posted('/inquiries/1/rounds/5/walk')).toHaveLength(1))
})

test('the trellis as a table tells where each work stands, and works without a year are there', async () => {
  answers['GET /inquiries/1/works'] = [work(1, { state: 'kept', year: null }), work(4, { state: 'kept' })]
  answers['GET /inquiries/1/strands'] = []
  answers['GET /inquiries/1/graph'] = graph({
    nodes: [{ ...own(1, 1), year: null }, own(4, 4)],
    citing: [],
    cited: [],
    walks: [],
  })
  open(Trace, 'trace')
  expect(await screen.findByText(/1 without a year stands in the table/)).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'As a table' }))
  const table = screen.getByRole('table', { name: 'Kept works' })
  expect(within(table).getByRole('row', { name: /Moths at lamp 1 no year/ })).toBeInTheDocument()
  expect(screen.queryByText(/Left out of the main path/)).toBeNull()
})

test('the table names the other strands of a work, own or suggested', async () => {
  answers['GET /inquiries/1/works'] = [1, 2, 3, 4].map(id =>
    work(id, { state: 'kept', strands: id === 1 ? [8, 9] : id < 3 ? [8] : [9] }),
  )
  open(Trace, 'trace')
  await userEvent.click(await screen.findByRole('button', { name: 'As a table' }))
  expect(within(screen.getByRole('row', { name: /^Moths at lamp 1 / })).getByText('also “Which hours”')).toBeVisible()
  expect(screen.getAllByText(/^also /)).toHaveLength(1)
  cleanup()
  // one that is tied to both groups as strongly
  const ids = [1, 2, 3, 4, 5, 6, 7, 8, 9]
  answers['GET /inquiries/1/strands'] = []
  answers['GET /inquiries/1/works'] = ids.map(id =>
    work(id, { state: 'kept', title: `${id < 5 ? 'Lamp posts' : id < 9 ? 'Moth wings' : 'Lamp wings'} ${id}` }),
  )
  answers['GET /inquiries/1/graph'] = graph({
    nodes: [...ids.map(id => own(id, id)), pointer(50, 'A'), pointer(51, 'B')],
    citing: [...ids.map((_, i) => i), 8],
    cited: [...ids.map(id => (id < 5 ? 9 : 10)), 9],
  })
  open(Trace, 'trace')
  await userEvent.click(await screen.findByRole('button', { name: 'As a table' }))
  expect(within(screen.getByRole('row', { name: /^Lamp wings 9 / })).getByText(/^also “/)).toBeVisible()
})

test('before the first round it says what a round is for, and a reader sees no way to walk one', async () => {
  answers['GET /inquiries/1/graph'] = graph({ nodes: [], citing: [], cited: [], walks: [], rounds: [], fields: [] })
  answers['GET /inquiries/1'] = { ...inquiry, role: 'reader' }
  open(Trace, 'trace')
  expect(await screen.findByText('No trail was walked yet')).toBeInTheDocument()
  expect(screen.queryByRole('button', { name: /Walk/ })).toBeNull()
})

test('the trails are saved as a drawing with its colours, as a table and for other programs', async () => {
  const user = userEvent.setup()
  open(Trace, 'trace')
  await screen.findByRole('application', { name: /^Trellis/ })
  await user.click(screen.getByRole('button', { name: 'Save …' }))
  expect(await screen.findByRole('menuitem', { name: /as a table/ })).toHaveAttribute(
    'href',
    '/api/inquiries/1/citations.csv',
  )
  expect(screen.getByRole('menuitem', { name: /GraphML/ })).toHaveAttribute('href', '/api/inquiries/1/graph.graphml')
  const saved: Blob[] = []
  URL.createObjectURL = blob => (saved.push(blob as Blob), '#saved')
  URL.revokeObjectURL = () => undefined
  await user.click(screen.getByRole('menuitem', { name: /SVG/ }))
  expect(saved[0]!.type).toBe('image/svg+xml')
  const text = await new Promise<string>(done => {
    const reader = new FileReader()
    reader.onload = () => done(String(reader.result))
    reader.readAsText(saved[0]!)
  })
  const { documentElement } = new DOMParser().parseFromString(text, 'image/svg+xml')
  expect(documentElement.namespaceURI).toBe('http://www.w3.org/2000/svg')
  expect(text).not.toContain('var(--chakra')
})

test('suggested strands are taken with their works', async () => {
  const ids = [1, 2, 3, 4, 5, 6, 7, 8]
  answers['GET /inquiries/1/works'] = ids.map(id =>
    work(id, { state: 'kept', title: id < 5 ? `Lamp posts ${id}` : `Moth wings ${id}` }),
  )
  answers['GET /inquiries/1/strands'] = []
  const nodes = [...ids.map(id => own(id, id)), pointer(50, 'A'), pointer(51, 'B')]
  answers['GET /inquiries/1/graph'] = graph({
    nodes,
    citing: ids.map((_, i) => i),
    cited: ids.map(id => (id < 5 ? 8 : 9)),
  })
  answers['POST /inquiries/1/strands'] = (body: unknown) => ({
    status: 201,
    body: { id: 21, place: 0, ...(body as object) },
  })
  open(Trace, 'trace')
  expect(await screen.findByText(/on 2 suggested strands/)).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Take these strands' }))
  await waitFor(() => expect(posted('/inquiries/1/strands')).toHaveLength(2))
  await waitFor(() => expect(posted('/inquiries/1/marks').length).toBeGreaterThan(0))
  const [{ marks }] = posted('/inquiries/1/marks') as { marks: { about: string }[] }[] as [
    { marks: { about: string }[] },
  ]
  expect(marks).toHaveLength(4)
})

test('the work sheet shows how a work was come upon, as a line that can be walked back', async () => {
  answers['GET /inquiries/1/works/1'] = { ...sheet(work(1)), byTrail: true }
  answers['GET /inquiries/1/works/1/trail'] = [
    {
      work: 1,
      title: 'Moths at lamp 1',
      authors: 'Okafor',
      year: 2001,
      direction: 'references',
      round: 2,
      day: '2026-10-05',
    },
    { work: 3, title: 'Moths at lamp 3', authors: 'Okafor', year: 2003, direction: null, round: null, day: null },
  ]
  open(Trace, 'trace?work=1')
  const came = await screen.findByText(/from the references of/)
  expect(came).toHaveTextContent('from the references of Moths at lamp 3 · Okafor · 2003 · round 2 · 2026-10-05')
  await userEvent.click(within(came).getByRole('button', { name: 'Moths at lamp 3' }))
  await waitFor(() => expect(sent.some(r => r.path === '/inquiries/1/works/3')).toBe(true))
})

test('a citation by an older work is left out of the main path, and named', async () => {
  // lamp 1 is of 2001, lamp 4 of 2004
  answers['GET /inquiries/1/graph'] = graph({ citing: [0, 3], cited: [3, 2] })
  open(Trace, 'trace')
  await userEvent.click(await screen.findByRole('button', { name: 'As a table' }))
  expect(await screen.findByText(/Left out of the main path/)).toHaveTextContent('Okafor 2001 cites Okafor 2004.')
  expect(screen.getByRole('row', { name: /Moths at lamp 4 2004 .* on the path/ })).toBeInTheDocument()
})
