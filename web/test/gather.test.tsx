/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, describe, expect, test } from '@jest/globals'
import { act, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { emptySheet, type Sheet } from '../../core/query/sheet'
import type { FoundRecord, Sweep } from '../../core/schema/api'
import { Gather } from '../stations/gather/gather'
import { answers, open, posted, sent, tellJob, work } from './rig'

const sweep: Sweep = {
  id: 9,
  query: 'moth* lamp*',
  cql: 'moth* and lamp*',
  repairs: [],
  deskDay: '2026-10-05',
  name: null,
  note: null,
  standingId: null,
  foundNew: null,
  toldAt: null,
  at: '2026-10-05T10:00:00Z',
  catalogues: [
    {
      catalogue: 'broadleaf',
      name: 'Broadleaf Index',
      asked: 'moth* and lamp*',
      changes: [],
      state: 'done',
      count: 3,
      fetched: 2,
      unread: 1,
      error: null,
    },
    {
      catalogue: 'civic',
      name: 'Civic Paper File',
      asked: null,
      changes: ['It cannot truncate: "moth*" is asked as "moth".'],
      state: 'failed',
      count: null,
      fetched: 0,
      unread: 0,
      error: 'civic.example is out of service for the moment (503).',
    },
  ],
}
const found = (id: number, more: Partial<FoundRecord> = {}): FoundRecord => ({
  id,
  catalogue: 'broadleaf',
  item: { id: '', type: 'article-journal', title: `Record ${id} of moths` },
  kind: 'research article',
  confidence: 0.9,
  isNew: false,
  within: true,
  work: null,
  state: null,
  pages: 9,
  refereed: true,
  perYear: null,
  ...more,
})

const term = (text: string, more: object = {}) => ({ id: text, text, role: 'main', on: true, ending: true, ...more })
const lamps: Sheet = {
  ...emptySheet(),
  concepts: [
    { id: 'a', name: 'moths', terms: [term('moth')] },
    { id: 'b', name: 'lamps', terms: [term('lamp'), term('light', { on: false, role: 'broader' })] },
  ] as Sheet['concepts'],
}
/** Counts by query, as the catalogues would give them. */
const numbers: Record<string, [number, number]> = {
  'moth*': [400, 900],
  'lamp*': [90, 120],
  'moth* and lamp*': [30, 50],
  'moth* not lamp*': [370, 850],
}
const saved = () => sent.filter(s => s.method === 'PUT' && s.path === '/inquiries/1/sheet').map(s => s.body as Sheet)

describe('Gather', () => {
  beforeEach(() => {
    answers['GET /inquiries/1/sweeps'] = [sweep]
    answers['GET /inquiries/1/sweeps/9/records'] = [found(11), found(12), found(13, { work: 3, state: 'kept' })]
    answers['GET /inquiries/1/sheet'] = { sheet: lamps, version: 4, offered: ['street lamps', 'moths'] }
    answers['GET /inquiries/1/standing'] = []
    answers['POST /inquiries/1/years'] = {
      years: [
        { year: 1990, n: 4 },
        { year: 2020, n: 16 },
      ],
      told: ['broadleaf'],
    }
    answers['PUT /inquiries/1/sheet'] = (sheet: unknown) => ({ body: { sheet, version: 5, offered: [] } })
    answers['POST /inquiries/1/counts'] = ({ query }: { query: string }) => {
      const [least, most] = numbers[query] ?? [0, 0]
      return {
        body: {
          least,
          most,
          counts: [
            { catalogue: 'broadleaf', count: least, changes: [], error: null },
            { catalogue: 'civic', count: most - least, changes: ['It cannot truncate.'], error: null },
          ],
        },
      }
    }
  })
  test('shows concepts with their terms and counts, and the query as sentence and as text', async () => {
    open(Gather, 'gather')
    const concept = await screen.findByRole('group', { name: 'Concept: lamps' })
    expect(within(concept).getByRole('switch', { name: 'lamp*, main' })).toBeChecked()
    expect(within(concept).getByRole('switch', { name: 'light*, broader' })).not.toBeChecked()
    expect(await within(concept).findByText('90')).toBeInTheDocument()
    expect(screen.getByLabelText('Query, in plain words or CQL')).toHaveValue('moth* and lamp*')
  })
  test('a term is switched, added and taken out with an undo, and the sheet is saved against its version', async () => {
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('switch', { name: 'light*, broader' }))
    expect(screen.getByLabelText('Query, in plain words or CQL')).toHaveValue('moth* and (lamp* or light*)')
    await userEvent.type(screen.getByLabelText('Add a term to moths'), 'Sphingidae, hawk moth*{Enter}')
    expect(screen.getByLabelText('Query, in plain words or CQL')).toHaveValue(
      '(moth* or Sphingidae or "hawk moth*") and (lamp* or light*)',
    )
    await waitFor(() =>
      expect(
        saved()
          .at(-1)!
          .concepts[0]!.terms.map(t => t.text),
      ).toEqual(['moth', 'Sphingidae', 'hawk moth']),
    )
    expect(sent.find(s => s.method === 'PUT')!.headers.get('If-Match')).toBe('"4"')
    await userEvent.click(screen.getByRole('button', { name: 'Take out the concept lamps' }))
    expect(screen.queryByRole('group', { name: 'Concept: lamps' })).toBeNull()
    await userEvent.click(await screen.findByRole('button', { name: 'Undo' }))
    expect(await screen.findByRole('group', { name: 'Concept: lamps' })).toBeInTheDocument()
  })
  test('records that could not be read are shown as they came', async () => {
    answers['GET /inquiries/1/sweeps/9/unread'] = [
      { catalogue: 'broadleaf', position: 3, why: 'It is no XML.', raw: '<<title>Lamps' },
      { catalogue: 'civic', position: 1, why: 'It is empty.', raw: '' },
    ]
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('button', { name: 'One record could not be read' }))
    const dialog = within(await screen.findByRole('dialog', { name: 'Not read of Broadleaf Index' }))
    expect(await dialog.findByText('<<title>Lamps')).toBeInTheDocument()
    expect(dialog.getByText(/It is no XML/)).toBeInTheDocument()
    expect(dialog.queryByText(/It is empty/)).toBeNull()
  })
  test('a catalogue that counts nothing says on which rung the last was lost', async () => {
    answers['POST /inquiries/1/counts'] = ({ query }: { query: string }) => ({
      body: {
        least: 12,
        most: 12,
        counts: [
          { catalogue: 'broadleaf', count: 12, changes: [], error: null },
          { catalogue: 'civic', count: query === 'moth*' ? 12 : 0, changes: [], error: null },
        ],
      },
    })
    answers['GET /inquiries/1/sweeps'] = []
    open(Gather, 'gather')
    expect(await screen.findByText('12 before “and lamps”, none with it.')).toBeInTheDocument()
  })
  test('a term is reworded in its place, as one or as more; given up, it stays as it was', async () => {
    open(Gather, 'gather')
    const query = () => screen.getByLabelText('Query, in plain words or CQL')
    await userEvent.dblClick(await screen.findByRole('switch', { name: 'lamp*, main' }))
    await userEvent.clear(screen.getByLabelText('Reword lamp*'))
    await userEvent.keyboard('lantern*, street lamp{Enter}')
    expect(query()).toHaveValue('moth* and (lantern* or "street lamp")')
    expect(screen.getByRole('switch', { name: 'lantern*, main' })).toBeChecked()
    screen.getByRole('switch', { name: 'lantern*, main' }).focus()
    await userEvent.keyboard('{F2}nothing{Escape}')
    expect(screen.getByRole('switch', { name: 'lantern*, main' })).toBeInTheDocument()
    expect(query()).toHaveValue('moth* and (lantern* or "street lamp")')
    await waitFor(() =>
      expect(
        saved()
          .at(-1)!
          .concepts.at(-1)!
          .terms.map(t => [t.text, t.ending ?? false]),
      ).toEqual([
        ['lantern', true],
        ['street lamp', false],
        ['light', true],
      ]),
    )
  })
  test('words of the question become concepts', async () => {
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('button', { name: 'street lamps' }))
    expect(screen.getByRole('group', { name: 'Concept: street lamps' })).toBeInTheDocument()
    expect(screen.queryByRole('button', { name: 'moths' })).toBeNull()
  })
  test('where another window was faster both sheets are kept, until the student chooses', async () => {
    const theirs = { ...lamps, concepts: lamps.concepts.slice(0, 1) }
    answers['PUT /inquiries/1/sheet'] = () => ({
      status: 412,
      body: {
        code: 'changed-elsewhere',
        title: 'The question sheet was changed in another window.',
        current: { sheet: theirs, version: 9, offered: [] },
      },
    })
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('switch', { name: 'light*, broader' }))
    expect(await screen.findByText(/The question sheet was changed in another window/)).toBeInTheDocument()
    expect(screen.getByRole('switch', { name: 'light*, broader' })).toBeChecked()
    answers['PUT /inquiries/1/sheet'] = (sheet: unknown) => ({ body: { sheet, version: 10, offered: [] } })
    await userEvent.click(screen.getByRole('button', { name: 'Keep mine' }))
    await waitFor(() => expect(screen.queryByText(/was changed in another window/)).toBeNull())
    await waitFor(() => expect(sent.findLast(s => s.method === 'PUT')!.headers.get('If-Match')).toBe('"9"'))
    expect(saved().at(-1)!.concepts).toHaveLength(lamps.concepts.length)
  })
  test('reads what is typed into the sheet, and marks a mistake where it is', async () => {
    open(Gather, 'gather')
    const box = await screen.findByLabelText('Query, in plain words or CQL')
    await userEvent.clear(box)
    await userEvent.type(box, 'bat* and (')
    expect(screen.getByText('A term is missing at the end.')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Use “bat*”' }))
    expect(box).toHaveValue('bat*')
    expect(screen.getByRole('switch', { name: 'bat*, main' })).toBeInTheDocument()
  })
  test('the ladder tells what each rung leaves and takes, and is put in another order', async () => {
    open(Gather, 'gather')
    const second = await screen.findByRole('group', { name: 'Rung 2: lamps' })
    expect(await within(second).findByText('30–50')).toBeInTheDocument()
    expect(await within(second).findByText('takes 850 away')).toBeInTheDocument()
    expect(screen.getByText('30–50 is reviewable.')).toBeInTheDocument()
    await userEvent.click(within(second).getByRole('button', { name: 'Move lamps up' }))
    expect(await screen.findByRole('group', { name: 'Rung 1: lamps' })).toBeInTheDocument()
    await waitFor(() => expect(saved().at(-1)!.order).toEqual(['b', 'a']))
    await userEvent.click(screen.getByRole('checkbox', { name: 'lamps: on' }))
    expect(screen.getByLabelText('Query, in plain words or CQL')).toHaveValue('moth*')
  })
  test('a rung opens to what it loses, and what of it the library reaches', async () => {
    const account = {
      least: 370, most: 850, looked: 60, exact: false,
      reach: { of: 60, within: 15, interval: [0.15, 0.38] },
      kinds: [{ value: 'magazine', n: 60 }], languages: [{ value: 'en', n: 60 }], years: [{ value: '1994', n: 60 }],
      examples: [{ item: { id: '', type: 'article-journal', title: 'A lost work' }, kind: 'magazine', within: true }],
    } // prettier-ignore
    answers['POST /inquiries/1/losses'] = { job: 5 }
    answers['GET /inquiries/1/jobs/5'] = { id: 5, kind: 'losses', state: 'done', result: account }
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('button', { name: /2.*and lamps/ }))
    const shown = await screen.findByRole('region', { name: 'What “lamps” takes away' })
    expect(shown).toHaveTextContent('takes away 370–850')
    expect(shown).toHaveTextContent('Of 60 drawn by chance, your library reaches 15: about 25% (15% to 38%)')
    expect(shown).toHaveTextContent('A lost work')
  })
  test('limits judged on records leave fewer of those fetched', async () => {
    answers['GET /inquiries/1/sheet'] = { sheet: { ...lamps, withAbstract: true }, version: 4, offered: [] }
    answers['GET /inquiries/1/sweeps/9/records'] = [
      found(11),
      found(12, { item: { id: '', type: 'article', title: 'Told', abstract: 'Yes.' } }),
    ]
    open(Gather, 'gather')
    const rung = await screen.findByRole('group', { name: 'Rung 3: has an abstract' })
    expect(await within(rung).findByText('of 2 fetched records')).toBeInTheDocument()
    expect(within(rung).getByText('1')).toBeInTheDocument()
    expect(screen.queryByText('Record 11 of moths')).toBeNull()
  })
  test('sweeps the chosen catalogues', async () => {
    answers['POST /inquiries/1/sweeps'] = { id: 10, job: 1 }
    answers['GET /inquiries/1/sweeps'] = []
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('checkbox', { name: 'Civic Paper File' }))
    await userEvent.click(screen.getByRole('button', { name: 'Sweep 1 catalogue' }))
    await waitFor(() =>
      expect(posted('/inquiries/1/sweeps')[0]!.body).toEqual({ query: 'moth* and lamp*', catalogues: ['broadleaf'] }),
    )
    expect(posted('/inquiries/1/sweeps')[0]!.headers.get('Idempotency-Key')).toBeTruthy()
  })
  test('who goes on to the log while a sweep begins slowly stays there', async () => {
    let begun = (_: { body: unknown }): void => undefined
    answers['POST /inquiries/1/sweeps'] = () => new Promise(done => (begun = done))
    answers['GET /inquiries/1/sweeps'] = []
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('tab', { name: 'Grid' }))
    await userEvent.click(screen.getByRole('button', { name: /^Sweep/ }))
    expect(screen.getByRole('tab', { name: 'Records' })).toHaveAttribute('aria-selected', 'true')
    await waitFor(() => expect(posted('/inquiries/1/sweeps')).toHaveLength(1))
    await userEvent.click(screen.getByRole('tab', { name: /^Log/ }))
    begun({ body: { id: 9, job: 1 } })
    answers['GET /inquiries/1/sweeps'] = [sweep]
    expect(await screen.findByRole('tab', { name: 'Log 1' })).toHaveAttribute('aria-selected', 'true')
  })
  test('names a failed catalogue, what it changed, and asks it again', async () => {
    answers['POST /inquiries/1/sweeps/9/fetch'] = { job: 2 }
    open(Gather, 'gather')
    expect(await screen.findByRole('alert')).toHaveTextContent('out of service')
    expect(screen.getByText('asked differently: one change')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Ask again' }))
    await waitFor(() => expect(posted('/inquiries/1/sweeps/9/fetch')[0]!.body).toEqual({ catalogue: 'civic' }))
  })
  test('says how much of a catalogue is fetched, and fetches more', async () => {
    answers['POST /inquiries/1/sweeps/9/fetch'] = { job: 2 }
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('button', { name: 'Fetch 1 more' }))
    await waitFor(() =>
      expect(posted('/inquiries/1/sweeps/9/fetch')[0]!.body).toEqual({ catalogue: 'broadleaf', most: 3 }),
    )
  })
  test('brings the chosen records into the pool, never those that are there', async () => {
    answers['POST /inquiries/1/pool'] = { records: 1, newWorks: 1, known: 0, asked: 2, arrival: 7 }
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('checkbox', { name: 'Choose: Record 12 of moths' }))
    expect(screen.queryByRole('checkbox', { name: 'Choose: Record 13 of moths' })).toBeNull()
    await userEvent.click(screen.getByRole('button', { name: 'Bring 1 into the pool' }))
    await waitFor(() => expect(posted('/inquiries/1/pool')[0]!.body).toEqual({ sweep: 9, all: false, records: [12] }))
    expect(await screen.findByRole('link', { name: '1 new work' })).toHaveAttribute(
      'href',
      '/inquiries/1/sift?view=list&came=7%20new',
    )
    expect(screen.getByRole('link', { name: '2 pairs to look at' })).toBeInTheDocument()
  })
  test('a work that several catalogues have is listed once, with all of them, and comes in with all its records', async () => {
    answers['POST /inquiries/1/pool'] = { records: 2, newWorks: 1, known: 0, asked: 0 }
    const item = {
      id: '',
      type: 'article-journal',
      title: 'Moths at the lamps of towns',
      DOI: '10.5555/m',
      author: [{ family: 'Okafor' }],
    }
    answers['GET /inquiries/1/sweeps/9/records'] = [
      found(11, { item }),
      found(12),
      found(13, { item: { ...item, abstract: 'Of lamps.' }, catalogue: 'civic' }),
    ]
    open(Gather, 'gather')
    await waitFor(() => expect(screen.getAllByRole('checkbox', { name: /^Choose/ })).toHaveLength(2))
    expect(screen.getByText(/, 2 works/)).toBeInTheDocument()
    expect(screen.getByText('and 1 more')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('checkbox', { name: 'Choose: Moths at the lamps of towns' }))
    await userEvent.click(screen.getByRole('button', { name: 'Keep 1' }))
    await waitFor(() =>
      expect(posted('/inquiries/1/pool')[0]!.body).toMatchObject({
        all: false,
        records: expect.arrayContaining([11, 13]),
      }),
    )
  })
  test('keeps or sets aside while bringing in, sorts, and shows abstracts', async () => {
    answers['POST /inquiries/1/pool'] = { records: 1, newWorks: 1, known: 0, asked: 0 }
    answers['GET /inquiries/1/sweeps/9/records'] = [
      found(11, {
        item: {
          id: '',
          type: 'article',
          title: 'Old boats',
          abstract: 'Of lamps and moths.',
          issued: { 'date-parts': [[1990]] },
        },
      }),
      found(12, { item: { id: '', type: 'article', title: 'Moths at lamps', issued: { 'date-parts': [[2020]] } } }),
    ]
    open(Gather, 'gather')
    const titles = () => screen.getAllByRole('checkbox', { name: /^Choose/ }).map(b => b.getAttribute('aria-label'))
    await waitFor(() => expect(titles()).toEqual(['Choose: Moths at lamps', 'Choose: Old boats']))
    await userEvent.selectOptions(screen.getByLabelText('Order of records'), 'oldest')
    expect(titles()).toEqual(['Choose: Old boats', 'Choose: Moths at lamps'])
    await userEvent.click(screen.getByRole('checkbox', { name: 'abstracts' }))
    expect(screen.getByText(/Of/)).toBeInTheDocument()
    await userEvent.click(screen.getByRole('checkbox', { name: 'Choose: Old boats' }))
    await userEvent.click(screen.getByRole('button', { name: 'Set aside 1' }))
    await waitFor(() =>
      expect(posted('/inquiries/1/pool')[0]!.body).toMatchObject({
        sweep: 9,
        records: [11],
        decide: { choice: 'set aside' },
      }),
    )
  })
  test('harvested words are put on the sheet with where they come from', async () => {
    answers['GET /inquiries/1/harvest'] = {
      ...{ wanted: 4, others: 9 },
      words: [
        { text: 'phototaxis', from: 'keyword', wanted: 3, others: 1, z: 2 },
        { text: 'moth', from: 'title', wanted: 4, others: 1, z: 2 },
      ],
    }
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('tab', { name: 'Harvest' }))
    await userEvent.click(await screen.findByRole('button', { name: 'Put phototaxis on the sheet' }))
    expect(screen.queryByRole('button', { name: 'Put moth on the sheet' })).toBeNull()
    await waitFor(() =>
      expect(saved().at(-1)!.concepts[0]!.terms.at(-1)).toMatchObject({
        text: 'phototaxis',
        role: 'harvested',
        from: 'keyword · 3 of 4 kept, 1 of 9 others',
      }),
    )
  })
  test('words of what is set aside are left out, and those that sweeps missed are said to be few', async () => {
    answers['GET /inquiries/1/works'] = [
      work(1, { state: 'kept', sweeps: [] }),
      work(2, { state: 'kept', sweeps: [9] }),
      work(3, { state: 'set aside' }),
    ]
    answers['GET /inquiries/1/harvest'] = (_: unknown, query: URLSearchParams) => ({
      body:
        query.get('of') === 'aside'
          ? { wanted: 1, others: 2, words: [{ text: 'sleep', from: 'keyword', wanted: 1, others: 0, z: 2 }] }
          : { wanted: 1, others: 1, words: [] },
    })
    open(Gather, 'gather?harvest=missed')
    expect(await screen.findByText(/^Of 1 work only/)).toBeInTheDocument()
    expect(screen.getByText(/^No word stands out/)).toBeInTheDocument()
    await userEvent.selectOptions(screen.getByLabelText('Words of'), '1 set aside against the kept, to leave out')
    expect(screen.queryByLabelText('Into the concept')).toBeNull()
    expect(await screen.findByText('keyword · 1 of 1 set aside, 0 of 2 kept')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Leave out sleep' }))
    await waitFor(() => expect(saved().at(-1)!.without.at(-1)).toMatchObject({ text: 'sleep', role: 'harvested' }))
  })
  test('a word that no catalogue knows has its neighbours offered', async () => {
    numbers['mothh*'] = [0, 0]
    answers['GET /inquiries/1/sheet'] = {
      sheet: { ...lamps, concepts: [{ id: 'a', name: 'moths', terms: [term('mothh')] }] },
      version: 4,
      offered: [],
    }
    answers['POST /inquiries/1/spelling'] = [{ text: 'moth', count: 900 }]
    open(Gather, 'gather')
    expect(await screen.findByText('No catalogue knows “mothh”.')).toBeInTheDocument()
    await userEvent.click(await screen.findByRole('button', { name: 'moth (900)' }))
    expect(screen.getByLabelText('Query, in plain words or CQL')).toHaveValue('moth*')
  })
  test('the grid crosses two concepts, and a cell becomes the query', async () => {
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('tab', { name: 'Grid' }))
    expect(screen.getByText(/1 cell to ask, 6 questions at most to 2 catalogues/)).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Fill the grid' }))
    expect(await screen.findByText(/reviewable, 0% new, half since 2020/)).toBeInTheDocument()
    await userEvent.click(screen.getByTitle('Ask for moth with lamp'))
    expect(await screen.findByText('The query now asks for moth with lamp.')).toBeInTheDocument()
  })
  test('where the catalogues were asked as often as may be, the grid says so, and goes on after the rest', async () => {
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('tab', { name: 'Grid' }))
    await screen.findByText(/1 cell to ask/)
    const counts = answers['POST /inquiries/1/counts'] as (b: unknown, q: URLSearchParams) => { body: unknown }
    const given = (b: unknown) => (typeof counts === 'function' ? counts(b, new URLSearchParams()) : { body: counts })
    let refusals = 0
    answers['POST /inquiries/1/counts'] = (b: unknown) =>
      refusals++ < 2
        ? { status: 429, body: { code: 'too-many-counts', title: 'Asked too often.', retryAfter: 1 } }
        : given(b)
    await userEvent.click(screen.getByRole('button', { name: 'Fill the grid' }))
    expect(await screen.findByText(/This goes on by itself within 1 second\./)).toBeInTheDocument()
    expect(
      await screen.findByText(/reviewable, 0% new, half since 2020/, undefined, { timeout: 20_000 }),
    ).toBeInTheDocument()
    expect(screen.getByText('every cell is filled')).toBeInTheDocument()
  })
  test('the log names sweeps and sets two side by side', async () => {
    answers['GET /inquiries/1/sweeps'] = [{ ...sweep, id: 10, query: 'moth*' }, sweep]
    answers['GET /inquiries/1/sweeps/10/against/9'] = {
      came: [{ id: 1, title: 'Came new', catalogue: 'civic' }],
      went: [],
    }
    answers['PATCH /inquiries/1/sweeps/10'] = {}
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('tab', { name: 'Log 2' }))
    await userEvent.type((await screen.findAllByLabelText('Name of this sweep'))[0]!, 'wide{Enter}')
    await waitFor(() =>
      expect(sent.find(s => s.method === 'PATCH')).toMatchObject({
        path: '/inquiries/1/sweeps/10',
        body: { name: 'wide' },
      }),
    )
    for (const box of screen.getAllByRole('checkbox', { name: /^Compare/ })) await userEvent.click(box)
    expect(await screen.findByText('1 came')).toBeInTheDocument()
    expect(screen.getByText('0 went')).toBeInTheDocument()
  })
  test('the ladder folds into one line with its counts while something else is read, and unfolds', async () => {
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('button', { name: 'Fold' }))
    expect(screen.queryByText(/how the number falls/)).toBeNull()
    expect(screen.getByText('Ladder')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Unfold' }))
    expect(screen.getByText(/how the number falls/)).toBeInTheDocument()
  })
  test('says what each catalogue adds, and which kept works hang on it alone', async () => {
    const share = (catalogue: string, name: string, more: object) => ({
      ...{ catalogue, name, works: 0, asked: 0, found: 0, failed: null, onlyHere: 0, kept: 0 },
      ...{ keptOnlyHere: [], shared: [], ...more },
    })
    answers['GET /inquiries/1/catalogue-shares'] = [
      share('broadleaf', 'Broadleaf Index', {
        ...{
          works: 8,
          asked: 2,
          found: 30,
          onlyHere: 3,
          kept: 2,
          keptOnlyHere: [{ id: 3, title: 'Only in this one' }],
        },
        shared: [{ catalogue: 'civic', works: 5 }],
      }),
      share('civic', 'Civic Paper File', {
        works: 5,
        asked: 2,
        kept: 1,
        shared: [{ catalogue: 'broadleaf', works: 5 }],
      }),
      share('a', 'Quiet A', {}),
      share('b', 'Quiet B', { asked: 3 }),
      share('c', 'Quiet C', { asked: 2, found: 7 }),
      share('d', 'Quiet D', { asked: 1, failed: 'It is out of service.' }),
    ]
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('tab', { name: 'What each catalogue adds' }))
    expect(await screen.findByText('1 kept work')).toBeInTheDocument()
    expect(screen.getByText('Only in this one')).toBeInTheDocument()
    expect(screen.getByText('no kept work')).toBeInTheDocument()
    // and why the others gave nothing
    expect(screen.getAllByText(/^Quiet/).map(e => e.textContent)).toEqual([
      'Quiet A: not asked yet',
      'Quiet B: asked in 3 sweeps, and found nothing',
      'Quiet C: found 7 in one sweep; none of them was brought',
      'Quiet D: failed when it was asked last: It is out of service.',
    ])
  })

  test('one record is brought in, kept or set aside by itself, and its abstract unfolds', async () => {
    answers['POST /inquiries/1/pool'] = { records: 1, newWorks: 1, known: 0, asked: 0 }
    answers['GET /inquiries/1/sweeps/9/records'] = [
      found(11, { item: { id: '', type: 'article', title: 'Old boats', abstract: 'Of harbours at dusk.' } }),
    ]
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('button', { name: 'Old boats' }))
    expect(screen.getByText(/Of harbours/)).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'keep: Old boats' }))
    await waitFor(() => expect(posted('/inquiries/1/pool')).toHaveLength(1))
    expect(posted('/inquiries/1/pool')[0]!.body).toMatchObject({
      sweep: 9,
      all: false,
      records: [11],
      decide: { choice: 'keep' },
    })
    await userEvent.click(screen.getByRole('button', { name: 'bring in: Old boats' }))
    await waitFor(() => expect(posted('/inquiries/1/pool')[1]!.body).not.toHaveProperty('decide'))
  })
  test('many records come in as a job that is told and can be stopped', async () => {
    answers['POST /inquiries/1/pool'] = { job: 5 }
    answers['DELETE /inquiries/1/jobs/5'] = {}
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('button', { name: 'Bring all 2 into the pool' }))
    const job = { id: 5, kind: 'pool', payload: { sweepId: 9 }, cancelAsked: false, error: null }
    act(() => tellJob({ ...job, state: 'running', progress: { done: 4000, of: 20000 }, result: null }))
    expect(await screen.findByText(/4,000 of 20,000 are in/)).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Stop' }))
    expect(sent.some(s => s.method === 'DELETE' && s.path === '/inquiries/1/jobs/5')).toBe(true)
    act(() => tellJob({ ...job, state: 'cancelled', progress: {}, result: null }))
    expect(await screen.findByText('Stopped. Nothing was brought in.')).toBeInTheDocument()
  })
  test('a repository that is taken in says how far that is', async () => {
    answers['GET /inquiries/1/sweeps'] = [
      { ...sweep, catalogues: sweep.catalogues.map(c => ({ ...c, state: 'asking', count: null, fetched: 0 })) },
    ]
    open(Gather, 'gather')
    expect((await screen.findAllByText('asking')).length).toBeGreaterThan(1)
    const far = { count: 5214, fetched: 300, takenIn: true }
    const job = { id: 6, kind: 'sweep', payload: { sweepId: 9 }, cancelAsked: false, error: null, result: null }
    act(() => tellJob({ ...job, state: 'running', progress: { catalogues: { civic: far } } }))
    expect(await screen.findByText('taking in 300 of 5,214')).toBeInTheDocument()
  })
  test('limits are judged on the records: what the library reaches', async () => {
    answers['GET /inquiries/1/sheet'] = { sheet: { ...lamps, withinReach: true }, version: 4, offered: [] }
    answers['GET /inquiries/1/sweeps/9/records'] = [found(11), found(12, { within: false })]
    open(Gather, 'gather')
    const rung = await screen.findByRole('group', { name: 'Rung 3: what the library reaches' })
    expect(await within(rung).findByText('of 2 fetched records')).toBeInTheDocument()
    expect(screen.getByText(/Record 11/)).toBeInTheDocument()
    expect(screen.queryByText(/Record 12/)).toBeNull()
    await userEvent.click(within(rung).getByRole('button', { name: /Lift the limit/ }))
    expect(await screen.findByText(/Record 12/)).toBeInTheDocument()
  })
  test('a limit of years is set beside the years of what is found', async () => {
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('button', { name: 'Add a limit' }))
    await userEvent.click(await screen.findByRole('menuitem', { name: /years from/ }))
    expect(await screen.findByText('20 of 20, as counted by Broadleaf Index')).toBeInTheDocument()
    await userEvent.type(screen.getByLabelText('From the year'), '2000')
    expect(screen.getByText('16 of 20, as counted by Broadleaf Index')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Set' }))
    expect(await screen.findByRole('group', { name: 'Rung 3: since 2000' })).toBeInTheDocument()
  })
  test('a catalogue tells what it holds, and is left out of all counts when it is switched off', async () => {
    answers['POST /inquiries/1/catalogues/civic'] = {
      description: 'Planning and lighting policy.', extent: '900 records', years: [{ year: 1950, n: 3 }, { year: 2004, n: 9 }],
      subjects: [{ value: 'Street lighting', n: 40 }], types: [], abilities: { truncation: false, proximity: false, indexes: ['title', 'year'], window: 500 },
    } // prettier-ignore
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('button', { name: 'About Civic Paper File' }))
    expect(await screen.findByText('Planning and lighting policy.')).toBeInTheDocument()
    expect(screen.getByText(/900 records, of 1950 to 2004, half of them since 2004/)).toBeInTheDocument()
    expect(screen.getByText('It takes limits of years, and gives the first 500 of an answer.')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('checkbox', { name: 'Civic Paper File' }))
    await waitFor(() => expect(saved().at(-1)!.notAsked).toEqual(['civic']))
  })
  test('a named sweep is put into a concept as a term, under its name', async () => {
    answers['GET /inquiries/1/sweeps'] = [{ ...sweep, name: 'First look' }]
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('tab', { name: /^Log/ }))
    await userEvent.click(await screen.findByRole('button', { name: 'More for the sweep First look' }))
    await userEvent.click(await screen.findByRole('menuitem', { name: 'what is left out' }))
    expect(await screen.findByRole('switch', { name: /First look/ })).toBeChecked()
    expect(screen.getByText(/without what “First look” asked/)).toBeInTheDocument()
    await waitFor(() =>
      expect(saved().at(-1)!.without[0]).toMatchObject({ text: 'First look', cql: 'moth* and lamp*', sweep: 9 }),
    )
  })
  test('a sweep is made to stand, tells what is new, rests and ends', async () => {
    const standing = {
      id: 3,
      name: 'Watch',
      query: 'moth*',
      catalogues: ['broadleaf'],
      everyDays: 7,
      nextDay: '2026-10-12',
      mails: true,
      paused: false,
      feed: '/api/feeds/abc.atom',
      runs: [{ id: 9, deskDay: '2026-10-05', foundNew: 4, at: '2026-10-05T10:00:00Z', toldAt: null }],
    }
    answers['POST /inquiries/1/standing'] = () => ({ status: 201, body: standing })
    answers['PATCH /inquiries/1/standing/3'] = standing
    answers['POST /inquiries/1/standing/3/runs'] = () => ({ status: 202, body: { sweep: 10, job: 1 } })
    answers['DELETE /inquiries/1/standing/3'] = () => ({ status: 204, body: undefined })
    open(Gather, 'gather')
    await userEvent.click(await screen.findByRole('tab', { name: /^Log/ }))
    await userEvent.click(await screen.findByRole('button', { name: /^More for the sweep/ }))
    await userEvent.click(await screen.findByRole('menuitem', { name: 'Keep it running …' }))
    await userEvent.type(screen.getByLabelText('Name of the standing sweep'), 'Watch')
    await userEvent.selectOptions(screen.getByLabelText('How often it runs'), '14')
    answers['GET /inquiries/1/standing'] = [standing]
    await userEvent.click(screen.getByRole('button', { name: 'Keep it running' }))
    const row = await screen.findByRole('group', { name: 'Standing sweep Watch' })
    expect(posted('/inquiries/1/standing')[0]!.body).toEqual({ sweep: 9, name: 'Watch', everyDays: 14, mails: true })
    expect(within(row).getByText('next on 12 Oct 2026')).toBeInTheDocument()
    await userEvent.click(within(row).getByRole('button', { name: 'Let it rest' }))
    await userEvent.click(within(row).getByRole('checkbox', { name: 'by mail' }))
    const changes = sent.filter(s => s.method === 'PATCH').map(s => s.body)
    expect(changes).toEqual([{ paused: true }, { mails: false }])
    await userEvent.click(within(row).getByRole('button', { name: 'Run now' }))
    await userEvent.click(within(row).getByRole('button', { name: 'End …' }))
    await userEvent.click(within(row).getByRole('button', { name: 'Keep it' }))
    expect(sent.some(s => s.method === 'DELETE')).toBe(false)
    await userEvent.click(within(row).getByRole('button', { name: '4 new, 5 Oct 2026' }))
    expect(screen.getByRole('tab', { name: 'Records' })).toHaveAttribute('aria-selected', 'true')
  })
  test('of a run of a standing sweep only what is new is shown at first', async () => {
    answers['GET /inquiries/1/sweeps'] = [{ ...sweep, standingId: 3, foundNew: 1 }]
    answers['GET /inquiries/1/sweeps/9/records'] = [found(11), found(12, { isNew: true })]
    open(Gather, 'gather')
    expect(await screen.findByText(/Record 12/)).toBeInTheDocument()
    expect(screen.queryByText(/Record 11/)).toBeNull()
    await userEvent.click(screen.getByRole('checkbox', { name: /only what is new/ }))
    expect(screen.getByText(/Record 11/)).toBeInTheDocument()
  })
})
