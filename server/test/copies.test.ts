import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Known } from '../../bench/pages/known'
import type { Answer, Recognised } from '../../core/schema/api'
import { storeBlob } from '../db/blobs'
import { bringItems, type Desk, newInquiry, openDesk, putCopy } from './desk'

let desk: Desk
let id: number
let at: string
const folder = join(process.cwd(), 'server/child/foreign')
const file = (name: string) => readFileSync(join(folder, name))
const known = JSON.parse(file('browser.json').toString()) as Known
const harbour = 'Lamps over a harbour'
const ITEMS = [
  {
    ...{ id: 'a', type: 'article-journal', title: known.title, page: `${known.first}-${known.first + 3}` },
    author: known.authors
      .split(', ')
      .map(n => ({ given: n.split(' ').slice(0, -1).join(' '), family: n.split(' ').at(-1)! })),
    issued: { 'date-parts': [[2011]] },
  },
  {
    id: 'b',
    type: 'article-journal',
    title: harbour,
    author: [
      { family: 'Lune', given: 'Mara' },
      { family: 'Sand', given: 'Ida' },
    ],
  },
  { id: 'c', type: 'document', title: `${harbour} ` },
]

beforeAll(async () => {
  desk = await openDesk('copies')
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await bringItems(desk, id, ITEMS)
})
afterAll(() => desk.close())

const get = (path: string) => desk.get(at + path)
const workOf = async (title: string): Promise<number> =>
  ((await get('/works')) as { id: number; title: string }[]).find(w => w.title === title)!.id
const bring = async (work: number, name: string) => {
  const sent = await desk.owner
    .post(`${at}/works/${work}/copies`)
    .set('Content-Type', 'application/octet-stream')
    .send(file(name))
  return (await desk.finish(id, sent.body.job)).result as Answer<'openCopy'>
}
const say = (work: number, about: string, value: unknown, status = 201) => {
  const group = randomUUID()
  return desk
    .post(`${at}/marks`, { group, marks: [{ id: randomUUID(), work, about, value }] }, status)
    .then(() => group)
}
const reachOf = async (work: number) =>
  ((await get('/works')) as { id: number; reach: string }[]).find(w => w.id === work)!.reach

describe('a copy is taken apart', () => {
  let copy: number
  let work: number
  test('its pages, its headings, its title page and its references as read are kept', async () => {
    work = await workOf(known.title)
    const got = await bring(work, 'browser.pdf')
    expect(got.outcome).toBe('proved')
    copy = got.copyId!
    const parts: Answer<'copyParts'> = await get(`/copies/${copy}/parts`)
    expect(parts.labels[0]).toBe(String(known.first))
    expect(parts.by.every(b => b === 'printed')).toBe(true)
    expect(parts.said).toContain('The record says the same.')
    expect(parts.headings.map(h => h.text)).toContain(known.sections[1]!.heading)
    expect(parts.front.title).toBe(known.title)
    expect(parts.references).toHaveLength(known.refs.length)
    expect(parts.lists).toMatchObject([{ heading: 'References', entries: known.refs.length }])
    const titled = parts.references.filter(r => r.item.title)
    expect(titled).toHaveLength(known.refs.length)
  })
  test('one of before is read when somebody asks, once, and keeps the labels by which passages were noted', async () => {
    const { db } = desk.context
    await db.copies.update({ parts: null, labels: ['a', 'b', 'c', 'd'] }, { where: { id: copy } })
    await db.copyReferences.destroy({ where: { copyId: copy } })
    const [first, second]: Answer<'copyParts'>[] = await Promise.all([
      get(`/copies/${copy}/parts`),
      get(`/copies/${copy}/parts`),
    ])
    expect(first!.references).toHaveLength(known.refs.length)
    expect(second!.references).toHaveLength(known.refs.length)
    expect(first!.labels).toEqual(['a', 'b', 'c', 'd'])
  })
  test('what the title page says can be taken, and goes with its copy', async () => {
    await say(work, 'field:title', { text: 'As the page says' })
    expect(((await get(`/works/${work}`)) as { title: string }).title).toBe('As the page says')
    await desk.owner.delete(`${at}/copies/${copy}`).expect(204)
    expect(await desk.context.db.copyReferences.count({ where: { copyId: copy } })).toBe(0)
    await desk.owner.get(`${at}/copies/${copy}/parts`).expect(404)
  })
})

describe('a doubtful copy', () => {
  let copy: number
  let work: number
  const outcome = async () => ((await get(`/copies/${copy}`)) as Answer<'copy'>).outcome
  test('is decided by the student’s word, told as such, and the word is taken back', async () => {
    work = await workOf(harbour)
    const got = await bring(work, 'restricted.pdf')
    expect(got.outcome).toBe('doubtful')
    copy = got.copyId!
    expect(await reachOf(work)).not.toBe('in hand')
    const group = await say(work, `copy:${copy}`, 'it is')
    expect(await outcome()).toBe('proved')
    expect(await reachOf(work)).toBe('in hand')
    expect(((await get(`/copies/${copy}`)) as Answer<'copy'>).proof.outcome).toBe('doubtful')
    await desk.post(`${at}/undo`, { group, id: randomUUID() })
    expect(await outcome()).toBe('doubtful')
    await say(work, `copy:${copy}`, 'it is not')
    expect(await outcome()).toBe('not this work')
    await desk.post(`${at}/decisions`, {
      group: randomUUID(),
      decisions: [{ id: randomUUID(), work, pass: 'abstract', choice: 'keep' }],
    })
    const ways: Answer<'ways'> = await get('/routes')
    expect(ways.find(w => w.id === work)!.copies).toEqual([])
    await say(work, `copy:${copy}`, null)
    expect(await outcome()).toBe('doubtful')
    expect(((await get('/history')) as { what: string }[]).filter(d => d.what === 'mark').length).toBeGreaterThan(2)
  })
  test('of which nothing sensible is said, or that is not there, is left as it was', async () => {
    await say(work, `copy:${copy}`, 'perhaps', 422)
    await say(work, 'copy:x', 'it is', 422)
    await say(work, 'copy:4000000', 'it is', 422)
    expect(await outcome()).toBe('doubtful')
  })
})

describe('a locked file', () => {
  const open = (work: number, password: string, status = 201) =>
    desk.owner
      .post(`${at}/works/${work}/copies/locked`)
      .set('Content-Type', 'application/octet-stream')
      .set('X-File-Password', password)
      .send(file('locked.pdf'))
      .expect(status)
      .then(r => r.body as Answer<'openCopy'>)
  test('asks for its password, takes no other, and keeps none', async () => {
    const work = await workOf(`${harbour} `.trim())
    expect(await bring(work, 'locked.pdf')).toMatchObject({ outcome: 'refused', locked: true })
    expect(await open(work, 'Dusk')).toMatchObject({
      outcome: 'refused',
      locked: true,
      said: expect.stringContaining('not the password'),
    })
    const got = await open(work, 'Zwielicht-7')
    expect(got.locked).toBeUndefined()
    expect(['proved', 'doubtful']).toContain(got.outcome)
    // the file stands as it came
    const copy = (await desk.context.db.copies.findByPk(got.copyId!, { raw: true }))!
    expect(copy.pages).toBe(1)
    const { db } = desk.context
    const all = await Promise.all(
      [db.jobs, db.answers, db.uploads, db.attempts, db.copies, db.deeds].map(t =>
        (t as typeof db.jobs).findAll({ raw: true }),
      ),
    )
    expect(JSON.stringify(all)).not.toContain('Zwielicht')
  })
  test('a password that is not percent-encoded, or a work of another, is refused', async () => {
    await open(await workOf(harbour), '%zz', 400)
    await open(4_000_000, 'x', 404)
  })
})

describe('texts that find their works', () => {
  const bringText = async (bytes: Buffer, name = 'some.pdf') => {
    const sent = await desk.owner
      .post(`${at}/copies`)
      .set('Content-Type', 'application/octet-stream')
      .set('X-File-Name', name)
      .send(bytes)
      .expect(202)
    return (await desk.finish(id, sent.body.job)).result as Recognised
  }
  test('by their own words, once; what is none of them says what it is', async () => {
    const work = await workOf('As the page says')
    await say(work, 'field:title', null)
    const got = await bringText(file('browser.pdf'))
    expect(got).toMatchObject({ outcome: 'proved', work, title: known.title })
    expect(await bringText(file('browser.pdf'), 'again.pdf')).toMatchObject({ known: true, work, copyId: got.copyId })
    const other = JSON.parse(file('TeX.json').toString()) as Known
    const none = await bringText(file('TeX.pdf'))
    expect(none).toMatchObject({ outcome: 'refused', item: { title: other.title } })
    expect(none.work).toBeUndefined()
    // its title page comes in as a record, and the file finds it
    const sent = await desk.owner
      .post(`${at}/imports`)
      .set('Content-Type', 'application/octet-stream')
      .send(Buffer.from(JSON.stringify([{ ...none.item, id: 'title-page' }])))
    await desk.finish(id, sent.body.job)
    expect(await bringText(file('TeX.pdf'))).toMatchObject({ outcome: 'proved', title: other.title })
  })
  test('locked, broken and empty ones say so, and nothing of them is kept', async () => {
    // it was brought with its password before
    await desk.context.db.copies.destroy({ where: { inquiryId: id, pages: 1 } })
    expect(await bringText(file('locked.pdf'))).toMatchObject({ outcome: 'refused', locked: true })
    const unlocked = (password: string): Promise<Recognised> =>
      desk.owner
        .post(`${at}/copies/locked`)
        .set('Content-Type', 'application/octet-stream')
        .set('X-File-Password', password)
        .send(file('locked.pdf'))
        .expect(201)
        .then(r => r.body as Recognised)
    expect(await unlocked('Dusk')).toMatchObject({ outcome: 'refused', locked: true })
    const opened = await unlocked('Zwielicht-7')
    expect(opened.locked).toBeUndefined()
    expect(opened.work ?? opened.item).toBeDefined()
    await desk.context.db.copies.destroy({ where: { inquiryId: id, pages: 1 } })
    expect((await bringText(Buffer.from('%PDF-1.4\nnothing\n%%EOF'))).said).toContain('damaged')
    expect((await bringText(Buffer.from('hello'))).said).toContain('not a PDF')
    expect(await desk.context.db.uploads.count()).toBe(0)
  })
})

describe('a file that is another work of the pool', () => {
  const words = (passages: { note: string }[]) => passages.map(p => p.note)
  test('says which one, and is given there with what was noted in it, and back', async () => {
    const [right, wrong] = [await workOf(known.title), await workOf(harbour)]
    await desk.context.db.copies.destroy({ where: { inquiryId: id } })
    const refused = await bring(wrong, 'browser.pdf')
    expect(refused).toMatchObject({ outcome: 'refused', other: { id: right, title: known.title } })
    // one that somebody took for it all the same
    const { copyId } = (await bring(right, 'browser.pdf')) as { copyId: number }
    await desk.context.db.copies.update({ workId: wrong, outcome: 'doubtful' }, { where: { id: copyId } })
    await desk.post(`${at}/copies/${copyId}/passages`, { page: 2, kind: 'in my words', note: 'Counted by night.' })
    const given = await desk.post(`${at}/copies/${copyId}/work`, { work: right }, 201)
    expect(given).toMatchObject({ outcome: 'proved', copyId })
    const copy: Answer<'copy'> = await get(`/copies/${copyId}`)
    expect([copy.work, copy.outcome, words(copy.passages)]).toEqual([right, 'proved', ['Counted by night.']])
    expect(copy.passages[0]!.workId).toBe(right)
    expect(await reachOf(right)).toBe('in hand')
    expect(await reachOf(wrong)).not.toBe('in hand')
    // its text is not that of the other, so that nothing is changed
    expect(await desk.post(`${at}/copies/${copyId}/work`, { work: wrong }, 201)).toMatchObject({ outcome: 'refused' })
    expect(((await get(`/copies/${copyId}`)) as Answer<'copy'>).work).toBe(right)
    await desk.post(`${at}/copies/${copyId}/work`, { work: 4_000_000 }, 404)
    await desk.post(`${at}/copies/4000000/work`, { work: right }, 404)
  })
  test('a doubtful one is proved anew where its records say more by now', async () => {
    const right = await workOf(known.title)
    const { db } = desk.context
    const { id: copyId } = (await db.copies.findOne({ where: { workId: right }, raw: true }))!
    await db.copies.update({ outcome: 'doubtful' }, { where: { id: copyId } })
    expect(await desk.post(`${at}/copies/${copyId}/work`, { work: right }, 201)).toMatchObject({
      outcome: 'proved',
      copyId,
    })
    const copy: Answer<'copy'> = await get(`/copies/${copyId}`)
    expect([copy.outcome, words(copy.passages)]).toEqual(['proved', ['Counted by night.']])
  })
  test('is one with a copy of the same file that is there already', async () => {
    const [right, wrong] = [await workOf(known.title), await workOf(harbour)]
    const { db } = desk.context
    const there = (await db.copies.findOne({ where: { inquiryId: id, workId: right }, raw: true }))!
    const { id: _, scanned: __, ...same } = there
    const twin = await putCopy(db, { ...same, workId: wrong })
    await desk.post(`${at}/copies/${twin.id}/passages`, { page: 1, kind: 'in my words', note: 'From the twin.' })
    expect(await desk.post(`${at}/copies/${twin.id}/work`, { work: right }, 201)).toMatchObject({ copyId: there.id })
    expect(await db.copies.count({ where: { inquiryId: id, hash: there.hash } })).toBe(1)
    const copy: Answer<'copy'> = await get(`/copies/${there.id}`)
    expect(words(copy.passages)).toEqual(['From the twin.', 'Counted by night.'])
  })
})

describe('the words of copies', () => {
  test('are told page by page, of those that are their works or may be', async () => {
    const list: Answer<'searchable'> = await get('/copies')
    const one = list.find(c => c.title === known.title)!
    expect(one).toMatchObject({ outcome: 'proved', year: 2011, version: 'version of record' })
    expect(one.labels[0]).toBe(String(known.first))
    const { pages }: Answer<'copyText'> = await get(`/copies/${one.id}/text`)
    expect(pages).toHaveLength(one.labels.length)
    expect(pages.join(' ')).toContain(known.sections[0]!.paragraphs[0]!.split(' ').slice(0, 5).join(' '))
    await desk.context.db.copies.update({ outcome: 'not this work' }, { where: { id: one.id } })
    expect(((await get('/copies')) as Answer<'searchable'>).map(c => c.id)).not.toContain(one.id)
    await desk.owner.get(`${at}/copies/4000000/text`).expect(404)
  })
  test('are asked for again only where they changed', async () => {
    const { id: copy } = (await desk.context.db.copies.findOne({ where: { inquiryId: id }, raw: true }))!
    const first = await desk.owner.get(`${at}/copies/${copy}/text`).expect(200)
    await desk.owner.get(`${at}/copies/${copy}/text`).set('If-None-Match', first.headers.etag!).expect(304)
  })
})

describe('passages of another version', () => {
  test('are kept with what finds them again, and stand in the other text on its own page', async () => {
    const { db } = desk.context
    const { id: _, ...first } = (await db.copies.findOne({ where: { inquiryId: id }, raw: true }))!
    await db.copies.update({ outcome: 'proved' }, { where: { inquiryId: id } })
    const proved = { ...first, outcome: 'proved' as const, pages: 4 }
    const manuscript = await putCopy(db, { ...proved, hash: await hashOf('a'), version: 'accepted manuscript' })
    const record = await putCopy(db, { ...proved, hash: await hashOf('b'), labels: ['211', '212', '213', '214'] })
    const write = (copyId: number, pages: string[]) =>
      db.copyPages.bulkCreate(pages.map((content, i) => ({ copyId, page: i + 1, content })))
    await write(manuscript.id, ['Lamps were counted in six towns.', 'Nobody had counted the moths before us.', '', ''])
    await write(record.id, ['A head.', '', 'Lamps were counted in six towns. Nobody had counted the moths before.', ''])
    const note = (quote: string, page: number) =>
      desk.post(`${at}/copies/${manuscript.id}/passages`, {
        ...{ page, kind: 'quoted', quote },
        boxes: [{ page, x: 72, y: 100.26, width: 200, height: 12 }],
      })
    const noted = (await note('Nobody had counted the moths before us.', 2)) as { selectors: object[] }
    expect(noted.selectors).toEqual([
      {
        type: 'TextQuoteSelector',
        exact: 'Nobody had counted the moths before us.',
        prefix: expect.any(String),
        suffix: expect.any(String),
      },
      { type: 'TextPositionSelector', start: 33, end: 72 },
      { type: 'FragmentSelector', conformsTo: expect.any(String), value: 'page=2&viewrect=72,100.3,200,12' },
    ])
    await note('Owls hunt by ear over the towns.', 1)
    await desk.post(`${at}/copies/${manuscript.id}/passages`, { page: 1, kind: 'in my words', note: 'Mine.' })
    // one of before these were kept
    await db.passages.create({
      ...{ inquiryId: id, workId: first.workId, copyId: manuscript.id, page: 1, label: '1', kind: 'quoted' as const },
      ...{ quote: 'Lamps were counted in six towns', note: '', selectors: null },
    })
    const found: Answer<'passagesElsewhere'> = await get(`/copies/${record.id}/passages/elsewhere`)
    const here = found
      .filter(f => f.passage.copyId === manuscript.id)
      .map(f => [f.version, f.here?.label, f.here?.exact])
    expect(here).toEqual([
      ['accepted manuscript', undefined, undefined],
      ['accepted manuscript', '213', 'Lamps were counted in six towns'],
      ['accepted manuscript', '213', 'Nobody had counted the moths before.'],
    ])
  })
  const hashOf = (text: string) =>
    desk.context.db.sequelize.transaction(t => storeBlob(desk.context.db, Buffer.from(text), 'application/pdf', t))
})
