import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { isAccessible } from './axe'
import { control, expect, storedLetters, test } from './desk'

const box = 'Query, in plain words or CQL'

/** An inquiry of the test's own, on its Gather page. */
async function freshInquiry(page: Page): Promise<string> {
  await page.request.get('/api/session')
  const made = await page.request.post('/api/inquiries', {
    data: {
      title: 'Of my own',
      question: 'What carries pollen at night?',
      due: '2026-11-20',
      style: 'apa',
      entriesWanted: 3,
    },
  })
  const gather = `/inquiries/${((await made.json()) as { id: number }).id}/gather`
  await page.goto(gather)
  return gather
}

test('a named sweep is dragged into what is left out, and stands there by its name', async ({ page }) => {
  await page.goto('/inquiries/1/gather')
  await page.getByRole('tab', { name: /^Log/ }).click()
  const name = page.getByRole('textbox', { name: 'Name of this sweep' }).first()
  await name.fill('First look')
  await name.press('Enter')
  const grip = page.getByTitle('Drag “First look” into a concept').first()
  await grip.scrollIntoViewIfNeeded()
  const from = (await grip.boundingBox())!
  await page.mouse.move(from.x + 6, from.y + 6)
  await page.mouse.down()
  await page.mouse.move(from.x - 60, from.y - 20, { steps: 4 })
  const target = page.getByRole('group', { name: 'Left out' })
  await target.scrollIntoViewIfNeeded()
  const to = (await target.boundingBox())!
  await page.mouse.move(to.x + 40, to.y + to.height / 2, { steps: 12 })
  await page.mouse.up()
  await expect(page.getByText('“First look” stands on the sheet as a term.')).toBeVisible()
  await expect(page.getByText(/what “First look” asked/)).toBeVisible()
  // nothing is left of a query that leaves itself out
  await expect(page.getByText('Nothing is left.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText(/what “First look” asked/)).toHaveCount(0)
  // the next test begins where the server has it
  await expect.poll(() => storedLetters(page)).toBe(0)
})

test('a rung is dragged to another place, years are limited beside their bars, and each limit is lifted alone', async ({
  page,
}) => {
  await page.goto('/inquiries/1/gather')
  const rung = (n: number) => page.getByRole('group', { name: new RegExp(`^Rung ${n}:`) })
  await expect(rung(1)).toContainText('artificial light at night')
  const [a, b] = [(await rung(1).boundingBox())!, (await rung(2).boundingBox())!]
  await page.mouse.move(a.x + 400, a.y + 19)
  await page.mouse.down()
  await page.mouse.move(a.x + 400, a.y + 30, { steps: 3 })
  await page.mouse.move(b.x + 400, b.y + 24, { steps: 8 })
  await page.mouse.up()
  await expect(rung(2)).toContainText('artificial light at night')
  await page.getByRole('button', { name: 'Move artificial light at night up' }).focus()
  await page.keyboard.press('Enter')
  await expect(rung(1)).toContainText('artificial light at night')

  await page.getByRole('button', { name: 'Add a limit' }).click()
  await page.getByRole('menuitem', { name: /years from/ }).click()
  await expect(page.getByText(/as counted by .*Lampyr Abstracts/)).toBeVisible()
  await page.getByLabel('From the year').fill('2022')
  await page.getByLabel('To the year').fill('2024')
  await page.getByRole('button', { name: 'Set', exact: true }).click()
  await expect(page.getByLabel(box)).toHaveValue(/year within "2022 2024"/)
  await page.getByRole('button', { name: 'Add a limit' }).click()
  await page.getByRole('menuitem', { name: 'what the library reaches' }).click()
  await expect(page.getByRole('group', { name: /what the library reaches/ })).toContainText(/judged|of \d+ fetched/)
  await page.getByRole('button', { name: 'Lift the limit what the library reaches' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Lift the limit 2022 to 2024' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel(box)).not.toHaveValue(/year/)
  // as it was
  await page.getByRole('button', { name: 'Undo' }).last().click()
  await expect(page.getByLabel(box)).toHaveValue(/2022 2024/)
  await expect.poll(() => storedLetters(page)).toBe(0)
})

test('what a rung takes away is looked at, harvested words are put on the sheet, shares are told', async ({ page }) => {
  await page.goto('/inquiries/1/gather')
  await page.getByRole('button', { name: /and towns/ }).click()
  await page.getByRole('button', { name: 'Look at what is lost' }).click()
  await expect(page.getByRole('button', { name: /Bring all [\d,]+ into the pool/ })).toBeVisible({ timeout: 30_000 })
  await page.getByRole('tab', { name: 'Harvest' }).click()
  const offer = page.getByRole('button', { name: /^Put .* on the sheet$/ }).first()
  const word = (await offer.getAttribute('aria-label'))!.replace(/^Put (.*) on the sheet$/, '$1')
  await offer.click()
  await expect(page.getByRole('switch', { name: new RegExp(`${word}.*, harvested`, 'i') }).first()).toBeVisible()
  await page.getByRole('tab', { name: 'What each catalogue adds' }).click()
  await expect(page.getByText(/without|lose/i).first()).toBeVisible()
  await page.getByRole('button', { name: 'About Civic Paper File' }).click()
  await expect(page.getByText(/lighting policy, reports and trade magazines/)).toBeVisible()
})

test('a word that nobody knows is said, with the catalogues’ own words; one record is kept alone', async ({ page }) => {
  await freshInquiry(page)
  await page.getByLabel(box).fill('hawkmothz')
  await expect(page.getByText('No catalogue knows “hawkmothz”.')).toBeVisible()
  await page.getByRole('button', { name: /^hawkmoth \(/ }).click()
  await expect(page.getByLabel(box)).toHaveValue('hawkmoth')
  await page.getByRole('button', { name: /^Sweep/ }).click()
  const first = page.getByRole('button', { name: /^keep: / }).first()
  await first.hover()
  await first.click()
  await expect(page.getByText(/\d+ records?: (1 new work|0 new works, 1 known)/)).toBeVisible()
})

test('leaving in the middle of a sweep loses nothing: it goes on, and two at once stay apart', async ({ page }) => {
  await control('/switches/vault.example', { mode: 'slow' })
  const gather = await freshInquiry(page)
  await page.getByLabel(box).fill('owl*')
  await page.getByRole('button', { name: /^Sweep/ }).click()
  await expect(page.getByText(/asking|more are coming/).first()).toBeVisible()
  await page.goto('/')
  await page.goto(gather)
  await page.getByLabel(box).fill('bat*')
  await page.getByRole('button', { name: /^Sweep/ }).click()
  await page.getByRole('tab', { name: /^Log/ }).click()
  await expect(page.getByText('owl*', { exact: true }).first()).toBeVisible()
  await expect(page.getByText('bat*', { exact: true }).first()).toBeVisible()
  await control('/reset')
  await expect(page.getByText(/Old Press Vault …/)).toHaveCount(0, { timeout: 120_000 })
})

test('the log leaves as CSV, and as a paragraph that names catalogues, days, queries and counts', async ({ page }) => {
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.goto('/inquiries/1/gather')
  await page.getByRole('tab', { name: /^Log/ }).click()
  const csv = page.waitForEvent('download')
  await page
    .getByRole('link', { name: 'Log as CSV' })
    .or(page.getByRole('button', { name: 'Log as CSV' }))
    .click()
  const rows = readFileSync(await (await csv).path(), 'utf8')
    .trim()
    .split(/\r?\n/)
  expect(rows.length).toBeGreaterThan(1)
  expect(rows.slice(1).join()).toContain('Lampyr Abstracts')
  await page.getByRole('button', { name: 'Copy methods paragraph' }).click()
  await expect(page.getByText('The methods paragraph is copied.')).toBeVisible()
  const paragraph = await page.evaluate<string>('navigator.clipboard.readText()')
  expect(paragraph).toMatch(/Lampyr Abstracts/)
  expect(paragraph).toMatch(/2026/)
  expect(paragraph).toMatch(/moth/)
})

test('related words of a vocabulary are walked and put on the sheet by keys; what is no vocabulary says so', async ({
  page,
}) => {
  await freshInquiry(page)
  const query = page.getByLabel('Query, in plain words or CQL')
  await query.fill('sleep and moth*')
  await page.getByRole('tab', { name: 'Related words' }).click()
  const press = async (name: string | RegExp) => {
    await page.getByRole('button', { name }).first().focus()
    await page.keyboard.press('Enter')
  }
  await expect(page.getByText(/No vocabulary knows “sleep” by that name/)).toBeVisible()
  await page.getByLabel('Words to look up').focus()
  await page.keyboard.type('sphinx moths')
  await page.keyboard.press('Enter')
  const hawkmoths = page.getByRole('article', { name: 'hawkmoths, Words of Town and Nature' })
  await expect(hawkmoths).toContainText('also called sphinx moths')
  await press('Go to moths')
  const moths = page.getByRole('article', { name: 'moths, Words of Town and Nature' })
  await expect(moths).toContainText('Lepidoptera that fly at night')
  await press('Put Lepidoptera on the sheet')
  await press('Put nocturnal pollination on the sheet')
  await expect(query).toHaveValue('(sleep or Lepidoptera or "nocturnal pollination") and moth*')
  await expect(page.getByRole('switch', { name: 'Lepidoptera, broader' })).toBeChecked()
  await expect(page.getByRole('status').filter({ hasText: '…' })).toHaveCount(0)
  await isAccessible(page, { within: 'main' })

  const file = (name: string, text: string) => ({ name, mimeType: 'text/turtle', buffer: Buffer.from(text) })
  await page.getByTestId('vocabulary-file').setInputFiles(file('letter.ttl', 'Dear librarian, where are the moths?'))
  const list = page.getByRole('region', { name: 'Vocabularies' })
  await expect(list.getByRole('alert')).toContainText('It is no vocabulary in SKOS')
  await press('Take out letter.ttl')
  await press('Take it out')
  await expect(list).not.toContainText('letter.ttl')
  const own =
    '@prefix skos: <http://www.w3.org/2004/02/skos/core#> . <urn:a> a skos:Concept; skos:prefLabel "sleep"@en; skos:narrower <urn:b> . <urn:b> a skos:Concept; skos:prefLabel "naps"@en .'
  await page.getByTestId('vocabulary-file').setInputFiles(file('sleep.ttl', own))
  await expect(list).toContainText('2 concepts by 2 names')
  await press('back to “sphinx moths”')
  await press(/^sleep$/)
  await press('Put naps on the sheet')
  await expect(page.getByRole('switch', { name: 'naps, narrower' })).toBeChecked()
})
