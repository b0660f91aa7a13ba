/** @jest-environment jsdom */
import { beforeEach, describe, expect, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { act, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { Deed, WorkLine } from '../../core/sift/line'
import { Sift } from '../stations/sift/sift'
import { answers, inquiry, open, posted, sent, work } from './rig'

/** jsdom lays nothing out: lists are given a height, so that their lines are drawn. */
beforeEach(() => {
  Object.defineProperties(HTMLElement.prototype, {
    clientHeight: { configurable: true, value: 600 },
    clientWidth: { configurable: true, value: 900 },
    offsetHeight: { configurable: true, value: 58 },
  })
  answers['GET /inquiries/1/twins'] = []
  answers['GET /inquiries/1/checks'] = { checks: [], unread: 2, offered: 2 }
  answers['GET /inquiries/1/sweeps'] = []
  answers['GET /inquiries/1/arrivals'] = []
  answers['POST /inquiries/1/decisions'] = { works: [], revision: 5 }
  answers['POST /inquiries/1/marks'] = { works: [], revision: 5 }
  answers['POST /inquiries/1/undo'] = { works: [], revision: 6 }
})
const pool = (works: WorkLine[]) => (answers['GET /inquiries/1/works'] = works)
const lines = () => screen.getAllByRole('listitem').filter(i => i.querySelector('.line'))
const titles = () => lines().map(l => l.querySelector('.line-title')!.textContent)
const decided = () =>
  posted('/inquiries/1/decisions').map(
    s => (s.body as { decisions: { work: number; choice: string; pass: string; reason: string | null }[] }).decisions,
  )
const marked = () =>
  posted('/inquiries/1/marks').flatMap(
    s => (s.body as { marks: { work: number; about: string; value: unknown }[] }).marks,
  )

describe('the pass by title', () => {
  beforeEach(() => localStorage.setItem('vine-path order of reading', 'pool'))
  test('takes one key a work; what was decided keeps its place and says how it stands', async () => {
    pool([work(1), work(2), work(3, { state: 'kept', pass: 'abstract' }), work(4)])
    open(Sift, 'sift?view=titles')
    await waitFor(() => expect(titles()).toEqual(['Moths at lamp 1', 'Moths at lamp 2', 'Moths at lamp 4']))
    await userEvent.keyboard('jf')
    await waitFor(() => expect(decided().flat()).toMatchObject([
      { work: 1, choice: 'keep', pass: 'title', reason: null },
      { work: 2, choice: 'set aside', pass: 'title', reason: null },
    ])) // prettier-ignore
    expect(titles()).toEqual(['Moths at lamp 1', 'Moths at lamp 2', 'Moths at lamp 4'])
    expect(lines()[0]).toHaveTextContent('kept')
    expect(lines()[2]).toHaveAttribute('aria-current', 'true')
    expect(screen.getByText(/2 decided here/)).toBeInTheDocument()
    expect(screen.getByRole('tab', { name: /By title 1/ })).toBeInTheDocument()
  })
  test('an undo goes back to the work it was about', async () => {
    pool([work(1), work(2)])
    answers['POST /inquiries/1/undo'] = { works: [1], lines: [work(1)], revision: 6 }
    open(Sift, 'sift?view=titles')
    await waitFor(() => expect(titles()).toHaveLength(2))
    await userEvent.keyboard('j')
    await waitFor(() => expect(decided()).toHaveLength(1))
    await userEvent.keyboard('u')
    await waitFor(() => expect(posted('/inquiries/1/undo')).toHaveLength(1))
    expect(lines()[0]).toHaveAttribute('aria-current', 'true')
    await waitFor(() => expect(lines()[0]).not.toHaveTextContent('· kept'))
  })
  test('ends where every title is decided', async () => {
    pool([work(1, { state: 'kept', pass: 'title' })])
    open(Sift, 'sift?view=titles')
    expect(await screen.findByText('Every title has been decided')).toBeInTheDocument()
  })
})

describe('the list', () => {
  beforeEach(() => localStorage.setItem('vine-path order of reading', 'title'))
  const three = () => pool([work(1), work(2, { state: 'later' }), work(3, { state: 'kept', tags: ['night'] })])
  test('has every state with its count, and limits itself to one of them', async () => {
    three()
    open(Sift, 'sift?view=list')
    await waitFor(() => expect(titles()).toHaveLength(3))
    expect(screen.getByRole('button', { name: 'all 3' })).toHaveAttribute('aria-pressed', 'true')
    await userEvent.click(screen.getByRole('button', { name: 'later 1' }))
    await waitFor(() => expect(titles()).toEqual(['Moths at lamp 2']))
    expect(screen.getByRole('button', { name: 'Lift the limit: state later' })).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'set aside 0' }))
    expect(await screen.findByText('No work is set aside within the limits')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Lift all limits' }))
    await waitFor(() => expect(titles()).toHaveLength(3))
  })
  test('decides together on what is chosen, with one reason and one undo', async () => {
    three()
    open(Sift, 'sift?view=list')
    await waitFor(() => expect(titles()).toHaveLength(3))
    await userEvent.click(screen.getByRole('button', { name: 'Choose all 3' }))
    await userEvent.click(screen.getByRole('checkbox', { name: 'Choose: Moths at lamp 3' }))
    await userEvent.click(screen.getByRole('button', { name: 'Set aside' }))
    expect(decided()).toHaveLength(0)
    await userEvent.click(await screen.findByRole('button', { name: /Not about the question/ }))
    await waitFor(() => expect(decided()).toHaveLength(1))
    expect(decided()[0]!.map(d => d.work)).toEqual([1, 2])
    expect(new Set(decided()[0]!.map(d => d.reason)).size).toBe(1)
    expect(decided()[0]![0]!.reason).toBe('Not about the question')
    await userEvent.click(await screen.findByRole('button', { name: 'Undo' }))
    await waitFor(() => expect(posted('/inquiries/1/undo')).toHaveLength(1))
  })
  test('says of what is chosen what it is for, and which tag it bears', async () => {
    three()
    // what was taken stands in what is read afterwards, as the server has it
    answers['POST /inquiries/1/marks'] = ({ marks }: { marks: { work: number; about: string }[] }) => {
      for (const line of answers['GET /inquiries/1/works'] as WorkLine[])
        for (const m of marks.filter(x => x.work === line.id))
          if (m.about === 'part') line.part = 'background'
          else line.tags = ['night']
      return { body: { works: [1, 2], revision: 5 } }
    }
    open(Sift, 'sift?view=list')
    await waitFor(() => expect(titles()).toHaveLength(3))
    await userEvent.click(screen.getByRole('checkbox', { name: 'Choose: Moths at lamp 1' }))
    await userEvent.click(screen.getByRole('checkbox', { name: 'Choose: Moths at lamp 2' }))
    await userEvent.click(screen.getByRole('button', { name: 'Part, strand, tag …' }))
    await userEvent.click(await screen.findByRole('menuitem', { name: /background/ }))
    await userEvent.click(screen.getByRole('menuitem', { name: /night/ }))
    await waitFor(() => expect(marked()).toMatchObject([
      { work: 1, about: 'part', value: 'background' },
      { work: 2, about: 'part', value: 'background' },
      { work: 1, about: 'tag:night', value: true },
      { work: 2, about: 'tag:night', value: true },
    ])) // prettier-ignore
    await waitFor(() => expect(lines()[0]).toHaveTextContent('background'))
    expect(lines()[0]).toHaveTextContent('night')
  })
  test('a reader sees it and can change nothing', async () => {
    answers['GET /inquiries/1'] = { ...inquiry, role: 'reader' }
    three()
    open(Sift, 'sift?view=list')
    await waitFor(() => expect(titles()).toHaveLength(3))
    await userEvent.keyboard('j')
    expect(screen.getByRole('button', { name: 'Keep' })).toBeDisabled()
    expect(decided()).toHaveLength(0)
  })
})

describe('limits', () => {
  const kinds = () =>
    pool([
      work(1, { kind: 'book', year: 1999 }),
      work(2, { kind: 'report', year: 2001 }),
      work(3, { kind: 'book', year: 2001, state: 'kept' }),
    ])
  test('tell before use what each would leave, and are lifted one by one', async () => {
    kinds()
    open(Sift, 'sift?view=list')
    await userEvent.click(await screen.findByRole('button', { name: 'Limit …' }))
    const panel = screen.getByRole('group', { name: 'Limits' })
    expect(within(panel).getByRole('button', { name: 'book 2' })).toBeInTheDocument()
    await userEvent.click(within(panel).getByRole('button', { name: 'book 2' }))
    await waitFor(() => expect(titles()).toHaveLength(2))
    // under that limit the years count books alone
    await userEvent.click(within(panel).getByRole('button', { name: 'year' }))
    expect(within(panel).getByRole('button', { name: '2001 1' })).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Lift the limit: kind book' }))
    expect(await within(panel).findByRole('button', { name: '2001 2' })).toBeInTheDocument()
  })
  test('of years are set as a span, and one without works changes nothing', async () => {
    kinds()
    open(Sift, 'sift?view=list&year=1999')
    await waitFor(() => expect(titles()).toEqual(['Moths at lamp 1']))
    await userEvent.click(screen.getByRole('button', { name: 'Limit …' }))
    await userEvent.clear(screen.getByLabelText('From year'))
    await userEvent.type(screen.getByLabelText('From year'), '2005')
    await userEvent.clear(screen.getByLabelText('To year'))
    await userEvent.click(screen.getByRole('button', { name: 'Set the years' }))
    expect(await screen.findByText('The pool has no work of these years.')).toBeInTheDocument()
    expect(titles()).toEqual(['Moths at lamp 1'])
    await userEvent.clear(screen.getByLabelText('From year'))
    await userEvent.type(screen.getByLabelText('From year'), '2000')
    await userEvent.click(screen.getByRole('button', { name: 'Set the years' }))
    await waitFor(() => expect(titles()).toHaveLength(2))
  })
  test('are kept as a view under a name', async () => {
    kinds()
    answers['POST /inquiries/1/views'] = { id: 4, name: 'Books', limits: { kind: ['book'] }, words: '' }
    open(Sift, 'sift?view=list&kind=book')
    await userEvent.click(await screen.findByRole('button', { name: 'Keep as a view …' }))
    await userEvent.type(await screen.findByLabelText('Name of the view'), 'Books')
    await userEvent.type(screen.getByLabelText('Name of the view'), '{Enter}')
    await waitFor(() =>
      expect(posted('/inquiries/1/views')[0]?.body).toEqual({ name: 'Books', limits: { kind: ['book'] }, words: '' }),
    )
  })
  describe('of words in the copies', () => {
    const copyOf = (id: number, work: number) => ({
      ...{ id, work, title: 'x', authors: 'y', year: 2001, version: 'preprint', outcome: 'proved', labels: ['1'] },
      scanned: null,
    })
    const copies = () => sent.filter(s => s.path === '/inquiries/1/copies')
    beforeEach(() => {
      kinds()
      answers['GET /inquiries/1'] = { ...inquiry, query: 'moth* and lamp*' }
      answers['GET /inquiries/1/copies'] = [copyOf(91, 1), copyOf(92, 3)]
      answers['GET /inquiries/1/copies/91/text'] = { pages: ['Owls came to the lamps.'] }
      answers['GET /inquiries/1/copies/92/text'] = { pages: ['A moth came to the lamp.', 'And an owl.'] }
    })
    test('the concepts of the question are counted, other words looked for, and copies asked for only then', async () => {
      open(Sift, 'sift?view=list')
      await userEvent.click(await screen.findByRole('button', { name: 'Limit …' }))
      const panel = within(screen.getByRole('group', { name: 'Limits' }))
      expect(copies()).toEqual([])
      await userEvent.click(panel.getByRole('button', { name: 'words in its copies' }))
      expect(await panel.findByText('searched in 2 copies')).toBeInTheDocument()
      expect(panel.getByRole('button', { name: 'lamp* 2' })).toBeInTheDocument()
      await userEvent.click(panel.getByRole('button', { name: 'moth* 1' }))
      await waitFor(() => expect(titles()).toEqual(['Moths at lamp 3']))
      await userEvent.click(screen.getByRole('button', { name: 'Lift the limit: words in its copies moth*' }))
      const box = panel.getByLabelText('Words in the copies')
      await userEvent.type(box, 'owls and{Enter}')
      expect(panel.getByRole('status')).not.toHaveTextContent('searched')
      await userEvent.clear(box)
      await userEvent.type(box, 'owls{Enter}')
      await waitFor(() => expect(titles()).toEqual(['Moths at lamp 1']))
      expect(panel.getByRole('button', { name: 'owls 1', pressed: true })).toBeInTheDocument()
    })
    test('a link that has them waits until they are looked for', async () => {
      open(Sift, 'sift?view=list&text=owl')
      await waitFor(() => expect(titles()).toEqual(['Moths at lamp 3']))
    })
    test('copies that could not be had are told, and sent for again', async () => {
      // the words of others are kept from before
      answers['GET /inquiries/1/copies'] = [copyOf(93, 1), copyOf(94, 3)]
      answers['GET /inquiries/1/copies/93/text'] = { pages: ['Moths.'] }
      answers['GET /inquiries/1/copies/94/text'] = () => ({ status: 500, body: { code: 'broken', title: 'Broken.' } })
      open(Sift, 'sift?view=list&text=owl')
      expect(await screen.findByText(/within the limits/)).toBeInTheDocument()
      await userEvent.click(screen.getByRole('button', { name: 'Limit …' }))
      expect(await screen.findByText('1 of 2 copies could not be fetched')).toBeInTheDocument()
      answers['GET /inquiries/1/copies/94/text'] = { pages: ['An owl.'] }
      await userEvent.click(screen.getByRole('button', { name: 'Try again' }))
      await waitFor(() => expect(titles()).toEqual(['Moths at lamp 3']))
    })
  })
  test('words have to stand in title, authors or journal', async () => {
    pool([work(1), work(2, { people: ['Wexcombe, T'] })])
    open(Sift, 'sift?view=list&words=wexc')
    await waitFor(() => expect(titles()).toEqual(['Moths at lamp 2']))
  })
})

describe('what does not fit the brief', () => {
  test('is proposed with its count, looked at, and set aside only when that is said', async () => {
    answers['GET /inquiries/1'] = { ...inquiry, rules: { ...inquiry.rules, notBefore: 2000, languages: ['en'] } }
    pool([work(1, { year: 1990 }), work(2, { year: 1991 }), work(3, { language: 'de' }), work(4)])
    open(Sift, 'sift?view=titles')
    expect(await screen.findByText(/3 undecided works do not fit the brief/)).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Look at them' }))
    expect(decided()).toHaveLength(0)
    await userEvent.click(screen.getByRole('button', { name: 'Set aside 2' }))
    await waitFor(() => expect(decided()[0]?.map(d => [d.work, d.reason])).toEqual([
      [1, 'Too old for the brief'],
      [2, 'Too old for the brief'],
    ])) // prettier-ignore
    expect(await screen.findByText(/1 undecided work does not fit the brief/)).toBeInTheDocument()
  })
})

describe('strands', () => {
  const kept = (id: number, strands: number[]) => work(id, { state: 'kept', pass: 'abstract', strands })
  test('are made by name, and the first is explained', async () => {
    pool([kept(1, [])])
    answers['POST /inquiries/1/strands'] = { id: 8, name: 'What draws them', place: 0 }
    open(Sift, 'sift?view=strands')
    expect(await screen.findByText(/A strand is one theme of your argument/)).toBeInTheDocument()
    await userEvent.type(screen.getByLabelText('Name of the strand'), ' What draws them {Enter}')
    await waitFor(() => expect(posted('/inquiries/1/strands')[0]?.body).toEqual({ name: 'What draws them' }))
  })
  test('hold their works; one is moved by its menu, leaving the one and coming to the other', async () => {
    answers['GET /inquiries/1/strands'] = [
      { id: 8, name: 'Causes', place: 0 },
      { id: 9, name: 'Cures', place: 1 },
    ]
    pool([kept(1, [8]), kept(2, [8, 9]), kept(3, []), work(4)])
    open(Sift, 'sift?view=strands')
    const causes = await screen.findByRole('region', { name: 'Causes, 2 works' })
    expect(screen.getByRole('region', { name: 'no strand yet, 1 work' })).toHaveTextContent('Moths at lamp 3')
    expect(within(causes).getByText('also on Cures')).toBeInTheDocument()
    await userEvent.click(within(causes).getByRole('button', { name: 'Place: Moths at lamp 1' }))
    const moves = await screen.findAllByRole('menuitem', { name: /Cures/ })
    await userEvent.click(moves.at(-1)!)
    await waitFor(() => expect(marked()).toMatchObject([
      { work: 1, about: 'strand:8', value: false },
      { work: 1, about: 'strand:9', value: true },
    ])) // prettier-ignore
    expect(await screen.findByRole('region', { name: 'Cures, 2 works' })).toBeInTheDocument()
    expect(screen.getByRole('region', { name: 'Causes, 1 work' })).toBeInTheDocument()
  })
})

describe('history', () => {
  const deed = (more: Partial<Deed>): Deed => ({
    at: '2026-10-05T10:00:00Z',
    who: 'Imre',
    what: 'decision',
    group: 'g1',
    undone: false,
    works: 1,
    first: { id: 1, title: 'Moths at lamp 1' },
    detail: { choice: 'set aside', pass: 'abstract', reason: 'Too old' },
    ...more,
  })
  test('says who did what and why; a step is taken back from there, one taken back is not', async () => {
    answers['GET /inquiries/1/history'] = [
      deed({}),
      deed({ group: 'g0', undone: true, works: 3 }),
      deed({ what: 'mark', group: 'g2', detail: { about: 'tag:night', value: true } }),
      deed({ what: 'mark', group: 'g3', detail: { about: 'field:title', value: { text: 'Moths' } } }),
      deed({
        what: 'arrival',
        group: null,
        first: null,
        works: 0,
        detail: { how: 'file', records: 84, newWorks: 61, known: 23 },
      }),
      deed({ what: 'check', group: null, first: null, works: 60, detail: { n: 1, size: 300 } }),
    ]
    open(Sift, 'sift?view=history')
    expect(await screen.findAllByText('Set aside by abstract, because: Too old:')).toHaveLength(2)
    expect(screen.getByText('84 records came in from a file: 61 new works, 23 known')).toBeInTheDocument()
    expect(screen.getByText('Began check 1: 60 works drawn of 300 unread')).toBeInTheDocument()
    expect(screen.getByText('Tagged “night”:')).toBeInTheDocument()
    expect(screen.getByText('Corrected the title:')).toBeInTheDocument()
    expect(screen.getByText('taken back')).toBeInTheDocument()
    expect(screen.getByText('and 2 more')).toBeInTheDocument()
    const back = screen.getAllByRole('button', { name: 'Take back' })
    expect(back).toHaveLength(3)
    await userEvent.click(back[0]!)
    await waitFor(() => expect(posted('/inquiries/1/undo')[0]?.body).toMatchObject({ group: 'g1' }))
  })
})

describe('the lines of the pool', () => {
  test('are read whole once, page by page; after that only those that changed are told, and the others stay', async () => {
    localStorage.setItem('vine-path order of reading', 'pool')
    const asked: string[] = []
    const answer = globalThis.fetch
    globalThis.fetch = (async (url: string, init?: RequestInit) => {
      if (!url.includes('/works/changes')) return answer(url, init)
      asked.push(url.split('?')[1] ?? '')
      const day = '2026-10-05'
      const body = [
        { revision: 7, day, whole: true, lines: [work(1), work(2)], gone: [], next: 2 },
        { revision: 8, day, whole: true, lines: [work(3)], gone: [], next: null },
        {
          revision: 9,
          day,
          whole: false,
          lines: [work(2, { title: 'Moths at lamp two' }), work(9)],
          gone: [3],
          next: null,
        },
      ][asked.length - 1]
      return {
        ok: true,
        status: 200,
        headers: new Headers({ 'content-type': 'application/json' }),
        text: async () => JSON.stringify(body),
      }
    }) as typeof fetch
    open(Sift, 'sift?view=titles')
    await waitFor(() => expect(titles()).toHaveLength(3))
    await userEvent.keyboard('j')
    await waitFor(() => expect(asked).toEqual(['after=0', 'after=2', 'after=0&since=7&day=2026-10-05']))
    await act(async () => await new Promise(r => setTimeout(r, 50)))
    await waitFor(() => expect(titles()).toEqual(['Moths at lamp 1', 'Moths at lamp two', 'Moths at lamp 9']))
    expect(sent.length).toBeGreaterThan(0)
  })
})

describe('a pass that its limits leave nothing to', () => {
  test.each(['titles', 'abstracts'])('says what waits beyond them, and lifts them: %s', async view => {
    pool([work(1), work(2, { state: 'kept', pass: 'abstract' })])
    open(Sift, `sift?view=${view}&kind=thesis`)
    expect(await screen.findByText('Nothing within the limits is left to decide')).toBeInTheDocument()
    expect(screen.getByText('1 work waits beyond them.')).toBeInTheDocument()
    await userEvent.click(screen.getByRole('button', { name: 'Lift all limits' }))
    await waitFor(() => expect(screen.queryByText('Nothing within the limits is left to decide')).toBeNull())
  })
})
