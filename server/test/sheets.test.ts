import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { storeBlob } from '../db/blobs'
import type { Answer } from '../../core/schema/api'
import { bringItems, type Desk, newInquiry, openDesk, putCopy } from './desk'

let desk: Desk
let id: number
let at: string
let ids: number[]
const TITLES = ['Lamps over a harbour', 'Owls by ear', 'Newts in ponds']

beforeAll(async () => {
  desk = await openDesk('sheets')
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  const list = TITLES.map((title, i) => ({
    ...{ id: `i${i}`, type: 'article-journal', title, issued: { 'date-parts': [[2011 + i]] } },
    author: [{ family: ['Lune', 'Sand', 'Dorn'][i], given: 'Mara' }],
  }))
  await bringItems(desk, id, list)
  const works = (await desk.get(`${at}/works`)) as { id: number; title: string }[]
  ids = TITLES.map(t => works.find(w => w.title === t)!.id)
  await keep(ids.slice(0, 2))
})
afterAll(() => desk.close())

const keep = (works: number[]) =>
  desk.post(`${at}/decisions`, {
    group: randomUUID(),
    decisions: works.map(work => ({ id: randomUUID(), work, pass: 'abstract', choice: 'keep' })),
  })
const write = (work: number, head: string, content: string, version = 0, status = 200) =>
  desk.owner
    .put(`${at}/works/${work}/notes/${head}`)
    .set('If-Match', `"${version}"`)
    .send({ content })
    .expect(status)
    .then(r => r.body as { version: number; current?: unknown })
const table = async () => (await desk.get(`${at}/table`)) as Answer<'readingTable'>
const notesOf = async (work: number) =>
  Object.fromEntries((await table()).works.find(w => w.id === work)!.notes.map(n => [n.head, [n.content, n.version]]))

describe('the table of works', () => {
  test('has the kept works alone, with their copy, under the heads of every sheet', async () => {
    const { db } = desk.context
    const hash = await db.sequelize.transaction(t => storeBlob(db, Buffer.from('x'), 'application/pdf', t))
    const copy = { inquiryId: id, workId: ids[0]!, hash, origin: 'a test', version: 'version of record', pages: 2 }
    const proof = { outcome: 'proved' as const, evidence: [] }
    const made = await putCopy(db, { ...copy, outcome: 'proved', proof, labels: ['211', '212'] })
    const t = await table()
    expect(t.heads.map(h => h.name)).toEqual(['Question', 'Method', 'Place and number', 'Found', 'Limits', 'My view'])
    expect(t.works.map(w => [w.title, w.authors, w.year, w.copy?.id ?? null])).toEqual([
      [TITLES[0], 'Lune', 2011, made.id],
      [TITLES[1], 'Sand', 2012, null],
    ])
    expect(t.works[0]!.copy!.labels).toEqual(['211', '212'])
  })
  test('keeps what is written under a head, each by its own version', async () => {
    expect(await write(ids[0]!, 'found', 'Fell by a third, p. 212.')).toEqual({ version: 1 })
    expect(await write(ids[0]!, 'found', 'Fell by two thirds, p. 212.', 1)).toEqual({ version: 2 })
    await write(ids[0]!, 'limits', 'One town.')
    expect(await notesOf(ids[0]!)).toEqual({ found: ['Fell by two thirds, p. 212.', 2], limits: ['One town.', 1] })
    expect(await notesOf(ids[1]!)).toEqual({})
  })
  test('is not written over by a second window, be it the first that writes', async () => {
    await write(ids[1]!, 'method', 'By ear.')
    const refused = await write(ids[1]!, 'method', 'By eye.', 0, 412)
    expect(refused.current).toEqual({ content: 'By ear.', version: 1 })
    const both = await Promise.allSettled([write(ids[1]!, 'view', 'Good.'), write(ids[1]!, 'view', 'Bad.')])
    expect(both.map(b => b.status).sort()).toEqual(['fulfilled', 'rejected'])
  })
  test('has no other heads, and none of another inquiry', async () => {
    await write(ids[0]!, 'owls', 'x', 0, 404)
    const other = await newInquiry(desk)
    const theirs = (await desk.post(`/api/inquiries/${other}/heads`, { name: 'Theirs' })) as { key: string }
    await write(ids[0]!, theirs.key, 'x', 0, 404)
    await desk.owner
      .put(`/api/inquiries/${other}/works/${ids[0]}/notes/found`)
      .set('If-Match', '"0"')
      .send({ content: 'x' })
      .expect(422)
  })
})

describe('a head of one’s own', () => {
  test('is added, named anew, taken away and brought back with what was written under it', async () => {
    const made = (await desk.post(`${at}/heads`, { name: 'Hours lit' })) as { id: number; key: string }
    await desk.owner.post(`${at}/heads`).send({ name: 'hours LIT' }).expect(409)
    await desk.owner.post(`${at}/heads`).send({ name: 'Question' }).expect(409)
    await write(ids[0]!, made.key, 'Till one.')
    const change = (body: object) => desk.owner.patch(`${at}/heads/${made.id}`).send(body).expect(204)
    await change({ name: 'Hours of light' })
    expect((await table()).heads.at(-1)).toEqual({ key: made.key, name: 'Hours of light', asks: '', own: made.id })
    await change({ gone: true })
    expect((await table()).heads).toHaveLength(6)
    await change({ gone: false })
    expect((await notesOf(ids[0]!))[made.key]).toEqual(['Till one.', 1])
    await desk.owner.patch(`${at}/heads/99999`).send({ gone: true }).expect(404)
  })
})

describe('works that are joined', () => {
  test('have what was written of both, once, and what is written then is all of it', async () => {
    await keep([ids[2]!])
    await write(ids[2]!, 'method', 'By net.')
    await write(ids[2]!, 'place', 'Ponds.')
    await desk.context.db.works.update({ successorId: ids[1]! }, { where: { id: ids[2]! } })
    expect(await notesOf(ids[1]!)).toMatchObject({ method: ['By ear.\nBy net.', 1], place: ['Ponds.', 0] })
    await write(ids[1]!, 'method', 'By ear and net.', 1)
    expect((await notesOf(ids[1]!)).method).toEqual(['By ear and net.', 2])
  })
})

describe('the table as a file', () => {
  const file = (format: string) =>
    desk.owner
      .get(`${at}/table/file?format=${format}`)
      .buffer()
      .parse((res, done) => {
        const parts: Buffer[] = []
        res.on('data', (d: Buffer) => parts.push(d))
        res.on('end', () => done(null, Buffer.concat(parts)))
      })
  test('is rows with their heads, in which nothing is a formula', async () => {
    await write(ids[0]!, 'question', '=1+1')
    const csv = (await file('csv').expect(200)).body.toString() as string
    const [head, first] = csv.replace('\uFEFF', '').split('\r\n')
    expect(head).toBe('Work,Authors,Year,Question,Method,Place and number,Found,Limits,My view,Hours of light')
    expect(first).toContain("'=1+1")
    expect(first).toContain('"Fell by two thirds, p. 212."')
  })
  test('or a document of a word processor', async () => {
    const docx = await file('docx').expect(200)
    expect(docx.headers['content-type']).toContain('wordprocessingml')
    expect((docx.body as Buffer).subarray(0, 2).toString()).toBe('PK')
    await file('pdf').expect(422)
  })
})
