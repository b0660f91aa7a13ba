/** @jest-environment jsdom */
import { beforeEach, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { GraphAnswer, Standing } from '../../core/schema/api'
import { Standing as StandingInLog } from '../stations/gather/standing'
import { Trace } from '../stations/trace/trace'
import { answers, inquiry, open, posted, sent, work } from './rig'

const pointer = (id: number, title: string): GraphAnswer['nodes'][number] => ({
  ...{ id, work: null, year: 2026, citedBy: 0, field: null, round: 4 },
  pointer: {
    ...{ title, authors: 'Ferrow', container: 'Korrin Review', kind: 'research article', confidence: 0.9 },
    ...{ language: null, doi: `10.5555/p${id}`, references: null, perYear: null, reach: 'out of reach' },
  },
})
const own = (id: number): GraphAnswer['nodes'][number] => ({
  ...{ id, work: id, year: 2015, citedBy: 3, field: null, round: null, pointer: null },
})
const graph: GraphAnswer = {
  ...{ from: 'Lampyr Citations', stamp: '1', fields: [], citing: [50, 50, 51].map(n => n - 48), cited: [0, 1, 0] },
  nodes: [own(1), own(2), pointer(50, 'Newly lit'), pointer(51, 'Lit again')],
  walks: [],
  rounds: [
    {
      ...{ id: 4, n: null, isStanding: true, scope: 'kept', of: null, day: '2026-10-12', job: 1, trails: 2, left: 0 },
      ...{ planned: 2, calls: 2, found: 2, fresh: 2 },
    },
  ],
}
const walked = {
  ...{ node: 0, direction: 'cited-by' as const, round: 4, total: 1, got: 1, trouble: null, day: '2026-10-05' },
}
const standing: Standing = {
  ...{ id: 3, inquiryId: 1, name: 'What cites mine', query: null, catalogues: [], scope: 'kept', of: null },
  ...{ everyDays: 7, nextDay: '2026-10-19', mails: true, paused: false, at: '2026-10-05T10:00:00Z' },
  feed: '/api/feeds/abc.atom',
  runs: [{ id: 4, deskDay: '2026-10-12', foundNew: 2, at: '2026-10-12T10:00:00Z' }],
}
beforeEach(() => {
  answers['GET /inquiries/1/works'] = [1, 2].map(id => work(id, { state: 'kept', sweeps: [1] }))
  answers['GET /inquiries/1/strands'] = [{ id: 8, name: 'What lamps change', place: 0 }]
  answers['GET /inquiries/1/graph'] = graph
  answers['GET /inquiries/1/standing'] = []
  answers['GET /inquiries/1/standing/news'] = []
  answers['GET /inquiries/1/rounds/plan'] = {
    ...{ n: 1, origins: 2, trails: 4, calls: 9, comparing: 0, withoutDoi: [3], walked: 0 },
  }
})

test('one asks to be told what cites the kept works, of a strand, or of one work', async () => {
  answers['POST /inquiries/1/standing/trails'] = () => ({ status: 201, body: { ...standing, job: 1 } })
  open(Trace, 'trace')
  await userEvent.click(await screen.findByRole('button', { name: 'Standing trails' }))
  expect(await screen.findByText('Nobody watches for you yet')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Tell me what cites these …' }))
  const form = screen.getByRole('form', { name: 'Have it told what cites these' })
  expect(within(form).getByLabelText('Name of the standing trail')).toHaveValue('What cites my kept works')
  expect(await within(form).findByText('2 works are asked about; 1 without a DOI on record is left out.')).toBeVisible()
  await userEvent.selectOptions(within(form).getByLabelText('Whose trails'), 'On the strand “What lamps change”')
  expect(within(form).getByLabelText('Name of the standing trail')).toHaveValue('What cites “What lamps change”')
  await userEvent.selectOptions(within(form).getByLabelText('How often it runs'), '30')
  answers['GET /inquiries/1/standing'] = [standing]
  await userEvent.click(within(form).getByRole('button', { name: 'Keep it running' }))
  expect(posted('/inquiries/1/standing/trails').map(s => s.body)).toEqual([
    { scope: 'strand', of: 8, name: 'What cites “What lamps change”', everyDays: 30, mails: true },
  ])
  expect(await screen.findByRole('group', { name: 'Standing trail What cites mine' })).toBeInTheDocument()
  expect(screen.queryByRole('form', { name: 'Have it told what cites these' })).toBeNull()
  expect(screen.getByText('Nothing new so far')).toBeInTheDocument()
})

test('where none of them can be asked about it says so, and nothing is begun', async () => {
  answers['GET /inquiries/1/rounds/plan'] = {
    ...{ n: 1, origins: 0, trails: 0, calls: 0, comparing: 0, withoutDoi: [1, 2], walked: 0 },
  }
  open(Trace, 'trace?list=new')
  await userEvent.click(await screen.findByRole('button', { name: 'Tell me what cites these …' }))
  expect(
    await screen.findByText('None of these can be asked about; 2 without a DOI on record are left out.'),
  ).toBeVisible()
  expect(screen.getByRole('button', { name: 'Keep it running' })).toBeDisabled()
})

test('what is new stands with its day and what it cites, is counted until it is decided on, and is decided by key', async () => {
  answers['GET /inquiries/1/standing'] = [standing]
  answers['GET /inquiries/1/standing/news'] = [
    { node: 50, round: 4, day: '2026-10-12', cites: [1, 2] },
    { node: 51, round: 4, day: '2026-10-12', cites: [1] },
    // of a graph that has moved on
    { node: 99, round: 4, day: '2026-10-12', cites: [98] },
  ]
  answers['POST /inquiries/1/pointers'] = {
    ...{ records: 1, newWorks: 1, known: 0, asked: 0, arrival: 3, works: [], revision: 9 },
  }
  open(Trace, 'trace')
  const button = await screen.findByRole('button', { name: 'Standing trails 2 new' })
  await userEvent.click(button)
  const list = await screen.findByRole('list', { name: 'What newly cites your works' })
  const rows = within(list).getAllByRole('listitem')
  expect(rows).toHaveLength(2)
  expect(rows[0]).toHaveTextContent(/Newly lit.*new on 12 Oct · cites .+ and 1 more of yours/)
  expect(screen.getByText('2 new, 12 Oct 2026')).toBeInTheDocument()
  await userEvent.keyboard('nj')
  await waitFor(() =>
    expect(posted('/inquiries/1/pointers').map(s => s.body)).toMatchObject([{ nodes: [50], choice: 'keep' }]),
  )
  await userEvent.click(screen.getByRole('button', { name: 'Back to the lists' }))
  expect(await screen.findByRole('tab', { name: /^You lack/ })).toBeInTheDocument()
})

test('what came by standing trails is told apart from rounds', async () => {
  answers['GET /inquiries/1/works'] = [
    ...[1, 2].map(id => work(id, { state: 'kept', sweeps: [1] })),
    work(50, { state: 'kept', sources: ['Lampyr Citations'] }),
  ]
  answers['GET /inquiries/1/graph'] = {
    ...graph,
    nodes: graph.nodes.map(n => (n.id === 50 ? { ...n, work: 50, pointer: null } : n)),
  }
  open(Trace, 'trace')
  const table = await screen.findByRole('table', { name: /^New works in the pool/ })
  expect(within(table).getByRole('rowheader', { name: 'standing trails' })).toBeInTheDocument()
  // what came by trails alone has words that the sheet may lack
  cleanup()
  answers['GET /inquiries/1/graph'] = { ...graph, walks: [walked] }
  open(Trace, 'trace')
  expect(await screen.findByRole('link', { name: 'Words of the 1 that no sweep met' })).toHaveAttribute(
    'href',
    '/inquiries/1/gather?harvest=missed',
  )
})

test('kept works that no trail ties to another are named, with what is known of their ties', async () => {
  answers['GET /inquiries/1/graph'] = { ...graph, walks: [walked] }
  open(Trace, 'trace')
  await userEvent.click(await screen.findByRole('link', { name: 'The 2 that only sweeps found' }))
  const list = await screen.findByRole('list', { name: 'Kept, and tied to nothing you kept' })
  expect(list).toHaveTextContent(/its references are not known · cited by 2, none of them kept/)
  expect(list).toHaveTextContent(/its references are not known · cited by 1, none of them kept/)
  await userEvent.click(screen.getByRole('button', { name: 'Back to the lists' }))
  expect(await screen.findByRole('tab', { name: /^You lack/ })).toBeInTheDocument()
})

test('the log has sweeps and trails that stand, and leads to what is new; a reader changes nothing', async () => {
  const sweep: Standing = { ...standing, id: 4, name: 'Watch', query: 'moth*', catalogues: ['broadleaf'], scope: null }
  answers['GET /inquiries/1/standing'] = [
    standing,
    { ...sweep, runs: [] },
    { ...sweep, id: 7, name: 'Moths' },
    { ...standing, id: 5, name: 'Broken', runs: [{ ...standing.runs[0]!, foundNew: null }, ...standing.runs] },
    { ...standing, id: 6, name: 'First', runs: [{ ...standing.runs[0]!, foundNew: 0 }] },
  ]
  const shown: number[] = []
  open(() => <StandingInLog show={run => void shown.push(run)} />, 'gather')
  expect(await screen.findByText('Standing sweeps and trails')).toBeInTheDocument()
  const row = (name: string) => screen.getByRole('group', { name: `Standing ${name}` })
  expect(within(row('sweep Watch')).getByText('not run yet')).toBeVisible()
  expect(within(row('trail Broken')).getByText('its run of 12 Oct 2026 has not ended')).toBeVisible()
  expect(within(row('trail First')).getByText(/^first run done/)).toBeVisible()
  await userEvent.click(within(row('sweep Moths')).getByRole('button', { name: '2 new, 12 Oct 2026' }))
  expect(shown.splice(0)).toEqual([4])
  await userEvent.click(within(row('trail What cites mine')).getByRole('button', { name: '2 new, 12 Oct 2026' }))
  await waitFor(() => expect(screen.queryByText('Standing sweeps and trails')).toBeNull())
  expect(shown).toEqual([])
  cleanup()
  answers['GET /inquiries/1'] = { ...inquiry, role: 'reader' }
  open(Trace, 'trace?list=new')
  await screen.findByRole('group', { name: 'Standing trail What cites mine' })
  expect(screen.queryByRole('button', { name: 'Run now' })).toBeNull()
  expect(screen.queryByRole('button', { name: 'Watch others too …' })).toBeNull()
  expect(sent.filter(s => s.method !== 'GET')).toEqual([])
})
