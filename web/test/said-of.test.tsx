/** @jest-environment jsdom */
import { beforeEach, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { SaidOf } from '../frame/said-of'
import { answers, open, work } from './rig'

const place = (page: number, said: string) => ({
  ...{ page, label: String(100 + page), said },
  at: { from: said.indexOf('(') + 1, to: said.indexOf(')') },
})
const text = (of: number, places: object[]) => ({
  work: of,
  copy: of * 10,
  version: 'version of record',
  entry: 4,
  places,
})
const show = () => open(() => <SaidOf work={1} />, 'trace')

beforeEach(() => {
  answers['GET /inquiries/1/works'] = [
    work(1, { state: 'kept' }),
    { ...work(2, { state: 'unread' }), authors: 'Reed', year: 2019 },
    { ...work(3, { state: 'kept' }), authors: 'Vale', year: 2021 },
    ...[4, 5, 6, 7, 8, 9, 10, 11].map(n => ({
      ...work(n, { state: 'unread' }),
      authors: `Author ${n}`,
      year: 2000 + n,
    })),
  ]
})

test('sentences stand by the works that say them, kept ones first, each leading to its page', async () => {
  answers['GET /inquiries/1/works/1/said'] = {
    texts: [
      text(
        2,
        [1, 2, 3, 4].map(n => place(n, `Said ${n} times (Lune, 2014) there.`)),
      ),
      text(3, [place(7, 'Moths fell (Lune, 2014).')]),
    ],
    others: [],
  }
  show()
  const section = await screen.findByRole('region', { name: 'What others say of it' })
  expect(section).toHaveTextContent('5 sentences')
  expect(
    within(section)
      .getAllByRole('button', { name: /2019|2021/ })
      .map(b => b.textContent?.slice(0, 4)),
  ).toEqual(['Vale', 'Reed'])
  const link = within(section).getByRole('link', { name: /Moths fell/ })
  expect(link).toHaveAttribute('href', '/inquiries/1/read/30?reference=4&page=7')
  expect(within(link).getByText('Lune, 2014').tagName).toBe('B')
  expect(within(section).queryByText(/Said 4 times/)).not.toBeInTheDocument()
  await userEvent.click(within(section).getByRole('button', { name: 'All 4 sentences' }))
  expect(within(section).getByText(/Said 4 times/)).toBeInTheDocument()
})

test('who cites it without a sentence is named, the first of many; an entry that is never cited says so', async () => {
  answers['GET /inquiries/1/works/1/said'] = {
    texts: [text(3, [])],
    others: [4, 5, 6, 7, 8, 9, 10].map(n => ({ work: n, hasCopy: false })),
  }
  show()
  expect(await screen.findByText(/no sentence was found that cites it/)).toBeInTheDocument()
  expect(screen.getByText(/Cited as well by these 7/)).toBeInTheDocument()
  expect(screen.queryByText('Author 10 2010')).not.toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'All 7' }))
  expect(screen.getByText('Author 10 2010')).toBeInTheDocument()
})
