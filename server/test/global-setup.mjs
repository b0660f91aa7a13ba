import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { build } from 'esbuild'
import { startDatabase } from '../../scripts/database.mjs'

/** One MariaDB for all server tests, on a port of its own; each test file makes its own database in it. */
export default async () => {
  for (const [name, setting, entry] of [
    ['child', 'VINE_CHILD', 'server/child/main.ts'],
    ['thread', 'VINE_THREAD', 'server/threads/main.ts'],
    ['server', 'VINE_SERVER', 'server/main.ts'],
  ]) {
    const outfile = resolve(`node_modules/.cache/vine-${name}.mjs`)
    await build({
      entryPoints: [entry],
      bundle: true,
      platform: 'node',
      format: 'esm',
      target: 'node20',
      packages: 'external',
      outfile,
      logLevel: 'warning',
    })
    process.env[setting] = outfile
  }
  const folder = mkdtempSync(join(tmpdir(), 'vine-test-'))
  const port = Number(process.env.TEST_DB_PORT ?? 4710)
  const { password, socket } = await startDatabase(folder, port, { fleeting: true })
  process.env.TEST_DB_PORT = String(port)
  process.env.TEST_DB_PASSWORD = password
  process.env.TEST_DB_SOCKET = socket
  globalThis.__vineDatabase = folder
}
