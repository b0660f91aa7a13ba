import type { Page } from '@playwright/test'
import { expect, test } from './desk'

/** An inquiry of the test's own: its works come from a file, its brief as the test needs it. */
async function inquiryWith(page: Page, bib: string, brief: object = {}): Promise<string> {
  await page.request.get('/api/session')
  const made = await page.request.post('/api/inquiries', {
    data: {
      title: 'A pool',
      question: 'What do lamps do to owls?',
      due: '2026-11-20',
      style: 'apa',
      entriesWanted: 3,
      ...brief,
    },
  })
  const { id } = (await made.json()) as { id: number }
  await page.request.post(`/api/inquiries/${id}/imports`, {
    data: Buffer.from(bib),
    headers: { 'Content-Type': 'application/octet-stream', 'X-File-Name': 'works.bib' },
  })
  const wanted = bib.split('@').length - 1
  await expect
    .poll(async () => ((await (await page.request.get(`/api/inquiries/${id}/works`)).json()) as object[]).length)
    .toBe(wanted)
  return `/inquiries/${id}`
}

const BIRDS = ['Owls', 'Bats', 'Moths', 'Beetles', 'Hedgehogs', 'Foxes']
const bib = BIRDS.map(
  (b, i) =>
    `@article{k${i}, title={${b} near ${['harbours', 'bridges', 'gardens', 'quarries', 'orchards', 'canals'][i]}}, author={${['Okafor', 'Ruiz', 'Bee', 'Moro', 'Vale', 'Quill'][i]}, A.}, year={${2000 + 4 * i}}, journal={${i % 2 ? 'Dusk Letters' : 'Night Papers'}}, volume={${i + 1}}, pages={1--${10 + i}}, language={${i === 5 ? 'fr' : 'en'}}, abstract={About ${b.toLowerCase()}.}}`,
).join('\n')

test('the pool is limited with the count of each limit before it, kept as a view, and decided on as a whole', async ({
  page,
}) => {
  const at = await inquiryWith(page, bib)
  await page.goto(`${at}/sift?view=list`)
  await page.getByRole('button', { name: 'Limit …' }).click()
  const limits = page.getByRole('group', { name: 'Limits' })
  await limits.getByRole('button', { name: 'journal or publisher' }).click()
  const letters = limits.getByRole('button', { name: /Dusk Letters/ })
  await expect(letters).toHaveText(/3$/)
  await letters.click()
  await expect(page.getByText('3 of 6 works:')).toBeVisible()
  await limits.getByRole('button', { name: 'year', exact: true }).click()
  await limits.getByLabel('From year').fill('2010')
  await limits.getByRole('button', { name: 'Set the years' }).click()
  await expect(page.getByText('2 of 6 works:')).toBeVisible()
  await page.getByRole('button', { name: 'Keep as a view …' }).click()
  await page.getByLabel('Name of the view').fill('Late letters')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Close limits' }).click()
  // all that matches, at once, and back
  await page.getByRole('button', { name: 'Choose all 2' }).click()
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await expect(page.getByRole('button', { name: 'kept 2' })).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('button', { name: 'kept 0' })).toBeVisible()
  await page.getByRole('button', { name: 'Lift all' }).click()
  await expect(page.getByRole('button', { name: 'all 6', exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Views (1)' }).click()
  await page.getByRole('button', { name: 'Late letters', exact: true }).click()
  await expect(page.getByText('2 of 6 works:')).toBeVisible()
  // the limited pool has an address
  await page.reload()
  await expect(page.getByText('2 of 6 works:')).toBeVisible()
  // tagged together
  await page.getByRole('button', { name: 'Choose all 2' }).click()
  await page.getByRole('button', { name: 'Part, strand, tag …' }).click()
  await page.getByLabel('A new tag').fill('late')
  await page.keyboard.press('Enter')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('listitem').getByText('late', { exact: true })).toHaveCount(2)
})

test('strands are made; works are dragged onto them, sent by keys, and the step is taken back in the history', async ({
  page,
}) => {
  const at = await inquiryWith(page, bib)
  await page.goto(`${at}/sift?view=list`)
  await page.getByRole('button', { name: 'Choose all 6' }).click()
  await page.getByRole('button', { name: 'Keep', exact: true }).click()
  await page.getByRole('tab', { name: 'Strands' }).click()
  await page.getByLabel('Name of the strand').fill('By night')
  await page.keyboard.press('Enter')
  const column = (name: string) => page.getByRole('region', { name: new RegExp(`^${name}, `) })
  await expect(column('By night')).toContainText('Drag a work here')
  const card = column('no strand yet').getByRole('button', { name: 'Owls near harbours', exact: true })
  const from = (await card.boundingBox())!
  const to = (await column('By night').boundingBox())!
  await page.mouse.move(from.x + 20, from.y + 8)
  await page.mouse.down()
  await page.mouse.move(from.x + 60, from.y + 30, { steps: 4 })
  await page.mouse.move(to.x + 80, to.y + 120, { steps: 8 })
  await page.mouse.up()
  await expect(column('By night').getByRole('button', { name: 'Owls near harbours', exact: true })).toBeVisible()
  // by keys alone
  await column('no strand yet').getByRole('button', { name: 'Place: Bats near bridges' }).focus()
  await page.keyboard.press('Enter')
  await page.getByRole('menuitem', { name: 'By night' }).press('Enter')
  await expect(page.getByRole('region', { name: 'By night, 2 works' })).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('tab', { name: 'History' }).click()
  const step = page.getByRole('listitem').filter({ hasText: 'Put on the strand “By night”' }).first()
  await expect(step).toContainText('Bats near bridges')
  await step.getByRole('button', { name: 'Take back' }).click()
  await expect(step).toContainText('taken back')
  await page.getByRole('tab', { name: 'Strands' }).click()
  await expect(page.getByRole('region', { name: 'By night, 1 work' })).toBeVisible()
})

test('what the brief shuts out is proposed, looked at, and set aside together', async ({ page }) => {
  const at = await inquiryWith(page, bib, { languages: ['en'], notBefore: 2004 })
  await page.goto(`${at}/sift?view=titles`)
  await expect(page.getByText('2 undecided works do not fit the brief')).toBeVisible()
  await page.getByRole('button', { name: 'Look at them' }).click()
  await page.getByRole('button', { name: 'Titles' }).first().click()
  await expect(page.getByText(/Foxes near canals|Owls near harbours/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Set aside 1' }).first().click()
  await expect(page.getByText('1 undecided work does not fit the brief')).toBeVisible()
  await page.getByRole('button', { name: 'Set aside 1' }).click()
  await expect(page.getByText('do not fit the brief')).toHaveCount(0)
  await page.getByRole('tab', { name: 'Flow' }).click()
  await expect(page.getByText(/In a language I do not read/).first()).toBeVisible()
})

test('the field at a glance is read as charts and as tables, and a value limits the pool', async ({ page }) => {
  const at = await inquiryWith(page, bib)
  await page.goto(`${at}/sift?view=field`)
  const journals = page.getByRole('region', { name: 'Journals and publishers' })
  await journals.getByRole('button', { name: 'as a table' }).click()
  await expect(journals.getByRole('row', { name: /Night Papers/ })).toContainText('3')
  await journals.getByRole('button', { name: 'Night Papers' }).click()
  await expect(page.getByText('3 of 6 works:')).toBeVisible()
  await expect(page.getByRole('listitem')).toHaveCount(3)
})

test('a field is corrected, a kind overruled and a note kept, and the record stays as it came', async ({ page }) => {
  const at = await inquiryWith(page, bib)
  await page.goto(`${at}/sift?view=list`)
  await page.getByRole('button', { name: 'Owls near harbours' }).click()
  const sheet = page.getByRole('dialog', { name: 'Work sheet' })
  await sheet.getByRole('button', { name: 'Choose or correct: Volume' }).click()
  await sheet.getByLabel('Volume, as you write it').fill('34')
  await page.keyboard.press('Enter')
  await expect(sheet).toContainText('by you')
  await sheet.getByLabel('What it is, as you say').selectOption('magazine')
  await expect(sheet.getByRole('heading', { name: 'What this is: magazine' })).toBeVisible()
  await expect(sheet).toContainText('The evidence speaks for')
  await sheet.getByLabel('A note in your own words').fill('Worth a second look.')
  await sheet.getByRole('button', { name: 'background' }).click()
  await expect(sheet.getByRole('button', { name: 'background' })).toHaveAttribute('aria-pressed', 'true')
  await sheet.getByRole('button', { name: 'Source' }).click()
  await expect(sheet.locator('pre')).toContainText('volume={1}')
  await page.reload()
  await expect(sheet.getByLabel('A note in your own words')).toHaveValue('Worth a second look.')
  await expect(sheet).toContainText('34')
  await expect(sheet).toContainText('Wrote a note')
})
