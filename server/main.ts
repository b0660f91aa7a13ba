import { createServer } from 'node:http'
import { createApp, jobKinds } from './app'
import { tellWorld } from './desk/desk-service'
import { deskDay } from './db/desk-day'
import { createContext } from './create-context'
import { isAway } from './db/transaction'
import { migrate } from './migrations/migrations'
import { beginDue } from './standing/standing-service'
import { watchDue } from './jobs/due'
import { fetchAwaited } from './obtain/awaited'
import { remindOfLetters } from './obtain/reminders'
import { purgeDaily } from './jobs/purge'
import { startWorker } from './jobs/queue'
import { logError } from './base/log'
import { tellMetrics } from './metrics'
import { readSettings } from './base/settings'
import { closeThreads } from './threads/threads'
import { watchLoop } from './base/watch-loop'

const settings = readSettings()
const context = createContext(settings)
// a machine may start this before its database, and a cluster may be choosing another one just now
for (let told = false; ; told = true)
  try {
    await migrate(context.db.sequelize)
    break
  } catch (e) {
    const why = (e as Error).cause ?? e
    if (!isAway(why) || (why as Error).name === 'SequelizeAccessDeniedError') throw e
    if (!told) console.log('The database does not answer yet. Vine Path waits for it.')
    await new Promise(r => setTimeout(r, 500))
  }
const { app, close } = createApp(context)
// a query of 5,000 letters in other scripts is long as an address
const server = createServer({ maxHeaderSize: 96 * 1024 }, app).listen(settings.port, '127.0.0.1', () =>
  console.log(`Vine Path answers on http://127.0.0.1:${settings.port}`),
)
// longer than a client or a proxy keeps a connection: else one sends on what is being closed, and is cut off
server.keepAliveTimeout = 75_000
server.headersTimeout = 80_000
server.on('error', (e: NodeJS.ErrnoException) => {
  console.error(
    e.code === 'EADDRINUSE'
      ? `Port ${settings.port} is taken by another program. Set PORT to a free one and start again.`
      : e.message,
  )
  process.exit(1)
})
// what nobody foresaw ends the process with a word, and whoever keeps it running begins it anew
for (const event of ['uncaughtException', 'unhandledRejection'] as const)
  process.on(event, (e: unknown) => {
    logError(`Vine Path ends: ${event}`, e)
    process.exit(1)
  })
const metrics = settings.metricsPort ? tellMetrics(settings.metricsPort) : undefined
let ending = false
const worker = startWorker(context, jobKinds)
const due = watchDue(context, [beginDue, fetchAwaited, remindOfLetters])
const watching = watchLoop()
const purging = setInterval(() => void purgeDaily(context).catch(() => undefined), 10 * 60_000)
// the made-up world may still be starting; it is told as soon as it answers
void (async () => {
  for (let tries = 0; tries < 60 && !ending; tries++) {
    try {
      return await tellWorld(context, await deskDay(context.db))
    } catch {
      await new Promise(r => setTimeout(r, 1000))
    }
  }
})()

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, () => {
    if (ending) return
    ending = true
    void (async () => {
      server.close()
      metrics?.close()
      server.closeAllConnections()
      due.stop()
      clearInterval(purging)
      watching.stop()
      await worker.stop()
      close()
      await closeThreads()
      await context.db.sequelize.close()
      process.exit(0)
    })()
  })
}
