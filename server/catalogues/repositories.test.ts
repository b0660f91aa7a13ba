import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals'
import express from 'express'
import { escapeXml } from '../../core/formats/xml'
import type { Answer } from '../../core/schema/api'
import { outsideClient } from '../connect/http'
import { standOn } from '../db/desk-day'
import { newInquiry, openDesk, type Desk } from '../test/desk'
import { takeIn, type RepositorySetting } from './repositories'
import { repositoryOf } from './repositories-model'

/** A repository that is none of ours: dates with the time, four records a page, marks that it may forget. */
interface Held {
  id: string
  title: string
  stamp: string
  set: string
  gone?: boolean
  raw?: string
}
let held: Held[] = []
let asked: Record<string, string>[] = []
/** What happens at a request instead of its answer, by its number from one on. */
let trouble: Record<number, (res: express.Response) => void> = {}
let deletes = 'persistent'
let answeredAt = '2026-10-05T06:00:00Z'
/** Only whole days may be asked from. */
let plainDays = false
const PAGE = 4

const outside = express()
outside.get('/oai', (req, res) => {
  const q = req.query as Record<string, string>
  asked.push(q)
  const odd = trouble[asked.length]
  if (odd) return odd(res)
  const answer = (inside: string) =>
    void res
      .type('text/xml')
      .send(
        `<?xml version="1.0"?><o:OAI-PMH xmlns:o="http://www.openarchives.org/OAI/2.0/"><o:responseDate>${answeredAt}</o:responseDate>${inside}</o:OAI-PMH>`,
      )
  const error = (code: string) => answer(`<o:error code="${code}">${code}!</o:error>`)
  if (q.verb === 'Identify')
    return answer(
      `<o:Identify><o:repositoryName>Wells</o:repositoryName><o:deletedRecord>${deletes}</o:deletedRecord><o:granularity>YYYY-MM-DDThh:mm:ssZ</o:granularity></o:Identify>`,
    )
  if (q.verb === 'ListSets')
    return answer('<o:ListSets><o:set><o:setSpec>art</o:setSpec><o:setName>Articles</o:setName></o:set></o:ListSets>')
  if (q.verb === 'ListMetadataFormats')
    return answer(
      '<o:ListMetadataFormats><o:metadataFormat><o:metadataPrefix>own</o:metadataPrefix><o:metadataNamespace>http://wells.example/own</o:metadataNamespace></o:metadataFormat><o:metadataFormat><o:metadataPrefix>oai_dc</o:metadataPrefix><o:metadataNamespace>http://www.openarchives.org/OAI/2.0/oai_dc/</o:metadataNamespace></o:metadataFormat></o:ListMetadataFormats>',
    )
  if (plainDays && (q.from?.length ?? 0) > 10) return error('badArgument')
  const [at, from, set] = q.resumptionToken
    ? (JSON.parse(q.resumptionToken) as [number, string, string])
    : [0, q.from ?? '', q.set ?? '']
  const all = held.filter(h => h.stamp >= from && h.set.startsWith(set))
  if (!all.length) return error('noRecordsMatch')
  const page = all
    .slice(at, at + PAGE)
    .map(
      h =>
        `<o:record><o:header${h.gone ? ' status="deleted"' : ''}><o:identifier>${h.id}</o:identifier><o:datestamp>${h.stamp}</o:datestamp></o:header>${
          h.gone
            ? ''
            : `<o:metadata>${h.raw ?? `<d:dc xmlns:d="http://purl.org/dc/elements/1.1/"><d:title>${escapeXml(h.title)}</d:title><d:date>2019</d:date><d:type>article</d:type></d:dc>`}</o:metadata>`
        }</o:record>`,
    )
  const token =
    at + PAGE < all.length
      ? `<o:resumptionToken completeListSize="${all.length}">${escapeXml(JSON.stringify([at + PAGE, from, set]))}</o:resumptionToken>`
      : ''
  answer(`<o:ListRecords>${page.join('')}${token}</o:ListRecords>`)
})

let desk: Desk
let setting: RepositorySetting
beforeAll(async () => {
  desk = await openDesk('repositories', outside)
})
afterAll(() => desk.close())
let made = 0
beforeEach(async () => {
  held = Array.from({ length: 10 }, (_, i) => ({
    id: `oai:wells.example:${i}`,
    title: i % 2 ? `Wells of the ${i}th valley` : `Harbours & lamps ${i}`,
    stamp: `2026-09-0${(i % 9) + 1}T10:00:00Z`,
    set: i < 5 ? 'art' : 'book',
  })).sort((a, b) => (a.stamp < b.stamp ? -1 : 1))
  asked = []
  trouble = {}
  deletes = 'persistent'
  plainDays = false
  answeredAt = '2026-10-05T06:00:00Z'
  await standOn(desk.context.db, '2026-10-05')
  setting = { id: `wells${++made}`, name: 'Wells', oai: 'http://wells.example/oai', schema: 'dc', openCopies: false }
  desk.context.settings.outside.catalogues.push(setting)
  desk.context.outside = outsideClient(desk.context.settings.outside)
})

const signal = () => new AbortController().signal
const take = (s: AbortSignal = signal()) => takeIn(desk.context, setting, { signal: s, told: async () => undefined })
const kept = async () => {
  const [rows] = await desk.context.db.sequelize.query(
    'SELECT identifier FROM repository_records WHERE source = ? ORDER BY identifier',
    { replacements: [setting.id] },
  )
  return (rows as { identifier: string }[]).map(r => Number(r.identifier.split(':').at(-1))).sort((a, b) => a - b)
}
const lists = () => asked.filter(q => q.verb === 'ListRecords')

test('all of it is taken in, page by page, once a day; then what was changed and taken back since', async () => {
  await take()
  expect(await kept()).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9])
  expect(lists().map(q => Boolean(q.resumptionToken))).toEqual([false, true, true])
  await take()
  expect(lists()).toHaveLength(3)
  held.push({ id: 'oai:wells.example:10', title: 'New', stamp: '2026-10-05T09:00:00Z', set: 'art' })
  Object.assign(held[2]!, { gone: true, stamp: '2026-10-05T10:00:00Z' })
  const gone = Number(held[2]!.id.split(':').at(-1))
  await standOn(desk.context.db, '2026-10-06')
  await take()
  // from a day before the last answer on, by the repository's own clock
  expect(lists().at(-1)).toMatchObject({ from: '2026-10-04T00:00:00Z', metadataPrefix: 'oai_dc' })
  expect(await kept()).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10].filter(n => n !== gone))
  // nothing was changed since: that is no error
  held = []
  await standOn(desk.context.db, '2026-10-07')
  await take()
  expect(await kept()).toHaveLength(10)
})

test('one set alone is taken in where the settings name it; another begins anew', async () => {
  setting.set = 'art'
  await take()
  expect(await kept()).toEqual([0, 1, 2, 3, 4])
  setting.set = 'book'
  await take()
  expect(await kept()).toEqual([5, 6, 7, 8, 9])
})

test('what breaks off goes on from the page it had come to', async () => {
  const broken: (res: express.Response) => void = res => res.type('xml').send('<o:OAI-PMH><o:ListRecords>')
  trouble[5] = broken
  await expect(take()).rejects.toThrow(/cannot be read/)
  expect(await kept()).toHaveLength(8)
  const before = asked.length
  await take()
  expect(asked.length - before).toBe(1)
  expect(await kept()).toHaveLength(10)
})

test('a mark that was forgotten begins the list again; one that never ends is told', async () => {
  trouble[5] = res => res.type('xml').send('<OAI-PMH><error code="badResumptionToken">Expired</error></OAI-PMH>')
  await take()
  expect(await kept()).toHaveLength(10)
  expect(lists().map(q => Boolean(q.resumptionToken))).toEqual([false, true, true, false, true, true])
  const again: (res: express.Response) => void = res =>
    res.type('xml').send('<OAI-PMH><ListRecords><resumptionToken>x</resumptionToken></ListRecords></OAI-PMH>')
  await standOn(desk.context.db, '2026-10-06')
  for (let i = 1; i <= 40; i++) trouble[asked.length + i] = again
  await expect(take()).rejects.toThrow('Wells gives the same page again and again.')
})

test('"come back later" is waited for; one that knows whole days only is asked by them', async () => {
  trouble[3] = res => void res.status(503).set('Retry-After', '0').end()
  await take()
  expect(await kept()).toHaveLength(10)
  plainDays = true
  await standOn(desk.context.db, '2026-10-06')
  await take()
  expect(lists().at(-1)!.from).toBe('2026-10-04')
})

test('one that does not say what was taken back is gone through whole after a month', async () => {
  deletes = 'no'
  await take()
  const gone = Number(held.shift()!.id.split(':').at(-1))
  await standOn(desk.context.db, '2026-10-20')
  await take()
  expect(await kept()).toContain(gone)
  await standOn(desk.context.db, '2026-11-20')
  await take()
  expect(await kept()).not.toContain(gone)
  expect(await repositoryOf(desk.context.db, setting.id)).toMatchObject({ whole: true, wholeDay: '2026-11-20' })
})

test('one that has nothing at all of a sudden takes nothing away; what came without metadata is told', async () => {
  deletes = 'no'
  held[1]!.raw = ' '
  await take()
  const before = await kept()
  expect(before).toHaveLength(9)
  expect(await repositoryOf(desk.context.db, setting.id)).toMatchObject({ lost: 1 })
  held = []
  await standOn(desk.context.db, '2026-11-20')
  await expect(take()).rejects.toThrow('Those taken in before stand.')
  expect(await kept()).toEqual(before)
})

test('a stop keeps what came', async () => {
  const stop = new AbortController()
  await expect(
    takeIn(desk.context, setting, { signal: stop.signal, told: async () => stop.abort(new Error('stopped')) }),
  ).rejects.toThrow('stopped')
  expect(await kept()).toHaveLength(4)
  await take()
  expect(await kept()).toHaveLength(10)
})

test('a sweep looks it through: what fits is found and counted, what cannot be read is told', async () => {
  held[0]!.raw = '<strange><thing/></strange>'
  const inquiry = await newInquiry(desk)
  const at = `/api/inquiries/${inquiry}`
  const counts = async () =>
    (
      await desk.owner
        .post(`${at}/counts`)
        .send({ query: 'title = well*', catalogues: [setting.id] })
        .expect(200)
    ).body as Answer<'counts'>
  // before the first sweep it is not known, which is no nought
  expect((await counts()).counts[0]).toMatchObject({ count: null, error: null })
  const { body } = await desk.owner
    .post(`${at}/sweeps`)
    .send({ query: 'title = well*', catalogues: [setting.id] })
    .expect(202)
  await desk.finish(inquiry, body.job)
  const [sweep] = (await desk.owner.get(`${at}/sweeps`).expect(200)).body as Answer<'sweeps'>
  const part = sweep!.catalogues[0]!
  const wells = held.filter(h => h.title.startsWith('Wells') && !h.raw).length
  expect(part).toMatchObject({ state: 'done', count: wells, fetched: wells, error: null })
  expect(part.changes.join(' ')).toMatch(
    /its 10 records were taken in and looked through here.*1 of its records cannot/,
  )
  const records = (await desk.owner.get(`${at}/sweeps/${sweep!.id}/records`).expect(200)).body as Answer<'foundRecords'>
  expect(records).toHaveLength(wells)
  expect(records.every(r => r.item.title!.startsWith('Wells'))).toBe(true)
  expect((await counts()).counts[0]).toMatchObject({ count: wells, error: null })
})

test('trying an address tells that it is a repository, with its sets and what the settings want', async () => {
  const { body } = await desk.owner
    .post('/api/catalogues/tried')
    .send({ address: 'http://wells.example/oai', words: 'wells' })
    .expect(200)
  const p = body as Answer<'probe'>
  expect(p).toMatchObject({ title: 'Wells', harvested: true, count: 10, failed: null, schema: 'dc' })
  expect(p.sets).toEqual([{ spec: 'art', name: 'Articles' }])
  expect(p.records).toHaveLength(4)
  expect(JSON.parse(p.setting)).toMatchObject({ oai: 'http://wells.example/oai', schema: 'dc' })
})
