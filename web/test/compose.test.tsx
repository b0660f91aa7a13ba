/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, describe, expect, test } from '@jest/globals'
import { screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Answer, Bibliography, BibliographyEntry } from '../../core/schema/api'
import { LAYOUT } from '../../core/paper/layout'
import { Compose } from '../stations/compose/compose'
import { answers, goToEnd, open, posted, sent, work, writeIn, type Reply } from './rig'

const list: Bibliography = {
  style: 'apa',
  styleName: 'APA, 7th edition',
  language: null,
  styleTrouble: null,
  newerStyle: null,
  hangingIndent: true,
  layout: LAYOUT,
  texts: [],
  sections: [{ heading: null, strand: null, entries: [5] }],
  entries: [
    {
      id: 5,
      work: 3,
      label: null,
      citation: [{ text: 'Okafor (2003). ' }, { text: 'Night Papers', italic: true }],
      inText: '(Okafor, 2003)',
      title: 'Moths at lamp 3',
      annotation: 'One two three.',
      marks: [],
      version: 4,
      words: 3,
      kind: 'research article',
      right: [],
    },
  ],
  cited: [],
  rules: [
    { rule: 'entries', verdict: 'short', have: 1, want: 10, said: 'sources', counting: [5] },
    { rule: 'books', verdict: 'holds', have: 0, want: 2, said: 'books or chapters, 2 allowed', counting: [] },
  ],
}
type Check = Answer<'entryChecks'>['entries'][number]
const finding: Check['findings'][number] = {
  ...{ key: 'by the copy of volume: 6', field: 'volume', what: 'Another volume in the copy', isRight: false },
  ...{ why: 'Its first pages have it so.', ours: '7', theirs: '6', seen: { copy: 9, page: 1 } },
  mend: { value: { text: '6' }, called: 'As in the copy' },
}
const checked = (more: Partial<Check> = {}) => {
  const entry = { entry: 5, findings: [], agrees: ['title', 'year'], copy: 9, records: 2, ...more }
  answers['GET /inquiries/1/bibliography/checks'] = { style: 'APA', entries: [entry] }
}
const passage = (id: number, more: object = {}) => ({
  ...{ id, inquiryId: 1, workId: 3, copyId: 9, page: 2, label: '47', kind: 'quoted', quote: 'Visits fell.', note: '' },
  ...{ strandId: null, tags: [], version: 2, ownId: null, at: '2026-10-05T10:00:00Z', selectors: null },
  ...{ title: 'Moths at lamp 3', authors: 'Okafor', year: 2003, copyVersion: 'version of record', cited: '', ...more },
})
const entry = (more: Partial<BibliographyEntry>) => {
  answers['GET /inquiries/1/bibliography'] = { ...list, entries: [{ ...list.entries[0]!, ...more }] }
}
/** What was said of works, the last of each sending. */
const marks = () => posted('/inquiries/1/marks').map(s => (s.body as { marks: Record<string, unknown>[] }).marks[0])

beforeEach(() => {
  answers['GET /inquiries/1/bibliography'] = list
  answers['GET /inquiries/1/copies'] = []
  answers['GET /inquiries/1/passages'] = { style: 'apa', passages: [] }
  answers['GET /inquiries/1/table'] = { heads: [], works: [] }
  checked()
})

test('shows the list as it prints, with the rules and the length', async () => {
  open(Compose, 'compose')
  expect(await screen.findByText('Night Papers')).toHaveProperty('tagName', 'I')
  expect(screen.getByText('2 words short')).toBeInTheDocument()
  expect(screen.getByLabelText('sources: short')).toHaveTextContent('1 of 10 sources9 short')
  expect(screen.getByText('In the text: (Okafor, 2003)')).toBeInTheDocument()
})
test('saves an annotation against its version', async () => {
  answers['PATCH /inquiries/1/entries/5'] = { version: 5 }
  open(Compose, 'compose')
  const box = await screen.findByRole('textbox', { name: 'Annotation' })
  await writeIn(box, ' Four five.')
  await userEvent.tab()
  await waitFor(() => expect(sent.find(s => s.method === 'PATCH')).toBeDefined())
  const patch = sent.find(s => s.method === 'PATCH')!
  expect(patch.headers.get('If-Match')).toBe('"4"')
  expect(patch.body).toEqual({ annotation: 'One two three. Four five.', marks: [] })
  expect(screen.getByText('5 words')).toBeInTheDocument()
  expect(await screen.findByText('saved')).toBeInTheDocument()
})
test('keeps both texts where another window was faster', async () => {
  answers['PATCH /inquiries/1/entries/5'] = () => ({
    status: 412,
    body: { code: 'changed-elsewhere', title: 'Changed.', current: { annotation: 'Theirs.', marks: [], version: 7 } },
  })
  open(Compose, 'compose')
  const box = await screen.findByRole('textbox', { name: 'Annotation' })
  await writeIn(box, ' Mine.')
  await userEvent.tab()
  expect(await screen.findByText('Theirs.')).toBeInTheDocument()
  expect(box).toHaveTextContent('One two three. Mine.')
  answers['PATCH /inquiries/1/entries/5'] = { version: 8 }
  await userEvent.click(screen.getByRole('button', { name: 'Keep mine, above' }))
  await waitFor(() =>
    expect(
      sent.at(-1)!.headers.get('If-Match') ??
        sent
          .filter(s => s.method === 'PATCH')
          .at(-1)!
          .headers.get('If-Match'),
    ).toBe('"7"'),
  )
  expect(screen.queryByText('Theirs.')).toBeNull()
})

describe('findings about a citation', () => {
  test('say what speaks for them, and are mended by a key as a word on the work', async () => {
    checked({ findings: [finding] })
    answers['POST /inquiries/1/marks'] = {}
    open(Compose, 'compose')
    const card = (await screen.findByRole('heading', { name: 'Another volume in the copy' })).closest('section')!
    expect(card).toHaveTextContent('yours7copy6Its first pages have it so.')
    expect(within(card).getByRole('link', { name: 'See it there' })).toHaveAttribute(
      'href',
      '/inquiries/1/read/9?page=1',
    )
    expect(screen.getByText('1 finding about citations')).toBeInTheDocument()
    // to the next finding by its key
    await userEvent.keyboard('d')
    expect(screen.getByRole('button', { name: 'As in the copy' })).toHaveFocus()
    await userEvent.keyboard('{Enter}')
    await waitFor(() => expect(marks()).toMatchObject([{ work: 3, about: 'field:volume', value: { text: '6' } }]))
  })
  test('are right as they are where the student says so, until they are asked again', async () => {
    checked({ findings: [finding, { ...finding, key: 'other', what: 'Other', isRight: true }] })
    answers['POST /inquiries/1/marks'] = {}
    open(Compose, 'compose')
    expect(await screen.findByText(/^One finding is right as it is/)).toBeInTheDocument()
    expect(screen.queryByRole('heading', { name: 'Other' })).toBeNull()
    await userEvent.click(screen.getByRole('button', { name: 'Right as it is' }))
    await waitFor(() => expect(marks()[0]).toMatchObject({ about: `right:${finding.key}`, value: true }))
    await userEvent.click(screen.getByRole('button', { name: 'Ask again' }))
    await waitFor(() => expect(marks()[1]).toMatchObject({ about: 'right:other', value: null }))
  })
  test('without any, what agrees is told', async () => {
    open(Compose, 'compose')
    const agrees = (await screen.findByRole('heading', { name: 'Citation agrees with the copy' })).closest('section')!
    expect(agrees).toHaveTextContent('title, year; held against 2 records and APA as well')
  })
  test('that are all right as they are leave the citation settled, not blameless', async () => {
    checked({ findings: [{ ...finding, isRight: true }] })
    open(Compose, 'compose')
    expect(await screen.findByRole('heading', { name: 'Settled by your word' })).toBeInTheDocument()
    expect(screen.queryByRole('heading', { name: 'Citation agrees with the copy' })).toBeNull()
  })
  test('many are not shown at once', async () => {
    checked({ findings: [1, 2, 3, 4, 5].map(n => ({ ...finding, key: `k${n}`, what: `Finding ${n}` })) })
    open(Compose, 'compose')
    await userEvent.click(await screen.findByRole('button', { name: '2 more about the citation' }))
    expect(screen.getByRole('heading', { name: 'Finding 5' })).toBeInTheDocument()
  })
  test('that could not be looked for are looked for again', async () => {
    answers['GET /inquiries/1/bibliography/checks'] = () => ({ status: 500, body: { title: 'No.' } })
    open(Compose, 'compose')
    expect(await screen.findByText('The entries could not be checked.')).toBeInTheDocument()
    checked({ findings: [finding] })
    await userEvent.click(screen.getByRole('button', { name: 'Try again' }))
    expect(await screen.findByText('1 finding about citations')).toBeInTheDocument()
  })
})

describe('wording', () => {
  const TEXT = 'Part-night lighting recovered about a third of the loss, mostly after one in the morning.'
  const box = () => screen.findByRole('textbox', { name: 'Annotation' })
  beforeEach(() => {
    answers['GET /inquiries/1/copies'] = [
      {
        ...{ id: 9, work: 3, title: 'Moths at lamp 3', authors: 'Okafor', year: 2003, version: 'version of record' },
        ...{ outcome: 'proved', labels: ['146', '147'], scanned: null },
      },
    ]
    answers['GET /inquiries/1/copies/9/text'] = { pages: ['Other words.', TEXT] }
    answers['PATCH /inquiries/1/entries/5'] = { version: 5 }
  })
  test('that runs as a source does is shown beside it, and quoted with its page by a key', async () => {
    entry({ annotation: 'They say part-night lighting recovered about a third of the loss.' })
    open(Compose, 'compose')
    const card = (await screen.findByRole('heading', { name: '10 words run as on p. 147' })).closest('section')!
    await userEvent.click(within(card).getByRole('button', { name: 'Quote it with its page' }))
    expect(await box()).toHaveTextContent(
      'They say “Part-night lighting recovered about a third of the loss” (p. 147).',
    )
    await waitFor(() => expect(screen.queryByRole('heading', { name: /words run as/ })).toBeNull())
    const told = (await screen.findByText('Quoted, as it stands there.')).closest<HTMLElement>('[data-part=root]')!
    await userEvent.click(within(told).getByRole('button', { name: 'Undo' }))
    expect(await box()).toHaveTextContent('They say part-night lighting recovered about a third of the loss.')
  })
  test('of another work is quoted and cited, unless its text changed while the citation was asked for', async () => {
    const annotation = 'They say part-night lighting recovered about a third of the loss.'
    const [first] = list.entries
    answers['GET /inquiries/1/bibliography'] = {
      ...list,
      sections: [{ heading: null, strand: null, entries: [5, 6] }],
      entries: [
        { ...first!, annotation },
        { ...first!, id: 6, work: 8, annotation: '' },
      ],
    }
    answers['GET /inquiries/1/works'] = [work(3, { state: 'kept' }), work(8, { state: 'kept', title: 'Owls of towns' })]
    answers['GET /inquiries/1/copies'] = [
      { ...(answers['GET /inquiries/1/copies'] as object[])[0], work: 8, title: 'Owls of towns' },
    ]
    let give: (() => void) | undefined
    answers['GET /inquiries/1/works/8/citation'] = () =>
      new Promise<Reply>(done => {
        give = () => done({ body: { styleName: 'APA', citation: [], inText: '(Lune, 2020, p. 147)', raised: false } })
      })
    open(Compose, 'compose')
    const quote = async () => {
      give = undefined
      const name = '10 words run as on p. 147 of “Owls of towns”'
      const card = (await screen.findByRole('heading', { name })).closest('section')!
      await userEvent.click(within(card).getByRole('button', { name: 'Quote and cite it' }))
      await waitFor(() => expect(give).toBeDefined())
    }
    const [text] = await screen.findAllByRole('textbox', { name: 'Annotation' })
    await quote()
    await writeIn(text!, ' More.')
    give!()
    await waitFor(() => expect(text!).toHaveTextContent(`${annotation} More.`))
    expect(text!.querySelector('.cites')).toBeNull()
    await quote()
    give!()
    await waitFor(() =>
      expect(text!).toHaveTextContent(
        'They say “Part-night lighting recovered about a third of the loss” (Lune, 2020, p. 147). More.',
      ),
    )
    expect(text!.querySelector('.cites')).toHaveTextContent('(Lune, 2020, p. 147)')
  })
  test('of a quotation is held against the page: other words, no page, another page, not there', async () => {
    entry({
      annotation:
        'A “recovered about a half of the loss” (p. 147). B “mostly after one in the morning”. ' +
        'C “recovered about a third of the loss” (p. 146). D “nobody had ever seen this before” (p. 3).',
    })
    open(Compose, 'compose')
    expect(await screen.findByRole('heading', { name: 'These words are not in your copy' })).toBeInTheDocument()
    const changed = screen.getByRole('heading', { name: 'Not as it stands on p. 147' }).closest('section')!
    expect([...changed.querySelectorAll('.apart-word')].map(w => w.textContent)).toEqual(['half', 'third'])
    await userEvent.click(within(changed).getByRole('button', { name: 'As it stands there' }))
    await userEvent.click(await screen.findByRole('button', { name: 'Put in (p. 147)' }))
    await userEvent.click(await screen.findByRole('button', { name: 'Name p. 147' }))
    expect(await box()).toHaveTextContent(
      'A “recovered about a third of the loss” (p. 147). B “mostly after one in the morning” (p. 147). ' +
        'C “recovered about a third of the loss” (p. 147). D “nobody had ever seen this before” (p. 3).',
    )
  })
  test('may stand, by a word that is kept with the work', async () => {
    entry({ annotation: 'They say part-night lighting recovered about a third of the loss.' })
    answers['POST /inquiries/1/marks'] = {}
    open(Compose, 'compose')
    await userEvent.click(await screen.findByRole('button', { name: 'Let it stand' }))
    await waitFor(() => expect(marks()[0]).toMatchObject({ work: 3, value: true }))
    const { about } = marks()[0] as { about: string }
    expect(about).toBe('right:close: part-night lighting recovered about a third of the loss')
    entry({ right: [about.slice('right:'.length)] })
  })
})

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
  await userEvent.keyboard('{Alt>}p{/Alt}{Enter}')
  expect(box).toHaveTextContent('One two three. “Visits fell.” (p. 47)')
  expect(screen.getByText('in the text: p. 47')).toBeInTheDocument()
  await waitFor(() => expect(box).toHaveFocus())
  await userEvent.keyboard('{Alt>}p{/Alt}{ArrowDown}{Enter}')
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
    answers['GET /inquiries/1/works/3/citation'] = {
      styleName: 'APA',
      citation: [],
      inText: '(Okafor, 2003)',
      raised: false,
    }
    answers['GET /inquiries/1/works/8/citation'] = (_: unknown, query: URLSearchParams) => ({
      body: {
        ...{ styleName: 'APA', citation: [], raised: false },
        inText: query.get('named') === 'true' ? 'Lune (2020)' : `(Lune, 2020, p. ${query.get('page')})`,
      },
    })
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
  test('reads as the style has it, and saves nothing by that alone', async () => {
    const cites = { work: 8, page: '7', named: false }
    const annotation = 'As (Lune, 2020, p. 7).'
    answers['GET /inquiries/1/bibliography'] = {
      ...list,
      entries: [{ ...list.entries[0]!, annotation, marks: [{ from: 3, to: 21, is: 'cites', cites }] }],
      cited: [{ citing: cites, work: 8, text: '[2, p. 7]', raised: false }],
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
      cited: [{ citing: b, work: list.entries[0]!.work, text: '(Sand, 2011)', raised: false }],
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

test('a rule of strands names those that have too few, and the kept works that are on them', async () => {
  answers['GET /inquiries/1/strands'] = [
    { id: 4, name: 'Lamps', place: 1 },
    { id: 7, name: 'Hours', place: 2 },
  ]
  answers['GET /inquiries/1/bibliography'] = {
    ...list,
    rules: [
      {
        rule: 'strands',
        verdict: 'short',
        have: 1,
        want: 2,
        said: 'strands with an entry',
        counting: [5],
        lacking: [7],
      },
    ],
  }
  answers['GET /inquiries/1/works'] = [
    work(3, { state: 'kept', strands: [4] }),
    work(4, { state: 'kept', title: 'Owls of towns', strands: [7] }),
    work(5, { state: 'kept', strands: [4] }),
  ]
  open(Compose, 'compose')
  await userEvent.click(await screen.findByRole('button', { name: 'strands with an entry: short' }))
  expect((await screen.findByText('too few on')).nextSibling).toHaveTextContent('Hours')
  expect(await screen.findByText('One kept work would fill it')).toBeInTheDocument()
  expect(screen.getByText('too few on').closest('.rule-open')).toHaveTextContent('Owls of towns')
})

test('a rule of strands leads to where they are made as long as there is none', async () => {
  answers['GET /inquiries/1/bibliography'] = {
    ...list,
    rules: [
      {
        rule: 'strands',
        verdict: 'unsure',
        have: 0,
        want: 0,
        said: 'strands yet, each to have an entry',
        counting: [],
      },
    ],
  }
  open(Compose, 'compose')
  await userEvent.click(await screen.findByRole('button', { name: /^strands yet/ }))
  const said = await screen.findByText(/^Strands are made in/)
  expect(within(said).getByRole('link', { name: 'Sift' })).toHaveAttribute('href', '/inquiries/1/sift?view=strands')
})

test('a rule says what counts for it and which kept works would fill it', async () => {
  answers['GET /inquiries/1/works'] = [
    work(3, { state: 'kept' }),
    work(4, { state: 'kept', title: 'Owls of towns', reach: 'in hand' }),
    work(5, { state: 'unread' }),
  ]
  answers['POST /inquiries/1/entries'] = { id: 6 }
  open(Compose, 'compose')
  const rule = await screen.findByRole('button', { name: 'sources: short' })
  await userEvent.click(rule)
  expect(rule).toHaveAttribute('aria-expanded', 'true')
  expect(screen.getByText('these count').nextSibling).toHaveTextContent('Okafor, 2003')
  expect(await screen.findByText('One kept work would fill it')).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: 'Put it in' }))
  await waitFor(() => expect(posted('/inquiries/1/entries')[0]?.body).toEqual({ work: 4 }))
  // a bound is not filled
  await userEvent.click(screen.getByRole('button', { name: 'books or chapters, 2 allowed: holds' }))
  expect(screen.queryByText(/would fill it/)).toBeNull()
})
