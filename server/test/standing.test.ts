import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { once } from 'node:events'
import type { AddressInfo } from 'node:net'
import request from 'supertest'
import { readXml, all, first, textOf } from '../../core/formats/xml'
import type { Answer } from '../../core/schema/api'
import { outsideWorld } from '../../standins/app'
import { mailbox } from '../../standins/mail'
import { entered } from '../../standins/records'
import { beginDue } from '../standing/standing-service'
import { newInquiry, openDesk, type Desk } from './desk'
import { smallWorld } from './small-world'

const world = smallWorld()
const mail = mailbox()
const CATALOGUES = ['broadleaf', 'lampyr']
let desk: Desk
let id: number
let at: string
beforeAll(async () => {
  const smtp = mail.smtp.listen(0, '127.0.0.1')
  await once(smtp, 'listening')
  desk = await openDesk('standing', outsideWorld(world, { mail }), {
    MAIL_PORT: String((smtp.address() as AddressInfo).port),
    DEMO_ACCOUNT: 'owner@desk.example',
  })
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
})
afterAll(async () => {
  await desk.close()
  mail.smtp.close()
})

const get = (path: string) => desk.get(at + path)
const sweep = async (query: string) => {
  const { body } = await desk.owner.post(`${at}/sweeps`).send({ query, catalogues: CATALOGUES }).expect(202)
  await desk.finish(id, body.job)
  return body.id as number
}
const letters = async () => {
  const port = desk.settings.outside.loopback.port
  const { body } = await request(`http://127.0.0.1:${port}`).get('/').set('Host', 'mail.example').expect(200)
  return body as { to: string; subject: string; text: string }[]
}
/** Records that were listed between two days, by the made-up world itself, as the catalogues entered them. */
const listed = (after: string, by: string) =>
  world.works.flatMap(w =>
    CATALOGUES.filter(c => {
      const d = w.catalogues[c]
      return d && d.from > after && d.from <= by && (d.year ?? w.year) >= 2026
    }).map(c => `${c} ${entered({ id: w.id, from: '', how: w.catalogues[c]!, work: w }).title}`),
  )
const runJobs = async () => {
  for (const j of (await get('/jobs')) as { id: number; kind: string }[])
    if (j.kind === 'standing') await desk.finish(id, j.id)
}
const shown = async (standing: number) => ((await get('/standing')) as Answer<'standing'>).find(s => s.id === standing)!

let standing: number
test('a sweep is made to stand: its first run is what later ones are held against', async () => {
  const from = await sweep('year >= 2026')
  const wrong = { sweep: from, name: '', everyDays: 0, mails: true }
  await desk.owner.post(`${at}/standing`).send(wrong).expect(422)
  const made = await desk.owner
    .post(`${at}/standing`)
    .send({ sweep: from, name: 'What is new', everyDays: 7, mails: true })
    .expect(201)
  standing = made.body.id
  expect(made.body).toMatchObject({
    nextDay: '2026-10-12',
    paused: false,
    feed: expect.stringMatching(/^\/api\/feeds\/\w{32}\.atom$/),
  })
  await desk.finish(id, made.body.job)
  expect((await shown(standing)).runs).toMatchObject([{ foundNew: null }])
  expect(await letters()).toEqual([])
})

test('nothing runs before its day; then what is new is told by feed and mail, and only once', async () => {
  expect(await beginDue(desk.context)).toBe(0)
  await desk.owner.post('/api/desk').send({ days: 40 }).expect(201)
  const expected = listed('2026-10-05', '2026-11-14')
  expect(expected.length).toBeGreaterThan(2)
  // two processes look at once
  await Promise.all([beginDue(desk.context), beginDue(desk.context)])
  await runJobs()
  const now = await shown(standing)
  expect(now).toMatchObject({ nextDay: '2026-11-21' })
  expect(now.runs.map(r => r.foundNew)).toEqual([expected.length, null])
  const records = await get(`/sweeps/${now.runs[0]!.id}/records`)
  const fresh = records.filter((r: { isNew: boolean }) => r.isNew)
  expect(
    fresh.map((r: { catalogue: string; item: { title: string } }) => `${r.catalogue} ${r.item.title}`).sort(),
  ).toEqual(expected.sort())

  const post = await letters()
  expect(post).toHaveLength(1)
  expect(post[0]).toMatchObject({ to: 'owner@desk.example', subject: `${expected.length} new: What is new` })
  expect(post[0]!.text).toContain(fresh[0].item.title)

  const { feed } = await shown(standing)
  const answer = await request(desk.app)
    .get(feed)
    .buffer()
    .parse((res, done) => {
      let text = ''
      res.on('data', (p: Buffer) => (text += p.toString()))
      res.on('end', () => done(null, text))
    })
  expect(answer.headers['content-type']).toContain('application/atom+xml')
  const root = first(readXml(answer.body as string), 'feed')
  expect(
    all(root, 'entry')
      .map(e => textOf(first(e, 'title')))
      .sort(),
  ).toEqual(fresh.map((r: { item: { title: string } }) => r.item.title).sort())
})

test('on demand it runs at once, and finds nothing twice', async () => {
  const { body } = await desk.owner.post(`${at}/standing/${standing}/runs`).expect(202)
  await desk.finish(id, body.job)
  expect((await shown(standing)).runs[0]).toMatchObject({ foundNew: 0 })
  expect(await letters()).toHaveLength(1)
})

test('a catalogue that was away in the first run gives no false news later', async () => {
  const other = await newInquiry(desk)
  const path = `/api/inquiries/${other}`
  const swept = await desk.owner.post(`${path}/sweeps`).send({ query: 'moth*', catalogues: CATALOGUES }).expect(202)
  await desk.finish(other, swept.body.job)
  const control = (where: string, body = {}) =>
    request(`http://127.0.0.1:${desk.settings.outside.loopback.port}`)
      .post(where)
      .set('Host', 'control.example')
      .send(body)
      .expect(200)
  await control('/switches/lampyr.example', { mode: '503' })
  const made = await desk.owner
    .post(`${path}/standing`)
    .send({ sweep: swept.body.id, name: 'Moths', everyDays: 1, mails: false })
    .expect(201)
  await desk.finish(other, made.body.job)
  await control('/reset')
  const { body } = await desk.owner.post(`${path}/standing/${made.body.id}/runs`).expect(202)
  await desk.finish(other, body.job)
  const [s] = (await desk.owner.get(`${path}/standing`)).body
  expect(s.runs[0]).toMatchObject({ foundNew: 0 })
})

test('it is paused, renamed, and ended; its runs stay in the log, and its feed is gone', async () => {
  const before = await shown(standing)
  await desk.owner.patch(`${at}/standing/${standing}`).send({ paused: true, name: 'Resting' }).expect(200)
  await desk.owner.post('/api/desk').send({ days: 30 }).expect(201)
  await beginDue(desk.context)
  expect(await shown(standing)).toMatchObject({ name: 'Resting', paused: true, runs: before.runs })
  await desk.owner.delete(`${at}/standing/${standing}`).expect(204)
  expect(await get('/standing')).toEqual([])
  expect(((await get('/sweeps')) as { name: string }[]).filter(s => s.name === 'What is new')).toHaveLength(3)
  await request(desk.app).get(before.feed).expect(404)
})

test('a reader sees standing sweeps but starts none, and a stranger sees nothing', async () => {
  const stranger = await desk.signIn('stranger@desk.example')
  await stranger.get(`${at}/standing`).expect(404)
  await stranger.post(`${at}/standing`).send({}).expect(404)
})
