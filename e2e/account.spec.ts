import { expect, test } from './desk'

test('out and in again, by the form; a wrong password is said, a weak one is not taken, other browsers are seen', async ({
  page,
  browser,
}) => {
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Your inquiries' })).toBeVisible()
  await page.getByRole('button', { name: 'Menu' }).click()
  await page.getByRole('menuitem', { name: 'Sign out' }).click()
  await page.getByLabel('E-mail address').fill('student@halverane.example')
  await page.getByLabel('Password').fill('not the password')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('E-mail address or password is wrong.')).toBeVisible()
  await page.getByLabel('Password').fill('walk-the-vine')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Your inquiries' })).toBeVisible()
  const other = await browser.newContext()
  await (await other.newPage()).goto('/')
  await page.getByRole('button', { name: 'Menu' }).click()
  await page.getByRole('menuitem', { name: 'Your account' }).click()
  await expect(page.getByText('Chrome or Chromium on Linux, this one')).toBeVisible()
  await page.getByLabel('Present password').fill('walk-the-vine')
  await page.getByLabel('New password', { exact: true }).fill('password1234')
  await page.getByLabel('New password, once more').fill('password1234')
  await page.getByRole('button', { name: 'Change the password' }).click()
  await expect(page.getByText(/too easy to guess/)).toBeVisible()
  await page.goto('/accounts')
  await expect(page.getByText('This page is for administrators')).toBeVisible()
  await other.close()
})

test('what the server does not take stays, over a reload, and is tried again or taken back by hand', async ({
  page,
}) => {
  // before the page: one that is there may let a request of the next moment pass
  let refuse = true
  await page.route('**/api/inquiries/1/decisions', route =>
    refuse
      ? route.fulfill({
          status: 403,
          contentType: 'application/problem+json',
          body: JSON.stringify({ code: 'reader-only', title: 'You may look at this inquiry but not change it.' }),
        })
      : route.continue(),
  )
  await page.goto('/inquiries/1/sift?view=titles')
  const list = page.getByRole('list', { name: 'Titles to decide on' })
  const current = list.locator('[aria-current=true]')
  await expect(current).toBeVisible()
  for (let i = 1; i <= 2; i++) {
    await page.keyboard.press('f')
    const bar = page.getByRole('alert').filter({ hasText: 'not taken' })
    await expect(bar.getByRole('listitem')).toHaveCount(i)
  }
  await page.reload()
  const bar = page.getByRole('alert').filter({ hasText: 'not taken' })
  await expect(bar.getByRole('listitem')).toHaveCount(2)
  await expect(bar).toContainText('You may look at this inquiry but not change it.')
  refuse = false
  await bar.getByRole('button', { name: 'Take it back' }).first().click()
  await expect(bar.getByRole('listitem')).toHaveCount(1)
  const before = Number((await (await page.request.get('/api/inquiries/1')).json()).numbers.unread)
  await bar.getByRole('button', { name: 'Try again' }).click()
  await expect(bar).toHaveCount(0)
  await expect
    .poll(async () => Number((await (await page.request.get('/api/inquiries/1')).json()).numbers.unread))
    .toBe(before - 1)
})
