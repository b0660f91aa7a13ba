import { afterAll, beforeAll, expect, jest, test } from '@jest/globals'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { DatabaseError } from 'sequelize'
import request from 'supertest'
import { api } from '../../core/schema/api'
import { fieldsOf, filledWith } from '../../core/schema/filled'
import { BYTES, type Endpoint } from '../../core/schema/api/endpoint'
import { createApp } from '../app'
import { publicAddress } from '../connect/http'
import { describeError } from '../base/log'
import { PROBLEMS } from '../base/problems'
import { newInquiry, openDesk, type Desk } from './desk'

let desk: Desk
let id: number
beforeAll(async () => {
  desk = await openDesk('border')
  id = await newInquiry(desk)
})
afterAll(() => desk.close())

const NUMBERED = [
  'works/:n',
  'imports/:n',
  'jobs/:n',
  'copies/:n',
  'copies/:n/file',
  'entries/:n',
  'sweeps/:n/records',
  'sweeps/:n/against/1',
  'sweeps/1/against/:n',
  'works/:n/trail',
]
test.each(
  NUMBERED.flatMap(p =>
    ['0', '-1', '1e3', '0x10', ' 1', '1.5', '4294967296', '99999999999999999999', 'NaN', 'a', '1%00', '%F0%9F'].map(
      n => [p.replace(':n', n), n] as const,
    ),
  ),
)(
  // prettier-ignore
  'GET …/%s: that is no number, and nobody asks the database',
  async path => {
    const { status, body } = await desk.owner.get(`/api/inquiries/${id}/${path}`)
    expect([400, 404]).toContain(status)
    if (body.code === 'bad-id') expect(body.fields[0].said).toBeTruthy()
  },
)
test.each(['0', 'abc', '1e9', '4294967297'])('/inquiries/%s says that it is no number of an inquiry', async n => {
  const { body } = await desk.owner.get(`/api/inquiries/${n}`).expect(400)
  expect(body.fields).toEqual([{ field: 'inquiry', said: expect.any(String) }])
})
test.each([
  [
    '/decisions',
    { group: crypto.randomUUID(), decisions: [{ id: crypto.randomUUID(), work: 1e12, pass: 'title', choice: 'keep' }] },
    'decisions[0].work',
  ],
  [
    '/marks',
    { group: crypto.randomUUID(), marks: [{ id: crypto.randomUUID(), work: -1, about: 'part', value: 'lead' }] },
    'marks[0].work',
  ],
  ['/links', { a: 1.5, b: 2, verdict: 'same' }, 'a'],
  ['/pool', { sweep: 2 ** 40, records: [] }, 'sweep'],
  ['/entries', { work: 'x' }, 'work'],
  ['/retrievals', { works: [2 ** 33] }, 'works[0]'],
  ['/standing', { sweep: 2 ** 33, name: 'x', everyDays: 1, mails: false }, 'sweep'],
] as [string, object, string][])('POST %s with a number that is none names its field', async (path, body, field) => {
  // prettier-ignore
  const answer = await desk.owner.post(`/api/inquiries/${id}${path}`).send(body).expect(422)
  expect(answer.body.fields.map((f: { field: string }) => f.field)).toContain(field)
})

test.each([[[]], [{ $ne: 1 }], [[[1]]], [true], ['\u0000']] as [unknown][])(
  'no body whose every field is %j brings any address down',
  async value => {
    const broken: string[] = []
    for (const { method, path, body } of Object.values<Endpoint>(api)) {
      if (!body || body === BYTES) continue
      const address = path.replace(/:([a-z]+)/g, (_, name: string) => (name === 'inquiry' ? String(id) : '1'))
      const verb = method.toLowerCase() as 'post' | 'put' | 'patch' | 'delete'
      const { status } = await desk.owner[verb](`/api${address}`).send(filledWith(body, value) as object)
      if (status === 500) broken.push(`${method} ${path}: ${status}`)
    }
    expect(broken).toEqual([])
  },
)
test('no query that names a thing twice, or by halves, brings any address down', async () => {
  const broken: string[] = []
  for (const { method, path, query } of Object.values<Endpoint>(api)) {
    if (!query) continue
    const fields = fieldsOf(query)!
    const address = path.replace(/:([a-z]+)/g, (_, name: string) => (name === 'inquiry' ? String(id) : '1'))
    const verb = method.toLowerCase() as 'get' | 'post' | 'delete'
    for (const name of Object.keys(fields))
      for (const asked of [
        `${name}=a&${name}=b`,
        `${name}[]=1`,
        `${name}[a]=1`,
        `${name}`,
        `${name}=%00`,
        `${name}=%ED%A0%80`,
      ]) {
        const { status } = await desk.owner[verb](`/api${address}?${asked}`)
        if (status === 500) broken.push(`${method} ${path}?${asked}`)
      }
  }
  expect(broken).toEqual([])
})
test('every problem has an address of ours that tells what it means', async () => {
  const used = new Set<string>()
  const walk = (folder: string) => {
    for (const e of readdirSync(folder, { withFileTypes: true }))
      if (e.isDirectory()) walk(join(folder, e.name))
      else if (/\.ts$/.test(e.name) && !/\.test\.ts$/.test(e.name))
        for (const m of readFileSync(join(folder, e.name), 'utf8').matchAll(
          /new Problem\(\s*(?:e\.status|\d+),\s*'([a-z-]+)'/g,
        ))
          used.add(m[1]!)
  }
  walk('server')
  expect([...used].filter(code => !(code in PROBLEMS))).toEqual([])
  expect(used.size).toBeGreaterThan(30)
  const wrong = (await desk.owner.get('/api/nowhere').expect(404)).body
  expect(wrong.type).toBe('/api/problems/not-found')
  expect((await request(desk.app).get(wrong.type).expect(200)).body.means).toBe(PROBLEMS['not-found'])
  await request(desk.app).get('/api/problems/constructor').expect(404)
})

test('the log says what failed and where, never what it was about', async () => {
  const secret = 'my thoughts on lamps'
  const e = new DatabaseError(
    Object.assign(new Error(`Data too long: ${secret}`), {
      sql: `INSERT INTO marks VALUES ('${secret}')`,
      errno: 1406,
      code: 'ER_DATA_TOO_LONG',
    }),
  )
  expect(describeError(e)).toContain('ER_DATA_TOO_LONG')
  expect(describeError(e)).not.toContain(secret)
  const written: string[] = []
  const spy = jest.spyOn(process.stdout, 'write').mockImplementation(s => (written.push(String(s)), true))
  const broken = createApp({ ...desk.context, db: { ...desk.context.db, inquiries: undefined as never } })
  await request(broken.app)
    .post('/api/session')
    .send({ email: `${secret}@x.example`, password: secret })
  spy.mockRestore()
  broken.close()
  expect(written.join()).not.toContain(secret)
})

test('headers keep a page to itself', async () => {
  const { headers } = await request(desk.app).get('/api/health').expect(200)
  expect(headers['permissions-policy']).toContain('camera=()')
  expect(headers['x-content-type-options']).toBe('nosniff')
  expect(headers['content-security-policy']).toContain("frame-ancestors 'none'")
  const secure = createApp({
    ...desk.context,
    settings: { ...desk.settings, address: 'https://vine.example', behindProxy: true },
  })
  const answer = await request(secure.app)
    .post('/api/session')
    .set('X-Forwarded-Proto', 'https')
    .send({ email: 'owner@desk.example', password: 'a-long-password' })
    .expect(200)
  secure.close()
  expect(answer.headers['set-cookie']![0]).toMatch(/^__Host-vine=.*; Path=\/;.*HttpOnly; Secure; SameSite=Lax$/)
  expect(answer.headers['strict-transport-security']).toBeTruthy()
})

test.each([
  ['93.184.216.34', true],
  ['2606:2800:220:1:248:1893:25c8:1946', true],
  ['127.0.0.1', false],
  ['10.1.2.3', false],
  ['172.16.0.1', false],
  ['192.168.1.1', false],
  ['169.254.169.254', false],
  ['100.64.0.1', false],
  ['0.0.0.0', false],
  ['224.0.0.1', false],
  ['::1', false],
  ['::', false],
  ['fe80::1', false],
  ['fc00::1', false],
  ['::ffff:127.0.0.1', false],
  ['::ffff:10.0.0.1', false],
  ['64:ff9b::a00:1', false],
  ['2002:7f00:1::', false],
  ['not an address', false],
])('%s is public: %s', (address, is) => {
  expect(publicAddress()(address)).toBe(is)
})
test('a private network counts as outside where the settings say so, and only that one', () => {
  const may = publicAddress(['10.20.0.0/16', 'fd00:1::/32'])
  expect(['10.20.3.4', '10.21.0.1', 'fd00:1::9', 'fd00:2::9', '127.0.0.1'].map(may)).toEqual([
    true,
    false,
    true,
    false,
    false,
  ])
})
