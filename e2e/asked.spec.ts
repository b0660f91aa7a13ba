import AxeBuilder from '@axe-core/playwright'
import { clean } from './copy'
import { expect, test } from './desk'

test('a scan is asked for by keys alone, followed, and given up', async ({ page, request }) => {
  const make = async (path: string, data: object | Buffer, headers = {}) =>
    (await (await request.post(`/api${path}`, { data, headers })).json()) as { id: number; job: number }
  const { id } = await make('/inquiries', {
    ...{ title: 'Lamps on piers', question: 'What do lamps do to piers?', zone: 'UTC', style: 'apa' },
    due: '2027-06-30',
  })
  const at = `/inquiries/${id}`
  const item = {
    ...{ id: 'a', type: 'article-journal', title: 'Barnacles under a pier lamp', 'container-title': 'Pier Papers' },
    ...{ issued: { 'date-parts': [[2014]] }, volume: '3' },
  }
  await make(`${at}/imports`, Buffer.from(JSON.stringify([item])), { 'content-type': 'application/octet-stream' })
  const works = async () => (await (await request.get(`/api${at}/works`)).json()) as { id: number }[]
  await expect.poll(async () => (await works()).length).toBe(1)
  const keep = { id: crypto.randomUUID(), work: (await works())[0]!.id, pass: 'title', choice: 'keep' }
  await make(`${at}/decisions`, { group: crypto.randomUUID(), decisions: [keep] })
  await page.goto(`${at}/obtain`)
  await page.getByRole('button', { name: 'Look for ways (1)' }).press('Enter')
  await page.getByRole('button', { name: 'Ask', exact: true }).press('Enter')
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText(/It lacks pages/)).toBeVisible()
  const { violations } = await new AxeBuilder({ page }).include('[role=dialog]').analyze()
  expect(violations).toEqual([])
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
