/** What benches share that need a database: one of their own, thrown away at the end. */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createContext } from '../server/create-context'
import { migrate } from '../server/migrations/migrations'
import { readSettings } from '../server/base/settings'
import { freePort } from '../server/test/running'
import { closeThreads } from '../server/threads/threads'

const scripts = (await import('../scripts/database.mjs' as string)) as {
  startDatabase(folder: string, port: number): Promise<{ password: string; socket: string }>
  stopDatabase(folder: string): Promise<boolean>
}

/** A database server in a folder of its own. */
export async function ownDatabase() {
  const folder = mkdtempSync(join(tmpdir(), 'vine-bench-'))
  const port = await freePort()
  const { password, socket } = await scripts.startDatabase(folder, port)
  const stop = async () => {
    await scripts.stopDatabase(folder)
    rmSync(folder, { recursive: true, force: true })
  }
  return { port, password, socket, stop }
}

/** The application's context on a database of its own, without an outside. */
export async function ownContext(listen?: (statement: string, ms: number) => void) {
  const { port, password, socket, stop } = await ownDatabase()
  const context = createContext(
    readSettings({
      VINE_SECRET: 'for-bench-only-for-bench-only-for-bench',
      DB_PORT: String(port),
      DB_PASSWORD: password,
      DB_SOCKET: socket,
      STANDINS_PORT: '1',
    }),
    listen,
  )
  await migrate(context.db.sequelize)
  const close = async () => {
    await closeThreads()
    await context.db.sequelize.close()
    await stop()
  }
  return { context, close }
}
