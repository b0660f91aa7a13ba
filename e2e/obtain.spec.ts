import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { APIRequestContext, Page } from '@playwright/test'
import { yearOf } from '../core/bib/dates'
import { WORLD_FILES, type WorldWork } from '../core/world/types'
import { isAccessibleInBothModes } from './axe'
import { expect, test } from './desk'

const post = async (request: APIRequestContext, path: string, data: object | Buffer, headers = {}) =>
  (await (await request.post(`/api${path}`, { data, headers })).json()) as { id: number; job: number }
const get = async <T>(request: APIRequestContext, path: string): Promise<T> =>
  (await (await request.get(`/api${path}`)).json()) as T
interface Work {
  id: number
  kind: string
  state: string
}

/** An inquiry into which works are brought, all of them kept, their ways looked for. */
async function withWays(
  request: APIRequestContext,
  bring: (at: string, done: (job: number) => Promise<void>) => Promise<void>,
): Promise<number> {
  const { id } = await post(request, '/inquiries', {
    ...{ title: 'Lamps and wings', question: 'What do lamps do to wings?', zone: 'UTC', style: 'apa' },
    due: '2026-11-20',
  })
  const at = `/inquiries/${id}`
  const done = (job: number) =>
    expect
      .poll(async () => (await get<{ state: string }>(request, `${at}/jobs/${job}`)).state, { timeout: 60_000 })
      .toBe('done')
  await bring(at, done)
  const works = (await get<Work[]>(request, `${at}/works`)).slice(0, 30)
  const decisions = works.map(w => ({ id: crypto.randomUUID(), work: w.id, pass: 'abstract', choice: 'keep' }))
  await post(request, `${at}/decisions`, { group: crypto.randomUUID(), decisions })
  await done((await post(request, `${at}/routes`, {})).job)
  return id
}

/** Articles of three platforms of the made-up world, each with a manner of its own; one asks for its terms. */
function articles(): object[] {
  const { folder } = test.info().project.metadata as { folder: string }
  const lines = readFileSync(join(folder, 'world', WORLD_FILES.works), 'utf8').split('\n')
  return ['lanternhill', 'quillon', 'tessary'].flatMap(host =>
    lines
      .filter(l => l.includes(`"host":"${host}.example"`) && l.includes('"form":"research article"'))
      .map(l => (JSON.parse(l) as WorldWork).item)
      .filter(item => item.DOI && (yearOf(item) ?? 0) > 2008 && (yearOf(item) ?? 0) < 2018)
      .slice(0, 5),
  )
}
const withArticles = (request: APIRequestContext) =>
  withWays(request, async (at, done) => {
    const list = Buffer.from(JSON.stringify(articles().map((item, i) => ({ ...item, id: `a${i}` }))))
    await done((await post(request, `${at}/imports`, list, { 'content-type': 'application/octet-stream' })).job)
  })
const withBooks = (request: APIRequestContext) =>
  withWays(request, async (at, done) => {
    const query = 'title = moth* and (title = lamp* or title = visit*)'
    const sweep = await post(request, `${at}/sweeps`, { query, catalogues: ['shelf'] })
    await done(sweep.job)
    await post(request, `${at}/pool`, { sweep: sweep.id, all: true, records: [] })
  })

async function clean(page: Page): Promise<void> {
  await isAccessibleInBothModes(page)
}

test('texts are fetched through the gate, terms read before they are accepted, and each way shows its steps', async ({
  page,
  request,
}) => {
  const id = await withArticles(request)
  await page.goto(`/inquiries/${id}/obtain`)
  const fetchNow = page.getByRole('button', { name: /^Fetch \d+ now$/ })

  // a letter to an author is noted and taken back, by keys
  const first = page.locator('[data-work]').first().locator('[data-row]')
  await first.press('Enter')
  await page.getByRole('button', { name: /Ask the author/ }).press('Enter')
  await page.getByRole('button', { name: 'I have sent it' }).press('Enter')
  await expect(page.getByText(/^You wrote on .* a second letter/)).toBeVisible()
  await clean(page)
  await page.getByRole('button', { name: 'It was not sent' }).press('Enter')
  await expect(page.getByRole('region', { name: 'Letter to the author' })).toBeVisible()
  await first.press('Enter')

  await fetchNow.focus()
  await page.keyboard.press('Enter')
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Card number').fill('HV-204417')
  await dialog.getByLabel('Password of the card').fill('moonlit-garden')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Gate: signed in')).toBeVisible()
  await expect(page.getByText(/Fetched: \d+ tried/)).toBeVisible({ timeout: 90_000 })
  await expect(page.getByText(/\d+ with terms to read/)).toBeVisible()
  await expect(page.getByText(/^[1-9]\d* of 60 files of today$/)).toBeVisible()

  // by arrow keys to the first that waits, and into it
  const waits = page.getByRole('region', { name: 'waits for you' })
  await page.getByRole('button', { name: /^Waits for you, \d+$/ }).focus()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  const steps = page.getByRole('list', { name: 'Steps of this way' })
  await expect(steps.getByRole('listitem').last()).toContainText('lanternhill.example asks you to accept its terms.')
  await expect(page.getByRole('link', { name: 'Open it in your own window' })).toHaveAttribute(
    'href',
    /gate\.halverane/,
  )
  await clean(page)
  const waiting = await waits.getByRole('button', { name: 'Read terms' }).count()
  await page.getByRole('button', { name: 'Read its terms' }).click()
  await expect(dialog.getByText('For your own study only.')).toBeVisible()
  await dialog.getByRole('button', { name: 'I accept them, fetch' }).click()
  await expect(page.getByText(`Fetched: ${waiting} tried`)).toBeVisible({ timeout: 90_000 })
  await expect(waits.getByRole('button', { name: 'Read terms' })).toHaveCount(0)

  // what is in hand is folded, and leads to its pages
  await page.getByRole('button', { name: /^In hand, \d+$/ }).click()
  await expect(page.getByRole('link', { name: 'Read it' }).first()).toBeVisible()
})

test('a shelf list is taken along on a phone: what was not there has another way, or none', async ({
  page,
  request,
}) => {
  const id = await withBooks(request)
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(`/inquiries/${id}/obtain`)
  await page.getByRole('link', { name: 'Shelf list' }).click()
  const list = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: 'Took it' }) })
  await expect(list.first()).toBeVisible()
  const all = await list.count()
  expect(all).toBeGreaterThan(2)
  const missing = list.first().getByRole('button', { name: 'Not there' })
  await missing.focus()
  await page.keyboard.press('Enter')
  await expect(missing).toHaveAttribute('aria-pressed', 'true')
  await expect(list.first()).toContainText(/Next: |There is no other way in time/)
  await clean(page)
  expect(await page.evaluate<number>('document.documentElement.scrollWidth')).toBeLessThanOrEqual(390)
  // taken back, it stands there again
  await page.keyboard.press('Enter')
  await expect(missing).toHaveAttribute('aria-pressed', 'false')
  await list.last().getByRole('button', { name: 'Took it' }).click()
  await page.getByRole('link', { name: 'All ways' }).click()
  await expect(page.getByText(/You found it at/).first()).toBeVisible()
})
