import { defineConfig } from '@playwright/test'

const port = Number(process.env.E2E_PORT ?? 4740)

/** Drives the real interface of a demo laid for these tests alone, on ports and a data folder of its own. */
export default defineConfig({
  testDir: 'e2e',
  outputDir: 'test-results/browser',
  // limits that only a hung test meets: a busy machine of two cores may take three times as long as an idle one
  timeout: 300_000,
  expect: { timeout: 30_000 },
  retries: 1,
  fullyParallel: false,
  workers: 1,
  reporter: [['list'], ['json', { outputFile: 'test-results/browser.json' }]],
  use: {
    // what does not come in a minute does not come: the retry has its own time
    actionTimeout: 60_000,
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    trace: 'retain-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: '--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync'.split(
        ' ',
      ),
    },
  },
  webServer: {
    command: 'rm -rf test-results/data && node scripts/start.mjs',
    url: `http://127.0.0.1:${port}/api/health`,
    timeout: 180_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 20_000 },
    env: {
      PORT: String(port),
      DB_PORT: String(port + 1),
      STANDINS_PORT: String(port + 2),
      MAIL_PORT: String(port + 3),
      DATA_DIR: 'test-results/data',
    },
  },
})
