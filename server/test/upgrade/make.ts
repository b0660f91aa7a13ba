/**
 * Makes a fixture of the schema as it is: a dump with something in every table, and what the pages show of it.
 * npx tsx server/test/upgrade/make.ts NAME
 */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { openDesk } from '../desk'
import { freePort } from '../running'
import { smallOutside, smallWorld } from '../small-world'
import { lay, shown } from './laid'

const name = process.argv[2]!
const folder = mkdtempSync(join(tmpdir(), 'vine-upgrade-'))
const database = (await import('../../../scripts/database.mjs' as string)) as {
  startDatabase(folder: string, port: number): Promise<{ password: string }>
  stopDatabase(folder: string): Promise<boolean>
}
const port = await freePort()
const { password } = await database.startDatabase(folder, port)
process.env.TEST_DB_PORT = String(port)
process.env.TEST_DB_PASSWORD = password
const world = smallWorld()
const desk = await openDesk('upgrade', smallOutside(world))
const id = await lay(desk, world)
const pages = await shown(desk.owner, id)
const sql = execFileSync(
  'mariadb-dump',
  [
    '--no-defaults',
    '--host=127.0.0.1',
    `--port=${port}`,
    '--user=vinepath',
    '--hex-blob',
    '--skip-dump-date',
    'vinepath_upgrade',
  ],
  { env: { ...process.env, MYSQL_PWD: password }, maxBuffer: 1e9 },
)
writeFileSync(`server/test/upgrade/${name}.sql.gz`, gzipSync(sql))
writeFileSync(`server/test/upgrade/${name}.json.gz`, gzipSync(JSON.stringify({ id, pages })))
await desk.close()
await database.stopDatabase(folder)
rmSync(folder, { recursive: true, force: true })
