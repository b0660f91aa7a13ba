/** @jest-environment jsdom */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Flow } from '../../core/sift/flow'
import { Sift } from '../stations/sift/sift'
import { inOrder } from '../stations/sift/use-order'
import { answers, open, posted, work } from './rig'

const side = (record: number, item: object, facts = {}) => ({
  record,
  work: record,
  source: record === 1 ? 'Lampyr Abstracts' : 'your file',
  item: { id: '', type: 'article-journal', ...item },
  facts,
})
const pair = {
  a: side(1, { title: 'Lamps and moths', author: [{ family: 'Okafor' }] }),
  b: side(2, { title: 'Lamps and moths of towns' }, { version: 'preprint' }),
  score: 3,
}

beforeEach(() => {
  answers['GET /inquiries/1/twins'] = []
  answers['GET /inquiries/1/checks'] = { checks: [], unread: 2, offered: 2 }
})

describe('a pair in doubt', () => {
  beforeEach(() => {
    answers['GET /inquiries/1/twins'] = [pair, { ...pair, a: side(3, { title: 'Owls' }), b: side(4, { title: 'Owl' }) }]
    answers['POST /inquiries/1/links'] = { works: [1] }
  })
  test('stands side by side with what differs marked and what is missing said', async () => {
    open(Sift, 'sift?view=twins')
    const title = await screen.findByRole('row', { name: /^Title/ })
    expect(within(title).getByText('of towns', { exact: false }).tagName).toBe('MARK')
    expect(screen.getByRole('row', { name: /^Authors/ })).toHaveTextContent('Okafor')
    expect(screen.getByRole('row', { name: /^Authors/ })).toHaveTextContent('not given')
    expect(screen.getByText('2 pairs in doubt')).toBeInTheDocument()
    expect(screen.queryByRole('row', { name: /^DOI/ })).toBeNull()
  })
  test('is answered by a key, passed over by another, and the answer taken back', async () => {
    open(Sift, 'sift?view=twins')
    await screen.findByText('2 pairs in doubt')
    await userEvent.keyboard('f')
    await waitFor(() => expect(posted('/inquiries/1/links')[0]!.body).toEqual({ a: 1, b: 2, verdict: 'never' }))
    expect(await screen.findByText('one pair in doubt')).toBeInTheDocument()
    await userEvent.keyboard(' ')
    expect(await screen.findByText('The pairs you passed over are left')).toBeInTheDocument()
    await userEvent.keyboard('u')
    await waitFor(() => expect(posted('/inquiries/1/links')[1]!.body).toEqual({ a: 1, b: 2, verdict: 'asked' }))
    expect(await screen.findByText('one pair in doubt')).toBeInTheDocument()
    await userEvent.keyboard('j')
    await waitFor(() => expect(posted('/inquiries/1/links')[2]!.body).toMatchObject({ verdict: 'same' }))
  })
  test('that the server refuses comes back', async () => {
    answers['POST /inquiries/1/links'] = () => ({
      status: 422,
      body: { code: 'unknown-record', title: 'Both records have to be in the pool.' },
    })
    open(Sift, 'sift?view=twins')
    await screen.findByText('2 pairs in doubt')
    await userEvent.keyboard('j')
    expect((await screen.findAllByText('Both records have to be in the pool.')).length).toBeGreaterThan(0)
    expect(screen.getByText('2 pairs in doubt')).toBeInTheDocument()
  })
})

test('the pass by abstract begins with what has one, whatever the order', async () => {
  localStorage.setItem('vine-path order of reading', 'pool')
  answers['GET /inquiries/1/works'] = [
    work(1, { title: 'Moths without a word', hasAbstract: false }),
    work(2, { title: 'Moths in words', hasAbstract: true }),
  ]
  open(Sift, 'sift')
  expect(await screen.findByRole('heading', { level: 1, name: 'Moths in words' })).toBeInTheDocument()
  localStorage.clear()
})

describe('ordered by citations a year', () => {
  beforeEach(() => localStorage.setItem('vine-path order of reading', 'cited'))
  afterEach(() => localStorage.clear())
  test('it says of how many works those are not known, and asks for them', async () => {
    answers['POST /inquiries/1/citations'] = { job: 9 }
    answers['GET /inquiries/1/works'] = [
      work(1, { citedBy: 4, perYear: 2 }),
      work(2, { citedBy: null, perYear: null, doi: '10.5555/a.2' }),
      work(3, { citedBy: null, perYear: null, doi: null }),
    ]
    open(Sift, 'sift')
    expect(await screen.findByText(/is not known of/)).toHaveTextContent(
      'How often it is cited is not known of 2 of 3 works; they come last. One of them has no DOI to ask by.',
    )
    await userEvent.click(screen.getByRole('button', { name: 'Ask the citation index' }))
    await waitFor(() => expect(posted('/inquiries/1/citations')).toHaveLength(1))
  })
})

describe('what may be left', () => {
  const left = () => screen.findByRole('group', { name: 'What may be left' })
  const check = { id: 1, n: 1, size: 212, day: '2026-10-05', drawn: [1, 2], decided: 1, wanted: 0, mostLeft: null }
  test('is too early to say, and begins with a draw', async () => {
    answers['GET /inquiries/1/checks'] = { checks: [], unread: 300, offered: 60 }
    answers['POST /inquiries/1/checks'] = check
    open(Sift, 'sift')
    expect(await left()).toHaveTextContent('Too early to say. A check draws 60 works of the 300 unread by chance.')
    await userEvent.click(screen.getByRole('button', { name: 'Begin a check' }))
    await waitFor(() => expect(posted('/inquiries/1/checks')[0]!.body).toEqual({ draws: 60 }))
  })
  test('costs more than it spares in a small pool, and says so', async () => {
    open(Sift, 'sift')
    expect(await left()).toHaveTextContent('reading them all is the shortest check')
    expect(screen.queryByRole('button', { name: 'Begin a check' })).toBeNull()
  })
  test('waits while a check is open, whose draw comes first', async () => {
    answers['GET /inquiries/1/checks'] = { checks: [{ ...check, drawn: [2], decided: 0 }], unread: 2, offered: 0 }
    open(Sift, 'sift')
    expect(await left()).toHaveTextContent('Check 1: 0 of 1 work decided')
    expect(await screen.findByRole('heading', { level: 1, name: 'Moths at lamp 2' })).toBeInTheDocument()
  })
  test('is a sentence once all drawn are decided', async () => {
    answers['GET /inquiries/1/checks'] = { checks: [{ ...check, decided: 2, mostLeft: 9 }], unread: 2, offered: 2 }
    open(Sift, 'sift')
    expect(await left()).toHaveTextContent('At most 9 works you would keep among the 210 others then unread.')
  })
})

test('the field says how fast it renews itself, or where that is found out', async () => {
  open(Sift, 'sift?view=field')
  const said = within(await screen.findByRole('region', { name: 'How fast the field renews itself' }))
  expect(said.getByRole('link', { name: 'walk their trails in Trace' })).toHaveAttribute('href', '/inquiries/1/trace')
  cleanup()
  answers['GET /inquiries/1/cited-ages'] = { works: 3, ages: [[9, 40]] }
  open(Sift, 'sift?view=field')
  expect(
    await screen.findByText(/This field renews itself every 10 years: .* \(40 references of 3 works\)/),
  ).toBeInTheDocument()
  expect(screen.queryByRole('link', { name: 'walk their trails in Trace' })).toBeNull()
})

test('the flow shows each step with what leaves it, the rarer reasons together', async () => {
  const flow: Flow = {
    found: { catalogues: 90, files: 8, trails: 2 },
    left: 10,
    joined: 20,
    works: 70,
    unread: 5,
    later: 2,
    asideByTitle: [{ reason: 'no reason given', works: 30 }],
    awaitingAbstract: 3,
    asideByAbstract: ['Too old', 'Off the question', 'Not read', 'Short', 'Odd', 'Lost'].map((reason, i) => ({ reason, works: 6 - i })),
    sought: 9,
    notInHand: 4,
    inHand: 5,
    asideByText: [{ reason: 'Only an abstract', works: 1 }],
    awaitingText: 1,
    keptByText: 3,
  } // prettier-ignore
  const none = {
    ...flow,
    found: { catalogues: 0, files: 3, trails: 1 },
    left: 0,
    joined: 1,
    works: 3,
    unread: 3,
    later: 0,
    asideByTitle: [],
    awaitingAbstract: 0,
    asideByAbstract: [],
    sought: 0,
    notInHand: 0,
    inHand: 0,
    asideByText: [],
    awaitingText: 0,
    keptByText: 0,
  }
  answers['GET /inquiries/1/flow'] = { catalogues: flow, others: none }
  open(Sift, 'sift?view=flow')
  expect(await screen.findByRole('heading', { name: 'From what was found to what is kept' })).toBeInTheDocument()
  const row = (name: RegExp) => screen.getAllByRole('row', { name })[0]
  expect(row(/^Records found/)).toHaveTextContent(/100.*Not brought into the pool.*10/)
  expect(row(/^Past the title/)).toHaveTextContent(/33.*Set aside by abstract.*21.*still waiting: 3.*other reasons: 3/)
  expect(row(/^Texts in hand/)).toHaveTextContent(/5.*Set aside by text.*1/)
  expect(row(/^Kept by their text/)).toHaveTextContent('3')
  // what no catalogue gave has a column of its own
  expect(screen.getByRole('table', { name: 'Other ways: files 3, trails 1' })).toHaveTextContent(/Works to sift3/)
})

test('orders of reading: the learned one puts what it has no place for last, chance is the same each time', () => {
  const works = [
    work(1, { year: 1990, perYear: 2, title: 'b' }),
    work(2, { year: null, perYear: null, title: 'c', sources: ['Civic Paper File', 'Antler Index'] }),
    work(3, { year: 2020, perYear: 9, title: 'a' }),
  ]
  const ids = (...args: [Parameters<typeof inOrder>[1], Parameters<typeof inOrder>[2]?]) =>
    [...inOrder(works, args[0], args[1])].map(at => works[at]!.id)
  expect(ids('likely', Uint32Array.of(2, 0))).toEqual([3, 1, 2])
  // a work that the pool no longer has, or that is named twice, moves nothing
  expect(ids('likely', Uint32Array.of(8, 2, 2))).toEqual([3, 1, 2])
  expect(ids('likely', undefined)).toEqual([1, 2, 3])
  // by the first of its catalogues by name; those of one catalogue as they came
  expect(ids('catalogue')).toEqual([2, 1, 3])
  expect(ids('new')).toEqual([3, 1, 2])
  expect(ids('old')).toEqual([1, 3, 2])
  expect(ids('cited')).toEqual([3, 1, 2])
  expect(ids('title')).toEqual([3, 1, 2])
  expect(ids('chance')).toEqual(ids('chance'))
})
