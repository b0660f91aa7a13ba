/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { expect, test } from '@jest/globals'
import { act, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Libraries as Told, LibraryInFull } from '../../../core/schema/api'
import { libraryShape } from '../../../core/schema/library'
import { answers, open, posted, sent } from '../../test/rig'
import { Libraries } from './libraries'

const listed = (key: string, name: string, chosen: number | null, more: object = {}): Told['libraries'][number] => ({
  ...{ key, name, place: '', chosen, isSet: key === 'home', isOwn: key !== 'home' },
  ...{ cameFrom: null, onCampus: false, troubles: [] },
  ...more,
})
const told = (...libraries: Told['libraries']): Told => ({
  ...{ libraries, hasDirectory: true, administers: false, waiting: [] },
  told: [{ who: 'Broadleaf Index', what: 'your queries, when you count or sweep' }],
})
const file = (name: string, more: object): LibraryInFull['holdings']['files'][number] => ({
  ...{ name, address: `http://l.example/${name}`, isKept: true, isRead: true, at: null, report: null },
  ...more,
})
const report = (more: object) => ({ titles: 0, left: 0, problems: [], problemsInAll: 0, ...more })
const GATE = {
  ...{ manner: 'form', template: 'http://gate.l.example/open{?url}', signIn: 'http://gate.l.example/in' },
  suffix: 'gate.l.example',
}
const full = (key: string, name: string, profile: object = {}, more: Partial<LibraryInFull> = {}): LibraryInFull => ({
  ...{ key, name, place: '', chosen: 1, isSet: key === 'home', isOwn: key !== 'home', cameFrom: null, onCampus: false },
  ...{ version: 1, waits: [], allowed: true, mayChange: key !== 'home', answersAt: null, tries: [] },
  profile: libraryShape.cast({ name, ...profile }),
  hours: [],
  holdings: { fetching: false, trouble: null, files: [] },
  ...more,
})
const home = (files: LibraryInFull['holdings']['files'], more: Partial<LibraryInFull['holdings']> = {}) =>
  full(
    'home',
    'Halverane Library',
    { gate: GATE, holdings: files.map(f => f.address) },
    { holdings: { fetching: false, trouble: null, files, ...more } },
  )
function begin(more: Partial<Told> = {}) {
  answers['GET /libraries'] = { ...told(listed('home', 'Halverane Library', 1)), ...more }
}

test('each file says what was read of it, what was noticed, and why one could not be read', async () => {
  begin()
  answers['GET /libraries/home'] = home([
    file('e.tsv', { report: report({ titles: 3, newer: 'This is a page to sign in.' }) }),
    file('a.tsv', {
      report: report({
        ...{ titles: 12_345, left: 1, problemsInAll: 120 },
        problems: [{ line: 3, said: 'No title: the line is left out.', leftOut: true }],
      }),
    }),
    file('b.tsv', { report: report({ refused: 'This is not a KBART file.' }) }),
    file('c.tsv', { isKept: false, isRead: false }),
    file('d.tsv', { isRead: false }),
  ])
  open(Libraries, '/libraries/:library?')
  const row = async (name: string) => within((await screen.findByText(name)).closest('tr')!)
  expect((await row('a.tsv')).getByText('12,345')).toBeInTheDocument()
  expect((await row('b.tsv')).getByText('Cannot be read')).toBeInTheDocument()
  expect((await row('c.tsv')).getByText('Not fetched yet')).toBeInTheDocument()
  expect((await row('d.tsv')).getByText('Being read')).toBeInTheDocument()
  expect((await row('e.tsv')).getByText('Stands as before')).toBeInTheDocument()
  expect(screen.getByText(/What came last could not be read: This is a page to sign in\./)).toBeInTheDocument()
  expect(screen.getByText(/This is not a KBART file\. Nothing is called “not held”/)).toBeInTheDocument()
  expect(screen.getAllByRole('link', { name: 'Write to the library' })[0]).toHaveAttribute(
    'href',
    expect.stringMatching(/^mailto:\?subject=The%20holdings%20file%20e\.tsv/),
  )
  expect(screen.queryByText('line 3')).toBeNull()
  await userEvent.click(screen.getByRole('button', { name: 'What was noticed in a.tsv' }))
  expect(screen.getByText('line 3')).toBeInTheDocument()
  expect(screen.getByText('and 119 more')).toBeInTheDocument()
})

test('forty files that fail alike are one thing to say, and one letter', async () => {
  begin()
  const files = Array.from({ length: 40 }, (_, i) =>
    file(`n${i}.tsv`, { report: report({ newer: 'A page to sign in.' }) }),
  )
  answers['GET /libraries/home'] = home(files)
  open(Libraries, '/libraries/:library?')
  expect(await screen.findByText('40 files stand as before.')).toBeInTheDocument()
  expect(screen.getAllByText(/A page to sign in\./)).toHaveLength(1)
  expect(screen.getAllByRole('link', { name: 'Write to the library' })).toHaveLength(1)
  expect(screen.getByText('40 of 40 could not be read.')).toBeInTheDocument()
})

test('of many files the ones that want a look come first, and the rest at a press', async () => {
  begin()
  const files = Array.from({ length: 9 }, (_, i) => file(`n${i}.tsv`, { report: report({ titles: 2 }) }))
  answers['GET /libraries/home'] = home([...files, file('bad.tsv', { report: report({ refused: 'A page.' }) })])
  open(Libraries, '/libraries/:library?')
  expect(await screen.findByText('bad.tsv')).toBeInTheDocument()
  expect(screen.queryByText('n8.tsv')).toBeNull()
  await userEvent.click(screen.getByRole('button', { name: 'Show all 10' }))
  expect(screen.getByText('n8.tsv')).toBeInTheDocument()
})

test('files are fetched again at a press, and what failed is told', async () => {
  begin()
  const files = [file('a.tsv', { report: report({ titles: 2 }) })]
  answers['GET /libraries/home'] = home(files)
  answers['POST /libraries/home/holdings/fetch'] = home(files, { fetching: true })
  open(Libraries, '/libraries/:library?')
  await userEvent.click(await screen.findByRole('button', { name: 'Fetch again: Holdings files' }))
  expect(posted('/libraries/home/holdings/fetch')).toHaveLength(1)
  begin({ libraries: [listed('home', 'Halverane Library', 1, { troubles: ['1 of 1 could not be read.'] })] })
  answers['GET /libraries/home'] = home(files, { trouble: '1 of 1 holdings files could not be read.' })
  expect(await screen.findByText(/1 of 1 holdings files could not be read/, {}, { timeout: 5000 })).toBeInTheDocument()
  expect(await screen.findByText('one thing to mend')).toBeInTheDocument()
})

test('a file that is being read is looked at again, though its fetching has ended', async () => {
  begin()
  answers['GET /libraries/home'] = home([file('a.tsv', { isRead: false })])
  open(Libraries, '/libraries/:library?')
  expect(await screen.findByText('Being read')).toBeInTheDocument()
  answers['GET /libraries/home'] = home([file('a.tsv', { report: report({ titles: 301 }) })])
  expect(await screen.findByText('301')).toBeInTheDocument()
})

test('a part is tried, and what came back is told with its day', async () => {
  begin()
  const before = home([])
  answers['GET /libraries/home'] = before
  const tries = [
    {
      part: 'gate' as const,
      holds: false,
      said: 'Its form has no field “card”.',
      day: '2026-10-05',
      at: '2026-10-02T09:00:00Z',
    },
  ]
  answers['POST /libraries/home/tries'] = { ...before, tries }
  open(Libraries, '/libraries/:library?')
  expect(await screen.findByText('Not tried yet.')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Try it: Gate' }))
  expect(await screen.findByText(/Its form has no field/)).toHaveTextContent('Fri 2 Oct. Its form has no field “card”.')
  expect(posted('/libraries/home/tries')).toMatchObject([{ body: { part: 'gate' } }])
})

test('the order is changed by keys and buttons, and the page shows it at once; what fails is taken back', async () => {
  const two = [listed('home', 'Halverane Library', 1), listed('7', 'Ostermoor Town Library', 2)]
  begin({ libraries: two })
  answers['GET /libraries/home'] = home([])
  answers['GET /libraries/7'] = full('7', 'Ostermoor Town Library')
  answers['PUT /libraries'] = told(listed('7', 'Ostermoor Town Library', 1), listed('home', 'Halverane Library', 2))
  open(Libraries, '/libraries/:library?')
  const names = () => screen.getAllByRole('link', { name: /^\d/ }).map(l => l.textContent)
  const link = await screen.findByRole('link', { name: /1 Halverane Library/ })
  link.focus()
  await userEvent.keyboard('{Alt>}{ArrowDown}{/Alt}')
  expect(sent.findLast(s => s.method === 'PUT')!.body).toEqual({ libraries: ['7', 'home'] })
  await waitFor(() => expect(names()).toEqual(['1 Ostermoor Town Library', '2 Halverane Library']))
  answers['GET /libraries'] = answers['PUT /libraries']
  answers['PUT /libraries'] = () => ({ status: 500, body: { code: 'x', title: 'It cannot be kept now.' } })
  await userEvent.click(screen.getByRole('button', { name: 'Ask Halverane Library earlier' }))
  expect(await screen.findByText('It cannot be kept now.')).toBeInTheDocument()
  expect(names()).toEqual(['1 Ostermoor Town Library', '2 Halverane Library'])
})

test('of two moves in a row one is sent at a time, and what is answered of the first hides nothing', async () => {
  const order = (...keys: string[]) =>
    told(...keys.map((k, i) => listed(k, k === 'home' ? 'Halverane Library' : 'Ostermoor Town Library', i + 1)))
  answers['GET /libraries'] = order('home', '7')
  answers['GET /libraries/home'] = home([])
  answers['GET /libraries/7'] = full('7', 'Ostermoor Town Library')
  const taken: (() => void)[] = []
  answers['PUT /libraries'] = ({ libraries }: { libraries: string[] }) =>
    new Promise(done => taken.push(() => done({ body: order(...libraries) })))
  open(Libraries, '/libraries/:library?')
  const names = () => screen.getAllByRole('link', { name: /^\d/ }).map(l => l.textContent)
  ;(await screen.findByRole('link', { name: /1 Halverane Library/ })).focus()
  await userEvent.keyboard('{Alt>}{ArrowDown}{/Alt}')
  await waitFor(() => expect(names()).toEqual(['1 Ostermoor Town Library', '2 Halverane Library']))
  await userEvent.keyboard('{Alt>}{ArrowUp}{/Alt}')
  await waitFor(() => expect(names()).toEqual(['1 Halverane Library', '2 Ostermoor Town Library']))
  expect(taken).toHaveLength(1)
  await act(async () => taken[0]!())
  await waitFor(() => expect(taken).toHaveLength(2))
  expect(names()).toEqual(['1 Halverane Library', '2 Ostermoor Town Library'])
  await act(async () => taken[1]!())
  expect(names()).toEqual(['1 Halverane Library', '2 Ostermoor Town Library'])
  expect(sent.filter(s => s.method === 'PUT').map(s => s.body)).toEqual([
    { libraries: ['7', 'home'] },
    { libraries: ['home', '7'] },
  ])
})

test('a library that is not asked can be, and the last one is not left out', async () => {
  begin({ libraries: [listed('home', 'Halverane Library', 1), listed('7', 'Ostermoor Town Library', null)] })
  answers['GET /libraries/home'] = home([])
  answers['GET /libraries/7'] = full('7', 'Ostermoor Town Library')
  answers['PUT /libraries'] = told(listed('home', 'Halverane Library', 1), listed('7', 'Ostermoor Town Library', 2))
  open(Libraries, '/libraries/:library?')
  expect(await screen.findByRole('heading', { name: 'Halverane Library' })).toBeInTheDocument()
  expect(screen.getByText('Not asked')).toBeInTheDocument()
  expect(screen.queryByRole('button', { name: 'Do not ask it' })).toBeNull()
})

test('a library is found in the directory and added; parts of its file that are not known are named', async () => {
  begin()
  answers['GET /libraries/home'] = home([])
  answers['POST /libraries/found'] = (body: unknown) => {
    const { words } = body as { words: string }
    const libraries = words.startsWith('o')
      ? [{ name: 'Ostermoor Town Library', place: 'Ostermoor', address: 'http://o.example/p.json' }]
      : []
    return { body: { libraries, of: libraries.length, unread: 1 } }
  }
  answers['POST /libraries'] = () => ({ status: 201, body: { key: '7', left: ['lamps'] } })
  open(Libraries, '/libraries/:library?')
  await userEvent.click(await screen.findByRole('button', { name: 'Add a library' }))
  await userEvent.type(await screen.findByLabelText('From the directory'), 'oster')
  await userEvent.click(await screen.findByRole('button', { name: 'Add Ostermoor Town Library' }))
  expect(posted('/libraries')).toMatchObject([{ body: { address: 'http://o.example/p.json', forAll: false } }])
  expect(await screen.findByText('Added. Of its file “lamps” is not known here.')).toBeInTheDocument()
})

test('what is wrong in a file of a library is said part by part, and the dialog stays', async () => {
  begin()
  answers['GET /libraries/home'] = home([])
  answers['POST /libraries/found'] = { libraries: [], of: 0, unread: 0 }
  answers['POST /libraries'] = () => ({
    status: 422,
    body: {
      ...{ code: 'invalid', title: 'Some of what was sent cannot be used.' },
      fields: [{ field: 'gate.template', said: 'It has to name where the address goes.' }],
    },
  })
  open(Libraries, '/libraries/:library?')
  await userEvent.click(await screen.findByRole('button', { name: 'Add a library' }))
  expect(await screen.findByText('The directory has none of these words.')).toBeInTheDocument()
  await userEvent.type(screen.getByLabelText('By the address of its profile'), 'http://x.example/p.json{enter}')
  expect(await screen.findByText('gate.template')).toBeInTheDocument()
  expect(screen.getByText(/It has to name where the address goes/)).toBeInTheDocument()
})

test('a library of one’s own is changed; what is wrong is said at its field and nothing is sent', async () => {
  begin({ libraries: [listed('7', 'Town', 1)] })
  const town = full('7', 'Town', { gate: GATE, campus: ['192.0.2.0/24'] })
  answers['GET /libraries/7'] = town
  answers['PUT /libraries/7'] = { ...town, version: 2 }
  open(Libraries, '/libraries/:library?')
  await userEvent.click(await screen.findByRole('button', { name: 'Change' }))
  const template = screen.getByLabelText('Address that opens others')
  await userEvent.clear(template)
  await userEvent.type(template, 'http://gate.l.example/open')
  const networks = screen.getByLabelText('Its networks')
  await userEvent.clear(networks)
  await userEvent.type(networks, 'somewhere')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  expect(await screen.findByText(/It has to name where the address goes/)).toBeInTheDocument()
  expect(screen.getByText(/This is no network/)).toBeInTheDocument()
  expect(sent.some(s => s.method === 'PUT')).toBe(false)
  await userEvent.type(template, '{{?url}')
  await userEvent.clear(networks)
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  await waitFor(() => expect(sent.find(s => s.method === 'PUT')).toBeDefined())
  expect(sent.find(s => s.method === 'PUT')!.body).toMatchObject({
    ...{ name: 'Town', campus: [] },
    gate: { template: 'http://gate.l.example/open{?url}', fields: { card: 'card', password: 'password' } },
  })
})

test('a catalogue of one’s own is set up with an id from its name, and one without an address is not sent', async () => {
  begin({ libraries: [listed('7', 'Town', 1)] })
  const shelf = { id: 'shelf', name: 'Shelf', sru: 'http://s.example/sru', schema: 'marcxml' }
  const town = full('7', 'Town', { catalogues: [shelf] })
  answers['GET /libraries/7'] = town
  answers['PUT /libraries/7'] = { ...town, version: 2 }
  open(Libraries, '/libraries/:library?')
  await userEvent.click(await screen.findByRole('button', { name: 'Change' }))
  await userEvent.click(screen.getByRole('button', { name: 'Another catalogue' }))
  await userEvent.type(screen.getByLabelText('Name of catalogue 2'), 'Shelf')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  expect(await screen.findByText(/has an address to search/)).toBeInTheDocument()
  expect(sent.some(s => s.method === 'PUT')).toBe(false)
  await userEvent.type(screen.getByLabelText('Address of catalogue 2'), 'http://t.example/oai')
  await userEvent.selectOptions(screen.getByLabelText('How catalogue 2 is asked'), 'oai')
  await userEvent.selectOptions(screen.getByLabelText('Records of catalogue 2'), 'dc')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  await waitFor(() => expect(sent.find(s => s.method === 'PUT')).toBeDefined())
  expect((sent.find(s => s.method === 'PUT')!.body as { catalogues: object[] }).catalogues).toEqual([
    { ...shelf, openCopies: false },
    { id: 'shelf-2', name: 'Shelf', oai: 'http://t.example/oai', schema: 'dc', openCopies: false },
  ])
})

test('hosts that wait are told; an administrator sees them, and allows them', async () => {
  const waits = ['elsewhere.example is not among the hosts that may be fetched.']
  const waiting = [{ key: '9', name: 'Harbour Library', who: 'Imre', waits }]
  begin({ libraries: [listed('7', 'Town', 1)], administers: true, waiting })
  answers['GET /libraries/7'] = full('7', 'Town', {}, { waits: ['town.example is not among the hosts.'] })
  answers['PUT /libraries/9/allowed'] = { ...told(listed('7', 'Town', 1)), administers: true }
  open(Libraries, '/libraries/:library?')
  expect(
    await screen.findByText(/town\.example is not among the hosts\. An administrator can allow it/),
  ).toBeInTheDocument()
  expect(screen.getByText('Waiting for you to allow')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Allow Harbour Library' }))
  await waitFor(() => expect(screen.queryByText(/elsewhere\.example/)).toBeNull())
  expect(sent.find(s => s.method === 'PUT')!.body).toEqual({ allowed: true })
})

test('a title is looked up, with the sentence that says why', async () => {
  begin()
  answers['GET /libraries/home'] = home([file('a.tsv', { report: report({ titles: 2 }) })])
  answers['GET /libraries/home/title'] = (_: unknown, query: URLSearchParams) => ({
    body: { said: [`Held from 1998; yours is of ${query.get('year')}: yes.`] },
  })
  open(Libraries, '/libraries/:library?')
  await userEvent.type(await screen.findByLabelText('ISSN or ISBN'), '9990-0114')
  await userEvent.type(screen.getByLabelText('of the year'), '2001')
  await userEvent.click(screen.getByRole('button', { name: 'Look it up' }))
  expect(await screen.findByText('Held from 1998; yours is of 2001: yes.')).toBeInTheDocument()
})

test('the loan office is told with its pace, and its address to those who set it up', async () => {
  answers['GET /libraries'] = told(listed('7', 'Town', 1))
  const manner = 'messages'
  const office = {
    manner,
    address: 'http://loans.l.example/',
    symbol: 'ISIL:XX-1',
    ours: 'ISIL:XX-2',
    pickUp: 'Hill Branch',
  }
  answers['GET /libraries/7'] = full(
    '7',
    'Town',
    { office: { ...office, scan: { low: 2, high: 7 }, terms: 'For yourself.' } },
    { answersAt: 'http://vine.example/api/offices/7/abc' },
  )
  answers['PUT /libraries/7'] = full('7', 'Town')
  open(Libraries, '/libraries/:library?')
  expect(
    await screen.findByText('A scan within 2 to 7 working days, to be picked up at Hill Branch. For yourself.'),
  ).toBeInTheDocument()
  expect(screen.getByText(/It posts its answers to http:\/\/vine\.example\/api\/offices\/7\/abc/)).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Change' }))
  const high = screen.getAllByLabelText('nine in ten within')[0]!
  await userEvent.clear(high)
  await userEvent.type(high, '1')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  expect(await screen.findByText('The second number of days is the larger one.')).toBeInTheDocument()
  expect(sent.some(s => s.method === 'PUT')).toBe(false)
  await userEvent.type(high, '2')
  await userEvent.type(screen.getByLabelText('Books: one in ten within days'), '3')
  await userEvent.type(screen.getAllByLabelText('nine in ten within')[1]!, '10')
  await userEvent.clear(screen.getByLabelText('A book waits for days'))
  await userEvent.type(screen.getByLabelText('A scan may be used for days'), '0')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  expect(await screen.findByText('Whole days, from 1 to 3,650.')).toBeInTheDocument()
  expect(screen.getByText('Whole days, from 1 to 365.')).toBeInTheDocument()
  expect(sent.some(s => s.method === 'PUT')).toBe(false)
  await userEvent.type(screen.getByLabelText('A book waits for days'), '10')
  await userEvent.clear(screen.getByLabelText('A scan may be used for days'))
  await userEvent.type(screen.getByLabelText('A scan may be used for days'), '30')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  await waitFor(() => expect(sent.find(s => s.method === 'PUT')).toBeDefined())
  expect(sent.find(s => s.method === 'PUT')!.body).toMatchObject({
    office: {
      ...office,
      scan: { low: 2, high: 12 },
      book: { low: 3, high: 10 },
      keepsScan: 14,
      keepsBook: 10,
      scanLasts: 30,
    },
  })
})

test('an office that takes no messages has a form, or is written to', async () => {
  answers['GET /libraries'] = told(listed('7', 'Town', 1))
  answers['GET /libraries/7'] = full('7', 'Town')
  answers['PUT /libraries/7'] = full('7', 'Town')
  open(Libraries, '/libraries/:library?')
  await userEvent.click(await screen.findByRole('button', { name: 'Change' }))
  await userEvent.click(screen.getByRole('checkbox', { name: 'It gets scans and books from elsewhere' }))
  await userEvent.selectOptions(screen.getByLabelText('How it is asked'), 'on its form, in your own window')
  expect(screen.queryByLabelText('What it is called in messages')).toBeNull()
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  expect(await screen.findByText('The address of its form.')).toBeInTheDocument()
  await userEvent.selectOptions(screen.getByLabelText('How it is asked'), 'by a letter, from your own mail')
  await userEvent.type(screen.getByLabelText('Its mail address'), 'loans@l.example')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  await waitFor(() => expect(sent.find(s => s.method === 'PUT')).toBeDefined())
  expect(sent.find(s => s.method === 'PUT')!.body).toMatchObject({
    office: { manner: 'mail', mail: 'loans@l.example' },
  })
})

test('its calendars are named by branch, and what is wrong with them is said there', async () => {
  answers['GET /libraries'] = told(listed('7', 'Town', 1))
  answers['GET /libraries/7'] = full('7', 'Town')
  answers['PUT /libraries/7'] = full('7', 'Town')
  open(Libraries, '/libraries/:library?')
  await userEvent.click(await screen.findByRole('button', { name: 'Change' }))
  await userEvent.click(screen.getByRole('button', { name: 'Name its calendars' }))
  await userEvent.type(screen.getByLabelText('Branch 1'), 'Market Hall')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  expect(
    await screen.findByText('A calendar of its opening hours, or of the days on which it is closed.'),
  ).toBeInTheDocument()
  await userEvent.type(screen.getByLabelText('Calendar of the opening hours of branch 1'), 'hours')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  expect(await screen.findByText(/This is no address/)).toBeInTheDocument()
  await userEvent.clear(screen.getByLabelText('Calendar of the opening hours of branch 1'))
  await userEvent.type(screen.getByLabelText('Calendar of the opening hours of branch 1'), 'http://l.example/a.ics')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  await waitFor(() => expect(sent.find(s => s.method === 'PUT')).toBeDefined())
  expect(sent.find(s => s.method === 'PUT')!.body).toMatchObject({
    hours: [{ branch: 'Market Hall', opening: 'http://l.example/a.ics', closed: '' }],
  })
})

test('a library says by branch when it is open, day by day, and what of its calendars could not be read', async () => {
  const week = ['8–22', '', null].map((hours, i) => ({ day: `2026-10-0${i + 5}`, hours, why: '' }))
  const branch = { library: '7', branch: 'Market Hall', said: 'Open today 8:00–22:00.', week, trouble: null }
  answers['GET /libraries'] = told(listed('7', 'Town', 1))
  answers['GET /libraries/7'] = full(
    '7',
    'Town',
    { hours: [{ branch: 'Market Hall', opening: 'http://l.example/a.ics' }] },
    { hours: [branch, { ...branch, branch: 'Quay', said: '', week: [], trouble: 'It is no calendar (RFC 5545).' }] },
  )
  open(Libraries, '/libraries/:library?')
  const table = within(await screen.findByRole('table', { name: 'The coming week' }))
  expect(table.getAllByRole('columnheader').map(x => x.textContent)).toEqual(['Mo 5', 'Tu 6', 'We 7'])
  expect(table.getAllByRole('cell').map(x => x.textContent)).toEqual(['', '8–22', 'shut', ''])
  expect(screen.getByText('It is no calendar (RFC 5545).')).toBeInTheDocument()
  expect(screen.getByText(/Nothing could be read/)).toBeInTheDocument()
  expect(screen.getByRole('button', { name: 'Try it: Opening hours' })).toBeInTheDocument()
})

test('partners are named with what they do, and what is wrong with one is said there', async () => {
  answers['GET /libraries'] = told(listed('7', 'Town', 1))
  answers['GET /libraries/7'] = full('7', 'Town')
  answers['PUT /libraries/7'] = full('7', 'Town')
  open(Libraries, '/libraries/:library?')
  await userEvent.click(await screen.findByRole('button', { name: 'Change' }))
  await userEvent.click(screen.getByRole('button', { name: 'Name a partner' }))
  await userEvent.type(screen.getByLabelText('Its name'), 'Korrin Library')
  await userEvent.type(screen.getByLabelText('Its symbol in messages'), 'XX 7')
  const part = within(screen.getByText('Partners').parentElement!)
  await userEvent.type(part.getByLabelText('What it is called there'), 'XX-KOR, Korrin')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  expect(await screen.findByText('The address at which its shelves are asked (SRU).')).toBeInTheDocument()
  expect(screen.getByText('A scheme, a colon and a symbol: ISIL:XX-1, say.')).toBeInTheDocument()
  await userEvent.type(screen.getByLabelText('Its shelf catalogue'), 'http://union.l.example/sru')
  await userEvent.clear(screen.getByLabelText('Its symbol in messages'))
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  expect(await screen.findByText(/What does it do for you\?/)).toBeInTheDocument()
  await userEvent.type(screen.getByLabelText('Scans, in working days, from, of partner 1'), '2')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  expect(await screen.findByText('The days within which nine in ten come.')).toBeInTheDocument()
  await userEvent.type(screen.getByLabelText('Scans, in working days, to, of partner 1'), '5')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  await waitFor(() => expect(sent.find(s => s.method === 'PUT')).toBeDefined())
  expect(sent.find(s => s.method === 'PUT')!.body).toMatchObject({
    partners: [
      {
        ...{ name: 'Korrin Library', visit: 'no', scan: { low: 2, high: 5 } },
        shelf: { address: 'http://union.l.example/sru', named: ['XX-KOR', 'Korrin'] },
      },
    ],
  })
})

test('what a form does not change of a library stays as it was', async () => {
  const profile = {
    shelf: { address: 'http://union.l.example/sru', named: ['XX-TWN'] },
    partners: [
      {
        ...{ name: 'Korrin Library', place: 'Korrin', symbol: 'ISIL:XX-KOR', visit: 'borrow' },
        ...{ shelf: { address: 'http://union.l.example/sru', named: ['XX-KOR'] }, book: { low: 2, high: 6 } },
      },
    ],
  }
  answers['GET /libraries'] = told(listed('7', 'Town', 1))
  answers['GET /libraries/7'] = full('7', 'Town', profile)
  answers['PUT /libraries/7'] = full('7', 'Town', profile)
  open(Libraries, '/libraries/:library?')
  expect(await screen.findByText('books within 2 to 6 working days, you may borrow there.')).toBeInTheDocument()
  // partners send through an office alone
  expect(screen.getByText(/only going there is left/)).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Change' }))
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  await waitFor(() => expect(sent.find(s => s.method === 'PUT')).toBeDefined())
  expect(sent.find(s => s.method === 'PUT')!.body).toMatchObject(profile)
})
