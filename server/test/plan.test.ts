import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import type { Answer, Obtainable } from '../../core/schema/api'
import { USUAL, type Rhythm } from '../../core/write/plan'
import { storeBlob } from '../db/blobs'
import { bringItems, type Desk, newInquiry, openDesk, putCopy } from './desk'

let desk: Desk
let id: number
let at: string
let ids: number[]
const TITLES = ['Lamps over a harbour', 'Owls by ear', 'Newts in ponds', 'Moths by moonlight']

beforeAll(async () => {
  desk = await openDesk('plan')
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  const pages = ['1-9', '100-119', undefined, 'e14']
  const list = TITLES.map((title, i) => ({
    ...{ id: `i${i}`, type: 'article-journal', title, issued: { 'date-parts': [[2011 + i]] } },
    ...(pages[i] ? { page: pages[i] } : {}),
    author: [{ family: ['Lune', 'Sand', 'Dorn', 'Weyl'][i], given: 'Mara' }],
  }))
  await bringItems(desk, id, list)
  const works = (await desk.get(`${at}/works`)) as { id: number; title: string }[]
  ids = TITLES.map(t => works.find(w => w.title === t)!.id)
  await desk.post(`${at}/decisions`, {
    group: randomUUID(),
    decisions: ids.slice(0, 3).map(work => ({ id: randomUUID(), work, pass: 'abstract', choice: 'keep' })),
  })
})
afterAll(() => desk.close())

const plan = async () => (await desk.get(`${at}/plan`)) as Answer<'plan'>
const set = (rhythm: Partial<Rhythm>, status = 204) =>
  desk.owner
    .put(`${at}/rhythm`)
    .send({ ...USUAL, ...rhythm })
    .expect(status)
const copyOf = async (work: number, pages: number) => {
  const { db } = desk.context
  const hash = await db.sequelize.transaction(t =>
    storeBlob(db, Buffer.from(`${work} of ${pages}`), 'application/pdf', t),
  )
  const made = await putCopy(db, {
    ...{ inquiryId: id, workId: work, hash, origin: 'a test', version: 'version of record', pages },
    ...{ outcome: 'proved', proof: { outcome: 'proved', evidence: [] }, labels: [] },
  })
  return made.id
}
const reads = (copy: number, pages: [number, number][], status = 204) =>
  desk.owner
    .post(`${at}/copies/${copy}/reading`)
    .send({ pages: pages.map(([page, seconds]) => ({ page, seconds })) })
    .expect(status)

describe('the plan of an inquiry', () => {
  test('reckons what is kept by its copy, its page range or a guess', async () => {
    const copy = await copyOf(ids[1]!, 22)
    const { reading, plan: p, paces, neededBy, due } = await plan()
    expect(reading.map(r => [r.title, r.pages, r.isGuess, r.copy])).toEqual([
      ['Owls by ear', 22, false, copy],
      ['Lamps over a harbour', 9, false, null],
      ['Newts in ponds', 15, true, null],
    ])
    expect(paces.page).toMatchObject({ minutes: 2.5, from: 'guessed' })
    expect(p.steps.map(s => s.step)).toEqual(['search', 'sift', 'read', 'write'])
    expect(p.steps.find(s => s.step === 'sift')!.minutes).toBeGreaterThan(0)
    expect(due === null).toBe(neededBy === null)
  })

  test('takes off the pages that were read, and learns the pace from them; what was a turning of leaves is none', async () => {
    const copy = await copyOf(ids[0]!, 10)
    await reads(copy, [
      [1, 40],
      [2, 50],
      [3, 4],
    ])
    // told in two parts, both count
    await reads(copy, [[1, 50]])
    const { reading, paces } = await plan()
    expect(reading[0]).toMatchObject({ title: 'Lamps over a harbour', pages: 8, copy })
    expect(paces.page).toEqual({ minutes: (2.5 * 10 + 1.5 + 50 / 60) / 12, from: 'guessed', seen: 2 })
  })

  test('takes no pages that the copy has not, no endless stay, and none of a copy that is not there', async () => {
    const copy = await copyOf(ids[2]!, 2)
    await reads(copy, [
      [3, 60],
      [1, 3600],
    ])
    await reads(copy, [[1, 3600]])
    const rows = await desk.context.db.pageTimes.findAll({ where: { copyId: copy }, raw: true })
    expect(rows).toMatchObject([{ page: 1, seconds: 3600 }])
    await reads(copy, [[1, 0]], 422)
    await reads(999_999, [[1, 30]], 404)
    await desk.owner.post(`${at}/copies/${copy}/reading`).send({ pages: 'all' }).expect(422)
  })

  test('knows what the student says is read, and takes it back', async () => {
    const of = async () => (await plan()).reading.find(r => r.work === ids[1])!
    await desk.owner.put(`${at}/works/${ids[1]}/read`).send({ read: true }).expect(204)
    await desk.owner.put(`${at}/works/${ids[1]}/read`).send({ read: true }).expect(204)
    expect(await of()).toMatchObject({ isRead: true, pages: 0 })
    await desk.owner.put(`${at}/works/${ids[1]}/read`).send({ read: false }).expect(204)
    expect(await of()).toMatchObject({ isRead: false, pages: 22 })
    await desk.owner.put(`${at}/works/999999/read`).send({ read: true }).expect(422)
  })

  test('goes by the rhythm that is said, and by it texts are needed earlier', async () => {
    const { version } = (await desk.get(`${at}/brief`)) as { version: number }
    const brief = { question: 'What do lamps do?', due: '2027-03-31', style: 'apa', entriesWanted: 5 }
    await desk.owner.patch(`${at}/brief`).set('If-Match', `"${version}"`).send(brief).expect(200)
    await set({ minutesADay: 30, free: [6, 7], spare: 4, aPage: 4, anEntry: 20 })
    const { rhythm, paces, plan: p, neededBy } = await plan()
    expect(rhythm).toMatchObject({ minutesADay: 30, free: [6, 7], spare: 4, aPage: 4, anEntry: 20 })
    expect(paces).toMatchObject({ page: { minutes: 4, from: 'said' }, entry: { minutes: 20, from: 'said' } })
    expect(p).toMatchObject({ missing: 2, lastDay: '2027-03-26' })
    // 80 minutes are three days of half an hour: the 24th to the 26th
    expect(neededBy).toBe('2027-03-23')
    const draft = (await desk.post(`${at}/loans/draft`, { works: [ids[0]] }, 200)) as { neededBy: string }
    expect(draft.neededBy).toBe(neededBy)
  })

  test('how sure a loan has to be moves the last day to ask; one who does not say is as sure as usual', async () => {
    const askBy = async () => {
      const ways = (await desk.get(`${at}/routes`)) as Obtainable[]
      const { loan } = ways.find(w => w.id === ids[0])!.routes!.find(r => r.way === 'loan')!
      return loan!.askBy!
    }
    const { job } = (await desk.post(`${at}/routes`, { works: [ids[0]] }, 202)) as { job: number }
    await desk.finish(id, job)
    await set({ sure: 0.5 })
    const even = await askBy()
    await set({ sure: 0.95 })
    expect((await askBy()) < even).toBe(true)
    const { sure: _, ...unsaid } = USUAL
    await desk.owner.put(`${at}/rhythm`).send(unsaid).expect(204)
    expect((await plan()).rhythm.sure).toBe(0.8)
    await set({ sure: 0.1 }, 422)
  })

  test.each([
    [{ minutesADay: 0 }, 'minutesADay'],
    [{ minutesADay: 2000 }, 'minutesADay'],
    [{ free: [1, 2, 3, 4, 5, 6, 7] }, 'free'],
    [{ free: [1, 1] }, 'free'],
    [{ free: [8] }, 'free'],
    [{ spare: -1 }, 'spare'],
    [{ aPage: 0 }, 'aPage'],
  ])('refuses a rhythm that cannot be: %j', async (rhythm, field) => {
    const { body } = await set(rhythm, 422)
    expect(JSON.stringify(body.fields)).toContain(field)
  })

  test('times nothing where it is switched off, and forgets what it had', async () => {
    await set({ timed: false })
    expect((await plan()).paces.page.from).toBe('guessed')
    const { db } = desk.context
    expect(await db.pageTimes.count()).toBe(0)
    const copy = await copyOf(ids[2]!, 5)
    await reads(copy, [[1, 60]])
    expect(await db.pageTimes.count()).toBe(0)
    await set({})
    await reads(copy, [[1, 60]])
    expect(await db.pageTimes.count()).toBe(1)
  })
})
