/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, describe, expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Brief } from '../stations/brief/brief'
import { Inquiries } from '../stations/inquiries'
import { Sift } from '../stations/sift/sift'
import { answers, gate, inquiry, open, posted, sent } from './rig'

describe('Sift', () => {
  beforeEach(() => {
    answers['POST /inquiries/1/decisions'] = { works: [] }
  })
  const heading = () => within(screen.getByRole('article')).getByRole('heading')
  test('goes from work to work by keys, with a reason for setting aside', async () => {
    open(Sift, 'sift')
    await screen.findByRole('article')
    expect(heading()).toHaveTextContent('Moths at lamp 1')
    await userEvent.keyboard('f')
    expect(posted('/inquiries/1/decisions')).toHaveLength(0)
    await userEvent.keyboard('5')
    await waitFor(() =>
      expect(posted('/inquiries/1/decisions')[0]!.body).toMatchObject({
        decisions: [{ work: 1, pass: 'abstract', choice: 'set aside', reason: 'Too old for the brief' }],
      }),
    )
    expect(heading()).toHaveTextContent('Moths at lamp 2')
  })
  test('a reason can be left again without deciding', async () => {
    open(Sift, 'sift')
    await screen.findByRole('article')
    await userEvent.keyboard('f{Escape}')
    expect(screen.queryByText('Why is it set aside?')).toBeNull()
    expect(posted('/inquiries/1/decisions')).toHaveLength(0)
  })
  test('shows the abstract with the terms of the query marked, and why it is what it is', async () => {
    open(Sift, 'sift')
    expect(await screen.findByText(/Abstract of 1/)).toBeInTheDocument()
    expect([...document.querySelectorAll('article mark')].map(m => m.textContent)).toEqual(['Moths', 'lamp', 'moths'])
    expect(await screen.findByText('9 pages.')).toBeInTheDocument()
    expect(screen.getByText('Not yet checked against its own text')).toBeInTheDocument()
  })
  test('an empty pool says where works come from', async () => {
    answers['GET /inquiries/1/works'] = []
    open(Sift, 'sift')
    expect(await screen.findByText('The pool is empty')).toBeInTheDocument()
    expect(screen.getByRole('link', { name: 'To Gather' })).toHaveAttribute('href', '/inquiries/1/gather')
  })
  test('a reader may look, and decides nothing', async () => {
    answers['GET /inquiries/1'] = { ...inquiry, role: 'reader' }
    open(Sift, 'sift')
    await screen.findByRole('article')
    expect(screen.getByText('You may look at this inquiry, but not change it.')).toBeInTheDocument()
    await userEvent.keyboard('j')
    expect(posted('/inquiries/1/decisions')).toHaveLength(0)
  })
})

test('the brief is checked before it is sent, and sent with its version', async () => {
  answers['PATCH /inquiries/1/brief'] = {}
  open(Brief, 'brief')
  const most = await screen.findByLabelText('Most words of an annotation')
  await userEvent.clear(most)
  await userEvent.type(most, '2')
  await userEvent.click(screen.getByRole('button', { name: 'Save the brief' }))
  expect(await screen.findByText('This is less than the least.')).toBeInTheDocument()
  expect(sent.some(s => s.method === 'PATCH')).toBe(false)
  await userEvent.clear(most)
  await userEvent.click(screen.getByRole('button', { name: 'Save the brief' }))
  await waitFor(() => expect(sent.find(s => s.method === 'PATCH')?.headers.get('If-Match')).toBe('"2"'))
  expect(sent.find(s => s.method === 'PATCH')!.body).toMatchObject({
    title: 'Lamps and moths',
    wordsFrom: 5,
    wordsTo: null,
  })
})

test('a brief that wants primary sources asks which kinds are some here', async () => {
  answers['PATCH /inquiries/1/brief'] = {}
  open(Brief, 'brief')
  const wanted = await screen.findByLabelText('Least number of primary sources')
  expect(screen.queryByRole('button', { name: 'news: a primary source' })).not.toBeInTheDocument()
  await userEvent.type(wanted, '2')
  await userEvent.click(await screen.findByRole('button', { name: 'news: a primary source' }))
  await userEvent.click(screen.getByRole('button', { name: 'Save the brief' }))
  await waitFor(() => expect(sent.some(s => s.method === 'PATCH')).toBe(true))
  expect(sent.find(s => s.method === 'PATCH')!.body).toMatchObject({ primaryAtLeast: 2, primaryKinds: ['news'] })
})

test('the brief says whether one is on the network of a library', async () => {
  answers['GET /inquiries/1/gates'] = [gate({ name: 'Town', onCampus: true }), gate({ library: '7', name: 'Harbour' })]
  open(Brief, 'brief')
  expect(await screen.findByText(/^You are on the network of Town.* You are off the network of Harbour/)).toBeVisible()
})

test('the brief reads rules from the text of an assignment, and takes over those that are right', async () => {
  answers['PATCH /inquiries/1/brief'] = {}
  answers['GET /desk'] = { day: '2026-10-05', days: [], laying: null }
  open(Brief, 'brief')
  await userEvent.click(await screen.findByRole('button', { name: /Read it from the assignment/ }))
  const dialog = within(await screen.findByRole('dialog'))
  const take = () => dialog.getByRole('button', { name: /over$/ })
  expect(take()).toBeDisabled()
  await userEvent.click(dialog.getByRole('textbox', { name: 'Text of the assignment' }))
  await userEvent.paste(
    'Twelve sources in English, seven of them refereed. At most 2 books. Cite in MLA. You must use primary sources.',
  )
  expect(await dialog.findByText('12 entries in all')).toBeInTheDocument()
  expect(dialog.getByText('“You must use primary sources.”')).toBeInTheDocument()
  await userEvent.click(dialog.getByRole('checkbox', { name: /At most 2 books/ }))
  expect(take()).toHaveTextContent('Take 4 rules over')
  await userEvent.click(take())
  expect(await screen.findByLabelText('Number of entries')).toHaveValue('12')
  expect(screen.getByText('MLA, 9th edition')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Save the brief' }))
  await waitFor(() => expect(sent.some(s => s.method === 'PATCH')).toBe(true))
  expect(sent.find(s => s.method === 'PATCH')!.body).toMatchObject({
    ...{ entriesWanted: 12, refereedAtLeast: 7, languages: ['en'], style: 'modern-language-association' },
    ...{ wordsFrom: 5, booksAtMost: null },
  })
})

test('the list of inquiries leads to where one goes on', async () => {
  answers['GET /inquiries'] = [
    inquiry,
    { ...inquiry, id: 2, title: 'New one', numbers: { ...inquiry.numbers, pool: 0 }, daysLeft: -3 },
  ]
  open(Inquiries, '/')
  expect(await screen.findByRole('link', { name: 'Lamps and moths' })).toHaveAttribute('href', '/inquiries/1/sift')
  expect(screen.getByRole('link', { name: 'New one' })).toHaveAttribute('href', '/inquiries/2/gather')
  expect(screen.getByText('3 days late')).toBeInTheDocument()
})

test('an inquiry that is not there is said to be not there', async () => {
  delete answers['GET /inquiries/1']
  open(Sift, 'sift')
  expect(await screen.findByText('There is nothing here')).toBeInTheDocument()
})
