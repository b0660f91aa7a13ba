import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import type { Answer, LibraryInFull, Obtainable } from '../../core/schema/api'
import { isByHand, libraryShape } from '../../core/schema/library'
import { ChildFailed, runChild } from '../child/run'
import { standOn } from '../db/desk-day'
import { anyLibrary } from '../library/libraries'
import { bringItems, newInquiry, openDesk, type Desk } from './desk'
import { smallOutside, smallWorld } from './small-world'

const world = smallWorld()
let desk: Desk
let id: number
const books = world.works
  .filter(w => world.works.filter(x => x.item.title === w.item.title).length === 1)
  .filter(w => w.form === 'book' && w.shelf && !w.shelf.ebook && w.date < '2026-01-01')

beforeAll(async () => {
  desk = await openDesk('hours', smallOutside(world))
  id = await newInquiry(desk)
  await bringItems(
    desk,
    id,
    books.map(w => w.item),
  )
  const lines = (await desk.get(`/api/inquiries/${id}/works`)) as { id: number }[]
  const decisions = lines.map(l => ({ id: randomUUID(), work: l.id, choice: 'keep', pass: 'title' }))
  await desk.post(`/api/inquiries/${id}/decisions`, { group: randomUUID(), decisions }, 201)
})
afterAll(() => desk.close())

const lookForWays = async () => {
  const { job } = (await desk.post(`/api/inquiries/${id}/routes`, {}, 202)) as { job: number }
  await desk.finish(id, job)
  return (await desk.get(`/api/inquiries/${id}/routes`)) as Obtainable[]
}
const hours = async () => (await desk.get(`/api/inquiries/${id}/hours`)) as Answer<'hours'>
const control = (path: string, body: object = {}) =>
  desk.context.outside(`http://control.example${path}`, {
    ...{ method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) },
  })
const tryIt = async (key: string) => {
  const { tries } = (await desk.post(`/api/libraries/${key}/tries`, { part: 'hours' }, 200)) as LibraryInFull
  return tries.find(t => t.part === 'hours')!
}

test('before ways were looked for, nothing is said; then each branch says when it is open', async () => {
  expect(await hours()).toEqual([])
  await lookForWays()
  const told = await hours()
  expect(told.map(h => [h.branch, h.said, h.trouble])).toEqual([
    ['', '', null],
    ['Main Library', 'Open today 8:00–22:00.', null],
    ['Science Library', 'Open today 9:00–18:00.', null],
    ['Harbour Annex', 'Closed today, opens tomorrow at 10:00.', null],
    ['Estermark Reading Room', 'Closed today, opens tomorrow at 10:00.', null],
  ])
  expect(told.find(h => h.branch === 'Main Library')!.week.slice(4)).toEqual([
    { day: '2026-10-09', hours: '8–22', why: '' },
    { day: '2026-10-10', hours: '10–18', why: '' },
    { day: '2026-10-11', hours: '', why: '' },
  ])
})

test('a book at a branch that is closed comes on the day on which that opens', async () => {
  const rows = await lookForWays()
  const on = (branch: string) =>
    rows
      .flatMap(r => r.routes ?? [])
      .filter(r => r.way === 'shelf' && r.library?.key === 'home' && r.from === branch && !r.shelf?.out)
      .map(r => r.expected)
  expect(on('Main Library').length).toBeGreaterThan(0)
  expect(on('Harbour Annex').length).toBeGreaterThan(0)
  expect(new Set(on('Main Library'))).toEqual(new Set(['2026-10-05']))
  expect(new Set(on('Harbour Annex'))).toEqual(new Set(['2026-10-06']))
})

test('the office does not work on days on which the library is closed', async () => {
  await standOn(desk.context.db, '2026-10-22')
  const [work] = (await desk.get(`/api/inquiries/${id}/works`)) as { id: number }[]
  const draft = (await desk.post(
    `/api/inquiries/${id}/loans/draft`,
    { works: [work!.id] },
    200,
  )) as Answer<'draftLoans'>
  // two working days after Thursday: Friday and, since Monday is closed, Tuesday
  expect(draft.offices[0]!.kinds.find(k => k.kind === 'scan')!.when!.from).toBe('2026-10-27')
  await standOn(desk.context.db, '2026-10-05')
})

test('calendars that cannot be had leave what they said, and say so', async () => {
  expect(await tryIt('home')).toMatchObject({ holds: true })
  await control('/switches/hours.halverane.example', { mode: '503' })
  const tried = await tryIt('home')
  expect(tried.holds).toBe(false)
  expect(tried.said).toMatch(/^0 of 5 are read without a complaint\..*What it said before stands\./)
  const main = (await hours()).find(h => h.branch === 'Main Library')!
  expect(main.said).toBe('Open today 8:00–22:00.')
  expect(main.trouble).toContain('What it said before stands.')
  const mend = async () => ((await desk.get('/api/libraries')) as Answer<'libraries'>).libraries[0]!.troubles
  expect((await mend()).join(' ')).toContain('What it said before stands.')
  await control('/reset')
  expect(await tryIt('home')).toMatchObject({
    holds: true,
    said: 'All 5 are read. 4 closed days ahead.',
  })
  expect(await mend()).toEqual([])
})

test('those that could not be had are asked for again the next time ways are looked for', async () => {
  await control('/switches/hours.halverane.example', { mode: '503' })
  await tryIt('home')
  await control('/reset')
  await lookForWays()
  expect((await hours()).map(h => h.trouble)).toEqual([null, null, null, null, null])
})

test('they are fetched again after a week, and where they lie elsewhere', async () => {
  const at = async () => (await desk.context.db.libraryHours.findAll({ raw: true })).map(r => r.deskDay)
  await lookForWays()
  expect(new Set(await at())).toEqual(new Set(['2026-10-05']))
  await standOn(desk.context.db, '2026-10-11')
  await lookForWays()
  expect(new Set(await at())).toEqual(new Set(['2026-10-05']))
  await standOn(desk.context.db, '2026-10-12')
  await lookForWays()
  expect(new Set(await at())).toEqual(new Set(['2026-10-12']))
})

test('what is no calendar says so, and a rule that never comes true is ended', async () => {
  const profile = { name: 'Korrin', hours: [{ closed: 'http://library.halverane.example/kbart' }] }
  const { key } = (await desk.post('/api/libraries', { text: JSON.stringify(profile) })) as { key: string }
  expect(await tryIt(key)).toMatchObject({
    holds: false,
    said: expect.stringContaining('It is no calendar (RFC 5545)'),
  })
  const endless = ['BEGIN:VCALENDAR', 'BEGIN:VEVENT', 'DTSTART:20260101T090000', 'DURATION:PT1H']
  const rule = 'RRULE:FREQ=DAILY;BYMONTH=6;BYMONTHDAY=31;BYDAY=MO,TU'
  const text = [...endless, rule, 'END:VEVENT', 'END:VCALENDAR'].join('\r\n')
  const window = { from: '2026-01-01', to: '2026-12-31' }
  await expect(runChild('calendar', Buffer.from(text), { seconds: 3 }, window)).rejects.toThrow(ChildFailed)
})

test('a library that was written down before hours and manners were known is read all the same', async () => {
  const { office } = libraryShape.cast({ ...(await anyLibrary(desk.context, 'home'))! }, { stripUnknown: true })
  const { manner: _, mail: __, ...before } = office!
  const row = await desk.context.db.libraries.create({
    ...{ userId: null, cameFrom: null, allowed: true, dropped: false, version: 1, at: new Date() },
    profile: JSON.parse(JSON.stringify({ name: 'Old', place: '', catalogues: [], holdings: [], office: before })),
  })
  const old = (await anyLibrary(desk.context, String(row.id)))!
  expect([old.hours, isByHand(old.office)]).toEqual([[], false])
})
