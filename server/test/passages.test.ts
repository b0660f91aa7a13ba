import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { storeBlob } from '../db/blobs'
import type { Answer, Passage } from '../../core/schema/api'
import { bringItems, type Desk, newInquiry, openDesk, putCopy } from './desk'

let desk: Desk
let id: number
let at: string
let copy: number
const ITEMS = ['Lamps over a harbour', 'Owls by ear'].map((title, i) => ({
  ...{ id: `i${i}`, type: 'article-journal', title, issued: { 'date-parts': [[2011 + i]] } },
  author: [{ family: ['Lune', 'Sand'][i], given: 'Mara' }],
}))
const PAGES = [
  'Lamps were counted in six towns.',
  'Nobody had counted the moths before us. In six towns they',
  'were few.',
]

beforeAll(async () => {
  desk = await openDesk('passages')
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await bringItems(desk, id, ITEMS)
  const [work] = (await desk.get(`${at}/works`)) as { id: number; title: string }[]
  copy = await copyOf(work!.id)
})
afterAll(() => desk.close())

/** A copy whose words are known, without a file behind them. */
async function copyOf(workId: number): Promise<number> {
  const { db } = desk.context
  const hash = await db.sequelize.transaction(t => storeBlob(db, Buffer.from(randomUUID()), 'application/pdf', t))
  const made = await putCopy(db, {
    ...{ inquiryId: id, workId, hash, origin: 'a test', outcome: 'proved' as const, version: 'version of record' },
    ...{ proof: { outcome: 'proved' as const, evidence: [] }, pages: 3, labels: ['211', '212', '213'] },
  })
  await db.copyPages.bulkCreate(PAGES.map((content, i) => ({ copyId: made.id, page: i + 1, content })))
  return made.id
}
const box = (page: number) => ({ page, x: 72, y: 100, width: 200, height: 12 })
const note = (body: object, status = 201) =>
  desk.owner
    .post(`${at}/copies/${copy}/passages`)
    .send({ page: 2, kind: 'in my words', note: 'Mine.', ...body })
    .expect(status)
    .then(r => r.body as Passage & { fields?: { field: string }[] })
const change = (p: Passage, body: object, status = 200, version = p.version) =>
  desk.owner
    .patch(`${at}/passages/${p.id}`)
    .set('If-Match', `"${version}"`)
    .send(body)
    .expect(status)
    .then(r => r.body as Passage & { current: unknown })
const strand = async (name: string) => ((await desk.post(`${at}/strands`, { name })) as { id: number }).id
const all = async (query = '') => (await desk.get(`${at}/passages${query}`)) as Answer<'passages'>

describe('a passage', () => {
  test('is on a strand, has tags, and is called by all the pages that its words stand on', async () => {
    const on = await strand('What lamps change')
    const p = await note({
      ...{ kind: 'quoted', quote: 'In six towns they were few.', strand: on, tags: ['towns', ' few '] },
      boxes: [box(2), box(3)],
    })
    expect(p).toMatchObject({ label: '212–213', strandId: on, tags: ['towns', 'few'], version: 1, kind: 'quoted' })
    expect(p.selectors!.map(s => s.type)).toEqual([
      ...['TextQuoteSelector', 'TextPositionSelector', 'FragmentSelector', 'FragmentSelector'],
    ])
  })
  test('in one’s own words keeps the words that it stands for', async () => {
    const p = await note({ quote: 'Nobody had counted the moths before us.', note: 'They were the first.' })
    expect(p).toMatchObject({ kind: 'in my words', note: 'They were the first.', label: '212' })
    expect(p.selectors![0]).toMatchObject({ exact: 'Nobody had counted the moths before us.' })
  })
  test('of a figure is a box, with or without a note', async () => {
    expect(await note({ kind: 'figure', note: '', boxes: [box(1)], page: 1 })).toMatchObject({
      kind: 'figure',
      label: '211',
    })
    expect((await note({ kind: 'figure', note: 'A map.' }, 422)).fields).toMatchObject([{ field: 'boxes' }])
  })
  test('is on a strand of its own inquiry alone', async () => {
    const other = await newInquiry(desk)
    const theirs = (await desk.post(`/api/inquiries/${other}/strands`, { name: 'Theirs' })) as { id: number }
    expect((await note({ strand: theirs.id }, 422)).fields).toMatchObject([{ field: 'strand' }])
    const p = await note({})
    await change(p, { strand: theirs.id }, 422)
    await desk.owner
      .patch(`/api/inquiries/${other}/passages/${p.id}`)
      .set('If-Match', '"1"')
      .send({ note: 'x' })
      .expect(404)
  })
})

describe('a passage that is changed', () => {
  test('changes what is named, raises its version, and keeps the rest', async () => {
    const on = await strand('Which lamps')
    const p = await note({ tags: ['a'] })
    const next = await change(p, { note: 'Better said.', strand: on })
    expect(next).toMatchObject({ note: 'Better said.', strandId: on, tags: ['a'], version: 2 })
    expect(await change(next, { strand: null, tags: [] })).toMatchObject({ strandId: null, tags: [], version: 3 })
    const listed = (await all()).passages.find(x => x.id === p.id)!
    expect(listed).toMatchObject({ note: 'Better said.', strandId: null, tags: [], version: 3 })
  })
  test('in two windows is not overwritten: the second is told what stands there', async () => {
    const p = await note({})
    await change(p, { note: 'The first window.' })
    const refused = await change(p, { note: 'The second window.' }, 412)
    expect(refused.current).toMatchObject({ version: 2, note: 'The first window.' })
    await desk.owner.patch(`${at}/passages/${p.id}`).send({ note: 'x' }).expect(428)
  })
  test('stays a passage: one’s own words are not emptied, nor a quotation', async () => {
    await change(await note({}), { note: ' ' }, 422)
    await change(await note({ kind: 'quoted', quote: 'Lamps were counted' }), { quote: '' }, 422)
  })
  test('loses its strand with it only where the strand is deleted; one that is taken away can come back', async () => {
    const on = await strand('Hours')
    const p = await note({ strand: on })
    await desk.context.db.strands.destroy({ where: { id: on } })
    expect((await all()).passages.find(x => x.id === p.id)!.strandId).toBeNull()
  })
})

describe('all passages', () => {
  test('come by work and page, each as the style cites it in a text', async () => {
    const { passages, style } = await all()
    expect(style).toBe('apa')
    expect(passages.map(p => p.page)).toEqual(passages.map(p => p.page).toSorted((a, b) => a - b))
    const two = passages.find(p => p.label === '212–213')!
    expect(two).toMatchObject({ title: expect.any(String), copyVersion: 'version of record' })
    expect(two.cited).toMatch(/^\((?:Lune|Sand), 201[12], pp\. 212–213\)$/)
    expect((await all('?style=ieee')).passages.find(p => p.id === two.id)!.cited).toBe('[1, pp. 212–213]')
  })
  test('are taken out as a text and as annotations', async () => {
    const file = (format: string) => desk.owner.get(`${at}/passages/file?format=${format}`)
    const text = await file('markdown').expect(200)
    expect(text.headers['content-disposition']).toContain('passages.md')
    expect(text.text).toContain('**pp. 212–213**, quoted; strand: What lamps change; tags: towns, few')
    const annotations = await file('jsonld')
      .buffer()
      .parse((res, done) => {
        let body = ''
        res.on('data', (d: Buffer) => (body += d.toString()))
        res.on('end', () => done(null, JSON.parse(body)))
      })
    expect(annotations.headers['content-type']).toContain('application/ld+json')
    const { items } = annotations.body as { items: { target: { source: string } }[] }
    expect(items).toHaveLength((await all()).passages.length)
    expect(items[0]!.target.source).toContain(`/inquiries/${id}/read/${copy}`)
    await file('docx').expect(422)
  })
  test('of none is an empty list', async () => {
    const other = await newInquiry(desk)
    expect((await desk.get(`/api/inquiries/${other}/passages`)) as Answer<'passages'>).toMatchObject({ passages: [] })
  })
})
