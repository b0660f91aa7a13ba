#!/usr/bin/env node
import { spawn } from 'node:child_process'
import { createHash, randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { get } from 'node:http'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { build } from './build.mjs'
import { databasePid, startDatabase, stopDatabase } from './database.mjs'
import { answersAt, endOf, goneOf, keep } from './keep.mjs'

const dev = process.argv.includes('--dev')
let reset = process.argv.includes('--reset')
const data = process.env.DATA_DIR ?? '.data'
const ports = {
  web: Number(process.env.PORT ?? 4600),
  database: Number(process.env.DB_PORT ?? 4610),
  standins: Number(process.env.STANDINS_PORT ?? 4620),
  mail: Number(process.env.MAIL_PORT ?? 4625),
}

const children = new Set()
const kept = []
let ending = false
let ready = false
const end = async code => {
  if (ending) return
  ending = true
  for (const k of kept) k.stop()
  for (const c of children) if (c.exitCode === null) c.kill('SIGTERM')
  await Promise.all(
    [...children].map(c =>
      c.exitCode === null && c.signalCode === null ? new Promise(r => c.once('exit', r)) : undefined,
    ),
  )
  await stopDatabase(join(data, 'db'))
  process.exit(code)
}
const free = (port, setting) =>
  new Promise((done, no) => {
    const s = createServer()
    s.once('error', () =>
      no(
        new Error(
          `Port ${port} is taken by another program, perhaps a Vine Path that runs already. Stop it, or set ${setting} to a free port.`,
        ),
      ),
    )
    s.listen(port, '127.0.0.1', () => s.close(done))
  })

/** Waits until an address answers. */
const answers = async (url, who, seconds, host) => {
  for (const end = Date.now() + seconds * 1000; Date.now() < end;) {
    const up = await new Promise(done =>
      get(url, host ? { headers: { host } } : {}, r => (r.resume(), done(r.statusCode === 200))).on('error', () =>
        done(false),
      ),
    )
    if (up) return
    await new Promise(r => setTimeout(r, 200))
  }
  throw new Error(`${who} did not answer within ${seconds} seconds.`)
}

try {
  await free(ports.web, 'PORT')
  await free(ports.standins, 'STANDINS_PORT')
  await free(ports.mail, 'MAIL_PORT')
  await build()
  mkdirSync(data, { recursive: true, mode: 0o700 })
  const secretFile = join(data, 'secret')
  if (!existsSync(secretFile)) writeFileSync(secretFile, randomBytes(32).toString('base64url'), { mode: 0o600 })
  const database = await startDatabase(join(data, 'db'), ports.database)
  process.on('SIGINT', () => void end(0))
  process.on('SIGTERM', () => void end(0))
  const env = {
    ...process.env,
    PORT: String(ports.web),
    DB_PORT: String(ports.database),
    DB_PASSWORD: database.password,
    DB_SOCKET: database.socket,
    DB_FOLDER: join(data, 'db'),
    STANDINS_PORT: String(ports.standins),
    MAIL_PORT: String(ports.mail),
    WORLD_DIR: join(data, 'world'),
    VINE_SECRET: readFileSync(secretFile, 'utf8'),
    WEB_FOLDER: 'dist/web',
    DEMO_ACCOUNT: 'student@halverane.example',
    DEMO_SCRIPT: 'dist/demo/lay.js',
    DEMO_DAY: '2026-10-05',
    NODE_ENV: dev ? 'development' : 'production',
  }
  // never with this process held up: it watches over the others
  const once = async (args, more = {}) => {
    const child = spawn(process.execPath, args, { stdio: 'inherit', env: { ...env, ...more } })
    children.add(child)
    const how = await endOf(child)
    children.delete(child)
    if (how !== 'code 0') throw new Error(`${args[0]} ended (${how}).`)
  }
  // a world made by other code is made anew, and the demo that was laid in it too
  const made = createHash('sha256')
  for (const folder of ['demo', 'core/world'])
    for (const f of readdirSync(folder).sort())
      if (!/^(lay|api)\.ts$|\.test\.ts$/.test(f)) made.update(readFileSync(join(folder, f)))
  const works = process.env.WORLD_WORKS ?? '24000'
  const stamp = `${made.digest('hex')} ${works}`
  const stampFile = join(data, 'world', 'made-by')
  if (!existsSync(stampFile) || readFileSync(stampFile, 'utf8') !== stamp) {
    await once(['dist/demo/main.js', '--out', join(data, 'world'), '--works', works])
    writeFileSync(stampFile, stamp)
    reset = true
  }
  /** Runs a program and keeps it running; one that ends before all is ready ends the start. */
  const run = (name, args, answers) => {
    const program = keep({
      name,
      answers,
      begin: async () => {
        const child = spawn(args[0], args.slice(1), { stdio: 'inherit', env })
        children.add(child)
        child.once('exit', code => {
          children.delete(child)
          if (!ready) void end(code || 1)
        })
        return { pid: child.pid, ended: endOf(child) }
      },
    })
    kept.push(program)
    return program.begin()
  }
  const dbFolder = join(data, 'db')
  const db = keep({
    name: 'The database',
    begin: async () => {
      await startDatabase(dbFolder, ports.database)
      const pid = databasePid(dbFolder)
      return { pid, ended: goneOf(() => databasePid(dbFolder) !== undefined) }
    },
  })
  kept.push(db)
  await db.begin()
  const laid = join(data, 'demo-laid')
  // a demo that was laid in part is laid anew too
  if (reset || !existsSync(laid)) {
    rmSync(laid, { force: true })
    await once(['dist/server/admin.js', 'forget-user', '--email', env.DEMO_ACCOUNT])
    await once(['dist/server/admin.js', 'stand-on', '--day', env.DEMO_DAY])
  }
  await once(['dist/server/admin.js', 'add-user', '--email', env.DEMO_ACCOUNT, '--name', 'Imre Solvang-Adair'], {
    VINE_PASSWORD: 'walk-the-vine',
  })
  // what the register of the made-up world lets in with
  await once(['dist/server/admin.js', 'set-key', '--connector', 'register'], { VINE_KEY: 'lantern-oak-7' })
  const program = part =>
    dev
      ? [process.execPath, '--import', 'tsx', '--watch', `${part}/main.ts`]
      : [process.execPath, `dist/${part}/main.js`]
  await run('The made-up world', program('standins'))
  await run(
    'The application',
    program('server'),
    dev ? undefined : answersAt(`http://127.0.0.1:${ports.web}/api/health`),
  )
  const address = `http://127.0.0.1:${ports.web}`
  await answers(`${address}/api/health`, 'The application', 60)
  await answers(`http://127.0.0.1:${ports.standins}/`, 'The made-up world', 180, 'control.example')
  if (!existsSync(laid)) {
    await once(['dist/demo/lay.js', '--address', address])
    writeFileSync(laid, '')
  }
  if (dev) await run('The interface', ['npx', 'vite', '--config', 'web/vite.config.ts'])
  ready = true
  console.log(
    `\n  Vine Path is ready:  ${dev ? 'http://127.0.0.1:5173' : address}\n  Gate of the made-up library: card HV-204417, password moonlit-garden\n  Stop with Ctrl+C.\n`,
  )
} catch (e) {
  if (!ending) console.error(e.message)
  await end(1)
}
