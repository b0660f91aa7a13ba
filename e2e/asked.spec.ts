import { clean } from './copy'
import { isAccessible } from './axe'
import { expect, homeAlone, keeping, test } from './desk'

test.afterEach(({ request }) => homeAlone(request))

test('a scan is asked for by keys alone, followed, and given up', async ({ page, request }) => {
  const at = await keeping(request, 'Lamps on piers', {
    ...{ id: 'a', type: 'article-journal', title: 'Barnacles under a pier lamp', 'container-title': 'Pier Papers' },
    ...{ issued: { 'date-parts': [[2014]] }, volume: '3' },
  })
  await page.goto(`${at}/obtain`)
  await page.getByRole('button', { name: 'Look for ways (1)' }).press('Enter')
  await page.getByRole('button', { name: 'Ask', exact: true }).press('Enter')
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText(/It lacks pages/)).toBeVisible()
  await isAccessible(page, { within: '[role=dialog]' })
  await dialog.getByLabel('Pages').fill('12-19')
  await dialog.getByRole('checkbox', { name: /I accept the terms/ }).press('Space')
  await dialog.getByRole('button', { name: 'Ask for it' }).press('Enter')
  await page.getByRole('link', { name: 'See request' }).press('Enter')
  const section = page.getByRole('region', { name: 'Lamps on piers' })
  await expect(section.getByText('Sent', { exact: true })).toBeVisible()
  await section.getByRole('button', { name: 'Barnacles under a pier lamp' }).press('Enter')
  await expect(section.getByText('The office has it.')).toBeVisible({ timeout: 45_000 })
  await clean(page)
  await section.getByRole('button', { name: 'Give it up …' }).press('Enter')
  await page.getByRole('alertdialog').getByRole('button', { name: 'Give it up' }).press('Enter')
  await expect(section.getByText('Given up', { exact: true })).toBeVisible({ timeout: 45_000 })
})

test('a library without messages is asked on its own form by keys alone, and what became of it is put down', async ({
  page,
  request,
}) => {
  const made = await request.post('/api/libraries', {
    data: { address: 'http://library.ostermoor.example/profile.json' },
  })
  const { key } = (await made.json()) as { key: string }
  await request.put('/api/libraries', { data: { libraries: [key] } })
  const at = await keeping(request, 'Lamps on moles', {
    ...{ id: 'a', type: 'book', title: 'Limpets under a mole lamp', issued: { 'date-parts': [[2011]] } },
  })
  await page.goto(`${at}/obtain`)
  await page.getByRole('button', { name: 'Look for ways (1)' }).press('Enter')
  await page.getByRole('button', { name: 'Ask', exact: true }).press('Enter')
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('checkbox', { name: /I accept the terms/ }).press('Space')
  await dialog.getByRole('button', { name: 'On to sending' }).press('Enter')
  const form = await dialog.getByRole('link', { name: 'Open its form' }).getAttribute('href')
  expect(new URL(form!).searchParams.get('rft.btitle')).toBe('Limpets under a mole lamp')
  await isAccessible(page, { within: '[role=dialog]' })
  await dialog.getByRole('button', { name: 'Done' }).press('Enter')
  // what was left for later waits
  await page.getByRole('link', { name: 'Send it' }).press('Enter')
  const section = page.getByRole('region', { name: 'Lamps on moles' })
  await section.getByRole('button', { name: 'Send it' }).press('Enter')
  await section.getByRole('button', { name: 'I sent it' }).press('Enter')
  await expect(section.getByText('Sent', { exact: true })).toBeVisible()
  await section.getByRole('button', { name: 'It is there' }).press('Enter')
  await section.getByRole('button', { name: 'I have it' }).press('Enter')
  await page.getByLabel('Due back on').fill('2027-03-04')
  await clean(page)
  await page.getByRole('dialog').getByRole('button', { name: 'I have it' }).press('Enter')
  await expect(section.getByText('Due back 4 March 2027')).toBeVisible()
  await section.getByRole('button', { name: 'I gave it back' }).press('Enter')
  await expect(section.getByText('Given back', { exact: true })).toBeVisible()
})
