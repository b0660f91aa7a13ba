import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { bundled } from './bundled.mjs'
import { build } from 'esbuild'
import { startDatabase } from '../../scripts/database.mjs'
import { memoryFolder } from '../../scripts/memory.mjs'

/** Each of these is hundreds of modules, which every test file would link anew. */
async function bundlePackages() {
  for (const [name, outfile] of Object.entries(bundled))
    await build({
      stdin: { contents: `export * from '${name}'`, resolveDir: process.cwd() },
      bundle: true,
      format: 'esm',
      target: 'node20',
      // older modules inside ask for React by require
      banner: {
        js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url)",
      },
      external: ['react', 'react-dom', 'react/*', 'react-dom/*'],
      outfile,
      logLevel: 'warning',
    })
}

/** One MariaDB for all server tests, on a port of its own; each test file makes its own database in it. */
export default async () => {
  await bundlePackages()
  const memory = memoryFolder()
  if (memory && !process.env.TMPDIR) process.env.TMPDIR = memory
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
