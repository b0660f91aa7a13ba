import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Answer } from '../../core/schema/api'
import { storeBlob } from '../db/blobs'
import { type Desk, newInquiry, openDesk, putCopy } from './desk'

let desk: Desk
let id: number
let at: string
let copy: number
const file = (name: string) => readFileSync(join(process.cwd(), 'server/child/foreign', name))
const get = (path: string) => desk.get(at + path)
const text = async () => ((await get(`/copies/${copy}/text`)) as Answer<'copyText'>).pages
const send = (path: string, bytes: Buffer) =>
  desk.owner
    .post(at + path)
    .set('Content-Type', 'application/octet-stream')
    .send(bytes)

beforeAll(async () => {
  desk = await openDesk('scans')
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  const item = {
    ...{ id: 'a', type: 'article-journal', title: 'Shutters and swifts over the old harbour', page: '61-64' },
    author: [{ family: 'Lune', given: 'Mara' }],
  }
  await desk.finish(id, (await send('/imports', Buffer.from(JSON.stringify([item])))).body.job)
})
afterAll(() => desk.close())

test('a scan is proved by the pages that are read by machine, and says so', async () => {
  const [work] = (await get('/works')) as { id: number }[]
  const sent = await send(`/works/${work!.id}/copies`, file('scan.pdf'))
  const got = (await desk.finish(id, sent.body.job)).result as Answer<'openCopy'>
  expect(got.outcome).toBe('proved')
  expect(got.proof!.evidence[0]!.said).toContain('pictures of a text')
  copy = got.copyId!
  expect(((await get(`/copies/${copy}`)) as Answer<'copy'>).scanned).toBe(3)
  expect((await text())[2]).toBe('')
})

test('its other pages are read when somebody asks; what was read stays where it is cut off', async () => {
  const { db } = desk.context
  const begin = async () => ((await desk.post(`${at}/copies/${copy}/scan`, {}, 202)) as { job: number }).job
  // what was read for the proof is not read again
  const drawn = { width: 595, height: 842, runs: [{ text: 'Read before.', x: 72, y: 390, width: 80, size: 12 }] }
  await db.copyScans.update({ drawn }, { where: { copyId: copy, page: 1 } })
  expect(await db.copyScans.count({ where: { copyId: copy } })).toBe(3)
  const job = await desk.finish(id, await begin())
  expect(job.progress).toEqual({ read: 4, of: 4 })
  const pages = await text()
  expect(pages[0]).toBe('Read before.')
  expect(pages[2]).toContain('Forty swifts came on a mean day')
  const parts: Answer<'copyParts'> = await get(`/copies/${copy}/parts`)
  expect(parts.scan).toEqual({ why: 'pictures', read: [1, 2, 3, 4] })
  expect(parts.references.map(r => r.item.title)).toEqual(['Roofs of the north', 'Harbour winds'])
  // nothing is left to be read: it ends at once, with the same text
  await desk.finish(id, await begin())
  expect(await text()).toEqual(pages)
})

test('a scan that is locked says why its other pages are not read, and keeps those that were', async () => {
  const { db } = desk.context
  // how much of it was read follows from its parts
  const { id: _, scanned: __, ...own } = (await db.copies.findByPk(copy, { raw: true }))!
  const bytes = file('locked.pdf')
  const hash = await db.sequelize.transaction(t => storeBlob(db, bytes, 'application/pdf', t))
  const locked = await putCopy(db, { ...own, hash })
  const { job } = (await desk.post(`${at}/copies/${locked.id}/scan`, {}, 202)) as { job: number }
  expect(await desk.finish(id, job)).toMatchObject({
    state: 'failed',
    error: expect.stringContaining('The PDF is locked'),
  })
  expect(((await get(`/copies/${locked.id}`)) as Answer<'copy'>).scanned).toBe(4)
})

test('a copy with a text of its own, or none, is no scan', async () => {
  await desk.context.db.copies.update({ parts: null }, { where: { id: copy } })
  await desk.post(`${at}/copies/${copy}/scan`, {}, 422)
  await desk.post(`${at}/copies/4000000/scan`, {}, 404)
})
