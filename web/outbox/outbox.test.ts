/** @jest-environment jsdom */
import { afterEach, beforeEach, expect, test } from '@jest/globals'
import { QueryClient } from '@tanstack/react-query'
import { waitFor } from '@testing-library/react'
import { IDBFactory } from 'fake-indexeddb'
import type { Letter } from './letter'
import { Outbox, type NewLetter } from './outbox'
import { openStore, type LetterStore } from './store'

type Said = { status: number; body: unknown } | 'away' | 'silent'
interface Sent {
  path: string
  body: Record<string, unknown>
  key: string
  match: string | null
  user: string | null
}
let sent: Sent[]
let says: (s: Sent) => Said | Promise<Said>
let open: Outbox[]

beforeEach(() => {
  globalThis.indexedDB = new IDBFactory()
  sent = []
  open = []
  says = () => ({ status: 201, body: {} })
  globalThis.fetch = (async (url: string, init: RequestInit) => {
    const h = new Headers(init.headers)
    const s: Sent = {
      path: url.replace('/api/inquiries/1', ''),
      body: JSON.parse(String(init.body)) as Sent['body'],
      key: h.get('Idempotency-Key')!,
      match: h.get('If-Match'),
      user: h.get('Vine-User'),
    }
    sent.push(s)
    const said = await says(s)
    if (said === 'away') throw new TypeError('no network')
    if (said === 'silent')
      return new Promise((_, fail) => init.signal!.addEventListener('abort', () => fail(init.signal!.reason as Error)))
    return {
      ok: said.status < 400,
      status: said.status,
      headers: new Headers({ 'content-type': 'application/json' }),
      text: async () => JSON.stringify(said.body),
    }
  }) as unknown as typeof fetch
})
afterEach(() => {
  for (const o of open) o.begin(undefined)
})

/** A window of the browser: the store is the same for all of them. */
function windowOf(user: number | undefined = 1, store?: LetterStore, name?: string): Outbox {
  const o = new Outbox(new QueryClient(), store, 30, name)
  open.push(o)
  o.begin(user)
  return o
}
let made = 0
const deed = (more: Partial<NewLetter> = {}): NewLetter => ({
  id: crypto.randomUUID(),
  inquiry: 1,
  method: 'POST',
  path: '/decisions',
  said: 'Kept',
  body: { n: ++made },
  ...more,
})
const text = (value: string, version = 1): NewLetter & { slot: string } => ({
  ...deed({ method: 'PATCH', path: '/entries/7', body: { annotation: value }, version }),
  slot: 'entry 7',
  after: 0,
})
const gone = (o: Outbox) => waitFor(() => expect(o.letters()).toHaveLength(0))
const refused = (o: Outbox) => waitFor(() => expect(o.letters()[0]?.refused).toBeTruthy())

test.each([
  ['the server died in the middle', { status: 503, body: { code: 'database-away' } }],
  ['the proxy found nobody', { status: 502, body: '' }],
  ['the disk is full', { status: 507, body: { code: 'disk-full' } }],
  ['the same is still under way', { status: 409, body: { code: 'in-progress' } }],
  ['too many at once', { status: 429, body: {} }],
  ['the sign-in ended', { status: 401, body: { code: 'signed-out' } }],
  ['one unforeseen error', { status: 500, body: { code: 'unforeseen' } }],
  ['no network', 'away'],
] as [string, Said][])('%s: it is kept, and sent again under the same key', async (_, said) => {
  says = () => (sent.length === 1 ? said : { status: 201, body: {} })
  const o = windowOf()
  o.add(deed())
  await waitFor(() => expect(sent.length).toBe(2), { timeout: 10_000 })
  await gone(o)
  expect(sent[1]).toEqual(sent[0])
  expect(await openStore().all(1)).toEqual([])
})

test.each([400, 403, 404, 409, 412, 413, 422])(
  '%i is an answer: it stays with its reason, and the next goes on',
  async status => {
    says = s => (s.body.n === 1 ? { status, body: { code: 'no', title: 'Not so.' } } : { status: 201, body: {} })
    const o = windowOf()
    o.add(deed({ body: { n: 1 } }))
    o.add(deed({ body: { n: 2 } }))
    await waitFor(() => expect(sent.map(s => s.body.n)).toEqual([1, 2]))
    await waitFor(() => expect(o.letters().map(l => l.refused?.said)).toEqual(['Not so.']))
    // over a closed page, too
    o.begin(undefined)
    const next = windowOf()
    await refused(next)
    expect(sent).toHaveLength(2)
    next.takeBack(next.letters()[0]!.id)
    await gone(next)
    await waitFor(async () => expect(await openStore().all(1)).toEqual([]))
  },
)

test('an error that stays unforeseen is in the end asked about, and holds nothing up for ever', async () => {
  says = s =>
    s.body.n === 1
      ? { status: 500, body: { code: 'unforeseen', title: 'Something went wrong.' } }
      : { status: 201, body: {} }
  const o = windowOf()
  o.add(deed({ body: { n: 1 } }))
  o.add(deed({ body: { n: 2 } }))
  await waitFor(() => expect(sent.at(-1)!.body.n).toBe(2), { timeout: 30_000 })
  expect(sent.filter(s => s.body.n === 1)).toHaveLength(6)
  await waitFor(() => expect(o.letters().map(l => l.refused?.code)).toEqual(['unforeseen']))
})

test('what waits goes out in the order in which it was done', async () => {
  let free = () => {}
  const held = new Promise<void>(go => (free = go))
  says = async () => (await held, { status: 201, body: {} })
  const o = windowOf()
  for (let n = 1; n <= 5; n++) o.add(deed({ body: { n } }))
  await waitFor(() => expect(sent).toHaveLength(1))
  free()
  await gone(o)
  expect(sent.map(s => s.body.n)).toEqual([1, 2, 3, 4, 5])
})

test('a text written on while it is sent goes out again on the version that came back', async () => {
  let free = () => {}
  const held = new Promise<void>(go => (free = go))
  says = async s => {
    if (sent.length === 1) await held
    return { status: 200, body: { version: Number(s.match!.slice(1, -1)) + 1 } }
  }
  const o = windowOf()
  for (const t of ['a', 'ab', 'abc']) o.write({ ...text(t), after: Date.now() + 100 })
  await waitFor(() => expect(sent).toHaveLength(1))
  for (const t of ['abcd', 'abcde']) o.write(text(t))
  free()
  await gone(o)
  expect(sent.map(s => [s.match, s.body.annotation])).toEqual([
    ['"1"', 'abc'],
    ['"2"', 'abcde'],
  ])
  expect(o.taken(1, 'entry 7')).toMatchObject({ version: 3, body: { annotation: 'abcde' } })
})

test('a step taken back after it was saved stands on what was saved, though who takes it back remembers the version of before', async () => {
  const o = windowOf()
  says = s => ({ status: 200, body: { version: Number(/\d+/.exec(s.match!)![0]) + 1 } })
  o.write(text('dragged', 2))
  await gone(o)
  o.write(text('as it was', 2))
  await gone(o)
  expect(sent.map(s => [s.body.annotation, s.match])).toEqual([
    ['dragged', '"2"'],
    ['as it was', '"3"'],
  ])
  // what another window wrote after that is newer than anything this one was given
  o.write(text('later', 9))
  await gone(o)
  expect(sent.at(-1)!.match).toBe('"9"')
})

test('a text that may have arrived is not written over under its key: the server died before it answered', async () => {
  let die = () => {}
  const dying = new Promise<void>(go => (die = go))
  says = async s => {
    if (sent.length > 1) return { status: 200, body: { version: Number(s.match!.slice(1, -1)) + 1 } }
    await dying
    return 'away'
  }
  const o = windowOf()
  o.write(text('first'))
  await waitFor(() => expect(sent).toHaveLength(1))
  o.write(text('second'))
  die()
  await gone(o)
  expect(sent.map(s => s.body.annotation)).toEqual(['first', 'first', 'second'])
  expect(sent[1]!.key).toBe(sent[0]!.key)
  expect(sent[2]!.match).toBe('"2"')
})

test('where another window was faster both texts stay, and what is written on is not sent before a choice', async () => {
  const theirs = { annotation: 'theirs', version: 5 }
  says = s =>
    s.match === '"5"'
      ? { status: 200, body: { version: 6 } }
      : { status: 412, body: { code: 'changed-elsewhere', title: 'x', current: theirs } }
  const o = windowOf()
  o.write(text('mine'))
  await refused(o)
  o.write(text('mine, longer'))
  expect(o.letters().map(l => [l.body, l.refused?.body.current])).toEqual([[{ annotation: 'mine, longer' }, theirs]])
  expect(sent).toHaveLength(1)
  o.again(o.letters()[0]!.id, 5)
  await gone(o)
  expect(sent.at(-1)).toMatchObject({ match: '"5"', body: { annotation: 'mine, longer' } })
})

test('a text refused for what it says is sent again once it says something else', async () => {
  says = s =>
    String(s.body.annotation).length > 5
      ? { status: 422, body: { code: 'invalid', title: 'Too long.' } }
      : { status: 200, body: { version: 2 } }
  const o = windowOf()
  o.write(text('too long'))
  await refused(o)
  o.write(text('short'))
  await gone(o)
  expect(sent.at(-1)!.body.annotation).toBe('short')
})

test('whoever still listens is told of a refusal, and then it is not kept', async () => {
  says = () => ({ status: 409, body: { code: 'changed-since', title: 'Changed.' } })
  const o = windowOf()
  let told: Error | undefined
  o.add(deed(), e => (told = e as Error))
  await waitFor(() => expect(told?.message).toBe('Changed.'))
  expect(o.letters()).toEqual([])
})

test('one window sends for all, and the next takes over when it is closed', async () => {
  const rooms = withWindows()
  try {
    says = () => (sent.length === 1 ? 'silent' : { status: 201, body: {} })
    const [a, b] = [windowOf(), windowOf()]
    a.add(deed({ body: { n: 1 } }))
    await waitFor(() => expect(sent).toHaveLength(1))
    b.add(deed({ body: { n: 2 } }))
    await waitFor(() => expect(a.letters()).toHaveLength(2))
    a.begin(undefined) // closed in the middle of sending
    await gone(b)
    expect(sent.map(s => s.body.n)).toEqual([1, 1, 2])
    expect(sent[1]!.key).toBe(sent[0]!.key)
  } finally {
    rooms.close()
  }
})

test('what another window is refused shows in the window that did it', async () => {
  const rooms = withWindows()
  try {
    says = () => ({ status: 403, body: { code: 'reader-only', title: 'You may look.' } })
    const a = windowOf()
    await waitFor(() => expect(rooms.held()).toBe(true))
    const b = windowOf()
    let told = ''
    b.add(deed(), e => (told = (e as Error).message))
    await waitFor(() => expect(told).toBe('You may look.'))
    b.add(deed())
    await refused(b)
    expect(a.letters().map(l => l.refused?.code)).toEqual(['reader-only'])
  } finally {
    rooms.close()
  }
})

test('what is written in one window while another sends it is not lost', async () => {
  const rooms = withWindows()
  try {
    let free = () => {}
    const held = new Promise<void>(go => (free = go))
    says = async s => {
      if (sent.length === 1) await held
      return { status: 200, body: { version: Number(s.match!.slice(1, -1)) + 1 } }
    }
    const a = windowOf()
    await waitFor(() => expect(rooms.held()).toBe(true))
    const b = windowOf()
    b.write(text('first'))
    await waitFor(() => expect(sent).toHaveLength(1))
    // known to be under way: a letter of its own
    await waitFor(() => expect(b.letters()[0]?.sent).toBe(true))
    b.write(text('second'))
    free()
    await gone(a)
    await gone(b)
    expect(sent.map(s => [s.match, s.body.annotation])).toEqual([
      ['"1"', 'first'],
      ['"2"', 'second'],
    ])
  } finally {
    rooms.close()
  }
})

test('two windows that write the same text are two writers: neither writes over the other', async () => {
  const rooms = withWindows()
  try {
    let stands = 1
    says = s =>
      s.match === `"${stands}"`
        ? { status: 200, body: { version: ++stands } }
        : { status: 412, body: { code: 'changed-elsewhere', title: 'x', current: { version: stands } } }
    const a = windowOf(1, undefined, 'a')
    const b = windowOf(1, undefined, 'b')
    a.write({ ...text('of a'), after: Date.now() + 50 })
    b.write({ ...text('of b'), after: Date.now() + 50 })
    await waitFor(() => expect(b.letters().map(l => [l.window, l.refused?.code])).toEqual([['b', 'changed-elsewhere']]))
    expect(sent.map(s => s.body.annotation)).toEqual(['of a', 'of b'])
    b.again(b.letters()[0]!.id, 2)
    await gone(b)
    expect(sent.at(-1)!.body.annotation).toBe('of b')
  } finally {
    rooms.close()
  }
})

test('words that another window sent under a key already used go out under one of their own', async () => {
  const used = new Map<string, string>()
  says = s => {
    const words = JSON.stringify(s.body)
    if (used.has(s.key) && used.get(s.key) !== words) return { status: 422, body: { code: 'key-reused', title: 'x' } }
    used.set(s.key, words)
    return { status: 200, body: { version: Number(s.match!.slice(1, -1)) + 1 } }
  }
  const o = windowOf()
  const letter = text('first')
  used.set(letter.id, JSON.stringify({ annotation: 'other words' }))
  o.write(letter)
  await gone(o)
  expect(sent.map(s => s.body.annotation)).toEqual(['first', 'first'])
  expect(sent[1]!.key).not.toBe(sent[0]!.key)
})

test('nobody sends what another user did', async () => {
  says = () => 'away'
  const o = windowOf(1)
  o.add(deed())
  await waitFor(async () => expect(await openStore().all(1)).toHaveLength(1))
  o.begin(undefined)
  sent.length = 0
  says = () => ({ status: 201, body: {} })
  const other = windowOf(2)
  other.add(deed({ body: { n: 'of the other' } }))
  await gone(other)
  expect(sent.map(s => [s.user, s.body.n])).toEqual([['2', 'of the other']])
  other.begin(1)
  await waitFor(() => expect(sent).toHaveLength(2))
  expect(sent[1]!.user).toBe('1')
})

test('where the browser has no room it is said, and what was done is still sent', async () => {
  const full: LetterStore = { all: async () => [], put: async () => false, drop: async () => undefined }
  let free = () => {}
  const held = new Promise<void>(go => (free = go))
  says = async () => (await held, { status: 201, body: {} })
  const o = windowOf(1, full)
  o.add(deed())
  await waitFor(() => expect(o.homeless).toBe(true))
  free()
  await gone(o)
  expect(sent).toHaveLength(1)
})

test('taking back what was refused takes its undoing with it', async () => {
  says = s => ({ status: s.path === '/undo' ? 404 : 422, body: { code: 'no', title: 'No.' } })
  const o = windowOf()
  o.add(deed({ group: 'g' }))
  o.add(deed({ path: '/undo', group: 'g' }))
  await waitFor(() => expect(o.letters().filter(l => l.refused)).toHaveLength(2))
  o.takeBack(o.letters()[0]!.id)
  expect(o.letters()).toEqual([])
})

test('a browser that does not answer about what it keeps holds nothing up; what it gives late goes out too', async () => {
  let give = (_: Letter[]) => {}
  const late = new Promise<Letter[]>(done => (give = done))
  const silent: LetterStore = { all: () => late, put: () => new Promise(() => {}), drop: () => new Promise(() => {}) }
  const o = new Outbox(new QueryClient(), silent, 30, 'a', 20)
  open.push(o)
  o.begin(1)
  o.add(deed({ body: { n: 1 } }))
  o.write(text('written'))
  await gone(o)
  expect(sent.map(s => s.path)).toEqual(['/decisions', '/entries/7'])
  give([{ ...deed({ body: { n: 'of yesterday' } }), n: 1, user: 1 }])
  await waitFor(() => expect(sent.map(s => s.body.n)).toContain('of yesterday'))
  await gone(o)
})

test('the store gives back what it was given, in order, for its user alone', async () => {
  const store = openStore('a store of its own')
  const letter = (id: string, n: number, user: number) => ({ ...deed(), id, n, user }) as Letter
  const [a, b, c] = [letter('a', 3, 1), letter('b', 2, 1), letter('c', 1, 2)]
  for (const l of [a, b, c]) expect(await store.put(l)).toBe(true)
  expect(await store.all(1)).toEqual([b, a])
  await store.drop('b')
  expect(await openStore('a store of its own').all(1)).toEqual([a])
})

/** What windows of one browser share and jsdom lacks: a lock that one holds at a time, and a channel to the others. */
function withWindows() {
  let queue = Promise.resolve()
  let held = false
  const rooms = new Set<Room>()
  class Room {
    onmessage: ((e: { data: unknown }) => void) | null = null
    constructor(readonly name: string) {
      rooms.add(this)
    }
    postMessage(data: unknown) {
      for (const r of rooms)
        if (r !== this && r.name === this.name) queueMicrotask(() => r.onmessage?.({ data: structuredClone(data) }))
    }
    close() {
      rooms.delete(this)
    }
  }
  const g = globalThis as { BroadcastChannel?: unknown }
  const before = g.BroadcastChannel
  g.BroadcastChannel = Room
  Object.defineProperty(navigator, 'locks', {
    configurable: true,
    value: {
      request: (_: string, o: { signal: AbortSignal }, act: () => Promise<void>) => {
        const mine = queue.then(async () => {
          if (o.signal.aborted) throw o.signal.reason as Error
          held = true
          await act()
          held = false
        })
        queue = mine.catch(() => undefined)
        return mine
      },
    },
  })
  return {
    held: () => held,
    close: () => {
      for (const o of open) o.begin(undefined)
      g.BroadcastChannel = before
      Object.defineProperty(navigator, 'locks', { configurable: true, value: undefined })
    },
  }
}
