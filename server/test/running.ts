import { spawn, type ChildProcess } from 'node:child_process'
import { randomInt } from 'node:crypto'
import { once } from 'node:events'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import type { Server } from 'node:http'
import { createServer, type AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Sequelize } from 'sequelize'
import { Api } from '../../demo/api'
import { hashPassword } from '../accounts/passwords'
import type { Context } from '../base/context'
import { connect } from '../db/connection'
import { enqueue } from '../jobs/queue'
import { migrate } from '../migrations/migrations'
import { PASSWORD } from './desk'
import { smallOutside } from './small-world'

// the start script is plain JavaScript and has no types
const database = (await import('../../scripts/database.mjs' as string)) as {
  startDatabase(folder: string, port: number): Promise<{ password: string; socket: string }>
  stopDatabase(folder: string, signal?: string): Promise<boolean>
}

/** Below the ports that a machine gives to whoever asks for any: one that was free a moment ago is given to nobody else. */
const [FIRST_PORT, LAST_PORT] = [12_000, 32_000]
export const freePort = async (): Promise<number> => {
  for (;;) {
    const port = randomInt(FIRST_PORT, LAST_PORT)
    const s = createServer().listen(port, '127.0.0.1')
    try {
      await once(s, 'listening')
    } catch {
      continue
    }
    await new Promise(r => s.close(r))
    return port
  }
}
export const pause = (ms: number) => new Promise<void>(r => setTimeout(r, ms))
export const until = async (holds: () => Promise<boolean> | boolean, tries = 9600) => {
  for (let i = 0; i < tries; i++) {
    if (await holds()) return
    await pause(25)
  }
  throw new Error('it did not come about')
}

/** A job that runs for as long as a test wants it to, as if on another process. */
export async function runElsewhere(c: Context, kind: string, payload: Record<string, unknown>) {
  const id = await c.db.sequelize.transaction(async transaction => {
    const queued = await enqueue(c, kind, null, 1, payload, transaction)
    const now = { state: 'running' as const, worker: 'elsewhere', leaseUntil: new Date(Date.now() + 600_000) }
    await c.db.jobs.update(now, { where: { id: queued }, transaction })
    return queued
  })
  return { id, end: () => c.db.jobs.update({ state: 'done', leaseUntil: null }, { where: { id } }) }
}

const endNow = async (child: ChildProcess) => {
  if (child.exitCode !== null || child.signalCode !== null) return
  child.kill('SIGKILL')
  await once(child, 'exit')
}

/**
 * The built server as a process of its own, with a database process of its own and a small made-up world: all that can
 * be killed.
 * @param options.folder where the database lives; a folder in the temporary one where it is not given
 */
export async function openRunning(options: { folder?: string; inquiries?: number } = {}) {
  const folder = options.folder ?? mkdtempSync(join(tmpdir(), 'vine-crash-'))
  const dbPort = await freePort()
  const { password, socket } = await database.startDatabase(folder, dbPort)
  // the stand-ins tell hosts by their header, which fetch does not let us set
  const outside: Server = smallOutside().listen(0, '127.0.0.1')
  outside.prependListener('request', (req: { headers: Record<string, string | undefined> }) => {
    if (req.headers['x-host']) req.headers.host = req.headers['x-host']
  })
  await once(outside, 'listening')
  const env: NodeJS.ProcessEnv = {
    PATH: process.env.PATH,
    PORT: String(await freePort()),
    DB_PORT: String(dbPort),
    DB_PASSWORD: password,
    DB_SOCKET: socket,
    VINE_SECRET: 'for-tests-only-for-tests-only-for-tests',
    STANDINS_PORT: String((outside.address() as AddressInfo).port),
    LEASE_SECONDS: '2',
    VINE_CHILD: process.env.VINE_CHILD,
    VINE_THREAD: process.env.VINE_THREAD,
    LOG_LEVEL: 'silent',
    DB_FOLDER: folder,
    RESERVE_MB: '20',
  }
  const settings = { host: '127.0.0.1', port: dbPort, name: 'vinepath', user: 'vinepath', password, socket }
  const sql: Sequelize = connect(settings)
  await migrate(sql)
  await sql.query('INSERT INTO users (email, name, password_hash) VALUES (?, ?, ?)', {
    replacements: ['a@desk.example', 'A', await hashPassword(PASSWORD)],
  })
  await sql.query(`INSERT INTO clock VALUES (1, '2026-10-05')`)
  let server: ChildProcess | undefined
  const others: ChildProcess[] = []
  const address = `http://127.0.0.1:${env.PORT}`
  const answers = () =>
    fetch(`${address}/api/health`).then(
      r => r.ok,
      () => false,
    )
  const running = {
    folder,
    address,
    env,
    settings,
    sql,
    api: new Api(address),
    inquiry: 0,
    get server() {
      return server!
    },
    start: async () => {
      const begun = spawn(process.execPath, [process.env.VINE_SERVER!], { env, stdio: ['ignore', 'ignore', 'inherit'] })
      server = begun
      // another one at its address would answer for it
      await until(() => begun.exitCode !== null || answers())
      if (begun.exitCode !== null) throw new Error(`the server ended with ${begun.exitCode} before it answered`)
    },
    /**
     * One more process on the same database, with a port of its own. @returns its address, and how it is ended
     * without a word
     */
    startAnother: async () => {
      const port = String(await freePort())
      const child = spawn(process.execPath, [process.env.VINE_SERVER!], {
        env: { ...env, PORT: port },
        stdio: ['ignore', 'ignore', 'inherit'],
      })
      others.push(child)
      const at = `http://127.0.0.1:${port}`
      await until(() =>
        fetch(`${at}/api/health`).then(
          r => r.ok,
          () => false,
        ),
      )
      return { address: at, pid: child.pid!, kill: () => endNow(child) }
    },
    /** Ends the server without a word. */
    kill: async () => {
      if (server) await endNow(server)
    },
    stopDatabase: (signal?: string) => database.stopDatabase(folder, signal),
    startDatabase: () => database.startDatabase(folder, dbPort),
    number: async (query: string): Promise<number> =>
      Number(Object.values(((await sql.query(query))[0] as Record<string, unknown>[])[0]!)[0]),
    control: (path: string, body: object) =>
      fetch(`http://127.0.0.1:${env.STANDINS_PORT}${path}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'x-host': 'control.example' },
        body: JSON.stringify(body),
      }),
    /** Processes that the server began. */
    children: (): number[] =>
      readFileSync(`/proc/${server!.pid}/task/${server!.pid}/children`, 'utf8').split(' ').filter(Boolean).map(Number),
    close: async () => {
      await Promise.all([running.kill(), ...others.map(endNow)]).catch(() => undefined)
      await sql.close().catch(() => undefined)
      outside.closeAllConnections()
      outside.close()
      await database.stopDatabase(folder)
      rmSync(folder, { recursive: true, force: true })
    },
  }
  await running.start()
  await running.api.call('POST', '/session', { email: 'a@desk.example', password: PASSWORD })
  running.inquiry = (
    await running.api.call<{ id: number }>('POST', '/inquiries', {
      title: 'T',
      question: 'Q',
      due: '2026-10-29',
      style: 'apa',
      entriesWanted: 1,
    })
  ).id
  return running
}
export type Running = Awaited<ReturnType<typeof openRunning>>
