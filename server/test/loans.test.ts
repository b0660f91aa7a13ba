import { afterAll, beforeAll, beforeEach, describe, expect, jest, test } from '@jest/globals'
import ICAL from 'ical.js'
import { once } from 'node:events'
import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { simpleParser } from 'mailparser'
import type { Agent } from 'supertest'
import request from 'supertest'
import type { WorldWork } from '../../core/world/types'
import { addDays } from '../../core/bib/dates'
import type { Answer, Loan, LoanDraft, Obtainable } from '../../core/schema/api'
import { outsideWorld } from '../../standins/app'
import { mailbox } from '../../standins/mail'
import { deskDay, standOn } from '../db/desk-day'
import { messagesAt } from '../library/offices'
import { bringItems, newInquiry, openDesk, type Desk } from './desk'
import { until } from './running'
import { smallWorld } from './small-world'

const world = smallWorld()
const mail = mailbox()
let desk: Desk
let id: number
let stranger: Agent
let listening: Server
/** Works that nothing was asked for yet. */
let articles: WorldWork[]
let books: WorldWork[]
const works = new Map<string, number>()

beforeAll(async () => {
  const smtp = mail.smtp.listen(0, '127.0.0.1')
  await once(smtp, 'listening')
  const MAIL_PORT = String((smtp.address() as AddressInfo).port)
  desk = await openDesk('loans', outsideWorld(world, { mail }), { MAIL_PORT })
  // the office posts to the address that the application says of itself
  listening = desk.app.listen(0, '127.0.0.1')
  await once(listening, 'listening')
  desk.context.settings.address = `http://127.0.0.1:${(listening.address() as AddressInfo).port}`
  id = await newInquiry(desk)
  stranger = await desk.signIn('stranger@desk.example')
  const unique = (w: WorldWork) => world.works.filter(x => x.item.title === w.item.title).length === 1
  articles = world.works
    .filter(w => w.form === 'research article' && w.item.DOI && w.date < '2026-01-01' && unique(w))
    .slice(0, 18)
  books = world.works.filter(w => w.form === 'book' && w.date < '2026-01-01' && unique(w)).slice(0, 4)
  await bringItems(
    desk,
    id,
    [...articles, ...books].map(w => w.item),
  )
  const lines = (await desk.get(`/api/inquiries/${id}/works`)) as { id: number; title: string }[]
  for (const w of [...articles, ...books]) {
    const line = lines.find(l => l.title === w.item.title)
    if (line) works.set(w.id, line.id)
  }
  await desk.post(
    `/api/inquiries/${id}/decisions`,
    {
      group: '00000000-0000-4000-8000-000000000001',
      decisions: [...works.values()].map((work, i) => ({
        id: `00000000-0000-4000-8000-${String(100 + i).padStart(12, '0')}`,
        ...{ work, choice: 'keep', pass: 'title' },
      })),
    },
    201,
  )
})
afterAll(async () => {
  listening.closeAllConnections()
  listening.close()
  await desk.close()
  mail.smtp.close()
})
beforeEach(() => fault('doubled'))

const control = (path: string, body: object) =>
  desk.context.outside(`http://control.example${path}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
const fault = (name: string) => control('/office', { fault: name })
const switchTo = (mode: string) =>
  desk.context.outside('http://control.example/switches/loans.halverane.example', {
    ...{ method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ mode }) },
  })
const goOn = async (days: number) => {
  const day = addDays(await deskDay(desk.context.db), days)
  await standOn(desk.context.db, day)
  await control('/desk', { day })
}
const all = async (): Promise<Answer<'loans'>> => (await desk.get('/api/loans')) as Answer<'loans'>
const one = async (loan: number): Promise<Loan> => (await all()).loans.find(l => l.id === loan)!
const stands = (loan: number, state: Loan['state']) => until(async () => (await one(loan)).state === state)
const ask = async (list: { work: number; kind: string; parts?: object }[], more: object = {}) => {
  const body = { library: 'home', works: list, accepted: true, ...more }
  return ((await desk.post(`/api/inquiries/${id}/loans`, body)) as { loans: number[] }).loans
}
const act = (loan: number, doing: string, said = '') =>
  desk.post(`/api/loans/${loan}/acts`, { act: doing, said }, 202) as Promise<Loan>
const mailAt = (path: string) =>
  request(`http://127.0.0.1:${desk.settings.outside.loopback.port}`).get(path).set('Host', 'mail.example').buffer()
const next = (of: WorldWork[]) => works.get(of.shift()!.id)!
/** Asks for a scan and waits until its office has it. */
const scan = async () => {
  const [loan] = await ask([{ work: next(articles), kind: 'scan' }])
  await until(async () => (await one(loan!)).events.some(e => e.what === 'received'))
  return loan!
}
const message = (
  loan: { request: string },
  of: { status: string; reason?: string; from?: string; at?: string; note?: string },
) =>
  `<ISO18626Message xmlns="http://illtransactions.org/2013/iso18626"><supplyingAgencyMessage><header>
   <supplyingAgencyId><agencyIdType>isil</agencyIdType><agencyIdValue>${of.from ?? 'XX-HALILL'}</agencyIdValue></supplyingAgencyId>
   <requestingAgencyId><agencyIdType>ISIL</agencyIdType><agencyIdValue>XX-VINE</agencyIdValue></requestingAgencyId>
   <timestamp>${of.at ?? '2026-10-06T08:00:00Z'}</timestamp><requestingAgencyRequestId>${loan.request}</requestingAgencyRequestId></header>
   <messageInfo><reasonForMessage>${of.reason ?? 'StatusChange'}</reasonForMessage>${of.note ? `<note>${of.note}</note>` : ''}</messageInfo>
   <statusInfo><status>${of.status}</status></statusInfo></supplyingAgencyMessage></ISO18626Message>`
const address = () => new URL(messagesAt(desk.context, 'home')).pathname
const post = (to: string, xml: string) => request(desk.app).post(to).set('Content-Type', 'application/xml').send(xml)
const rowOf = async (loan: number) => (await desk.context.db.loans.findByPk(loan, { raw: true }))!

describe('asking', () => {
  test('a draft says what would be asked for, what that lacks and when it would come', async () => {
    const [article, book] = [works.get(articles[0]!.id)!, works.get(books[0]!.id)!]
    const draft = (await desk.post(`/api/inquiries/${id}/loans/draft`, { works: [article, book] }, 200)) as LoanDraft
    expect(draft.works).toMatchObject([
      { work: article, kind: 'scan', why: null },
      { work: book, kind: 'book', lacks: [], why: null },
    ])
    expect(draft.offices).toMatchObject([
      {
        library: 'home',
        name: 'Halverane Library',
        pickUp: 'Hill Branch',
        terms: expect.stringContaining('your own study'),
      },
    ])
    const [scans] = draft.offices[0]!.kinds
    expect(scans).toMatchObject({
      kind: 'scan',
      evidence: 'Halverane Library gets a scan within 2 to 7 working days, as it says.',
    })
    expect(scans!.when!.from > '2026-10-05' && scans!.when!.from < scans!.when!.to).toBe(true)
  })

  test('terms have to be accepted, and the library has to have an office', async () => {
    const work = works.get(articles[0]!.id)!
    const refuse = (body: object) =>
      desk.owner
        .post(`/api/inquiries/${id}/loans`)
        .send({ library: 'home', works: [{ work, kind: 'scan' }], ...body })
        .expect(422)
    expect((await refuse({ accepted: false })).body).toMatchObject({
      fields: [{ field: 'accepted', said: expect.stringContaining('accept') }],
    })
    expect((await refuse({ accepted: true, library: 'nobody' })).body).toMatchObject({ code: 'no-office' })
    expect((await all()).loans).toEqual([])
  })

  test('a scan is asked for, comes, and counts when its own text proves it', async () => {
    const work = next(articles)
    const [loan] = await ask([{ work, kind: 'scan', parts: { page: '12–19' } }], { note: 'With the figures, please.' })
    await stands(loan!, 'sent')
    expect(await one(loan!)).toMatchObject({ work, kind: 'scan', library: 'Halverane Library', stands: 'Sent' })
    expect((await one(loan!)).when!.likely).toBeGreaterThan(0.5)
    // it is not asked for twice, and no other way hides that it is under way
    const again = { library: 'home', works: [{ work, kind: 'scan' }], accepted: true }
    const { body } = await desk.owner.post(`/api/inquiries/${id}/loans`).send(again).expect(422)
    expect(body).toMatchObject({ code: 'nothing-to-ask' })
    const ways = (await desk.get(`/api/inquiries/${id}/routes`)) as Obtainable[]
    expect(ways.find(w => w.id === work)!.loan).toMatchObject({ id: loan, state: 'sent' })
    await goOn(14)
    await stands(loan!, 'ready')
    // each message came twice, and counts once
    const { events, stands: words } = await one(loan!)
    expect(events.map(e => e.what)).toEqual(['asked', 'sent', 'received', 'expected', 'ready'])
    expect(words).toMatch(/^Ready to fetch until \d+ (October|November)$/)
    await act(loan!, 'fetch')
    await stands(loan!, 'ended')
    const copies = await desk.context.db.copies.findAll({ where: { workId: work }, raw: true })
    expect(copies).toMatchObject([{ outcome: 'proved', origin: 'a scan from Halverane Library' }])
    const rights = await desk.context.db.copyRights.findAll({ where: { copyId: copies[0]!.id }, raw: true })
    expect(rights).toMatchObject([{ kind: 'loan', source: 'Halverane Library', until: null }])
    // how long it took is reckoned with from now on
    expect((await rowOf(loan!)).took).toBeGreaterThan(0)
    const draft = (await desk.post(
      `/api/inquiries/${id}/loans/draft`,
      { works: [works.get(articles[0]!.id)!] },
      200,
    )) as LoanDraft
    expect(draft.offices[0]!.kinds[0]!.evidence).toMatch(/and by 1 that came\.$/)
  })

  test('of two windows that ask in one moment one asks', async () => {
    const work = next(articles)
    const body = { library: 'home', works: [{ work, kind: 'scan' }], accepted: true }
    const both = await Promise.all([1, 2].map(() => desk.owner.post(`/api/inquiries/${id}/loans`).send(body)))
    expect(both.map(r => r.status).toSorted()).toEqual([201, 422])
    expect((await all()).loans.filter(l => l.work === work)).toHaveLength(1)
  })
})

describe('a request under way', () => {
  test('a book waits, is picked up, kept longer once, and given back; the days are in the calendar', async () => {
    const [loan] = await ask([{ work: next(books), kind: 'book' }])
    await stands(loan!, 'sent')
    await goOn(21)
    await stands(loan!, 'ready')
    expect(await one(loan!)).toMatchObject({ pickUp: 'Hill Branch', said: 'It waits at the desk of Hill Branch.' })
    const titles = async () => {
      const { text } = await desk.owner
        .get('/api/loans/calendar.ics')
        .expect(200)
        .expect('Content-Type', /calendar/)
      const events = new ICAL.Component(ICAL.parse(text) as unknown[]).getAllSubcomponents('vevent')
      return events.map(e => new ICAL.Event(e).summary.replace(/:.*/, '')).filter(t => !t.endsWith('scan'))
    }
    expect(await titles()).toEqual(['Last day to pick up at Hill Branch'])
    await act(loan!, 'picked up')
    const { due, state, work } = await one(loan!)
    expect(state).toBe('with you')
    // what goes back is read first
    const plan = async () => (await desk.get(`/api/inquiries/${id}/plan`)) as Answer<'plan'>
    expect((await plan()).reading[0]).toMatchObject({ work, until: due })
    expect(await titles()).toEqual(['Give back to Halverane Library'])
    await act(loan!, 'keep longer')
    await until(async () => (await one(loan!)).due === addDays(due!, 14))
    await act(loan!, 'keep longer')
    await until(async () => (await one(loan!)).events.some(e => e.what === 'not renewed'))
    expect(await one(loan!)).toMatchObject({ said: 'Another reader waits for it.', waits: null })
    await act(loan!, 'given back')
    await stands(loan!, 'ended')
    expect((await one(loan!)).stands).toBe('Given back')
    expect(await titles()).toEqual([])
    expect((await plan()).reading.every(r => r.until === null)).toBe(true)
  })

  test('what its office asks back is answered here, and goes on', async () => {
    await fault('asks')
    const loan = await scan()
    await goOn(3)
    await stands(loan, 'asked back')
    expect(await one(loan)).toMatchObject({ stands: 'Asked back: answer here', said: expect.stringMatching(/\?$/) })
    await act(loan, 'answer', 'Yes, send that one.')
    await stands(loan, 'sent')
    await goOn(14)
    await stands(loan, 'ready')
    expect((await one(loan)).events.find(e => e.what === 'answered')!.said).toBe('Yes, send that one.')
  })

  test('a refusal says why, and the work can be asked for again', async () => {
    await fault('refuses')
    const loan = await scan()
    await goOn(3)
    await stands(loan, 'refused')
    const { said, work } = await one(loan)
    expect(said).toBe('It is not lent.')
    await fault('doubled')
    expect(await ask([{ work, kind: 'scan' }])).toHaveLength(1)
  })

  test('another text is no copy: it is said, and nothing is in hand', async () => {
    const loan = await scan()
    await goOn(14)
    await stands(loan, 'ready')
    await fault('wrong scan')
    await act(loan, 'fetch')
    await stands(loan, 'wrong text')
    const { work, said } = await one(loan)
    expect(said).not.toBe('')
    expect(await desk.context.db.copies.count({ where: { workId: work, outcome: 'proved' } })).toBe(0)
  })

  test('a scan that was wiped meanwhile is told with where it was', async () => {
    const loan = await scan()
    await goOn(14)
    await stands(loan, 'ready')
    await goOn(30)
    expect((await one(loan)).stands).toBe('Perhaps wiped by now')
    await act(loan, 'fetch')
    await until(async () => (await one(loan)).said.includes('bring the file'))
    expect((await one(loan)).state).toBe('ready')
  })

  test('what its office answers before it confirms counts as the answer', async () => {
    const [loan] = await ask([{ work: next(books), kind: 'book' }])
    await until(async () => (await one(loan!)).events.some(e => e.what === 'received'))
    await goOn(30)
    await stands(loan!, 'ready')
    await act(loan!, 'picked up')
    await fault('hasty')
    await act(loan!, 'keep longer')
    await until(async () => !(await one(loan!)).busy)
    const { events, waits } = await one(loan!)
    expect(events.map(e => e.what).slice(-2)).toEqual(['renewal asked', 'renewed'])
    expect(waits).toBeNull()
  })

  test('it is given up, and its office told', async () => {
    const loan = await scan()
    expect(await act(loan, 'give up')).toMatchObject({ id: loan })
    await stands(loan, 'given up')
    const { body } = await desk.owner.post(`/api/loans/${loan}/acts`).send({ act: 'give up' }).expect(409)
    expect(body).toMatchObject({ code: 'stands-otherwise' })
  })

  test('two windows that press in one moment begin one thing', async () => {
    const loan = await scan()
    await goOn(14)
    await stands(loan, 'ready')
    const press = () => desk.owner.post(`/api/loans/${loan}/acts`).send({ act: 'fetch' })
    expect((await Promise.all([press(), press()])).map(r => r.status).toSorted()).toEqual([202, 409])
    await stands(loan, 'ended')
    expect((await one(loan)).events.filter(e => e.what === 'taken')).toHaveLength(1)
  })

  test('what is given up before its office could be reached is never sent', async () => {
    await switchTo('503')
    const [loan] = await ask([{ work: next(articles), kind: 'scan' }])
    await until(async () => (await one(loan!)).events.some(e => e.what === 'not sent'))
    await act(loan!, 'give up')
    await desk.context.outside('http://control.example/reset', { method: 'POST' })
    // the try that waits comes at once
    await desk.context.db.jobs.update({ runAfter: new Date() }, { where: { kind: 'loan', state: 'queued' } })
    await until(
      async () => (await desk.context.db.jobs.count({ where: { kind: 'loan', state: ['queued', 'running'] } })) === 0,
    )
    expect(await one(loan!)).toMatchObject({ state: 'given up' })
    expect((await one(loan!)).events.map(e => e.what)).toEqual(['asked', 'not sent', 'given up'])
  })

  test('an office that is away is asked again by itself, and by hand', async () => {
    await switchTo('503')
    const [loan] = await ask([{ work: next(articles), kind: 'scan' }])
    await until(async () => (await one(loan!)).events.some(e => e.what === 'not sent'))
    expect(await one(loan!)).toMatchObject({
      state: 'not sent',
      said: expect.stringMatching(/sent again by itself\.$/),
    })
    await desk.context.outside('http://control.example/reset', { method: 'POST' })
    await act(loan!, 'send again')
    await stands(loan!, 'sent')
  })

  test('messages in the wrong order take nothing back', async () => {
    await fault('out of order')
    const loan = await scan()
    await goOn(14)
    await stands(loan, 'ready')
    await until(async () => (await one(loan)).events.some(e => e.what === 'expected'))
    expect((await one(loan)).state).toBe('ready')
  })
})

describe('messages of offices', () => {
  test('only the address that the office was given takes them', async () => {
    const to = address()
    await post(`${to.slice(0, -1)}${to.endsWith('0') ? '1' : '0'}`, '<x/>').expect(404)
    await post('/api/offices/7/abc', '<x/>').expect(404)
    const { body } = await post(to, 'no XML at all').expect(400)
    expect(body).toMatchObject({ code: 'not-a-message' })
    await post(to, '<html><body>Please sign in</body></html>').expect(400)
  })

  test('a forged sender, a request of nobody and one that is known already change nothing', async () => {
    const loan = await scan()
    const row = await rowOf(loan)
    const to = address()
    const forged = await post(to, message(row, { status: 'CopyCompleted', from: 'XX-SOMEBODY' })).expect(200)
    expect(forged.text).toMatch(/<messageStatus>ERROR<.*supplyingAgencyId/s)
    const nobody = { request: '00000000-0000-4000-8000-00000000ffff' }
    expect((await post(to, message(nobody, { status: 'Loaned' })).expect(200)).text).toMatch(
      /ERROR.*requestingAgencyRequestId/s,
    )
    expect((await one(loan)).state).toBe('sent')
    const will = message(row, { status: 'WillSupply' })
    for (let i = 0; i < 3; i++) expect((await post(to, will).expect(200)).text).toContain('<messageStatus>OK<')
    const { events, state } = await one(loan)
    expect([state, events.filter(e => e.what === 'expected').length]).toEqual(['on its way', 1])
  })

  test('a status nobody knows is confirmed, and its note is told', async () => {
    const loan = await scan()
    const row = await rowOf(loan)
    await post(
      address(),
      message(row, { status: 'Pondering', note: 'We are moving house.', at: '2027-09-01T08:00:00Z' }),
    ).expect(200)
    expect(await one(loan)).toMatchObject({ state: 'sent', said: 'We are moving house.' })
  })

  test('what waits for the student is told by mail, with its day, though it could not be written down at once', async () => {
    const loan = await scan()
    const row = await rowOf(loan)
    const letters = async () => {
      const told = (await mailAt('/')).body as { n: number; text: string }[]
      return told.filter(l => l.text.includes(row.item.title ?? '?'))
    }
    const asks = (at: string) =>
      message(row, { status: 'RequestReceived', reason: 'Notification', note: 'Which issue?', at })
    // the process ends between the message and what follows from it: neither is written down, the office sends it again
    const fails = jest.spyOn(desk.context.db.jobs, 'create').mockRejectedValueOnce(new Error('gone'))
    await post(address(), asks('2026-10-06T08:00:00Z')).expect(500)
    fails.mockRestore()
    expect((await one(loan)).state).toBe('sent')
    await post(address(), asks('2026-10-06T08:00:00Z')).expect(200)
    await until(async () => (await letters()).length === 1)
    await act(loan, 'answer', 'The third.')
    await until(async () => (await one(loan)).events.some(e => e.what === 'answered'))
    await post(address(), asks('2027-10-08T08:00:00Z')).expect(200)
    await until(async () => (await letters()).length === 2)
    await post(address(), message(row, { status: 'CopyCompleted', at: '2027-10-09T08:00:00Z' })).expect(200)
    await until(async () => (await letters()).length === 3)
    const sent = await Promise.all(
      (await letters()).map(async ({ n }) => simpleParser((await mailAt(`/${n}.eml`)).text)),
    )
    expect(sent[0]!.text).toContain('Which issue?')
    // a second question is a letter of its own, not the first one again
    expect(new Set(sent.map(l => l.messageId)).size).toBe(3)
    const { until: last } = await one(loan)
    const days = new ICAL.Component(ICAL.parse(sent[2]!.attachments[0]!.content.toString()) as unknown[])
    expect(days.getFirstSubcomponent('vevent')!.getFirstPropertyValue('dtstart')!.toString()).toBe(last)
  })

  test('what one asked for is nobody else’s to see or to carry on', async () => {
    const { loans } = await all()
    expect((await stranger.get('/api/loans').expect(200)).body).toMatchObject({ loans: [] })
    await stranger.post(`/api/loans/${loans[0]!.id}/acts`).send({ act: 'give up' }).expect(404)
    await stranger.post(`/api/inquiries/${id}/loans/draft`).send({ works: [] }).expect(404)
  })
})
