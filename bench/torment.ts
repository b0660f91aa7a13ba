/**
 * Kills the server, its database and its reading children at random, without a word, while clients decide, undo,
 * annotate, import, sweep and bring PDFs, some of them through the real interface in a browser. Then every acknowledged
 * deed has to be there exactly once, and every other one there or still waiting with its client.
 * `npm run torment` (KILLS=300 CLIENTS=20 PAGES=4 SEED=1)
 */
import { spawn, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import type { AddressInfo } from 'node:net'
import { seeded } from '../core/world/random'
import { connect } from '../server/db/connection'
import { migrate } from '../server/migrations/migrations'
import { freePort, pause } from '../server/test/running'
import { smallOutside, smallWorld } from '../server/test/small-world'
import { isWhole, letWork } from './clients'

const KILLS = Number(process.env.KILLS ?? 300)
const CLIENTS = Number(process.env.CLIENTS ?? 20)
const PAGES = Number(process.env.PAGES ?? 4)
const random = seeded(Number(process.env.SEED ?? 1))
const database = (await import('../scripts/database.mjs' as string)) as {
  startDatabase(folder: string, port: number): Promise<{ password: string }>
  databasePid(folder: string): number | undefined
  stopDatabase(folder: string): Promise<boolean>
}

const folder = mkdtempSync(join(tmpdir(), 'vine-torment-'))
const dbPort = await freePort()
const { password } = await database.startDatabase(folder, dbPort)
const world = smallWorld()
const outside = smallOutside(world).listen(0, '127.0.0.1')
await once(outside, 'listening')
const sql = connect({ host: '127.0.0.1', port: dbPort, name: 'vinepath', user: 'vinepath', password })
await migrate(sql)
await sql.query(`INSERT INTO clock VALUES (1, '2026-10-05')`)
const webPort = await freePort()
const address = `http://127.0.0.1:${webPort}`
const env = {
  PATH: process.env.PATH,
  PORT: String(webPort),
  DB_PORT: String(dbPort),
  DB_PASSWORD: password,
  VINE_SECRET: 'for-torment-only-for-torment-only-for',
  STANDINS_PORT: String((outside.address() as AddressInfo).port),
  WEB_FOLDER: resolve('dist/web').replace(`${process.cwd()}/`, ''),
  LEASE_SECONDS: '3',
  LOG_LEVEL: 'fatal',
}

// ---- what keeps the programs running, as the start command does ----
let server: ChildProcess
let over = false
const keepServer = () => {
  server = spawn(process.execPath, ['dist/server/main.js'], { env, stdio: ['ignore', 'ignore', 'ignore'] })
  server.once('exit', () => !over && setTimeout(keepServer, 300))
}
keepServer()
void (async () => {
  while (!over) {
    if (database.databasePid(folder) === undefined) await database.startDatabase(folder, dbPort).catch(() => undefined)
    await pause(200)
  }
})()

// ---- the torment ----
const began = Date.now()
const killed = { server: 0, database: 0, child: 0 }
const work = await letWork({ address, sql, world, random, clients: CLIENTS, pages: PAGES })
const telling = setInterval(
  () => console.log(`${Object.values(killed).reduce((a, b) => a + b)} kills, ${work.so()}`),
  15_000,
)
const childrenOf = (pid: number): number[] => {
  try {
    return readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').split(' ').filter(Boolean).map(Number)
  } catch {
    return []
  }
}
await pause(6000)
for (let n = 0; n < KILLS;) {
  // what is dead already cannot be killed: it has to stand first, and work for a moment
  while (
    !(await fetch(`${address}/api/health`).then(
      r => r.ok,
      () => false,
    ))
  )
    await pause(50)
  await pause(random.int(50, 2500))
  const what = random.int(0, 9)
  try {
    if (what < 5) {
      server!.kill('SIGKILL')
      killed.server++
      n++
    } else if (what < 8) {
      const pid = database.databasePid(folder)
      if (pid === undefined) continue
      process.kill(pid, 'SIGKILL')
      killed.database++
      n++
    } else {
      const [pid] = childrenOf(server!.pid!)
      if (pid === undefined) continue
      process.kill(pid, 'SIGKILL')
      killed.child++
      n++
    }
  } catch {
    // it was dead already
  }
}
clearInterval(telling)
console.log('no more kills: what waits is sent')
const outcome = await work.end()
console.log(JSON.stringify({ seconds: Math.round((Date.now() - began) / 1000), kills: killed, ...outcome }, null, 2))
over = true
server!.kill('SIGKILL')
outside.closeAllConnections()
outside.close()
await sql.close().catch(() => undefined)
await database.stopDatabase(folder)
rmSync(folder, { recursive: true, force: true })
process.exit(isWhole(outcome) ? 0 : 1)
