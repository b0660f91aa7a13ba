import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { sayIso } from '../../core/access/coverage'
import type { Answer, LibraryInFull, Loan, Obtainable } from '../../core/schema/api'
import { drawPdf } from '../../standins/pdf'
import { deskDay, standOn } from '../db/desk-day'
import { bringItems, newInquiry, openDesk, type Desk } from './desk'
import { until } from './running'
import { smallOutside, smallWorld } from './small-world'

const world = smallWorld()
let desk: Desk
let id: number
/** The keys of a library whose office has a form, and of one whose office is written to. */
let town: string
let letters: string
const ofTitle = new Map<string, number>()
const unique = world.works.filter(w => world.works.filter(x => x.item.title === w.item.title).length === 1)
const articles = unique.filter(w => w.form === 'research article' && w.item.DOI && w.date < '2026-01-01').slice(0, 4)
const books = unique.filter(w => w.form === 'book' && w.date < '2026-01-01').slice(0, 2)
const workOf = (of: { item: { title?: string } }) => ofTitle.get(of.item.title!)!

beforeAll(async () => {
  desk = await openDesk('by_hand', smallOutside(world))
  id = await newInquiry(desk)
  const add = async (body: object) => ((await desk.post('/api/libraries', body)) as { key: string }).key
  town = await add({ address: 'http://library.ostermoor.example/profile.json' })
  letters = await add({
    text: JSON.stringify({
      name: 'Korrin Letters Library',
      office: { manner: 'mail', mail: 'loans@korrin.example', scan: { low: 2, high: 9 }, book: { low: 4, high: 20 } },
    }),
  })
  await bringItems(
    desk,
    id,
    [...articles, ...books].map(w => w.item),
  )
  const lines = (await desk.get(`/api/inquiries/${id}/works`)) as { id: number; title: string }[]
  for (const l of lines) ofTitle.set(l.title, l.id)
  const decisions = lines.map(l => ({ id: randomUUID(), work: l.id, choice: 'keep', pass: 'title' }))
  await desk.post(`/api/inquiries/${id}/decisions`, { group: randomUUID(), decisions }, 201)
})
afterAll(() => desk.close())

const one = async (loan: number): Promise<Loan> =>
  ((await desk.get('/api/loans')) as Answer<'loans'>).loans.find(l => l.id === loan)!
const ask = async (library: string, work: number, kind: string, more: object = {}) => {
  const body = { library, works: [{ work, kind }], accepted: true, ...more }
  return ((await desk.post(`/api/inquiries/${id}/loans`, body)) as { loans: number[] }).loans[0]!
}
const act = (loan: number, doing: string, more: object = {}) =>
  desk.post(`/api/loans/${loan}/acts`, { act: doing, ...more }, 202) as Promise<Loan>
const rowOf = async (work: number) =>
  ((await desk.get(`/api/inquiries/${id}/routes`)) as Obtainable[]).find(w => w.id === work)!
const sent = () => desk.context.db.jobs.count({ where: { kind: 'loan' } })

test('a form is opened filled in, and what becomes of the book is put down until it is given back', async () => {
  const work = workOf(books[0]!)
  const loan = await ask(town, work, 'book')
  const { hand, stands, acts } = await one(loan)
  expect([stands, acts]).toEqual(['Yours to send', ['give up', 'handed over']])
  expect((await rowOf(work)).loan).toMatchObject({ id: loan, byHand: true })
  // the form of the library takes it over
  const page = (await desk.context.outside(hand!.form!, { also: { addresses: [hand!.form!] } })).body.toString()
  expect(page).toContain(`name="what" value="${books[0]!.item.title}"`)
  expect(hand!.details).toContain(`Title: ${books[0]!.item.title}\n`)
  expect(await act(loan, 'handed over')).toMatchObject({ state: 'sent', stands: 'Sent' })
  await standOn(desk.context.db, '2026-10-12')
  expect(await act(loan, 'it came')).toMatchObject({ state: 'ready', until: '2026-10-19' })
  expect(await act(loan, 'picked up', { until: '2026-11-09' })).toMatchObject({ state: 'with you', due: '2026-11-09' })
  const { text } = await desk.owner.get('/api/loans/calendar.ics').expect(200)
  expect(text).toContain('DTSTART;VALUE=DATE:20261109')
  expect(await act(loan, 'due on', { until: '2026-11-23' })).toMatchObject({ due: '2026-11-23' })
  expect(await act(loan, 'given back')).toMatchObject({ state: 'ended', stands: 'Given back', acts: [] })
  // how long it took is reckoned with from now on
  const row = await desk.context.db.loans.findByPk(loan, { raw: true })
  expect(row!.took).toBe(5)
  // nothing of it left the house by itself
  expect(await sent()).toBe(0)
})

test('a letter stands ready with what was asked for, by whom and until when', async () => {
  const loan = await ask(letters, workOf(articles[0]!), 'scan', { note: 'With the plates, please.' })
  const { hand } = await one(loan)
  expect(hand).toMatchObject({ form: null, to: 'loans@korrin.example' })
  const { item } = articles[0]!
  expect(hand!.subject).toBe(`A scan: “${item.title}”`)
  for (const said of [`In: ${item['container-title']}`, `DOI: ${item.DOI}`, 'With the plates, please.', 'I need it by'])
    expect(hand!.letter).toContain(said)
  expect(hand!.letter).toMatch(/owner\nowner@desk\.example$/)
})

test('a scan that comes by mail is brought, and its request is over', async () => {
  const work = workOf(articles[1]!)
  const loan = await ask(letters, work, 'scan')
  await act(loan, 'handed over')
  const pdf = Buffer.from(await drawPdf(world, articles[1]!, { version: 'version of record' }))
  const bring = async () => {
    const { body } = await desk.owner
      .post(`/api/inquiries/${id}/works/${work}/copies`)
      .set('Content-Type', 'application/pdf')
      .set('X-File-Name', 'scan.pdf')
      .send(pdf)
      .expect(202)
    await desk.finish(id, (body as { job: number }).job)
  }
  const rights = async () => {
    const [copy] = await desk.context.db.copies.findAll({ where: { workId: work }, raw: true })
    return desk.context.db.copyRights.findAll({ where: { copyId: copy!.id }, attributes: ['kind', 'terms'], raw: true })
  }
  await bring()
  expect(await one(loan)).toMatchObject({ state: 'ended', stands: 'In hand' })
  const [lent] = await rights()
  expect(lent!.kind).toBe('loan')
  // it is no file of one’s own by being brought once more, by hand or by a server that died before it could say so
  await bring()
  expect(await rights()).toEqual([lent])
})

test('one that refuses is asked no more for that work, and the next way is offered', async () => {
  const work = workOf(articles[2]!)
  const { job } = (await desk.post(`/api/inquiries/${id}/routes`, { works: [work] }, 202)) as { job: number }
  await desk.finish(id, job)
  const offices = async () => (await rowOf(work)).routes!.filter(r => r.way === 'loan').map(r => r.library!.key)
  expect((await offices()).toSorted()).toEqual(['home', letters, town].toSorted())
  const loan = await ask(town, work, 'scan')
  await act(loan, 'handed over')
  await act(loan, 'turned down', { said: 'We lend nothing of this journal.' })
  expect((await offices()).toSorted()).toEqual(['home', letters].toSorted())
  expect((await rowOf(work)).closed).toContain(
    `Ostermoor Town Library refused it on ${sayIso(await deskDay(desk.context.db))}: We lend nothing of this journal.`,
  )
})

test('what does not fit how it stands, or names no day, is refused', async () => {
  const loan = await ask(town, workOf(books[1]!), 'book')
  const refused = async (body: object, status: number) =>
    (await desk.owner.post(`/api/loans/${loan}/acts`).send(body).expect(status)).body as { code: string }
  expect(await refused({ act: 'send again' }, 409)).toMatchObject({ code: 'stands-otherwise' })
  expect(await refused({ act: 'it came' }, 409)).toMatchObject({ code: 'stands-otherwise' })
  await act(loan, 'handed over')
  expect(await refused({ act: 'picked up', until: '2026-02-30' }, 422)).toMatchObject({
    fields: [{ field: 'until', said: 'There is no such day.' }],
  })
  expect(await act(loan, 'give up')).toMatchObject({ state: 'given up', acts: [] })
})

test('each manner is tried without asking for anything', async () => {
  const tried = async (key: string) => {
    const { tries } = (await desk.post(`/api/libraries/${key}/tries`, { part: 'office' }, 200)) as LibraryInFull
    const { holds, said } = tries.find(t => t.part === 'office')!
    return [holds, said]
  }
  expect(await tried('home')).toEqual([
    true,
    'It takes messages, and knows nothing of a request that never was, as it should.',
  ])
  expect(await tried(town)).toEqual([true, 'It answers “Ask us for it”, filled in with what was asked for.'])
  expect(await tried(letters)).toEqual([true, 'A mail goes out by your hand alone: nothing was tried.'])
})

test('an office that takes messages no more is sent none of those that wait', async () => {
  await desk.context.outside('http://control.example/switches/loans.halverane.example', {
    ...{ method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ mode: '503' }) },
  })
  const loan = await ask('home', workOf(articles[3]!), 'scan')
  await until(async () => (await one(loan)).events.some(e => e.what === 'not sent'))
  const home = desk.settings.outside.libraries[0]!
  const { office } = home
  home.office = { ...office!, manner: 'mail', mail: 'loans@halverane.example' }
  await desk.context.outside('http://control.example/reset', { method: 'POST' })
  await desk.context.db.jobs.update({ runAfter: new Date() }, { where: { kind: 'loan', state: 'queued' } })
  await until(
    async () => !(await desk.context.db.jobs.count({ where: { kind: 'loan', state: ['queued', 'running'] } })),
  )
  expect(await one(loan)).toMatchObject({ state: 'not sent', acts: ['give up', 'handed over'] })
  home.office = office
})
