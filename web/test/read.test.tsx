/** @jest-environment jsdom */
import { beforeEach, describe, expect, jest, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import type { Answer, Copy, CopyInParts, Passage } from '../../core/schema/api'
import { Shelf } from '../stations/read/shelf'
import { NewPassage, PassageCard } from '../stations/read/passages'
import { ReferencesOf } from '../stations/read/references'
import { Toolbar, type Pages } from '../stations/read/toolbar'
import type { Bookmark, Hits, View } from '../stations/read/viewer'
import { MINE, answers, inquiry, open, posted, sent, work } from './rig'

const copy: Copy = {
  opening: MINE,
  ...{ id: 8, work: 1, title: 'Moths at lamp 1', outcome: 'proved', version: 'version of record', pages: 4 },
  ...{ labels: ['45', '46', '47', '48'], origin: 'your file "a.pdf"', passages: [], scanned: null },
  proof: { outcome: 'proved', evidence: [] },
}
const passage = (id: number, more: Partial<Passage> = {}): Passage => ({
  ...{ id, inquiryId: 1, workId: 1, copyId: 8, page: 3, label: '47', kind: 'quoted', quote: 'Visits fell.', note: '' },
  ...{ strandId: null, tags: [], version: 2, ownId: null, at: '2026-10-05T10:00:00Z' },
  selectors: [{ type: 'TextQuoteSelector', exact: 'Visits fell.', prefix: '', suffix: '' }],
  ...more,
})
const STRANDS = [
  { id: 4, name: 'What lamps change', place: 0 },
  { id: 6, name: 'Which hours', place: 1 },
]
/** What was put where it can be pasted. */
let pasted = ''
const patches = () => sent.filter(s => s.method === 'PATCH').map(s => s.body as Record<string, unknown>)

beforeEach(() => {
  const writeText = (text: string) => Promise.resolve(void (pasted = text))
  Object.defineProperty(navigator, 'clipboard', { value: { writeText }, configurable: true })
  answers['GET /inquiries/1/strands'] = STRANDS
  answers['GET /inquiries/1/lists'] = []
})

describe('a passage', () => {
  const show = (p: Passage, mayWrite = true) => {
    const Card = () => (
      <PassageCard passage={p} cited="(Okafor, 2020, p. 47)" isOpen open={() => undefined} mayWrite={mayWrite} />
    )
    open(Card, 'read')
  }
  test('is written on, put on a strand and tagged, and saves itself', async () => {
    answers['PATCH /inquiries/1/passages/5'] = { ...passage(5), version: 3 }
    show(passage(5))
    await userEvent.type(await screen.findByRole('textbox', { name: 'Note on page 47' }), 'Fewer came.')
    await userEvent.click(await screen.findByRole('button', { name: 'Which hours' }))
    await userEvent.type(screen.getByRole('textbox', { name: 'Tags' }), 'towns,  few, towns{Enter}')
    await waitFor(() =>
      expect(patches().at(-1)).toEqual({
        quote: 'Visits fell.',
        note: 'Fewer came.',
        strand: 6,
        tags: ['towns', 'few'],
      }),
    )
    expect(screen.getByRole('button', { name: 'Which hours' })).toHaveAttribute('aria-pressed', 'true')
    expect(await screen.findByText('saved')).toBeInTheDocument()
  })
  test('shows what was changed of its words, and takes the words of the page back', async () => {
    answers['PATCH /inquiries/1/passages/5'] = { ...passage(5), version: 3 }
    show(passage(5, { quote: 'Visits [of moths] fell.' }))
    expect(await screen.findByText(/On the page: “Visits fell\.”/)).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'as on the page' }))
    await waitFor(() => expect(patches().at(-1)).toMatchObject({ quote: 'Visits fell.' }))
    expect(screen.queryByText(/On the page/)).toBeNull()
  })
  test('that another window changed meanwhile is not written over before one has chosen', async () => {
    answers['PATCH /inquiries/1/passages/5'] = () => ({
      status: 412,
      body: { code: 'changed-elsewhere', title: 'Changed.', current: { note: 'Theirs.', version: 7 } },
    })
    show(passage(5))
    await userEvent.type(await screen.findByRole('textbox', { name: 'Note on page 47' }), 'Mine.')
    expect(await screen.findByText(/another window meanwhile.*Theirs\./, {}, { timeout: 4000 })).toBeInTheDocument()
    answers['PATCH /inquiries/1/passages/5'] = { ...passage(5), version: 8 }
    await userEvent.click(within(screen.getByTestId('passage')).getByRole('button', { name: 'Keep mine' }))
    await waitFor(() => {
      const last = sent.findLast(s => s.method === 'PATCH')!
      expect([last.body, last.headers.get('If-Match')]).toMatchObject([{ note: 'Mine.' }, '"7"'])
    })
  })
  test('is taken out, and put back as it was, with its place', async () => {
    const value = 'page=3&viewrect=72,100,200,12'
    const whole = passage(5, {
      ...{ note: 'Fewer.', strandId: 4, tags: ['key'] },
      selectors: [{ type: 'FragmentSelector', conformsTo: 'http://tools.ietf.org/rfc/rfc8118', value }],
    })
    answers['DELETE /inquiries/1/passages/5'] = () => ({ status: 204, body: undefined })
    answers['POST /inquiries/1/copies/8/passages'] = passage(6)
    show(whole)
    await userEvent.click(await screen.findByRole('button', { name: 'Take out' }))
    await userEvent.click(await screen.findByRole('button', { name: 'Undo' }))
    await waitFor(() =>
      expect(posted('/inquiries/1/copies/8/passages')[0]?.body).toMatchObject({
        ...{ page: 3, kind: 'quoted', quote: 'Visits fell.', note: 'Fewer.', strand: 4, tags: ['key'] },
        boxes: [{ page: 3, x: 72, y: 100, width: 200, height: 12 }],
      }),
    )
  })
  test('is looked at and copied by who may not write', async () => {
    show(passage(5, { note: 'Fewer.' }), false)
    expect(await screen.findByText('“Visits fell.”')).toBeInTheDocument()
    expect(screen.queryByRole('textbox')).toBeNull()
    await userEvent.click(screen.getByRole('button', { name: 'Copy with (Okafor, 2020, p. 47)' }))
    expect(pasted).toBe('“Visits fell.” (Okafor, 2020, p. 47)')
  })
})

describe('what is chosen on a page', () => {
  const boxes = [{ page: 3, x: 72, y: 100, width: 200, height: 12 }]
  const cleared = jest.fn()
  const show = (text: string, where = boxes) =>
    open(() => <NewPassage copy={copy} chosen={{ page: 3, text, boxes: where }} clear={cleared} />, 'read')
  const noted = () => posted('/inquiries/1/copies/8/passages').map(s => s.body)
  beforeEach(() => {
    cleared.mockClear()
    answers['POST /inquiries/1/copies/8/passages'] = passage(9)
  })
  test('is kept as quoted by one key, with its place and its strand', async () => {
    show('Visits fell.')
    await userEvent.click(await screen.findByRole('button', { name: 'What lamps change' }))
    await userEvent.keyboard('q')
    await waitFor(() => expect(noted()).toMatchObject([{ kind: 'quoted', quote: 'Visits fell.', strand: 4, boxes }]))
    expect(cleared).toHaveBeenCalledWith(true)
  })
  test('is said in one’s own words beside them, which are kept', async () => {
    show('Visits fell.')
    expect(await screen.findByRole('button', { name: 'In my words' })).toBeDisabled()
    await userEvent.type(
      screen.getByRole('textbox', { name: 'Note on page 47' }),
      'Fewer came.{Control>}{Enter}{/Control}',
    )
    await waitFor(() =>
      expect(noted()).toMatchObject([{ kind: 'in my words', quote: 'Visits fell.', note: 'Fewer came.' }]),
    )
  })
  test('is a figure in its box, with or without a note', async () => {
    show('')
    await userEvent.click(await screen.findByRole('button', { name: 'Keep the figure' }))
    await waitFor(() => expect(noted()).toMatchObject([{ kind: 'figure', quote: '', note: '', boxes }]))
  })
  test('or the page itself; and is left again', async () => {
    show('', [])
    expect(await screen.findByText('a note on the page')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Leave it' }))
    expect(cleared).toHaveBeenCalledWith(false)
    expect(noted()).toEqual([])
  })
})

describe('what a text stands on', () => {
  const reference = (n: number, cited: number[]): CopyInParts['references'][number] => ({
    ...{
      n,
      label: null,
      text: `Lune (2014). Lamps ${n}.`,
      boxes: [{ page: 4, x: 60, y: 300 + n, width: 300, height: 12 }],
    },
    ...{ item: { title: `Lamps ${n}`, author: [{ family: 'Lune' }], issued: { 'date-parts': [[2014]] } } },
    sure: {},
    cited: cited.map(page => {
      const said = `So it is of lamp ${n} on leaf ${page} (Lune, 2014).`
      return { page, said, at: { from: said.length - 12, to: said.length - 2 } }
    }),
  })
  const parts: CopyInParts = {
    ...{ labels: copy.labels, by: [], said: '', headings: [], captions: [], front: {}, lists: [], left: 0 },
    references: [reference(1, [1]), reference(2, [1, 2, 2, 3]), reference(3, [])],
  }
  const went = jest.fn()
  const looked = jest.fn()
  const Shown = ({ of, first }: { of: CopyInParts; first: readonly number[] }) => {
    const [picked, pick] = useState(first)
    return <ReferencesOf copy={8} parts={of} go={went} look={looked} picked={picked} pick={pick} />
  }
  const show = (of = parts, first: readonly number[] = []) => open(() => <Shown of={of} first={first} />, 'read')
  const titles = () => screen.getAllByRole('listitem').map(l => /Lamps \d/.exec(l.textContent ?? '')?.[0])
  test('says how often each is cited, in which sentences, and orders by that', async () => {
    show()
    const second = (await screen.findAllByRole('listitem'))[1]!
    expect(second).toHaveTextContent('cited 4 times')
    await userEvent.click(within(second).getByRole('button', { name: /Lamps 2/ }))
    await userEvent.click(within(second).getAllByRole('button', { name: /p\. 46 So it is of lamp 2 on leaf 2/ })[0]!)
    expect(went).toHaveBeenCalledWith(2)
    await userEvent.click(within(second).getByRole('button', { name: 'in the list, p. 48' }))
    expect(looked).toHaveBeenCalledWith(parts.references[1])
    await userEvent.click(within(second).getByRole('button', { name: /Lamps 2/ }))
    expect(within(second).queryByText(/So it is/)).not.toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Most cited here first' }))
    expect(titles()).toEqual(['Lamps 2', 'Lamps 1', 'Lamps 3'])
  })
  test('of one whose citation was pressed on the sentences are there at once; of several they stand alone', async () => {
    show(parts, [3])
    expect(await screen.findByText('No sentence was found that cites it.')).toBeInTheDocument()
    expect(titles()).toEqual(['Lamps 1', 'Lamps 2', 'Lamps 3'])
    cleanup()
    show(parts, [1, 3])
    const all = await screen.findByRole('button', { name: /cited there 2/ })
    expect(screen.queryByText(/Lamps 2/)).not.toBeInTheDocument()
    await userEvent.click(all)
    expect(titles()).toEqual(['Lamps 1', 'Lamps 2', 'Lamps 3'])
  })
  test('is walked, and tells then what is in the pool, what one lacks, and what is unknown', async () => {
    answers['POST /inquiries/1/lists'] = { id: 3, job: 7 }
    show()
    await userEvent.click(await screen.findByRole('button', { name: 'Walk this list' }))
    await waitFor(() => expect(posted('/inquiries/1/lists').map(s => s.body)).toEqual([{ copy: 8 }]))
  })
  const row = { id: 3, name: 'x', copy: 8, work: 1, day: '2026-10-05', job: null, left: 1 }
  type Listed = Answer<'list'>['entries'][number]
  const entry = (n: number, means: number | null, more: Partial<Listed> = {}): Listed => ({
    ...{ n, label: null, text: '', page: 4, item: {}, others: false, looked: true, matches: [], means, byHand: false },
    ...{ inIndex: null, missing: null },
    ...more,
  })
  const node = (id: number, of: number | null, title?: string) => ({
    ...{ id, work: of, item: title ? { title } : {}, kind: 'research article' },
  })
  const walked = (entries: Listed[]) => {
    answers['GET /inquiries/1/lists'] = [{ ...row, entries: 3 }]
    answers['GET /inquiries/1/lists/3'] = {
      ...{ ...row, by: 'lines', indexDay: null, indexOnly: [] },
      nodes: [node(70, 3), node(71, null, 'Lamps of a quay'), node(72, null, 'Lamps of a bridge')],
      entries,
    }
  }
  test('of a list that was walked only what one lacks is shown', async () => {
    walked([entry(1, 0), entry(2, 1), entry(3, null)])
    show()
    expect(await screen.findByRole('button', { name: 'in the pool, kept' })).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'you lack it 1' }))
    expect(titles()).toEqual(['Lamps 2'])
    await userEvent.click(screen.getByRole('button', { name: 'unknown 1' }))
    expect(titles()).toEqual(['Lamps 3'])
    expect(screen.getByText('1 of them were not looked up yet.')).toBeInTheDocument()
  })
  test('what one lacks is decided on here, and what an entry means is put right here', async () => {
    answers['POST /inquiries/1/pointers'] = {
      ...{ records: 1, newWorks: 1, known: 0, asked: 0, arrival: 3, works: [], revision: 9 },
    }
    answers['PUT /inquiries/1/lists/3/entries/2'] = { node: 72 }
    answers['POST /inquiries/1/lists/3/entries/2'] = () => ({ status: 202, body: { id: 3, job: 8 } })
    const told = () => sent.filter(s => s.method === 'PUT').map(s => s.body)
    const matches = [
      { node: 1, share: 0.6 },
      { node: 2, share: 0.3 },
    ]
    walked([entry(1, 0), entry(2, 1, { matches, text: 'Lune (2014). Lamps.' }), entry(3, null, { looked: false })])
    show(parts, [2])
    const item = (await screen.findByText('Lamps of a quay')).closest('li')!
    await userEvent.click(within(item).getByRole('button', { name: 'Keep' }))
    await waitFor(() =>
      expect(posted('/inquiries/1/pointers').map(s => s.body)).toMatchObject([{ nodes: [71], choice: 'keep' }]),
    )
    await userEvent.click(within(item).getByRole('button', { name: 'It is another' }))
    await userEvent.click(within(item).getByRole('button', { name: 'It is this one' }))
    await waitFor(() => expect(told()).toEqual([{ means: 'this', node: 72 }]))
    const said = (await screen.findByText('Entry 2 is settled.')).closest<HTMLElement>('[data-part=root]')!
    await userEvent.click(within(said).getByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(told().at(-1)).toEqual({ means: 'as found' }))
    await userEvent.click(within(item).getByRole('button', { name: 'It is another' }))
    await userEvent.click(within(item).getByRole('button', { name: 'None of these' }))
    await waitFor(() => expect(told().at(-1)).toEqual({ means: 'none' }))
    await userEvent.click(within(item).getByRole('button', { name: 'It is another' }))
    await userEvent.click(within(item).getByRole('button', { name: 'Put its words right' }))
    await userEvent.type(within(item).getByRole('textbox'), ' Night Papers.')
    await userEvent.click(within(item).getByRole('button', { name: 'Look again' }))
    await waitFor(() =>
      expect(posted('/inquiries/1/lists/3/entries/2').map(s => s.body)).toEqual([
        { text: 'Lune (2014). Lamps. Night Papers.' },
      ]),
    )
    cleanup()
    // one that nobody looked up, and what a reader sees
    show(parts, [3])
    expect(await screen.findByText('It was not looked up yet.')).toBeInTheDocument()
    cleanup()
    answers['GET /inquiries/1'] = { ...inquiry, role: 'reader' }
    show(parts, [2])
    expect(await screen.findByText('Lamps of a quay')).toBeInTheDocument()
    expect(screen.queryByRole('button', { name: 'It is another' })).toBeNull()
  })
  test('is nothing where no list was found', async () => {
    show({ ...parts, references: [] })
    expect(await screen.findByText(/No list of references was found/)).toBeInTheDocument()
  })
})

describe('the bar above the pages', () => {
  const view: View = { page: 2, scale: 0.86, fit: 'page-width', turn: 0, twoPages: false, moved: 0, late: undefined }
  const pages = () => ({
    ...{ go: jest.fn(), zoom: jest.fn(), fit: jest.fn(), turn: jest.fn(), twoPages: jest.fn(), find: jest.fn() },
    ...{ findNothing: jest.fn(), room: document.createElement('div') },
    bookmarks: jest.fn(async (): Promise<Bookmark[]> => []),
  })
  const heads = [
    { text: 'Methods', level: 1, page: 2, y: 300 },
    { text: 'Lamps', level: 2, page: 3, y: 80 },
  ]
  const show = (reader: Pages, hits?: Hits, headings = heads) =>
    open(
      () => (
        <Toolbar {...{ copy, reader, view, hits, headings }} hasStrip showStrip={() => undefined} box={undefined} />
      ),
      'read',
    )
  test('leads to where the file’s own bookmarks do, by keys', async () => {
    const reader = pages()
    const go = jest.fn()
    reader.bookmarks.mockResolvedValue([
      { title: 'The harbour', level: 0, page: 1, go: jest.fn() },
      { title: 'Its lamps', level: 1, page: 3, go },
    ])
    show(reader)
    await userEvent.click(await screen.findByRole('button', { name: 'Contents' }))
    expect(await screen.findByRole('menuitem', { name: 'Its lamps 47' })).toBeInTheDocument()
    expect(screen.queryByText('Methods')).toBeNull()
    await userEvent.click(screen.getByRole('menuitem', { name: 'Its lamps 47' }))
    expect(go).toHaveBeenCalledTimes(1)
  })
  test('leads to the headings of a text without bookmarks, and says where there are none', async () => {
    const reader = pages()
    show(reader)
    await userEvent.click(await screen.findByRole('button', { name: 'Contents' }))
    await userEvent.click(await screen.findByRole('menuitem', { name: 'Lamps 47' }))
    expect(reader.go).toHaveBeenCalledWith(3, 80)
    cleanup()
    show(reader, undefined, [])
    await userEvent.click(await screen.findByRole('button', { name: 'Contents' }))
    expect(await screen.findByText(/The file has no bookmarks, and no headings/)).toBeInTheDocument()
  })
  test('opens the file by itself', async () => {
    show(pages())
    await userEvent.click(await screen.findByRole('button', { name: 'Full width' }))
    expect(await screen.findByRole('menuitem', { name: 'The file by itself, to print' })).toHaveAttribute(
      'href',
      `/api/inquiries/1/copies/${copy.id}/file`,
    )
  })
  test('goes to a page by its printed name, and says where there is none', async () => {
    const reader = pages()
    show(reader)
    const box = await screen.findByRole('textbox', { name: 'page' })
    expect(box).toHaveValue('46')
    expect(screen.getByText('of 45–48')).toBeInTheDocument()
    await userEvent.clear(box)
    await userEvent.type(box, '48{Enter}')
    expect(reader.go).toHaveBeenCalledWith(4)
    await userEvent.clear(box)
    await userEvent.type(box, '99{Enter}')
    expect(screen.getByRole('alert')).toHaveTextContent('no page 99')
    expect(reader.go).toHaveBeenCalledTimes(1)
  })
  test('looks for words as they are typed, steps through the hits, and leaves them', async () => {
    const reader = pages()
    show(reader, { words: 'lamp', current: 4, total: 1100, isLooking: false, byPage: [4] })
    const box = await screen.findByRole('searchbox', { name: 'find' })
    await userEvent.keyboard('/')
    expect(box).toHaveFocus()
    await userEvent.type(box, 'lamp')
    expect(reader.find).toHaveBeenLastCalledWith('lamp')
    expect(within(screen.getByRole('search')).getByRole('status')).toHaveTextContent('4 of 1,100')
    await userEvent.keyboard('{Enter}')
    expect(reader.find).toHaveBeenLastCalledWith('lamp', 'next')
    await userEvent.keyboard('{Shift>}{Enter}{/Shift}')
    expect(reader.find).toHaveBeenLastCalledWith('lamp', 'previous')
    await userEvent.keyboard('{Escape}')
    expect(reader.findNothing).toHaveBeenCalled()
    expect(box).toHaveValue('')
  })
  test('says that words are not in it, and sizes pages by keys', async () => {
    const reader = pages()
    show(reader, { words: 'owl', current: 0, total: 0, isLooking: false, byPage: [] })
    expect(await screen.findByText('not in it')).toBeInTheDocument()
    expect(screen.getByRole('button', { name: 'Next hit' })).toBeDisabled()
    await userEvent.keyboard('+-0')
    expect(reader.zoom.mock.calls).toEqual([[1], [-1]])
    expect(reader.fit).toHaveBeenCalledWith('page-width')
  })
})

describe('all passages', () => {
  const told = (id: number, more: Partial<Answer<'passages'>['passages'][number]> = {}) => ({
    ...passage(id),
    ...{ title: 'Moths at lamp 1', authors: 'Okafor', year: 2020, copyVersion: 'version of record' },
    ...{ cited: '(Okafor, 2020, p. 47)', ...more },
  })
  const shelf = (passages: object[], of = '') => {
    answers['GET /inquiries/1/routes'] = [
      { ...work(1, { state: 'kept' }), routes: [], closed: [], trouble: null, addresses: [], copies: [] },
    ]
    answers['GET /inquiries/1/copies'] = []
    answers['GET /inquiries/1/passages'] = { style: 'apa', passages }
    open(Shelf, `read?view=passages${of}`)
  }
  const quotes = () => screen.getAllByTestId('passage').map(p => /“(.*?)”/.exec(p.textContent ?? '')?.[1])
  test('those of one work stand alone, and all come back', async () => {
    shelf([told(1, { quote: 'One.' }), told(2, { workId: 2, title: 'Owls', quote: 'Two.' })], '&of=2')
    expect(await screen.findByText('Of “Owls” alone')).toBeInTheDocument()
    expect(quotes()).toEqual(['Two.'])
    await userEvent.click(screen.getByRole('button', { name: 'Of all works' }))
    expect(quotes()).toEqual(['One.', 'Two.'])
  })
  test('stand by work or by strand, are limited, and lead to their pages', async () => {
    shelf([
      told(1, { strandId: 6, quote: 'One.' }),
      told(2, { quote: 'Two.', tags: ['hull'] }),
      told(3, { workId: 2, title: 'Owls', quote: 'Three.', strandId: 4, authors: 'Lune' }),
    ])
    expect(await screen.findByRole('region', { name: 'Owls' })).toBeInTheDocument()
    expect(screen.getAllByRole('link', { name: 'On its page' })[0]).toHaveAttribute(
      'href',
      '/inquiries/1/read/8?page=3&passage=1',
    )
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Order of passages' }), 'strand')
    expect(quotes()).toEqual(['Three.', 'One.', 'Two.'])
    await userEvent.click(screen.getByRole('button', { name: /^Which hours 1$/ }))
    expect(quotes()).toEqual(['One.'])
    await userEvent.click(screen.getByRole('button', { name: 'all 3' }))
    await userEvent.type(screen.getByRole('searchbox', { name: 'Words in passages' }), 'HULL')
    expect(quotes()).toEqual(['Two.'])
    await userEvent.type(screen.getByRole('searchbox', { name: 'Words in passages' }), ' owl')
    expect(screen.getByText(/None of 3 passages fits/)).toBeInTheDocument()
  })
  test('are copied with their citations, and taken along as files', async () => {
    shelf([told(1), told(2, { kind: 'in my words', quote: '', note: 'Fewer.' })])
    await userEvent.click(await screen.findByRole('button', { name: 'As text, as file' }))
    expect(await screen.findByRole('menuitem', { name: /Markdown/ })).toHaveAttribute(
      'href',
      '/api/inquiries/1/passages/file?format=markdown',
    )
    await userEvent.click(screen.getByRole('menuitem', { name: /^Copy those shown/ }))
    expect(pasted).toBe('“Visits fell.” (Okafor, 2020, p. 47)\n\nFewer. (Okafor, 2020, p. 47)')
  })
  test('are copied the older way where a browser has no clipboard for the page, or it is said that they cannot be', async () => {
    Object.defineProperty(navigator, 'clipboard', { value: undefined, configurable: true })
    const select = jest.fn<(command: string) => boolean>(() => true)
    document.execCommand = select
    shelf([told(1)])
    const copy = async () => {
      await userEvent.click(await screen.findByRole('button', { name: 'As text, as file' }))
      await userEvent.click(await screen.findByRole('menuitem', { name: /^Copy those shown/ }))
    }
    await copy()
    expect(await screen.findByText('Copied: 1 passage with their citations.')).toBeInTheDocument()
    select.mockReturnValue(false)
    await copy()
    expect(await screen.findByText(/does not let this page copy/)).toBeInTheDocument()
  })
  test('of none says how one comes by them', async () => {
    shelf([])
    expect(await screen.findByText('Nothing noted yet')).toBeInTheDocument()
  })
})
