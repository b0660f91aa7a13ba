import { outsideWorld } from './app'
import { mailbox } from './mail'
import { readWorld } from './world'

const port = Number(process.env.STANDINS_PORT ?? 4620)
const mailPort = Number(process.env.MAIL_PORT ?? 4625)
const began = Date.now()
const world = readWorld(process.env.WORLD_DIR ?? '.data/world')
if (process.env.DESK_DAY) world.day = process.env.DESK_DAY
const mail = mailbox()
const taken = (setting: string, on: number) => (e: NodeJS.ErrnoException) => {
  console.error(e.code === 'EADDRINUSE' ? `Port ${on} is taken. Set ${setting} to a free one.` : e.message)
  process.exit(1)
}
const server = outsideWorld(world, { gateMinutes: Number(process.env.GATE_MINUTES ?? 20), mail }).listen(
  port,
  '127.0.0.1',
  () =>
    console.log(
      `The made-up world (${world.works.length} works) answers on 127.0.0.1:${port}, its mail on ${mailPort}, after ${((Date.now() - began) / 1000).toFixed(1)} s`,
    ),
)
server.on('error', taken('STANDINS_PORT', port))
mail.smtp.listen(mailPort, '127.0.0.1')
mail.smtp.on('error', taken('MAIL_PORT', mailPort))
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => {
    mail.smtp.close()
    server.close(() => process.exit(0))
    server.closeAllConnections()
  })
