/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { actsFor } from '../../../core/access/loan-acts'
import type { Loan } from '../../../core/schema/api'
import { answers, open, posted } from '../../test/rig'
import { Asked } from './asked'

const loan = (id: number, more: Partial<Loan> = {}): Loan => ({
  acts: actsFor({ kind: 'scan', state: 'sent', ...more, byHand: Boolean(more.hand) }),
  hand: null,
  ...{ id, work: id, title: `Moths at lamp ${id}`, authors: 'Gallivane, Quilluchi', year: 2021, kind: 'scan' },
  inquiry: { id: 1, title: 'Lamps and moths', due: '2026-10-29', neededBy: '2026-10-24' },
  ...{ library: 'Halverane Library', pickUp: 'Hill Branch', state: 'sent', stands: 'Sent', said: '' },
  ...{ since: '2026-10-05T10:00:00.000Z', asked: '2026-10-01T10:00:00.000Z', until: null, due: null, waits: null },
  ...{ recalled: false, busy: false, again: false, suppliers: [] },
  when: { from: '2026-10-07', to: '2026-10-14', expected: '2026-10-09', likely: 0.97 },
  events: [
    { what: 'asked', at: '2026-10-01T10:00:00.000Z', said: '', until: null },
    { what: 'sent', at: '2026-10-01T10:00:01.000Z', said: '', until: null },
  ],
  ...more,
})
const begin = (...loans: Loan[]) => (answers['GET /loans'] = { day: '2026-10-05', loans })
const act = (id: number, now: Partial<Loan>) =>
  (answers[`POST /loans/${id}/acts`] = () => ({ status: 202, body: loan(id, now) }))
const show = () => open(Asked, '/asked')
const row = (id: number) => within(screen.getByText(`Moths at lamp ${id}`).closest<HTMLElement>('[data-loan]')!)

test('before anything was asked for, the page says how it comes to be there', async () => {
  begin()
  show()
  expect(await screen.findByText('Nothing asked for yet')).toBeInTheDocument()
  expect(screen.queryByRole('link', { name: 'As a calendar file' })).toBeNull()
})

test('requests stand by inquiry, with the chance that they come before they are needed', async () => {
  const other = { id: 2, title: 'Bats at bridges', due: null, neededBy: null }
  begin(loan(3), loan(4, { inquiry: other, kind: 'book' }))
  show()
  expect(
    await screen.findByText('2 scans and books for 2 inquiries, as they stand on Monday 5 October.'),
  ).toBeInTheDocument()
  expect(row(3).getByText('97% likely before you need it')).toBeInTheDocument()
  expect(row(3).getByText('Gallivane 2021 · scan from Halverane Library')).toBeInTheDocument()
  expect(row(4).getByText('most likely by 14 Oct')).toBeInTheDocument()
  expect(screen.getByRole('link', { name: 'Bats at bridges' })).toHaveAttribute('href', '/inquiries/2/obtain')
  expect(screen.getByText('needed by 24 Oct')).toBeInTheDocument()
  expect(screen.getByText('due 29 Oct')).toBeInTheDocument()
  expect(screen.getByRole('link', { name: 'As a calendar file' })).toHaveAttribute('href', '/api/loans/calendar.ics')
})

test('what an office asks comes first, and is answered by a word or in one’s own', async () => {
  begin(loan(3, { state: 'asked back', stands: 'Asked back: answer here', said: 'Will the second printing do?' }))
  act(3, { state: 'asked back', said: 'Will the second printing do?', busy: true })
  show()
  expect(await screen.findByText('“Will the second printing do?”')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Yes, that will do' }))
  await waitFor(() => expect(posted('/loans/3/acts')[0]!.body).toEqual({ act: 'answer', said: 'Yes, that will do.' }))
  // it is being sent: nothing is asked twice
  await waitFor(() => expect(screen.queryByText('“Will the second printing do?”')).toBeNull())
})

test('own words take the place of the ready ones', async () => {
  begin(loan(3, { state: 'asked back', said: 'Which volume?' }))
  act(3, { busy: true })
  show()
  await userEvent.type(await screen.findByLabelText('Your answer'), 'The twelfth.')
  expect(screen.queryByRole('button', { name: 'No, look for another' })).toBeNull()
  await userEvent.click(screen.getByRole('button', { name: 'Send my words' }))
  await waitFor(() => expect(posted('/loans/3/acts')[0]!.body).toEqual({ act: 'answer', said: 'The twelfth.' }))
})

test('each has the next thing to do, and all that befell it', async () => {
  begin(
    loan(3, { state: 'ready', stands: 'Ready to fetch until 19 October 2026', until: '2026-10-19', when: null }),
    loan(4, {
      kind: 'book',
      state: 'ready',
      stands: 'Pick it up until 12 October 2026',
      until: '2026-10-12',
      when: null,
    }),
    loan(5, { kind: 'book', state: 'with you', stands: 'Due back 2 November 2026', due: '2026-11-02', when: null }),
    loan(6, {
      state: 'not sent',
      stands: 'It could not be sent',
      said: 'The office did not answer. It is sent again by itself.',
    }),
  )
  act(3, { state: 'ready', busy: true })
  show()
  await screen.findByText('Moths at lamp 3')
  expect(row(4).getByRole('button', { name: 'I have it' })).toBeInTheDocument()
  expect(row(4).getByText('at Hill Branch')).toBeInTheDocument()
  expect(row(5).getByRole('button', { name: 'Keep longer' })).toBeInTheDocument()
  expect(row(6).getByRole('button', { name: 'Send again' })).toBeInTheDocument()
  await userEvent.click(row(3).getByRole('button', { name: 'Fetch' }))
  await waitFor(() => expect(posted('/loans/3/acts')[0]!.body).toEqual({ act: 'fetch', said: '' }))
  await waitFor(() => expect(row(3).queryByRole('button', { name: 'Fetch' })).toBeNull())
  await userEvent.click(screen.getByRole('button', { name: 'Moths at lamp 5' }))
  const befell = within(screen.getByRole('list', { name: 'What befell “Moths at lamp 5”' })).getAllByRole('listitem')
  expect(befell.map(x => x.textContent)).toEqual(['1 OctYou asked for it.', '1 OctIt was sent to the office.'])
  expect(screen.getByRole('button', { name: 'I gave it back' })).toBeInTheDocument()
})

test('giving up is asked about first, and what is over is folded away', async () => {
  begin(loan(3), loan(4, { state: 'refused', stands: 'Refused', said: 'It is not lent.', when: null }))
  act(3, { state: 'given up', stands: 'Given up', when: null })
  show()
  expect(await screen.findByText('Moths at lamp 3')).toBeInTheDocument()
  expect(screen.queryByText('Moths at lamp 4')).toBeNull()
  await userEvent.click(screen.getByRole('button', { name: 'Also 1 request that is over' }))
  expect(row(4).getByText('It is not lent.')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Moths at lamp 3' }))
  await userEvent.click(screen.getByRole('button', { name: 'Give it up …' }))
  expect(posted('/loans/3/acts')).toHaveLength(0)
  await userEvent.click(await screen.findByRole('button', { name: 'Give it up' }))
  await waitFor(() => expect(posted('/loans/3/acts')[0]!.body).toEqual({ act: 'give up', said: '' }))
  await waitFor(() => expect(screen.queryByRole('alertdialog')).toBeNull())
})

test('what stands otherwise by now is said, and looked at again', async () => {
  begin(loan(3, { state: 'ready', stands: 'Ready to fetch', until: '2026-10-19', when: null }))
  answers['POST /loans/3/acts'] = () => ({
    status: 409,
    body: { code: 'stands-otherwise', title: 'It stands otherwise by now. Look at it again.' },
  })
  show()
  await userEvent.click(await screen.findByRole('button', { name: 'Fetch' }))
  expect(await screen.findByText('It stands otherwise by now. Look at it again.')).toBeInTheDocument()
})

const form = 'http://library.ostermoor.example/request?url_ver=Z39.88-2004'
const hand = { form, to: '', subject: 'A loan', letter: 'Dear loan office', details: 'Title: Moths' }

test('what its office takes no messages of is sent by hand, on its form', async () => {
  begin(loan(3, { hand, kind: 'book', state: 'not sent', stands: 'Yours to send', when: null }))
  act(3, { hand, kind: 'book', state: 'sent', stands: 'Sent' })
  show()
  await userEvent.click(await screen.findByRole('button', { name: 'Send it' }))
  expect(screen.getByRole('link', { name: 'Open its form' })).toHaveAttribute('href', form)
  await userEvent.click(screen.getByRole('button', { name: 'I sent it' }))
  await waitFor(() => expect(posted('/loans/3/acts')[0]!.body).toEqual({ act: 'handed over', said: '' }))
  expect(await screen.findByRole('button', { name: 'It is there' })).toBeInTheDocument()
  expect(screen.queryByRole('link', { name: 'Open its form' })).toBeNull()
})

test('or by a letter that stands ready', async () => {
  const letter = { ...hand, form: null, to: 'loans@l.example' }
  begin(loan(3, { hand: letter, state: 'not sent', stands: 'Yours to send', when: null }))
  show()
  await userEvent.click(await screen.findByRole('button', { name: 'Send it' }))
  expect(screen.getByRole('link', { name: 'Write it in your mail' })).toHaveAttribute(
    'href',
    'mailto:loans@l.example?subject=A%20loan&body=Dear%20loan%20office',
  )
  expect(screen.getByText('It goes to loans@l.example, and is answered to your own mail.')).toBeInTheDocument()
})

test('what became of it is put down: until when a book is lent, and why it was refused', async () => {
  begin(loan(3, { hand, kind: 'book', stands: 'Sent' }), loan(4, { hand, stands: 'Sent' }))
  act(3, { hand, kind: 'book', state: 'with you', stands: 'Due back 2 Nov', due: '2026-11-02', when: null })
  act(4, { hand, state: 'refused', stands: 'Refused', when: null })
  show()
  await userEvent.click(await screen.findByRole('button', { name: 'Moths at lamp 3' }))
  await userEvent.click(screen.getByRole('button', { name: 'I have it' }))
  await userEvent.type(await screen.findByLabelText('Due back on'), '2026-11-02')
  await userEvent.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'I have it' }))
  await waitFor(() =>
    expect(posted('/loans/3/acts')[0]!.body).toEqual({ act: 'picked up', said: '', until: '2026-11-02' }),
  )
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
  // a scan comes to one’s own mail
  expect(row(4).getByRole('link', { name: 'Bring the file' })).toHaveAttribute('href', '/inquiries/1/obtain')
  await userEvent.click(screen.getByRole('button', { name: 'Moths at lamp 4' }))
  await userEvent.click(screen.getByRole('button', { name: 'It was refused …' }))
  await userEvent.type(await screen.findByLabelText('What the office says'), 'It is lent to nobody.')
  await userEvent.click(screen.getByRole('button', { name: 'Put it down' }))
  await waitFor(() =>
    expect(posted('/loans/4/acts')[0]!.body).toEqual({ act: 'turned down', said: 'It is lent to nobody.' }),
  )
})

test('a longer day is put down only where it is named', async () => {
  begin(loan(3, { hand, kind: 'book', state: 'with you', stands: 'Due back 2 Nov', due: '2026-11-02', when: null }))
  show()
  await userEvent.click(await screen.findByRole('button', { name: 'Moths at lamp 3' }))
  await userEvent.click(screen.getByRole('button', { name: 'Kept longer …' }))
  expect(await screen.findByRole('button', { name: 'Put it down' })).toBeDisabled()
  await userEvent.click(screen.getByRole('button', { name: 'Not now' }))
  expect(posted('/loans/3/acts')).toHaveLength(0)
})

test('what is refused of what one puts down stays written', async () => {
  begin(loan(4, { hand, stands: 'Sent' }))
  answers['POST /loans/4/acts'] = () => ({
    status: 503,
    body: { code: 'database-away', title: 'Try again in a moment.' },
  })
  show()
  await userEvent.click(await screen.findByRole('button', { name: 'Moths at lamp 4' }))
  await userEvent.click(screen.getByRole('button', { name: 'It was refused …' }))
  await userEvent.type(await screen.findByLabelText('What the office says'), 'It is lent to nobody.')
  await userEvent.click(screen.getByRole('button', { name: 'Put it down' }))
  expect(await screen.findByText('Try again in a moment.')).toBeInTheDocument()
  expect(screen.getByLabelText('What the office says')).toHaveValue('It is lent to nobody.')
})

test('what an office sent back waits, first of all, until it is asked for once more', async () => {
  const back = { state: 'refused' as const, stands: 'Sent back: ask again', said: 'It is on loan.', again: true }
  begin(
    loan(1),
    loan(2, back),
    loan(3, { ...back, work: 4 }),
    loan(4, { state: 'sent', suppliers: ['Korrin Library', 'Marlund'] }),
  )
  show()
  await screen.findByText('Moths at lamp 2')
  const titles = screen.getAllByRole('button', { name: /^Moths at lamp/ }).map(b => b.textContent)
  // the third was asked for again by the fourth, and is over
  expect(titles).toEqual(['Moths at lamp 2', 'Moths at lamp 1', 'Moths at lamp 4'])
  expect(row(2).getByRole('link', { name: 'Ask again' })).toHaveAttribute('href', '/inquiries/1/obtain')
  expect(row(2).getByText(/^sent back/)).toBeInTheDocument()
  expect(row(4).getByText(/scan from Korrin Library, by Halverane Library/)).toBeInTheDocument()
  expect(row(1).queryByRole('link', { name: 'Ask again' })).toBeNull()
})
