/** @jest-environment jsdom */
import { beforeEach, describe, expect, jest, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Copy, CopyInParts } from '../../core/schema/api'
import { CopyPanel } from '../stations/read/copy-panel'
import { Obtain } from '../stations/obtain/obtain'
import { MINE, answers, open, posted, sent, work } from './rig'

const reference = (n: number, more: object = {}) => ({
  ...{ n, label: String(n), text: `Lune, M. (2014). Lamps ${n}. Night Papers, 7, ${n}-${n + 9}.` },
  boxes: [{ page: 4, x: 60, y: 100, width: 300, height: 20 }],
  item: {
    title: `Lamps ${n}`,
    author: [{ family: 'Lune', given: 'M.' }],
    'container-title': 'Night Papers',
    volume: '7',
  },
  sure: { title: 0.9, author: 0.6 },
  cited: [],
  ...more,
})
const parts: CopyInParts = {
  labels: ['45', '46', '47', '48'],
  by: ['printed', 'printed', 'printed', 'printed'],
  said: 'Numbers are printed on 4 of 4 pages; those between are counted on.',
  headings: [
    { text: '1 Introduction', level: 1, page: 1, y: 300 },
    { text: '1.1 Moths', level: 2, page: 2, y: 120 },
  ],
  captions: [{ text: 'Figure 1. Moths by lamp', page: 3, y: 200 }],
  front: {
    title: 'Moths at lamp 1',
    authors: [
      { name: { family: 'Lune', given: 'Mara' }, affiliations: ['University of Korrin'] },
      { name: { family: 'Sand', given: 'Ib' }, affiliations: [] },
    ],
    doi: '10.5555/np.1',
    abstract: 'We counted moths.',
    source: { volume: '8' },
  },
  lists: [{ heading: 'References', by: 'numbers', entries: 2 }],
  left: 0,
  references: [reference(1), reference(2, { item: {}, sure: {}, text: 'ibid.', boxes: [] })],
}
const copy: Copy = {
  opening: MINE,
  ...{ id: 8, work: 1, title: 'Moths at lamp 1', outcome: 'proved', version: 'version of record', pages: 4 },
  item: { id: '', type: 'article-journal', title: 'Moths at lamp 1', DOI: '10.5555/np.1', volume: '7' },
  ...{ labels: parts.labels, origin: 'your file "a.pdf"', passages: [], scanned: null },
  proof: { outcome: 'proved', evidence: [{ holds: true, said: 'The title stands on the first pages.' }] },
}
const doubtful: Copy = {
  ...copy,
  outcome: 'doubtful',
  proof: { outcome: 'doubtful', evidence: [{ holds: false, said: '0 of 2 authors are named on the first pages.' }] },
}
const went = jest.fn()
const show = (of: Copy, path = 'read') => {
  const Panel = () => <CopyPanel copy={of} go={went} />
  open(Panel, path)
}
const marks = () => posted('/inquiries/1/marks').map(s => (s.body as { marks: Record<string, unknown>[] }).marks[0])

beforeEach(() => {
  went.mockClear()
  answers['GET /inquiries/1/copies/8/parts'] = parts
  answers['POST /inquiries/1/marks'] = { works: [], revision: 5 }
})

describe('what is in a copy', () => {
  test('leads from its headings and references to their pages, by their printed numbers', async () => {
    show(copy)
    await userEvent.click(await screen.findByRole('button', { name: '1.1 Moths 46' }))
    expect(went).toHaveBeenCalledWith(2, expect.any(Number))
    await userEvent.click(screen.getByRole('button', { name: 'Figure 1. Moths by lamp 47' }))
    expect(went).toHaveBeenCalledWith(3, expect.any(Number))
    const places = screen.getByRole('list', { name: 'Where its authors work' })
    expect(places).toHaveTextContent(/^Mara Lune, University of Korrin$/)
    expect(screen.getByText(/called 45 to 48/)).toBeInTheDocument()
  })
  test('the word of its title page is taken, where it says more or something else', async () => {
    show(copy)
    expect(await screen.findByText('title, DOI.')).toBeInTheDocument()
    expect(screen.getByText('the records: 7')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Abstract: take the page’s word' }))
    await waitFor(() =>
      expect(marks()).toMatchObject([{ about: 'field:abstract', value: { text: 'We counted moths.' } }]),
    )
  })
  test('one without references, and one that is not read, say so', async () => {
    answers['GET /inquiries/1/copies/8/parts'] = { ...parts, references: [], lists: [], left: 12 }
    show(copy)
    expect(await screen.findByText(/12 further pages were not read/)).toBeInTheDocument()
  })
})

describe('a doubtful copy', () => {
  test.each([
    ['y', 'it is'],
    ['n', 'it is not'],
  ])('is decided by the key %s', async (key, value) => {
    show(doubtful)
    expect(await screen.findByText('Is this the work?')).toBeInTheDocument()
    expect(screen.getByText('0 of 2 authors are named on the first pages.')).toBeInTheDocument()
    await userEvent.keyboard(key)
    await waitFor(() => expect(marks()).toMatchObject([{ work: 1, about: 'copy:8', value }]))
  })
  test('is held against its records anew, and what came of it is said', async () => {
    answers['POST /inquiries/1/copies/8/work'] = { outcome: 'doubtful', said: 'Doubtful: no author is named.' }
    show(doubtful)
    await userEvent.click(await screen.findByRole('button', { name: 'Prove it again' }))
    expect(await screen.findByText('Doubtful: no author is named.')).toBeInTheDocument()
    expect(posted('/inquiries/1/copies/8/work').map(s => s.body)).toEqual([{ work: 1 }])
    answers['POST /inquiries/1/copies/8/work'] = { outcome: 'proved', said: 'Its own text proves it.' }
    await userEvent.click(screen.getByRole('button', { name: 'Prove it again' }))
    expect(await screen.findByText('Proved: now in hand.')).toBeInTheDocument()
  })
  test('that was decided says by whom, and is left to its proof again', async () => {
    show({ ...doubtful, outcome: 'proved' })
    expect(await screen.findByText('In hand, by your word')).toBeInTheDocument()
    expect(screen.queryByRole('button', { name: /It is this work/ })).toBeNull()
    await userEvent.click(screen.getByRole('button', { name: 'Leave it to its proof' }))
    await waitFor(() => expect(marks()).toMatchObject([{ about: 'copy:8', value: null }]))
  })
})

test('a locked file asks for its password, says that one is wrong, and is read with the right one', async () => {
  answers['GET /inquiries/1/routes'] = [
    { ...work(3, { state: 'kept' }), routes: [], closed: [], trouble: null, copies: [] },
  ]
  answers['POST /inquiries/1/works/3/copies'] = { job: 7 }
  const locked = { outcome: 'refused', said: 'The PDF is locked: it opens with its password alone.', locked: true }
  answers['GET /inquiries/1/jobs/7'] = {
    id: 7,
    kind: 'copy',
    state: 'done',
    progress: {},
    payload: {},
    result: locked,
    error: null,
  }
  let asked = 0
  answers['POST /inquiries/1/works/3/copies/locked'] = () => ({
    body: asked++
      ? { outcome: 'proved', said: 'Its own text proves it.', copyId: 9 }
      : { ...locked, said: 'This is not the password that the PDF asks for.' },
  })
  open(Obtain, 'obtain')
  await userEvent.upload(
    await screen.findByLabelText(/^A PDF of your own for/),
    new File(['%PDF-1.7'], 'a.pdf', { type: 'application/pdf' }),
  )
  const box = await screen.findByLabelText('Password of the file')
  await userEvent.type(box, 'Dämmer')
  await userEvent.click(screen.getByRole('button', { name: 'Open and read it' }))
  expect(await screen.findByText('This is not the password that the PDF asks for.')).toBeInTheDocument()
  await userEvent.clear(box)
  await userEvent.type(box, 'Lampe')
  await userEvent.click(screen.getByRole('button', { name: 'Open and read it' }))
  expect(await screen.findByText('Proved: now in hand.')).toBeInTheDocument()
  const tried = sent.filter(s => s.path.endsWith('/copies/locked'))
  expect(tried.map(s => s.headers.get('X-File-Password'))).toEqual(['D%C3%A4mmer', 'Lampe'])
})
