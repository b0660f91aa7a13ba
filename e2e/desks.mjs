/**
 * Desks for the browser tests: `desks.mjs PORT=FOLDER …`. The demo is laid once, on the first, and the others begin
 * with a copy of its data. READY_PORT answers when all of them stand.
 */
import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { cpSync, rmSync } from 'node:fs'
import { createServer } from 'node:http'

const desks = process.argv.slice(2).map(d => d.split('='))
const running = []
let ending = false
const begin = ([port, folder]) => {
  const [web, database, standins, mail] = [0, 1, 2, 3].map(n => String(Number(port) + n))
  const child = spawn(process.execPath, ['scripts/start.mjs'], {
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      ...{ PORT: web, DB_PORT: database, STANDINS_PORT: standins, MAIL_PORT: mail, DATA_DIR: folder },
      // every answer is held against what its address promises
      VINE_CHECK_ANSWERS: '1',
      // one student does in minutes what many do in a day
      COUNTS_MOST: '10000',
    },
  })
  running.push(child)
  child.once('exit', code => {
    running.splice(running.indexOf(child), 1)
    if (!ending && !child.isEnded) void end(code || 1)
  })
  let told = ''
  return new Promise(done =>
    child.stdout.on('data', text => {
      process.stdout.write(text)
      told += text
      if (told.includes('is ready')) done(child)
    }),
  )
}
const stop = async child => {
  child.isEnded = true
  child.kill('SIGTERM')
  await once(child, 'exit')
}
async function end(code) {
  if (ending) return
  ending = true
  await Promise.all(running.map(stop))
  for (const [, folder] of desks) rmSync(folder, { recursive: true, force: true })
  process.exit(code)
}
for (const signal of ['SIGTERM', 'SIGINT']) process.on(signal, () => void end(0))

const [first, ...others] = desks
for (const [, folder] of desks) rmSync(folder, { recursive: true, force: true })
await stop(await begin(first))
for (const [, folder] of others) cpSync(first[1], folder, { recursive: true, filter: f => !/\.(sock|pid)$/.test(f) })
await Promise.all(desks.map(begin))
createServer((_, res) => res.end('ready')).listen(Number(process.env.READY_PORT), '127.0.0.1')
