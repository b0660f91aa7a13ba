/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { act, render, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { PlanInFull } from '../../core/schema/api'
import { makePlan, paceOf, USUAL, type ToRead } from '../../core/write/plan'
import { sayMinutes } from '../frame/due'
import { Brief } from '../stations/brief/brief'
import { PageClock } from '../stations/read/page-clock'
import { usePageClock, type Showing } from '../stations/read/use-page-clock'
import { Shelf } from '../stations/read/shelf'
import { MINE, answers, inquiry, open, posted, sent, work } from './rig'

const texts: ToRead[] = [1, 2].map(id => ({
  ...{ id, pages: 10, pagesRead: 0, isRead: false, hasCopy: id === 1, until: null, isBook: false, isOverview: false },
  ...{ year: 2020, isListed: true, words: 0 },
}))
/** What the server would answer, reckoned as it does. */
function planned(
  more: { due?: string | null; rhythm?: Partial<typeof USUAL>; works?: ToRead[]; unread?: number } = {},
) {
  const { due = '2026-10-29', works = texts } = more
  const rhythm = { ...USUAL, ...more.rhythm, free: [...(more.rhythm?.free ?? [])] }
  const paces = { page: paceOf(3, []), entry: paceOf(30, []), decision: paceOf(0.5, []) }
  const { reading, ...plan } = makePlan({
    ...{ today: '2026-10-05', due, rhythm, works, paces, wanted: works.length, words: { from: 120, to: 180 } },
    ...{ pool: 3, unread: more.unread ?? 2 },
  })
  const told: PlanInFull = {
    ...{ today: '2026-10-05', due, rhythm, paces, plan, neededBy: due && '2026-10-24' },
    reading: reading.map(r => ({
      ...{ ...r, title: `Moths ${r.work}`, authors: 'Okafor', year: 2020 },
      ...{ copy: r.work === 1 ? 7 : null, isRead: works.some(w => w.id === r.work && w.isRead) },
    })),
  }
  return told
}
const show = () => open(Brief, 'brief?view=time')

test('what is borrowed stands first with the day on which it goes back, and whether that is too soon', async () => {
  const works = [
    texts[0]!,
    { ...texts[1]!, id: 3, hasCopy: true, until: '2026-10-06', pages: 60 },
    { ...texts[1]!, hasCopy: true, until: '2026-10-27' },
  ]
  answers['GET /inquiries/1/plan'] = planned({ works })
  show()
  const list = within(await screen.findByRole('region', { name: 'In this order' }))
  expect((await list.findAllByRole('listitem')).map(x => x.querySelector('b')!.textContent)).toEqual([
    'Moths 3',
    'Moths 2',
    'Moths 1',
  ])
  expect(list.getByText('Goes back on Tue 6 Oct, before you have read it: ask to keep it longer.')).toBeInTheDocument()
  expect(list.getByText('Borrowed: goes back on Tue 27 Oct.')).toBeInTheDocument()
  expect(list.getByRole('link', { name: 'See your loan of “Moths 3”' })).toHaveAttribute('href', '/asked')
})

describe('the time for an inquiry', () => {
  test('says what a day asks for, what is left of each step, and when it begins', async () => {
    answers['GET /inquiries/1/plan'] = planned()
    show()
    expect(await screen.findByRole('heading', { level: 1 })).toHaveTextContent('6 min a day will do')
    const steps = within(screen.getByRole('region', { name: /^The steps/ }))
    expect(steps.getAllByRole('listitem').map(li => li.textContent)).toEqual([
      expect.stringMatching(/^Search done so far: 3 works in the pool/),
      expect.stringMatching(/^Sift1 min 2 works to decide, 30 s each, guessed.*begin by 24 Oct/),
      expect.stringMatching(/^Texts 1 text is not in hand yet; the last is needed by Sat 24 Oct/),
      expect.stringMatching(/^Read1 h 2 texts; 20 pages, 3 min each, guessed/),
      expect.stringMatching(/^Write1 h 2 annotations, 30 min each, guessed.*begin by 26 Oct/),
      expect.stringMatching(/^Look over 2 spare days, and handing in on Thu 29 Oct.*due 29 Oct/),
    ])
    expect(screen.getByText(/^Begun after Sat 24 Oct, 1 h a day is not enough/)).toBeInTheDocument()
  })

  test('that is too short says what can be done in it', async () => {
    answers['GET /inquiries/1/plan'] = planned({ due: '2026-10-10', unread: 120, rhythm: { minutesADay: 30 } })
    show()
    expect(await screen.findByRole('heading', { level: 1 })).toHaveTextContent('It asks for 1 h a day from today')
    expect(screen.getByText(/At your 30 min a day 0 of 2 entries can be done until then/)).toBeInTheDocument()
  })

  test('is over where no day is left', async () => {
    answers['GET /inquiries/1/plan'] = planned({ due: '2026-10-06' })
    show()
    expect(await screen.findByRole('heading', { level: 1 })).toHaveTextContent('No day of work is left')
  })

  test('is open where nothing is due', async () => {
    answers['GET /inquiries/1/plan'] = planned({ due: null })
    show()
    expect(await screen.findByRole('heading', { level: 1 })).toHaveTextContent('2 h of work are left')
    expect(screen.getByRole('link', { name: 'Give it a due date' })).toHaveAttribute('href', '/inquiries/1/brief')
  })

  test('teaches where nothing is kept', async () => {
    answers['GET /inquiries/1/plan'] = planned({ works: [] })
    show()
    expect(await screen.findByText(/^Nothing is kept yet\. What you keep in Sift is put in order/)).toBeInTheDocument()
  })

  test('leads to what is next, and takes the word that something is read', async () => {
    answers['GET /inquiries/1/plan'] = planned()
    answers['PUT /inquiries/1/works/1/read'] = {}
    show()
    expect(await screen.findByRole('link', { name: 'Read “Moths 1”' })).toHaveAttribute('href', '/inquiries/1/read/7')
    expect(screen.getByRole('link', { name: 'Obtain “Moths 2”' })).toBeInTheDocument()
    answers['GET /inquiries/1/plan'] = planned({ works: texts.map(t => ({ ...t, isRead: t.id === 1 })) })
    await userEvent.click(screen.getByRole('button', { name: 'Mark “Moths 1” as read' }))
    expect(await screen.findByRole('link', { name: 'Write about “Moths 1”' })).toBeInTheDocument()
    expect(sent.find(s => s.path === '/inquiries/1/works/1/read')?.body).toEqual({ read: true })
    expect(screen.getByRole('button', { name: 'Mark “Moths 1” as read' })).toHaveAttribute('aria-pressed', 'true')
  })

  test('goes by how one works, which is checked before it is sent', async () => {
    answers['GET /inquiries/1/plan'] = planned()
    answers['PUT /inquiries/1/rhythm'] = {}
    show()
    const minutes = await screen.findByLabelText('Minutes a day for this')
    await userEvent.clear(minutes)
    await userEvent.type(minutes, '3')
    await userEvent.type(screen.getByLabelText('Minutes for a page'), 'ten')
    await userEvent.click(screen.getByRole('button', { name: 'Plan by this' }))
    expect(await screen.findByText('At least 5 minutes.')).toBeInTheDocument()
    expect(screen.getByText('This has to be a number.')).toBeInTheDocument()
    await userEvent.type(minutes, '0')
    await userEvent.clear(screen.getByLabelText('Minutes for a page'))
    await userEvent.click(screen.getByRole('button', { name: 'Sunday' }))
    await userEvent.click(screen.getByRole('button', { name: 'Saturday' }))
    await userEvent.selectOptions(screen.getByLabelText('A loan has to come in time'), '19 times of 20')
    await userEvent.click(screen.getByRole('checkbox', { name: /^Time my reading/ }))
    await userEvent.click(screen.getByRole('button', { name: 'Plan by this' }))
    await waitFor(() => expect(sent.some(s => s.method === 'PUT')).toBe(true))
    expect(sent.find(s => s.method === 'PUT')!.body).toEqual({
      ...{ minutesADay: 30, free: [6, 7], spare: 2, aPage: null, anEntry: null, timed: false, sure: 0.95 },
    })
  })

  test('is only looked at by a reader', async () => {
    answers['GET /inquiries/1'] = { ...inquiry, role: 'reader' }
    answers['GET /inquiries/1/plan'] = planned()
    show()
    expect(await screen.findByLabelText('Minutes a day for this')).toBeDisabled()
    expect(screen.queryByRole('button', { name: 'Plan by this' })).toBeNull()
    expect(screen.queryByRole('button', { name: /as read$/ })).toBeNull()
  })
})

test('the copies say what is read next', async () => {
  answers['GET /inquiries/1/plan'] = planned()
  answers['GET /inquiries/1/copies'] = []
  answers['GET /inquiries/1/routes'] = [
    {
      ...{ ...work(1, { state: 'kept' }), routes: [], closed: [], trouble: null },
      copies: [{ id: 7, outcome: 'proved', version: 'version of record', pages: 10, said: [], opening: MINE }],
    },
  ]
  open(Shelf, 'read')
  const next = await screen.findByRole('region', { name: 'Next to read' })
  expect(next).toHaveTextContent('Next: Moths 1, 10 pages, 30 min')
  expect(within(next).getByRole('link', { name: 'Read next: “Moths 1”' })).toHaveAttribute(
    'href',
    '/inquiries/1/read/7',
  )
  expect(within(next).getByRole('link', { name: '1 more, and the time' })).toBeInTheDocument()
})

test.each([
  [0, '0 min'],
  [0.4, 'under a minute'],
  [59.7, '1 h'],
  [62, '1 h'],
  [134, '2 h 15 min'],
  [1201, '20 h'],
  [90_000, '1,500 h'],
])('%d minutes are “%s”', (minutes, said) => expect(sayMinutes(minutes)).toBe(said))

describe('how long pages are before a reader', () => {
  test('counts whole seconds of each page, and tells each once', () => {
    const clock = new PageClock(0)
    clock.beat(1500, [1])
    clock.beat(3000, [1])
    clock.beat(4000, [2, 3])
    expect(clock.take()).toEqual([{ page: 1, seconds: 3 }])
    clock.beat(5000, [2, 3])
    expect(clock.take()).toEqual([
      { page: 2, seconds: 1 },
      { page: 3, seconds: 1 },
    ])
    expect(clock.take()).toEqual([])
  })

  test('does not count while the window is away, after a sleep, or when the reader has gone', () => {
    const clock = new PageClock(0)
    clock.beat(1000, [])
    clock.beat(60_000, [1])
    expect(clock.take()).toEqual([])
    for (let s = 61; s <= 400; s++) clock.beat(s * 1000, [1])
    // until four minutes after the last sign
    expect(clock.take()).toEqual([{ page: 1, seconds: 180 }])
    clock.signs(400_000)
    clock.beat(401_000, [1])
    expect(clock.take()).toEqual([{ page: 1, seconds: 1 }])
  })

  describe('is told', () => {
    beforeEach(() => void jest.useFakeTimers())
    afterEach(() => void jest.useRealTimers())
    const told = () => posted('/inquiries/1/copies/7/reading').map(s => s.body)
    const reader = (twoPages = false): Showing => ({ view: () => ({ page: 4, twoPages }), doc: { numPages: 4 } })
    function Clock({ of, isTimed = true }: { of: Showing; isTimed?: boolean }) {
      usePageClock({ inquiry: 1, copy: 7 }, of, isTimed)
      return null
    }
    const start = (of: Showing, isTimed?: boolean) =>
      render(
        <QueryClientProvider client={new QueryClient()}>
          <Clock of={of} {...(isTimed === undefined ? {} : { isTimed })} />
        </QueryClientProvider>,
      )

    test('now and then, and when the reader leaves', async () => {
      answers['POST /inquiries/1/copies/7/reading'] = {}
      const { unmount } = start(reader())
      await act(() => jest.advanceTimersByTimeAsync(30_000))
      expect(told()).toEqual([{ pages: [{ page: 4, seconds: 30 }] }])
      await act(() => jest.advanceTimersByTimeAsync(5000))
      unmount()
      expect(told()).toHaveLength(2)
    })

    test('of two pages side by side for both, and not at all where reading is not timed', async () => {
      answers['POST /inquiries/1/copies/7/reading'] = {}
      start(reader(true))
      await act(() => jest.advanceTimersByTimeAsync(30_000))
      expect(told()).toEqual([
        {
          pages: [
            { page: 3, seconds: 15 },
            { page: 4, seconds: 15 },
          ],
        },
      ])
      start(reader(), false).unmount()
      expect(told()).toHaveLength(1)
    })
  })
})
