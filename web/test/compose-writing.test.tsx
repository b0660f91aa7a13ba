/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, describe, expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { placesOf, type Citing } from '../../core/write/written'
import { Compose } from '../stations/compose/compose'
import { entry, layList, list, passage } from './entries'
import { answers, goToEnd, inquiry, open, sent, work, writeIn } from './rig'

beforeEach(layList)

test('what reading left is put in at the caret, by keys', async () => {
  answers['GET /inquiries/1/passages'] = {
    style: 'apa',
    passages: [
      passage(1),
      passage(2, { kind: 'in my words', quote: '', note: 'Fewer came.' }),
      passage(3, { workId: 8 }),
    ],
  }
  answers['GET /inquiries/1/table'] = {
    heads: [{ key: 'found', name: 'Found', asks: '', own: null }],
    works: [
      {
        ...{ id: 3, title: 'Moths at lamp 3', authors: 'Okafor', year: 2003, strands: [], copy: null },
        notes: [{ head: 'found', content: 'A third less.', version: 1 }],
      },
    ],
  }
  answers['PATCH /inquiries/1/entries/5'] = { version: 5 }
  open(Compose, 'compose')
  const box = await screen.findByRole('textbox', { name: 'Annotation' })
  goToEnd(box)
  expect(await screen.findAllByRole('button', { name: /^Put in: / })).toHaveLength(3)
  await userEvent.keyboard('{Alt>}p{/Alt}{ArrowDown}{Enter}')
  expect(box).toHaveTextContent('One two three. “Visits fell.” (p. 47)')
  expect(await screen.findByText('Passages in the text: p. 47')).toBeInTheDocument()
  await waitFor(() => expect(box).toHaveFocus())
  await userEvent.keyboard('{Alt>}p{/Alt}{Enter}')
  expect(box).toHaveTextContent('One two three. “Visits fell.” (p. 47) A third less.')
  await waitFor(() => expect(box).toHaveFocus())
  await userEvent.keyboard('{Alt>}p{/Alt}{Escape}')
  expect(box).toHaveFocus()
})

describe('what is written', () => {
  const box = () => screen.findByRole('textbox', { name: 'Annotation' })
  const written = () => sent.filter(s => s.method === 'PATCH').at(-1)?.body
  beforeEach(() => {
    answers['PATCH /inquiries/1/entries/5'] = { version: 5 }
    answers['GET /inquiries/1/works'] = [
      work(3, { state: 'kept', title: 'Moths at lamp 3', authors: 'Okafor', year: 2003 }),
      work(8, { state: 'kept', title: 'Owls of towns', authors: 'Lune', year: 2020 }),
      work(9, { state: 'set aside', title: 'Owls set aside', authors: 'Tarn', year: 2020 }),
    ]
    answers['POST /inquiries/1/citing'] = (body: unknown) => {
      const citing = body as Citing
      const each = placesOf(citing).map(({ work, page }) =>
        [work === 3 ? 'Okafor, 2003' : 'Lune, 2020', page && `p. ${page}`].filter(Boolean).join(', '),
      )
      return { body: { inText: citing.named ? 'Lune (2020)' : `(${each.join('; ')})`, raised: false } }
    }
  })
  test('has looks and lists by keys and by the bar beneath it', async () => {
    open(Compose, 'compose')
    goToEnd(await box())
    const bar = await screen.findByRole('toolbar', { name: 'Looks of: Annotation' })
    await userEvent.click(within(bar).getByRole('button', { name: 'Numbered list' }))
    expect(within(bar).getByRole('button', { name: 'Numbered list' })).toHaveAttribute('aria-pressed', 'true')
    await userEvent.keyboard('{Control>}b{/Control}')
    expect(within(bar).getByRole('button', { name: 'Strong' })).toHaveAttribute('aria-pressed', 'true')
    await writeIn(await box(), ' Four.')
    await userEvent.keyboard('{Control>}z{/Control}')
    await waitFor(() =>
      expect(written()).toEqual({ annotation: 'One two three.', marks: [{ from: 0, to: 14, is: 'number' }] }),
    )
  })
  test('cites a work on a page by the keyboard alone, and the citation is changed in its place', async () => {
    open(Compose, 'compose')
    goToEnd(await box())
    await userEvent.keyboard('{Alt>}c{/Alt}')
    const words = await screen.findByRole('textbox', { name: /Find the work/ })
    await waitFor(() => expect(words).toHaveFocus())
    const works = () => within(screen.getByRole('listbox', { name: 'Works that can be cited' })).getAllByRole('option')
    // its own work comes first, and what is not kept is not there
    expect(works().map(o => o.textContent)).toEqual([
      expect.stringContaining('Okafor 2003'),
      expect.stringMatching(/Lune 2020.*not on the list/),
    ])
    await userEvent.keyboard('owl')
    await waitFor(() => expect(works()).toHaveLength(1))
    await userEvent.keyboard('{ArrowDown}{Enter}')
    await waitFor(() => expect(screen.getByRole('textbox', { name: 'Page' })).toHaveFocus())
    await userEvent.keyboard('pp. 7{Enter}')
    await waitFor(async () => expect(await box()).toHaveTextContent('One two three. (Lune, 2020, p. 7)'))
    expect(screen.queryByRole('form', { name: 'Cite a work' })).toBeNull()
    const mark = { from: 15, to: 33, is: 'cites', cites: { work: 8, page: '7', named: false } }
    await waitFor(() => expect(written()).toEqual({ annotation: 'One two three. (Lune, 2020, p. 7)', marks: [mark] }))
    await userEvent.keyboard('{ArrowLeft}')
    await userEvent.click(await screen.findByRole('button', { name: /Change what it cites/ }))
    expect(await screen.findByRole('textbox', { name: 'Page' })).toHaveValue('7')
    await userEvent.click(screen.getByRole('checkbox', { name: 'names in the sentence' }))
    await userEvent.click(screen.getByRole('button', { name: /Change it/ }))
    await waitFor(async () => expect(await box()).toHaveTextContent('One two three. Lune (2020)'))
  })
  test('goes on to the page from a work that was chosen before', async () => {
    open(Compose, 'compose')
    goToEnd(await box())
    await userEvent.keyboard('{Alt>}c{/Alt}')
    await waitFor(() => expect(screen.getByRole('textbox', { name: /Find the work/ })).toHaveFocus())
    await userEvent.keyboard('{ArrowDown}{Enter}')
    await waitFor(() => expect(screen.getByRole('textbox', { name: 'Page' })).toHaveFocus())
    await userEvent.keyboard('3{Enter}')
    await waitFor(async () => expect(await box()).toHaveTextContent('One two three. (Okafor, 2003, p. 3)'))
  })
  test('cites several works together, and leaves one of them out again', async () => {
    open(Compose, 'compose')
    goToEnd(await box())
    await userEvent.keyboard('{Alt>}c{/Alt}')
    await userEvent.click(await screen.findByRole('button', { name: 'Another work' }))
    const words = screen.getByRole('textbox', { name: /Find the work/ })
    await waitFor(() => expect(words).toHaveFocus())
    await userEvent.keyboard('owl{ArrowDown}{Enter}')
    await waitFor(() => expect(screen.getByRole('textbox', { name: 'Page' })).toHaveFocus())
    expect(screen.getByRole('checkbox', { name: 'names in the sentence' })).toBeDisabled()
    await userEvent.keyboard('7{Enter}')
    const both = 'One two three. (Okafor, 2003; Lune, 2020, p. 7)'
    await waitFor(async () => expect(await box()).toHaveTextContent(both))
    const cites = { work: 3, page: '', named: false, also: [{ work: 8, page: '7' }] }
    await waitFor(() =>
      expect(written()).toEqual({ annotation: both, marks: [{ from: 15, to: both.length, is: 'cites', cites }] }),
    )
    await userEvent.keyboard('{ArrowLeft}')
    await userEvent.click(await screen.findByRole('button', { name: /Change what it cites/ }))
    await userEvent.click(await screen.findByRole('button', { name: 'Cite without Okafor 2003' }))
    await userEvent.click(screen.getByRole('button', { name: /Change it/ }))
    await waitFor(async () => expect(await box()).toHaveTextContent('One two three. (Lune, 2020, p. 7)'))
  })
  test('reads as the style has it, and saves nothing by that alone', async () => {
    const cites = { work: 8, page: '7', named: false }
    const annotation = 'As (Lune, 2020, p. 7).'
    answers['GET /inquiries/1/bibliography'] = {
      ...list,
      entries: [{ ...list.entries[0]!, annotation, marks: [{ from: 3, to: 21, is: 'cites', cites }] }],
      cited: [{ citing: cites, works: [8], text: '[2, p. 7]', raised: false }],
    }
    open(Compose, 'compose')
    expect(await box()).toHaveTextContent('As [2, p. 7].')
    await writeIn(await box(), ' More.')
    await waitFor(() =>
      expect(written()).toEqual({
        annotation: 'As [2, p. 7]. More.',
        marks: [{ from: 3, to: 12, is: 'cites', cites }],
      }),
    )
    expect(sent.filter(s => s.method === 'PATCH')).toHaveLength(1)
  })
  test('that cites what is not on the list is told so, and the work is put there; an entry without findings is ready', async () => {
    const cites = { work: 8, page: '', named: false }
    const of = (more: object) => ({ ...list.entries[0]!, annotation: 'As (Lune, 2020) says.', ...more })
    const marked = { marks: [{ from: 3, to: 15, is: 'cites' as const, cites }] }
    answers['GET /inquiries/1/bibliography'] = { ...list, entries: [of(marked)] }
    let entered: unknown
    answers['POST /inquiries/1/entries'] = (body: unknown) => {
      entered = body
      const second = { ...of({ marks: [] }), id: 6, work: 8, annotation: '' }
      answers['GET /inquiries/1/bibliography'] = {
        ...{ ...list, entries: [of({ ...marked, annotation: 'As (Lune, 2020) says of all.' }), second] },
        sections: [{ heading: null, strand: null, entries: [5, 6] }],
      }
      return { status: 201, body: { id: 6 } }
    }
    open(Compose, 'compose')
    const card = (await screen.findByRole('heading', { name: 'Cited, and not on the list' })).closest('section')!
    expect(card).toHaveTextContent('“Owls of towns” is no entry')
    expect(document.querySelector('[data-what="not listed"]')).toHaveTextContent('(Lune, 2020)')
    expect(screen.getByText('of 1 ready')).toHaveTextContent('0 of 1 ready')
    await userEvent.click(within(card).getByRole('button', { name: 'Put it on the list' }))
    await waitFor(() => expect(entered).toEqual({ work: 8 }))
    await waitFor(() => expect(screen.queryByRole('heading', { name: 'Cited, and not on the list' })).toBeNull())
    await waitFor(() => expect(screen.getByText(/of 2 ready/)).toHaveTextContent('1 of 2 ready'))
    expect(screen.getByText('ready')).toBeInTheDocument()
  })
  test('that cites a work twice is told of it once; one that was joined into a work on the list is on it', async () => {
    const [a, b] = [8, 9].map(work => ({ work, page: '', named: false }))
    const annotation = 'As (Lune, 2020) says, (Lune, 2020) and (Sand, 2011).'
    const marks = [
      { from: 3, to: 15, is: 'cites' as const, cites: a },
      { from: 22, to: 34, is: 'cites' as const, cites: { ...a!, page: '' } },
      { from: 39, to: 51, is: 'cites' as const, cites: b },
    ]
    answers['GET /inquiries/1/bibliography'] = {
      ...{ ...list, entries: [{ ...list.entries[0]!, annotation, marks }] },
      cited: [{ citing: b, works: [list.entries[0]!.work], text: '(Sand, 2011)', raised: false }],
    }
    open(Compose, 'compose')
    expect(await screen.findAllByRole('heading', { name: 'Cited, and not on the list' })).toHaveLength(1)
    expect([...document.querySelectorAll('[data-what="not listed"]')].map(e => e.textContent)).toEqual([
      '(Lune, 2020)',
      '(Lune, 2020)',
    ])
  })
  test('is no longer than there is room for, and what was too much is said', async () => {
    open(Compose, 'compose')
    await writeIn(await box(), 'x'.repeat(50_000))
    expect(await screen.findByText('There is room for 50,000 letters here.')).toBeInTheDocument()
    expect(await box()).toHaveTextContent('One two three.')
  })
})

describe('the outline of an annotation', () => {
  const outline = (name: string) => screen.findByRole('heading', { name: new RegExp(`^${name} `) })
  beforeEach(() => {
    answers['GET /inquiries/1'] = { ...inquiry, rules: { parts: ['summary', 'judgement'] } }
    answers['GET /inquiries/1/passages'] = {
      style: 'apa',
      passages: [
        passage(1),
        passage(2, { kind: 'in my words', quote: '', note: 'However, the sample is small.', label: '48' }),
      ],
    }
    answers['GET /inquiries/1/table'] = {
      heads: [
        { key: 'method', name: 'Method', asks: '', own: null },
        { key: 'found', name: 'Found', asks: '', own: null },
        { key: 'view', name: 'My view', asks: '', own: null },
      ],
      works: [
        {
          ...{ id: 3, title: 'Moths at lamp 3', authors: 'Okafor', year: 2003, strands: [], copy: null },
          notes: [
            { head: 'view', content: 'I will use it.', version: 1 },
            { head: 'method', content: 'Nets at lamps. p. 3', version: 1 },
            { head: 'found', content: '“Visits fell.” p. 47', version: 1 },
          ],
        },
      ],
    }
    answers['PATCH /inquiries/1/entries/5'] = { version: 5 }
  })
  test('begins an empty one with all that was left, part by part', async () => {
    entry({ annotation: '' })
    open(Compose, 'compose')
    await userEvent.click(await screen.findByRole('textbox', { name: 'Annotation' }))
    await userEvent.click(await screen.findByRole('button', { name: 'Begin with all of it, in this order' }))
    const lines = [
      '“Visits fell.” (p. 47)',
      'Nets at lamps (p. 3).',
      'However, the sample is small (p. 48).',
      'I will use it.',
    ]
    await waitFor(() =>
      expect(sent.filter(s => s.method === 'PATCH').at(-1)?.body).toEqual({ annotation: lines.join('\n'), marks: [] }),
    )
    expect(screen.queryByRole('button', { name: /Begin with/ })).toBeNull()
    await waitFor(async () => expect(await outline('judgement')).toHaveTextContent('seen'))
  })
  test.each([
    ['The authors argue that lamps matter to the moths of towns.', /seen$/, /asked, not seen$/, 'simple signs'],
    ['Die Autoren zeigen, dass Lampen für die Falter der Städte wichtig sind.', /asked$/, /asked$/, 'English alone'],
  ])('says of the parts that are asked what is seen of them: %s', async (annotation, summary, judgement, how) => {
    entry({ annotation })
    open(Compose, 'compose')
    await userEvent.click(await screen.findByRole('textbox', { name: 'Annotation' }))
    expect(await outline('summary')).toHaveTextContent(summary)
    expect(await outline('judgement')).toHaveTextContent(judgement)
    expect(await outline('use')).toHaveTextContent(/question$/)
    expect(screen.getByText(new RegExp(how))).toBeInTheDocument()
  })
})

describe('figures of an annotation', () => {
  beforeEach(() => {
    answers['GET /inquiries/1/copies'] = [
      {
        ...{ id: 9, work: 3, title: 'Moths at lamp 3', authors: 'Okafor', year: 2003, version: 'version of record' },
        ...{ outcome: 'proved', labels: ['146', '147'], scanned: null },
      },
    ]
    answers['GET /inquiries/1/copies/9/text'] = { pages: ['We caught 5 120 moths.', 'A fall of 38 % was seen.'] }
    answers['PATCH /inquiries/1/entries/5'] = { version: 5 }
  })
  test('are held against the copy: not there, on another page, and while it is written without one', async () => {
    entry({ annotation: 'It fell by 38% (p. 146). Then 5,120 moths came. It was 45.5% of all.' })
    open(Compose, 'compose')
    expect(await screen.findByRole('heading', { name: '45.5% is not in your copy' })).toBeInTheDocument()
    const card = screen.getByRole('heading', { name: '38% stands on p. 147' }).closest('section')!
    await userEvent.click(within(card).getByRole('button', { name: 'Name p. 147' }))
    const box = screen.getByRole('textbox', { name: 'Annotation' })
    expect(box).toHaveTextContent('It fell by 38% (p. 147). Then')
    goToEnd(box)
    const hint = (await screen.findByRole('heading', { name: '5,120 stands on p. 146' })).closest('section')!
    await userEvent.click(within(hint).getByRole('button', { name: 'Put in (p. 146)' }))
    expect(box).toHaveTextContent('Then 5,120 moths came (p. 146). It was')
  })
})
