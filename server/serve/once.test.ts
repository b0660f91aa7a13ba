import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { Sequelize } from 'sequelize'
import { connect } from '../db/connection'
import { newInquiry, openDesk, type Desk } from '../test/desk'

let desk: Desk
let id: number
let at: string
let works: number[]
beforeAll(async () => {
  desk = await openDesk('once')
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  const items = Array.from({ length: 12 }, (_, i) => ({
    id: `i${i}`,
    type: 'article-journal',
    title: `Lamps and the moths of town ${['ash', 'birch', 'cedar', 'dogwood', 'elder', 'fir', 'gorse', 'hazel', 'ivy', 'juniper', 'larch', 'maple'][i]}`,
    author: [{ family: `Okafor-${i}` }],
    issued: { 'date-parts': [[1990 + i]] },
  }))
  const { body } = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .send(Buffer.from(JSON.stringify(items)))
    .expect(202)
  await desk.finish(id, body.job)
  works = ((await desk.owner.get(`${at}/works`)).body as { id: number }[]).map(w => w.id)
  expect(works).toHaveLength(12)
})
afterAll(() => desk.close())

const one = async (sql: string): Promise<number> =>
  Number(Object.values(((await desk.context.db.sequelize.query(sql))[0] as Record<string, unknown>[])[0]!)[0])
const deed = (work: number, choice = 'keep', decision: string = randomUUID(), group: string = randomUUID()) => ({
  group,
  decisions: [{ id: decision, work, pass: 'title', choice }],
})
const send = (body: object, key: string = randomUUID(), path = '/decisions') =>
  desk.owner
    .post(at + path)
    .set('Idempotency-Key', key)
    .send(body)

/** Holds a table, so that what is written into it waits in the middle of its work. */
async function holding<T>(table: string, work: () => Promise<T>): Promise<T> {
  const other: Sequelize = connect(desk.settings.database)
  const t = await other.transaction()
  await other.query(`SELECT * FROM ${table} FOR UPDATE`, { transaction: t })
  try {
    return await work()
  } finally {
    await t.rollback().catch(() => undefined)
    await other.close()
  }
}

test('sent again, a request has its first answer, and is carried out once', async () => {
  const key = randomUUID()
  const body = deed(works[0]!)
  const first = await send(body, key).expect(201)
  const revision = await one(`SELECT revision FROM inquiries WHERE id = ${id}`)
  const again = await send(body, key).expect(201)
  expect(again.body.revision).toBe(first.body.revision)
  expect(await one(`SELECT revision FROM inquiries WHERE id = ${id}`)).toBe(revision)
  expect(await one(`SELECT COUNT(*) FROM deeds WHERE group_id = '${body.group}'`)).toBe(1)
})

test('two of one key at once: one is carried out, and both have its answer', async () => {
  const key = randomUUID()
  const body = deed(works[1]!)
  const [both] = await holding('deeds', async () => {
    const sending = Promise.all([send(body, key), send(body, key)])
    await new Promise(r => setTimeout(r, 400))
    return [sending] as const
  })
  const answers = await both
  expect(answers.map(a => a.status)).toEqual([201, 201])
  expect(answers[0]!.body.revision).toBe(answers[1]!.body.revision)
  expect(await one(`SELECT COUNT(*) FROM deeds WHERE group_id = '${body.group}'`)).toBe(1)
})

test('of a request that failed nothing is there, not even its key: it can be sent again', async () => {
  const key = randomUUID()
  const missing = 4_000_000
  await send(deed(missing), key).expect(422)
  expect(await one(`SELECT COUNT(*) FROM answers WHERE answer_key = '${key}'`)).toBe(0)
  await send(deed(works[2]!), key).expect(201)
  expect(await one(`SELECT COUNT(*) FROM answers WHERE answer_key = '${key}'`)).toBe(1)
})

test('the same key with other content is refused, of files too', async () => {
  const key = randomUUID()
  await send(deed(works[3]!), key).expect(201)
  expect((await send(deed(works[3]!, 'set aside'), key).expect(422)).body.code).toBe('key-reused')
  const file = (text: string, k: string) =>
    desk.owner
      .post(`${at}/imports`)
      .set('Content-Type', 'application/octet-stream')
      .set('Idempotency-Key', k)
      .send(Buffer.from(text))
  const other = randomUUID()
  const a = await file('@book{a, title={Lamps}}', other).expect(202)
  expect((await file('@book{a, title={Lamps}}', other).expect(202)).body).toEqual(a.body)
  expect((await file('@book{b, title={Owls}}', other).expect(422)).body.code).toBe('key-reused')
  await desk.finish(id, a.body.job)
})

test('the same decision by another key is not made twice, and its id does not stand for another choice', async () => {
  const body = deed(works[4]!)
  await send(body).expect(201)
  await send(body).expect(201)
  const other = { ...body, decisions: [{ ...body.decisions[0], choice: 'set aside' }] }
  expect((await send(other).expect(409)).body.code).toBe('id-reused')
  expect(await one(`SELECT COUNT(*) FROM deeds WHERE id = '${body.decisions[0]!.id}'`)).toBe(1)
  expect(await one(`SELECT state = 'kept' FROM works WHERE id = ${works[4]}`)).toBe(1)
})

test('taken back twice, by other ids too, is taken back once', async () => {
  const body = deed(works[5]!)
  await send(body).expect(201)
  for (let i = 0; i < 2; i++) {
    const back = await send({ group: body.group, id: randomUUID() }, randomUUID(), '/undo').expect(201)
    expect(back.body.lines[0].state).toBe('unread')
  }
  expect(await one(`SELECT COUNT(*) FROM deeds WHERE undoes = '${body.group}'`)).toBe(1)
})

test('what another user did is not taken as this one’s', async () => {
  const answer = await desk.owner.post(`${at}/decisions`).set('Vine-User', '4711').send(deed(works[6]!)).expect(401)
  expect(answer.body.code).toBe('other-user')
})

test('an answer kept for one user is not given to another, nor to one whose right ended', async () => {
  const key = randomUUID()
  const body = deed(works[7]!)
  await send(body, key).expect(201)
  const stranger = await desk.signIn('stranger@desk.example')
  await stranger.post(`${at}/decisions`).set('Idempotency-Key', key).send(body).expect(404)
  await desk.context.db.memberships.update({ role: 'reader' }, { where: { inquiryId: id } })
  await send(body, key).expect(403)
  await desk.context.db.memberships.update({ role: 'owner' }, { where: { inquiryId: id } })
})

test('half letters, control characters and deep nesting are mended or refused, and never end in silence', async () => {
  const raw = (json: string) => desk.owner.post(`${at}/marks`).set('Content-Type', 'application/json').send(json)
  const mark = (value: string) =>
    `{"group":"${randomUUID()}","marks":[{"id":"${randomUUID()}","work":${works[8]},"about":"note","value":${value}}]}`
  await raw(mark('"half \\ud83d of a letter\\u0000"')).expect(201)
  const sheet = (await desk.owner.get(`${at}/works/${works[8]}`)).body
  expect(sheet.said.note).toBe('half \ufffd of a letter')
  const deep = '['.repeat(60) + ']'.repeat(60)
  expect((await raw(mark(deep)).expect(422)).body.code).toBe('too-deep')
})

test('the longest texts that the interface allows are kept, in letters of four bytes too', async () => {
  const moons = (n: number) => '🌒'.repeat(n)
  await send(deed(works[9]!)).expect(201)
  const { body: entry } = await send({ work: works[9] }, randomUUID(), '/entries').expect(201)
  const written = moons(25_000)
  await desk.owner.patch(`${at}/entries/${entry.id}`).set('If-Match', '"1"').send({ annotation: written }).expect(200)
  expect((await desk.owner.get(`${at}/entries/${entry.id}`)).body.annotation).toBe(written)
  await desk.owner
    .patch(`${at}/entries/${entry.id}`)
    .set('If-Match', '"2"')
    .send({ annotation: 'x'.repeat(50_001) })
    .expect(422)
})

test('an annotation that arrived is not a conflict with itself when it is sent again', async () => {
  await send(deed(works[10]!)).expect(201)
  const { body: entry } = await send({ work: works[10] }, randomUUID(), '/entries').expect(201)
  const key = randomUUID()
  const write = () =>
    desk.owner
      .patch(`${at}/entries/${entry.id}`)
      .set('If-Match', '"1"')
      .set('Idempotency-Key', key)
      .send({ annotation: 'Once.' })
  expect((await write().expect(200)).body.version).toBe(2)
  expect((await write().expect(200)).body.version).toBe(2)
  await desk.owner.patch(`${at}/entries/${entry.id}`).set('If-Match', '"1"').send({ annotation: 'Other.' }).expect(412)
})

test('where the inquiry is held for long, that is said, and nothing of it is there', async () => {
  const body = deed(works[11]!)
  const answer = await holding('inquiries', () => send(body))
  expect(answer.status).toBe(503)
  expect(answer.body.code).toBe('busy')
  expect(answer.headers['retry-after']).toBe('2')
  expect(await one(`SELECT COUNT(*) FROM deeds WHERE group_id = '${body.group}'`)).toBe(0)
  await send(body).expect(201)
})
