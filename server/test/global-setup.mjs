import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { build } from 'esbuild'
import { startDatabase } from '../../scripts/database.mjs'

/** One MariaDB for all server tests, on a port of its own; each test file makes its own database in it. */
export default async () => {
  const child = resolve('node_modules/.cache/vine-child.mjs')
  await build({
    entryPoints: ['server/child/main.ts'],
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    outfile: child,
    logLevel: 'warning',
  })
  process.env.VINE_CHILD = child
  const server = resolve('node_modules/.cache/vine-server.mjs')
  await build({
    entryPoints: ['server/main.ts'],
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    outfile: server,
    logLevel: 'warning',
  })
  process.env.VINE_SERVER = server
  const folder = mkdtempSync(join(tmpdir(), 'vine-test-'))
  const port = Number(process.env.TEST_DB_PORT ?? 4710)
  const { password } = await startDatabase(folder, port)
  process.env.TEST_DB_PORT = String(port)
  process.env.TEST_DB_PASSWORD = password
  globalThis.__vineDatabase = folder
}
