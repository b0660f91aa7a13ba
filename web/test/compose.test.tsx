/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { beforeEach, describe, expect, test } from '@jest/globals'
import { act, cleanup, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { Compose } from '../stations/compose/compose'
import { checked, entry, finding, layList, list } from './entries'
import { answers, inquiry, open, posted, sent, tellJob, work, writeIn, type Reply } from './rig'

/** What was said of works, the last of each sending. */
const marks = () => posted('/inquiries/1/marks').map(s => (s.body as { marks: Record<string, unknown>[] }).marks[0])

beforeEach(layList)

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
  test('are looked for in what DOIs are registered for, when that is asked for', async () => {
    checked({}, { asked: 1, of: 3, day: '2026-10-05' })
    answers['POST /inquiries/1/bibliography/registrations'] = () => ({ status: 202, body: { job: 7 } })
    open(Compose, 'compose')
    await userEvent.click(await screen.findByRole('button', { name: 'Hold 2 more DOIs against registrations' }))
    expect(posted('/inquiries/1/bibliography/registrations')).toHaveLength(1)
    const job = { id: 7, kind: 'registrations', payload: {}, result: null, error: null }
    act(() => tellJob({ ...job, state: 'running', progress: { done: 1, of: 2 } }))
    expect(await screen.findByText('Asking for 1 of 2 DOIs')).toBeInTheDocument()
    expect(screen.queryByRole('button', { name: /against registrations/ })).toBeNull()
    act(() => tellJob({ ...job, state: 'failed', error: 'It does not answer.', progress: {} }))
    expect(await screen.findByText('It does not answer.')).toBeInTheDocument()
    cleanup()
    checked({}, { asked: 3, of: 3, day: '2026-10-05' })
    open(Compose, 'compose')
    expect(await screen.findByText('DOIs as registered, 5 Oct')).toBeInTheDocument()
    cleanup()
    // a reader sees what was asked, and asks nothing
    checked({}, { asked: 0, of: 1, day: null })
    answers['GET /inquiries/1'] = { ...inquiry, role: 'reader' }
    open(Compose, 'compose')
    await screen.findByText('Nothing found against the citations')
    expect(screen.queryByRole('button', { name: /against registrations/ })).toBeNull()
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
    answers['POST /inquiries/1/citing'] = () =>
      new Promise<Reply>(done => {
        give = () => done({ body: { inText: '(Lune, 2020, p. 147)', raised: false } })
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

test('an entry has an address: what counts for a rule leads to its annotation', async () => {
  const two = [5, 6].map(id => ({ ...list.entries[0]!, id, work: id, inText: `(Okafor, 200${id})` }))
  answers['GET /inquiries/1/bibliography'] = {
    ...{ ...list, entries: two, sections: [{ heading: null, strand: null, entries: [5, 6] }] },
  }
  open(Compose, 'compose?entry=6')
  await waitFor(() => expect(document.activeElement?.closest('[data-entry]')).toHaveAttribute('data-entry', '6'))
  await userEvent.click(screen.getByRole('button', { name: /^sources/ }))
  await userEvent.click(screen.getByRole('link', { name: 'Okafor, 2005' }))
  await waitFor(() => expect(document.activeElement?.closest('[data-entry]')).toHaveAttribute('data-entry', '5'))
})
