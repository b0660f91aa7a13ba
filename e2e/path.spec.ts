import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { isAccessible } from './axe'
import { control, expect, station, test } from './desk'

test('a student walks from a question to an exported entry', async ({ page }) => {
  // 1. Brief
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Your inquiries' })).toBeVisible()
  await expect(page.getByText('Lamps and moths in towns')).toBeVisible()
  await page.getByRole('link', { name: 'Begin an inquiry' }).click()
  await page.getByRole('button', { name: 'Begin with Gather' }).click()
  await expect(page.getByText('Write down the question you want to answer.')).toBeVisible()
  await page.getByLabel('The question').fill('Do bats hunt moths at street lamps?')
  await page.getByLabel('A short name for it').fill('Bats at lamps')
  await page.getByLabel('Due on').fill('2026-10-29')
  await inStyle(page, 'IEEE')
  await page.getByLabel('Number of entries').fill('2')
  await page.getByLabel('Least words of an annotation').fill('5')
  await page.getByRole('button', { name: 'Begin with Gather' }).click()
  await expect(page).toHaveURL(/gather$/)
  await expect(page.getByText('24 days')).toBeVisible()

  // 2. Gather: a broken query is marked, a failed catalogue is named and asked again
  const query = page.getByLabel('Query, in plain words or CQL')
  await query.fill('moth* and (')
  await expect(page.getByRole('alert')).toContainText('A term is missing')
  await page.getByRole('button', { name: /Use “/ }).click()
  await query.fill('moth* and (lamp* or light*) and year >= 2019')
  await expect(page.getByRole('main')).toContainText('Works about moth… and lamp… or light…, since 2019.')
  // the sheet follows the text, and the ladder counts before anything is fetched
  await expect(page.getByRole('switch', { name: 'light*, main' })).toBeChecked()
  const rung = page.getByRole('group', { name: /^Rung 2/ })
  await expect(rung).toContainText(/takes [\d,]+ away/)
  await control('/switches/civic.example', { mode: '503' })
  await page.getByRole('button', { name: 'Sweep all catalogues' }).click()
  await expect(page.getByText(/out of service.*others’ results stand/)).toBeVisible()
  await expect(page.getByRole('button', { name: /Bring all \d+ into the pool/ })).toBeEnabled()
  await control('/reset')
  await page.getByRole('button', { name: 'Ask again' }).click()
  await expect(page.getByText(/out of service/)).toBeHidden()
  // what the catalogue that was asked again sends may come after the first were brought
  await expect(async () => {
    await page.getByRole('button', { name: /Bring all \d+ into the pool/ }).click({ timeout: 2000 })
    await expect(page.getByText(/records: \d+ new works/).first()).toBeVisible()
    await expect(page.getByRole('button', { name: 'All are in the pool' })).toBeDisabled({ timeout: 5000 })
  }).toPass()
  await page.getByRole('tab', { name: /Log/ }).click()
  await page.getByRole('button', { name: 'Run again' }).click()
  await page.getByRole('tab', { name: /Log 2/ }).click()
  await expect(page.getByRole('button', { name: 'Run again' })).toHaveCount(2)

  // 3. Import, with one bad entry
  await page.getByRole('tab', { name: 'Your own files' }).click()
  await page.getByTestId('import-file').setInputFiles({
    name: 'mine.bib',
    mimeType: 'text/plain',
    buffer: Buffer.from(
      '@article{a, title={Bats and the lamps of my street}, author={Okafor, Ada and Vanterpole, Élise}, journal={Night Notes}, year=2019, shelf={3}}\n@article{b, = {x}}\n',
    ),
  })
  await expect(page.getByText(/1 read, 1 new work, 1 mended, 1 refused/)).toBeVisible()
  await page.getByRole('button', { name: 'Report' }).click()
  await expect(page.getByText('line 2')).toBeVisible()
  await expect(page.getByText('"shelf" is kept in the source only')).toBeVisible()
  await page.getByTestId('import-file').setInputFiles({
    name: 'letter.ris',
    mimeType: 'text/plain',
    buffer: Buffer.from('Dear librarian, where are the moths?'),
  })
  await expect(page.getByText('neither BibTeX, RIS, CSL-JSON, MARC 21, MODS nor Dublin Core')).toBeVisible()

  // 5. Sift by keyboard
  await station(page, 'Sift').click()
  const reading = page.getByRole('article', { name: 'Work to decide on' })
  const title = reading.getByRole('heading')
  // as they came: the learned order would turn with each decision
  await page.getByLabel('Order of reading').selectOption('pool')
  await page.reload()
  const first = await title.textContent()
  await page.keyboard.press('j')
  await expect(title).not.toHaveText(first!)
  const second = await title.textContent()
  await page.keyboard.press('f')
  await page.getByRole('button', { name: 'Not about the question' }).click()
  await expect(title).not.toHaveText(second!)
  const third = await title.textContent()
  await page.keyboard.press('Space')
  await expect(title).not.toHaveText(third!)
  await expect(station(page, 'Sift')).toContainText(/unread/)
  await page.keyboard.press('u')
  await expect(title).toHaveText(third!)
  await page.keyboard.press('u')
  await expect(title).toHaveText(second!)
  await page.reload()
  // what comes first now is the newest order's choice; what was kept stays kept
  await expect(title).not.toHaveText(first!)
  await page.keyboard.press('g')
  await page.getByRole('button', { name: /^kept/ }).click()
  await expect(page.getByText(first!)).toBeVisible()
  // many at once, with an undo
  await page.getByRole('button', { name: /^unread/ }).click()
  await page.getByLabel('Order of reading').selectOption('old')
  await expect(page.getByRole('checkbox').nth(8)).toBeVisible()
  for (let i = 0; i < 8; i++) await page.getByRole('checkbox').nth(i).check({ force: true })
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('button', { name: 'kept 1', exact: true })).toBeVisible()
  await expect(page.getByRole('checkbox').nth(8)).toBeVisible()
  for (let i = 0; i < 8; i++) await page.getByRole('checkbox').nth(i).check({ force: true })
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('button', { name: 'kept 9', exact: true })).toBeVisible()

  // 6. Trace
  await station(page, 'Trace').click()
  await page.getByRole('button', { name: 'Walk round 1' }).click()
  await page.getByRole('button', { name: /^Walk \d+ trails?$/ }).click()
  await expect(page.getByRole('button', { name: 'Walk round 2' })).toBeVisible({ timeout: 120_000 })
  await page.getByRole('tab', { name: 'References' }).click()
  await page.getByRole('button', { name: 'Of all kept' }).click()
  await page.getByRole('checkbox', { disabled: false }).first().check({ force: true })
  await page.getByRole('button', { name: 'Bring 1 into the pool' }).click()
  await expect(page.getByText(/1 new work in the pool/)).toBeVisible()

  // 7. Obtain: ways, the gate, fetching
  await station(page, 'Obtain').click()
  await page.getByRole('button', { name: /Look for ways/ }).click()
  await expect(page.getByRole('button', { name: /Fetch \d+ now/ })).toBeEnabled({ timeout: 30_000 })
  await page.getByRole('button', { name: 'Sign in at the gate' }).first().click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Card number').fill('HV-204417')
  await dialog.getByLabel('Password of the card').fill('wrong')
  await dialog.getByRole('button', { name: 'Sign in' }).click()
  await expect(dialog.getByRole('alert')).toContainText('does not accept')
  await dialog.getByLabel('Password of the card').fill('moonlit-garden')
  await dialog.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('Gate: signed in')).toBeVisible()
  await page.getByRole('button', { name: /Fetch \d+ now/ }).click()
  await expect(page.getByText(/Fetched: \d+ tried/)).toBeVisible({ timeout: 90_000 })
  await expect(page.getByText(/\d+ proved/)).toBeVisible()
  await page.getByRole('button', { name: /^In hand, \d/ }).click()

  // 8. Read: selectable text, a passage with its page
  await page.getByRole('link', { name: 'Read it' }).first().click()
  const line = page.getByTestId('pages').locator('.textLayer span').filter({ hasText: /\w{4}/ })
  await expect(line.nth(6)).toBeVisible()
  await line.nth(6).selectText()
  await page.getByTestId('pages').dispatchEvent('mouseup')
  await page.getByRole('button', { name: 'Keep as quoted' }).click()
  await expect(page.getByTestId('passage')).toContainText('quoted')
  await expect(station(page, 'Read')).toContainText('1 of')

  // 9. Compose: entry, annotation, styles, export
  await station(page, 'Compose').click()
  await page.getByRole('button', { name: 'Put in' }).first().click()
  const annotation = page.getByRole('textbox', { name: 'Annotation' }).first()
  await annotation.fill('Shows what bats do at lamps.')
  await expect(page.getByText('saved')).toBeVisible()
  await expect(page.getByText('6 words', { exact: true })).toBeVisible()
  await expect(page.getByText('[1]').first()).toBeVisible()
  await inStyle(page, 'APA, 7th edition')
  await expect(page.getByText('[1]')).toHaveCount(0)
  await page.getByRole('link', { name: 'Hand in' }).click()
  for (const [name, starts] of [
    ['PDF', '%PDF-'],
    ['Word processor, .docx', 'PK'],
    ['Web page', '<!doctype html>'],
    ['Markdown', '# Annotated bibliography'],
    ['Everything, .zip', 'PK'],
  ] as const) {
    await page.getByRole('radio', { name }).check()
    const download = page.waitForEvent('download')
    await page.getByRole('button', { name: /^Hand in as/ }).click()
    expect(readFileSync(await (await download).path(), 'latin1').startsWith(starts)).toBe(true)
  }
  await expect(page.getByText('PDF, Word processor, Web page, Markdown, Everything')).toBeVisible()
  for (const [name, starts] of [
    ['BibTeX', '@'],
    ['RIS', 'TY  - '],
    ['CSL-JSON', '['],
  ] as const) {
    const download = page.waitForEvent('download')
    await page.getByRole('link', { name }).click()
    expect(readFileSync(await (await download).path(), 'latin1').startsWith(starts)).toBe(true)
  }

  // 10. the path bar tells all of it
  await expect(station(page, 'Compose')).toContainText('1 of 1 begun')
  await expect(station(page, 'Obtain')).toContainText(/[1-9]\d* of 9 in hand/)
})

test('two windows editing one annotation lose nothing', async ({ page, context }) => {
  // neither saves before both have written: a window that was told of the other's text would rightly write over it
  let bothWrote = () => {}
  const written = new Promise<void>(go => {
    bothWrote = go
  })
  await context.route(/\/entries\/\d+$/, async route => {
    await written
    await route.fallback()
  })
  await page.goto('/inquiries/1/compose')
  const other = await context.newPage()
  await other.goto('/inquiries/1/compose')
  const mine = page.getByRole('textbox', { name: 'Annotation' }).first()
  const theirs = other.getByRole('textbox', { name: 'Annotation' }).first()
  await expect(mine).toBeVisible()
  await expect(theirs).toBeVisible()
  // other words than those of a try before this one
  const of = crypto.randomUUID()
  await theirs.fill(`Written in the other window of ${of}.`)
  await mine.fill(`Written here of ${of}.`)
  bothWrote()
  const choice = (p: Page) => p.getByText('Both texts are kept; choose which one stands.')
  await expect.poll(async () => (await choice(page).count()) + (await choice(other).count())).toBe(1)
  const losing = (await choice(page).count()) ? page : other
  await losing.getByRole('button', { name: 'Keep mine, above' }).click()
  await expect(losing.getByText('saved', { exact: true })).toBeVisible()
  const text = await losing.getByRole('textbox', { name: 'Annotation' }).first().textContent()
  await page.reload()
  await expect(page.getByRole('textbox', { name: 'Annotation' }).first()).toHaveText(text!)
})

test('a work has its own address, its records and its history', async ({ page }) => {
  await page.goto('/inquiries/1/sift')
  await expect(page.getByRole('article')).toBeVisible()
  await page.keyboard.press('g')
  // a line right after a limit: neither is lost
  await page.getByRole('button', { name: /^kept/ }).click()
  await page.locator('[data-index="0"] button').click()
  const sheet = page.getByRole('dialog', { name: 'Work sheet' })
  await expect(sheet.getByText('Records behind it')).toBeVisible()
  await sheet.getByRole('button', { name: 'Source' }).first().click()
  await expect(sheet.locator('pre')).toBeVisible()
  await expect(sheet.getByText('Kept by abstract')).toBeVisible()
  await expect(page).toHaveURL(/state=kept.*work=\d+/)
  await page.reload()
  await expect(sheet.getByText('Records behind it')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(sheet).toBeHidden()
})

test('keys can be changed, and are listed behind ?', async ({ page }) => {
  await page.goto('/inquiries/1/sift')
  await expect(page.getByRole('article')).toBeVisible()
  await page.keyboard.press('?')
  await page.getByRole('button', { name: 'Change the key for: Keep the work' }).click()
  await page.keyboard.press('k')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toBeHidden()
  const title = page.getByRole('article').getByRole('heading')
  const first = await title.textContent()
  await page.keyboard.press('j')
  await expect(title).toHaveText(first!)
  await page.keyboard.press('k')
  await expect(title).not.toHaveText(first!)
})

/** Chooses a citation style by its name. */
async function inStyle(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: /^Citation style/ }).click()
  const choice = page.getByRole('dialog', { name: 'Citation style' })
  await choice.getByRole('option', { name }).click()
  await expect(choice.getByRole('heading', { name, level: 3 })).toBeVisible()
  // entries of the style before stay in half light until these are formatted
  await expect(choice.locator('[aria-busy=true]')).toHaveCount(0)
  await isAccessible(page, { within: '[role=dialog]' })
  await choice.getByRole('button', { name: 'Use this style' }).click()
  await expect(page.getByRole('button', { name: `Citation style: ${name}` })).toBeVisible()
}
