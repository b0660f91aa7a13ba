import { expect, test } from './desk'

test('time is planned back from the due date by how one works, with the keyboard alone', async ({ page }) => {
  await page.goto('/inquiries/1/sift')
  await page.getByTitle('The time that is left, and what it is for').focus()
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/brief\?view=time$/)
  const verdict = page.getByRole('heading', { level: 1 })
  await expect(verdict).toHaveText(/ a day will do$/)

  // a day of five minutes is not enough; two hours are
  const minutes = page.getByLabel('Minutes a day for this')
  for (const [given, said] of [
    ['5', /^It asks for .* a day from today$/],
    ['120', / a day will do$/],
  ] as const) {
    await minutes.fill(given)
    await minutes.press('Enter')
    await expect(verdict).toHaveText(said)
    await expect(page.getByText(`At your ${given === '5' ? '5 min' : '2 h'} a day`)).toBeVisible()
  }

  // what is read is taken off, and put back
  const order = page.getByRole('region', { name: 'In this order' })
  const mark = order.getByRole('button', { name: /^Mark .* as read$/, pressed: false }).first()
  const name = (await mark.getAttribute('aria-label'))!
  const marked = order.getByRole('button', { name, exact: true })
  await mark.focus()
  await page.keyboard.press('Enter')
  await expect(marked).toHaveAttribute('aria-pressed', 'true')
  await page.reload()
  await expect(marked).toHaveAttribute('aria-pressed', 'true')
  await marked.focus()
  await page.keyboard.press('Enter')
  await expect(marked).toHaveAttribute('aria-pressed', 'false')
})
