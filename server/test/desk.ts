import { readFileSync } from 'node:fs'
import { once } from 'node:events'
import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import request, { type Agent } from 'supertest'
import type { Express } from 'express'
import { QueryTypes, type Transaction } from 'sequelize'
import { addUser } from '../accounts/accounts-service'
import { createApp, jobKinds } from '../app'
import { standOn } from '../db/desk-day'
import { createContext } from '../create-context'
import type { Context, Db } from '../base/context'
import type { CopyRow } from '../copies/copies-model'
import { connect } from '../db/connection'
import { migrate } from '../migrations/migrations'
import { startWorker } from '../jobs/queue'
import { readSettings, type Settings } from '../base/settings'
import { closeThreads } from '../threads/threads'

/** A body of an answer, as the test's library gives it: anything. */
type Body = Awaited<ReturnType<Agent['get']>>['body']

export interface Desk {
  context: Context
  app: Express
  settings: Settings
  /** Signed in as the owner. */
  owner: Agent
  signIn(email: string): Promise<Agent>
  /** What an address answers to its owner. */
  get(path: string): Promise<Body>
  /** What it answers to a body that its owner sends. */
  post(path: string, body: object, status?: number): Promise<Body>
  finish(
    inquiry: number,
    job: number,
  ): Promise<{
    state: string
    error: string | null
    result: Record<string, unknown>
    progress: Record<string, unknown>
  }>
  close(): Promise<void>
}

export const PASSWORD = 'a-long-password'

/**
 * A whole application on a database of its own, with a worker; what is outside is given by a server of the test's.
 * @param laid fills the database before anything else is connected to it, in place of the usual people and day
 */
export async function openDesk(
  name: string,
  world?: Express,
  env: NodeJS.ProcessEnv = {},
  told?: (statement: string, ms: number) => void,
  laid?: (database: Settings['database']) => void,
): Promise<Desk> {
  let outside: Server | undefined
  if (world) {
    outside = world.listen(0, '127.0.0.1')
    await once(outside, 'listening')
  }
  const base = readSettings({
    VINE_SECRET: 'for-tests-only-for-tests-only-for-tests',
    DB_PORT: process.env.TEST_DB_PORT,
    DB_PASSWORD: process.env.TEST_DB_PASSWORD,
    DB_SOCKET: process.env.TEST_DB_SOCKET,
    DB_NAME: 'vinepath',
    LEASE_SECONDS: '2',
    VINE_CHECK_ANSWERS: '1',
    STANDINS_PORT: String(outside ? (outside.address() as AddressInfo).port : 1),
    ...env,
  })
  // a machine that is busy loading what is tested answers late, and is no database that is away
  base.database.connectMs = 30_000
  // servers of the test's own need no sparing
  base.outside.connectors = base.outside.connectors.map(c => ({ ...c, perSecond: 100 }))
  const admin = connect(base.database)
  const database = `vinepath_${name}`
  await admin.query(`DROP DATABASE IF EXISTS ${database}`)
  await admin.query(`CREATE DATABASE ${database} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`)
  await admin.close()
  const settings: Settings = { ...base, database: { ...base.database, name: database } }
  laid?.(settings.database)
  const context = createContext(settings, told)
  await migrate(context.db.sequelize)
  if (!laid) await standOn(context.db, '2026-10-05')
  const { app, close } = createApp(context)
  const worker = startWorker(context, jobKinds)
  for (const who of laid ? [] : ['owner', 'reader', 'stranger'])
    await addUser(context, `${who}@desk.example`, who, PASSWORD)
  const signIn = async (email: string): Promise<Agent> => {
    const agent = request.agent(app)
    await agent.post('/api/session').send({ email, password: PASSWORD }).expect(200)
    return agent
  }
  const owner = await signIn('owner@desk.example')
  return {
    context,
    app,
    settings,
    owner,
    signIn,
    get: async path => (await owner.get(path).expect(200)).body,
    post: async (path, body, status = 201) => (await owner.post(path).send(body).expect(status)).body,
    finish: async (inquiry, job) => {
      // only a hung job meets this, however slow the machine
      for (let i = 0; i < 2400; i++) {
        const { body } = await owner.get(`/api/inquiries/${inquiry}/jobs/${job}`).expect(200)
        if (['done', 'failed', 'cancelled'].includes(body.state)) return body
        await new Promise(r => setTimeout(r, 50))
      }
      throw new Error(`job ${job} did not end`)
    },
    close: async () => {
      await worker.stop()
      close()
      await closeThreads()
      await context.db.sequelize.close()
      outside?.closeAllConnections()
      outside?.close()
    },
  }
}

export const brief = {
  title: 'Lamps',
  question: 'What do lamps do?',
  due: '2026-10-29',
  style: 'apa',
  entriesWanted: 3,
}

export async function newInquiry(desk: Desk, more: object = {}): Promise<number> {
  const { body } = await desk.owner
    .post('/api/inquiries')
    .send({ ...brief, ...more })
    .expect(201)
  return body.id as number
}

/** Brings items into the pool of an inquiry, as a file of CSL-JSON does. */
export async function bringItems(desk: Desk, inquiry: number, items: readonly object[]): Promise<void> {
  const { body } = await desk.owner
    .post(`/api/inquiries/${inquiry}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .send(Buffer.from(JSON.stringify(items)))
    .expect(202)
  await desk.finish(inquiry, (body as { job: number }).job)
}

/** Writes down a copy, open to every member. */
export async function putCopy(db: Db, row: Partial<CopyRow>, transaction?: Transaction): Promise<CopyRow> {
  const how = transaction ? { transaction } : {}
  const made = await db.copies.create(row, how)
  await db.copyRights.create({ copyId: made.id, userId: 0, kind: 'open', source: 'a test' }, how)
  return made
}

export const file = (path: string): Buffer => readFileSync(path)

export async function count(desk: Desk, table: string, where = '1'): Promise<number> {
  const [row] = await desk.context.db.sequelize.query<{ n: number }>(
    `SELECT COUNT(*) AS n FROM ${table} WHERE ${where}`,
    { type: QueryTypes.SELECT },
  )
  return Number(row!.n)
}
