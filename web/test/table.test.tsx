/** @jest-environment jsdom */
import { beforeEach, describe, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Answer, Passage } from '../../core/schema/api'
import { PassageCard } from '../stations/read/passages'
import { SheetOfReading } from '../stations/read/sheet'
import { Shelf } from '../stations/read/shelf'
import { answers, inquiry, open, posted, sent } from './rig'

type Sheets = Answer<'readingTable'>
let copies = 0
const HEADS: Sheets['heads'] = [
  { key: 'question', name: 'Question', asks: 'What did they want to know?', own: null },
  { key: 'found', name: 'Found', asks: 'What came out?', own: null },
  { key: 'view', name: 'My view', asks: 'What is it worth?', own: null },
]
const sheet = (id: number, more: Partial<Sheets['works'][number]> = {}): Sheets['works'][number] => ({
  ...{ id, title: `Moths at lamp ${id}`, authors: ['', 'Okafor', 'Lune', 'Dorn'][id]!, year: 2000 + id, strands: [] },
  ...{ copy: null, notes: [], ...more },
})
/** A copy of its own for each test: its words are kept as long as the inquiry is open. */
const copyWith = (...pages: string[]) => {
  const id = 500 + ++copies
  answers[`GET /inquiries/1/copies/${id}/text`] = { pages }
  return { id, version: 'version of record', labels: pages.map((_, i) => String(211 + i)), scanned: null }
}
const show = (works: Sheets['works'], heads = HEADS) => {
  answers['GET /inquiries/1/table'] = { heads, works }
  open(Shelf, 'read?view=table')
}
const puts = () => sent.filter(s => s.method === 'PUT')
const titles = () => screen.getAllByRole('rowheader').map(h => /Moths at lamp \d/.exec(h.textContent ?? '')?.[0])

beforeEach(() => {
  answers['GET /inquiries/1/routes'] = []
  answers['GET /inquiries/1/passages'] = { style: 'apa', passages: [] }
  answers['GET /inquiries/1/strands'] = [{ id: 4, name: 'What lamps change', place: 0 }]
})

describe('the table of works', () => {
  test('is written in where one presses, saves itself against its version, and counts', async () => {
    answers['PUT /inquiries/1/works/1/notes/found'] = { version: 4 }
    answers['PUT /inquiries/1/works/1/notes/question'] = { version: 1 }
    show([sheet(1, { notes: [{ head: 'found', content: 'Fell.', version: 3 }] }), sheet(2)])
    expect(await screen.findByText('1 of 6')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Change: Found of “Moths at lamp 1”' }))
    await userEvent.type(screen.getByRole('textbox', { name: 'Found of “Moths at lamp 1”' }), ' By a third.{Escape}')
    await waitFor(() => expect(puts().at(-1)?.body).toEqual({ content: 'Fell. By a third.' }))
    expect(puts().at(-1)!.headers.get('If-Match')).toBe('"3"')
    expect(screen.getByText('Fell. By a third.')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Write: Question of “Moths at lamp 1”' }))
    await userEvent.keyboard('Why?')
    await userEvent.tab()
    await waitFor(() => expect(puts().at(-1)?.headers.get('If-Match')).toBe('"0"'))
    expect(screen.getByText('2 of 6')).toBeInTheDocument()
  })
  test('leads to the pages that a note names, and names those where an empty cell may be answered', async () => {
    const copy = copyWith('Lamps.', 'Visits fell. Results showed it. We found more.', 'Visits rose.')
    show([sheet(1, { copy, notes: [{ head: 'question', content: 'Why? p. 212, p. 999', version: 1 }] })])
    const link = await screen.findByRole('link', { name: 'p. 212' })
    expect(link).toHaveAttribute('href', `/inquiries/1/read/${copy.id}?page=2`)
    // no page of the copy is called so
    expect(screen.queryByRole('link', { name: 'p. 999' })).toBeNull()
    expect(await screen.findByText(/^nearest:/)).toBeInTheDocument()
    expect(screen.getAllByRole('link', { name: 'p. 212' })).toHaveLength(2)
  })
  test('is ordered, and limited to a strand', async () => {
    show([sheet(1, { strands: [4] }), sheet(2), sheet(3, { strands: [4] })])
    await userEvent.selectOptions(await screen.findByRole('combobox', { name: 'Order of works' }), 'author')
    expect(titles()).toEqual(['Moths at lamp 3', 'Moths at lamp 2', 'Moths at lamp 1'])
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Order of works' }), 'year')
    await userEvent.click(screen.getByRole('button', { name: 'What lamps change 2' }))
    expect(titles()).toEqual(['Moths at lamp 3', 'Moths at lamp 1'])
    expect(screen.getByText('0 of 6')).toBeInTheDocument()
  })
  test('takes columns of one’s own, which are named anew, taken away and brought back', async () => {
    answers['POST /inquiries/1/heads'] = { id: 9, key: 'own-9' }
    answers['PATCH /inquiries/1/heads/9'] = () => ({ status: 204, body: undefined })
    show([sheet(1)], [...HEADS, { key: 'own-9', name: 'Hours lit', asks: '', own: 9 }])
    await userEvent.click(await screen.findByRole('button', { name: 'Column' }))
    await userEvent.type(screen.getByRole('textbox', { name: 'Name of the column' }), ' Colours {Enter}')
    await waitFor(() => expect(posted('/inquiries/1/heads').map(s => s.body)).toEqual([{ name: 'Colours' }]))
    await userEvent.click(screen.getByRole('button', { name: 'Hours lit' }))
    await userEvent.click(screen.getByRole('button', { name: 'Take away' }))
    await userEvent.click(await screen.findByRole('button', { name: 'Undo' }))
    await waitFor(() =>
      expect(sent.filter(s => s.method === 'PATCH').map(s => s.body)).toEqual([{ gone: true }, { gone: false }]),
    )
  })
  test('cannot be written in by who may only look', async () => {
    answers['GET /inquiries/1'] = { ...inquiry, role: 'reader' }
    show([sheet(1, { notes: [{ head: 'found', content: 'Fell.', version: 3 }] })])
    expect(await screen.findByText('Fell.')).toBeInTheDocument()
    expect(screen.queryByRole('button', { name: /^(?:Change|Write):/ })).toBeNull()
    expect(screen.queryByRole('button', { name: 'Column' })).toBeNull()
  })
  test('of no kept work says where works are kept', async () => {
    show([])
    expect(await screen.findByText('No kept works to compare yet')).toBeInTheDocument()
  })
})

describe('the sheet of a work', () => {
  test('is written beside its pages, and is that of the table', async () => {
    answers['GET /inquiries/1/table'] = { heads: HEADS, works: [sheet(1)] }
    answers['PUT /inquiries/1/works/1/notes/found'] = { version: 1 }
    open(() => <SheetOfReading work={1} />, 'read')
    await userEvent.type(await screen.findByRole('textbox', { name: 'Found' }), 'Fell.')
    await waitFor(() => expect(puts().at(-1)?.body).toEqual({ content: 'Fell.' }))
  })
  test('of a work that is not kept says so', async () => {
    answers['GET /inquiries/1/table'] = { heads: HEADS, works: [sheet(1)] }
    open(() => <SheetOfReading work={2} />, 'read')
    expect(await screen.findByText(/This work is not kept/)).toBeInTheDocument()
  })
  test('takes a passage with its page, after what stands there, and gives it back', async () => {
    const notes = [{ head: 'found', content: 'Fell.', version: 3 }]
    answers['GET /inquiries/1/table'] = { heads: HEADS, works: [sheet(1, { notes })] }
    answers['PUT /inquiries/1/works/1/notes/found'] = { version: 4 }
    const passage: Passage = {
      ...{
        id: 5,
        inquiryId: 1,
        workId: 1,
        copyId: 8,
        page: 3,
        label: '147–148',
        kind: 'quoted',
        quote: 'Visits fell.',
      },
      ...{ note: '', strandId: null, tags: [], version: 1, ownId: null, at: '2026-10-05T10:00:00Z', selectors: null },
    }
    open(() => <PassageCard passage={passage} cited="(x)" isOpen open={() => undefined} mayWrite />, 'read')
    const card = within(await screen.findByTestId('passage'))
    await userEvent.selectOptions(await card.findByRole('combobox', { name: 'Put it into the sheet under' }), 'found')
    await waitFor(() => expect(puts().at(-1)?.body).toEqual({ content: 'Fell.\n“Visits fell.” pp. 147–148' }))
    // what earlier tests told may still be on its way out
    const told = (await screen.findByText('Put into the sheet under “Found”.')).closest<HTMLElement>(
      '[data-part=root]',
    )!
    fireEvent.click(within(told).getByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(puts().at(-1)?.body).toEqual({ content: 'Fell.' }))
  })
})
