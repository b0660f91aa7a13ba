import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Response } from 'supertest'
import type { Answer, Passage } from '../../core/schema/api'
import { boxesOf } from '../../core/pdftext/anchor'
import { tasks } from '../child/tasks'
import { storeBlob } from '../db/blobs'
import { bringItems, type Desk, newInquiry, openDesk, putCopy } from './desk'

let desk: Desk
let id: number
let at: string
let work: number

beforeAll(async () => {
  desk = await openDesk('file_marks')
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await bringItems(desk, id, [
    {
      ...{ id: 'a', type: 'article-journal', title: 'Governing night: in novels', issued: { 'date-parts': [[2011]] } },
      author: [{ family: 'Sayegelin', given: 'Jo' }],
    },
  ])
  work = ((await desk.get(`${at}/works`)) as { id: number }[])[0]!.id
})
afterAll(() => desk.close())

const file = (name: string) => readFileSync(join(process.cwd(), `server/child/foreign/${name}.pdf`))
let copies = 0
/** A copy whose file was marked elsewhere, from before marks were read. */
async function copyOf(name: string, password?: string): Promise<number> {
  const { db } = desk.context
  // the same file once more is another
  const bytes = Buffer.concat([file(name), Buffer.from('\n%'.repeat(copies++))])
  const { pages, labels } = await tasks.pdf(bytes, password ? { password } : {})
  const hash = await db.sequelize.transaction(t => storeBlob(db, bytes, 'application/pdf', t))
  const made = await putCopy(db, {
    ...{
      inquiryId: id,
      workId: work,
      hash,
      origin: 'a test',
      outcome: 'proved' as const,
      version: 'version of record',
    },
    ...{ proof: { outcome: 'proved' as const, evidence: [] }, pages: pages.length, labels },
  })
  await db.copyPages.bulkCreate(pages.map(p => ({ copyId: made.id, page: p.page, content: p.text })))
  return made.id
}
const marksOf = async (copy: number) => (await desk.get(`${at}/copies/${copy}/marks`)) as Answer<'marksOfFile'>
const passagesOf = async (copy: number) =>
  ((await desk.get(`${at}/copies/${copy}`)) as { passages: Passage[] }).passages
const take = (copy: number, marks: object[], status = 201) =>
  desk.owner.post(`${at}/copies/${copy}/marks`).send({ marks }).expect(status)
const drop = (passages: number[]) => desk.owner.delete(`${at}/passages`).send({ passages }).expect(204)
const marked = (copy: number, body: object = {}, status = 200) =>
  desk.owner.post(`${at}/copies/${copy}/marked`).send(body).buffer(true).parse(asBytes).expect(status)
const asBytes = (res: Response, done: (e: Error | null, body: Buffer) => void) => {
  const parts: Buffer[] = []
  res.on('data', (p: Buffer) => parts.push(p))
  res.on('end', () => done(null, Buffer.concat(parts)))
}

describe('marks that others made in a file', () => {
  test('are told, noted as passages once, on a strand, and taken out again unless they were changed', async () => {
    const copy = await copyOf('marked-reader')
    const { marks } = await marksOf(copy)
    expect(marks).toHaveLength(7)
    expect(marks.every(m => !m.isNoted && m.label === '147')).toBe(true)
    const strand = ((await desk.post(`${at}/strands`, { name: 'Coal' })) as { id: number }).id
    const keys = marks.map(m => m.key)
    const wanted = keys.map((key, i) => ({ key, strand: i ? null : strand }))
    const { noted } = (await take(copy, wanted)).body as { noted: number[] }
    expect(noted).toHaveLength(7)
    expect((await marksOf(copy)).marks.every(m => m.isNoted)).toBe(true)
    expect((await take(copy, wanted)).body).toEqual({ noted: [] })
    const passages = await passagesOf(copy)
    expect(passages).toHaveLength(7)
    expect(passages.filter(p => p.strandId === strand)).toHaveLength(1)
    const chance = passages.find(p => p.note.startsWith('Is chance'))!
    expect(chance).toMatchObject({
      ...{ kind: 'quoted', label: '147', quote: 'Competing explanations invoke air raids or plain chance. We' },
      selectors: [{ exact: chance.quote }, { type: 'TextPositionSelector' }, {}, {}],
    })
    expect(boxesOf(chance.selectors)).toHaveLength(2)
    await desk.owner.patch(`${at}/passages/${chance.id}`).set('If-Match', '"1"').send({ note: 'Mine now.' }).expect(200)
    // in the file they are already: what was written to one since is put behind it
    const written = (await tasks.marks((await marked(copy)).body as Buffer)).marks
    expect(written.filter(m => !keys.includes(m.key)).map(m => m.note)).toEqual(['Mine now.'])
    await drop(noted)
    expect((await passagesOf(copy)).map(p => p.note)).toEqual(['Mine now.'])
    // the same marks in another copy of the work are offered but for what stands already
    await take(copy, [{ key: keys[0] }])
    const again = await copyOf('marked-reader')
    expect((await marksOf(again)).marks.filter(m => m.isNoted)).toHaveLength(1)
  })

  test('that are unknown are left, a strand that is another’s is refused', async () => {
    const copy = await copyOf('marked-desktop')
    const [mark] = (await marksOf(copy)).marks
    expect((await take(copy, [{ key: 'nothing' }])).body).toEqual({ noted: [] })
    await take(copy, [{ key: mark!.key, strand: 99_999 }], 422)
    expect(await passagesOf(copy)).toEqual([])
    await desk.owner.post(`${at}/copies/99999/marks`).send({ marks: [] }).expect(404)
  })

  test('in a file that cannot be opened any more are none, and stand in no way', async () => {
    const copy = await copyOf('locked', 'Zwielicht-7')
    expect(await marksOf(copy)).toEqual({ marks: [], drawings: 0, left: 0, unread: 0 })
  })
})

describe('the file with the passages in it', () => {
  test('has them as annotations behind all that was in it, under the name of its work', async () => {
    const copy = await copyOf('TeX')
    const strand = ((await desk.post(`${at}/strands`, { name: 'Night' })) as { id: number }).id
    const note = (body: object) =>
      desk.owner
        .post(`${at}/copies/${copy}/passages`)
        .send({ page: 1, ...body })
        .expect(201)
    const boxes = [{ page: 1, x: 72, y: 645, width: 220, height: 11 }]
    await note({ kind: 'quoted', quote: 'Competing explanations invoke', boxes, strand, tags: ['chance'] })
    await note({ kind: 'in my words', note: 'They do not say why.' })
    await note({ kind: 'figure', boxes: [{ page: 2, x: 100, y: 100, width: 200, height: 90 }], page: 2 })
    const answer = await marked(copy)
    expect(answer.headers['content-disposition']).toContain(
      "filename*=UTF-8''Sayegelin%202011%20Governing%20night%20in%20novels%20marked.pdf",
    )
    const body = answer.body as Buffer
    const before = file('TeX')
    expect(body.subarray(0, before.length).equals(before)).toBe(true)
    const { marks } = await tasks.marks(body)
    expect(marks.map(m => [m.page, m.how, m.note])).toEqual([
      [1, 'highlighted', 'They do not say why.'],
      [1, 'highlighted', 'Strand: Night\nTags: chance'],
    ])
    // a frame without a word is no passage for others, and is there
    expect((await tasks.marks(body)).drawings).toBe(1)
  })

  test('is not made where its makers allow none, or its password is not known: that is said, with what is kept', async () => {
    const copy = await copyOf('restricted')
    const said = async (copy: number, body = {}) =>
      JSON.parse(((await marked(copy, body, 422)).body as Buffer).toString()) as { code: string; title: string }
    await desk.owner.post(`${at}/copies/${copy}/passages`).send({ page: 1, kind: 'in my words', note: 'x' }).expect(201)
    expect(await said(copy)).toMatchObject({ code: 'not-written', title: expect.stringContaining('stay here') })
    const locked = await copyOf('locked', 'Zwielicht-7')
    await desk.owner
      .post(`${at}/copies/${locked}/passages`)
      .send({ page: 1, kind: 'in my words', note: 'x' })
      .expect(201)
    expect((await said(locked)).code).toBe('locked')
    expect((await said(locked, { password: 'moth' })).title).toContain('not the password')
    const opened = await marked(locked, { password: 'Zwielicht-7' })
    expect((await tasks.marks(opened.body as Buffer, { password: 'Zwielicht-7' })).marks).toHaveLength(1)
  })
})
