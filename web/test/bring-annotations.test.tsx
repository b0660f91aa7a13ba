/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Answer } from '../../core/schema/api'
import { AllPassages } from '../stations/read/all-passages'
import { answers, open, posted, sent } from './rig'

type Got = Answer<'bringAnnotations'>
const give = (more: Partial<Got>) => {
  answers['POST /inquiries/1/passages/file'] = () => ({
    status: 201,
    body: { noted: [], there: 0, elsewhere: [], unread: [], left: 0, ...more },
  })
}
const passage = (id: number, tags: string[]) => ({
  ...{ id, inquiryId: 1, workId: 3, copyId: 9, page: 2, label: '47', kind: 'quoted', quote: `Words ${id}.`, note: '' },
  ...{ strandId: null, tags, version: 1, ownId: null, at: '2026-10-05T10:00:00Z', selectors: null },
  ...{ title: 'Moths', authors: 'Okafor', year: 2003, copyVersion: 'version of record', cited: '(Okafor, 2003)' },
})
const bring = async () => {
  const file = new File(['[]'], 'a.jsonld', { type: 'application/ld+json' })
  await userEvent.upload(await screen.findByLabelText('A file of web annotations'), file)
}

beforeEach(() => {
  answers['GET /inquiries/1/passages'] = { style: 'apa', passages: [] }
})

test('a file is brought where nothing is noted yet, and what came of it is taken back by a key', async () => {
  give({ noted: [4, 5], there: 1 })
  answers['DELETE /inquiries/1/passages'] = () => ({ status: 204, body: undefined })
  open(AllPassages, 'read')
  expect(await screen.findByText('Nothing noted yet')).toBeInTheDocument()
  await bring()
  const said = (await screen.findByText('Noted: 2 passages; 1 noted already.')).closest<HTMLElement>(
    '[data-part=root]',
  )!
  expect(posted('/inquiries/1/passages/file')[0]?.headers.get('x-file-name')).toBe('a.jsonld')
  await userEvent.click(within(said).getByRole('button', { name: 'Undo' }))
  await waitFor(() => expect(sent.find(s => s.method === 'DELETE')?.body).toEqual({ passages: [4, 5] }))
  expect(screen.queryByRole('dialog')).toBeNull()
})

test('what is of texts that are not here, and what cannot be read, is named with what to do', async () => {
  give({
    elsewhere: Array.from({ length: 8 }, (_, i) => ({ source: `https://a.example/${i}`, annotations: 9 - i })),
    unread: [{ n: 3, why: 'it is no object' }],
    left: 12,
  })
  open(AllPassages, 'read')
  await bring()
  const dialog = await screen.findByRole('dialog', { name: 'Nothing was noted' })
  expect(dialog).toHaveTextContent('44 annotations are of a text of which there is no copy here.')
  expect(dialog).toHaveTextContent('9 of https://a.example/0')
  expect(dialog).toHaveTextContent('and of 2 others')
  expect(dialog).toHaveTextContent('Number 3: it is no object')
  expect(dialog).toHaveTextContent('12 annotations beyond the first 2,000')
  await userEvent.click(within(dialog).getByRole('button', { name: 'Close' }))
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
})

test('a file of another kind is refused in words; one whose annotations are all there says so', async () => {
  answers['POST /inquiries/1/passages/file'] = () => ({
    status: 422,
    body: { code: 'unreadable', title: 'The file is no JSON.' },
  })
  open(AllPassages, 'read')
  await bring()
  expect(await screen.findByText('The file is no JSON.')).toBeInTheDocument()
  give({ there: 3 })
  await bring()
  expect(await screen.findByText('Nothing new: all 3 are noted already.')).toBeInTheDocument()
})

test('passages of one tag are shown alone', async () => {
  answers['GET /inquiries/1/passages'] = {
    style: 'apa',
    passages: [passage(1, ['lamps']), passage(2, ['lamps', 'towns']), passage(3, [])],
  }
  open(AllPassages, 'read')
  const tags = await screen.findByLabelText('Tag of passages')
  expect(
    within(tags)
      .getAllByRole('option')
      .map(o => o.textContent),
  ).toEqual(['any tag or none', 'lamps 2', 'towns 1'])
  await userEvent.selectOptions(tags, 'towns 1')
  expect(screen.getAllByTestId('passage')).toHaveLength(1)
  expect(screen.getByText('“Words 2.”')).toBeInTheDocument()
})
