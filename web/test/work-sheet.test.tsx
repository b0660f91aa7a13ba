/** @jest-environment jsdom */
import { beforeEach, describe, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Sift } from '../stations/sift/sift'
import { answers, inquiry, open, posted, sheet, work } from './rig'

const record = (id: number, source: string, item: object) => ({
  ...sheet(work(1)).records[0]!,
  id,
  source,
  item,
  raw: `<record of="${source}"/>`,
})
const known = {
  ...sheet(work(1, { doi: '10.5555/a.1', citedBy: 12, perYear: 3 })),
  item: { id: '', type: 'article-journal', title: 'Moths at lamp 1', volume: '7', DOI: '10.5555/a.1' },
  fieldFrom: { title: 21, volume: 22 },
  evidence: ['9 pages.', 'It stands in a journal.'],
  records: [
    record(21, 'Broadleaf Index', { title: 'Moths at lamp 1', volume: '6' }),
    record(22, 'Civic Paper File', { title: 'Moths at lamp I', volume: '7' }),
  ],
}
const marks = () => posted('/inquiries/1/marks').map(s => (s.body as { marks: Record<string, unknown>[] }).marks[0])
const shown = async (more: object = {}) => {
  answers['GET /inquiries/1/works/1'] = { ...known, ...more }
  open(Sift, 'sift?work=1')
  return within(await screen.findByRole('dialog', { name: 'Work sheet' }))
}

beforeEach(() => {
  answers['GET /inquiries/1/twins'] = []
  answers['GET /inquiries/1/checks'] = { checks: [], unread: 2, offered: 2 }
  answers['GET /inquiries/1/sweeps'] = []
  answers['POST /inquiries/1/marks'] = { works: [], revision: 5 }
  answers['POST /inquiries/1/decisions'] = { works: [], revision: 5 }
  answers['POST /inquiries/1/links'] = { works: [1] }
})

describe('the work sheet', () => {
  test('says of every field which record it is from, and takes another record’s', async () => {
    const s = await shown()
    await userEvent.click(await s.findByRole('button', { name: 'Choose or correct: Volume' }))
    expect(s.getByText('Civic Paper File, of 2')).toBeInTheDocument()
    const [six, seven] = s.getAllByRole('button', { name: 'Take this' })
    expect(seven).toBeDisabled()
    await userEvent.click(six!)
    await waitFor(() => expect(marks()).toMatchObject([{ work: 1, about: 'field:volume', value: { record: 21 } }]))
  })
  test('takes a field as the student writes it, and leaves it to the records again', async () => {
    const s = await shown({ said: { fields: { title: { text: 'Moths' } } }, fieldFrom: { title: 0 } })
    expect(await s.findByText('by you, of 2')).toBeInTheDocument()
    await userEvent.click(s.getByRole('button', { name: 'Choose or correct: Title' }))
    const box = s.getByLabelText('Title, as you write it')
    await userEvent.clear(box)
    expect(s.getByRole('button', { name: 'Use' })).toBeDisabled()
    await userEvent.type(box, ' Moths at a lamp ')
    await userEvent.click(s.getByRole('button', { name: 'Use' }))
    await waitFor(() => expect(marks()[0]).toMatchObject({ about: 'field:title', value: { text: 'Moths at a lamp' } }))
    await userEvent.click(s.getByRole('button', { name: 'Choose or correct: Title' }))
    await userEvent.click(s.getByRole('button', { name: 'As the records say' }))
    await waitFor(() => expect(marks()[1]).toMatchObject({ about: 'field:title', value: null }))
  })
  test('says that its language is told by its words, where no record names one', async () => {
    const s = await shown({ facts: { languageTold: 'de' } })
    expect(await s.findByText('German, by its words; no record says it')).toBeInTheDocument()
  })
  test('tells how old the work is, against what the kept works cite', async () => {
    answers['GET /inquiries/1/cited-ages'] = {
      works: 3,
      ages: [
        [2, 30],
        [40, 10],
      ],
    }
    const s = await shown({ year: 2014 })
    expect(await s.findByText('12 years: older than 75 % of what the kept works cite')).toBeInTheDocument()
  })

  test('lets the kind be overruled, and shows what the evidence says beside it', async () => {
    const s = await shown({
      judged: { kind: 'research article', confidence: 0.83 },
      kind: 'report',
      said: { kind: 'report' },
    })
    expect(await s.findByText('The evidence speaks for research article, 83% sure:')).toBeInTheDocument()
    expect(s.getByText('It stands in a journal.')).toBeInTheDocument()
    await userEvent.selectOptions(s.getByLabelText('What it is, as you say'), '')
    await waitFor(() => expect(marks()).toMatchObject([{ about: 'kind', value: null }]))
  })
  test('keeps a note when it is left, against the one it grew from; a newer one is not written over', async () => {
    answers['POST /inquiries/1/marks'] = () => ({
      status: 409,
      body: { code: 'changed', title: 'The note was changed in another window. Yours is still here.' },
    })
    const s = await shown({ said: { note: 'First.' } })
    const note = await s.findByLabelText('A note in your own words')
    await userEvent.click(note)
    await userEvent.tab()
    expect(marks()).toHaveLength(0)
    await userEvent.type(note, ' Then.')
    await userEvent.tab()
    await waitFor(() => expect(marks()[0]).toMatchObject({ about: 'note', value: 'First. Then.', was: 'First.' }))
    expect(await s.findByRole('alert')).toHaveTextContent('changed in another window')
    expect(note).toHaveValue('First. Then.')
  })
  test('gives part, strands and tags, and takes them off', async () => {
    answers['GET /inquiries/1/strands'] = [{ id: 8, name: 'Causes', place: 0 }]
    const s = await shown({ part: 'evidence', strands: [8], tags: ['night'] })
    expect(await s.findByText('goes into the bibliography')).toBeInTheDocument()
    await userEvent.click(s.getByRole('button', { name: 'evidence' }))
    await userEvent.click(await s.findByRole('button', { name: 'Causes' }))
    await userEvent.click(s.getByRole('button', { name: 'Take off the tag night' }))
    await userEvent.type(s.getByLabelText('A new tag'), ' towns {Enter}')
    await waitFor(() => expect(marks()).toMatchObject([
      { about: 'part', value: null },
      { about: 'strand:8', value: false },
      { about: 'tag:night', value: false },
      { about: 'tag:towns', value: true },
    ])) // prettier-ignore
  })
  test('asks for a reason before it sets aside', async () => {
    const s = await shown()
    await userEvent.click(await s.findByRole('button', { name: 'Set aside' }))
    expect(posted('/inquiries/1/decisions')).toHaveLength(0)
    await userEvent.click(s.getByRole('button', { name: /Not a research source/ }))
    await waitFor(() =>
      expect(posted('/inquiries/1/decisions')[0]?.body).toMatchObject({
        decisions: [{ work: 1, choice: 'set aside', reason: 'Not a research source' }],
      }),
    )
  })
  test('takes a record apart, and answers a doubtful pair', async () => {
    const s = await shown({ asked: [{ record: 31, source: 'your file', item: { title: 'Moths at a lamp' } }] })
    expect(await s.findByText(/Perhaps the same work, from your file/)).toHaveTextContent('without a DOI')
    await userEvent.click(s.getByRole('button', { name: 'Two works' }))
    await userEvent.click(s.getAllByRole('button', { name: 'Take apart' })[1]!)
    await waitFor(() => expect(posted('/inquiries/1/links').map(l => l.body)).toEqual([
      { a: 21, b: 31, verdict: 'never' },
      { a: 21, b: 22, verdict: 'never' },
    ])) // prettier-ignore
  })
  test('shows the source of a record as it came, as text', async () => {
    const s = await shown()
    await userEvent.click((await s.findAllByRole('button', { name: 'Source' }))[1]!)
    expect(s.getByText('<record of="Civic Paper File"/>')).toBeInTheDocument()
    await userEvent.click(s.getByRole('button', { name: 'Hide source' }))
    expect(s.queryByText('<record of="Civic Paper File"/>')).toBeNull()
  })
  test('is cited as the list and as a text have it, to be copied', async () => {
    const citation = [{ text: 'Okafor (2001). ' }, { text: 'Night Letters', italic: true }]
    answers['GET /inquiries/1/works/1/citation'] = { styleName: 'APA', citation, inText: '(Okafor, 2001)' }
    const s = await shown()
    expect((await s.findByText('Night Letters')).tagName).toBe('I')
    const user = userEvent.setup()
    await user.click(await s.findByRole('button', { name: 'Copy (Okafor, 2001)' }))
    expect(await navigator.clipboard.readText()).toBe('(Okafor, 2001)')
    expect(await screen.findByText('Copied as a text has it.')).toBeInTheDocument()
  })
  test('follows a lead: the catalogues are asked, and it says so', async () => {
    answers['POST /inquiries/1/works/1/lead'] = { job: 5, title: 'Night in Towns' }
    const s = await shown({ lead: { what: 'the book it reviews', title: 'Night in Towns', author: 'Wexcombe' } })
    await userEvent.click(await s.findByRole('button', { name: 'Look for it' }))
    expect(await screen.findByText('Looking for “Night in Towns” in the catalogues …')).toBeInTheDocument()
    expect(posted('/inquiries/1/works/1/lead')).toHaveLength(1)
  })
  test('is read by a reader, who changes nothing', async () => {
    answers['GET /inquiries/1'] = { ...inquiry, role: 'reader' }
    const s = await shown({ said: { note: 'Of the owner.' } })
    expect(await s.findByLabelText('A note in your own words')).toHaveAttribute('readonly')
    for (const name of ['Keep', 'Set aside', 'Take apart', 'Choose or correct: Title'])
      expect(s.queryByRole('button', { name })).toBeNull()
  })
})
