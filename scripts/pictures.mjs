#!/usr/bin/env node
/** Takes the pictures of docs/screenshots from a running demo (npm start): node scripts/pictures.mjs [name ...] */
import { mkdirSync } from 'node:fs'
import { chromium } from '@playwright/test'

const address = process.env.ADDRESS ?? 'http://127.0.0.1:4600'
const folder = process.env.FOLDER ?? 'docs/screenshots'
const session = await fetch(`${address}/api/session`)
const headers = { cookie: session.headers.get('set-cookie')?.split(';')[0] ?? '' }
const [first] = await (await fetch(`${address}/api/inquiries`, { headers })).json()
const inquiry = `/inquiries/${first.id}`

/** Each picture: where, and what to do there before it is taken. */
const pictures = {
  inquiries: ['/'],
  brief: [`${inquiry}/brief`],
  time: [`${inquiry}/brief?view=time`, undefined, 'dark'],
  gather: [`${inquiry}/gather`],
  log: [
    `${inquiry}/gather`,
    async page => {
      await page.getByRole('tab', { name: /^Log/ }).click()
      const name = page.getByRole('textbox', { name: 'Name of this sweep' }).first()
      await name.fill('Lamps and moths, first look')
      await name.press('Enter')
      await page
        .getByRole('button', { name: /^More for the sweep/ })
        .first()
        .click()
      await page.getByRole('menuitem', { name: 'Keep it running …' }).click()
      await page.getByRole('button', { name: 'Keep it running' }).click()
      await page.getByText(/first run done/).waitFor({ timeout: 60_000 })
      await page.getByRole('tab', { name: /^Log/ }).scrollIntoViewIfNeeded()
      for (const i of [0, 1])
        await page
          .getByRole('checkbox', { name: /^Compare/ })
          .nth(i)
          .check({ force: true })
    },
  ],
  sift: [`${inquiry}/sift`],
  'sift-list': [
    `${inquiry}/sift?view=list&kind=literature%20review&kind=research%20article`,
    async page => {
      await page.getByRole('button', { name: 'Limit …' }).click()
      await page.getByRole('button', { name: 'journal or publisher' }).click()
    },
  ],
  'sift-phone': [`${inquiry}/sift`, page => page.setViewportSize({ width: 390, height: 780 })],
  trace: [
    `${inquiry}/trace`,
    async page => {
      await page.getByRole('list', { name: 'You lack' }).focus()
      await page.keyboard.press('ArrowDown')
      await page.keyboard.press('ArrowDown')
    },
  ],
  'trace-list': [
    `${inquiry}/trace`,
    async page => {
      const get = async path => (await fetch(`${address}/api${inquiry}${path}`, { headers })).json()
      const [works, { nodes }] = [await get('/works'), await get('/graph')]
      const family = authors => authors.split(/,| and /)[0]
      const short = name =>
        name
          .split(' ')
          .filter(w => w.length > 3)
          .map(w => `${w.slice(0, 4)}.`)
          .join(' ')
      const dated = works.filter(w => w.kind === 'research article' && w.pages && w.container)
      const whole = w => `${family(w.authors)} (${w.year}) ${w.title}. ${w.container}, ${w.pages}.`
      const lines = [
        ...dated
          .filter(w => w.state === 'kept')
          .slice(0, 3)
          .map(whole),
        ...nodes
          .filter(n => n.pointer?.container)
          .slice(3, 6)
          .map(n => whole({ ...n.pointer, year: n.year, pages: 'pp. 1 ff' })),
        ...dated
          .filter(w => w.state === 'unread')
          .slice(4, 6)
          .map(whole),
        ...dated.slice(20, 22).map(w => `${family(w.authors)} (${w.year}) ${short(w.container)}`),
        'Lamp Committee (1998) Return of lamps and posts, with hours. Typescript, 46 leaves.',
      ]
      await page.getByRole('button', { name: 'Lists', exact: true }).click()
      await page.getByLabel('The references, in whatever style').fill(lines.join('\n'))
      await page.getByLabel('What it is from').fill('Lamps, hours, flowers: what a town can switch off')
      await page.getByRole('button', { name: 'Find its works' }).click()
      await page.getByText('No work found').waitFor({ timeout: 120_000 })
      const doubt = page.getByRole('button', { name: /may fit/ })
      if (await doubt.count()) await doubt.first().click()
      await page.waitForTimeout(800)
    },
  ],
  obtain: [
    `${inquiry}/obtain`,
    async page => {
      // what can be fetched is fetched; one platform asks for its terms, on the way to an issue
      await page.getByRole('button', { name: 'Sign in at the gate' }).click()
      await page.getByLabel('Card number').fill('HV-204417')
      await page.getByLabel('Password of the card').fill('moonlit-garden')
      await page.keyboard.press('Enter')
      await page.getByText('Gate: signed in').waitFor()
      const fetchNow = page.getByRole('button', { name: /^Fetch \d+ now$/ })
      if (await fetchNow.isEnabled()) await fetchNow.click()
      await page.getByText(/^Fetched: \d+ tried/).waitFor({ timeout: 90_000 })
      await page.getByText('Signed in at the gate.').waitFor({ state: 'hidden' })
      const waits = page.locator('[data-work]').filter({ has: page.getByRole('button', { name: 'Read terms' }) })
      await waits.last().locator('[data-row]').click()
      await page.getByRole('list', { name: 'Steps of this way' }).waitFor()
    },
  ],
  read: [
    `${inquiry}/read?view=passages`,
    async page => {
      const quoted = page.getByTestId('passage').filter({ hasText: 'quoted' }).first()
      await quoted.locator('..').getByRole('link', { name: 'On its page' }).click()
      await page.locator('.over-page rect').first().waitFor()
      await page.getByRole('searchbox').fill('lighting')
      await page.getByText(/^\d+ of \d+$/).waitFor()
      await page.getByTestId('passage').locator('[aria-expanded=true]').click()
    },
  ],
  table: [
    `${inquiry}/read?view=table`,
    page =>
      page
        .getByText(/^nearest:/)
        .first()
        .waitFor(),
  ],
  copy: [
    `${inquiry}/obtain`,
    page =>
      page
        .getByRole('link', { name: /^Doubtful copy/ })
        .first()
        .click(),
  ],
  compose: [
    `${inquiry}/compose`,
    async page => {
      await page.getByRole('textbox', { name: 'Annotation' }).filter({ hasText: /\w/ }).first().focus()
      await page
        .getByRole('button', { name: /^Put in: / })
        .first()
        .waitFor()
      await page
        .getByRole('heading', { name: /words run as/ })
        .first()
        .scrollIntoViewIfNeeded()
    },
  ],
  'hand-in': [
    `${inquiry}/compose/hand-in`,
    async page => {
      await page.getByRole('textbox', { name: 'Your name' }).fill('Ines Quill')
      await page.getByRole('textbox', { name: 'Course, teacher' }).fill('Ecology 2')
      await page.frameLocator('iframe').getByText('Ines Quill · Ecology 2').waitFor()
      const download = page.waitForEvent('download')
      await page.getByRole('button', { name: 'Hand in as PDF' }).click()
      await download
      await page.getByText('as it stands').waitFor()
      await page.getByText('Handed in: this version').waitFor({ state: 'hidden' })
    },
  ],
  'work-sheet': [
    `${inquiry}/sift`,
    async page => {
      await page.keyboard.press('g')
      await page.getByRole('button', { name: /^kept/ }).click()
      await page.waitForTimeout(800)
      await page.locator('[data-index="1"] button').click()
    },
  ],
  // a second library: another gate to sign in at
  libraries: [
    '/libraries',
    async page => {
      await page.getByRole('button', { name: 'Add a library' }).click()
      await page.getByLabel('From the directory').fill('ostermoor')
      await page.getByRole('button', { name: 'Add Ostermoor Town Library' }).click()
      await page.getByRole('heading', { name: 'Ostermoor Town Library' }).waitFor()
      await page.getByRole('row', { name: /Journals for readers/ }).waitFor()
      await page.getByRole('button', { name: 'Try all' }).click()
      await page.getByText(/asks for card and password/).waitFor()
      await page.getByText(/Its files are being fetched/).waitFor({ state: 'hidden' })
    },
  ],
  // the days go on: this one is the last
  asked: [
    `${inquiry}/obtain`,
    async page => {
      const post = (path, body) =>
        page.evaluate(
          async ([to, sent]) => {
            const headers = { 'content-type': 'application/json' }
            const answer = await fetch(`/api${to}`, { method: 'POST', headers, body: JSON.stringify(sent) })
            return answer.json()
          },
          [path, body],
        )
      const works = await page.evaluate(async path => (await fetch(path)).json(), `/api${inquiry}/routes`)
      const lacking = works.filter(w => w.reach !== 'in hand' && w.routes?.some(r => r.way === 'loan') && !w.loan)
      const ask = list =>
        post(`${inquiry}/loans`, {
          ...{ library: 'home', accepted: true },
          works: list.map(w => ({ work: w.id, kind: w.routes.find(r => r.way === 'loan').loan.kind })),
        })
      await ask(lacking.slice(0, 5))
      await page.waitForTimeout(3000)
      await post('/desk', { days: 2 })
      await ask(lacking.slice(5, 9))
      await page.waitForTimeout(3000)
      await post('/desk', { days: 5 })
      await page.waitForTimeout(6000)
      await page.goto(`${address}/asked`)
      await page.getByRole('heading', { name: 'Asked for' }).waitFor()
    },
  ],
}

const wanted = process.argv.slice(2)
mkdirSync(folder, { recursive: true })
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: '--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync'.split(
    ' ',
  ),
})
for (const [name, [path, act, colorScheme = 'light']] of Object.entries(pictures)) {
  if (wanted.length && !wanted.includes(name)) continue
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme, reducedMotion: 'reduce' })
  await page.goto(address + path)
  await page.waitForLoadState('networkidle', { timeout: 4000 }).catch(() => undefined)
  await page.waitForTimeout(2000)
  await act?.(page)
  await page.waitForTimeout(2500)
  await page.screenshot({ path: `${folder}/${name}.png` })
  await page.close()
}
await browser.close()
