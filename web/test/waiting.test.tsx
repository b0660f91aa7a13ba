/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Obtainable } from '../../core/schema/api'
import { Obtain } from '../stations/obtain/obtain'
import { answers, open, sent, work } from './rig'

const way = (more = {}) => ({
  ...{ way: 'gate', version: 'version of record', from: 'Tessary Journals', url: 'http://doi.example/x' },
  ...{ evidence: 'It opens on 20 October 2026.', expected: '2026-10-20', likely: 0.95, asks: 'nothing but waiting' },
  ...more,
})
const author = way({
  ...{ way: 'author', from: 'Lune', url: undefined, evidence: 'An author may send it.' },
  ...{ expected: '2026-10-29', likely: 0.3 },
})
const row = (reach: Obtainable['reach'], routes: object[], more = {}) => ({
  ...work(3, { state: 'kept', reach }),
  ...{ routes, addresses: routes.map(() => null), closed: [], trouble: null, copies: [], loan: null },
  ...{ awaited: null, author: null },
  ...more,
})
const puts = (end: string) => sent.filter(s => s.method === 'PUT' && s.path.endsWith(end)).map(s => s.body)
const openRow = async () => {
  answers['GET /inquiries/1/works/3/walks'] = []
  answers['GET /inquiries/1/works/3/author'] = []
  open(Obtain, 'obtain')
  await userEvent.click((await screen.findAllByTitle(work(3).title))[0]!)
}

test('what opens on a day is fetched by itself then, where that is asked for', async () => {
  answers['GET /inquiries/1/routes'] = [row('within reach', [way()])]
  answers['PUT /inquiries/1/awaited'] = {}
  await openRow()
  expect(screen.getByRole('region', { name: 'comes later' })).toBeInTheDocument()
  answers['GET /inquiries/1/routes'] = [row('within reach', [way()], { awaited: { day: '2026-10-20', why: 'opens' } })]
  await userEvent.click(screen.getByRole('button', { name: 'Fetch it by itself on Tue 20 Oct' }))
  await waitFor(() => expect(puts('/awaited')).toEqual([{ works: [3], wanted: true }]))
  // in the row and among its ways
  expect(await screen.findAllByText(/^fetched by itself on Tue 20 Oct/)).toHaveLength(2)
  await userEvent.click(screen.getByRole('button', { name: 'Not by itself' }))
  await waitFor(() => expect(puts('/awaited').at(-1)).toEqual({ works: [3], wanted: false }))
})

test('what the card could not bring today waits for tomorrow, and is not fetched with the others', async () => {
  const today = way({ expected: '2026-10-05' })
  answers['GET /inquiries/1/routes'] = [
    row('within reach', [today], { awaited: { day: '2026-10-06', why: 'limit' } }),
    { ...row('within reach', [today], { awaited: { day: '2026-10-05', why: 'gate' } }), id: 4, title: 'Gated' },
  ]
  open(Obtain, 'obtain')
  const later = within(await screen.findByRole('region', { name: 'comes later' }))
  expect(later.getByText('fetched by itself on Tue 6 Oct')).toBeInTheDocument()
  expect(screen.getByText('fetched by itself once you have signed in')).toBeInTheDocument()
  expect(screen.getByRole('button', { name: 'Fetch 1 now' })).toBeEnabled()
})

test('a letter to the author is noted, waited for, followed by a second, and taken back', async () => {
  const told = (wrote: string[], declined = false) =>
    row('out of reach', [author], wrote.length ? { author: { wrote, declined } } : {})
  answers['GET /inquiries/1/routes'] = [told([])]
  answers['GET /inquiries/1/works/3/author'] = [
    { mail: 'i.sand@dusk.example', name: 'Ida Sand', said: 'on page 1 of “Lit paths”' },
  ]
  answers['PUT /inquiries/1/works/3/author'] = {}
  answers['GET /inquiries/1/works/3/walks'] = []
  open(Obtain, 'obtain')
  await userEvent.click((await screen.findAllByTitle(work(3).title))[0]!)
  const letter = await screen.findByRole('link', { name: 'Write it in your mail' })
  await waitFor(() =>
    expect(letter).toHaveAttribute(
      'href',
      expect.stringMatching(/^mailto:i\.sand@dusk\.example\?.*Dear%20Ida%20Sand%2C/),
    ),
  )
  expect(screen.getByText(/which stands on page 1 of “Lit paths”\./)).toBeInTheDocument()
  answers['GET /inquiries/1/routes'] = [told(['2026-10-05'])]
  await userEvent.click(screen.getByRole('button', { name: 'I have sent it' }))
  await waitFor(() => expect(puts('/author')).toEqual([{ wrote: ['2026-10-05'], declined: false }]))
  expect(await screen.findByText(/^You wrote on Mon 5 Oct\. .* until Mon 12 Oct,/)).toBeInTheDocument()
  expect(screen.getByRole('region', { name: 'on its way' })).toBeInTheDocument()
  expect(screen.queryByRole('link', { name: 'Write it in your mail' })).toBeNull()
  answers['GET /inquiries/1/routes'] = [told([])]
  await userEvent.click(screen.getByRole('button', { name: 'It was not sent' }))
  await waitFor(() => expect(puts('/author').at(-1)).toEqual({ wrote: [], declined: false }))
  expect(await screen.findByRole('button', { name: 'I have sent it' })).toBeInTheDocument()
})

test('where another way is the next thing to do, a letter stands beside it', async () => {
  const scan = way({ way: 'loan', loan: { kind: 'scan', from: '2026-10-07', to: '2026-10-14' }, url: undefined })
  answers['GET /inquiries/1/routes'] = [
    row('within reach', [scan, author], { author: { wrote: ['2026-10-05'], declined: false } }),
  ]
  await openRow()
  expect(screen.getByRole('region', { name: 'ask for it' })).toBeInTheDocument()
  expect(await screen.findByText(/until Mon 12 Oct, a second letter is ready here\.$/)).toBeInTheDocument()
})

test('after a week without an answer a second letter waits; one who says no is no way any more', async () => {
  answers['GET /inquiries/1/routes'] = [
    row('out of reach', [author], { author: { wrote: ['2026-09-28'], declined: false } }),
  ]
  answers['PUT /inquiries/1/works/3/author'] = {}
  await openRow()
  expect(screen.getByRole('region', { name: 'waits for you' })).toBeInTheDocument()
  expect(screen.getByText('No answer yet')).toBeInTheDocument()
  expect(await screen.findByRole('region', { name: 'Second letter to the author' })).toHaveTextContent(
    'On 28 September 2026 I wrote to you',
  )
  answers['GET /inquiries/1/routes'] = [
    row('out of reach', [{ ...author, likely: 0 }], { author: { wrote: ['2026-09-28'], declined: true } }),
  ]
  await userEvent.click(screen.getByRole('button', { name: 'They cannot send it' }))
  await waitFor(() => expect(puts('/author')).toEqual([{ wrote: ['2026-09-28'], declined: true }]))
  expect(await screen.findByText('You wrote on Mon 28 Sep; they cannot send it.')).toBeInTheDocument()
  expect(screen.getByRole('region', { name: 'no way in time' })).toBeInTheDocument()
})
