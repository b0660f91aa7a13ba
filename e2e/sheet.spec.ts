import { control, expect, test } from './desk'

test('from a question to records by keyboard alone', async ({ page }) => {
  await page.goto('/inquiries/2/gather')
  const press = async (name: string | RegExp, role: 'button' | 'switch' | 'checkbox' = 'button', key = 'Enter') => {
    await page.getByRole(role, { name }).first().focus()
    await page.keyboard.press(key)
  }
  const box = page.getByLabel('Query, in plain words or CQL')
  // 1. words of the question become concepts; terms are added, switched, told apart by field
  await press('sleep')
  await press('shift workers')
  await expect(box).toHaveValue('sleep and "shift workers"')
  await page.getByLabel('Add a term to shift workers').focus()
  await page.keyboard.type('shift work, nurse*')
  await page.keyboard.press('Enter')
  await expect(box).toHaveValue('sleep and ("shift workers" or "shift work" or nurse*)')
  await press('“shift workers”, main', 'switch', 'Space')
  await expect(box).toHaveValue('sleep and ("shift work" or nurse*)')
  await page.getByRole('button', { name: 'More for sleep' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('menuitemradio', { name: 'title' })).toBeVisible()
  await page.keyboard.type('title')
  await page.keyboard.press('Enter')
  await expect(box).toHaveValue('title = sleep and ("shift work" or nurse*)')
  await page.keyboard.press('Escape')
  await page.reload()
  await expect(box).toHaveValue('title = sleep and ("shift work" or nurse*)')

  // 4. the ladder: order, off and on
  const rung = (n: number) => page.getByRole('group', { name: new RegExp(`^Rung ${n}:`) })
  await expect(rung(2)).toContainText(/takes [\d,]+ away|nothing away/)
  await press('Move shift workers up')
  await expect(rung(1)).toContainText('shift workers')
  await press('sleep: on', 'checkbox', 'Space')
  await expect(box).toHaveValue('"shift work" or nurse*')
  await press('sleep: on', 'checkbox', 'Space')

  // 7. records: swept by Enter, chosen by Space, kept at once
  await box.focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /Bring all \d+ into the pool/ })).toBeVisible()
  // records still arrive and are put in order, so that the line in focus can give way to another
  await expect(async () => {
    await press(/^Choose: /, 'checkbox', 'Space')
    await expect(page.getByRole('button', { name: 'Keep 1', exact: true })).toBeVisible({ timeout: 2000 })
  }).toPass()
  await press('Keep 1')
  await expect(page.getByText(/\d+ records?: 1 new work/)).toBeVisible()
  // the order by nearness may have moved its line out of sight
  await expect(page.getByText(/· [1-9]\d* of them in your pool/)).toBeVisible()
})

test('a rung shows what it takes away, a cell of the grid becomes the query, the log compares', async ({ page }) => {
  await page.goto('/inquiries/1/gather')
  await page.getByRole('button', { name: /and towns/ }).click()
  await expect(page.getByRole('region', { name: 'What “towns” takes away' })).toContainText(/your library reaches \d+/)
  await page.getByRole('tab', { name: 'Grid' }).click()
  await page.getByRole('button', { name: 'Fill the grid' }).click()
  await expect(page.getByText('every cell is filled')).toBeVisible({ timeout: 60_000 })
  await page.getByTitle('Ask for light pollution with hawkmoth').click()
  await expect(page.getByLabel('Query, in plain words or CQL')).toHaveValue(/"light pollution" and hawkmoth\*/)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByLabel('Query, in plain words or CQL')).toHaveValue(/"street light\*"/)
  await page.getByRole('tab', { name: /^Log/ }).click()
  for (const i of [0, 1])
    await page
      .getByRole('checkbox', { name: /^Compare/ })
      .nth(i)
      .check({ force: true })
  await expect(page.getByText(/^\d+ came$/)).toBeVisible()
})

test('a catalogue that does not answer is said before the run, and the others’ counts stand', async ({ page }) => {
  await control('/switches/vigil.example', { mode: '503' })
  await page.goto('/inquiries/2/gather')
  const box = page.getByLabel('Query, in plain words or CQL')
  await box.fill('melatonin and lamp')
  await expect(page.getByText('does not answer').first()).toBeVisible()
  await expect(page.getByRole('group', { name: 'Rung 1: melatonin' })).toContainText('without 1 catalogue')
  await control('/reset')
})

test('pasted lines are looked up, and what is not found is named', async ({ page }) => {
  await page.goto('/inquiries/2/gather')
  await page.getByRole('tab', { name: 'Your own files' }).click()
  await page
    .getByLabel('DOIs, ISBNs, references or links, one a line')
    .fill('10.5555/not.there\nTurnips on the moon and how they sing')
  await page.getByRole('button', { name: 'Look up 2 lines' }).click()
  await expect(page.getByText('2 not found')).toBeVisible()
})
