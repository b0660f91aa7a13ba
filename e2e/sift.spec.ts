import type { Page } from '@playwright/test'
import { expect, station, storedLetters, test } from './desk'

test('with the network gone in the middle of sifting, decisions wait here, outlast a reload, and arrive once', async ({
  page,
}) => {
  let gone = false
  await page.route('**/api/inquiries/1/decisions', route => (gone ? route.abort() : route.continue()))
  await page.goto('/inquiries/1/sift')
  const unread = async () =>
    Number(/([\d,]+) unread/.exec((await station(page, 'Sift').textContent())!)![1]!.replace(',', ''))
  await expect(
    page
      .getByRole('article')
      .or(page.getByRole('heading', { level: 1 }))
      .first(),
  ).toBeVisible()
  const before = await unread()
  gone = true
  const kept: number[] = []
  page.on(
    'request',
    r =>
      r.method() === 'POST' &&
      r.url().endsWith('/decisions') &&
      kept.push((r.postDataJSON() as { decisions: { work: number }[] }).decisions[0]!.work),
  )
  for (let i = 0; i < 3; i++) {
    await page.keyboard.press('j')
    await expect.poll(() => storedLetters(page)).toBe(i + 1)
  }
  const stored = () => storedLetters(page)
  await page.reload()
  await expect.poll(() => kept.length).toBeGreaterThan(1)
  expect(await stored()).toBe(3)
  gone = false
  await expect.poll(stored, { timeout: 30_000 }).toBe(0)
  await expect.poll(unread).toBe(before - 3)
  const { history, state } = await (await page.request.get(`/api/inquiries/1/works/${kept[0]}`)).json()
  expect(state).toBe('kept')
  expect(history.filter((h: { detail: { choice?: string } }) => h.detail.choice === 'keep')).toHaveLength(1)
})

/** An inquiry of the test's own with works from a file. */
async function poolOf(page: Page, entries: string[]): Promise<string> {
  await page.request.get('/api/session')
  const made = await page.request.post('/api/inquiries', {
    data: { title: 'Sixty', question: 'What do lamps do to owls?', due: '2026-11-20', style: 'apa', entriesWanted: 3 },
  })
  const { id } = (await made.json()) as { id: number }
  await page.request.post(`/api/inquiries/${id}/imports`, {
    data: Buffer.from(entries.join('\n')),
    headers: { 'Content-Type': 'application/octet-stream', 'X-File-Name': 'works.bib' },
  })
  await expect
    .poll(async () => ((await (await page.request.get(`/api/inquiries/${id}/works`)).json()) as object[]).length)
    .toBe(entries.length)
  return `/inquiries/${id}`
}

test('sixty works go through the passes by title and abstract by keyboard alone, and steps are taken back', async ({
  page,
}) => {
  const letters = 'abcdefghijklmnopqrstuvwxyz'
  const at = await poolOf(
    page,
    Array.from(
      { length: 60 },
      (_, i) =>
        `@article{k${i}, title={${i % 2 ? 'Lamps' : 'Hulls'} of ${letters[i % 26]!.repeat(6)} and ${letters[(i * 7 + 3) % 26]!.repeat(5)}}, year={${1960 + i}}, author={Okafor, A.}, abstract={An abstract about ${i % 2 ? 'owls at lamps' : 'boats'}.}}`,
    ),
  )
  await page.goto(`${at}/sift?view=titles`)
  const list = page.getByRole('list', { name: 'Titles to decide on' })
  const current = list.locator('[aria-current=true]')
  await expect(current).toBeVisible()
  for (let i = 0; i < 60; i++) {
    // lamps are kept, hulls set aside: what is current is read before the key
    const title = (await current.getByRole('button').first().textContent())!
    await page.keyboard.press(title.startsWith('Lamps') ? 'j' : 'f')
    if (i < 59) await expect(list.locator(`[data-index="${i + 1}"]`)).toHaveAttribute('aria-current', 'true')
  }
  await expect(page.getByText(/60 decided here/)).toBeVisible()
  await expect(page.getByRole('tab', { name: 'By abstract 30' })).toBeVisible()
  // the last one back, and kept again
  await page.keyboard.press('u')
  await expect(page.getByText(/59 decided here/)).toBeVisible()
  await page.goto(`${at}/sift?view=titles`)
  await expect(current).toBeVisible()
  await page.keyboard.press((await current.textContent())!.includes('Lamps') ? 'j' : 'f')

  await page.getByRole('tab', { name: /^By abstract/ }).click()
  const title = page.getByRole('article').getByRole('heading')
  for (let i = 0; i < 30; i++) {
    const before = await title.textContent()
    expect(before).toMatch(/^Lamps/)
    if (i % 3) await page.keyboard.press('j')
    else {
      await page.keyboard.press('f')
      await expect(page.getByRole('group', { name: 'Why is it set aside?' })).toBeVisible()
      await page.keyboard.press('1')
    }
    if (i < 29) await expect(title).not.toHaveText(before!)
  }
  await expect(page.getByText(/20 kept, 40 set aside, 0 left for later/)).toBeVisible()
  for (let i = 0; i < 3; i++) await page.keyboard.press('u')
  await expect(page.getByRole('tab', { name: 'By abstract 3' })).toBeVisible()

  await page.getByRole('tab', { name: 'Flow' }).click()
  await page.getByText('The same in numbers').click()
  await expect(page.getByRole('row', { name: /Works to sift/ })).toContainText(/60.*Set aside by title.*30/)
  const saved = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Save as SVG' }).click()
  expect((await saved).suggestedFilename()).toBe('flow.svg')
})

test('a pair in doubt is put side by side, joined by a key, and the answer taken back', async ({ page }) => {
  const title = 'Harbour lamps and the moths of a cold spring'
  const at = await poolOf(page, [
    `@article{a, title={${title}}, year={2020}, author={Okafor, Ada}}`,
    `@article{b, title={${title}}, year={2022}, journal={Night Papers}}`,
  ])
  await page.goto(`${at}/sift?view=twins`)
  await expect(page.getByRole('heading', { name: 'Do these describe one work?' })).toBeVisible()
  await expect(page.getByRole('row', { name: /Authors/ })).toContainText('not given')
  await page.keyboard.press('j')
  await expect(page.getByText('No pair is in doubt')).toBeVisible()
  await expect(station(page, 'Sift')).toContainText('1 unread')
  await page.keyboard.press('u')
  await expect(page.getByRole('heading', { name: 'Do these describe one work?' })).toBeVisible()
  await expect(station(page, 'Sift')).toContainText('2 unread')
})

test('by the text itself a work is kept or set aside with a reason, from Read', async ({ page }) => {
  await page.goto('/inquiries/1/read')
  await page
    .getByRole('link', { name: /^Read the/ })
    .first()
    .click()
  const group = page.getByRole('group', { name: 'Decide by its text' })
  await expect(group).toBeVisible()
  await page.keyboard.press('f')
  await page.keyboard.press('2')
  await expect(group.getByRole('button', { name: /^Set aside/ })).toHaveAttribute('aria-pressed', 'true')
  await page.keyboard.press('u')
  await expect(group.getByRole('button', { name: /^Set aside/ })).toHaveAttribute('aria-pressed', 'false')
})

test('a check is begun, its draw comes first, and its sentence waits until all are decided', async ({ page }) => {
  const letters = 'abcdefghijklmnopqrstuvwxyz'
  const at = await poolOf(
    page,
    Array.from(
      { length: 26 },
      (_, i) => `@article{k${i}, title={Owls of ${letters[i]!.repeat(6)}}, year={${1990 + i}}, author={Bee, C.}}`,
    ),
  )
  const { id } = (await (await page.request.post(`/api${at}/checks`, { data: { draws: 3 } })).json()) as { id: number }
  expect(id).toBeGreaterThan(0)
  await page.goto(`${at}/sift`)
  const left = page.getByRole('group', { name: 'What may be left' })
  await expect(left).toContainText('0 of 3 works decided')
  for (let i = 0; i < 3; i++) {
    await page.keyboard.press('f')
    await page.keyboard.press('1')
    if (i < 2) await expect(left).toContainText(`${i + 1} of 3 works decided`)
  }
  await expect(left).toContainText(/At most \d+ works you would keep among the 23 others/)
})
