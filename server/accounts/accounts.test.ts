import { afterAll, beforeAll, expect, test } from '@jest/globals'
import request from 'supertest'
import { createApp } from '../app'
import { CARD } from '../../standins/gate'
import { newInquiry, openDesk, PASSWORD, type Desk } from '../test/desk'
import { until } from '../test/running'
import { smallOutside } from '../test/small-world'
import { weakness } from './passwords'
import { MOST_TRIES } from './tries'

let desk: Desk
beforeAll(async () => {
  desk = await openDesk('accounts', smallOutside())
})
afterAll(() => desk.close())

const forget = () => desk.context.db.sequelize.query('DELETE FROM tries')
const try_ = (email: string, password: string, headers: Record<string, string> = {}) => {
  const r = request(desk.app).post('/api/session')
  for (const [k, v] of Object.entries(headers)) void r.set(k, v)
  return r.send({ email, password })
}

test.each([
  ['short', 'letters or more'],
  ['password123', 'too easy'],
  ['qwertyuiopasdfgh', 'too easy'],
  ['aaaaaaaaaaaaaaaa', 'too easy'],
  ['ada.okafor2024', 'your own name'],
])('“%s” will not do: %s', (password, said) => {
  expect(weakness(password, ['ada.okafor@desk.example', 'Ada Okafor'])).toContain(said)
})
test.each(['walk-the-vine', 'moth lantern gravel teacup', 'x9!kQ2#mW7pz', '街灯と蛾の飛来に関する夜間調査'])(
  '“%s” will do',
  password => {
    expect(weakness(password)).toBeUndefined()
  },
)

test('a changed password signs out everywhere else, and the old one opens nothing', async () => {
  const [a, b] = [await desk.signIn('stranger@desk.example'), await desk.signIn('stranger@desk.example')]
  expect((await a.get('/api/account/sessions')).body).toHaveLength(2)
  const change = (current: string, password: string) => a.put('/api/account/password').send({ current, password })
  expect((await change('not it', 'moth lantern gravel teacup').expect(422)).body.fields[0].field).toBe('current')
  expect((await change(PASSWORD, 'password123').expect(422)).body.code).toBe('weak-password')
  expect((await change(PASSWORD, PASSWORD).expect(422)).body.code).toBe('weak-password')
  expect((await change(PASSWORD, 'moth lantern gravel teacup').expect(200)).body).toEqual({ ended: 1 })
  await a.get('/api/inquiries').expect(200)
  await b.get('/api/inquiries').expect(401)
  await try_('stranger@desk.example', PASSWORD).expect(401)
  await try_('stranger@desk.example', 'moth lantern gravel teacup').expect(200)
  await change('moth lantern gravel teacup', 'a gravel path of teacups').expect(200)
})

test('sessions are listed by names that open nothing, and ended one by one or all but this one', async () => {
  const [here, there, other] = [
    await desk.signIn('reader@desk.example'),
    await desk.signIn('reader@desk.example'),
    await desk.signIn('reader@desk.example'),
  ]
  const list = async () => (await here.get('/api/account/sessions').expect(200)).body as { id: string; here: boolean }[]
  const before = await list()
  expect(before.filter(s => s.here)).toHaveLength(1)
  const [rows] = await desk.context.db.sequelize.query('SELECT sid FROM sessions')
  for (const { sid } of rows as { sid: string }[]) expect(JSON.stringify(before)).not.toContain(sid)
  const theirs = (await there.get('/api/account/sessions')).body.find((s: { here: boolean }) => s.here)
  await here.delete(`/api/account/sessions/${theirs.id}`).expect(204)
  await there.get('/api/inquiries').expect(401)
  await here.delete('/api/account/sessions/0123456789abcdef').expect(404)
  const stranger = await desk.signIn('owner@desk.example')
  await stranger.delete(`/api/account/sessions/${before[0]!.id}`).expect(404)
  expect((await here.delete('/api/account/sessions').expect(200)).body.ended).toBeGreaterThanOrEqual(1)
  await other.get('/api/inquiries').expect(401)
  expect(await list()).toHaveLength(1)
})

test('administrators make accounts and passwords for one sign-in; to anybody else the page does not exist', async () => {
  const owner = await desk.signIn('owner@desk.example')
  await owner.get('/api/accounts').expect(404)
  await request(desk.app).get('/api/accounts').expect(401)
  await desk.context.db.users.update({ role: 'administrator' }, { where: { email: 'owner@desk.example' } })
  const made = (await owner.post('/api/accounts').send({ email: 'New@desk.example', name: 'New' }).expect(201)).body
  expect(made.password).toMatch(/^(?:[a-z2-9]{4}-){3}[a-z2-9]{4}$/)
  expect(
    (await owner.post('/api/accounts').send({ email: 'new@desk.example', name: 'Again' }).expect(409)).body.fields[0]
      .field,
  ).toBe('email')
  const agent = request.agent(desk.app)
  expect(
    (await agent.post('/api/session').send({ email: 'new@desk.example', password: made.password })).body.user,
  ).toMatchObject({ role: 'student', mustChange: true })
  for (const path of ['/inquiries', '/desk', '/gate'])
    expect((await agent.get(`/api${path}`).expect(403)).body.code).toBe('change-password')
  await agent
    .put('/api/account/password')
    .send({ current: made.password, password: 'moth lantern gravel teacup' })
    .expect(200)
  await agent.get('/api/inquiries').expect(200)
  const reset = (await owner.post(`/api/accounts/${made.id}/password`).expect(201)).body
  expect(reset.ended).toBe(1)
  await agent.get('/api/inquiries').expect(401)
  const listed = (await owner.get('/api/accounts')).body.find((a: { id: number }) => a.id === made.id)
  expect(listed).toMatchObject({ email: 'new@desk.example', mustChange: true, sessions: 0, inquiries: 0 })
  expect(JSON.stringify(listed)).not.toContain('argon2')
  await owner.post('/api/accounts/999999/password').expect(404)
  await desk.context.db.users.update({ role: 'student' }, { where: { email: 'owner@desk.example' } })
  await owner.get('/api/accounts').expect(404)
})

test('tries are limited for one account from many addresses, and for one address over many accounts', async () => {
  await forget()
  const behind = createApp({ ...desk.context, settings: { ...desk.settings, behindProxy: true } })
  const from = (address: string, email: string, password: string) =>
    request(behind.app).post('/api/session').set('X-Forwarded-For', address).send({ email, password })
  for (let i = 0; i < MOST_TRIES.account; i++) await from(`192.0.2.${i}`, 'reader@desk.example', 'wrong').expect(401)
  const locked = await from('192.0.2.99', 'reader@desk.example', PASSWORD).expect(429)
  expect(locked.body.code).toBe('too-many-tries')
  expect(Number(locked.headers['retry-after'])).toBeGreaterThan(60)
  await from('192.0.2.99', 'owner@desk.example', PASSWORD).expect(200)
  for (let i = 0; i < MOST_TRIES.address; i++) await from('192.0.2.200', `nobody${i}@desk.example`, 'wrong').expect(401)
  await from('192.0.2.200', 'owner@desk.example', PASSWORD).expect(429)
  // an address that the client makes up itself is not the one that counts
  await request(behind.app)
    .post('/api/session')
    .set('X-Forwarded-For', '198.51.100.7, 192.0.2.200')
    .send({ email: 'owner@desk.example', password: PASSWORD })
    .expect(429)
  behind.close()
  // what is kept of tries names nobody
  const [rows] = await desk.context.db.sequelize.query('SELECT about FROM tries')
  expect(JSON.stringify(rows)).not.toMatch(/desk\.example|192\.0/)
  await forget()
})

test('the gate takes few tries too, and card and password leave no trace', async () => {
  const owner = await desk.signIn('owner@desk.example')
  const made = await owner.post('/api/inquiries').send({ question: 'What do lamps do?', zone: 'UTC', style: 'apa' })
  const { id } = made.body as { id: number }
  const gate = (password: string) =>
    owner
      .post(`/api/inquiries/${id}/gates/home`)
      .set('Idempotency-Key', `gate-${password}`.padEnd(12, '-'))
      .send({ card: CARD.card, password })
  await gate(CARD.password).expect(201)
  for (let i = 0; i < MOST_TRIES.gate; i++) await gate(`wrong-${i}-password`).expect(422)
  await gate(CARD.password).expect(429)
  await forget()
  for (const table of ['answers', 'gate_sessions', 'tries', 'sessions', 'jobs', 'attempts']) {
    const [rows] = await desk.context.db.sequelize.query(`SELECT * FROM ${table}`)
    const text = (rows as Record<string, unknown>[])
      .map(r =>
        Object.values(r)
          .map(v => (Buffer.isBuffer(v) ? v.toString('latin1') : JSON.stringify(v)))
          .join(),
      )
      .join()
    expect(text).not.toContain(CARD.card)
    expect(text).not.toContain(CARD.password)
  }
  const [answers] = await desk.context.db.sequelize.query(
    `SELECT COUNT(*) AS n FROM answers WHERE answer_key LIKE 'gate%'`,
  )
  expect(Number((answers as { n: number }[])[0]!.n)).toBe(0)
})

test('rights end when they end: the stream of changes, replays and files', async () => {
  const id = await newInquiry(desk)
  const reader = (await desk.context.db.users.findOne({ where: { email: 'reader@desk.example' }, raw: true }))!
  await desk.context.db.memberships.create({ inquiryId: id, userId: reader.id, role: 'reader' })
  const agent = await desk.signIn('reader@desk.example')
  let listens = false
  const stream = agent
    .get(`/api/inquiries/${id}/events`)
    .buffer(true)
    .parse((res, done) => {
      let text = ''
      res.on('data', (d: Buffer) => {
        text += d.toString()
        listens = true
      })
      res.on('end', () => done(null, text))
    })
  const ended = stream.then(r => r.body as string)
  await until(() => listens)
  await desk.context.db.memberships.destroy({ where: { inquiryId: id, userId: reader.id } })
  expect(await ended).toContain('event: revision')
  await agent.get(`/api/inquiries/${id}`).expect(404)
})

test('a reader looks, and nothing is written', async () => {
  const id = await newInquiry(desk)
  const owner = await desk.signIn('owner@desk.example')
  const made = (await owner.post(`/api/inquiries/${id}/sweeps`).send({ query: 'moth', catalogues: ['broadleaf'] })).body
  await desk.finish(id, made.job)
  await owner.post(`/api/inquiries/${id}/pool`).send({ sweep: made.id, all: true, records: [] }).expect(201)
  const reader = (await desk.context.db.users.findOne({ where: { email: 'reader@desk.example' }, raw: true }))!
  await desk.context.db.memberships.create({ inquiryId: id, userId: reader.id, role: 'reader' })
  const agent = await desk.signIn('reader@desk.example')
  const work = ((await agent.get(`/api/inquiries/${id}/works`)).body as { id: number; doi: string }[]).find(w => w.doi)!
  const sums = async () => {
    const { sequelize } = desk.context.db
    const tables = ((await sequelize.query('SHOW TABLES'))[0] as object[])
      .map(r => String(Object.values(r)[0]))
      .filter(t => !/^(jobs|tries)$/.test(t))
    return (await sequelize.query(`CHECKSUM TABLE ${tables.join(', ')} EXTENDED`))[0]
  }
  const before = await sums()
  const paths = [
    '',
    '/brief',
    '/sheet',
    '/works',
    '/works/changes',
    `/works/${work.id}`,
    '/sweeps',
    `/sweeps/${made.id}/records`,
    '/graph',
    '/rounds/plan?scope=kept',
    `/works/${work.id}/trail`,
    '/twins',
    '/flow',
    '/history',
    '/checks',
    '/routes',
    '/bibliography',
    '/imports',
    '/jobs',
    '/strands',
    '/views',
    '/standing',
    '/harvest',
    '/methods',
    '/log.csv',
    '/catalogue-shares',
    '/arrivals',
  ]
  for (const p of paths) expect([p, (await agent.get(`/api/inquiries/${id}${p}`)).status]).toEqual([p, 200])
  for (const p of ['/counts', '/years', '/catalogues/broadleaf'])
    await agent
      .post(`/api/inquiries/${id}${p}`)
      .send({ query: 'lamp*', catalogues: ['broadleaf'] })
      .expect(200)
  for (const p of ['/losses', '/rounds'])
    await agent.post(`/api/inquiries/${id}${p}`).send({ query: 'lamp*' }).expect(403)
  expect(await sums()).toEqual(before)
})
