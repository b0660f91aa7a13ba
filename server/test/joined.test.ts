import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { PDFDocument, StandardFonts } from 'pdf-lib'
import type { Answer } from '../../core/schema/api'
import type { CopyRow } from '../copies/copies-model'
import { storeBlob } from '../db/blobs'
import { standOn } from '../db/desk-day'
import { enqueue } from '../jobs/queue'
import { bringItems, newInquiry, openDesk, putCopy, type Desk } from './desk'

let desk: Desk
let id: number
let at: string
/** The works of two records of one article, the first one's first; and those records. */
let one: number
let two: number

beforeAll(async () => {
  desk = await openDesk('joined')
})
afterAll(() => desk.close())

beforeEach(async () => {
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  const item = { type: 'article-journal', title: 'Harbour lamps and the moths of a cold spring' }
  await bringItems(desk, id, [
    { ...item, id: 'a', issued: { 'date-parts': [[2020]] }, author: [{ family: 'Lune', given: 'Mara' }] },
    { ...item, id: 'b', issued: { 'date-parts': [[2022]] }, DOI: '10.5555/lamps.22' },
  ])
  const works = (await desk.get(`${at}/works`)) as { id: number }[]
  ;[one, two] = works.map(w => w.id).sort((a, b) => a - b) as [number, number]
  await desk.post(`${at}/decisions`, {
    group: randomUUID(),
    decisions: [one, two].map(work => ({ id: randomUUID(), work, pass: 'title', choice: 'keep' })),
  })
})

/** A work has the id of its first record. */
const link = (verdict: string) => desk.post(`${at}/links`, { a: one, b: two, verdict })
const workOf = async (work: number) => (await desk.get(`${at}/works/${work}`)) as Answer<'work'>
const ways = async (work: number) => ((await desk.get(`${at}/routes`)) as Answer<'ways'>).find(w => w.id === work)!

async function copyFor(workId: number, bytes: string): Promise<CopyRow> {
  const { db } = desk.context
  return db.sequelize.transaction(async t => {
    const hash = await storeBlob(db, Buffer.from(bytes), 'application/pdf', t)
    const row = { inquiryId: id, workId, hash, origin: 'elsewhere', outcome: 'proved' as const, pages: 2 }
    const proof = { outcome: 'proved' as const, evidence: [], score: 1 }
    return putCopy(db, { ...row, version: 'version of record', proof, labels: ['1', '2'] } as Partial<CopyRow>, t)
  })
}
const note = (copy: number, said: string) =>
  desk.post(`${at}/copies/${copy}/passages`, { id: randomUUID(), page: 1, kind: 'in my words', note: said })

test('what a work had stands with the one it is joined into, and goes back with it', async () => {
  const copy = await copyFor(two, 'a text')
  await note(copy.id, 'Fell by a third.')
  await desk.post(`${at}/entries`, { work: two })
  await desk.owner
    .put(`${at}/works/${two}/author`)
    .send({ wrote: ['2026-10-05'], declined: false })
    .expect(204)
  await desk.context.db.attempts.create({ workId: two, url: 'http://a.example/', outcome: 'refused', said: 'No.' })

  const has = async (work: number) => {
    const { copies, passages, entry, attempts } = await workOf(work)
    return {
      copies: copies.map(c => c.id),
      passages: passages.map(p => p.note),
      entry: entry?.workId ?? null,
      attempts: attempts.length,
      wrote: (await ways(work)).author?.wrote ?? [],
    }
  }
  const all = { copies: [copy.id], passages: ['Fell by a third.'], attempts: 1, wrote: ['2026-10-05'] }
  const none = { copies: [], passages: [], entry: null, attempts: 0, wrote: [] }
  expect(await has(one)).toEqual(none)
  await link('same')
  expect(await has(one)).toEqual({ ...all, entry: one })
  const { works } = (await desk.get(`${at}/table`)) as Answer<'readingTable'>
  expect(works.map(w => [w.id, w.copy?.id])).toEqual([[one, copy.id]])
  await link('never')
  expect(await has(one)).toEqual(none)
  expect(await has(two)).toEqual({ ...all, entry: two })
})

test('one file that both had is there once, with what was noted in either, and in each again when they part', async () => {
  const copies = [await copyFor(one, 'the same'), await copyFor(two, 'the same')]
  await note(copies[0]!.id, 'of the first')
  await note(copies[1]!.id, 'of the second')
  const has = async (work: number) => {
    const { copies: of, passages } = await workOf(work)
    return { copies: of.map(c => c.id), passages: passages.map(p => [p.copyId, p.note]) }
  }
  await link('same')
  expect(await has(one)).toEqual({
    copies: [copies[0]!.id],
    passages: [
      [copies[0]!.id, 'of the first'],
      [copies[0]!.id, 'of the second'],
    ],
  })
  await link('never')
  expect(await has(one)).toEqual({ copies: [copies[0]!.id], passages: [[copies[0]!.id, 'of the first']] })
  expect(await has(two)).toEqual({ copies: [copies[1]!.id], passages: [[copies[1]!.id, 'of the second']] })
})

test('a file that was on its way to a work that is joined meanwhile comes to the one it is now', async () => {
  const pdf = await PDFDocument.create()
  const page = pdf.addPage()
  const font = await pdf.embedFont(StandardFonts.Helvetica)
  const lines = [
    'Harbour lamps and the moths of a cold spring',
    'Mara Lune',
    '2020',
    'https://doi.org/10.5555/lamps.22',
  ]
  for (const [i, line] of lines.entries()) page.drawText(line, { x: 50, y: 750 - 30 * i, size: 14, font })
  const bytes = Buffer.from(await pdf.save())
  await link('same')
  const { db } = desk.context
  const owner = (await db.users.findOne({ where: { email: 'owner@desk.example' }, raw: true }))!
  const job = await db.sequelize.transaction(async t => {
    const hash = await storeBlob(db, bytes, 'application/pdf', t)
    const { id: upload } = await db.uploads.create(
      { inquiryId: id, workId: two, hash, name: 'mine.pdf' },
      { transaction: t },
    )
    return enqueue(desk.context, 'copy', id, owner.id, { upload }, t)
  })
  expect((await desk.finish(id, job)).result).toMatchObject({ outcome: 'proved' })
  expect((await workOf(one)).copies).toMatchObject([{ outcome: 'proved' }])
})

test('of two letters to the author of one work both are told, and what is noted then stands for both', async () => {
  const wrote = (work: number, days: string[]) =>
    desk.owner.put(`${at}/works/${work}/author`).send({ wrote: days, declined: false }).expect(204)
  await standOn(desk.context.db, '2026-10-09')
  await wrote(one, ['2026-10-07'])
  await wrote(two, ['2026-10-05'])
  await link('same')
  expect((await ways(one)).author).toEqual({ wrote: ['2026-10-05', '2026-10-07'], declined: false })
  await wrote(one, [])
  expect((await ways(one)).author).toBeNull()
})

test('what is written of both stands beneath each other, and no window writes over what it did not see', async () => {
  const entryOf = async (work: number, annotation: string) => {
    const { id: entry } = (await desk.post(`${at}/entries`, { work })) as { id: number }
    await write(entry, 1, annotation).expect(200)
    return entry
  }
  const write = (entry: number, version: number, annotation: string) =>
    desk.owner.patch(`${at}/entries/${entry}`).set('If-Match', `"${version}"`).send({ annotation, marks: [] })
  const list = async () =>
    ((await desk.get(`${at}/bibliography`)) as Answer<'bibliography'>).entries
      .map(e => [e.work, e.annotation] as const)
      .toSorted(([a], [b]) => a - b)
  const first = await entryOf(one, 'Fell by a third.')
  await entryOf(two, 'Forty lamps.')
  await link('same')
  expect(await list()).toEqual([[one, 'Fell by a third.\nForty lamps.']])
  expect(await desk.get(at)).toMatchObject({ numbers: { entries: 1, annotated: 1 } })
  // a window that was opened before
  const { body } = await write(first, 2, 'Fell by two thirds.').expect(412)
  expect(body.current).toMatchObject({ annotation: 'Fell by a third.\nForty lamps.' })
  await link('never')
  expect(await list()).toEqual([
    [one, 'Fell by a third.'],
    [two, 'Forty lamps.'],
  ])
  await link('same')
  await write(first, body.current.version, 'Fell by a third, at forty lamps.').expect(200)
  expect(await list()).toEqual([[one, 'Fell by a third, at forty lamps.']])
  await desk.owner.delete(`${at}/entries/${first}`).expect(204)
  expect(await list()).toEqual([])
})
