import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { once } from 'node:events'
import type { AddressInfo } from 'node:net'
import express, { type Request, type Response } from 'express'
import { PDFDocument, StandardFonts } from 'pdf-lib'
import { Op } from 'sequelize'
import request from 'supertest'
import type { Fetched } from '../../core/access/fetched'
import type { Gate, Obtainable } from '../../core/schema/api'
import { mailbox } from '../../standins/mail'
import { standOn } from '../db/desk-day'
import { fetchAwaited } from '../obtain/awaited'
import { remindOfLetters } from '../obtain/reminders'
import { newInquiry, openDesk, type Desk } from './desk'
import { until } from './running'

/** A platform behind a gate, both in manners of their own; what each article does is said by its number. */
const TITLES = {
  plain: 'What a plain lamp does to dusk',
  terms: 'Terms of light in a harbour',
  wrong: 'The wrong lamp in the right street',
  busy: 'Busy moths at a closed window',
  members: 'Members of a lamplit society',
  elsewhere: 'Elsewhere, a second harbour of lamps',
  guarded: 'A guarded garden after dark',
  slow: 'Slow lamps along a canal',
  embargo: 'Lamps that open in autumn',
}
type Manner = keyof typeof TITLES
const manners = Object.keys(TITLES) as Manner[]
const doiOf = (m: Manner) => `10.5555/ways.${m}`

async function pdfOf(title: string, doi: string): Promise<Buffer> {
  const doc = await PDFDocument.create()
  const font = await doc.embedFont(StandardFonts.TimesRoman)
  const head = [
    title,
    'Mara Lune and Ida Sand',
    'm.lune@dusk.example',
    'Night Lamps 12 (3), 2020, 40-49',
    `doi: ${doi}`,
    'Introduction',
  ]
  for (let n = 0; n < 10; n++) {
    const page = doc.addPage()
    const words = Array.from(
      { length: 34 },
      (_, i) => `In night ${n * 34 + i + 1} the moths at each lamp were counted.`,
    )
    for (const [i, line] of [...(n ? [] : head), ...words].entries())
      page.drawText(line, { x: 72, y: 780 - i * 18, size: i || n ? 11 : 18, font })
  }
  return Buffer.from(await doc.save())
}

const GATE = 'gate.halverane.example'
const BEHIND = `lanternhill-example.${GATE}`
/** Sessions that the gate knows; every cookie that each host was sent; what holds the slow one. */
let session = ''
const cookies: Record<string, string[]> = {}
let release: (() => void) | undefined
/** Whether the wall of the article that opens later has fallen. */
let isOpen = false
const html = (res: Response, title: string, body: string) =>
  res.type('html').send(`<!doctype html><title>${title}</title><body>${body}`)
const signedIn = (req: Request) => Boolean(session) && (req.headers.cookie ?? '').includes(session)

const outside = express()
outside.use((req, _, next) => {
  const host = req.hostname
  ;(cookies[host] ??= []).push(req.headers.cookie ?? '')
  next()
})
/** What the shelf of the book says now; nothing where its catalogue can say what it is, and no more. */
let onShelf: { status: number; back?: string } | undefined
const on = (host: string, handle: (req: Request, res: Response) => unknown) =>
  outside.use((req, res, next) => {
    if (req.hostname !== host) return next()
    void Promise.resolve(handle(req, res)).catch(next)
  })

on('shelf.example', (req, res) => {
  const sru = (inside: string) => res.type('xml').send(inside)
  if (req.query.operation === 'explain')
    return sru(
      '<explainResponse><record><recordData><explain><databaseInfo><title>Shelf</title></databaseInfo><indexInfo><index><map><name set="dc">title</name></map></index></indexInfo><schemaInfo><schema name="marcxml" identifier="marcxml"/><schema name="isohold" identifier="iso20775"/></schemaInfo></explain></recordData></record></explainResponse>',
    )
  if (!onShelf) return res.status(503).end()
  const book =
    '<record><leader>00000nam a2200000 i 4500</leader><datafield tag="245" ind1="1" ind2="0"><subfield code="a">Lamps of the old harbour</subfield></datafield><datafield tag="100" ind1="1" ind2=" "><subfield code="a">Lune, Mara</subfield></datafield></record>'
  const { status, back = '' } = onShelf
  const holdings = `<holdings><holding><physicalLocation>Hill Branch</physicalLocation><holdingSimple><copyInformation><shelfLocator>QL561 .L8 1998</shelfLocator><availabilityInformation><status><availabilityStatus>${status}</availabilityStatus><dateTimeAvailable>${back}</dateTimeAvailable></status></availabilityInformation></copyInformation></holdingSimple></holding></holdings>`
  return sru(
    `<searchRetrieveResponse><numberOfRecords>1</numberOfRecords><records><record><recordSchema>x</recordSchema><recordData>${req.query.recordSchema === 'isohold' ? holdings : book}</recordData><recordPosition>1</recordPosition></record></records></searchRetrieveResponse>`,
  )
})
on('library.halverane.example', (_, res) =>
  res
    .type('text/tab-separated-values')
    .send(
      'publication_title\tprint_identifier\tonline_identifier\tdate_first_issue_online\tdate_last_issue_online\ttitle_url\tcoverage_depth\tpublisher_name\taccess_type\nNight Lamps\t9990-0335\t\t1990\t\thttp://lanternhill.example/journal\tfulltext\tLanternhill\tP\nFree Lamps\t9990-0343\t\t1990\t\t\tfulltext\tElsewhere\tF\n',
    ),
)
on('doi.example', (req, res) => res.redirect(`http://lanternhill.example/a/${req.path.split('.').at(-1)}`))
on(GATE, (req, res) => {
  if (req.path === '/open') {
    if (!signedIn(req)) return res.redirect('/sign-in')
    const to = new URL(String(req.query.url))
    return res.redirect(`http://${to.hostname.replaceAll('.', '-')}.${GATE}${to.pathname}`)
  }
  if (req.method === 'POST') {
    session = `gate=${randomUUID()}`
    return res.set('set-cookie', `${session}; Domain=.${GATE}; Path=/; Max-Age=900`).redirect('/')
  }
  return html(res, 'Sign in', '<input type="password">')
})
on(BEHIND, async (req, res) => {
  if (!signedIn(req)) return res.redirect(`http://${GATE}/sign-in`)
  const manner = /^\/a\/(\w+)/.exec(req.path)?.[1] as Manner
  if (req.path.endsWith('.pdf')) {
    const of = manner === 'wrong' ? 'plain' : manner
    return res.type('application/pdf').send(await pdfOf(TITLES[of], doiOf(of)))
  }
  if (!manner) return html(res, 'Night Lamps', '<a href="/about">About</a>')
  const page = (body: string) => html(res, TITLES[manner], `<h1>${TITLES[manner]}</h1>${body}`)
  const link = `<a href="/a/${manner}/text.pdf">PDF</a>`
  switch (manner) {
    case 'terms':
      if (req.method === 'POST') return res.set('set-cookie', 'yes=1; Path=/').redirect(`/a/${manner}`)
      if ((req.headers.cookie ?? '').includes('yes=1')) return page(link)
      return html(
        res,
        'Terms',
        '<p>For your own study.</p><form method="post"><button name="y" value="1">I agree</button></form>',
      )
    case 'busy':
      return res.status(503).set('retry-after', '600').send('later')
    case 'members':
      return html(res, 'Log in', '<form method="post"><input name="u"><input type="password" name="p"></form>')
    case 'guarded':
      return res.status(403).type('html').send('<title>Just a moment</title><p>Are you a human?</p>')
    case 'embargo':
      return page(isOpen ? link : '<p>The full text is under embargo until 20 October 2026.</p>')
    case 'slow':
      await new Promise<void>(done => (release = done))
      return page(link)
    default:
      return page(link)
  }
})
on('lanternhill.example', (_, res) => html(res.status(403), 'Get access', 'Buy this article'))

const mail = mailbox()
on('mail.example', (req, res) => new Promise(next => mail.pages(req, res, next)))

let desk: Desk
let id: number
let at: string
const get = (path: string) => desk.get(at + path)
const post = (path: string, body: object, status?: number) => desk.post(at + path, body, status)
const rows = async () => (await get('/routes')) as Obtainable[]
const rowOf = async (m: Manner) => (await rows()).find(r => r.title === TITLES[m])!
const ids = async (...list: Manner[]) =>
  (await rows()).filter(r => list.some(m => TITLES[m] === r.title)).map(r => r.id)
async function fetchOf(...list: Manner[]): Promise<Record<string, Fetched>> {
  const { result } = await desk.finish(id, (await post('/retrievals', { works: await ids(...list) }, 202)).job)
  const of = (result as { works: Fetched[] }).works
  return Object.fromEntries(of.map(f => [manners.find(m => TITLES[m] === f.title)!, f]))
}
const signIn = () => desk.owner.post(`${at}/gates/home`).send({ card: 'HV-1', password: 'lamp' }).expect(201)
const gateNow = async () => ((await desk.get(`${at}/gates`)) as Gate[])[0]!
const lookAtGate = async () => ((await desk.post(`${at}/gates/look`, {}, 200)) as Gate[])[0]!
const bringIn = async (name: string, bytes: string) => {
  const { body } = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .set('X-File-Name', name)
    .set('Idempotency-Key', randomUUID())
    .send(Buffer.from(bytes))
    .expect(202)
  await desk.finish(id, body.job)
}

const BOOK = `<collection xmlns="http://www.loc.gov/MARC21/slim"><record><leader>00000nam a2200000 a 4500</leader><controlfield tag="001">b1</controlfield><datafield tag="245" ind1="1" ind2="0"><subfield code="a">Lamps of the old harbour</subfield></datafield><datafield tag="100" ind1="1" ind2=" "><subfield code="a">Lune, Mara</subfield></datafield><datafield tag="260" ind1=" " ind2=" "><subfield code="b">Garden Wall Books</subfield><subfield code="c">1998</subfield></datafield><datafield tag="852" ind1=" " ind2=" "><subfield code="b">Hill Branch</subfield><subfield code="h">QL561 .L8 1998</subfield></datafield></record></collection>`

beforeAll(async () => {
  const smtp = mail.smtp.listen(0, '127.0.0.1')
  await once(smtp, 'listening')
  desk = await openDesk('ways', outside, { MAIL_PORT: String((smtp.address() as AddressInfo).port) })
  const library = desk.settings.outside.libraries[0]!
  library.holdings = [{ name: '', address: 'http://library.halverane.example/kbart/one.tsv' }]
  // what one way fails to bring is not to be had by a loan
  delete library.office
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  const items = manners.map(m => ({
    ...{ id: m, type: 'article-journal', title: TITLES[m], 'container-title': 'Night Lamps', ISSN: '9990-0335' },
    author: [
      { family: 'Lune', given: 'Mara' },
      { family: 'Sand', given: 'Ida' },
    ],
    ...{ volume: '12', issue: '3', page: '40-49', DOI: doiOf(m), issued: { 'date-parts': [[2020]] } },
  }))
  // one journal is free to all, at a host that is not among those that may be fetched
  const { DOI: _, ...free } = items.find(i => i.id === 'elsewhere')!
  const elsewhere = { ...free, 'container-title': 'Free Lamps', ISSN: '9990-0343', URL: 'http://elsewhere.test/a' }
  await bringIn('lamps.json', JSON.stringify([...items.filter(i => i.id !== 'elsewhere'), elsewhere]))
  await bringIn('book.xml', BOOK)
  const works = (await get('/works')) as { id: number }[]
  const decisions = works.map(w => ({ id: randomUUID(), work: w.id, pass: 'abstract', choice: 'keep' }))
  await post('/decisions', { group: randomUUID(), decisions })
  await desk.finish(id, (await post('/routes', {}, 202)).job)
})
afterAll(async () => {
  await desk.close()
  mail.smtp.close()
})

test('each way is walked to its end, and what stands there is called by its name', async () => {
  expect((await fetchOf('plain')).plain!.state).toBe('gate needed')
  await signIn()
  const got = await fetchOf(...manners.filter(m => m !== 'slow'))
  expect(Object.fromEntries(Object.entries(got).map(([m, f]) => [m, f.state]))).toEqual({
    ...{ plain: 'proved', terms: 'terms', wrong: 'wrong file', busy: 'later' },
    ...{ members: 'sign in', elsewhere: 'by hand', guarded: 'challenge', embargo: 'embargo' },
  })
  expect(got.terms!.terms).toEqual({ host: 'lanternhill.example', text: 'For your own study.' })
  expect(got.elsewhere!.said).toMatch(/^elsewhere\.test is not among the hosts that may be fetched\./)
  // hosts are called as they are without the gate
  expect(got.members!.said).toBe('lanternhill.example asks to sign in, in its own way.')
})

test('what a way promised is taken back where it failed, and the way stays to be opened by hand', async () => {
  const wrong = await rowOf('wrong')
  expect(wrong.reach).toBe('out of reach')
  expect(wrong.routes!.map(r => [r.way, r.likely])).toEqual([
    ['author', 0.3],
    ['gate', 0],
    ['gate', 0],
  ])
  const members = await rowOf('members')
  expect(members.reach).toBe('unsure')
  expect(members.addresses[0]).toBe(`http://${BEHIND}/a/members`)
  const [walk] = (await get(`/works/${(await rowOf('plain')).id}/walks`)) as {
    steps: { what: string }[]
    ended: string
  }[]
  expect(walk).toMatchObject({ ended: 'taken', byGate: true, deskDay: '2026-10-05' })
  expect(walk!.steps.map(s => s.what)).toEqual(['the article', 'the file'])
  const { copies } = await get(`/works/${(await rowOf('plain')).id}`)
  expect(copies[0].origin).toBe('http://lanternhill.example/a/plain/text.pdf')
  expect(copies[0].opening.said).toMatch(/^By the licence of .*, for you alone\.$/)
  // looked for anew on the same day, what was found stands; on the next day it may be otherwise
  await desk.finish(id, (await post('/routes', { works: [wrong.id] }, 202)).job)
  expect((await rowOf('wrong')).reach).toBe('out of reach')
  await standOn(desk.context.db, '2026-10-06')
  await desk.finish(id, (await post('/routes', { works: [wrong.id] }, 202)).job)
  expect((await rowOf('wrong')).reach).toBe('within reach')
})

test('cookies go to those alone whose they are', () => {
  for (const host of ['doi.example', 'library.halverane.example'])
    expect(cookies[host]!.every(c => c === '')).toBe(true)
  expect(cookies['lanternhill.example']).toBeUndefined()
  expect(cookies[BEHIND]!.every(c => c.includes('gate='))).toBe(true)
  expect(cookies[GATE]!.some(c => c.includes('yes='))).toBe(false)
})

test('what is out of service is asked for again by itself, when it said', async () => {
  const jobs = await desk.context.db.jobs.findAll({ where: { kind: 'retrieval', state: 'queued' }, raw: true })
  expect(jobs.map(j => j.payload)).toEqual([{ works: await ids('busy'), tries: 1 }])
  const wait = (jobs[0]!.runAfter.getTime() - Date.now()) / 1000
  expect(wait).toBeGreaterThan(400)
  expect(wait).toBeLessThanOrEqual(600)
})

test('terms that the student accepted are accepted for the day, and asked for anew on the next', async () => {
  await desk.owner.post('/api/terms').send({ host: 'lanternhill.example' }).expect(201)
  await standOn(desk.context.db, '2026-10-07')
  expect((await fetchOf('terms')).terms!.state).toBe('terms')
  await desk.owner.post('/api/terms').send({ host: 'lanternhill.example' }).expect(201)
  const { terms } = await fetchOf('terms')
  expect(terms!.state).toBe('proved')
  expect(terms!.steps!.map(s => s.what)).toContain('a page of terms')
})

test('two windows that ask for the same are given the same job', async () => {
  const works = await ids('slow')
  const first = await post('/retrievals', { works }, 202)
  await until(() => Boolean(release))
  expect(await post('/retrievals', { works }, 202)).toEqual(first)
  release!()
  const { result } = await desk.finish(id, first.job)
  expect((result as { works: Fetched[] }).works[0]!.state).toBe('proved')
})

test('the files of a card are counted, and no more are asked for than it may fetch in a day', async () => {
  expect(await gateNow()).toMatchObject({ today: 2, daily: 60 })
  desk.settings.outside.libraries[0]!.gate!.daily = 2
  expect((await fetchOf('members')).members!.state).toBe('limit')
  desk.settings.outside.libraries[0]!.gate!.daily = 60
})

/** What is fetched by itself, once its time has come. */
async function comesByItself(): Promise<Fetched[]> {
  const before = Number(await desk.context.db.jobs.max('id'))
  await fetchAwaited(desk.context)
  // another process may look at the same time
  expect(await fetchAwaited(desk.context)).toBe(0)
  const jobs = await desk.context.db.jobs.findAll({ where: { id: { [Op.gt]: before }, kind: 'retrieval' }, raw: true })
  const ended = await Promise.all(jobs.map(j => desk.finish(id, j.id)))
  expect(ended.filter(e => e.state !== 'done')).toEqual([])
  return ended.flatMap(e => (e.result as { works: Fetched[] }).works)
}
async function letters(): Promise<{ subject: string; text: string }[]> {
  const outside = `http://127.0.0.1:${desk.settings.outside.loopback!.port}`
  return (await request(outside).get('/').set('Host', 'mail.example').expect(200)).body
}
const awaited = async (m: Manner) => (await rowOf(m)).awaited

test('what the card could not bring today comes by itself tomorrow, and is told by mail', async () => {
  expect(await awaited('members')).toEqual({ day: '2026-10-08', why: 'limit' })
  expect(await comesByItself()).toEqual([])
  await standOn(desk.context.db, '2026-10-08')
  expect((await comesByItself()).map(f => [f.title, f.state])).toEqual([[TITLES.members, 'sign in']])
  expect(await awaited('members')).toBeNull()
  expect((await letters()).map(l => l.subject)).toEqual(['1 text did not come yet: Lamps'])
  expect((await letters())[0]!.text).toContain(
    `${TITLES.members}\n  lanternhill.example asks to sign in, in its own way.`,
  )
})

test('a session that ended at the gate is not called one here', async () => {
  expect((await lookAtGate()).until).not.toBeNull()
  session = ''
  expect((await gateNow()).until).not.toBeNull()
  expect((await lookAtGate()).until).toBeNull()
})

test('what stood behind the gate comes by itself once one has signed in', async () => {
  const works = await ids('plain')
  await desk.context.db.copies.destroy({ where: { workId: works } })
  await signIn()
  // kept by a server that had another secret
  await desk.context.db.sequelize.query(`UPDATE gate_sessions SET cookie = 'unreadable'`)
  expect((await fetchOf('plain')).plain!.state).toBe('gate needed')
  expect(await awaited('plain')).toEqual({ day: '2026-10-08', why: 'gate' })
  expect(await comesByItself()).toEqual([])
  await signIn()
  expect((await comesByItself()).map(f => f.state)).toEqual(['proved'])
  expect(await awaited('plain')).toBeNull()
})

test('what began by itself and failed for good is asked for again the day after, and told', async () => {
  const works = await ids('plain')
  await desk.context.db.copies.destroy({ where: { workId: works } })
  const owner = (await desk.context.db.users.findOne({ where: { email: 'owner@desk.example' }, raw: true }))!
  // the server ended in the middle of it twice, and now a third time
  const { id: job } = await desk.context.db.jobs.create({
    ...{ kind: 'retrieval', inquiryId: id, userId: owner.id, payload: { works, byItself: true }, progress: {} },
    ...{ state: 'running', worker: 'gone', losses: 2, leaseUntil: new Date(Date.now() - 1000) },
  })
  expect((await desk.finish(id, job)).state).toBe('failed')
  await until(async () => (await awaited('plain')) !== null)
  expect(await awaited('plain')).toEqual({ day: '2026-10-09', why: 'failed' })
  await until(async () => (await letters()).length === 2)
  expect((await letters())[1]!.text).toContain('not begun again by itself')
  expect((await letters())[1]!.text).toContain('It is asked for again tomorrow.')
  await standOn(desk.context.db, '2026-10-09')
  await signIn()
  expect((await comesByItself()).map(f => f.state)).toEqual(['proved'])
})

test('what opens later comes on its day, unless that is called off', async () => {
  expect(await awaited('embargo')).toEqual({ day: '2026-10-20', why: 'opens' })
  const works = await ids('embargo')
  const wants = (wanted: boolean, of = works) => desk.owner.put(`${at}/awaited`).send({ works: of, wanted })
  await wants(false).expect(204)
  expect(await awaited('embargo')).toBeNull()
  await wants(true).expect(204)
  const refused = await wants(true, await ids('wrong')).expect(422)
  expect(refused.body.code).toBe('opens-never')
  await standOn(desk.context.db, '2026-10-20')
  isOpen = true
  // where no mail is set up it comes without one
  const outside: Partial<Desk['settings']['outside']> = desk.settings.outside
  const { mail } = outside
  delete outside.mail
  expect((await comesByItself()).map(f => f.state)).toEqual(['proved'])
  outside.mail = mail
  expect(await comesByItself()).toEqual([])
})

test('letters to an author are noted by their days; their address stands in copies of theirs', async () => {
  const [work] = await ids('wrong')
  const note = (body: object) => desk.owner.put(`${at}/works/${work}/author`).send(body)
  await note({ wrote: ['2026-10-21'] }).expect(422)
  await note({ wrote: ['2026-10-12', '2026-10-05'] }).expect(422)
  await note({ wrote: ['2026-10-32'] }).expect(422)
  await note({ wrote: ['2026-10-12'] }).expect(204)
  const row = await rowOf('wrong')
  expect(row.author).toEqual({ wrote: ['2026-10-12'], declined: false })
  expect(row.routes!.find(r => r.way === 'author')!.evidence).toMatch(/^You wrote on 12 October 2026; a week/)
  await note({ wrote: [] }).expect(204)
  expect((await rowOf('wrong')).author).toBeNull()
  expect(await get(`/works/${work}/author`)).toEqual([
    { mail: 'm.lune@dusk.example', name: 'Mara Lune', said: expect.stringMatching(/^on page 1 of “/) },
  ])
})

test('a book on its shelf is a way; what was seen there is kept, and taken back', async () => {
  const book = async () => (await rows()).find(r => r.title === 'Lamps of the old harbour')!
  const { id: work, reach, routes } = await book()
  expect(reach).toBe('within reach')
  expect(routes![0]).toMatchObject({ way: 'shelf', shelf: { branch: 'Hill Branch', call: 'QL561 .L8 1998' } })
  const look = (found: boolean | null, branch = 'Hill Branch') =>
    desk.owner.post(`${at}/works/${work}/shelf`).send({ branch, call: 'QL561 .L8 1998', found })
  await look(false).expect(201)
  expect((await book()).reach).toBe('out of reach')
  await look(true).expect(201)
  expect((await book()).routes![0]).toMatchObject({ evidence: 'You found it at Hill Branch.', likely: 0.95 })
  // a book in the bag is no copy that was read
  expect((await book()).reach).toBe('within reach')
  await look(null).expect(201)
  expect((await book()).routes).toEqual(routes)
  await look(true, 'Nowhere').expect(404)
})

test('its library is asked what is in now: that stands before what the record says, and outlives its silence', async () => {
  const book = async () => (await rows()).find(r => r.title === 'Lamps of the old harbour')!
  const { id: work } = await book()
  const look = async () => {
    const { job } = await post('/routes', { works: [work] }, 202)
    expect((await desk.finish(id, job)).state).toBe('done')
    const { routes, trouble, reach } = await book()
    return { shelves: routes!.filter(r => r.way === 'shelf'), trouble, reach }
  }
  onShelf = { status: 2, back: '2026-10-20' }
  const out = await look()
  expect(out.shelves).toMatchObject([
    { expected: '2026-10-21', library: { key: 'home' }, shelf: { call: 'QL561 .L8 1998', out: true } },
  ])
  expect(out.shelves[0]!.evidence).toContain('It is out until 20 October 2026')
  onShelf = { status: 1 }
  const there = await look()
  expect(there.shelves[0]).toMatchObject({ likely: 0.95, shelf: { branch: 'Hill Branch', said: 'It is in' } })
  expect([there.trouble, there.reach]).toEqual([null, 'within reach'])

  // what was seen there is of this library
  const seen = { branch: 'Hill Branch', call: 'QL561 .L8 1998', found: false }
  await desk.owner.post(`${at}/works/${work}/shelf`).send(seen).expect(404)
  await desk.owner
    .post(`${at}/works/${work}/shelf`)
    .send({ ...seen, library: 'home' })
    .expect(201)
  expect((await book()).reach).toBe('out of reach')

  onShelf = undefined
  const silent = await look()
  expect(silent.trouble).toContain('What is in now on the shelves of Halverane Library is not known.')
  // one that does not answer has not said no, nor does it take back what was seen
  expect(silent.shelves).toMatchObject([
    { library: { key: 'home' }, shelf: { said: 'It is in' }, walked: { ended: 'gone' } },
  ])
})

test('the silence of an author is told by mail after a week, once, and not where the text came', async () => {
  const [silent, came] = [...(await ids('wrong')), ...(await ids('plain'))]
  const note = (work: number | undefined, body: object) => desk.owner.put(`${at}/works/${work}/author`).send(body)
  await note(silent, { wrote: ['2026-10-13', '2026-10-20'] }).expect(204)
  await note(came, { wrote: ['2026-10-20'] }).expect(204)
  expect(await remindOfLetters(desk.context)).toBe(0)
  await standOn(desk.context.db, '2026-10-27')
  const before = (await letters()).length
  expect(await remindOfLetters(desk.context)).toBe(2)
  expect(await remindOfLetters(desk.context)).toBe(0)
  await until(async () => (await letters()).length > before)
  const { subject, text } = (await letters()).at(-1)!
  expect(subject).toBe('No answer to a letter yet: Lamps')
  expect(text).toContain(
    `${TITLES.wrong}\n  You wrote on 13 October 2026 and on 20 October 2026, and nothing came. Its other ways`,
  )
  expect(text).not.toContain(TITLES.plain)
  await note(silent, { wrote: [] }).expect(204)
  await note(came, { wrote: [] }).expect(204)
})
