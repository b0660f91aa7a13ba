/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Opening } from '../../core/access/copy-rights'
import { Obtain } from '../stations/obtain/obtain'
import { NotYours } from '../stations/read/not-yours'
import { answers, inquiry, MINE, open, sent, sheet, work } from './rig'

const THEIRS: Opening = {
  ...{ opens: false, shared: false, terms: null, mayPassOn: false, passedOn: false },
  said: 'Bram brought it, and has not passed it on. Fetch it by your own access.',
}
const copy = (opening: Opening) => ({ id: 8, outcome: 'proved', version: 'version of record', pages: 4, opening })
const onSheet = (opening: Opening) => ({
  ...sheet(work(1, { state: 'kept' })),
  copies: [{ ...copy(opening), origin: 'your file "a.pdf"', proof: { outcome: 'proved', evidence: [] } }],
})
const passed = () => sent.filter(s => s.path === '/inquiries/1/copies/8/passing').map(s => s.body)

beforeEach(() => {
  answers['PUT /inquiries/1/copies/8/passing'] = {}
  answers['GET /inquiries/1/routes'] = []
})

test('the work sheet says by whose right a copy is here, and passes it on with why', async () => {
  answers['GET /inquiries/1/works/1'] = onSheet(MINE)
  open(Obtain, 'obtain?work=1')
  expect(await screen.findByText(MINE.said)).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Pass it on …' }))
  await userEvent.click(await screen.findByRole('menuitem', { name: 'it is my own work' }))
  await waitFor(() => expect(passed()).toEqual([{ why: 'it is my own work' }]))
})
test('where nobody else is, nothing is passed on', async () => {
  answers['GET /inquiries/1'] = { ...inquiry, others: 0 }
  answers['GET /inquiries/1/works/1'] = onSheet(MINE)
  open(Obtain, 'obtain?work=1')
  expect(await screen.findByText(MINE.said)).toBeInTheDocument()
  expect(screen.queryByRole('button', { name: 'Pass it on …' })).toBeNull()
})
test('the terms of what was lent stand beside it', async () => {
  answers['GET /inquiries/1/works/1'] = onSheet({ ...MINE, mayPassOn: false, terms: 'For your own study; no copies.' })
  open(Obtain, 'obtain?work=1')
  const terms = await screen.findByRole('button', { name: 'Its terms' })
  expect(screen.queryByText('For your own study; no copies.')).toBeNull()
  await userEvent.click(terms)
  expect(screen.getByText('For your own study; no copies.')).toBeInTheDocument()
  expect(terms).toHaveAttribute('aria-expanded', 'true')
})
test('what was passed on is kept again', async () => {
  answers['GET /inquiries/1/works/1'] = onSheet({ ...MINE, shared: true, passedOn: true, said: 'Passed on: own work.' })
  open(Obtain, 'obtain?work=1')
  await userEvent.click(await screen.findByRole('button', { name: 'Keep it to myself' }))
  await waitFor(() => expect(passed()).toEqual([{ why: null }]))
})
test('another’s copy is called so, and offers nothing that would be refused', async () => {
  answers['GET /inquiries/1/works/1'] = onSheet(THEIRS)
  open(Obtain, 'obtain?work=1')
  expect(await screen.findByText(THEIRS.said)).toBeInTheDocument()
  expect(screen.getByText('Another’s copy')).toBeInTheDocument()
  expect(screen.queryByRole('button', { name: /What is in|Pass it on/ })).toBeNull()
})
test('a copy that does not open says why, with the ways to one of one’s own and what was noted', async () => {
  open(() => <NotYours copy={{ title: 'Moths at lamp 1', work: 1, opening: THEIRS, passages: 1 }} />, 'read/8')
  expect(await screen.findByText('“Moths at lamp 1” does not open for you')).toBeInTheDocument()
  expect(screen.getByText(THEIRS.said)).toBeInTheDocument()
  expect(screen.getByRole('link', { name: 'Ways to its text' })).toHaveAttribute('href', '/inquiries/1/obtain?work=1')
  expect(screen.getByRole('link', { name: 'What was noted' })).toBeInTheDocument()
})
test('in Obtain a work of which another has a copy is fetched by one’s own access', async () => {
  const route = {
    ...{ way: 'open', version: 'preprint', from: 'Marsh Repository', url: 'http://marsh.example/1' },
    ...{ evidence: 'Open at Marsh Repository.', expected: '2026-10-05', likely: 0.95, asks: 'nothing' },
  }
  const of = { routes: [route], addresses: [route.url], closed: [], trouble: null, loan: null }
  const row = { ...work(1, { state: 'kept', reach: 'within reach' }), ...of }
  answers['GET /inquiries/1/routes'] = [{ ...row, copies: [{ ...copy(THEIRS), said: [] }] }]
  open(Obtain, 'obtain')
  const line = (await screen.findByRole('button', { name: /Moths at lamp 1/ })).closest('[data-work]') as HTMLElement
  expect(within(line).getByRole('button', { name: 'Fetch' })).toBeInTheDocument()
  expect(within(line).queryByRole('link', { name: 'Read it' })).toBeNull()
  await userEvent.click(screen.getByRole('button', { name: /Moths at lamp 1/ }))
  expect(await screen.findByText(THEIRS.said)).toBeInTheDocument()
})
