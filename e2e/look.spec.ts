import { isAccessibleInBothModes, WCAG } from './axe'
import { expect, test } from './desk'

const stations = ['brief', 'gather', 'sift', 'trace', 'obtain', 'read', 'compose']
const views = ['titles', 'list', 'strands', 'twins', 'field', 'flow', 'history']

for (const path of [
  '/',
  '/new',
  '/libraries',
  '/asked',
  '/catalogues',
  ...stations.map(s => `/inquiries/1/${s}`),
  ...views.map(v => `/inquiries/1/sift?view=${v}`),
  '/inquiries/1/brief?view=time',
  '/inquiries/1/brief?view=members',
]) {
  test(`${path} meets WCAG 2.2 AA in light and dark, and needs no horizontal scroll bar`, async ({ page }) => {
    await page.goto(path)
    await page.waitForLoadState('load')
    await isAccessibleInBothModes(page, { tags: WCAG }, async () => {
      await expect(page.getByRole('status').filter({ hasText: '…' })).toHaveCount(0)
      expect(await page.evaluate('document.documentElement.scrollWidth - window.innerWidth')).toBeLessThanOrEqual(0)
    })
  })
}

test('Sift and Read work at 390 pixels', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 780 })
  await page.goto('/inquiries/1/sift')
  const title = page.getByRole('article').getByRole('heading')
  const first = await title.textContent()
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(title).not.toHaveText(first!)
  for (const path of ['sift', 'read']) {
    await page.goto(`/inquiries/1/${path}`)
    await page.waitForTimeout(500)
    expect(await page.evaluate('document.documentElement.scrollWidth')).toBeLessThanOrEqual(390)
  }
})

test('empty stations say what belongs there', async ({ page }) => {
  for (const [path, said] of [
    ['gather', 'No sweep yet'],
    ['sift', 'The pool is empty'],
    ['trace', 'No trails without a kept work'],
    ['obtain', 'Nothing to obtain yet'],
    ['read', 'Nothing to read yet'],
    ['compose', 'No entries yet'],
  ] as const) {
    await page.goto(`/inquiries/2/${path}`)
    await expect(page.getByText(said, { exact: true })).toBeVisible()
  }
  await page.goto('/inquiries/999/sift')
  await expect(page.getByText('There is nothing here')).toBeVisible()
  await page.goto('/nowhere')
  await expect(page.getByText('There is no page at this address')).toBeVisible()
})
