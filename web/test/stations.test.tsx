/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, describe, expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Bibliography } from '../../core/schema/api'
import { Brief } from '../stations/brief'
import { Compose } from '../stations/compose/compose'
import { Inquiries } from '../stations/inquiries'
import { Sift } from '../stations/sift/sift'
import { answers, inquiry, open, posted, sent } from './rig'

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

describe('Compose', () => {
  const list: Bibliography = {
    style: 'apa',
    styles: [{ id: 'apa', name: 'APA' }],
    hangingIndent: true,
    entries: [
      {
        id: 5,
        work: 3,
        label: null,
        citation: [{ text: 'Okafor (2003). ' }, { text: 'Night Papers', italic: true }],
        inText: '(Okafor, 2003)',
        title: 'Moths at lamp 3',
        annotation: 'One two three.',
        version: 4,
        words: 3,
        kind: 'research article',
        right: [],
      },
    ],
    rules: [
      { rule: 'entries', verdict: 'short', have: 1, want: 10, said: 'sources', counting: [5] },
      { rule: 'books', verdict: 'holds', have: 0, want: 2, said: 'books or chapters, 2 allowed', counting: [] },
    ],
  }
  beforeEach(() => {
    answers['GET /inquiries/1/bibliography'] = list
  })
  test('shows the list as it prints, with the rules and the length', async () => {
    open(Compose, 'compose')
    expect(await screen.findByText('Night Papers')).toHaveProperty('tagName', 'I')
    expect(screen.getByText('2 words short')).toBeInTheDocument()
    expect(screen.getByLabelText('sources: short')).toHaveTextContent('1 of 10sources: 9 short')
    expect(screen.getByText('In the text: (Okafor, 2003)')).toBeInTheDocument()
  })
  test('saves an annotation against its version', async () => {
    answers['PATCH /inquiries/1/entries/5'] = { version: 5 }
    open(Compose, 'compose')
    const box = await screen.findByRole('textbox', { name: 'Annotation' })
    await userEvent.type(box, ' Four five.')
    await userEvent.tab()
    await waitFor(() => expect(sent.find(s => s.method === 'PATCH')).toBeDefined())
    const patch = sent.find(s => s.method === 'PATCH')!
    expect(patch.headers.get('If-Match')).toBe('"4"')
    expect(patch.body).toEqual({ annotation: 'One two three. Four five.' })
    expect(screen.getByText('5 words')).toBeInTheDocument()
    expect(await screen.findByText('saved')).toBeInTheDocument()
  })
  test('keeps both texts where another window was faster', async () => {
    answers['PATCH /inquiries/1/entries/5'] = () => ({
      status: 412,
      body: { code: 'changed-elsewhere', title: 'Changed.', current: { annotation: 'Theirs.', version: 7 } },
    })
    open(Compose, 'compose')
    const box = await screen.findByRole('textbox', { name: 'Annotation' })
    await userEvent.type(box, ' Mine.')
    await userEvent.tab()
    expect(await screen.findByText('Theirs.')).toBeInTheDocument()
    expect(box).toHaveValue('One two three. Mine.')
    answers['PATCH /inquiries/1/entries/5'] = { version: 8 }
    await userEvent.click(screen.getByRole('button', { name: 'Keep mine, above' }))
    await waitFor(() =>
      expect(
        sent.at(-1)!.headers.get('If-Match') ??
          sent
            .filter(s => s.method === 'PATCH')
            .at(-1)!
            .headers.get('If-Match'),
      ).toBe('"7"'),
    )
    expect(screen.queryByText('Theirs.')).toBeNull()
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
