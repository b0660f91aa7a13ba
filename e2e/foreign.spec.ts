import type { Page } from '@playwright/test'
import { control, expect, test } from './desk'

/** The address of an inquiry of the test's own. */
async function ownInquiry(page: Page): Promise<string> {
  await page.request.get('/api/session')
  const made = await page.request.post('/api/inquiries', { data: { question: 'What do melatonin and lamps do?' } })
  return `/inquiries/${((await made.json()) as { id: number }).id}`
}

test('a catalogue that answers badly is named with what it did, and the others’ records are kept', async ({ page }) => {
  const inquiry = await ownInquiry(page)
  await control('/switches/vigil.example', { mode: 'cut' })
  await page.goto(`${inquiry}/gather`)
  await page.getByLabel('Query, in plain words or CQL').fill('melatonin and lamp')
  await page.getByRole('button', { name: 'Sweep all catalogues' }).click()
  await expect(page.getByText(/broke off/).first()).toBeVisible()
  await expect(page.getByText(/others’ results stand/)).toBeVisible()
  await control('/reset')
})

test('an import says what was changed and what was kept in the source only', async ({ page }) => {
  const inquiry = await ownInquiry(page)
  await page.goto(`${inquiry}/gather`)
  await page.getByRole('tab', { name: 'Your own files' }).click()
  await page.getByTestId('import-file').setInputFiles({
    name: 'others.bib',
    mimeType: 'text/plain',
    buffer: Buffer.from(
      String.raw`@Preamble{"\def\NN{Night Notes}"}
@book{a, title={The {\Lantern} of \oddsign towns}, author={Sand, Ivo and others}, publisher={Lantern and Daughters}, year=2019, shelf={3}}
@article{b, title={Lamps\slash moths}, author={Bee, Cara}, journal={\NN}, year=2020}
@article{c, title={Never closed, author={Bee, Cara}, year=2021`,
    ),
  })
  await expect(page.getByText(/3 new works, \d mended, 0 refused/)).toBeVisible()
  await page.getByRole('button', { name: 'Report' }).click()
  await expect(page.getByText(/The command “\\Lantern” in the field "title" is not known/)).toBeVisible()
  await expect(page.getByText(/closing brace/).first()).toBeVisible()
  await expect(page.getByText('"shelf" is kept in the source only')).toBeVisible()
  await page.goto(`${inquiry}/sift?view=list`)
  await expect(page.getByText('The Lantern of oddsign towns')).toBeVisible()
  await expect(page.getByText('Lamps/moths')).toBeVisible()
})

test('a sign-in page in place of a holdings file is told, and what the library said before stands', async ({
  page,
}) => {
  await page.goto('/libraries')
  await expect(page.getByText(/lines in \d+ files/)).toBeVisible()
  const titles = await page.getByText(/lines in \d+ files/).textContent()
  await control('/switches/library.halverane.example', { mode: 'sign-in' })
  await page.getByRole('button', { name: 'Fetch again: Holdings files' }).click()
  await expect(page.getByText('Stands as before').first()).toBeVisible()
  await expect(page.getByText(/This is not a KBART file/).first()).toBeVisible()
  expect(await page.getByText(/lines in \d+ files/).textContent()).toBe(titles)
  await control('/reset')
  await page.getByRole('button', { name: 'Fetch again: Holdings files' }).click()
  await expect(page.getByText('Stands as before')).toHaveCount(0)
})
