import { afterAll, beforeAll, expect, test } from '@jest/globals'
import express, { type Response } from 'express'
import request from 'supertest'
import type { Answer, LoanDraft, Obtainable } from '../../core/schema/api'
import { readXml, type Xml } from '../../core/formats/xml'
import { standOn } from '../db/desk-day'
import { forgetOffices, messagesAt } from '../library/offices'
import { bringItems, newInquiry, openDesk, type Desk } from './desk'
import { until } from './running'

/** What stands where in the catalogue that partners share, by titles: the sign of each library, and where. */
const UNION: Record<string, [sign: string, call: string, state?: string][]> = {
  'Lamps of the far shore': [
    ['XX-KOR', 'K 1'],
    ['XX-LIN', 'L 1'],
  ],
  'Lamps of two towns': [
    ['XX-KOR', 'K 2', 'Available'],
    ['XX-THO', 'T 2', 'Available'],
  ],
  'Lamps that are lent': [['XX-KOR', 'K 3', 'On loan until 2026-10-20']],
  'Lamps of a strange town': [['XX-LIN', 'L 4']],
}
const AT_HOME = 'Lamps of the home shelf'
const NIGHT = 'Moths of the night papers'
const titles = [...Object.keys(UNION), AT_HOME]

let desk: Desk
let id: number
let at: string
/** What the union was asked, and whether it answers; what the office was sent. */
let asked: string[] = []
let isAway = false
const sent: string[] = []

const outside = express()
const xml = (res: Response, inside: string) => void res.type('xml').send(inside)
const field = (tag: string, ...subs: [string, string][]): string =>
  `<datafield tag="${tag}" ind1=" " ind2=" ">${subs.map(([c, v]) => `<subfield code="${c}">${v}</subfield>`).join('')}</datafield>`
const bookOf = (title: string, places: string): string =>
  `<record xmlns="http://www.loc.gov/MARC21/slim"><leader>00000nam a2200000 i 4500</leader>${field('100', ['a', 'Lune, Mara'])}${field('245', ['a', title])}${field('264', ['c', '2009'])}${places}</record>`
const JOURNAL = `<record xmlns="http://www.loc.gov/MARC21/slim"><leader>00000nas a2200000 i 4500</leader>${field('245', ['a', 'Night Papers'])}${field('852', ['8', '1'], ['a', 'XX-MAR'], ['h', 'M 7'])}${field('866', ['8', '1.1'], ['a', '1990-'])}</record>`
const found = (records: string[]): string =>
  `<searchRetrieveResponse><numberOfRecords>${records.length}</numberOfRecords><records>${records.map((r, i) => `<record><recordSchema>marcxml</recordSchema><recordData>${r}</recordData><recordPosition>${i + 1}</recordPosition></record>`).join('')}</records></searchRetrieveResponse>`
const EXPLAIN =
  '<explainResponse><record><recordData><explain><databaseInfo><title>Union</title></databaseInfo><indexInfo><index><map><name set="dc">title</name></map></index></indexInfo><schemaInfo><schema name="marcxml" identifier="info:srw/schema/1/marcxml-v1.1"/></schemaInfo></explain></recordData></record></explainResponse>'

outside.use(express.text({ type: () => true }), (req, res) => {
  const query = String(req.query.query ?? '')
  if (req.hostname === 'loans.halverane.example') {
    sent.push(String(req.body))
    const ref = /<requestingAgencyRequestId>([^<]+)/.exec(String(req.body))?.[1] ?? ''
    return xml(
      res,
      `<ISO18626Message xmlns="http://illtransactions.org/2013/iso18626"><requestConfirmation><confirmationHeader><requestingAgencyRequestId>${ref}</requestingAgencyRequestId><messageStatus>OK</messageStatus></confirmationHeader></requestConfirmation></ISO18626Message>`,
    )
  }
  if (req.query.operation === 'explain') return xml(res, EXPLAIN)
  if (req.hostname === 'shelf.example')
    return xml(res, found(query.includes(AT_HOME) ? [bookOf(AT_HOME, field('852', ['b', 'Hill'], ['h', 'H 1']))] : []))
  if (req.hostname !== 'union.example') return void res.status(404).end()
  asked.push(query)
  if (isAway) return void res.status(503).end()
  if (query.includes('Night Papers')) return xml(res, found([JOURNAL]))
  if (/"city"|city/.test(query)) return xml(res, found([JOURNAL]))
  const title = titles.find(t => query.includes(t)) ?? ''
  const places = (UNION[title] ?? []).map(
    ([sign, call, state], i) =>
      field('852', ['8', String(i + 1)], ['a', sign], ['b', 'Main'], ['h', call]) +
      (state ? field('876', ['8', `${i + 1}.1`], ['j', state]) : ''),
  )
  xml(res, found(UNION[title] ? [bookOf(title, places.join(''))] : []))
})

const rows = async () => (await desk.get(`${at}/routes`)) as Obtainable[]
const row = async (title: string) => (await rows()).find(r => r.title === title)!
const look = async (...wanted: string[]) => {
  const works = (await rows()).filter(r => wanted.includes(r.title)).map(r => r.id)
  const { job } = (await desk.post(`${at}/routes`, { works }, 202)) as { job: number }
  expect((await desk.finish(id, job)).state).toBe('done')
}
const waysOf = async (title: string) =>
  (await row(title)).routes!.map(r => [r.way, r.partner ?? r.library?.name ?? '', r.from].join('|'))

const requestIn = (message: string) =>
  (readXml(message) as { ISO18626Message: { request: Xml } }).ISO18626Message.request
/** The office writes of a request. */
async function says(loan: number, status: string, why = ''): Promise<void> {
  const { request: ref } = (await desk.context.db.loans.findByPk(loan, { raw: true }))!
  const header = `<header><supplyingAgencyId><agencyIdType>ISIL</agencyIdType><agencyIdValue>XX-HALILL</agencyIdValue></supplyingAgencyId><requestingAgencyId><agencyIdType>ISIL</agencyIdType><agencyIdValue>XX-VINE</agencyIdValue></requestingAgencyId><timestamp>2026-10-12T08:00:00Z</timestamp><requestingAgencyRequestId>${ref}</requestingAgencyRequestId></header>`
  await request(desk.app)
    .post(new URL(messagesAt(desk.context, 'home')).pathname)
    .set('Content-Type', 'application/xml')
    .send(
      `<ISO18626Message xmlns="http://illtransactions.org/2013/iso18626"><supplyingAgencyMessage>${header}<messageInfo><reasonForMessage>StatusChange</reasonForMessage>${why}</messageInfo><statusInfo>${status}</statusInfo></supplyingAgencyMessage></ISO18626Message>`,
    )
    .expect(200)
}

beforeAll(async () => {
  desk = await openDesk('partners', outside)
  const [home] = desk.settings.outside.libraries
  home!.holdings = []
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await bringItems(desk, id, [
    ...titles.map(title => ({
      ...{ type: 'book', title, author: [{ family: 'Lune', given: 'Mara' }], id: title },
      issued: { 'date-parts': [[2009]] },
    })),
    {
      ...{ id: NIGHT, type: 'article-journal', title: NIGHT, 'container-title': 'Night Papers', page: '1-9' },
      ...{ volume: '4', author: [{ family: 'Lune', given: 'Mara' }], issued: { 'date-parts': [[1999]] } },
    },
  ])
  const lines = (await desk.get(`${at}/works`)) as { id: number; title: string }[]
  await desk.post(
    `${at}/decisions`,
    {
      group: '00000000-0000-4000-8000-000000000001',
      decisions: lines.map((l, i) => ({
        id: `00000000-0000-4000-8000-${String(100 + i).padStart(12, '0')}`,
        ...{ work: l.id, choice: 'keep', pass: 'title' },
      })),
    },
    201,
  )
})
afterAll(() => desk.close())

test('what a partner has is sent from there, or one goes there; who else has it is not asked of', async () => {
  await look('Lamps of the far shore')
  expect(await waysOf('Lamps of the far shore')).toEqual([
    'loan|Korrin Regional Library|Korrin Regional Library',
    'shelf|Korrin Regional Library|Korrin Regional Library, Main',
    'author||Lune',
  ])
  const { routes, reach, closed } = await row('Lamps of the far shore')
  expect(reach).toBe('within reach')
  expect(routes![0]).toMatchObject({ library: { key: 'home' }, loan: { kind: 'book' } })
  expect(routes![0]!.evidence).toContain('Halverane Library gets the book from there within 2 to 6 working days')
  expect(closed).toContainEqual(
    expect.stringMatching(/^Marlund Letters Archive and Thornavon Institute Library do not have it; asked on/),
  )
})

test('a catalogue that partners share is asked once, and none for what stands at home', async () => {
  asked = []
  await look('Lamps of two towns')
  expect(asked).toHaveLength(1)
  const { routes } = await row('Lamps of two towns')
  expect(routes!.filter(r => r.way === 'loan')).toHaveLength(1)
  expect(routes![0]!.evidence).toContain('Thornavon Institute Library has it too.')
  asked = []
  await look(AT_HOME)
  expect(asked).toEqual([])
  expect((await row(AT_HOME)).closed.at(-1)).toMatch(
    /^Partners were not asked on .*: there was a sure way without them/,
  )
})

test('what is lent there is not asked for by its name, and what only strangers have is no way', async () => {
  await look('Lamps that are lent', 'Lamps of a strange town')
  expect(await waysOf('Lamps that are lent')).toEqual([
    'loan|Halverane Library|Halverane Library',
    'shelf|Korrin Regional Library|Korrin Regional Library, Main',
    'author||Lune',
  ])
  expect(await waysOf('Lamps of a strange town')).toEqual(['loan|Halverane Library|Halverane Library', 'author||Lune'])
})

test('the office is told who has it, the fastest first, and what comes tells how fast they are', async () => {
  const works = [(await row('Lamps of two towns')).id, (await row('Lamps of a strange town')).id]
  const draft = async () => (await desk.post(`${at}/loans/draft`, { works }, 200)) as LoanDraft
  expect((await draft()).works.map(w => w.partners)).toMatchObject([
    [{ library: 'home', names: ['Korrin Regional Library', 'Thornavon Institute Library'] }],
    [],
  ])
  const { loans } = (await desk.post(`${at}/loans`, {
    ...{ library: 'home', accepted: true },
    works: works.map(work => ({ work, kind: 'book' })),
  })) as { loans: number[] }
  await until(() => Promise.resolve(sent.length === 2))
  const told = sent.map(requestIn).find(r => JSON.stringify(r).includes('two towns'))!
  expect(told.supplierInfo).toMatchObject([
    {
      ...{ sortOrder: '1', supplierCode: { agencyIdType: 'ISIL', agencyIdValue: 'XX-KOR' }, callNumber: 'K 2' },
      supplierDescription: 'Korrin Regional Library',
      availabilityNote: expect.stringContaining('It is in: Main, K 2'),
    },
    { sortOrder: '2', supplierCode: { agencyIdValue: 'XX-THO' } },
  ])
  expect(
    sent.map(requestIn).find(r => r !== told && !JSON.stringify(r).includes('two towns'))!.supplierInfo,
  ).toBeUndefined()
  // elements stand in the order of the standard
  const order = [
    'header',
    'bibliographicInfo',
    'publicationInfo',
    'serviceInfo',
    'supplierInfo',
    'requestingAgencyInfo',
    'patronInfo',
  ]
  expect(Object.keys(told).filter(k => order.includes(k))).toEqual(order.filter(k => k in told))

  const mine = ((await desk.get('/api/loans')) as Answer<'loans'>).loans.find(l => l.id === loans[0])!
  expect(mine.suppliers).toEqual(['Korrin Regional Library', 'Thornavon Institute Library'])
  const general = ((await desk.get('/api/loans')) as Answer<'loans'>).loans.find(l => l.id === loans[1])!
  expect(general.suppliers).toEqual([])
  expect(mine.when!.likely).toBeGreaterThanOrEqual(general.when!.likely)
  expect(mine.when!.to < general.when!.to).toBe(true)

  await standOn(desk.context.db, '2026-10-12')
  await says(loans[0]!, '<status>Loaned</status><dueDate>2026-11-09</dueDate>')
  forgetOffices(desk.context)
  const { works: now, offices } = await draft()
  expect(now[0]!.partners[0]!.evidence).toMatch(/from there .* and by 1 that came\.$/)
  expect(offices[0]!.kinds.find(k => k.kind === 'book')!.evidence).toMatch(/, as it says\.$/)
})

test('what an office sends back can be asked of it again, as a request that names the one before', async () => {
  const work = (await row('Lamps of a strange town')).id
  const mine = async () => ((await desk.get('/api/loans')) as Answer<'loans'>).loans.filter(l => l.work === work)
  const [first] = await mine()
  await says(first!.id, '<status>RetryPossible</status>', '<reasonRetry>OnLoan</reasonRetry>')
  expect((await mine())[0]).toMatchObject({
    ...{ state: 'refused', stands: 'Sent back: ask again', said: 'It is on loan.', acts: [] },
  })
  // the office stays a way to it
  expect(await waysOf('Lamps of a strange town')).toContain('loan|Halverane Library|Halverane Library')
  const before = sent.length
  await desk.post(`${at}/loans`, { library: 'home', accepted: true, works: [{ work, kind: 'book' }] })
  await until(() => Promise.resolve(sent.length > before))
  const { request: ref } = (await desk.context.db.loans.findByPk(first!.id, { raw: true }))!
  expect(requestIn(sent.at(-1)!).serviceInfo).toMatchObject({
    ...{ requestType: 'Retry', requestingAgencyPreviousRequestId: ref },
  })
  // what is refused for good is none any more
  const again = (await mine()).find(l => l.id !== first!.id)!
  await says(again.id, '<status>Unfilled</status>')
  expect(await waysOf('Lamps of a strange town')).toEqual(['author||Lune'])
})

test('a scan is made where the year stands; one that does not answer has not said no', async () => {
  await look(NIGHT)
  const before = await waysOf(NIGHT)
  expect(before).toEqual([
    'loan|Marlund Letters Archive|Marlund Letters Archive',
    'shelf|Marlund Letters Archive|Marlund Letters Archive',
    'author||Lune',
  ])
  isAway = true
  await look(NIGHT)
  isAway = false
  expect(await waysOf(NIGHT)).toEqual(before)
  expect((await row(NIGHT)).trouble).toMatch(/Whether .* has it is not known\.$/)
})

test('trying them tells of each what stands there', async () => {
  const { tries } = (await desk.post('/api/libraries/home/tries', { part: 'partners' }, 200)) as Answer<'library'>
  const { holds, said } = tries.find(t => t.part === 'partners')!
  // of the last nothing answers
  expect(holds).toBe(false)
  expect(said).toContain('Marlund Letters Archive: 1 of the first 1 on “city”.')
  expect(said).toContain('Korrin Regional Library: 0 of the first 1 on “city”.')
  expect(said).toMatch(/Estermark Reading Room: .*404/)
  // a catalogue that several share is away once
  isAway = true
  const away = (await desk.post('/api/libraries/home/tries', { part: 'partners' }, 200)) as Answer<'library'>
  isAway = false
  expect(away.tries.find(t => t.part === 'partners')!.said).toMatch(
    /^Korrin Regional Library, Marlund Letters Archive, Thornavon Institute Library: [^:]*503/,
  )
})
