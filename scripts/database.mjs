#!/usr/bin/env node
/**
 * A private MariaDB on loopback: `database.mjs start|stop DATA_DIR PORT`. Works as root and as an ordinary user.
 * Writes the application's password to DATA_DIR/password (mode 600). Uses nothing but Node and Debian's packages.
 */
import { execFileSync, spawn } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createConnection } from 'node:net'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'

const asRoot = process.getuid?.() === 0 ? ['--user=root'] : []

function places(dataDir) {
  const base = resolve(dataDir)
  const socket = join(base, 'db.sock')
  return {
    base,
    data: join(base, 'mariadb'),
    log: join(base, 'mariadb.log'),
    pid: join(base, 'mariadb.pid'),
    password: join(base, 'password'),
    // the path of a socket may have 107 letters at most
    socket:
      socket.length < 100 ? socket : join(tmpdir(), `vine-${Buffer.from(base).toString('base64url').slice(-24)}.sock`),
  }
}

const answers = port =>
  new Promise(done => {
    const s = createConnection({ host: '127.0.0.1', port })
    s.once('connect', () => (s.destroy(), done(true)))
    s.once('error', () => done(false))
  })
const alive = pid => {
  try {
    process.kill(pid, 0)
    return true
  } catch {
    return false
  }
}
const signsIn = (port, password) => {
  try {
    execFileSync('mariadb', ['--no-defaults', '-h127.0.0.1', `-P${port}`, '-uvinepath', 'vinepath', '-e', 'SELECT 1'], {
      stdio: 'ignore',
      env: { ...process.env, MYSQL_PWD: password },
    })
    return true
  } catch {
    return false
  }
}
/** The number of one that died without a word may be another program's by now. */
const isOurs = (pid, p) => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0').includes(`--datadir=${p.data}`)
  } catch {
    return false
  }
}
const runningPid = p => {
  if (!existsSync(p.pid)) return undefined
  const pid = Number(readFileSync(p.pid, 'utf8'))
  return pid && alive(pid) && isOurs(pid, p) ? pid : undefined
}

/** For data that nobody wants after the machine went down: nothing waits for the disk. */
const FLEETING = ['--innodb-flush-log-at-trx-commit=0', '--innodb-doublewrite=0', '--sync-frm=0']

/**
 * Starts it and waits until it answers. Starting one that runs already is no error.
 * @param o.fleeting its data need not outlast a fall of the machine: tests make hundreds of tables
 */
export async function startDatabase(dataDir, port, { fleeting = false } = {}) {
  const p = places(dataDir)
  mkdirSync(p.base, { recursive: true, mode: 0o700 })
  // a first start that was interrupted begins again
  if (!existsSync(p.password)) await stopDatabase(dataDir)
  if (runningPid(p) && (await answers(port)))
    return { port, password: readFileSync(p.password, 'utf8'), socket: p.socket }
  if (await answers(port)) throw new Error(`Port ${port} is taken by another program. Set DB_PORT to a free one.`)
  const first = !existsSync(p.password)
  const extra = []
  const init = join(p.base, 'first.sql')
  if (first) {
    rmSync(p.data, { recursive: true, force: true })
    const password = randomBytes(24).toString('base64url')
    try {
      execFileSync(
        'mariadb-install-db',
        [
          '--no-defaults',
          ...asRoot,
          `--datadir=${p.data}`,
          '--auth-root-authentication-method=normal',
          '--skip-test-db',
        ],
        { stdio: 'pipe', encoding: 'utf8' },
      )
    } catch (e) {
      throw new Error(`The folder of the database could not be made.\n${e.stdout ?? ''}${e.stderr ?? ''}`, { cause: e })
    }
    // an init file is read line by line, one statement each
    const grants = ['127.0.0.1', 'localhost'].map(
      h =>
        `CREATE USER IF NOT EXISTS 'vinepath'@'${h}' IDENTIFIED BY '${password}';\nGRANT ALL ON \`vinepath%\`.* TO 'vinepath'@'${h}';`,
    )
    writeFileSync(
      init,
      [
        `ALTER USER 'root'@'localhost' IDENTIFIED BY '${randomBytes(24).toString('base64url')}';`,
        'CREATE DATABASE IF NOT EXISTS vinepath CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;',
        ...grants,
        'FLUSH PRIVILEGES;',
      ].join('\n'),
      { mode: 0o600 },
    )
    extra.push(`--init-file=${init}`)
    writeFileSync(`${p.password}.part`, password, { mode: 0o600 })
  }
  const log = openSync(p.log, 'a')
  const child = spawn(
    'mariadbd',
    [
      '--no-defaults',
      ...asRoot,
      `--datadir=${p.data}`,
      `--socket=${p.socket}`,
      `--pid-file=${p.pid}`,
      '--bind-address=127.0.0.1',
      `--port=${port}`,
      '--skip-name-resolve',
      '--character-set-server=utf8mb4',
      '--collation-server=utf8mb4_unicode_ci',
      '--innodb-buffer-pool-size=256M',
      `--log-error=${p.log}`,
      ...(fleeting ? FLEETING : []),
      ...extra,
    ],
    { detached: true, stdio: ['ignore', log, log] },
  )
  child.unref()
  let gone = false
  child.once('exit', () => (gone = true))
  for (let i = 0; i < 600 && !(await answers(port)); i++) {
    if (gone)
      throw new Error(
        `MariaDB did not start. The last lines of ${p.log}:\n${readFileSync(p.log, 'utf8').split('\n').slice(-8).join('\n')}`,
      )
    await new Promise(r => setTimeout(r, 100))
  }
  if (!(await answers(port))) throw new Error(`MariaDB did not answer within a minute; see ${p.log}.`)
  if (first) {
    // the port answers before the accounts of the first start are made
    const password = readFileSync(`${p.password}.part`, 'utf8')
    for (let i = 0; !signsIn(port, password); i++) {
      if (i > 300) throw new Error(`MariaDB did not make its accounts; see ${p.log}.`)
      await new Promise(r => setTimeout(r, 100))
    }
    writeFileSync(p.password, readFileSync(`${p.password}.part`), { mode: 0o600 })
    rmSync(`${p.password}.part`)
    rmSync(init)
  }
  return { port, password: readFileSync(p.password, 'utf8'), socket: p.socket }
}

/** Its process, where it runs. */
export const databasePid = dataDir => runningPid(places(dataDir))

/** Stops it cleanly and waits for its end. */
export async function stopDatabase(dataDir, signal = 'SIGTERM') {
  const pid = runningPid(places(dataDir))
  if (!pid) return false
  process.kill(pid, signal)
  for (let i = 0; i < 300 && alive(pid); i++) await new Promise(r => setTimeout(r, 100))
  return true
}

if (process.argv[1] && resolve(process.argv[1]) === resolve(new URL(import.meta.url).pathname)) {
  const [, , verb, dataDir, port] = process.argv
  try {
    if (verb === 'start') await startDatabase(dataDir, Number(port))
    else if (verb === 'stop') await stopDatabase(dataDir)
    else throw new Error('Usage: database.mjs start DATA_DIR PORT | stop DATA_DIR')
  } catch (e) {
    console.error(e.message)
    process.exit(1)
  }
  process.exit(0)
}
