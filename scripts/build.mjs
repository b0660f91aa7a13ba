#!/usr/bin/env node
/** Builds the interface (dist/web) and the programs (dist/server, dist/standins, dist/demo), unless nothing changed. */
import { createHash } from 'node:crypto'
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { build as bundle } from 'esbuild'
import { build as buildWeb } from 'vite'

function* files(folder) {
  for (const e of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, e.name)
    if (e.isDirectory()) yield* files(path)
    else if (!/\.test\.tsx?$/.test(e.name)) yield path
  }
}

export async function build() {
  const hash = createHash('sha256')
  for (const folder of ['core', 'server', 'web', 'standins', 'demo'])
    for (const f of [...files(folder)].sort()) hash.update(f).update(readFileSync(f))
  for (const f of ['package-lock.json', 'scripts/build.mjs']) hash.update(readFileSync(f))
  const now = hash.digest('hex')
  const stamp = 'dist/.stamp'
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return false
  console.log('Building …')
  await bundle({
    entryPoints: {
      'server/main': 'server/main.ts',
      'server/admin': 'server/admin.ts',
      'server/child': 'server/child/main.ts',
      'server/thread': 'server/threads/main.ts',
      'standins/main': 'standins/main.ts',
      'demo/main': 'demo/main.ts',
      'demo/lay': 'demo/lay.ts',
    },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    sourcemap: true,
    outdir: 'dist',
    logLevel: 'warning',
  })
  await buildWeb({ configFile: 'web/vite.config.ts', logLevel: 'warn' })
  for (const part of ['standard_fonts', 'cmaps', 'wasm'])
    cpSync(`node_modules/pdfjs-dist/${part}`, `dist/web/pdf/${part}`, { recursive: true })
  cpSync('node_modules/pdfjs-dist/web/images', 'dist/web/pdf/images', { recursive: true })
  mkdirSync('dist', { recursive: true })
  writeFileSync(stamp, now)
  return true
}

if (process.argv[1]?.endsWith('build.mjs')) {
  await build()
  statSync('dist/web/index.html')
}
