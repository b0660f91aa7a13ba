#!/usr/bin/env node
/**
 * `npm run backup [FILE]`: the whole database, files included, in one compressed dump.
 * `npm run restore FILE`: puts such a dump in place of what is there, after keeping that beside it.
 * The database is the one of the settings (DB_HOST, DB_PORT, DB_NAME, DB_USER, DB_PASSWORD), or else the demo's own.
 */
import { execFileSync, spawn } from 'node:child_process'
import { createReadStream, createWriteStream, existsSync, renameSync, rmSync, statSync } from 'node:fs'
import { get } from 'node:http'
import { dirname, join, resolve } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { createGunzip, createGzip } from 'node:zlib'
import { databasePid, startDatabase, stopDatabase } from './database.mjs'

/** Without the tables' locks: all is read as it stood in one moment, while the application goes on. */
const DUMP = ['--single-transaction', '--quick', '--skip-lock-tables', '--hex-blob', '--default-character-set=utf8mb4']
const END = '-- Dump completed'

const own = join(process.env.DATA_DIR ?? '.data', 'db')
/** Gives the settings of the database to some work; the demo's own is started for it where it is not running. */
async function withDatabase(work) {
  const env = process.env
  if (env.DB_PASSWORD)
    return work({
      host: env.DB_HOST ?? '127.0.0.1',
      port: env.DB_PORT ?? '4610',
      name: env.DB_NAME ?? 'vinepath',
      user: env.DB_USER ?? 'vinepath',
      password: env.DB_PASSWORD,
    })
  if (!existsSync(join(own, 'password')))
    throw new Error('There is no database here: give DB_PASSWORD and its other settings, or start the demo once.')
  const running = databasePid(own) !== undefined
  const { port, password } = await startDatabase(own, Number(env.DB_PORT ?? 4610))
  try {
    return await work({ host: '127.0.0.1', port: String(port), name: 'vinepath', user: 'vinepath', password })
  } finally {
    if (!running) await stopDatabase(own)
  }
}

const client = (program, db, args) =>
  spawn(program, ['--no-defaults', `--host=${db.host}`, `--port=${db.port}`, `--user=${db.user}`, ...args], {
    stdio: ['pipe', 'pipe', 'inherit'],
    env: { ...process.env, MYSQL_PWD: db.password },
  })
const ended = (child, what) =>
  new Promise((done, fail) => {
    child.once('error', fail)
    child.once('close', code => (code === 0 ? done() : fail(new Error(`${what} ended with code ${code}.`))))
  })
const query = (db, sql) =>
  execFileSync(
    'mariadb',
    ['--no-defaults', `--host=${db.host}`, `--port=${db.port}`, `--user=${db.user}`, '-N', db.name, '-e', sql],
    {
      encoding: 'utf8',
      env: { ...process.env, MYSQL_PWD: db.password },
    },
  )

/** Writes a dump; a file of that name appears only when it is whole. */
async function backup(db, file) {
  const part = `${file}.part`
  try {
    const dump = client('mariadb-dump', db, [...DUMP, db.name])
    dump.stdin.end()
    await Promise.all([
      ended(dump, 'The dump'),
      pipeline(dump.stdout, createGzip(), createWriteStream(part, { mode: 0o600 })),
    ])
    await whole(part)
    renameSync(part, file)
  } catch (e) {
    rmSync(part, { force: true })
    throw e
  }
  console.log(`${file}: ${(statSync(file).size / 1e6).toFixed(1)} MB`)
}

/** A dump says in its last line that it is whole. */
async function whole(file) {
  let tail = ''
  try {
    await pipeline(createReadStream(file), createGunzip(), async parts => {
      for await (const part of parts) tail = (tail + part.toString('latin1')).slice(-2000)
    })
  } catch {
    tail = ''
  }
  if (!tail.includes(END)) throw new Error(`${file} is not a whole backup of Vine Path. Nothing was changed.`)
}

async function restore(db, file) {
  await whole(file)
  const before = join(dirname(resolve(file)), `before-restore-${stamp()}.sql.gz`)
  const tables = query(db, 'SHOW TABLES').split('\n').filter(Boolean)
  if (tables.length) {
    console.log('What is there now is kept first:')
    await backup(db, before)
    query(db, `SET FOREIGN_KEY_CHECKS = 0; ${tables.map(t => `DROP TABLE \`${t}\``).join('; ')}`)
  }
  const load = client('mariadb', db, ['--default-character-set=utf8mb4', db.name])
  load.stdout.resume()
  await Promise.all([ended(load, 'Loading'), pipeline(createReadStream(file), createGunzip(), load.stdin)])
  console.log(`Restored from ${file}.`)
}

const stamp = () => new Date().toISOString().slice(0, 19).replace(/[:T]/g, '-')
const inUse = () =>
  new Promise(done =>
    get(`http://127.0.0.1:${process.env.PORT ?? 4600}/api/health`, r => (r.resume(), done(true))).on('error', () =>
      done(false),
    ),
  )

const [, , verb, given] = process.argv
try {
  if (verb === 'backup') await withDatabase(db => backup(db, given ?? `vine-path-${stamp()}.sql.gz`))
  else if (verb === 'restore' && given) {
    if (!existsSync(given)) throw new Error(`There is no file ${given}.`)
    if (await inUse())
      throw new Error('Vine Path is running. Stop it first, so that nobody writes into what is put back.')
    await withDatabase(db => restore(db, given))
  } else throw new Error('Usage: npm run backup [FILE] | npm run restore FILE')
} catch (e) {
  console.error(e.message)
  process.exitCode = 1
}
