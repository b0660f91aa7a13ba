import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { AsyncLocalStorage } from 'node:async_hooks'
import { randomUUID } from 'node:crypto'
import express from 'express'
import request, { type Agent } from 'supertest'
import { storeBlob } from '../db/blobs'
import { refreshHoldings } from '../library/holdings'
import { forgetLibraries, setLibraries } from '../library/libraries'
import { newInquiry, openDesk, PASSWORD, type Desk } from './desk'

let desk: Desk
let at: string
let works: number[]
/** Signed in; only what its requests make is heard, not what the worker or a timer asks meanwhile. */
let owner: Agent
const heard = new AsyncLocalStorage<string[]>()
let said: string[] = []
beforeAll(async () => {
  desk = await openDesk('statements', undefined, {}, sql => heard.getStore()?.push(sql))
  owner = request.agent(express().use((_req, _res, next) => heard.run(said, next), desk.app))
  await owner.post('/api/session').send({ email: 'owner@desk.example', password: PASSWORD }).expect(200)
  at = `/api/inquiries/${await newInquiry(desk)}`
  const lamps = Array.from(
    { length: 60 },
    (_, i) => `@book{k${i}, title={Lamps and owls of the ${i}th street}, year=${1950 + i}}`,
  )
  const { body } = await owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .send(Buffer.from(lamps.join('\n')))
  await desk.finish(Number(at.split('/').at(-1)), body.job)
  works = ((await owner.get(`${at}/works`)).body as { id: number }[]).map(w => w.id)
})
afterAll(() => desk.close())

/** What is remembered for a second, so that it depends on the clock whether a request asks for it. */
const REMEMBERED =
  /FROM `?(?:chosen_libraries|library_hours|holdings_files)\b|role = 'owner'|JSON_EXTRACT\(profile, '\$\.catalogues'\)/
/**
 * The statements that a request makes, or that are made here, but for where a transaction begins and ends and what is
 * remembered.
 */
async function statements(what: () => PromiseLike<unknown>): Promise<string[]> {
  const now: string[] = (said = [])
  await heard.run(now, async () => what())
  return now.filter(s => !/: (START TRANSACTION|COMMIT|BEGIN|SET |ROLLBACK)/.test(s) && !REMEMBERED.test(s))
}
const decide = (some: readonly number[]) =>
  owner
    .post(`${at}/decisions`)
    .set('Idempotency-Key', randomUUID())
    .send({
      group: randomUUID(),
      decisions: some.map(work => ({ id: randomUUID(), work, pass: 'title', choice: 'keep' })),
    })
    .expect(201)

test('a decision takes at most nine statements, on one work or on sixty', async () => {
  const one = await statements(() => decide(works.slice(0, 1)))
  expect(one.length).toBeGreaterThan(4)
  expect(one.length).toBeLessThanOrEqual(9)
  expect((await statements(() => decide(works))).length).toBeLessThanOrEqual(9)
})

test('a page of changes takes at most four, whatever changed', async () => {
  const first = await statements(() => owner.get(`${at}/works/changes`).expect(200))
  const { revision, day } = (await owner.get(`${at}/works/changes`)).body as { revision: number; day: string }
  const none = await statements(() => owner.get(`${at}/works/changes?since=${revision}&day=${day}`).expect(200))
  await decide(works.slice(0, 20))
  const some = await statements(() => owner.get(`${at}/works/changes?since=${revision}&day=${day}`).expect(200))
  for (const list of [first, none, some]) {
    expect(list.length).toBeGreaterThan(1)
    expect(list.length).toBeLessThanOrEqual(4)
  }
})

test.each([
  ['the numbers of the path bar', '', 5],
  ['a work', `/works/ID`, 22],
])('%s: not more statements than now', async (_, path, most) => {
  const list = await statements(() => owner.get(at + path.replace('ID', String(works[3]))).expect(200))
  expect(list.length).toBeGreaterThan(1)
  expect(list.length).toBeLessThanOrEqual(most)
})

test('the holdings of a library of sixty files are read by a job, and a list asks for its own lines alone', async () => {
  const { context } = desk
  const addresses = Array.from({ length: 60 }, (_, i) => `http://library.halverane.example/kbart/${i}.tsv`)
  const library = context.settings.outside.libraries[0]!
  const own = library.holdings
  library.holdings = addresses.map(address => ({ name: '', address }))
  forgetLibraries(context)
  await context.db.sequelize.transaction(async t => {
    for (const [i, address] of addresses.entries()) {
      const text = `publication_title\tprint_identifier\tonline_identifier\tdate_first_issue_online\ttitle_url\nPapers ${i}\t\t\t2001\t`
      const hash = await storeBlob(context.db, Buffer.from(text), 'text/tab-separated-values', t)
      await context.db.sequelize.query('INSERT INTO holdings_files (address, hash) VALUES (?, ?)', {
        replacements: [address, hash],
        transaction: t,
      })
    }
  })
  const list = () => owner.get(`${at}/works/changes`).expect(200)
  const said = async () => {
    const all = await statements(list)
    return {
      bytes: all.filter(s => /blob_chunks/.test(s)).length,
      lines: all.filter(s => /holding_lines/.test(s)).length,
    }
  }
  expect(await said()).toEqual({ bytes: 0, lines: 0 })
  expect(await refreshHoldings(context, setLibraries(context))).toBeUndefined()
  expect(await said()).toEqual({ bytes: 0, lines: 1 })
  // what is read is not read again
  const again = await statements(() => refreshHoldings(context, setLibraries(context)))
  expect(again.filter(s => /blob_chunks|INSERT/.test(s))).toEqual([])
  library.holdings = own
  forgetLibraries(context)
})

test('a session is asked for once a request and written to at most once a day', async () => {
  await owner.get(`${at}/brief`)
  const list = await statements(() => owner.get(`${at}/brief`).expect(200))
  expect(list.filter(s => /sessions/.test(s))).toHaveLength(1)
  expect(list.filter(s => /memberships/.test(s))).toHaveLength(1)
  expect(list.some(s => /UPDATE|INSERT/.test(s))).toBe(false)
})
