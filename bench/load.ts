/**
 * Many students at once on one process: each decides, lists, opens and annotates with a pause of thought between, and
 * reads again what a deed of theirs changed, as the interface does; each has its stream of changes open.
 * Prints how long requests took by what they are, errors, and the processor time of server, database and of the
 * students themselves, which share this machine.
 * npx tsx bench/load.ts      (STUDENTS=200 SECONDS=60 WORKS=200 THINK=2000 PROCESSES=1; SERVER=dist/server/main.js)
 */
import { spawn, type ChildProcess } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as pause } from 'node:timers/promises'
import { Agent, fetch } from 'undici'
import { seeded } from '../core/world/random'
import { hashPassword } from '../server/accounts/passwords'
import { connect } from '../server/db/connection'
import { migrate } from '../server/migrations/migrations'
import { freePort } from '../server/test/running'

const STUDENTS = Number(process.env.STUDENTS ?? 200)
const SECONDS = Number(process.env.SECONDS ?? 60)
const WORKS = Number(process.env.WORKS ?? 200)
const THINK = Number(process.env.THINK ?? 2000)
const SERVER = process.env.SERVER ?? 'dist/server/main.js'
/** So long after a deed the interface reads again. */
const REST = 350
const PASSWORD = 'moth lantern gravel teacup'
const random = seeded(1)
const database = (await import('../scripts/database.mjs' as string)) as {
  startDatabase(folder: string, port: number): Promise<{ password: string; socket?: string }>
  databasePid(folder: string): number
  stopDatabase(folder: string): Promise<boolean>
}

const folder = mkdtempSync(join(tmpdir(), 'vine-load-'))
const dbPort = await freePort()
const { password, socket } = await database.startDatabase(folder, dbPort)
const sql = connect({
  host: '127.0.0.1',
  port: dbPort,
  name: 'vinepath',
  user: 'vinepath',
  password,
  ...(socket ? { socket } : {}),
})
await migrate(sql)
await sql.query(`INSERT INTO clock VALUES (1, '2026-10-05')`)
const webPort = await freePort()
const metricsPort = await freePort()
const address = `http://127.0.0.1:${webPort}/api`
const server: ChildProcess = spawn(process.execPath, [...(process.env.NODE_FLAGS?.split(' ') ?? []), SERVER], {
  env: {
    PATH: process.env.PATH,
    PORT: String(webPort),
    METRICS_PORT: String(metricsPort),
    DB_PORT: String(dbPort),
    DB_PASSWORD: password,
    ...(socket ? { DB_SOCKET: socket } : {}),
    VINE_SECRET: 'for-load-only-for-load-only-for-load',
    STANDINS_PORT: '1',
    LOG_LEVEL: 'fatal',
    NODE_ENV: 'production',
  },
  stdio: ['ignore', 'ignore', 'inherit'],
})
for (;;) {
  if (
    await fetch(`${address}/health`).then(
      r => r.ok,
      () => false,
    )
  )
    break
  await pause(100)
}

interface Student {
  agent: Agent
  cookie: string
  inquiry: number
  works: number[]
  entry: { id: number; version: number }
  since: number
}
/** One request; its time counts under a name where one is given. */
const times = new Map<string, number[]>()
const errors = new Map<string, number>()
let measuring = false
async function ask<T>(
  s: { agent: Agent; cookie?: string },
  method: string,
  path: string,
  name?: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<T> {
  const began = performance.now()
  const answer = await fetch(address + path, {
    method,
    dispatcher: s.agent,
    headers: {
      ...(s.cookie ? { cookie: s.cookie } : {}),
      ...(Buffer.isBuffer(body)
        ? { 'content-type': 'application/octet-stream' }
        : body === undefined
          ? {}
          : { 'content-type': 'application/json' }),
      ...(method === 'GET' ? {} : { 'idempotency-key': randomUUID() }),
      ...headers,
    },
    ...(body === undefined ? {} : { body: Buffer.isBuffer(body) ? body : JSON.stringify(body) }),
  })
  const text = await answer.text()
  if (name && measuring) {
    times.set(name, [...(times.get(name) ?? []), performance.now() - began])
    if (!answer.ok) errors.set(`${name} ${answer.status}`, (errors.get(`${name} ${answer.status}`) ?? 0) + 1)
  } else if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${text.slice(0, 300)}`)
  if (!s.cookie) (s as Student).cookie = (answer.headers.getSetCookie()[0] ?? '').split(';')[0]!
  return (text ? JSON.parse(text) : undefined) as T
}

const ADJECTIVES =
  'amber broad cold dim early faint grey high inner late mild narrow open pale quiet rough slow tall upper warm'.split(
    ' ',
  )
const NOUNS =
  'bats beetles bridges canals gardens harbours hedges lamps lanes lights meadows moths orchards owls quarries rivers roads roofs towers yards'.split(
    ' ',
  )
const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!
const items = (n: number) =>
  Array.from({ length: n }, (_, i) => ({
    id: `k${i}`,
    type: 'article-journal',
    title: `${pick(ADJECTIVES)} ${pick(NOUNS)} and ${pick(ADJECTIVES)} ${pick(NOUNS)} near ${pick(NOUNS)} ${randomUUID().slice(0, 8)}`,
    author: [{ family: `Okafor${i}`, given: 'Ada' }],
    issued: { 'date-parts': [[1980 + (i % 45)]] },
    'container-title': 'Night Papers',
    abstract: `We counted ${pick(NOUNS)} at ${pick(NOUNS)}. `.repeat(12),
  }))

async function enrol(n: number): Promise<Student> {
  const [user] = (await sql.query('INSERT INTO users (email, name, password_hash) VALUES (?, ?, ?)', {
    replacements: [`s${n}@desk.example`, `S${n}`, hash],
  })) as [unknown, unknown]
  void user
  const s = { agent: new Agent({ connections: 6, keepAliveTimeout: 60_000 }) } as Student
  await ask(s, 'POST', '/session', undefined, { email: `s${n}@desk.example`, password: PASSWORD })
  s.inquiry = (
    await ask<{ id: number }>(s, 'POST', '/inquiries', undefined, {
      title: `T${n}`,
      question: 'Q',
      due: '2026-10-29',
      style: 'apa',
      entriesWanted: 3,
    })
  ).id
  const at = `/inquiries/${s.inquiry}`
  const { job } = await ask<{ job: number }>(
    s,
    'POST',
    `${at}/imports`,
    undefined,
    Buffer.from(JSON.stringify(items(WORKS))),
  )
  for (;;) {
    const { state } = await ask<{ state: string }>(s, 'GET', `${at}/jobs/${job}`)
    if (state === 'done') break
    if (state === 'failed') throw new Error('an import failed')
    await pause(100)
  }
  const all = await ask<{ revision: number; lines: { id: number }[] }>(s, 'GET', `${at}/works/changes`)
  s.works = all.lines.map(l => l.id)
  s.since = all.revision
  await ask(s, 'POST', `${at}/decisions`, undefined, {
    group: randomUUID(),
    decisions: [{ id: randomUUID(), work: s.works[0], pass: 'title', choice: 'keep' }],
  })
  s.entry = await ask(s, 'POST', `${at}/entries`, undefined, { work: s.works[0] })
  return s
}
const hash = await hashPassword(PASSWORD)

let open = true
let events = 0
async function listen(s: Student): Promise<void> {
  while (open) {
    try {
      const answer = await fetch(`${address}/inquiries/${s.inquiry}/events`, {
        dispatcher: s.agent,
        headers: { cookie: s.cookie },
      })
      for await (const part of answer.body!)
        events +=
          Buffer.from(part as Uint8Array)
            .toString()
            .split('event: revision').length - 1
    } catch {
      await pause(500)
    }
  }
}

async function readAgain(s: Student): Promise<void> {
  await pause(REST)
  const at = `/inquiries/${s.inquiry}`
  const [changes] = await Promise.all([
    ask<{ revision: number }>(s, 'GET', `${at}/works/changes?since=${s.since}&day=2026-10-05`, 'changes after a deed'),
    ask(s, 'GET', at, 'numbers after a deed'),
  ])
  s.since = changes.revision ?? s.since
}
async function study(s: Student, until: number): Promise<void> {
  const at = `/inquiries/${s.inquiry}`
  await pause(random() * THINK)
  while (Date.now() < until) {
    const what = random()
    if (what < 0.5) {
      const decisions = [
        { id: randomUUID(), work: pick(s.works), pass: 'title', choice: random() < 0.5 ? 'keep' : 'set aside' },
      ]
      await ask(s, 'POST', `${at}/decisions`, 'decide', { group: randomUUID(), decisions })
      void readAgain(s)
    } else if (what < 0.7) {
      await ask(s, 'GET', `${at}/works/changes`, `list ${WORKS} works`)
    } else if (what < 0.9) {
      await ask(s, 'GET', `${at}/works/${pick(s.works)}`, 'open a work')
    } else {
      const { version } = await ask<{ version: number }>(
        s,
        'PATCH',
        `${at}/entries/${s.entry.id}`,
        'annotate',
        { annotation: `We counted ${randomUUID()}. `.repeat(20) },
        { 'if-match': `"${s.entry.version}"` },
      )
      s.entry.version = version
      void readAgain(s)
    }
    await pause(-Math.log(1 - random()) * THINK)
  }
}

/** Processor seconds that a process and its children have had. */
const cpu = (pid: number): number => {
  const f = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ')
  return (Number(f[11]) + Number(f[12])) / 100
}
const students: Student[] = []
for (let n = 0; n < STUDENTS; n += 8)
  students.push(...(await Promise.all(Array.from({ length: Math.min(8, STUDENTS - n) }, (_, i) => enrol(n + i)))))
console.log(`${STUDENTS} students with ${WORKS} works each`)
const streams = students.map(listen)
await pause(3000)
const dbPid = database.databasePid(folder)
const idle = { at: Date.now(), server: cpu(server.pid!), db: cpu(dbPid) }
await pause(10_000)
const share = (now: number, then: number, ms: number) => `${Math.round(((now - then) / (ms / 1000)) * 100)} %`
console.log(
  `${STUDENTS} idle streams: server ${share(cpu(server.pid!), idle.server, Date.now() - idle.at)} of a core, database ${share(cpu(dbPid), idle.db, Date.now() - idle.at)}`,
)
const began = { at: Date.now(), server: cpu(server.pid!), db: cpu(dbPid), own: process.cpuUsage() }
const until = Date.now() + SECONDS * 1000
setTimeout(() => (measuring = true), 3000)
await Promise.all(
  students.map(s => study(s, until).catch((e: unknown) => errors.set(String(e), (errors.get(String(e)) ?? 0) + 1))),
)
measuring = false
const ms = Date.now() - began.at
const own = process.cpuUsage(began.own)
const at = (list: number[], q: number) => list[Math.min(list.length - 1, Math.floor(list.length * q))]!.toFixed(0)
const everything: number[] = []
for (const [name, list] of [...times].sort()) {
  list.sort((a, b) => a - b)
  everything.push(...list)
  console.log(
    `${name.padEnd(24)} ${String(list.length).padStart(6)} requests, p50 ${at(list, 0.5)} ms, p95 ${at(list, 0.95)} ms, p99 ${at(list, 0.99)} ms`,
  )
}
everything.sort((a, b) => a - b)
console.log(
  `${'all'.padEnd(24)} ${String(everything.length).padStart(6)} requests, p50 ${at(everything, 0.5)} ms, p95 ${at(everything, 0.95)} ms, p99 ${at(everything, 0.99)} ms; ${Math.round(everything.length / (SECONDS - 3))} a second`,
)
console.log(
  `processor: server ${share(cpu(server.pid!), began.server, ms)} of a core, database ${share(cpu(dbPid), began.db, ms)}, the students themselves ${Math.round(((own.user + own.system) / 1000 / ms) * 100)} %; ${events} events told`,
)
console.log(errors.size ? [...errors].map(([k, n]) => `${n} × ${k}`).join('\n') : '0 errors')
const metrics = await fetch(`http://127.0.0.1:${metricsPort}/metrics`).then(
  r => r.text(),
  () => '',
)
const lag = /^nodejs_eventloop_lag_p99_seconds (\S+)/m.exec(metrics)?.[1]
if (lag) console.log(`event loop of the server: p99 ${(Number(lag) * 1000).toFixed(0)} ms`)
open = false
for (const s of students) void s.agent.destroy()
server.kill('SIGTERM')
await Promise.race([Promise.all(streams), pause(2000)])
await sql.close()
await database.stopDatabase(folder)
rmSync(folder, { recursive: true, force: true })
process.exit(0)
