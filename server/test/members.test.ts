import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals'
import type { Agent } from 'supertest'
import type { Answer } from '../../core/schema/api'
import { addUser } from '../accounts/accounts-service'
import { askerOf } from '../library/libraries-model'
import { newInquiry, openDesk, PASSWORD, type Desk } from './desk'

let desk: Desk
let id: number
let at: string
let bram: Agent
const users: Record<string, number> = {}
const email = (name: string) => `${name}@desk.example`

beforeAll(async () => {
  desk = await openDesk('members')
  for (const name of ['bram', 'cleo']) await addUser(desk.context, email(name), name, PASSWORD)
  for (const u of await desk.context.db.users.findAll({ attributes: ['id', 'email'], raw: true }))
    users[u.email.split('@')[0]!] = u.id
  bram = await desk.signIn(email('bram'))
})
afterAll(() => desk.close())
beforeEach(async () => {
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
})

const takeIn = (name: string, role: string, status = 201, who = desk.owner) =>
  who
    .post(`${at}/members`)
    .send({ email: email(name), role })
    .expect(status)
const members = async () => (await desk.get(`${at}/members`)) as Answer<'members'>
const told = async () => (await members()).map(m => [m.name, m.role, m.isMe, m.isFirst])

describe('taking somebody in', () => {
  test('lets them look, or work on it, from then on; who came first stays first', async () => {
    await bram.get(at).expect(404)
    await desk.owner.post(`${at}/members`).send({ email: ' BRAM@desk.example ', role: 'reader' }).expect(201)
    expect((await bram.get(at).expect(200)).body.role).toBe('reader')
    await bram.post(`${at}/strands`).send({ name: 'Hours' }).expect(403)
    await takeIn('cleo', 'owner')
    expect(await told()).toEqual([
      ['owner', 'owner', true, true],
      ['bram', 'reader', false, false],
      ['cleo', 'owner', false, false],
    ])
    await desk.owner.put(`${at}/members/${users.bram}`).send({ role: 'owner' }).expect(204)
    await bram.post(`${at}/strands`).send({ name: 'Hours' }).expect(201)
    expect((await bram.get('/api/inquiries').expect(200)).body).toHaveLength(1)
  })
  test('needs an account, a role, and is done once', async () => {
    const { body } = await takeIn('nobody', 'reader', 422)
    expect(body).toMatchObject({ code: 'nobody-there', fields: [{ field: 'email' }] })
    await takeIn('bram', 'boss', 422)
    await desk.owner.post(`${at}/members`).send({ email: 'bram', role: 'reader' }).expect(422)
    await takeIn('bram', 'reader')
    expect((await takeIn('bram', 'owner', 409)).body.code).toBe('member-already')
    expect((await takeIn('owner', 'reader', 409)).body.code).toBe('member-already')
    await takeIn('cleo', 'owner', 403, bram)
  })
  test('leaves libraries as they were, however old the account that comes', async () => {
    await takeIn('bram', 'owner')
    const { body } = await bram
      .post('/api/inquiries')
      .send({ title: 'B', question: 'Which?', style: 'apa', zone: 'UTC' })
    const other = body.id as number
    await bram
      .post(`/api/inquiries/${other}/members`)
      .send({ email: email('owner'), role: 'owner' })
      .expect(201)
    expect(users.owner!).toBeLessThan(users.bram!)
    expect(await askerOf(desk.context, other)).toBe(users.bram)
    expect(await askerOf(desk.context, id)).toBe(users.owner)
  })
})

describe('who goes', () => {
  test('is taken out, and sees nothing any more', async () => {
    await takeIn('bram', 'owner')
    await desk.owner.delete(`${at}/members/${users.bram}`).expect(204)
    await bram.get(at).expect(404)
    await desk.owner.delete(`${at}/members/${users.bram}`).expect(404)
    await desk.owner.put(`${at}/members/${users.bram}`).send({ role: 'owner' }).expect(404)
  })
  test('is not who is first, whose libraries are asked', async () => {
    await takeIn('bram', 'owner')
    expect((await bram.delete(`${at}/members/${users.owner}`).expect(409)).body.code).toBe('first-member')
    await bram.put(`${at}/members/${users.owner}`).send({ role: 'reader' }).expect(409)
  })
  test('leaves by themselves, a reader as well; the last who works on it does not', async () => {
    await takeIn('bram', 'reader')
    expect((await desk.owner.delete(`${at}/membership`).expect(409)).body.code).toBe('last-member')
    expect(await told()).toHaveLength(2)
    await bram.delete(`${at}/membership`).expect(204)
    await bram.get(at).expect(404)
    await takeIn('bram', 'owner')
    await desk.owner.delete(`${at}/membership`).expect(204)
    await desk.owner.get(at).expect(404)
    // the libraries of who is next are asked from then on
    expect(await askerOf(desk.context, id)).toBe(users.bram)
    // who only looked came before that one, and works on it now
    await bram
      .post(`${at}/members`)
      .send({ email: email('cleo'), role: 'reader' })
      .expect(201)
    const earlier = { at: new Date('2026-01-01T00:00:00Z') }
    await desk.context.db.memberships.update(earlier, { where: { inquiryId: id, userId: users.cleo! } })
    await bram.put(`${at}/members/${users.cleo}`).send({ role: 'owner' }).expect(204)
    expect(await askerOf(desk.context, id)).toBe(users.cleo)
  })
})
