import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { spawn, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import type { Server } from 'node:http'
import { createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Sequelize } from 'sequelize'
import { Api } from '../../demo/api'
import { hashPassword } from '../accounts/accounts'
import { connect } from '../db/connection'
import { migrate } from '../db/migrations'
import { PASSWORD } from './desk'
import { smallOutside } from './small-world'

// the start script is plain JavaScript and has no types
const database = (await import('../../scripts/database.mjs' as string)) as {
  startDatabase(folder: string, port: number): Promise<{ password: string }>
  stopDatabase(folder: string, signal?: string): Promise<boolean>
}

let folder: string
let env: NodeJS.ProcessEnv
let dbPort: number
let server: ChildProcess
let outside: Server
let sql: Sequelize
let api: Api
let id: number

const freePort = async (): Promise<number> => {
  const s = createServer().listen(0, '127.0.0.1')
  await once(s, 'listening')
  const { port } = s.address() as AddressInfo
  await new Promise(r => s.close(r))
  return port
}
const start = async () => {
  server = spawn(process.execPath, [process.env.VINE_SERVER!], { env, stdio: 'ignore' })
  for (let i = 0; i < 150; i++) {
    if (
      await fetch(`http://127.0.0.1:${env.PORT}/api/health`).then(
        r => r.ok,
        () => false,
      )
    )
      return
    await new Promise(r => setTimeout(r, 100))
  }
  throw new Error('the server did not start')
}
const kill = async () => {
  server.kill('SIGKILL')
  await once(server, 'exit')
}
const number = async (query: string): Promise<number> =>
  Number(Object.values(((await sql.query(query))[0] as Record<string, unknown>[])[0]!)[0])
const until = async (holds: () => Promise<boolean>) => {
  for (let i = 0; i < 400; i++) {
    if (await holds()) return
    await new Promise(r => setTimeout(r, 25))
  }
  throw new Error('it did not come about')
}
const control = (path: string, body: object) =>
  fetch(`http://127.0.0.1:${env.STANDINS_PORT}${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-host': 'control.example' },
    body: JSON.stringify(body),
  })

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'vine-crash-'))
  dbPort = await freePort()
  const { password } = await database.startDatabase(folder, dbPort)
  // the stand-ins tell hosts by their header, which fetch does not let us set
  const world = smallOutside()
  outside = world.listen(0, '127.0.0.1')
  outside.prependListener('request', (req: { headers: Record<string, string | undefined> }) => {
    if (req.headers['x-host']) req.headers.host = req.headers['x-host']
  })
  await once(outside, 'listening')
  env = {
    PATH: process.env.PATH,
    PORT: String(await freePort()),
    DB_PORT: String(dbPort),
    DB_PASSWORD: password,
    VINE_SECRET: 'for-tests-only-for-tests-only-for-tests',
    STANDINS_PORT: String((outside.address() as AddressInfo).port),
    LEASE_SECONDS: '2',
    VINE_CHILD: process.env.VINE_CHILD,
    LOG_LEVEL: 'silent',
  }
  sql = connect({ host: '127.0.0.1', port: dbPort, name: 'vinepath', user: 'vinepath', password })
  await migrate(sql)
  await sql.query('INSERT INTO users (email, name, password_hash) VALUES (?, ?, ?)', {
    replacements: ['a@desk.example', 'A', await hashPassword(PASSWORD)],
  })
  await sql.query(`INSERT INTO clock VALUES (1, '2026-10-05')`)
  await start()
  api = new Api(`http://127.0.0.1:${env.PORT}`)
  await api.call('POST', '/session', { email: 'a@desk.example', password: PASSWORD })
  ;({ id } = await api.call<{ id: number }>('POST', '/inquiries', {
    title: 'T',
    question: 'Q',
    due: '2026-10-29',
    style: 'apa',
    entriesWanted: 1,
  }))
}, 60_000)

afterAll(async () => {
  await kill().catch(() => undefined)
  await sql.close().catch(() => undefined)
  outside.closeAllConnections()
  outside.close()
  await database.stopDatabase(folder)
  rmSync(folder, { recursive: true, force: true })
})

test('killed in the middle of an import, the server takes it up again: whole, and once', async () => {
  const entries = Array.from(
    { length: 3000 },
    (_, i) =>
      `@article{k${i}, title={Lamps and moths of town number ${i}}, author={Okafor, Ada}, year=${1990 + (i % 30)}, doi={10.5555/crash.${i}}}`,
  )
  entries.splice(1500, 0, '@article{bad, = {x}}')
  const made = await api.call<{ id: number; job: number }>(
    'POST',
    `/inquiries/${id}/imports`,
    new TextEncoder().encode(entries.join('\n')),
    { 'X-File-Name': 'big.bib' },
  )
  // once while it is read, and once while it is stored
  await until(async () => (await number(`SELECT state = 'running' FROM jobs WHERE id = ${made.job}`)) === 1)
  await kill()
  expect(await number('SELECT COUNT(*) FROM records')).toBe(0)
  await start()
  await until(
    async () =>
      (await number(
        `SELECT COALESCE(JSON_VALUE(progress, '$.step') = 'storing', 0) FROM jobs WHERE id = ${made.job}`,
      )) === 1,
  )
  await kill()
  expect([0, 3000]).toContain(await number('SELECT COUNT(*) FROM records'))
  await start()
  await api.finish(id, made.job)
  expect(await number('SELECT COUNT(*) FROM records')).toBe(3000)
  expect(await number('SELECT COUNT(*) FROM works WHERE successor_id IS NULL')).toBe(3000)
  const { report } = await api.call<{ report: { read: number; refused: { line: number }[] } }>(
    'GET',
    `/inquiries/${id}/imports/${made.id}`,
  )
  expect(report.read).toBe(3000)
  expect(report.refused.map(r => r.line)).toEqual([1501])
}, 120_000)

test('killed in the middle of a sweep, what was fetched stays and the rest is fetched', async () => {
  await control('/switches/civic.example', { mode: 'slow', times: 2 })
  const made = await api.call<{ id: number; job: number }>('POST', `/inquiries/${id}/sweeps`, {
    query: 'light* or lamp* or moth* or sleep',
    catalogues: ['broadleaf', 'civic'],
  })
  await until(async () => (await number(`SELECT COUNT(*) FROM sweep_hits WHERE sweep_id = ${made.id}`)) > 0)
  await kill()
  const before = await number(`SELECT COUNT(*) FROM sweep_hits WHERE sweep_id = ${made.id}`)
  await control('/reset', {})
  await start()
  await api.finish(id, made.job)
  const sweeps = await api.call<{ id: number; catalogues: { state: string; fetched: number; count: number }[] }[]>(
    'GET',
    `/inquiries/${id}/sweeps`,
  )
  const { catalogues } = sweeps.find(s => s.id === made.id)!
  expect(catalogues.map(c => c.state)).toEqual(['done', 'done'])
  const hits = await number(`SELECT COUNT(*) FROM sweep_hits WHERE sweep_id = ${made.id}`)
  expect(hits).toBe(catalogues.reduce((n, c) => n + Math.min(c.count, 200), 0))
  expect(hits).toBeGreaterThanOrEqual(before)
  expect(await number(`SELECT COUNT(DISTINCT record_id) FROM sweep_hits WHERE sweep_id = ${made.id}`)).toBe(hits)
}, 90_000)

test('killed in the middle of fetching, the server goes on, and no copy is there twice', async () => {
  const [sweep] = await api.call<{ id: number }[]>('GET', `/inquiries/${id}/sweeps`)
  await api.call('POST', `/inquiries/${id}/pool`, { sweep: sweep!.id, all: true, records: [] })
  await api.finish(
    id,
    (
      await api.call<{ id: number; job: number }>('POST', `/inquiries/${id}/sweeps`, {
        query: 'light* or moth*',
        catalogues: ['fennmark'],
      })
    ).job,
  )
  const [deposits] = await api.call<{ id: number }[]>('GET', `/inquiries/${id}/sweeps`)
  await api.call('POST', `/inquiries/${id}/pool`, { sweep: deposits!.id, all: true, records: [] })
  const works = (
    await sql.query(
      `SELECT DISTINCT work_id AS id FROM records WHERE source = 'fennmark' AND work_id IS NOT NULL AND JSON_VALUE(facts, '$.embargoUntil') IS NULL LIMIT 5`,
    )
  )[0] as { id: number }[]
  await api.call('POST', `/inquiries/${id}/decisions`, {
    group: crypto.randomUUID(),
    decisions: works.map(w => ({ id: crypto.randomUUID(), work: w.id, pass: 'abstract', choice: 'keep' })),
  })
  await api.finish(id, (await api.call<{ job: number }>('POST', `/inquiries/${id}/routes`, {})).job)
  const { job } = await api.call<{ job: number }>('POST', `/inquiries/${id}/retrievals`, {})
  await until(async () => (await number('SELECT COUNT(*) FROM copies')) >= 2)
  await kill()
  await start()
  await api.finish(id, job)
  const { result } = await api.call<{ result: { works: { state: string }[] } }>('GET', `/inquiries/${id}/jobs/${job}`)
  expect(result.works.map(w => w.state)).toEqual(works.map(() => 'proved'))
  expect(await number('SELECT COUNT(*) FROM copies')).toBe(works.length)
  expect(
    await number(
      'SELECT COUNT(*) FROM blobs b LEFT JOIN (SELECT hash, SUM(LENGTH(bytes)) AS n FROM blob_chunks GROUP BY hash) c USING (hash) WHERE c.n <> b.size OR c.n IS NULL',
    ),
  ).toBe(0)
}, 120_000)

test('a stopped job is cancelled and keeps what it had', async () => {
  await control('/switches/civic.example', { mode: 'slow' })
  const made = await api.call<{ id: number; job: number }>('POST', `/inquiries/${id}/sweeps`, {
    query: 'lamp*',
    catalogues: ['civic'],
  })
  await until(async () => (await number(`SELECT state = 'running' FROM jobs WHERE id = ${made.job}`)) === 1)
  await api.call('DELETE', `/inquiries/${id}/jobs/${made.job}`)
  await until(async () => (await number(`SELECT state = 'cancelled' FROM jobs WHERE id = ${made.job}`)) === 1)
  await control('/reset', {})
}, 30_000)

test('with its database away the server says so, and goes on when it is back', async () => {
  await database.stopDatabase(folder)
  const away = await fetch(`http://127.0.0.1:${env.PORT}/api/health`)
  expect(away.status).toBe(503)
  expect(((await away.json()) as { code: string }).code).toBe('database-away')
  await database.startDatabase(folder, dbPort)
  await until(async () => (await fetch(`http://127.0.0.1:${env.PORT}/api/health`)).ok)
  expect((await api.call<{ title: string }>('GET', `/inquiries/${id}`)).title).toBe('T')
  await api.finish(
    id,
    (await api.call<{ job: number }>('POST', `/inquiries/${id}/sweeps`, { query: 'moth', catalogues: ['broadleaf'] }))
      .job,
  )
}, 60_000)

test('killed between decisions and in the middle of one, the server has lost none and doubled none', async () => {
  const works = (await api.call<{ id: number }[]>('GET', `/inquiries/${id}/works`)).slice(0, 40).map(w => w.id)
  const all = works.map(work => ({ group: randomUUID(), decisions: [{ id: randomUUID(), work, pass: 'title', choice: 'keep' }] })) // prettier-ignore
  const send = (d: (typeof all)[number]) => api.call('POST', `/inquiries/${id}/decisions`, d)
  for (const d of all.slice(0, 10)) await send(d)
  // some of these are taken, some are cut off, and nobody knows which
  const flying = Promise.allSettled(all.slice(10).map(send))
  await new Promise(r => setTimeout(r, 15))
  await kill()
  await flying
  await start()
  // as a browser does that had no answer: all that it is not sure of once more, by the same ids
  for (const d of all.slice(10)) await send(d)
  const mine = all.map(d => `'${d.group}'`).join(', ')
  expect(await number(`SELECT COUNT(*) FROM decisions WHERE group_id IN (${mine})`)).toBe(40)
  expect(
    await number(`SELECT COUNT(*) FROM works WHERE inquiry_id = ${id} AND state = 'kept' AND pass = 'title'`),
  ).toBe(40)
}, 60_000)
