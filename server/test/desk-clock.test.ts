import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Answer } from '../../core/schema/api'
import { addUser } from '../accounts/accounts-service'
import { tellWorld } from '../desk/desk-service'
import { newInquiry, openDesk, PASSWORD, type Desk } from './desk'
import { until } from './running'
import { smallOutside, smallWorld } from './small-world'

const world = smallWorld()
let desk: Desk
beforeAll(async () => {
  desk = await openDesk('desk_clock', smallOutside(world), {
    DEMO_ACCOUNT: 'owner@desk.example',
    DEMO_SCRIPT: 'no-such-script.mjs',
  })
})
afterAll(() => desk.close())

test('the day is told, and moves ahead with the made-up world', async () => {
  const days = async () => ((await desk.owner.get('/api/desk').expect(200)).body as Answer<'desk'>).days.map(d => d.day)
  expect((await desk.owner.get('/api/desk').expect(200)).body).toMatchObject({
    day: '2026-10-05',
    moves: true,
    laying: false,
  })
  const before = await days()
  expect(before.at(-1)).toBe('2026-10-05')
  expect((await desk.owner.post('/api/desk').send({ days: 7 }).expect(201)).body.day).toBe('2026-10-12')
  expect(world.day).toBe('2026-10-12')
  // what was done before stays on its own day
  expect(await days()).toEqual([...before, '2026-10-12'])
  for (const far of [0, -3, 1.5, 400, 'x']) await desk.owner.post('/api/desk').send({ days: far }).expect(422)
  expect(world.day).toBe('2026-10-12')
})

test('due dates and embargoes are counted from the desk’s day', async () => {
  const id = await newInquiry(desk)
  const { body } = await desk.owner.get(`/api/inquiries/${id}`).expect(200)
  expect(body.daysLeft).toBe(17)
})

test('a question is enough to begin with: its name is taken from it, and nothing counts down', async () => {
  const question = 'How do school gardens change what children eat in small towns of the coast?'
  const { body: made } = await desk.owner.post('/api/inquiries').send({ question }).expect(201)
  const { body } = await desk.owner.get(`/api/inquiries/${made.id}`).expect(200)
  expect(body).toMatchObject({
    title: 'How do school gardens change what children eat in small …',
    due: null,
    daysLeft: null,
    style: 'apa',
  })
  expect(body.rules.entriesWanted ?? null).toBeNull()
  const { body: brief, headers } = await desk.owner.get(`/api/inquiries/${made.id}/brief`).expect(200)
  const { version, ...given } = brief
  expect(version).toBeDefined()
  await desk.owner
    .patch(`/api/inquiries/${made.id}/brief`)
    .set('If-Match', headers.etag!)
    .send({ ...given, due: '2026-12-01' })
    .expect(200)
  expect((await desk.owner.get(`/api/inquiries/${made.id}`)).body.due).toBe('2026-12-01')
  await desk.owner.post('/api/inquiries').send({ title: 'A name alone' }).expect(422)
})

test('where the made-up world does not answer, the desk stays where it is', async () => {
  const { outside } = desk.context
  desk.context.outside = (url, o) =>
    url.includes('control.example') ? outside('http://unknown.invalid/', o) : outside(url, o)
  const { body } = await desk.owner.post('/api/desk').send({ days: 1 }).expect(502)
  expect(body.title).toContain('The desk stays where it is')
  expect((await desk.owner.get('/api/desk')).body.day).toBe('2026-10-12')
  await expect(tellWorld(desk.context, '2026-10-13')).rejects.toThrow()
  desk.context.outside = outside
})

test('only the demo account may have the demo laid anew; a script that fails is said and retried no further', async () => {
  await addUser(desk.context, 'visitor@desk.example', 'visitor', PASSWORD)
  const visitor = await desk.signIn('visitor@desk.example')
  await visitor.post('/api/desk/anew').expect(404)
  expect((await desk.owner.post('/api/desk/anew').expect(202)).body.laying).toBe(true)
  await until(async () => !(await desk.owner.get('/api/desk')).body.laying)
  const [job] = await desk.context.db.jobs.findAll({ where: { kind: 'demo' }, raw: true })
  expect(job).toMatchObject({ state: 'failed', error: expect.stringContaining('could not be laid') })
  // the desk is back on its first day, and the account's inquiries are gone
  expect((await desk.owner.get('/api/desk')).body.day).toBe('2026-10-05')
  expect((await desk.owner.get('/api/inquiries')).body).toEqual([])
})
