import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Agent } from 'supertest'
import request from 'supertest'
import { api } from '../../core/schema/api'
import type { Endpoint } from '../../core/schema/api/endpoint'
import { newInquiry, openDesk, type Desk } from './desk'

let desk: Desk
let id: number
let reader: Agent
let stranger: Agent
beforeAll(async () => {
  desk = await openDesk('rights')
  id = await newInquiry(desk)
  reader = await desk.signIn('reader@desk.example')
  stranger = await desk.signIn('stranger@desk.example')
  const user = await desk.context.db.users.findOne({ where: { email: 'reader@desk.example' }, raw: true })
  await desk.context.db.memberships.create({ inquiryId: id, userId: user!.id, role: 'reader' })
})
afterAll(() => desk.close())

interface Layer {
  route?: { path: string; methods: Record<string, boolean> }
  handle?: { stack?: Layer[] }
}

/** Every address that is served, read from the router itself, so that none can be forgotten. */
function served(): string[] {
  const found: string[] = []
  const walk = (stack: Layer[]) => {
    for (const l of stack) {
      if (l.route) for (const m of Object.keys(l.route.methods)) found.push(`${m.toUpperCase()} ${l.route.path}`)
      else if (l.handle?.stack) walk(l.handle.stack)
    }
  }
  walk((desk.app as unknown as { router: { stack: Layer[] } }).router.stack)
  return found.filter(x => x !== 'GET /{*path}')
}
const all = Object.values(api) as Endpoint[]

test('what is served is what is promised, each address once, and nothing else', () => {
  expect(served().sort()).toEqual(all.map(e => `${e.method} ${e.path}`).sort())
})

test('every address below an inquiry is closed to strangers, and every change to readers', async () => {
  // who leaves is none of them any more
  const below = all.filter(
    e => e.path.startsWith('/inquiries/:inquiry/') && !e.path.endsWith('/events') && e !== api.leave,
  )
  expect(below.length).toBeGreaterThan(50)
  for (const { method, path, forReaders } of below) {
    const url = `/api${path.replace(':inquiry', String(id)).replace(/:[a-z]+/g, '1')}`
    const call = (who: Agent) => who[method.toLowerCase() as 'get'](url).set('If-Match', '"1"')
    expect({ url, method, status: (await call(stranger)).status }).toEqual({ url, method, status: 404 })
    const asReader = (await call(reader)).status
    if (method === 'GET' || forReaders)
      expect({ url, refused: asReader === 403 || asReader === 401 }).toEqual({ url, refused: false })
    else expect({ url, method, asReader }).toEqual({ url, method, asReader: 403 })
    expect((await request(desk.app)[method.toLowerCase() as 'get'](url)).status).toBe(401)
  }
})

test('the inquiry itself and its events are closed to strangers, and to readers for changing', async () => {
  await stranger.get(`/api/inquiries/${id}`).expect(404)
  await stranger.get(`/api/inquiries/${id}/events`).expect(404)
  await stranger.delete(`/api/inquiries/${id}`).expect(404)
  await reader.get(`/api/inquiries/${id}`).expect(200)
  await reader.delete(`/api/inquiries/${id}`).expect(403)
  expect((await stranger.get('/api/inquiries')).body).toEqual([])
})

test('a wrong password and an unknown address get the same answer', async () => {
  const wrong = await request(desk.app).post('/api/session').send({ email: 'owner@desk.example', password: 'no' })
  const unknown = await request(desk.app).post('/api/session').send({ email: 'nobody@desk.example', password: 'no' })
  expect([wrong.status, wrong.body]).toEqual([unknown.status, unknown.body])
  expect(wrong.status).toBe(401)
})

test('a request from another site is not carried out', async () => {
  await desk.owner.post('/api/inquiries').set('Origin', 'http://elsewhere.example').send({}).expect(403)
  await desk.owner.post('/api/inquiries').set('Sec-Fetch-Site', 'cross-site').send({}).expect(403)
})

test('an unknown address and a broken body are problems with a code', async () => {
  const missing = await desk.owner.get('/api/nowhere').expect(404)
  expect(missing.headers['content-type']).toContain('application/problem+json')
  const broken = await desk.owner.post('/api/inquiries').set('Content-Type', 'application/json').send('{').expect(400)
  expect(broken.body.code).toBe('not-json')
  const wrong = await desk.owner
    .post('/api/inquiries')
    .send({ title: 'x'.repeat(200), due: 'soon', style: '../none', entriesWanted: -1 })
    .expect(422)
  expect(wrong.body.fields.map((f: { field: string }) => f.field)).toEqual(
    expect.arrayContaining(['title', 'question', 'due', 'style', 'entriesWanted']),
  )
})

test('the same key creates once; with other content it is refused', async () => {
  const send = (title: string) =>
    desk.owner
      .post('/api/inquiries')
      .set('Idempotency-Key', 'key-0001-once')
      .send({ title, question: 'q', due: '2026-11-01', style: 'apa', entriesWanted: 1 })
  const [a, b] = [await send('once'), await send('once')]
  expect(a.status).toBe(201)
  expect(b.body.id).toBe(a.body.id)
  expect((await send('other')).status).toBe(422)
})

test('a brief changed in two windows is not overwritten', async () => {
  const url = `/api/inquiries/${id}/brief`
  const body = { title: 'Lamps', question: 'What?', due: '2026-10-30', style: 'ieee', entriesWanted: 4 }
  await desk.owner.patch(url).send(body).expect(428)
  await desk.owner.patch(url).set('If-Match', '"1"').send(body).expect(200)
  await desk.owner.patch(url).set('If-Match', '"1"').send(body).expect(412)
  const now = await desk.owner.get(url).expect(200)
  expect([now.headers.etag, now.body.style]).toEqual(['"2"', 'ieee'])
  await desk.owner.get(url).set('If-None-Match', '"2"').expect(304)
})

test('what is shown of an inquiry is never answered from a stale copy', async () => {
  const url = `/api/inquiries/${id}`
  const before = await desk.owner.get(url).expect(200)
  expect(before.headers['cache-control']).toBe('no-store')
  const q = await desk.context.db.inquiries.findByPk(id)
  await q!.update({ revision: q!.revision + 1 })
  await desk.owner.get(url).set('If-None-Match', before.headers.etag!).expect(200)
})
