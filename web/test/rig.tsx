import { afterEach, beforeEach } from '@jest/globals'
import { ChakraProvider } from '@chakra-ui/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { act, cleanup, render } from '@testing-library/react'
import type { ComponentType } from 'react'
import { IDBFactory } from 'fake-indexeddb'
import { MemoryRouter, Route, Routes } from 'react-router'
import userEvent from '@testing-library/user-event'
import type { Gate, InquiryInFull } from '../../core/schema/api'
import type { Opening } from '../../core/access/copy-rights'
import type { WorkLine } from '../../core/sift/line'
import { InquiryFrame } from '../frame/inquiry-frame'
import { Toaster, toaster } from '../frame/parts'
import { outboxOf } from '../outbox/outbox'
import { system } from '../theme'

type Answer = unknown | ((body: unknown) => { status?: number; body: unknown })
/** What the server would answer, by method and path; a test sets what it needs. */
export const answers: Record<string, Answer> = {}
/** Every request that was made. */
export const sent: { method: string; path: string; body: unknown; headers: Headers }[] = []
/** Tells the page of a job, as the server's events do. */
export let tellJob: (job: object) => void = () => undefined

export const inquiry: InquiryInFull = {
  id: 1,
  title: 'Lamps and moths',
  question: 'What do lamps do to moths?',
  due: '2026-10-29',
  zone: 'UTC',
  style: 'apa',
  rules: { entriesWanted: 10, wordsFrom: 5, wordsTo: 8 },
  query: 'moth* lamp*',
  revision: 4,
  version: 2,
  today: '2026-10-05',
  daysLeft: 24,
  role: 'owner',
  numbers: {
    rules: 2,
    found: [3, 5],
    unread: 2,
    kept: 1,
    pool: 3,
    trails: 0,
    inHand: 0,
    read: 0,
    annotated: 1,
    entries: 1,
  },
  language: null,
  timed: true,
  styleName: 'APA, 7th edition',
  others: 1,
  catalogues: [
    { id: 'broadleaf', name: 'Broadleaf Index' },
    { id: 'civic', name: 'Civic Paper File' },
  ],
  libraries: [
    {
      ...{ key: 'home', name: 'Halverane Library' },
      ...{ resolver: 'http://resolver.example/openurl', contact: 'help@halverane.example' },
    },
  ],
}
export const work = (id: number, more: Partial<WorkLine> = {}): WorkLine => ({
  id,
  title: `Moths at lamp ${id}`,
  authors: 'Okafor',
  container: 'Night Papers',
  year: 2000 + id,
  doi: `10.5555/np.${id}`,
  pages: '1-9',
  pageCount: 9,
  kind: 'research article',
  confidence: 0.9,
  perYear: null,
  citedBy: null,
  state: 'unread',
  pass: null,
  reason: null,
  decidedAt: null,
  reach: 'not asked',
  part: null,
  strands: [],
  tags: [],
  hasNote: false,
  ownKind: false,
  language: 'en',
  hasAbstract: true,
  references: null,
  sources: ['Broadleaf Index'],
  sweeps: [],
  arrivals: [],
  people: ['Okafor, A'],
  subjects: [],
  ...more,
})
/** What a student may do with a copy that they brought. */
export const MINE: Opening = {
  ...{ opens: true, shared: false, terms: null, mayPassOn: true, passedOn: false },
  said: 'Your own file, for you alone.',
}

export const sheet = (w: WorkLine) => ({
  ...w,
  item: { id: '', type: 'article-journal', title: w.title, abstract: `Abstract of ${w.id} about moths.` },
  facts: {},
  fieldFrom: {},
  evidence: ['9 pages.'],
  said: {},
  signs: {},
  judged: null,
  lead: null,
  linked: [],
  records: [
    {
      id: w.id,
      source: 'Broadleaf Index',
      item: {},
      facts: {},
      raw: '<r/>',
      format: 'mods',
      at: '2026-10-05T10:00:00Z',
    },
  ],
  asked: [],
  routes: null,
  copies: [],
  attempts: [],
  passages: [],
  entry: null,
  byTrail: false,
  history: [],
  reachSaid: 'Obtain has not looked for its ways yet.',
})

/** How one stands at the gate of a library. */
export const gate = (more: Partial<Gate> = {}): Gate => ({
  ...{ library: 'home', name: 'Halverane Library', manner: 'form', address: 'http://gate.halverane.example/' },
  ...{ terms: '', hint: null, until: null, today: 0, daily: null, onCampus: false },
  ...more,
})

export interface Reply {
  status?: number
  body: unknown
}

let clients: QueryClient[] = []

beforeEach(() => {
  sent.length = 0
  globalThis.indexedDB = new IDBFactory()
  for (const key of Object.keys(answers)) delete answers[key]
  const works = [work(1), work(2), work(3, { state: 'kept' })]
  Object.assign(answers, {
    'GET /inquiries/1': inquiry,
    'GET /inquiries/1/works': works,
    'GET /session': {
      user: { id: 1, name: 'Imre', email: 'i@x.example', role: 'student', mustChange: false },
      demo: true,
    },
    'GET /inquiries/1/strands': [],
    'GET /inquiries/1/views': [],
    'GET /inquiries/1/gates': [gate()],
    'GET /inquiries/1/cited-ages': { works: 0, ages: [] },
  })
  for (const w of works) answers[`GET /inquiries/1/works/${w.id}`] = sheet(w)
  globalThis.EventSource = class {
    addEventListener(name: string, take: (e: { data: string }) => void) {
      if (name === 'job') tellJob = job => take({ data: JSON.stringify(job) })
    }
    close() {}
  } as unknown as typeof EventSource
  globalThis.fetch = (async (url: string, init: RequestInit = {}) => {
    const path = url.replace('/api', '').replace(/\?.*/, '')
    const method = init.method ?? 'GET'
    const body: unknown = typeof init.body === 'string' ? JSON.parse(init.body) : init.body
    sent.push({ method, path, body, headers: new Headers(init.headers) })
    const works = answers[`${method} ${path.replace('/changes', '')}`]
    const found =
      answers[`${method} ${path}`] ??
      (path.endsWith('/works/changes') && works
        ? { revision: 1, day: '2026-10-05', whole: true, lines: works, gone: [], next: null }
        : undefined)
    const made =
      typeof found === 'function'
        ? await (found as (b: unknown, q: URLSearchParams) => Reply | Promise<Reply>)(
            body,
            new URLSearchParams(url.split('?')[1] ?? ''),
          )
        : { body: found }
    const status = found === undefined ? 404 : (made.status ?? 200)
    const text = JSON.stringify(
      found === undefined ? { code: 'not-found', title: 'There is nothing at this address.' } : made.body,
    )
    return {
      ok: status < 400,
      status,
      headers: new Headers({ 'content-type': 'application/json' }),
      text: async () => text,
      blob: async () => new Blob([text]),
    }
  }) as unknown as typeof fetch
})
afterEach(() => {
  cleanup()
  // what one test was told is not there in the next, on its way out
  toaster.remove()
  for (const c of clients) outboxOf(c).begin(undefined)
  clients = []
})

/** Opens a station of the inquiry by its name, or by its route a page beside the inquiries. */
export function open(Station: ComponentType, name: string): void {
  const isBeside = name.startsWith('/')
  const client = new QueryClient({ defaultOptions: { queries: { retry: false }, mutations: { retry: false } } })
  clients.push(client)
  outboxOf(client).begin(1)
  render(
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <MemoryRouter initialEntries={[isBeside ? name.replace(/\/:.*/, '') : `/inquiries/1/${name}`]}>
          <Routes>
            {isBeside ? (
              <Route path={name} element={<Station />} />
            ) : (
              <Route path="/inquiries/:inquiry" element={<InquiryFrame />}>
                <Route path={name.split('?')[0]!} element={<Station />} />
              </Route>
            )}
          </Routes>
        </MemoryRouter>
        <Toaster />
      </QueryClientProvider>
    </ChakraProvider>,
  )
}
export const posted = (path: string) => sent.filter(s => s.method === 'POST' && s.path === path)

/** Puts words at the end of a text, as a paste does. */
export async function writeIn(box: HTMLElement, words: string): Promise<void> {
  goToEnd(box)
  await userEvent.paste(words)
}
/** Goes to the end of what is written in a place. */
export function goToEnd(box: HTMLElement): void {
  act(() => {
    box.focus()
    document.getSelection()!.selectAllChildren(box)
    document.getSelection()!.collapseToEnd()
    document.dispatchEvent(new Event('selectionchange'))
  })
}
