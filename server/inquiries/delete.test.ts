import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { QueryTypes } from 'sequelize'
import { enqueue } from '../jobs/queue'
import { newInquiry, openDesk, type Desk } from '../test/desk'
import { until } from '../test/running'
import { deleteInquiries, forgetUser } from './delete'

let desk: Desk
beforeAll(async () => {
  desk = await openDesk('deleted')
})
afterAll(() => desk.close())

const rows = (sql: string) => desk.context.db.sequelize.query<Record<string, unknown>>(sql, { type: QueryTypes.SELECT })
const count = async (sql: string) => Number(Object.values((await rows(sql))[0]!)[0])

/** An inquiry with something in every table that can hang on one. */
async function full(name: string): Promise<{ id: number; works: number[] }> {
  const id = await newInquiry(desk)
  const at = `/api/inquiries/${id}`
  const post = (path: string, body: object) =>
    desk.owner
      .post(at + path)
      .set('Idempotency-Key', randomUUID())
      .send(body)
  const file = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .set('Idempotency-Key', randomUUID())
    .send(Buffer.from(`@book{a, title={Lamps of ${name}}, year=2001}\n@book{b, title={Owls of ${name}}, year=2002}`))
  await desk.finish(id, file.body.job)
  const works = ((await desk.owner.get(`${at}/works`)).body as { id: number }[]).map(w => w.id)
  await post('/decisions', {
    group: randomUUID(),
    decisions: [{ id: randomUUID(), work: works[0], pass: 'title', choice: 'keep' }],
  }).expect(201)
  await post('/marks', {
    group: randomUUID(),
    marks: [{ id: randomUUID(), work: works[0], about: 'note', value: name }],
  }).expect(201)
  await post('/entries', { work: works[0] }).expect(201)
  await post('/strands', { name }).expect(201)
  await post('/views', { name, limits: {}, words: '' }).expect(201)
  return { id, works }
}

/** Tables that say to which inquiry a row belongs, and how many rows they have for one. */
async function left(id: number): Promise<Record<string, number>> {
  const tables = await rows(
    `SELECT table_name AS t FROM information_schema.columns WHERE table_schema = DATABASE() AND column_name = 'inquiry_id'`,
  )
  const out: Record<string, number> = {}
  for (const { t } of tables) {
    const n = await count(`SELECT COUNT(*) FROM ${String(t)} WHERE inquiry_id = ${id}`)
    if (n) out[String(t)] = n
  }
  return out
}

test('deleted is deleted: rows, files, and answers kept for repeats; what others hold too stays', async () => {
  const a = await full('the same name')
  const b = await full('the same name')
  const c = await full('another name')
  expect(Object.keys(await left(a.id)).length).toBeGreaterThan(8)
  const blobs = await count('SELECT COUNT(*) FROM blobs')
  expect(blobs).toBe(2)
  await desk.owner.delete(`/api/inquiries/${a.id}`).expect(204)
  expect(await left(a.id)).toEqual({})
  expect(await count('SELECT COUNT(*) FROM blobs')).toBe(2)
  expect(await count('SELECT COUNT(*) FROM blob_chunks')).toBe(2)
  await deleteInquiries(desk.context, [b.id])
  expect(await count('SELECT COUNT(*) FROM blobs')).toBe(1)
  expect(await count('SELECT COUNT(*) FROM blob_chunks')).toBe(1)
  expect(await count(`SELECT COUNT(*) FROM works WHERE id IN (${[...a.works, ...b.works].join()})`)).toBe(0)
  expect(Object.keys(await left(c.id)).length).toBeGreaterThan(8)
  await deleteInquiries(desk.context, [c.id])
})

test('a forgotten user takes along what was theirs alone, and nothing that others own', async () => {
  const mine = await full('mine')
  const ours = await full('ours')
  const owner = (await desk.context.db.users.findOne({ where: { email: 'owner@desk.example' }, raw: true }))!
  const other = (await desk.context.db.users.findOne({ where: { email: 'reader@desk.example' }, raw: true }))!
  await desk.context.db.memberships.create({ inquiryId: ours.id, userId: other.id, role: 'owner' })
  await forgetUser(desk.context, owner.id)
  expect(await left(mine.id)).toEqual({})
  expect(await count(`SELECT COUNT(*) FROM users WHERE id = ${owner.id}`)).toBe(0)
  const reader = await desk.signIn('reader@desk.example')
  const works = (await reader.get(`/api/inquiries/${ours.id}/works`).expect(200)).body as { state: string }[]
  expect(works.map(w => w.state).sort()).toEqual(['kept', 'unread'])
  expect(await count(`SELECT COUNT(*) FROM deeds WHERE inquiry_id = ${ours.id} AND user_id IS NULL`)).toBe(2)
})

test('a purge takes away what had its time, and says how much; what is still of use stays', async () => {
  const { db } = desk.context
  const user = (await db.users.findOne({ where: { email: 'reader@desk.example' }, raw: true }))!
  const answer = (answerKey: string) =>
    db.answers.create({ userId: user.id, answerKey, requestHash: 'x', inquiryId: null, status: 201, body: {} })
  await answer('old-answer')
  await answer('new-answer')
  await rows(`SELECT 1`)
  await db.sequelize.query(`UPDATE answers SET at = NOW(3) - INTERVAL 31 DAY WHERE answer_key = 'old-answer'`)
  await db.sequelize.query(
    `INSERT INTO counts (catalogue, query_hash, desk_day, count, at) VALUES ('x', 'a', '2026-10-05', 1, NOW(3) - INTERVAL 9 DAY), ('x', 'b', '2026-10-05', 1, NOW(3))`,
  )
  await db.sequelize.query(`INSERT INTO blobs (hash, size, media_type) VALUES ('orphan', 7, 'text/plain')`)
  await db.sequelize.query(`INSERT INTO blob_chunks (hash, n, bytes) VALUES ('orphan', 0, 'letters')`)
  const held = await count('SELECT COUNT(*) FROM blobs')
  const job = await enqueue(desk.context, 'purge', null, null, {})
  const purge = async () => (await db.jobs.findByPk(job, { raw: true }))!
  await until(async () => ['done', 'failed'].includes((await purge()).state))
  expect(await purge()).toMatchObject({
    state: 'done',
    result: { freed: { answers: 1, counts: 1, files: 1, bytes: 7 } },
  })
  expect((await rows('SELECT answer_key AS k FROM answers')).map(r => r.k)).toContain('new-answer')
  expect(await count('SELECT COUNT(*) FROM counts')).toBe(1)
  expect(await count('SELECT COUNT(*) FROM blobs')).toBe(held - 1)
  expect(await count('SELECT COUNT(*) FROM blob_chunks')).toBe(held - 1)
})
