import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals'
import express from 'express'
import type { Answer } from '../../core/schema/api'
import { newInquiry, openDesk, type Desk } from '../test/desk'
import { readConnector } from '../../core/connectors/description'
import type { AnswerPage } from '../../core/connectors/answer'
import { askConnector, keepKey } from './connectors'

/** Two servers in shapes of their own: a register that is asked by POST with a key, and a registration of DOIs. */
interface Asked {
  at: number
  key: string | undefined
  body: { q?: { words?: string }; after?: string }
}
const asked: Asked[] = []
/** Answers that come before the true one. */
let first: [number, Record<string, string>][] = []
let registration: unknown
const outside = express()
outside.use(express.json())
outside.post('/find', (req, res) => {
  asked.push({ at: Date.now(), key: req.get('authorization'), body: req.body as Asked['body'] })
  const [status, headers] = first.shift() ?? [200, {}]
  if (status !== 200) return void res.status(status).set(headers).json({})
  const from = Number((req.body as Asked['body']).after ?? 0)
  const all = Array.from({ length: 7 }, (_, i) => ({
    t: `Lamps of the quiet harbour ${i}`,
    by: ['Sand, Ivo'],
    y: 2000 + i,
  }))
  res.json({ n: all.length, list: all.slice(from, from + 3), ...(from + 3 < all.length ? { mark: from + 3 } : {}) })
})
outside.get('/*doi', (_req, res) => {
  if (registration === undefined) return void res.status(404).end()
  res.type('application/vnd.citationstyles.csl+json').send(JSON.stringify(registration))
})

let desk: Desk
const KEY = 'a key'
const register = (more: object = {}) =>
  readConnector({
    id: 'register',
    name: 'Odd Register',
    perSecond: 20,
    headers: [{ name: 'authorization', value: 'Bearer {key}' }],
    calls: {
      search: {
        method: 'POST',
        address: 'http://register.example/find',
        body: { q: { words: '{title}' }, after: '{cursor}' },
        paging: { by: 'cursor', size: 3, next: '$.mark' },
        records: '$.list[*]',
        total: '$.n',
        fields: { title: '$.t', authors: { each: '$.by[*]' }, date: '$.y' },
      },
    },
    ...more,
  })
beforeAll(async () => {
  desk = await openDesk('connectors', outside)
  await keepKey(desk.context, 'register', KEY)
})
afterAll(() => desk.close())
beforeEach(() => {
  asked.length = 0
  first = []
})

async function pages(connector = register()): Promise<AnswerPage[]> {
  const out: AnswerPage[] = []
  for await (const page of askConnector(
    desk.context,
    connector,
    'search',
    { title: 'lamps' },
    new AbortController().signal,
  ))
    out.push(page)
  return out
}

test('all pages come, with the key, and no faster than the server may be asked', async () => {
  const came = await pages(register({ perSecond: 2 }))
  expect(came.map(p => p.records.length)).toEqual([3, 3, 1])
  expect(came[0]!.total).toBe(7)
  expect(asked.map(a => a.body)).toEqual(
    [{ q: { words: 'lamps' } }, { q: { words: 'lamps' }, after: 3 }, { q: { words: 'lamps' }, after: 6 }].map(b =>
      b.after ? { ...b, after: String(b.after) } : b,
    ),
  )
  expect(new Set(asked.map(a => a.key))).toEqual(new Set(['Bearer a key']))
  // two turns of half a second, less what the first was on its way
  expect(asked[2]!.at - asked[0]!.at).toBeGreaterThanOrEqual(500)
})

test('who asks for fewer requests is asked again when it says so', async () => {
  first = [[429, { 'retry-after': '1' }]]
  expect((await pages()).flatMap(p => p.records)).toHaveLength(7)
  expect(asked).toHaveLength(4)
  expect(asked[1]!.at - asked[0]!.at).toBeGreaterThanOrEqual(990)
})

test.each([
  [302, { location: 'http://doi.example/find' }, /sends on to doi\.example, which is not followed with its key/],
  [401, {}, /does not let this Vine Path in \(401\)/],
  [500, {}, /answered with an error \(500\)/],
  [429, { 'retry-after': '3600' }, /fewer requests/],
])('an answer of %d is told in a sentence', async (status, headers, said) => {
  first = [[status, headers as Record<string, string>]]
  await expect(pages()).rejects.toThrow(said)
  expect(asked).toHaveLength(1)
})

test('a day’s budget is kept, and a key that is not there is named before anything is asked', async () => {
  await expect(pages(register({ id: 'spare', headers: [], perDay: 2 }))).rejects.toThrow(
    /2 times a day, and that is used up/,
  )
  expect(asked).toHaveLength(2)
  await expect(pages(register({ id: 'locked' }))).rejects.toThrow(/asks for a key, and the operator has set none/)
  expect(asked).toHaveLength(2)
})

test('a key is sealed where it lies', async () => {
  const [rows] = await desk.context.db.sequelize.query('SELECT sealed FROM connector_keys')
  expect((rows as { sealed: Buffer }[]).map(r => r.sealed.includes(KEY))).toEqual([false])
})

test('pasted lines are looked up where the settings say, whatever shape the answers have', async () => {
  desk.context.settings.outside.catalogues = []
  desk.context.settings.outside.connectors = [
    ...desk.context.settings.outside.connectors.filter(x => x.calls.work),
    register(),
  ]
  const id = await newInquiry(desk)
  const paste = async (text: string) => {
    const { body } = await desk.owner.post(`/api/inquiries/${id}/pasted`).send({ text }).expect(202)
    await desk.finish(id, (body as { job: number }).job)
    return (await desk.owner.get(`/api/inquiries/${id}/imports/${(body as { id: number }).id}`).expect(200))
      .body as Answer<'import'>
  }
  registration = {
    type: 'journal-article',
    title: ['Moths &amp; <i>Culex</i>'],
    author: [{ name: 'Lantern Group' }],
    issued: { 'date-parts': [[null]] },
    'published-online': { 'date-parts': [[2019, 4]] },
    DOI: '10.5555/NIGHT.1',
  }
  const found = await paste('10.5555/night.1\nSand, I. (2002). Lamps of the quiet harbour 2. Night Letters.')
  expect(found.report!.found?.map(f => [f.title, f.where])).toEqual([
    ['Moths & Culex', 'the DOI registration'],
    ['Lamps of the quiet harbour 2', 'Odd Register'],
  ])
  registration = undefined
  first = [[500, {}]]
  const none = await paste('10.5555/night.2\nSand, I. (2003). Lamps of the loud harbour. Night Letters.')
  expect(none.report!.refused.map(r => r.why)).toEqual([
    'The DOI 10.5555/night.2 is not registered.',
    expect.stringMatching(/Nobody could be asked for .* Odd Register could not be asked: paste this line again later/),
  ])
})
