/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, describe, expect, jest, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { LAYOUT } from '../../core/paper/layout'
import type { Answer, Bibliography } from '../../core/schema/api'
import { Compose } from '../stations/compose/compose'
import { HandIn } from '../stations/compose/hand-in/hand-in'
import { answers, inquiry, open, posted, sent, writeIn } from './rig'

const entry = (id: number, words = 3): Bibliography['entries'][number] => ({
  ...{ id, work: id * 10, label: null, citation: [{ text: `Work ${id}.` }], inText: `(${id})`, title: `Work ${id}` },
  ...{ annotation: words ? 'One two three.' : '', marks: [], version: 1, words, kind: 'research article', right: [] },
})
const list = (more: Partial<Bibliography> = {}): Bibliography => ({
  ...{ style: 'apa', styleName: 'APA, 7th edition', language: null, styleTrouble: null, newerStyle: null },
  ...{ hangingIndent: true, layout: LAYOUT, texts: [], cited: [], rules: [] },
  sections: [{ heading: null, strand: null, entries: [5, 6] }],
  entries: [entry(5), entry(6)],
  ...more,
})
type Version = Answer<'versions'>[number]
const version = (id: number, more: Partial<Version> = {}): Version => ({
  ...{ id, day: '2026-10-05', at: '2026-10-05T10:00:00Z', by: 'Ines Quill', why: 'handed in', formats: ['pdf'] },
  ...{ styleName: 'APA, 7th edition', entries: 2, words: 1300, isNow: false },
  ...more,
})
const saved: string[] = []

beforeEach(() => {
  answers['GET /inquiries/1/bibliography'] = list()
  answers['GET /inquiries/1/bibliography/checks'] = {
    ...{ style: 'APA', entries: [], registrations: { asked: 0, of: 0, day: null } },
  }
  answers['GET /inquiries/1/copies'] = []
  answers['GET /inquiries/1/passages'] = { style: 'apa', passages: [] }
  answers['GET /inquiries/1/table'] = { heads: [], works: [] }
  answers['GET /inquiries/1/export'] = '<main><p>The page</p></main>'
  answers['GET /inquiries/1/export/losses'] = []
  answers['GET /inquiries/1/versions'] = []
  saved.length = 0
  jest.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
    saved.push(`${this.download} ${this.getAttribute('href')}`)
  })
  URL.createObjectURL = () => 'blob:made'
  URL.revokeObjectURL = () => undefined
})

test('tells what is open yet', async () => {
  answers['GET /inquiries/1/bibliography'] = list({
    entries: [entry(5), entry(6, 0)],
    rules: [{ rule: 'entries', verdict: 'short', have: 2, want: 10, said: 'sources', counting: [] }],
  })
  open(HandIn, 'compose')
  expect(
    await screen.findByText('Open yet: 1 of 1 rules of the brief does not hold; 1 entry has no annotation.', {
      exact: false,
    }),
  ).toBeInTheDocument()
})

test('shows the page as it stands, and says so where nothing is open', async () => {
  open(HandIn, 'compose')
  expect(await screen.findByText('Nothing is open: every rule holds, every entry is checked.')).toBeInTheDocument()
  const page = await screen.findByTitle('The bibliography as it will be handed in')
  // what stands in it is ours alone, and still nothing in it may run
  expect(page).toHaveAttribute('srcdoc', '<main><p>The page</p></main>')
  expect(page.getAttribute('sandbox')).not.toContain('allow-scripts')
})

test('keeps a version and saves its file; what cannot be made is said', async () => {
  answers['POST /inquiries/1/versions'] = { version: 7 }
  answers['GET /inquiries/1/versions/7/file'] = 'bytes'
  open(HandIn, 'compose')
  await userEvent.click(await screen.findByRole('radio', { name: 'Plain text' }))
  expect(screen.getByText(/^It cannot carry: all emphasis/)).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Hand in as plain text' }))
  expect(await screen.findByText('Handed in: this version is kept below.')).toBeInTheDocument()
  expect(posted('/inquiries/1/versions').map(s => s.body)).toEqual([{ format: 'text' }])
  expect(saved).toEqual(['file blob:made'])
  answers['GET /inquiries/1/versions/7/file'] = () => ({
    status: 503,
    body: { code: 'no-pdf', title: 'No PDF today.' },
  })
  await userEvent.click(screen.getByRole('radio', { name: 'PDF' }))
  await userEvent.click(screen.getByRole('button', { name: 'Hand in as PDF' }))
  expect(await screen.findByText('No PDF today. The version is kept below all the same.')).toBeInTheDocument()
  expect(saved).toHaveLength(1)
})

test('an archive is taken by the browser itself, its copies named by a pattern that is checked', async () => {
  answers['POST /inquiries/1/versions'] = { version: 7 }
  answers['PUT /inquiries/1/layout'] = LAYOUT
  open(HandIn, 'compose')
  await userEvent.click(await screen.findByRole('radio', { name: 'Everything, .zip' }))
  const names = screen.getByRole('textbox', { name: 'Names of the copies in it' })
  await userEvent.clear(names)
  await userEvent.type(names, '{{journal}')
  expect(screen.getByText(/stands for nothing/)).toBeInTheDocument()
  await userEvent.tab()
  expect(sent.filter(s => s.method === 'PUT')).toEqual([])
  await userEvent.clear(names)
  await userEvent.type(names, '{{author} {{year}')
  await userEvent.tab()
  await waitFor(() => expect(sent.find(s => s.method === 'PUT')?.body).toEqual({ names: '{author} {year}' }))
  await userEvent.click(screen.getByRole('button', { name: 'Hand in as one .zip' }))
  await waitFor(() => expect(saved).toEqual([' /api/inquiries/1/versions/7/file?format=bundle']))
})

test('how the pages look is set at once, and names save themselves', async () => {
  answers['PUT /inquiries/1/layout'] = LAYOUT
  answers['PUT /inquiries/1/texts/author'] = { place: 'author', content: 'Ines', version: 1 }
  open(HandIn, 'compose')
  await userEvent.selectOptions(await screen.findByRole('combobox', { name: 'Lines' }), 'single')
  await userEvent.click(screen.getByRole('checkbox', { name: 'a page with the title first' }))
  await userEvent.type(screen.getByRole('textbox', { name: 'Your name' }), 'Ines')
  await waitFor(() => expect(sent.some(s => s.path === '/inquiries/1/texts/author')).toBe(true))
  const put = sent.filter(s => s.method === 'PUT')
  expect(put.map(s => s.body)).toEqual([{ spacing: 1 }, { cover: true }, { content: 'Ines', marks: [] }])
  expect(put.at(-1)!.headers.get('If-Match')).toBe('"0"')
})

test('what was written a moment ago is handed in, too; what was not taken is not passed over', async () => {
  answers['POST /inquiries/1/versions'] = { version: 7 }
  answers['GET /inquiries/1/versions/7/file'] = 'bytes'
  answers['PUT /inquiries/1/texts/author'] = { place: 'author', content: 'I', version: 1 }
  open(HandIn, 'compose')
  await userEvent.type(await screen.findByRole('textbox', { name: 'Your name' }), 'I')
  await userEvent.click(screen.getByRole('button', { name: 'Hand in as PDF' }))
  expect(await screen.findByText('Handed in: this version is kept below.')).toBeInTheDocument()
  expect(sent.filter(s => s.method !== 'GET').map(s => s.path)).toEqual([
    '/inquiries/1/texts/author',
    '/inquiries/1/versions',
  ])
  answers['PUT /inquiries/1/texts/course'] = () => ({ status: 422, body: { code: 'invalid', title: 'Too long.' } })
  await userEvent.type(screen.getByRole('textbox', { name: 'Course, teacher' }), 'E')
  await userEvent.click(screen.getByRole('button', { name: 'Hand in as PDF' }))
  expect(await screen.findByText(/^Some of what you wrote is not on the server yet/)).toBeInTheDocument()
  expect(posted('/inquiries/1/versions')).toHaveLength(1)
})

describe('kept versions', () => {
  test('are compared word by word, and taken up again after asking', async () => {
    answers['GET /inquiries/1/versions'] = [version(8, { isNow: true, formats: ['pdf', 'docx'] }), version(7)]
    const pieces = [
      { is: 'same', text: 'Lamps ' },
      { is: 'gone', text: 'draw' },
      { is: 'new', text: 'drew' },
      { is: 'same', text: ` moths${' and more'.repeat(30)}` },
    ]
    answers['GET /inquiries/1/versions/7/changes'] = { changes: [{ what: 'annotation', title: 'Work 5', pieces }] }
    answers['POST /inquiries/1/versions/7/restore'] = { aside: 9, left: ['Work 4'] }
    open(HandIn, 'compose')
    expect(await screen.findByText('as it stands')).toBeInTheDocument()
    expect(screen.getByText('PDF, Word processor')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'What changed since' }))
    const dialog = await screen.findByRole('dialog')
    expect(await within(dialog).findByText('Annotation of Work 5')).toBeInTheDocument()
    expect(within(dialog).getByText('draw').tagName).toBe('DEL')
    expect(within(dialog).getByText('drew').tagName).toBe('INS')
    // what did not change is cut short
    expect(dialog.textContent).toMatch(/ moths and more.{10,60} …/)
    await userEvent.click(within(dialog).getByRole('button', { name: 'Close' }))
    await userEvent.click(screen.getByRole('button', { name: 'Take up again' }))
    await userEvent.click(await screen.findByRole('button', { name: 'Take it up' }))
    expect(
      await screen.findByText('As it was on 5 Oct. Left out, as they are not kept any more: Work 4.'),
    ).toBeInTheDocument()
    answers['POST /inquiries/1/versions/9/restore'] = { aside: 10, left: [] }
    await userEvent.click(screen.getByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(posted('/inquiries/1/versions/9/restore')).toHaveLength(1))
  })

  test('somebody who only looks saves a file, and keeps and takes up nothing', async () => {
    answers['GET /inquiries/1'] = { ...inquiry, role: 'reader' }
    answers['GET /inquiries/1/versions'] = [version(7)]
    open(HandIn, 'compose')
    await userEvent.click(await screen.findByRole('button', { name: 'Save as PDF' }))
    expect(await screen.findByText('Saved.')).toBeInTheDocument()
    expect(posted('/inquiries/1/versions')).toEqual([])
    expect(screen.queryByRole('button', { name: 'Take up again' })).toBeNull()
    expect(screen.getByRole('button', { name: 'What changed since' })).toBeInTheDocument()
  })
})

describe('the order of the list', () => {
  test('by strands has headings with words of their own', async () => {
    answers['GET /inquiries/1/bibliography'] = list({
      layout: { ...LAYOUT, order: 'strand' },
      texts: [{ place: 'strand-3', content: 'What flies.', marks: [], version: 2 }],
      sections: [
        { heading: 'Flight', strand: 3, entries: [6] },
        { heading: 'Other works', strand: null, entries: [5] },
      ],
      entries: [entry(6), entry(5)],
    })
    answers['PUT /inquiries/1/texts/strand-3'] = { place: 'strand-3', content: 'x', version: 3 }
    open(Compose, 'compose')
    expect(await screen.findByRole('heading', { name: 'Flight' })).toBeInTheDocument()
    const about = screen.getByRole('textbox', { name: 'What “Flight” is about' })
    expect(about).toHaveTextContent('What flies.')
    await writeIn(about, ' And what does not.')
    await waitFor(() =>
      expect(sent.find(s => s.method === 'PUT')?.body).toEqual({
        content: 'What flies. And what does not.',
        marks: [],
      }),
    )
    expect(sent.find(s => s.method === 'PUT')!.headers.get('If-Match')).toBe('"2"')
  })

  test('by hand is moved by a key, and moved back', async () => {
    answers['GET /inquiries/1/bibliography'] = list({ layout: { ...LAYOUT, order: 'hand' } })
    answers['PUT /inquiries/1/entries/order'] = () => ({ status: 204, body: undefined })
    open(Compose, 'compose')
    const [first] = await screen.findAllByRole('button', { name: 'Move down' })
    await userEvent.click(first!)
    await userEvent.click(await screen.findByRole('button', { name: 'Undo' }))
    const orders = () =>
      sent.filter(s => s.path.endsWith('/entries/order')).map(s => (s.body as { entries: number[] }).entries)
    await waitFor(() =>
      expect(orders()).toEqual([
        [6, 5],
        [5, 6],
      ]),
    )
    // the first goes no further up
    await userEvent.click(screen.getAllByRole('button', { name: 'Move up' })[0]!)
    expect(orders()).toHaveLength(2)
  })

  test('what was moved stands there at once, and goes back where the server refuses it', async () => {
    let refuse: () => void = () => undefined
    const refused = new Promise<void>(done => (refuse = done))
    answers['GET /inquiries/1/bibliography'] = list({ layout: { ...LAYOUT, order: 'hand' } })
    answers['PUT /inquiries/1/entries/order'] = async () => {
      await refused
      return { status: 422, body: { code: 'invalid', title: 'These are not your entries.' } }
    }
    open(Compose, 'compose')
    const order = () => screen.getAllByText(/^Work \d\.$/).map(x => x.textContent)
    const [first] = await screen.findAllByRole('button', { name: 'Move down' })
    expect(order()).toEqual(['Work 5.', 'Work 6.'])
    await userEvent.click(first!)
    expect(order()).toEqual(['Work 6.', 'Work 5.'])
    refuse()
    expect(await screen.findByText(/These are not your entries/)).toBeInTheDocument()
    await waitFor(() => expect(order()).toEqual(['Work 5.', 'Work 6.']))
  })

  test('is chosen in a list, and said by its name', async () => {
    answers['PUT /inquiries/1/layout'] = LAYOUT
    open(Compose, 'compose')
    await userEvent.selectOptions(await screen.findByRole('combobox', { name: 'Order of the list' }), 'oldest first')
    await waitFor(() => expect(sent.find(s => s.method === 'PUT')?.body).toEqual({ order: 'year' }))
    expect(await screen.findByText('Laid oldest first.')).toBeInTheDocument()
  })
})
