import { defineConfig } from '@playwright/test'
import { memoryFolder } from './scripts/memory.mjs'

const port = Number(process.env.E2E_PORT ?? 4740)
// told once: the room in memory is another when the desks stand
const data = (process.env.DESKS_FOLDER ??= memoryFolder() ?? 'test-results')
const folderOf = (at: number) => `${data}/vine-desk-${at}`

/** Half of the tests by their time; all others are the second half. */
const firstHalf = /(account|asked|copy|foreign|gather|libraries|path|sift|trace)\.spec/
/**
 * Two desks, each with ports, a data folder and a browser of its own, so that the tests of one never meet the
 * other's.
 */
const desks = [
  { name: 'first desk', port, folder: folderOf(port), which: { testMatch: firstHalf } },
  { name: 'second desk', port: port + 10, folder: folderOf(port + 10), which: { testIgnore: firstHalf } },
]

/** Drives the real interface of demos laid for these tests alone. */
export default defineConfig({
  testDir: 'e2e',
  outputDir: 'test-results/browser',
  // limits that only a hung test meets: a busy machine of two cores may take three times as long as an idle one
  timeout: 300_000,
  expect: { timeout: 60_000 },
  retries: 1,
  fullyParallel: false,
  workers: desks.length,
  reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
  use: {
    // what does not come in a minute does not come: the retry has its own time
    actionTimeout: 60_000,
    viewport: { width: 1280, height: 800 },
    // nothing is waited for that only moves
    contextOptions: { reducedMotion: 'reduce' },
    acceptDownloads: true,
    // recording takes a fifth of the time: what fails is recorded when it is tried again
    trace: 'on-first-retry',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: '--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync'.split(
        ' ',
      ),
    },
  },
  projects: desks.map(desk => ({
    name: desk.name,
    ...desk.which,
    // one after the other: they share the desk
    workers: 1,
    use: { baseURL: `http://127.0.0.1:${desk.port}` },
    metadata: { port: desk.port, folder: desk.folder },
  })),
  webServer: {
    command: `node e2e/desks.mjs ${desks.map(d => `${d.port}=${d.folder}`).join(' ')}`,
    url: `http://127.0.0.1:${port - 1}/`,
    timeout: 300_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 30_000 },
    env: { READY_PORT: String(port - 1) },
  },
})
