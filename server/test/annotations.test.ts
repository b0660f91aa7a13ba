import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { storeBlob } from '../db/blobs'
import type { Answer } from '../../core/schema/api'
import { bringItems, type Desk, newInquiry, openDesk, putCopy } from './desk'

let desk: Desk
const ITEMS = ['Lamps over a harbour', 'Owls by ear'].map((title, i) => ({
  ...{ id: `i${i}`, type: 'article-journal', title, DOI: `10.5555/an.${i}`, issued: { 'date-parts': [[2011 + i]] } },
  author: [{ family: ['Lune', 'Sand'][i], given: 'Mara' }],
}))
const TEXTS = [
  ['Lamps were counted in six towns.', 'Nobody had counted the moths of the harbour before us.'],
  ['Owls hunt by ear.', 'In the dark they hear what runs beneath the leaves of the wood.'],
]

beforeAll(async () => {
  desk = await openDesk('annotations')
})
afterAll(() => desk.close())

/** An inquiry with two copies whose words are known. */
async function inquiry() {
  const id = await newInquiry(desk)
  const at = `/api/inquiries/${id}`
  await bringItems(desk, id, ITEMS)
  const works = ((await desk.get(`${at}/works`)) as { id: number; title: string }[]).sort((a, b) =>
    a.title < b.title ? -1 : 1,
  )
  const { db } = desk.context
  const copies = await Promise.all(
    works.map(async ({ id: workId }, i) => {
      const hash = await db.sequelize.transaction(t => storeBlob(db, Buffer.from(randomUUID()), 'application/pdf', t))
      const made = await putCopy(db, {
        ...{ inquiryId: id, workId, hash, origin: 'a test', outcome: 'proved' as const, version: 'version of record' },
        ...{ proof: { outcome: 'proved' as const, evidence: [] }, pages: 2, labels: ['211', '212'] },
      })
      await db.copyPages.bulkCreate(TEXTS[i]!.map((content, k) => ({ copyId: made.id, page: k + 1, content })))
      return made.id
    }),
  )
  const bring = (file: string | object, status = 201) =>
    desk.owner
      .post(`${at}/passages/file`)
      .set('Content-Type', 'application/octet-stream')
      .set('X-File-Name', 'a.jsonld')
      .send(typeof file === 'string' ? Buffer.from(file) : Buffer.from(JSON.stringify(file)))
      .expect(status)
      .then(r => r.body as Answer<'bringAnnotations'> & { title: string })
  const passages = async () =>
    ((await desk.get(`${at}/passages`)) as Answer<'passages'>).passages.map(
      ({ copyId, page, label, kind, quote, note, strandId, tags }) => ({
        ...{ copy: copies.indexOf(copyId), page, label, kind, quote, note, strandId, tags },
      }),
    )
  return { id, at, copies, bring, passages }
}
const quote = (source: string, exact: string, more: object = {}) => ({
  ...{ type: 'Annotation', target: { source, selector: { type: 'TextQuoteSelector', exact } }, ...more },
})

test('passages that were taken out come back where they were, in this inquiry once and in another by their DOI', async () => {
  const one = await inquiry()
  const strand = ((await desk.post(`${one.at}/strands`, { name: 'Harbours' })) as { id: number }).id
  const note = (copy: number, body: object) => desk.post(`${one.at}/copies/${one.copies[copy]}/passages`, body)
  const boxes = [{ page: 2, x: 72, y: 100, width: 200, height: 12 }]
  await note(0, { page: 2, kind: 'quoted', quote: 'Nobody had counted the moths', strand, tags: ['first'], boxes })
  const over = [{ ...boxes[0]!, page: 1 }, ...boxes]
  await note(1, { page: 1, kind: 'quoted', quote: 'by ear. In the dark', boxes: over })
  await note(1, { page: 1, kind: 'in my words', quote: 'Owls hunt by ear.', note: 'Not by sight.' })
  await note(1, { page: 2, kind: 'figure', note: 'An owl', boxes })
  await note(1, { page: 2, kind: 'in my words', note: 'Read again.' })
  const before = await one.passages()
  expect(before.map(p => p.label)).toContain('211–212')
  const file = (await desk.owner.get(`${one.at}/passages/file?format=jsonld`).buffer(true).expect(200)).text
  expect(await one.bring(file)).toMatchObject({ noted: [], there: 5, elsewhere: [], unread: [], left: 0 })
  const { passages: told } = (await desk.get(`${one.at}/passages`)) as Answer<'passages'>
  await desk.owner
    .delete(`${one.at}/passages`)
    .send({ passages: told.map(p => p.id) })
    .expect(204)
  expect(await one.passages()).toEqual([])
  expect((await one.bring(file)).noted).toHaveLength(5)
  expect(await one.passages()).toEqual(before)
  // the same works in another inquiry, where there is no such strand
  const two = await inquiry()
  expect((await two.bring(file)).noted).toHaveLength(5)
  expect(await two.passages()).toEqual(
    before.map(p => ({ ...p, strandId: null, tags: p.strandId ? ['first', 'Harbours'] : p.tags })),
  )
  const again = await two.bring(file)
  expect([again.noted, again.there]).toEqual([[], 5])
})

test('annotations of others are placed by DOI or by words that stand in one work alone, as they stand there', async () => {
  const { bring, passages } = await inquiry()
  const got = await bring([
    quote('https://doi.example/10.5555/AN.1', 'owls HUNT by  ear'),
    quote('https://papers.example/x.pdf', 'hear what runs beneath the leaves of', {
      bodyValue: 'How?',
      motivation: 'commenting',
    }),
    // a letter of it was read wrongly elsewhere
    quote('urn:doi:10.5555/an.0', 'Nobody had counted the rnoths of the harbour', { id: 'urn:1' }),
    // words of a version that is not here, on a page beyond the last
    {
      ...{ type: 'Annotation', bodyValue: 'Lost?' },
      target: {
        source: 'https://doi.example/10.5555/an.0',
        selector: [
          { type: 'TextQuoteSelector', exact: 'Nothing of this stands there at all' },
          { type: 'FragmentSelector', value: 'page=9' },
        ],
      },
    },
    quote('https://papers.example/y.pdf', 'hear'),
    quote('https://papers.example/y.pdf', 'These words are of no copy that is here'),
    { type: 'Annotation' },
  ])
  expect(got).toMatchObject({
    elsewhere: [{ source: 'https://papers.example/y.pdf', annotations: 2 }],
    unread: [{ n: 7, why: 'it says nothing of what it is of' }],
  })
  expect(got.noted).toHaveLength(4)
  expect(await passages()).toMatchObject([
    { copy: 0, page: 2, kind: 'quoted', quote: 'Nobody had counted the rnoths of the harbour' },
    { copy: 0, page: 2, kind: 'quoted', note: 'Lost?' },
    { copy: 1, page: 1, kind: 'quoted', quote: 'owls HUNT by ear' },
    { copy: 1, page: 2, kind: 'in my words', note: 'How?' },
  ])
})

test('a file of another kind is refused with its reason; of a text that was changed since nothing is taken back', async () => {
  const { at, bring, passages } = await inquiry()
  expect((await bring('TY  - JOUR', 422)).title).toContain('no JSON')
  expect((await bring({ items: [] }, 422)).title).toContain('no annotations')
  const { noted } = await bring([
    quote('10.5555/an.0', 'Lamps were counted', { id: 'urn:1' }),
    quote('10.5555/an.1', 'Owls hunt', { id: 'urn:2' }),
  ])
  await desk.owner.patch(`${at}/passages/${noted[0]}`).set('If-Match', '"1"').send({ note: 'Mine.' }).expect(200)
  await desk.owner.delete(`${at}/passages`).send({ passages: noted }).expect(204)
  expect((await passages()).map(p => p.note)).toEqual(['Mine.'])
})
