/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { afterEach, beforeEach, expect, test } from '@jest/globals'
import { act, cleanup, waitFor } from '@testing-library/react'
import type { QueryClient } from '@tanstack/react-query'
import { request, ApiError } from '../api/client'
import type { WorkLine } from '../../core/sift/line'
import { IDBFactory } from 'fake-indexeddb'
import { useDecide } from '../frame/decide'
import { outboxOf } from '../outbox/outbox'
import { openStore } from '../outbox/store'
import { draw } from './render'

interface Sent {
  path: string
  body: { group: string; decisions?: { id: string; work: number; choice: string }[] }
  key: string | null
}
let sent: Sent[]
let answer: (s: Sent) => { status: number; body: unknown } | Error
const key = ['inquiry', 1, '/works']

beforeEach(() => {
  globalThis.indexedDB = new IDBFactory()
  sent = []
  answer = () => ({ status: 201, body: { works: [] } })
  globalThis.fetch = (async (url: string, init: RequestInit) => {
    const s: Sent = {
      path: url,
      body: JSON.parse(String(init.body)) as Sent['body'],
      key: new Headers(init.headers).get('Idempotency-Key'),
    }
    sent.push(s)
    const a = answer(s)
    if (a instanceof Error) throw a
    const text = JSON.stringify(a.body)
    return {
      ok: a.status < 400,
      status: a.status,
      headers: new Headers({ 'content-type': 'application/json' }),
      text: async () => text,
    }
  }) as unknown as typeof fetch
})
const clients: QueryClient[] = []
const close = () => {
  cleanup()
  for (const c of clients.splice(0)) outboxOf(c).begin(undefined)
}
afterEach(close)
const stored = async () => (await openStore().all(1)).length

let hook: ReturnType<typeof useDecide>
function Holder() {
  hook = useDecide(1)
  return null
}
const work = (id: number): WorkLine => ({ id, title: `W${id}`, state: 'unread', pass: null, reason: null }) as WorkLine
function open(): QueryClient {
  const { client } = draw(<Holder />)
  client.setQueryData(key, [work(1), work(2)])
  clients.push(client)
  outboxOf(client).begin(1)
  return client
}
const state = (client: QueryClient, id: number) => client.getQueryData<WorkLine[]>(key)!.find(w => w.id === id)!.state

test('a decision shows at once and is sent with ids of its own', async () => {
  const client = open()
  act(() => void hook.decide([1], 'keep'))
  expect(state(client, 1)).toBe('kept')
  await waitFor(() => expect(sent).toHaveLength(1))
  expect(sent[0]!.path).toBe('/api/inquiries/1/decisions')
  expect(sent[0]!.body.decisions).toMatchObject([{ work: 1, choice: 'keep' }])
  expect(sent[0]!.body.group).toBeTruthy()
})

test('what the server refuses is put back, and stays to be tried again', async () => {
  const client = open()
  answer = () => ({ status: 403, body: { code: 'reader-only', title: 'You may look but not change.' } })
  act(() => void hook.decide([1, 2], 'set aside', 'abstract', 'Too old'))
  expect(state(client, 2)).toBe('set aside')
  await waitFor(() => expect(state(client, 2)).toBe('unread'))
  expect(state(client, 1)).toBe('unread')
  const [letter] = outboxOf(client).letters()
  expect(letter!.refused).toMatchObject({ code: 'reader-only', said: 'You may look but not change.' })
  answer = () => ({ status: 201, body: { works: [] } })
  const key = sent.at(-1)!.key
  act(() => outboxOf(client).again(letter!.id))
  await waitFor(() => expect(outboxOf(client).letters()).toHaveLength(0))
  expect(sent.at(-1)!.body).toEqual(sent[0]!.body)
  expect(sent.at(-1)!.key).not.toBe(key)
  expect(state(client, 2)).toBe('set aside')
})

test('an undo waits for its decision, and takes back the last one first', async () => {
  const client = open()
  answer = s => ({ status: 201, body: { works: s.path.endsWith('/undo') ? [work(2)] : [] } })
  act(() => {
    hook.decide([1], 'keep')
    hook.decide([2], 'later')
    hook.undo()
  })
  await waitFor(() => expect(sent).toHaveLength(3))
  expect(sent.map(s => s.path.split('/').at(-1))).toEqual(['decisions', 'decisions', 'undo'])
  expect(sent[2]!.body.group).toBe(sent[1]!.body.group)
  await waitFor(() => expect(state(client, 2)).toBe('unread'))
  expect(state(client, 1)).toBe('kept')
})

test('while the server is away a decision is sent again under the same key', async () => {
  const client = open()
  answer = () => (sent.length < 2 ? new TypeError('network') : { status: 201, body: { works: [] } })
  act(() => void hook.decide([1], 'keep'))
  await waitFor(() => expect(sent).toHaveLength(2))
  expect(sent[1]!.key).toBe(sent[0]!.key)
  expect(sent[1]!.body).toEqual(sent[0]!.body)
  expect(state(client, 1)).toBe('kept')
})

test('what was not taken before the page was closed is kept, shown and sent when it is opened again', async () => {
  const client = open()
  answer = () => new TypeError('network')
  act(() => {
    hook.decide([1], 'keep')
    hook.decide([2], 'set aside', 'abstract', 'Too old')
  })
  await waitFor(() => expect(sent.length).toBeGreaterThan(0))
  await waitFor(async () => expect(await stored()).toBe(2))
  close()
  client.clear()
  const before = sent[0]!
  sent = []
  answer = () => ({ status: 201, body: { works: [] } })
  const next = open()
  act(() => void next.setQueryData(key, [work(1), work(2)]))
  await waitFor(() => expect(sent.filter(s => s.path.endsWith('/decisions')).length).toBeGreaterThanOrEqual(2))
  expect(sent[0]).toEqual(before)
  await waitFor(async () => expect(await stored()).toBe(0))
})

test('an answer of the server that is older than a decision does not turn it back', async () => {
  const client = open()
  let release = () => {}
  const held = new Promise<void>(done => (release = done))
  const plain = globalThis.fetch
  globalThis.fetch = (async (url: string, init: RequestInit) => {
    if (init.method === 'POST') await held
    return plain(url, init)
  }) as unknown as typeof fetch
  let group: string | undefined
  act(() => void (group = hook.decide([1], 'keep')))
  const mine = () => sent.filter(s => s.body.group === group)
  // the pool is read again while the decision is still on its way
  await act(() => client.fetchQuery({ queryKey: key, queryFn: () => [work(1), work(2)] }))
  expect(state(client, 1)).toBe('kept')
  release()
  await waitFor(() => expect(mine()).toHaveLength(1))
  // and again once it is taken
  await waitFor(async () => expect(await stored()).toBe(0))
  await act(() =>
    client.fetchQuery({ queryKey: key, queryFn: () => [{ ...work(1), state: 'kept' as const }, work(2)] }),
  )
  expect(state(client, 1)).toBe('kept')
})

test('an error carries the server’s words, its code and its fields', async () => {
  answer = () => ({
    status: 422,
    body: { code: 'invalid', title: 'Some of it cannot be used.', fields: [{ field: 'due', said: 'Give a date.' }] },
  })
  const e = await request('POST', '/x', { body: {} }).catch((x: unknown) => x as ApiError)
  expect(e).toBeInstanceOf(ApiError)
  expect(e).toMatchObject({
    status: 422,
    code: 'invalid',
    message: 'Some of it cannot be used.',
    fields: [{ field: 'due' }],
  })
  answer = () => new TypeError('network')
  await expect(request('GET', '/x', { body: {} })).rejects.toMatchObject({ status: 0, code: 'away' })
})
