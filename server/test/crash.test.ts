import { spawn } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { once } from 'node:events'
import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Api } from '../../demo/api'
import { freePort, openRunning, pause, until, type Running } from './running'

let desk: Running
let api: Api
let id: number
let number: Running['number']
const { control, kill, start } = {
  control: (path: string, body: object) => desk.control(path, body),
  kill: () => desk.kill(),
  start: () => desk.start(),
}

beforeAll(async () => {
  desk = await openRunning()
  ;({ api, number, inquiry: id } = desk)
})
afterAll(() => desk.close())

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
})

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
})

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
    await desk.sql.query(
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
})

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
})

test('with its database away the server says so, and goes on when it is back', async () => {
  await desk.stopDatabase()
  const away = await fetch(`${desk.address}/api/health`)
  expect(away.status).toBe(503)
  expect(((await away.json()) as { code: string }).code).toBe('database-away')
  await desk.startDatabase()
  await until(async () => (await fetch(`${desk.address}/api/health`)).ok)
  expect((await api.call<{ title: string }>('GET', `/inquiries/${id}`)).title).toBe('T')
  await api.finish(
    id,
    (await api.call<{ job: number }>('POST', `/inquiries/${id}/sweeps`, { query: 'moth', catalogues: ['broadleaf'] }))
      .job,
  )
})

test('begun while its database is away, the server says so and waits for it', async () => {
  await desk.stopDatabase()
  const port = String(await freePort())
  const begun = spawn(process.execPath, [process.env.VINE_SERVER!], {
    env: { ...desk.env, PORT: port },
    stdio: ['ignore', 'pipe', 'ignore'],
  })
  let said = ''
  begun.stdout.on('data', (part: Buffer) => (said += part.toString()))
  await until(() => said.includes('database') || begun.exitCode !== null)
  expect([said, begun.exitCode]).toEqual(['The database does not answer yet. Vine Path waits for it.\n', null])
  await desk.startDatabase()
  await until(() => said.includes(`answers on http://127.0.0.1:${port}`) || begun.exitCode !== null)
  expect(begun.exitCode).toBe(null)
  begun.kill('SIGKILL')
  await once(begun, 'exit')
  await until(async () => (await fetch(`${desk.address}/api/health`)).ok)
})

test('killed between decisions and in the middle of one, the server has lost none and doubled none', async () => {
  const works = (await api.call<{ id: number }[]>('GET', `/inquiries/${id}/works`)).slice(0, 40).map(w => w.id)
  const all = works.map(work => ({
    group: randomUUID(),
    decisions: [{ id: randomUUID(), work, pass: 'title', choice: 'keep' }],
  }))
  const send = (d: (typeof all)[number]) => api.call('POST', `/inquiries/${id}/decisions`, d)
  for (const d of all.slice(0, 10)) await send(d)
  // some of these are taken, some are cut off, and nobody knows which
  const flying = Promise.allSettled(all.slice(10).map(send))
  await pause(15)
  await kill()
  await flying
  await start()
  // as a browser does that had no answer: all that it is not sure of once more, by the same ids
  for (const d of all.slice(10)) await send(d)
  const mine = all.map(d => `'${d.group}'`).join(', ')
  expect(await number(`SELECT COUNT(*) FROM deeds WHERE group_id IN (${mine})`)).toBe(40)
  expect(
    await number(`SELECT COUNT(*) FROM works WHERE inquiry_id = ${id} AND state = 'kept' AND pass = 'title'`),
  ).toBe(40)
})

test('a database that is away for long ends no job and no process', async () => {
  await control('/switches/civic.example', { mode: 'slow', times: 3 })
  const { pid } = desk.server
  const { job } = await api.call<{ job: number }>('POST', `/inquiries/${id}/sweeps`, {
    query: 'light* or lamp* or garden*',
    catalogues: ['broadleaf', 'civic', 'vault'],
  })
  await until(async () => (await number(`SELECT state = 'running' FROM jobs WHERE id = ${job}`)) === 1)
  await desk.stopDatabase('SIGKILL')
  await pause(12_000)
  expect(desk.server.exitCode).toBeNull()
  await desk.startDatabase()
  await control('/reset', {})
  await until(() => fetch(`${desk.address}/api/health`).then(r => r.ok))
  await api.finish(id, job)
  expect(desk.server.pid).toBe(pid)
  expect(await number(`SELECT attempts FROM jobs WHERE id = ${job}`)).toBe(0)
})

test('a reading child that the machine ends is begun again, and the file is not blamed', async () => {
  const entries = Array.from({ length: 6000 }, (_, i) => `@book{c${i}, title={Owls of village ${i}}, year=2001}`)
  const made = await api.call<{ id: number; job: number }>(
    'POST',
    `/inquiries/${id}/imports`,
    new TextEncoder().encode(entries.join('\n')),
  )
  await until(() => desk.children().length > 0)
  for (const pid of desk.children()) process.kill(pid, 'SIGKILL')
  await api.finish(id, made.job)
  const { state, report } = await api.call<{ state: string; report: { read: number } }>(
    'GET',
    `/inquiries/${id}/imports/${made.id}`,
  )
  expect([state, report.read]).toEqual(['done', 6000])
})

test('what was wholly read of a catalogue when the server died is not asked again', async () => {
  // a query whose answer is one page
  let query = ''
  for (let year = 2000; !query; year++) {
    const q = `moth* and year = ${year}`
    const { counts } = await api.call<{ counts: { count: number }[] }>('POST', `/inquiries/${id}/counts`, {
      query: q,
      catalogues: ['broadleaf'],
    })
    if (counts[0]!.count > 0 && counts[0]!.count <= 50) query = q
  }
  await control('/switches/broadleaf.example', { mode: 'slow', times: 4 })
  const { id: sweep, job } = await api.call<{ id: number; job: number }>('POST', `/inquiries/${id}/sweeps`, {
    query,
    catalogues: ['broadleaf'],
  })
  await until(async () => (await number(`SELECT state = 'running' FROM jobs WHERE id = ${job}`)) === 1)
  // the job cannot say how far it is: it stands still right after the last page
  const t = await desk.sql.transaction()
  try {
    await desk.sql.query(`SELECT id FROM jobs WHERE id = ${job} FOR UPDATE`, { transaction: t })
    await until(async () => (await number(`SELECT fetched FROM sweep_catalogues WHERE sweep_id = ${sweep}`)) > 0)
    await kill()
  } finally {
    await t.rollback()
  }
  const part = async () =>
    (await desk.sql.query(`SELECT state, error, fetched FROM sweep_catalogues WHERE sweep_id = ${sweep}`))[0][0]
  const before = await part()
  expect(before).toMatchObject({ state: 'done', error: null })
  await control('/switches/broadleaf.example', { mode: 'dead' })
  await start()
  await until(async () => (await number(`SELECT state = 'done' FROM jobs WHERE id = ${job}`)) === 1)
  await control('/reset', {})
  expect(await part()).toEqual(before)
})
