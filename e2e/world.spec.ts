import { addDays, format, parseISO } from 'date-fns'
import { isAccessible, WCAG } from './axe'
import { expect, mail, test } from './desk'

test('the desk skips ahead, and the made-up world with it', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Menu' }).click()
  await expect(page.getByText('The desk stands on Mon 5 Oct 2026')).toBeVisible()
  await page.getByRole('menuitem', { name: 'Skip ahead a week' }).click()
  await expect(page.getByText('The desk now stands on Monday 12 October 2026')).toBeVisible()
  await expect(page.getByText('17 days').first()).toBeVisible()
})

interface Standing {
  name: string
  feed: string
  runs: { foundNew: number }[]
}

test('a standing sweep tells by list, feed and mail what is new since, as the desk moves on', async ({ page }, {
  retry,
}) => {
  const name = `This year, ${retry + 1}`
  await page.goto('/inquiries/2/gather')
  await page.getByLabel('Query, in plain words or CQL').fill('year >= 2026')
  await page.getByRole('button', { name: /^Sweep/ }).click()
  await expect(page.getByRole('button', { name: /Bring all [\d,]+ into the pool/ })).toBeVisible()
  // whatever day it is after other tests
  const { day } = (await (await page.request.get('/api/desk')).json()) as { day: string }
  await page.getByRole('tab', { name: /^Log/ }).click()
  await page
    .getByRole('button', { name: /^More for the sweep/ })
    .first()
    .click()
  await page.getByRole('menuitem', { name: 'Keep it running …' }).click()
  await page.getByLabel('Name of the standing sweep').fill(name)
  await page.getByRole('button', { name: 'Keep it running' }).click()
  const row = page.getByRole('group', { name: `Standing sweep ${name}` })
  await expect(row.getByText(/first run done/)).toBeVisible({ timeout: 120_000 })
  await expect(row.getByText(`next on ${format(addDays(parseISO(day), 7), 'd MMM yyyy')}`)).toBeVisible()

  await page.getByRole('button', { name: 'Menu' }).click()
  await page.getByRole('menuitem', { name: 'Skip ahead a month' }).click()
  await expect(row.getByRole('button', { name: /new, / })).toBeVisible({ timeout: 120_000 })
  const all = (await (await page.request.get('/api/inquiries/2/standing')).json()) as Standing[]
  const standing = all.find(s => s.name === name)!
  const feed = await (await page.request.get(standing.feed)).text()
  expect(feed.match(/<entry>/g)).toHaveLength(Math.min(200, standing.runs[0]!.foundNew))
  await expect.poll(() => mail()).toContain(`${standing.runs[0]!.foundNew} new: ${name}`)
  await row.getByRole('button', { name: /new, / }).click()
  await expect(page.getByRole('checkbox', { name: /only what is new/ })).toBeChecked()
})

test('standing trails tell what newly cites the kept works, by keyboard, as the desk moves on', async ({ page }, {
  retry,
}) => {
  const name = `New to me, ${retry + 1}`
  await page.goto('/inquiries/1/trace')
  // its round was walked on the first day: whatever came since is new to the first run
  await page.getByRole('button', { name: 'Menu' }).click()
  await page.getByRole('menuitem', { name: 'Skip ahead a month' }).click()
  await expect(page.getByText('The desk now stands on')).toBeVisible()
  const standing = page.getByRole('button', { name: /^Standing trails/ })
  await standing.focus()
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: retry ? 'Watch others too …' : 'Tell me what cites these …' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByText(/works are asked about/)).toBeVisible()
  await isAccessible(page, { tags: WCAG })
  await page.getByLabel('Name of the standing trail').fill(name)
  await page.keyboard.press('Enter')
  const row = page.getByRole('group', { name: `Standing trail ${name}` })
  await expect(row.getByText(/^\d+ new, /)).toBeVisible({ timeout: 120_000 })
  const all = (await (await page.request.get('/api/inquiries/1/standing')).json()) as Standing[]
  const { feed, runs } = all.find(s => s.name === name)!
  const n = runs[0]!.foundNew
  await expect(page.getByRole('button', { name: `Standing trails ${n} new` })).toBeVisible()
  const list = page.getByRole('list', { name: 'What newly cites your works' })
  await expect(list.getByRole('listitem')).toHaveCount(n)
  const told = await (await page.request.get(feed)).text()
  expect(told.match(/<entry>/g)).toHaveLength(n)
  await expect.poll(() => mail()).toContain(`${n} new: ${name}`)

  // decided on where it stands
  const title = (await list.getByRole('listitem').first().getByRole('button').first().textContent())!
  await list.focus()
  await page.keyboard.press('ArrowDown')
  await isAccessible(page, { tags: WCAG })
  await page.keyboard.press('f')
  await expect(page.getByText(`Set aside, and brought into the pool: “${title}”`)).toBeVisible()
  await expect(standing).toHaveAccessibleName(n > 1 ? `Standing trails ${n - 1} new` : 'Standing trails')
})

test('the demo is laid anew by a button, after asking', async ({ page }) => {
  test.setTimeout(180_000)
  const own = { title: 'Of my own', question: 'Q?', due: '2026-12-01', zone: 'UTC', style: 'apa', entriesWanted: 3 }
  await page.goto('/')
  await expect(page.getByRole('button', { name: 'Menu' })).toBeVisible()
  expect((await page.request.post('/api/inquiries', { data: own })).status()).toBe(201)
  await page.goto('/')
  await page.getByRole('button', { name: 'Menu' }).click()
  await page.getByRole('menuitem', { name: /Lay the demo anew/ }).click()
  await page.getByRole('button', { name: 'Leave it' }).click()
  await expect(page.getByText('Of my own').first()).toBeVisible()
  await page.getByRole('button', { name: 'Menu' }).click()
  await page.getByRole('menuitem', { name: /Lay the demo anew/ }).click()
  await page.getByRole('button', { name: 'Lay it anew' }).click()
  await expect(page.getByText('The demo is laid anew.')).toBeVisible({ timeout: 150_000 })
  await expect(page.getByText('Of my own')).toHaveCount(0)
  for (const title of ['Lamps and moths in towns', 'Sleep beside bright streets', 'Bats at lit bridges'])
    await expect(page.getByText(title)).toBeVisible()
  await expect(page.getByText('24 days')).toBeVisible()
})
