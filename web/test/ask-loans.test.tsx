/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Obtain } from '../stations/obtain/obtain'
import { answers, open, posted, work } from './rig'

const elsewhere = {
  ...{ way: 'loan', version: 'version of record', from: 'Halverane Library', expected: '2026-10-09', likely: 0.97 },
  ...{ evidence: 'Halverane Library gets a scan within 2 to 7 working days, as it says.', asks: 'asking for a scan' },
  library: { key: 'home', name: 'Halverane Library' },
  loan: { kind: 'scan', from: '2026-10-07', to: '2026-10-14', askBy: '2026-10-15' },
}
const row = (id: number, more: object = {}) => ({
  ...work(id, { state: 'kept', reach: 'within reach' }),
  ...{ routes: [elsewhere], addresses: [null], closed: [], trouble: null, copies: [], loan: null },
  ...more,
})
const when = { from: '2026-10-07', to: '2026-10-14', expected: '2026-10-09', likely: 0.97 }
const drafted = (id: number, more: object = {}) => ({
  ...{ work: id, kind: 'scan', lacks: [], why: null, partners: [] as object[] },
  item: {
    id: String(id),
    type: 'article-journal',
    title: `Moths at lamp ${id}`,
    'container-title': 'Night Papers',
    volume: '12',
    page: '1-9',
  },
  ...more,
})
const draft = (...works: object[]) => ({
  works,
  offices: [
    {
      manner: 'messages',
      ...{ library: 'home', name: 'Halverane Library', terms: 'For your own study.', pickUp: 'Hill Branch' },
      kinds: [
        { kind: 'scan', evidence: '', when },
        { kind: 'book', evidence: '', when },
      ],
    },
  ],
  neededBy: '2026-10-24',
})

test('what can be asked for says when it comes and until when to ask; some are asked for at once', async () => {
  answers['GET /inquiries/1/routes'] = [row(3), row(4), row(5)]
  answers['POST /inquiries/1/loans/draft'] = () => ({
    status: 200,
    body: draft(drafted(3), drafted(4), drafted(5, { why: 'It was asked for already, and is under way.' })),
  })
  answers['POST /inquiries/1/loans'] = { loans: [1] }
  open(Obtain, 'obtain')
  const group = within(await screen.findByRole('region', { name: 'ask for it' }))
  expect(group.getAllByText('97% likely · ask by Thu 15 Oct')).toHaveLength(3)
  expect(group.getAllByText('scan, 7–14 Oct')).toHaveLength(3)
  await userEvent.click(screen.getByRole('button', { name: 'Ask for 3' }))
  const dialog = within(await screen.findByRole('dialog'))
  expect(await dialog.findByText('For your own study.')).toBeInTheDocument()
  expect(dialog.getAllByText('7–14 Oct, 97% by 24 Oct')).toHaveLength(2)
  expect(dialog.getByText('It was asked for already, and is under way.')).toBeInTheDocument()
  await userEvent.click(dialog.getByRole('checkbox', { name: 'Ask for “Moths at lamp 4”' }))
  await userEvent.click(dialog.getByRole('button', { name: 'Ask for it' }))
  // terms are the student's to accept
  expect(await dialog.findByText('Read the terms of the office, and accept them.')).toBeInTheDocument()
  expect(posted('/inquiries/1/loans')).toHaveLength(0)
  await userEvent.click(dialog.getByRole('checkbox', { name: 'I accept the terms of Halverane Library' }))
  await userEvent.type(dialog.getByLabelText('Note to the office'), 'With the plates.')
  await userEvent.click(dialog.getByRole('button', { name: 'Ask for it' }))
  await waitFor(() =>
    expect(posted('/inquiries/1/loans')[0]!.body).toEqual({
      ...{ library: 'home', note: 'With the plates.', anyEdition: false, accepted: true },
      works: [{ work: 3, kind: 'scan', parts: {} }],
    }),
  )
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
})

test('what a description lacks is asked once, and goes with the request', async () => {
  answers['GET /inquiries/1/routes'] = [row(3)]
  const bare = { id: '3', type: 'article-journal', title: 'Moths at lamp 3', 'container-title': 'Night Papers' }
  answers['POST /inquiries/1/loans/draft'] = () => ({
    status: 200,
    body: draft(drafted(3, { item: bare, lacks: ['volume or issue', 'pages'] })),
  })
  answers['POST /inquiries/1/loans'] = { loans: [1] }
  open(Obtain, 'obtain')
  await userEvent.click(await screen.findByRole('button', { name: 'Ask' }))
  const dialog = within(await screen.findByRole('dialog'))
  expect(await dialog.findByText(/It lacks volume or issue, pages/)).toBeInTheDocument()
  await userEvent.type(dialog.getByLabelText('Pages'), '12-19')
  await userEvent.type(dialog.getByLabelText('Volume'), '8')
  expect(dialog.queryByText(/It lacks/)).toBeNull()
  await userEvent.click(dialog.getByRole('checkbox', { name: /I accept/ }))
  await userEvent.click(dialog.getByRole('button', { name: 'Ask for it' }))
  await waitFor(() =>
    expect(posted('/inquiries/1/loans')[0]!.body).toMatchObject({
      works: [{ work: 3, kind: 'scan', parts: { page: '12-19', volume: '8' } }],
    }),
  )
})

test('what is under way says where it stands, and what its office asks waits for the student', async () => {
  const loan = (state: string, stands: string, more: object = {}) => ({
    loan: { id: 1, kind: 'scan', state, stands, library: 'Halverane Library', when: null, ...more },
  })
  answers['GET /inquiries/1/routes'] = [
    row(3, loan('on its way', 'On its way', { when })),
    row(4, loan('asked back', 'Asked back: answer here')),
    row(5, loan('ready', 'Ready to fetch until 19 October 2026')),
    row(6, loan('refused', 'Refused')),
  ]
  open(Obtain, 'obtain')
  const group = async (name: string) => within(await screen.findByRole('region', { name }))
  expect((await group('on its way')).getByText('7–14 Oct')).toBeInTheDocument()
  expect((await group('waits for you')).getByRole('link', { name: 'Answer' })).toHaveAttribute('href', '/asked')
  expect((await group('pick up')).getByText('Ready to fetch until 19 October 2026')).toBeInTheDocument()
  // what was refused can be asked for again, of another
  expect((await group('ask for it')).getByRole('button', { name: 'Ask' })).toBeInTheDocument()
})

test('without an office the way to set one up is shown', async () => {
  answers['GET /inquiries/1/routes'] = [row(3)]
  answers['POST /inquiries/1/loans/draft'] = () => ({ status: 200, body: { ...draft(drafted(3)), offices: [] } })
  open(Obtain, 'obtain')
  await userEvent.click(await screen.findByRole('button', { name: 'Ask' }))
  expect(await screen.findByRole('link', { name: 'See your libraries' })).toHaveAttribute('href', '/libraries')
})

test('where an office has a form of its own, what is asked for is sent there by hand, now or later', async () => {
  const form = 'http://library.ostermoor.example/request?url_ver=Z39.88-2004'
  const asked = (id: number, state: string) => ({
    ...{
      id,
      work: id,
      title: `Moths at lamp ${id}`,
      authors: '',
      year: 2021,
      kind: 'scan',
      library: 'Town',
      pickUp: '',
    },
    inquiry: { id: 1, title: 'Lamps', due: null, neededBy: null },
    ...{ state, stands: state === 'sent' ? 'Sent' : 'Yours to send', said: '', until: null, due: null, waits: null },
    ...{ since: '2026-10-05T10:00:00.000Z', asked: '2026-10-05T10:00:00.000Z', recalled: false, busy: false },
    ...{ acts: state === 'sent' ? [] : ['handed over'], when: null, events: [] },
    hand: { form, to: '', subject: '', letter: '', details: 'Title: Moths' },
  })
  answers['GET /inquiries/1/routes'] = [row(3), row(4)]
  const [office] = draft().offices
  answers['POST /inquiries/1/loans/draft'] = () => ({
    status: 200,
    body: { ...draft(drafted(3), drafted(4)), offices: [{ ...office, manner: 'form' }] },
  })
  answers['POST /inquiries/1/loans'] = { loans: [3, 4] }
  answers['GET /loans'] = { day: '2026-10-05', loans: [asked(3, 'not sent'), asked(4, 'not sent'), asked(9, 'sent')] }
  answers['POST /loans/3/acts'] = () => ({ status: 202, body: asked(3, 'sent') })
  open(Obtain, 'obtain')
  await userEvent.click(await screen.findByRole('button', { name: 'Ask for 2' }))
  const dialog = within(await screen.findByRole('dialog'))
  expect(await dialog.findByText(/Then its own form opens, filled in/)).toBeInTheDocument()
  await userEvent.click(dialog.getByRole('checkbox', { name: 'I accept the terms of Halverane Library' }))
  await userEvent.click(dialog.getByRole('button', { name: 'On to sending' }))
  const links = await dialog.findAllByRole('link', { name: 'Open its form' })
  expect(links.map(l => l.getAttribute('href'))).toEqual([form, form])
  await userEvent.click(dialog.getAllByRole('button', { name: 'I sent it' })[0]!)
  expect(await dialog.findByText('Sent.')).toBeInTheDocument()
  expect(dialog.getAllByRole('link', { name: 'Open its form' })).toHaveLength(1)
  await userEvent.click(dialog.getByRole('button', { name: 'Done' }))
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
})

test('what is yours to send waits for you', async () => {
  const loan = { id: 8, kind: 'scan', state: 'not sent', stands: 'Yours to send', library: 'Town', byHand: true }
  answers['GET /inquiries/1/routes'] = [row(3, { loan: { ...loan, until: null, when: null } })]
  open(Obtain, 'obtain')
  const group = within(await screen.findByRole('region', { name: 'waits for you' }))
  expect(group.getByRole('link', { name: 'Send it' })).toHaveAttribute('href', '/asked')
})

test('partners that have it are named, and the first of them says when it comes', async () => {
  const near = { ...when, from: '2026-10-06', to: '2026-10-08', likely: 0.99 }
  const partner = 'Marlund Letters Archive'
  answers['GET /inquiries/1/routes'] = [
    row(3, {
      routes: [
        { ...elsewhere, from: partner, partner, likely: 0.99, loan: { ...elsewhere.loan, ...near } },
        {
          ...{ way: 'shelf', version: 'version of record', from: 'Korrin, Tower', partner: 'Korrin' },
          ...{ evidence: 'At Korrin. It is in.', asks: 'going to Korrin', expected: '2026-10-05', likely: 0.95 },
          ...{ library: elsewhere.library, shelf: { branch: 'Tower', call: 'B 12' } },
        },
      ],
      addresses: [null, null],
    }),
  ]
  const partners = [{ library: 'home', names: [partner, 'Korrin'], evidence: '', when: near }]
  answers['POST /inquiries/1/loans/draft'] = () => ({ status: 200, body: draft(drafted(3, { partners })) })
  open(Obtain, 'obtain')
  expect(await screen.findByText(/^Marlund Letters Archive · 99% likely/)).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: /Moths at lamp 3/, expanded: false }))
  // going there is a way among others, told by where
  expect(await screen.findByRole('button', { name: /Go there/ })).toHaveTextContent('At Korrin. It is in.')
  await userEvent.click(screen.getByRole('button', { name: 'Ask' }))
  const dialog = within(await screen.findByRole('dialog'))
  expect(await dialog.findByText('From Marlund Letters Archive, else from Korrin.')).toBeInTheDocument()
  expect(dialog.getByText('6–8 Oct, 99% by 24 Oct')).toBeInTheDocument()
  // in the other form nobody is known to have it
  await userEvent.selectOptions(dialog.getByLabelText(/Scan or book/), 'book')
  expect(dialog.queryByText(/^From Marlund/)).toBeNull()
  expect(dialog.getByText('7–14 Oct, 97% by 24 Oct')).toBeInTheDocument()
})
