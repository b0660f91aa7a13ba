import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { execFile, execFileSync, spawnSync } from 'node:child_process'
import { createHash, randomBytes, randomUUID } from 'node:crypto'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { connect } from '../db/connection'
import { storeBlob } from '../db/blobs'
import { newInquiry, openDesk, type Desk } from './desk'
import { freePort } from './running'
import { smallOutside } from './small-world'

let desk: Desk
let folder: string
let id: number
const file = randomBytes(38_000_000)
const run = promisify(execFile)

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'vine-backup-'))
  desk = await openDesk('backup', smallOutside())
  id = await newInquiry(desk)
  const at = `/api/inquiries/${id}`
  const { body: sweep } = await desk.owner
    .post(`${at}/sweeps`)
    .send({ query: 'moth* and light*', catalogues: ['broadleaf', 'lampyr'] })
    .expect(202)
  await desk.finish(id, sweep.job)
  await desk.owner.post(`${at}/pool`).send({ sweep: sweep.id, all: true, records: [] }).expect(201)
  const works = (await desk.owner.get(`${at}/works`)).body as { id: number }[]
  const group = randomUUID()
  const decisions = works
    .slice(0, 20)
    .map(w => ({ id: randomUUID(), work: w.id, pass: 'abstract', choice: 'keep', reason: 'Größe, «ok» 🌒' }))
  await desk.owner.post(`${at}/decisions`).send({ group, decisions }).expect(201)
  // a large file, held by an import
  await desk.context.db.sequelize.transaction(async transaction => {
    const hash = await storeBlob(desk.context.db, file, 'application/octet-stream', transaction)
    await desk.context.db.imports.create({ inquiryId: id, fileName: 'large', hash, state: 'done' }, { transaction })
  })
  // no answer, session or job changes while the dump is compared
  await desk.close()
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const env = (name: string): NodeJS.ProcessEnv => ({
  ...process.env,
  DB_PORT: String(desk.settings.database.port),
  DB_PASSWORD: desk.settings.database.password,
  DB_NAME: name,
  PORT: '1',
})
const database = (name: string) => connect({ ...desk.settings.database, name })
const made = async (name: string) => {
  const sql = database('vinepath')
  await sql.query(`DROP DATABASE IF EXISTS ${name}`)
  await sql.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`)
  await sql.close()
}
/** Every row of every table, as one number a table; and the largest row in bytes. */
async function contents(name: string): Promise<Record<string, unknown>> {
  const sql = database(name)
  const tables = ((await sql.query('SHOW TABLES'))[0] as object[]).map(r => String(Object.values(r)[0])).sort()
  const sums = (await sql.query(`CHECKSUM TABLE ${tables.join(', ')} EXTENDED`))[0] as {
    Table: string
    Checksum: unknown
  }[]
  const scores = (await sql.query('SELECT score FROM pair_links ORDER BY a, b'))[0] as { score: number }[]
  await sql.close()
  return {
    ...Object.fromEntries(sums.map(s => [s.Table.split('.')[1], String(s.Checksum)])),
    'the scores': scores.map(s => s.score),
  }
}

test('a backup restores everything, to the last bit', async () => {
  const before = await contents('vinepath_backup')
  expect(before.blob_chunks).not.toBe('0')
  expect((before['the scores'] as number[]).some(s => !Number.isInteger(s) && Math.fround(s) !== s)).toBe(true)
  const target = join(folder, 'all.sql.gz')
  await run('node', ['scripts/backup.mjs', 'backup', target], { env: env('vinepath_backup') })
  await made('vinepath_restored')
  await run('node', ['scripts/backup.mjs', 'restore', target], { env: env('vinepath_restored') })
  expect(await contents('vinepath_restored')).toEqual(before)
  // once more over what is there: that is kept first
  const { stdout } = await run('node', ['scripts/backup.mjs', 'restore', target], { env: env('vinepath_restored') })
  expect(stdout).toMatch(/before-restore-.*sql\.gz/)
  expect(await contents('vinepath_restored')).toEqual(before)
})

test('the standard command alone, with its standard settings, is a whole backup too', async () => {
  await made('vinepath_plain')
  const at = ['--no-defaults', '--host=127.0.0.1', `--port=${desk.settings.database.port}`, '--user=vinepath']
  const given = { env: { ...process.env, MYSQL_PWD: desk.settings.database.password }, maxBuffer: 400_000_000 }
  const packet = execFileSync('mariadb', [...at, '-N', '-e', 'SELECT @@max_allowed_packet'], given)
    .toString()
    .trim()
  expect(packet).toBe(String(16 * 1024 * 1024))
  const dump = execFileSync('mariadb-dump', [...at, 'vinepath_backup'], given)
  execFileSync('mariadb', [...at, 'vinepath_plain'], { ...given, input: dump })
  expect(await contents('vinepath_plain')).toEqual(await contents('vinepath_backup'))
  const sql = database('vinepath_plain')
  const [rows] = await sql.query(
    'SELECT c.bytes FROM blob_chunks c JOIN imports i ON i.hash = c.hash WHERE i.file_name = "large" ORDER BY c.n',
  )
  await sql.close()
  const hash = createHash('sha256')
  for (const r of rows as { bytes: Buffer }[]) hash.update(r.bytes)
  expect(hash.digest('hex')).toBe(createHash('sha256').update(file).digest('hex'))
})

test.each([
  ['half a dump', () => readFileSync(join(folder, 'all.sql.gz')).subarray(0, 200_000)],
  ['no dump at all', () => Buffer.from('hello')],
])(
  '%s changes nothing',
  async (_, bytes) => {
    const bad = join(folder, 'bad.sql.gz')
    writeFileSync(bad, bytes())
    const before = await contents('vinepath_restored')
    const { status, stderr } = spawnSync('node', ['scripts/backup.mjs', 'restore', bad], {
      env: env('vinepath_restored'),
    })
    expect(status).toBe(1)
    expect(String(stderr)).toContain('Nothing was changed')
    expect(await contents('vinepath_restored')).toEqual(before)
  },
  60_000,
)

test('while the application runs nothing is put back', async () => {
  const port = await freePort()
  const { createServer } = await import('node:http')
  const server = createServer((_, res) => res.end()).listen(port, '127.0.0.1')
  const answer = await run('node', ['scripts/backup.mjs', 'restore', join(folder, 'all.sql.gz')], {
    env: { ...env('vinepath_restored'), PORT: String(port) },
  }).catch((e: { stderr: string }) => e)
  server.close()
  expect(answer.stderr).toContain('Stop it first')
})
