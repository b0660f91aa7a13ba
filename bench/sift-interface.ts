/**
 * How long the most repeated act takes: from the key that decides a work to the next one painted, and how smoothly the
 * list scrolls, in Chromium against the real server, at pools of given sizes. The limit beside them is the machine's
 * own: how long an empty page of the same browser takes from a key to a painted change, and from frame to frame.
 * npm run -s build && ORDER=likely npx tsx bench/sift-interface.ts [works …]     (ORDER=pool: nothing is learned
 * beside it)
 */
import { chromium, type Page } from '@playwright/test'
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { once } from 'node:events'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { AddressInfo } from 'node:net'
import { WorldMaker } from '../demo/generate'
import { hashPassword } from '../server/accounts/passwords'
import { connect } from '../server/db/connection'
import { migrate } from '../server/migrations/migrations'
import { models } from '../server/models'

const order = process.env.ORDER ?? 'likely'
const sizes = process.argv.length > 2 ? process.argv.slice(2).map(Number) : [1000, 100_000]
const DECISIONS = 60
const database = (await import('../scripts/database.mjs' as string)) as {
  startDatabase(folder: string, port: number): Promise<{ password: string }>
  stopDatabase(folder: string): Promise<boolean>
}
const freePort = async (): Promise<number> => {
  const s = createServer().listen(0, '127.0.0.1')
  await once(s, 'listening')
  const { port } = s.address() as AddressInfo
  await new Promise(r => s.close(r))
  return port
}
const quantile = (list: number[], q: number): number => {
  const sorted = [...list].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))]!
}
const row = (name: string, list: number[]) =>
  console.log(
    `  ${name.padEnd(46)} median ${quantile(list, 0.5).toFixed(1).padStart(6)}   p95 ${quantile(list, 0.95).toFixed(1).padStart(6)} ms`,
  )

const folder = mkdtempSync(join(tmpdir(), 'vine-bench-'))
const dbPort = await freePort()
const { password } = await database.startDatabase(folder, dbPort)
const port = await freePort()
const sql = connect({ host: '127.0.0.1', port: dbPort, name: 'vinepath', user: 'vinepath', password })
await migrate(sql)
const db = models(sql)
const user = await db.users.create({
  email: 'a@desk.example',
  name: 'A',
  passwordHash: await hashPassword('walk-the-vine'),
})
await sql.query(`INSERT INTO clock VALUES (1, '2026-10-05')`)
const server = spawn(process.execPath, ['dist/server/main.js'], {
  env: {
    ...process.env,
    PORT: String(port),
    WEB_FOLDER: 'dist/web',
    DB_PORT: String(dbPort),
    DB_PASSWORD: password,
    VINE_SECRET: 'x'.repeat(40),
    LOG_LEVEL: 'silent',
    NODE_OPTIONS: '--max-old-space-size=4096',
  },
  stdio: 'ignore',
})
const home = `http://127.0.0.1:${port}`
for (
  let i = 0;
  i < 300 &&
  !(await fetch(`${home}/api/health`).then(
    r => r.ok,
    () => false,
  ));
  i++
)
  await new Promise(r => setTimeout(r, 100))

/** A pool of so many works, each with one record, laid straight into the database: joining is measured elsewhere. */
async function lay(size: number): Promise<number> {
  const inquiry = await db.inquiries.create({
    title: `${size}`,
    question: 'Does street lighting change what moths do?',
    due: '2026-12-01',
    zone: 'UTC',
    style: 'apa',
    rules: { entriesWanted: 10 },
    query: 'lamp* and moth*',
    revision: 1,
    version: 1,
  })
  await db.memberships.create({ inquiryId: inquiry.id, userId: user.id, role: 'owner' })
  let next = Number(await db.records.max('id')) || 0
  let batch: { record: object; work: object }[] = []
  const flush = async () => {
    await db.records.bulkCreate(batch.map(b => b.record))
    await db.works.bulkCreate(batch.map(b => b.work))
    batch = []
  }
  for (const { work } of new WorldMaker(21, size)) {
    const id = ++next
    const facts = { keywords: work.keywords, subjects: work.subjects, refereedVenue: work.refereedVenue }
    const of = { id, inquiryId: inquiry.id, item: work.item, facts }
    batch.push({
      record: { ...of, source: 'broadleaf', sourceKey: work.id, rawHash: 'x', raw: '', format: 'mods', workId: id },
      work: {
        ...of,
        fieldFrom: {},
        kind: 'research article',
        confidence: 0.9,
        evidence: [],
        state: 'unread',
        revision: 1,
      },
    })
    if (batch.length === 1000) await flush()
  }
  await flush()
  return inquiry.id
}

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] })
const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })
await context.request.post(`${home}/api/session`, { data: { email: 'a@desk.example', password: 'walk-the-vine' } })

// what runs in the page is text, so that nothing of this file's own compiling goes with it

/** Watches, from each press of a key, until what is told by `what` has changed and been painted. */
const watch = (page: Page, what: string) =>
  page.evaluate(`(() => {
    window.took = []
    let began = 0
    addEventListener('keydown', () => (began = performance.now()), true)
    const told = () => document.querySelector('${what}')?.textContent
    let last = told()
    new MutationObserver(() => {
      const now = told()
      if (!began || now === last || !now) return
      last = now
      const from = began
      began = 0
      // the frame after the next one begins when the next one is painted
      requestAnimationFrame(() => requestAnimationFrame(() => window.took.push(performance.now() - from)))
    }).observe(document.body, { subtree: true, childList: true, characterData: true, attributes: true })
  })()`)
const took = (page: Page) => page.evaluate<number[]>('window.took')
const press = async (page: Page, key: string) => {
  for (let i = 0; i < DECISIONS; i++) {
    await page.keyboard.press(key)
    await page.waitForTimeout(220)
  }
}
/** Times between frames while something is scrolled by hand's speed for three seconds. */
const frames = (page: Page, selector: string) =>
  page.evaluate<number[]>(`new Promise(done => {
    const box = document.querySelector('${selector}')
    const out = []
    let last = performance.now()
    const end = last + 3000
    const step = now => {
      out.push(now - last)
      last = now
      if (box) box.scrollTop += 90
      if (now < end) requestAnimationFrame(step)
      else done(out.slice(2))
    }
    requestAnimationFrame(step)
  })`)

const empty = await context.newPage()
await empty.setContent(
  '<h1>0</h1><script>let n=0;addEventListener("keydown",()=>document.querySelector("h1").textContent=++n)</script>',
)
await watch(empty, 'h1')
await press(empty, 'j')
console.log('An empty page')
const limit = await took(empty)
row('key to painted change', limit)
row('frame to frame', await frames(empty, 'body'))
await empty.close()

for (const size of sizes) {
  const id = await lay(size)
  const page = await context.newPage()
  await page.addInitScript(`localStorage.setItem('vine-path order of reading', '${order}')`)
  const began = performance.now()
  await page.goto(`${home}/inquiries/${id}/sift`)
  await page.locator('article h1').waitFor({ timeout: 200_000 })
  console.log(
    `A pool of ${size.toLocaleString('en')} works, order ${order}, opened in ${((performance.now() - began) / 1000).toFixed(1)} s`,
  )
  await watch(page, 'article h1')
  await press(page, 'j')
  const abstracts = await took(page)
  row(`abstract pass, ${abstracts.length} decisions`, abstracts)
  await page.goto(`${home}/inquiries/${id}/sift?view=titles`)
  await page.locator('[aria-current=true]').waitFor({ timeout: 300_000 })
  await watch(page, '[aria-current=true] button')
  await press(page, 'j')
  const titles = await took(page)
  row(`title pass, ${titles.length} decisions`, titles)
  console.log(
    `  p95 against the empty page: ${(quantile(abstracts, 0.95) / quantile(limit, 0.95)).toFixed(2)} and ${(quantile(titles, 0.95) / quantile(limit, 0.95)).toFixed(2)} times`,
  )
  await page.goto(`${home}/inquiries/${id}/sift?view=list`)
  await page.getByRole('listitem').first().waitFor({ timeout: 300_000 })
  row('list scrolled, frame to frame', await frames(page, '[role=list][aria-label="Works of the pool"]'))
  const opened = await page.evaluate<number>(`(async () => {
    const button = [...document.querySelectorAll('button')].find(b => b.textContent === 'Limit …')
    const from = performance.now()
    button.click()
    await new Promise(r => requestAnimationFrame(() => requestAnimationFrame(r)))
    return performance.now() - from
  })()`)
  row('limits opened with their counts, once', [opened])
  await page.close()
}
await browser.close()
server.kill()
await sql.close()
await database.stopDatabase(folder)
rmSync(folder, { recursive: true, force: true })
