/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { expect, test } from '@jest/globals'
import { screen, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { answers, open, posted } from '../test/rig'
import { Library } from './library'

const file = (name: string, more: object) => ({
  name,
  address: `http://l.example/${name}`,
  isKept: true,
  isRead: true,
  report: null,
  ...more,
})
const report = (more: object) => ({ titles: 0, left: 0, problems: [], problemsInAll: 0, ...more })

test('each file says what was read of it, what was noticed, and why one could not be read', async () => {
  answers['GET /holdings'] = {
    library: 'Halverane Library',
    fetching: false,
    trouble: null,
    files: [
      file('e.tsv', { report: report({ titles: 3, newer: 'This is a page to sign in.' }) }),
      file('a.tsv', {
        report: report({
          titles: 12_345,
          left: 1,
          problemsInAll: 120,
          problems: [{ line: 3, said: 'No title: the line is left out.', leftOut: true }],
        }),
      }),
      file('b.tsv', { report: report({ refused: 'This is not a KBART file.' }) }),
      file('c.tsv', { isKept: false, isRead: false }),
      file('d.tsv', { isRead: false }),
    ],
  }
  open(Library, '/')
  const row = async (name: string) => within((await screen.findByText(name)).closest('tr')!)
  expect((await row('a.tsv')).getByText('12,345')).toBeInTheDocument()
  expect((await row('b.tsv')).getByText('Cannot be read')).toBeInTheDocument()
  expect((await row('c.tsv')).getByText('Not fetched yet')).toBeInTheDocument()
  expect((await row('d.tsv')).getByText('Being read')).toBeInTheDocument()
  expect((await row('e.tsv')).getByText('Stands as before')).toBeInTheDocument()
  expect(screen.getByText(/What came last could not be read: This is a page to sign in\./)).toBeInTheDocument()
  expect(screen.getByText(/This is not a KBART file\. Nothing is called “not held”/)).toBeInTheDocument()
  expect(screen.queryByText('line 3')).toBeNull()
  await userEvent.click(screen.getByRole('button', { name: 'What was noticed in a.tsv' }))
  expect(screen.getByText('line 3')).toBeInTheDocument()
  expect(screen.getByText('and 119 more')).toBeInTheDocument()
})

test('a library without files says who can name them', async () => {
  answers['GET /holdings'] = { library: 'Halverane Library', fetching: false, trouble: null, files: [] }
  open(Library, '/')
  expect(await screen.findByText('No holdings files are set up')).toBeInTheDocument()
})

test('files are fetched again at a press, and what failed is told', async () => {
  const one = {
    library: 'Halverane Library',
    fetching: false,
    trouble: null,
    files: [file('a.tsv', { report: report({ titles: 2 }) })],
  }
  answers['GET /holdings'] = one
  answers['POST /holdings/fetch'] = { ...one, fetching: true }
  open(Library, '/')
  await userEvent.click(await screen.findByRole('button', { name: 'Fetch again' }))
  expect(posted('/holdings/fetch')).toHaveLength(1)
  answers['GET /holdings'] = { ...one, trouble: '1 of 1 holdings files could not be read.' }
  expect(await screen.findByText(/1 of 1 holdings files could not be read/, {}, { timeout: 5000 })).toBeInTheDocument()
})
