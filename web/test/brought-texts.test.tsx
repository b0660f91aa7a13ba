/** @jest-environment jsdom */
import { beforeEach, describe, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Obtain } from '../stations/obtain/obtain'
import { answers, open, posted, sent, work } from './rig'

const pdf = (name: string, type = 'application/pdf') => new File(['%PDF-1.7 words'], name, { type })
const result = (id: number, of: object, state = 'done') => {
  answers[`GET /inquiries/1/jobs/${id}`] = {
    id,
    kind: 'copy',
    state,
    progress: {},
    payload: {},
    result: of,
    error: null,
  }
}
const panel = async () => within(await screen.findByRole('region', { name: 'Texts you brought' }))
const brought = () => sent.filter(s => s.method === 'POST' && s.path === '/inquiries/1/copies')

beforeEach(() => {
  answers['GET /inquiries/1/routes'] = [
    { ...work(3, { state: 'kept' }), routes: [], closed: [], trouble: null, copies: [] },
  ]
  let job = 0
  answers['POST /inquiries/1/copies'] = () => ({ status: 202, body: { job: ++job } })
})

describe('texts that one brings', () => {
  test('each says which work it is, and leads there', async () => {
    result(1, { outcome: 'proved', said: 'Its own text proves it.', work: 3, title: 'Moths at lamp 3', copyId: 8 })
    result(2, {
      outcome: 'doubtful',
      said: 'Doubtful: no author is named.',
      work: 2,
      title: 'Moths at lamp 2',
      copyId: 9,
    })
    result(3, { outcome: 'refused', said: 'The PDF is locked: it opens with its password alone.', locked: true })
    result(4, {
      outcome: 'proved',
      said: 'It is there already.',
      known: true,
      work: 3,
      title: 'Moths at lamp 3',
      copyId: 8,
    })
    open(Obtain, 'obtain')
    const files = ['a', 'b', 'c', 'd'].map(n => pdf(`${n}.pdf`))
    await userEvent.upload(await screen.findByLabelText('PDFs that find their works'), files)
    const p = await panel()
    expect(await p.findByText('4 texts read')).toBeInTheDocument()
    expect(brought()).toHaveLength(4)
    const [first] = p.getAllByRole('link', { name: 'Moths at lamp 3' })
    expect(first).toHaveAttribute('href', '/inquiries/1/read/8')
    expect(p.getByText(/no author is named/)).toBeInTheDocument()
    expect(p.getByText(/opens with its password alone/)).toBeInTheDocument()
    expect(p.getByText('there already')).toBeInTheDocument()
    await userEvent.click(p.getByRole('button', { name: 'Close the texts you brought' }))
    expect(screen.queryByRole('region', { name: 'Texts you brought' })).toBeNull()
  })
  test('they are dropped anywhere; what is no PDF is left to whoever takes it', async () => {
    result(1, { outcome: 'refused', said: 'It is none of your works, and no title can be told in it.' })
    open(Obtain, 'obtain')
    const bench = await screen.findByRole('main')
    fireEvent.dragOver(bench, { dataTransfer: { items: [{ type: 'application/pdf' }] } })
    expect(screen.getByText(/each PDF finds its work/)).toBeInTheDocument()
    fireEvent.drop(bench, { dataTransfer: { files: [new File(['x'], 'list.bib')], items: [] } })
    expect(screen.queryByText(/each PDF finds its work/)).toBeNull()
    fireEvent.drop(bench, { dataTransfer: { files: [pdf('a.PDF', ''), new File(['x'], 'list.bib')] } })
    expect(await (await panel()).findByText('1 text read')).toBeInTheDocument()
    expect(brought()).toHaveLength(1)
  })
  test('one of no work comes in as a new one: its title page first, then itself', async () => {
    result(1, {
      outcome: 'refused',
      said: 'It is none of your works: “Owls”.',
      item: { id: '', type: 'article-journal', title: 'Owls' },
    })
    result(2, { outcome: 'proved', said: 'Its own text proves it.', work: 9, title: 'Owls', copyId: 4 })
    answers['POST /inquiries/1/imports'] = { job: 70 }
    result(70, {})
    open(Obtain, 'obtain')
    await userEvent.upload(await screen.findByLabelText('PDFs that find their works'), [pdf('owls.pdf')])
    const p = await panel()
    await userEvent.click(await p.findByRole('button', { name: 'Bring in as a new work: Owls' }))
    expect(await p.findByText('in hand')).toBeInTheDocument()
    expect(posted('/inquiries/1/imports')).toHaveLength(1)
    expect(brought()).toHaveLength(2)
  })
  test('a locked one asks for its password, and says what it is then', async () => {
    result(1, { outcome: 'refused', said: 'The PDF is locked: it opens with its password alone.', locked: true })
    const said = 'This is not the password that the PDF asks for.'
    answers['POST /inquiries/1/copies/locked'] = { outcome: 'refused', said, locked: true }
    open(Obtain, 'obtain')
    await userEvent.upload(await screen.findByLabelText('PDFs that find their works'), [pdf('owls.pdf')])
    const p = await panel()
    await userEvent.click(await p.findByRole('button', { name: 'Give the password of owls.pdf' }))
    const box = await screen.findByLabelText(/Password of the file/)
    await userEvent.type(box, 'dusk{Enter}')
    expect(await screen.findByText(said)).toBeInTheDocument()
    const right = { outcome: 'proved', said: 'Its own text proves it.', work: 3, title: 'Moths at lamp 3', copyId: 8 }
    answers['POST /inquiries/1/copies/locked'] = right
    await userEvent.type(box, '-7')
    await userEvent.click(screen.getByRole('button', { name: 'Open and read it' }))
    expect(await screen.findByText('in hand')).toBeInTheDocument()
    expect(screen.queryByRole('button', { name: /password/ })).toBeNull()
    expect(screen.queryByLabelText(/Password of the file/)).toBeNull()
  })
  test('reading is stopped: what was not read says so, and nothing more is sent', async () => {
    for (const id of [1, 2]) result(id, {}, 'running')
    for (const id of [1, 2]) answers[`POST /inquiries/1/jobs/${id}/cancel`] = {}
    open(Obtain, 'obtain')
    const files = Array.from({ length: 9 }, (_, i) => pdf(`${i}.pdf`))
    await userEvent.upload(await screen.findByLabelText('PDFs that find their works'), files)
    const p = await panel()
    expect(p.getByText('Reading: 0 of 9 texts')).toBeInTheDocument()
    await waitFor(() => expect(brought()).toHaveLength(2))
    await userEvent.click(p.getByRole('button', { name: 'Stop' }))
    expect(await p.findByText('9 texts read')).toBeInTheDocument()
    expect(p.getAllByText(/Stopped before it was read/)).toHaveLength(9)
    expect(brought()).toHaveLength(2)
  })
})
