import { readFileSync } from 'node:fs'
import type { APIRequestContext, Page } from '@playwright/test'
import { PDFDocument, StandardFonts } from 'pdf-lib'
import { isAccessibleInBothModes } from './axe'
import { expect, test } from './desk'

const folder = 'server/child/foreign'
interface Known {
  title: string
  authors: string
  first: number
  refs: unknown[]
}
const knownOf = (maker: string) => JSON.parse(readFileSync(`${folder}/${maker}.json`, 'utf8')) as Known
const known = knownOf('browser')
const namesOf = ({ authors }: Known) =>
  authors.split(', ').map(n => ({ given: n.split(' ')[0]!, family: n.split(' ').at(-1)! }))

/** An inquiry with works that are kept, as a list brings them. */
async function withWorks(request: APIRequestContext, items: object[]): Promise<number> {
  const make = async (path: string, data: object | Buffer, headers = {}) =>
    (await (await request.post(`/api${path}`, { data, headers })).json()) as { id: number; job: number }
  const { id } = await make('/inquiries', {
    title: 'Lamps over harbours',
    question: 'What do lamps do to harbours?',
    zone: 'UTC',
    style: 'apa',
  })
  const at = `/inquiries/${id}`
  const list = Buffer.from(JSON.stringify(items.map((item, i) => ({ id: `a${i}`, type: 'article-journal', ...item }))))
  await make(`${at}/imports`, list, { 'content-type': 'application/octet-stream' })
  const works = async () => (await (await request.get(`/api${at}/works`)).json()) as { id: number }[]
  await expect.poll(async () => (await works()).length).toBe(items.length)
  const decisions = (await works()).map(w => ({
    id: crypto.randomUUID(),
    work: w.id,
    pass: 'abstract',
    choice: 'keep',
  }))
  await make(`${at}/decisions`, { group: crypto.randomUUID(), decisions })
  return id
}
/** A text of one page, with its title in larger letters. */
async function shortText(title: string, words: string): Promise<Uint8Array> {
  const doc = await PDFDocument.create()
  const [roman, bold] = [
    await doc.embedFont(StandardFonts.TimesRoman),
    await doc.embedFont(StandardFonts.TimesRomanBold),
  ]
  const page = doc.addPage()
  page.drawText(title, { x: 72, y: 700, size: 16, font: bold })
  page.drawText('Introduction', { x: 72, y: 650, size: 12, font: bold })
  page.drawText(words, { x: 72, y: 630, size: 11, font: roman })
  return doc.save()
}
const bring = (page: Page, title: string, file: string) =>
  page.getByLabel(`A PDF of your own for: ${title}`).setInputFiles(`${folder}/${file}`)

test('a locked file is opened with its password, and asks for it again when it is read', async ({ page, request }) => {
  const id = await withWorks(request, [{ title: 'Lamps over a harbour' }])
  await page.goto(`/inquiries/${id}/obtain`)
  await bring(page, 'Lamps over a harbour', 'locked.pdf')
  const box = page.getByLabel('Password of the file')
  await box.fill('Dusk')
  await page.keyboard.press('Enter')
  await expect(page.getByText('This is not the password that the PDF asks for.')).toBeVisible()
  await box.fill('Zwielicht-7')
  await page.keyboard.press('Enter')
  await page.getByRole('link', { name: 'Read it' }).click()
  await expect(page.getByText('This copy is locked.')).toBeVisible()
  await box.fill('Dusk')
  await page.getByRole('button', { name: 'Open it' }).click()
  await expect(page.getByText('This is not the password that the PDF asks for.')).toBeVisible()
  await box.fill('Zwielicht-7')
  await page.getByRole('button', { name: 'Open it' }).click()
  await expect(page.locator('.textLayer').getByText('Nobody had counted the moths').first()).toBeAttached()
})

test('what is in a copy leads through it, and is clean for everybody', async ({ page, request }) => {
  const id = await withWorks(request, [{ title: known.title, author: namesOf(known) }])
  await page.goto(`/inquiries/${id}/obtain`)
  await bring(page, known.title, 'browser.pdf')
  await page.getByRole('link', { name: 'Read it' }).click()
  await expect(page.locator('[data-page-number="1"] canvas')).toBeVisible()
  await page.keyboard.press('c')
  const panel = page.getByRole('complementary', { name: 'Beside the pages' })
  await expect(panel.getByRole('tab', { name: `References ${known.refs.length}` })).toBeVisible()
  await expect(panel).toContainText(`called ${known.first} to`)
  const heading = panel.getByRole('button', { name: /^References \d+$/ })
  await heading.focus()
  await page.keyboard.press('Enter')
  const last = Number((await heading.textContent())!.replace('References', '')) - known.first + 1
  await expect(page.locator(`[data-page-number="${last}"]`)).toBeInViewport()
  await isAccessibleInBothModes(page, { without: '.textLayer' })
  await page.keyboard.press('c')
  await expect(panel.getByRole('tab', { name: /^Passages/ })).toHaveAttribute('aria-selected', 'true')
})

test('words are found in the copies, lead to their page, are marked there, and the view is clean for everybody', async ({
  page,
  request,
}) => {
  const id = await withWorks(request, [{ title: known.title, author: namesOf(known) }])
  const [work] = (await (await request.get(`/api/inquiries/${id}/works`)).json()) as { id: number }[]
  await request.post(`/api/inquiries/${id}/works/${work!.id}/copies`, {
    data: readFileSync(`${folder}/browser.pdf`),
    headers: { 'content-type': 'application/octet-stream' },
  })
  await expect
    .poll(async () => ((await (await request.get(`/api/inquiries/${id}/copies`)).json()) as object[]).length)
    .toBe(1)
  await page.goto(`/inquiries/${id}/read`)
  await page.getByRole('searchbox', { name: 'Words in your copies' }).fill('unit* and "references"')
  const found = page.getByRole('article', { name: known.title })
  await expect(found.getByText(/^\d+ times, on \d of \d pages$/)).toBeVisible()
  await isAccessibleInBothModes(page)
  await found.getByRole('button', { name: /^All \d+ sentences$/ }).focus()
  await page.keyboard.press('Enter')
  await expect(found.getByRole('button', { name: /^All/ })).toBeHidden()
  const last = found.getByRole('listitem').last().getByRole('link')
  const label = Number((await last.textContent())!.match(/^p\. (\d+)/)![1])
  await last.focus()
  await page.keyboard.press('Enter')
  await expect(page.locator(`[data-page-number="${label - known.first + 1}"]`)).toBeInViewport()
  await expect.poll(() => page.evaluate<number>(`CSS.highlights.get('found')?.size ?? 0`)).toBeGreaterThan(0)
  await page.getByRole('link', { name: 'All that was found' }).click()
  await expect(found).toBeVisible()
})

test('a doubtful copy is decided beside its pages, and the word is taken back', async ({ page, request }) => {
  const author = [
    { family: 'Lune', given: 'Mara' },
    { family: 'Sand', given: 'Ida' },
  ]
  const id = await withWorks(request, [{ title: 'Lamps over a harbour', author }])
  await page.goto(`/inquiries/${id}/obtain`)
  await bring(page, 'Lamps over a harbour', 'restricted.pdf')
  await page.getByRole('link', { name: /^Doubtful copy of/ }).click()
  const panel = page.getByRole('complementary', { name: 'Beside the pages' })
  await expect(panel.getByText('Is this the work?')).toBeVisible()
  await expect(panel.getByText('0 of 2 authors are named on the first pages.')).toBeVisible()
  await page.keyboard.press('y')
  await expect(panel.getByText('In hand, by your word')).toBeVisible()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(panel.getByText('Is this the work?')).toBeVisible()
  await page.keyboard.press('n')
  await expect(panel.getByText('Not this work, by your word')).toBeVisible()
  await expect(page.getByText('By your word this copy is not the work.')).toBeVisible()
})

test('twenty files find their works by their own words; a stranger comes in as a new work', async ({
  page,
  request,
}) => {
  const makers = ['browser', 'office', 'roff', 'style-sheets']
  const printed = Array.from({ length: 15 }, (_, i) => `Counting moths at the lamps of window ${i + 1}`)
  const id = await withWorks(request, [
    ...makers.map(m => ({ title: knownOf(m).title, author: namesOf(knownOf(m)) })),
    ...printed.map(title => ({ title })),
  ])
  const pdf = (name: string, bytes: Buffer | Uint8Array) => ({
    name,
    mimeType: 'application/pdf',
    buffer: Buffer.from(bytes),
  })
  const pages = printed.map((t, i) => shortText(t, `What was counted at window ${i + 1}, night by night.`))
  await page.goto(`/inquiries/${id}/obtain`)
  await page
    .getByLabel('PDFs that find their works')
    .setInputFiles([
      ...makers.map(m => pdf(`${m}.pdf`, readFileSync(`${folder}/${m}.pdf`))),
      ...(await Promise.all(pages)).map((bytes, i) => pdf(`page-${i + 1}.pdf`, bytes)),
      pdf('stranger.pdf', readFileSync(`${folder}/TeX.pdf`)),
    ])
  const panel = page.getByRole('region', { name: 'Texts you brought' })
  await expect(panel.getByText('20 texts read')).toBeVisible({ timeout: 240_000 })
  await expect(panel.getByText('in hand', { exact: true })).toHaveCount(19)
  await page.getByRole('button', { name: `Bring in as a new work: ${knownOf('TeX').title}` }).click()
  await expect(panel.getByText('in hand', { exact: true })).toHaveCount(20)
  // the panel stays while one goes on
  await panel.getByRole('link', { name: knownOf('roff').title }).click()
  await expect(page.locator('[data-page-number="1"] canvas')).toBeVisible()
  await panel.getByRole('button', { name: 'Close the texts you brought' }).click()
  await expect(panel).toBeHidden()
})
