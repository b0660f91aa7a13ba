/**
 * Three databases that hold the same (a Galera cluster), two processes of the application, and before either a proxy
 * that sends what is asked to one database and to whichever process answers. While clients work, databases and
 * processes are killed without a word, at most one of each at a time. Then every acknowledged deed has to be there
 * exactly once, in all three databases.
 * `npm run cluster` (KILLS=20 CLIENTS=8 PAGES=2 SEED=1); as root, needs mariadb-server, galera-4, rsync and haproxy
 */
import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { createWriteStream, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import type { Sequelize } from 'sequelize'
import { seeded } from '../core/world/random'
import { connect } from '../server/db/connection'
import { migrate } from '../server/migrations/migrations'
import { freePort, pause } from '../server/test/running'
import { smallOutside, smallWorld } from '../server/test/small-world'
import { isWhole, letWork } from './clients'

const KILLS = Number(process.env.KILLS ?? 20)
const CLIENTS = Number(process.env.CLIENTS ?? 8)
const PAGES = Number(process.env.PAGES ?? 2)
const random = seeded(Number(process.env.SEED ?? 1))
const PASSWORD = 'for-the-cluster-only'
const folder = mkdtempSync(join(tmpdir(), 'vine-cluster-'))
execFileSync('chmod', ['755', folder])

// ---- databases ----
interface Node {
  name: string
  folder: string
  port: number
  /** Where the nodes speak to each other, hand over all they have, and hand over what was missed. */
  peers: number
  whole: number
  missed: number
  /** Where it says by HTTP whether it may be asked. */
  says: number
  process?: ChildProcess
  sql: Sequelize
}
const nodes: Node[] = []
for (const name of ['one', 'two', 'three']) {
  const port = await freePort()
  const [peers, whole, missed] = [await freePort(), await freePort(), await freePort()]
  const sql = connect({ host: '127.0.0.1', port, name: 'vinepath', user: 'vinepath', password: PASSWORD })
  const node: Node = { name, folder: join(folder, name), port, peers, whole, missed, says: 0, sql }
  mkdirSync(node.folder)
  execFileSync('chown', ['mysql:mysql', node.folder])
  execFileSync(
    'mariadb-install-db',
    [
      '--no-defaults',
      '--user=mysql',
      `--datadir=${join(node.folder, 'data')}`,
      '--auth-root-authentication-method=normal',
      '--skip-test-db',
    ],
    { stdio: 'ignore' },
  )
  // it may be asked once it has all that the others have, and gives nothing away
  const health = createServer((_, answer) => {
    void stateOf(node).then(s => answer.writeHead(s === 'Synced' ? 200 : 503).end(s))
  }).listen(0, '127.0.0.1')
  await once(health, 'listening')
  node.says = (health.address() as AddressInfo).port
  nodes.push(node)
}
async function stateOf(node: Node): Promise<string> {
  try {
    const [rows] = await node.sql.query(`SHOW STATUS LIKE 'wsrep_local_state_comment'`)
    const state = (rows as { Value: string }[])[0]?.Value ?? 'none'
    return node.process?.exitCode === null && node.process.signalCode === null ? state : 'dead'
  } catch {
    return 'dead'
  }
}
const optionsOf = (node: Node) => [
  '--no-defaults',
  '--user=mysql',
  `--datadir=${join(node.folder, 'data')}`,
  `--socket=${join(node.folder, 's')}`,
  `--pid-file=${join(node.folder, 'pid')}`,
  `--log-error=${join(node.folder, 'log.err')}`,
  '--bind-address=127.0.0.1',
  `--port=${node.port}`,
  '--skip-name-resolve',
  '--character-set-server=utf8mb4',
  '--collation-server=utf8mb4_unicode_ci',
  '--binlog-format=ROW',
  '--innodb-autoinc-lock-mode=2',
  '--innodb-flush-log-at-trx-commit=1',
  '--wsrep-on=ON',
  '--wsrep-provider=/usr/lib/galera/libgalera_smm.so',
  `--wsrep-node-name=${node.name}`,
  `--wsrep-cluster-address=gcomm://${nodes.map(n => `127.0.0.1:${n.peers}`).join(',')}`,
  `--wsrep-node-address=127.0.0.1:${node.peers}`,
  '--wsrep-sst-method=rsync',
  `--wsrep-sst-receive-address=127.0.0.1:${node.whole}`,
  // whoever is asked least gives
  `--wsrep-sst-donor=${nodes
    .filter(n => n !== node)
    .map(n => n.name)
    .reverse()
    .join(',')}`,
  `--wsrep-provider-options=base_port=${node.peers};gmcast.listen_addr=tcp://127.0.0.1:${node.peers};ist.recv_addr=127.0.0.1:${node.missed}`,
]
async function startNode(node: Node, more: string[]): Promise<void> {
  node.process = spawn('mariadbd', [...optionsOf(node), ...more], { stdio: ['ignore', 'ignore', 'inherit'] })
  for (let i = 0; (await stateOf(node)) !== 'Synced'; i++) {
    const gone = node.process.exitCode !== null || node.process.signalCode !== null
    if (gone || i > 1200)
      throw new Error(
        `node ${node.name} did not come: ${readFileSync(join(node.folder, 'log.err'), 'utf8').split('\n').slice(-12).join('\n')}`,
      )
    await pause(100)
  }
}
/** One that was killed says first how far it had come, and is then told what it missed. */
async function startAgain(node: Node): Promise<void> {
  const log = join(node.folder, 'recovered.err')
  rmSync(log, { force: true })
  execFileSync('mariadbd', [
    ...optionsOf(node).filter(o => !o.startsWith('--log-error')),
    `--log-error=${log}`,
    '--wsrep-recover',
  ])
  const position = /Recovered position: (\S+)/.exec(readFileSync(log, 'utf8'))?.[1]
  await startNode(node, position ? [`--wsrep-start-position=${position}`] : [])
}
writeFileSync(
  join(folder, 'first.sql'),
  `CREATE DATABASE vinepath CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;\nCREATE USER 'vinepath'@'127.0.0.1' IDENTIFIED BY '${PASSWORD}';\nGRANT ALL ON vinepath.* TO 'vinepath'@'127.0.0.1';\n`,
)
await startNode(nodes[0]!, ['--wsrep-new-cluster', `--init-file=${join(folder, 'first.sql')}`])
for (const node of nodes.slice(1)) await startNode(node, [])

// ---- the proxy ----
const world = smallWorld()
const outside = smallOutside(world).listen(0, '127.0.0.1')
await once(outside, 'listening')
const dbPort = await freePort()
const webPort = await freePort()
const apps: { port: number; process?: ChildProcess }[] = [{ port: await freePort() }, { port: await freePort() }]
const address = `http://127.0.0.1:${webPort}`
writeFileSync(
  join(folder, 'proxy.cfg'),
  `defaults
  timeout connect 2s
  timeout client 1h
  timeout server 1h
  default-server inter 500 fall 2 rise 2
listen database
  mode tcp
  bind 127.0.0.1:${dbPort}
  option httpchk GET /
  # one is asked; another only where that one is away, and then by all
  default-server on-marked-down shutdown-sessions
${nodes.map((n, i) => `  server ${n.name} 127.0.0.1:${n.port} check port ${n.says} ${i ? 'backup' : 'on-marked-up shutdown-backup-sessions'}`).join('\n')}
listen application
  mode http
  bind 127.0.0.1:${webPort}
  option httpchk GET /api/health
  option redispatch
${apps.map((a, i) => `  server app${i} 127.0.0.1:${a.port} check`).join('\n')}
`,
)
const proxy = spawn('haproxy', ['-q', '-f', join(folder, 'proxy.cfg')], { stdio: 'inherit' })

// ---- processes of the application ----
const sql = connect({ host: '127.0.0.1', port: dbPort, name: 'vinepath', user: 'vinepath', password: PASSWORD })
for (;;)
  if (
    await sql.query('SELECT 1').then(
      () => true,
      () => pause(200),
    )
  )
    break
await migrate(sql)
await sql.query(`INSERT INTO clock VALUES (1, '2026-10-05')`)
let over = false
const log = createWriteStream(join(folder, 'application.log'))
await once(log, 'open')
const keepApp = (app: (typeof apps)[number]) => {
  app.process = spawn(process.execPath, ['dist/server/main.js'], {
    env: {
      PATH: process.env.PATH,
      PORT: String(app.port),
      PUBLIC_ADDRESS: address,
      DB_PORT: String(dbPort),
      DB_PASSWORD: PASSWORD,
      VINE_SECRET: 'for-cluster-only-for-cluster-only-for',
      STANDINS_PORT: String((outside.address() as AddressInfo).port),
      WEB_FOLDER: resolve('dist/web').replace(`${process.cwd()}/`, ''),
      LEASE_SECONDS: '3',
      LOG_LEVEL: 'error',
    },
    stdio: ['ignore', log, log],
  })
  app.process.once('exit', () => !over && setTimeout(keepApp, 300, app))
}
apps.forEach(keepApp)
const answers = (port: number) =>
  fetch(`http://127.0.0.1:${port}/api/health`).then(
    r => r.ok,
    () => false,
  )
while (!(await answers(webPort))) await pause(100)
console.log(`three databases and two processes stand; ${folder}`)

// ---- the torment ----
const began = Date.now()
const killed: Record<string, number> = {}
const work = await letWork({ address, sql, world, random, clients: CLIENTS, pages: PAGES })
const telling = setInterval(() => console.log(`killed: ${JSON.stringify(killed)}; ${work.so()}`), 15_000)
await pause(6000)
for (let n = 0; n < KILLS; n++) {
  await pause(random.int(500, 4000))
  // the one that is asked, more often than not
  const node = random.chance(0.6) ? nodes[0]! : random.pick(nodes)
  const both = random.chance(0.3)
  if (random.chance(0.5) || both) {
    const app = random.pick(apps)
    while (!(await answers(app.port))) await pause(100)
    app.process!.kill('SIGKILL')
    killed.application = (killed.application ?? 0) + 1
    if (!both) continue
  }
  node.process!.kill('SIGKILL')
  killed[`database ${node.name}`] = (killed[`database ${node.name}`] ?? 0) + 1
  await once(node.process!, 'exit')
  await pause(random.int(500, 6000))
  await startAgain(node)
}
clearInterval(telling)
console.log('no more kills: what waits is sent')
const outcome = await work.end()

/** All that students wrote, as one number a database. */
const sums: Record<string, unknown>[] = []
for (const node of nodes) {
  while ((await stateOf(node)) !== 'Synced') await pause(200)
  const tables = ['deeds', 'records', 'works', 'pair_links', 'entries', 'sweep_hits', 'blob_chunks', 'memberships']
  await node.sql.query('SET SESSION wsrep_sync_wait = 1')
  const [rows] = await node.sql.query(`CHECKSUM TABLE ${tables.join(', ')}`)
  sums.push(Object.fromEntries((rows as { Table: string; Checksum: number }[]).map(r => [r.Table, r.Checksum])))
}
const alike = sums.every(s => JSON.stringify(s) === JSON.stringify(sums[0]))
const said = readFileSync(join(folder, 'application.log'), 'utf8').split('\n').filter(Boolean)
console.log(
  JSON.stringify(
    {
      seconds: Math.round((Date.now() - began) / 1000),
      kills: killed,
      ...outcome,
      databasesAlike: alike,
      errorsLogged: said.length,
    },
    null,
    2,
  ),
)
if (!alike) console.log(JSON.stringify(sums, null, 2))
for (const line of new Set(said.map(l => l.replace(/"time":"[^"]*",?/, '').slice(0, 400)))) console.log(line)
over = true
for (const app of apps) app.process?.kill('SIGKILL')
proxy.kill('SIGKILL')
outside.closeAllConnections()
outside.close()
for (const node of nodes) {
  await node.sql.close().catch(() => undefined)
  node.process?.kill('SIGKILL')
}
await sql.close().catch(() => undefined)
await pause(500)
rmSync(folder, { recursive: true, force: true })
process.exit(isWhole(outcome) && alike ? 0 : 1)
