/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals'
import { emptySheet, type Sheet } from '../../core/query/sheet'
import { parseCql } from '../../core/query/parse-cql'
import { sayDays } from '../frame/due'
import { plainCql, sheetSaver, type SavedSheet } from '../stations/gather/use-sheet'
import { range, short } from '../stations/gather/use-counts'
import { passes } from '../stations/gather/records'
import type { FoundRecord } from '../api/types'

type Answer = { status: number; body: unknown } | 'away'
let answers: Answer[]
let sent: { match: string | null; sheet: Sheet }[]
const heard: string[] = []
let overtaken: SavedSheet | undefined

beforeEach(() => {
  jest.useFakeTimers()
  answers = []
  sent = []
  heard.length = 0
  overtaken = undefined
  globalThis.fetch = (async (_: string, init: RequestInit) => {
    sent.push({ match: new Headers(init.headers).get('If-Match'), sheet: JSON.parse(String(init.body)) as Sheet })
    const a = answers.shift() ?? { status: 200, body: { sheet: {}, version: sent.length + 1, offered: [] } }
    if (a === 'away') throw new TypeError('no network')
    return {
      ok: a.status < 400,
      status: a.status,
      headers: new Headers({ 'content-type': 'application/json' }),
      text: async () => JSON.stringify(a.body),
    }
  }) as unknown as typeof fetch
})
afterEach(() => {
  jest.useRealTimers()
})

const sheet = (n: number): Sheet => ({ ...emptySheet(), zone: [n, 100] })
const saver = () => {
  const s = sheetSaver('/inquiries/1/sheet', {
    state: x => heard.push(x),
    saved: () => undefined,
    overtaken: x => (overtaken = x),
    refused: e => heard.push((e as Error).message),
  })
  s.stands(1)
  return s
}
const pass = (ms: number) => jest.advanceTimersByTimeAsync(ms)

test('changes in quick succession are one request, each against the version before it', async () => {
  const s = saver()
  for (const n of [1, 2, 3]) s.save(sheet(n))
  await pass(600)
  s.save(sheet(4))
  await pass(600)
  expect(sent.map(x => [x.match, x.sheet.zone[0]])).toEqual([['"1"', 3], ['"2"', 4]]) // prettier-ignore
  expect(heard.at(-1)).toBe('saved')
})

test('while the server is away the newest sheet is kept, and sent once it answers', async () => {
  answers = ['away', { status: 503, body: { code: 'database-away', title: 'away' } }]
  const s = saver()
  s.save(sheet(1))
  await pass(600)
  expect(heard.at(-1)).toBe('kept here')
  s.save(sheet(2))
  await pass(8000)
  expect(sent.at(-1)!.sheet.zone[0]).toBe(2)
  expect(heard.at(-1)).toBe('saved')
})

test('where another window was faster, its sheet is taken and the next change stands on it', async () => {
  answers = [
    {
      status: 412,
      body: { code: 'changed-elsewhere', title: 'x', current: { sheet: sheet(9), version: 7, offered: [] } },
    },
  ]
  const s = saver()
  s.save(sheet(1))
  await pass(600)
  expect(overtaken!.sheet.zone[0]).toBe(9)
  s.save(sheet(2))
  await pass(600)
  expect(sent.at(-1)!.match).toBe('"7"')
})

test('a sheet that is refused is said, and kept here', async () => {
  answers = [{ status: 422, body: { code: 'invalid', title: 'A question sheet holds twelve concepts at most.' } }]
  const s = saver()
  s.save(sheet(1))
  s.flush()
  await pass(10)
  expect(heard).toContain('A question sheet holds twelve concepts at most.')
  expect(heard).toContain('kept here')
})

test('a query is shown as people write it, and reads back the same', () => {
  const p = parseCql('"street light*" and (moth* or "night flight") and title adj "a b"')
  if (!p.ok) throw new Error('unreachable')
  expect(plainCql(p.query)).toBe('"street light*" and (moth* or "night flight") and title adj "a b"')
  expect(parseCql(plainCql(p.query))).toMatchObject({ ok: true, query: p.query })
})

test('numbers and days in words', () => {
  expect(range({ least: 1200, most: 1200 })).toBe('1,200')
  expect(range({ least: 30, most: 50 })).toBe('30–50')
  expect([short(9999), short(61_234)]).toEqual(['9,999', '61k'])
  expect([24, 1, 0, -1, -6].map(sayDays)).toEqual(['24 days', '1 day', 'due today', '1 day late', '6 days late'])
})

test('limits that are judged on records', () => {
  const r = { kind: 'magazine', refereed: true, item: { abstract: 'x' } } as FoundRecord
  expect(passes(r, {})).toBe(true)
  expect(passes(r, { refereed: true, withAbstract: true, kinds: ['magazine'] })).toBe(true)
  expect(passes(r, { kinds: ['book'] })).toBe(false)
  expect(passes({ ...r, refereed: null }, { refereed: true })).toBe(false)
  expect(passes({ ...r, item: { id: '', type: 'x' } }, { withAbstract: true })).toBe(false)
})
