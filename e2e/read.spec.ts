import { readFileSync } from 'node:fs'
import type { Page } from '@playwright/test'
import { PDFDict, PDFDocument, PDFHexString, PDFName, PDFString } from 'pdf-lib'
import { isAccessible } from './axe'
import { clean, withCopy } from './copy'
import { expect, test } from './desk'

/** Selects from one piece of a page's words to another, as a hand does. */
async function select(page: Page, on: number, from: number, to: number): Promise<void> {
  await page.evaluate(`{
    const pieces = [...document.querySelectorAll('[data-page-number="${on}"] .textLayer span')].filter(
      s => s.firstChild?.nodeType === 3 && s.textContent.trim().length > 8,
    )
    const range = document.createRange()
    range.setStart(pieces[${from}].firstChild, 0)
    range.setEnd(pieces[${to}].firstChild, pieces[${to}].textContent.length)
    getSelection().removeAllRanges()
    getSelection().addRange(range)
  }`)
  await page.getByTestId('pages').dispatchEvent('mouseup')
}

const words = (page: Page, on: number) => page.locator(`[data-page-number="${on}"] .textLayer span`)

test('a text is read by keys: to a page by its name, larger and smaller, and words found one by one', async ({
  page,
  request,
}) => {
  const { id, copy } = await withCopy(request, 'browser')
  await page.goto(`/inquiries/${id}/read/${copy}`)
  await expect(words(page, 1).first()).toBeAttached()
  const box = page.getByRole('textbox', { name: 'page', exact: true })
  const first = await box.inputValue()
  await box.fill('no such page')
  await box.press('Enter')
  await expect(page.getByText('no page no such page')).toBeVisible()
  await box.blur()
  const last = (await page.getByText(/^of .+–.+$/).textContent())!.split('–')[1]!
  await box.fill(last)
  await box.press('Enter')
  await expect(box).toHaveValue(last)
  expect(last).not.toBe(first)
  await page.getByRole('button', { name: 'Contents' }).press('Enter')
  await page.getByRole('menuitem', { name: /^1 Introduction/ }).click()
  await expect(box).toHaveValue(first)
  // sizes
  await page.getByTestId('pages').focus()
  const size = page.getByLabel('Size', { exact: true })
  const fits = await size.textContent()
  await page.keyboard.press('+')
  await expect(size).not.toHaveText(fits!)
  await page.keyboard.press('0')
  await expect(size).toHaveText(fits!)
  // words
  await page.keyboard.press('/')
  await page.keyboard.type('the')
  const search = page.getByRole('search')
  await expect(search.getByRole('status')).toHaveText(/^\d+ of \d+$/)
  const total = Number((await search.getByRole('status').textContent())!.split(' of ')[1])
  expect(total).toBeGreaterThan(3)
  const at = async () => Number((await search.getByRole('status').textContent())!.split(' of ')[0])
  const now = await at()
  await page.keyboard.press('Enter')
  await expect.poll(at).toBe((now % total) + 1)
  await page.keyboard.press('Shift+Enter')
  await expect.poll(at).toBe(now)
  await expect(page.locator('.textLayer .highlight.selected').first()).toBeAttached()
  await clean(page)
  await page.keyboard.press('Escape')
  await expect(page.locator('.textLayer .highlight')).toHaveCount(0)
})

test('words are marked on the page, kept with their page and citation, changed, and there again', async ({
  page,
  request,
}) => {
  const { id, copy, title } = await withCopy(request, 'TeX')
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.goto(`/inquiries/${id}/read/${copy}`)
  await expect(words(page, 1).nth(12)).toBeAttached()
  await select(page, 1, 6, 8)
  const fresh = page.getByTestId('new passage')
  await fresh.getByRole('button', { name: 'What lamps change' }).click()
  await page.keyboard.press('q')
  const card = page.getByTestId('passage')
  await expect(card).toContainText('quoted')
  await expect(card).toContainText('What lamps change')
  await expect(page.locator('.over-page svg rect').first()).toBeAttached()
  await expect(page.locator('.tendrils path').first()).toBeAttached()
  // in one's own words beside others
  await select(page, 1, 10, 11)
  await page.getByRole('textbox', { name: /^Note on page/ }).fill('They were counted by night.')
  await page.keyboard.press('Control+Enter')
  await expect(card).toHaveCount(2)
  await expect(card.filter({ hasText: 'in my words' })).toContainText('They were counted by night.')
  await clean(page)
  // changed: it saves itself, and is there when one comes back
  const quoted = card.filter({ hasText: 'quoted' })
  await quoted.getByRole('button').first().click()
  await quoted.getByRole('textbox', { name: 'The words as you quote them' }).fill('Lamps were lit.')
  await expect(quoted.getByText(/^On the page:/)).toBeVisible()
  await expect(quoted.getByText('saved', { exact: true })).toBeVisible()
  await clean(page)
  await quoted.getByRole('button', { name: /^Copy with/ }).click()
  await expect
    .poll(() => page.evaluate<string>('navigator.clipboard.readText()'))
    .toMatch(/^“Lamps were lit\.” \(.+, 2014, p\. .+\)$/)
  await page.reload()
  await expect(quoted).toContainText('“Lamps were lit.”')
  // all of them, by work, and from there to the page
  await page.getByRole('link', { name: 'All 2 as text' }).click()
  await expect(page.getByRole('region', { name: title }).getByTestId('passage')).toHaveCount(2)
  await clean(page)
  await page.getByRole('link', { name: 'On its page' }).first().click()
  await expect(page.getByTestId('passage').locator('[aria-expanded=true]')).toHaveCount(1)
  // taken out, and back
  await page.getByTestId('passage').getByRole('button', { name: 'Take out' }).click()
  await expect(card).toHaveCount(1)
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(card).toHaveCount(2)
})

test('works are compared in a table that is written in by keys, and beside the pages', async ({ page, request }) => {
  const { id, copy, title } = await withCopy(request, 'browser')
  await page.goto(`/inquiries/${id}/read?view=table`)
  await page.getByRole('button', { name: `Write: Found of “${title}”` }).focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type('Fewer came.')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('cell', { name: 'Fewer came.' })).toBeVisible()
  await page.getByRole('button', { name: 'Column' }).click()
  await page.keyboard.type('Hours lit')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('columnheader', { name: 'Hours lit' })).toBeVisible()
  await expect(page.getByText('1 of 7', { exact: true })).toBeVisible()
  await clean(page)
  // the sheet beside the pages is the same
  await page.goto(`/inquiries/${id}/read/${copy}`)
  await page.getByRole('tab', { name: 'Sheet' }).click()
  await expect(page.getByRole('textbox', { name: 'Found' })).toHaveValue('Fewer came.')
  await page.getByRole('textbox', { name: 'Hours lit' }).fill('Till one.')
  await clean(page)
  await page.goto(`/inquiries/${id}/read?view=table`)
  await expect(page.getByRole('cell', { name: 'Till one.' })).toBeVisible()
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'As CSV' }).click()])
  expect(readFileSync(await file.path(), 'utf8')).toContain('Hours lit')
})

test('a figure is boxed on a page that lies on its side, and its mark turns with the page', async ({
  page,
  request,
}) => {
  const { id, copy } = await withCopy(request, 'office')
  await page.goto(`/inquiries/${id}/read/${copy}`)
  await expect(words(page, 1).first()).toBeAttached()
  const turn = async () => {
    await page
      .getByRole('toolbar')
      .getByRole('button', { name: /Full width|Size|Whole page/ })
      .click()
    await page.getByRole('menuitem', { name: 'Turn to the right' }).click()
  }
  await turn()
  const sheet = page.locator('[data-page-number="1"] canvas').first()
  await expect
    .poll(async () => ((await sheet.boundingBox())?.width ?? 0) > ((await sheet.boundingBox())?.height ?? 1e9))
    .toBe(true)
  await page.getByRole('button', { name: 'Figure', exact: true }).click()
  const room = (await page.getByTestId('box drawing').boundingBox())!
  const [x, y] = [room.x + room.width / 3, room.y + room.height / 3]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 160, y + 60, { steps: 4 })
  await page.mouse.up()
  await page.getByRole('textbox', { name: /^Note on page/ }).fill('Lamps by hour.')
  await page.getByRole('button', { name: 'Keep the figure' }).click()
  await expect(page.getByTestId('passage')).toContainText('Lamps by hour.')
  const mark = page.locator('.over-page svg > rect').first()
  const lies = async () => {
    const b = await mark.boundingBox()
    return b ? [Math.round(b.width / 20), Math.round(b.height / 20)] : []
  }
  await expect.poll(lies).toEqual([8, 3])
  await turn()
  await turn()
  await turn()
  // upright again: as wide as it was high, in the size that fits now
  await expect.poll(async () => (await lies())[1]! > (await lies())[0]!).toBe(true)
})

test('marks that others made in a file are noted, and it is saved with what was added; what was taken out comes in once', async ({
  page,
  request,
}) => {
  const { id, copy } = await withCopy(request, 'TeX', 'marked-reader')
  await page.goto(`/inquiries/${id}/read/${copy}`)
  await expect(page.getByText('7 marks were made in this file elsewhere.')).toBeVisible()
  await page.getByRole('button', { name: 'Look through them' }).press('Enter')
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('Made by Mara Zorin.')).toBeVisible()
  await clean(page)
  const struck = dialog.getByRole('checkbox', { name: /struck out/ })
  await struck.press(' ')
  await expect(struck).not.toBeChecked()
  await dialog.getByLabel('Strand of these marks').first().selectOption('on “What lamps change”')
  await dialog.getByRole('button', { name: 'Note 6 passages' }).press('Enter')
  await expect(page.getByRole('tab', { name: 'Passages 6' })).toBeVisible()
  await expect(page.getByText('One mark was made in this file elsewhere.')).toBeVisible()
  await expect(page.getByTestId('passage').filter({ hasText: 'The whole summary.' })).toBeVisible()
  await page.getByRole('button', { name: 'Note on this page' }).click()
  await page.getByRole('textbox', { name: /^Note on page/ }).fill('Ask for the „data“.')
  await page.getByRole('button', { name: 'In my words', exact: true }).click()
  await expect(page.getByRole('tab', { name: 'Passages 7' })).toBeVisible()
  const save = page.getByRole('button', { name: 'Marked PDF' })
  await expect(save).toBeEnabled()
  const [marked] = await Promise.all([page.waitForEvent('download'), save.press('Enter')])
  expect(marked.suggestedFilename()).toMatch(/ marked\.pdf$/)
  const notes = async (path: string) => {
    const doc = await PDFDocument.load(readFileSync(path))
    const annots = doc.getPage(0).node.Annots()!.asArray()
    return annots.flatMap(a => {
      const said = doc.context.lookup(a, PDFDict).lookup(PDFName.of('Contents'))
      return said instanceof PDFString || said instanceof PDFHexString ? [said.decodeText()] : []
    })
  }
  const before = await notes('server/child/foreign/marked-reader.pdf')
  const after = await notes(await marked.path())
  expect(after.filter(n => !before.includes(n))).toEqual(['Ask for the „data“.'])
  await page.getByRole('link', { name: 'All 7 as text' }).click()
  await page.getByRole('button', { name: 'As text, as file' }).click()
  const [out] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /web annotations/ }).click(),
  ])
  await page.getByLabel('A file of web annotations').setInputFiles(await out.path())
  await expect(page.getByText('Nothing new: all 7 are noted already.')).toBeVisible()
})

test('on a phone the pages come first, and what is noted lies over them when it is asked for', async ({
  page,
  request,
}) => {
  const { id, copy } = await withCopy(request, 'browser')
  await page.setViewportSize({ width: 390, height: 780 })
  await page.goto(`/inquiries/${id}/read/${copy}`)
  await expect(words(page, 1).nth(8)).toBeAttached()
  expect(await page.evaluate('document.documentElement.scrollWidth')).toBeLessThanOrEqual(390)
  await select(page, 1, 4, 5)
  await page.getByRole('button', { name: /^Keep as quoted/ }).click()
  const card = page.getByTestId('passage')
  await expect(card).toBeVisible()
  await clean(page)
  await card.getByRole('button').first().click()
  await card.getByRole('button', { name: 'Show it on its page' }).click()
  await expect(card).toBeHidden()
  await expect(page.locator('[data-page-number="1"] canvas').first()).toBeInViewport()
  await page.getByRole('button', { name: 'Passages, references' }).click()
  await page.getByRole('tab', { name: /^References/ }).click()
  await expect(page.getByRole('button', { name: 'Walk this list' })).toBeVisible()
  await clean(page)
})

test('a file that does not come is told of, and fetched once more', async ({ page, request }) => {
  const { id, copy } = await withCopy(request, 'browser')
  let isSilent = true
  // one that is never answered
  await page.route('**/copies/*/file', route => (isSilent ? undefined : route.continue()))
  await page.goto(`/inquiries/${id}/read/${copy}`)
  await expect(page.getByText(/^The file has not come yet/)).toBeVisible()
  await clean(page)
  isSilent = false
  await page.getByRole('button', { name: 'Fetch it again' }).press('Enter')
  await expect(words(page, 1).first()).toBeAttached()
  await expect(page.getByText(/has not come yet/)).toHaveCount(0)
})

test('a page that does not come is told of, and comes when the file is fetched once more', async ({
  page,
  request,
}) => {
  const { id, copy } = await withCopy(request, 'browser')
  const doc = await PDFDocument.load(readFileSync('server/child/foreign/browser.pdf'))
  for (let n = 0; n < 6; n++) doc.addPage((await doc.copyPages(doc, [1]))[0])
  // so much of each page that the file comes in parts
  for (const p of doc.getPages())
    p.node.addContentStream(doc.context.register(doc.context.stream(`% ${'x'.repeat(300_000)}\n`)))
  const file = Buffer.from(await doc.save({ useObjectStreams: false }))
  const middle = doc.getPageCount() / 2
  let isSilent = true
  await page.route('**/copies/*/file', async route => {
    const headers = { 'content-type': 'application/pdf', 'accept-ranges': 'bytes' }
    const [from, to] = (route.request().headers().range ?? '').match(/\d+/g)?.map(Number) ?? []
    if (from === undefined || to === undefined)
      return route.fulfill({
        headers: { ...headers, 'content-length': String(file.length) },
        body: file.subarray(0, 65_536),
      })
    // what lies in the middle is never answered
    if (isSilent && to > file.length * 0.35 && from < file.length * 0.75) return undefined
    return route.fulfill({
      status: 206,
      headers: { ...headers, 'content-range': `bytes ${from}-${to}/${file.length}` },
      body: file.subarray(from, to + 1),
    })
  })
  await page.goto(`/inquiries/${id}/read/${copy}?page=${middle}`)
  await expect(page.getByText(/^Page \d+ has not come yet/)).toBeVisible()
  isSilent = false
  await page.getByRole('button', { name: 'Fetch it again' }).press('Enter')
  await expect(words(page, middle).first()).toBeAttached()
  await expect(page.getByText(/has not come yet/)).toHaveCount(0)
})

test('a citation on the page leads to its entry, an entry to its sentences, and a work to what others say of it', async ({
  page,
  request,
}) => {
  const { id, work } = await withCopy(request, 'browser')
  const cited = { type: 'article-journal', title: 'Quiet quays and the moths they keep', DOI: '10.5555/quays.1' }
  const author = [{ family: 'Lunemark', given: 'Mara' }]
  await request.post(`/api/inquiries/${id}/imports`, {
    data: Buffer.from(
      JSON.stringify([
        { ...cited, id: 'b', author, issued: { 'date-parts': [[2011]] }, 'container-title': 'Night Papers' },
      ]),
    ),
    headers: { 'content-type': 'application/octet-stream' },
  })
  const works = async () => (await (await request.get(`/api/inquiries/${id}/works`)).json()) as { id: number }[]
  await expect.poll(async () => (await works()).length).toBe(2)
  const other = (await works()).find(w => w.id !== work)!.id
  // the same work in a text that cites: its own title page, then sentences, then its list
  const doc = await PDFDocument.create()
  const font = await doc.embedFont('Times-Roman')
  const sheet = () => doc.addPage([595, 842])
  const { title } = (await (await request.get(`/api/inquiries/${id}/works/${work}`)).json()) as { title: string }
  const first = sheet()
  first.drawText(title.slice(0, 70), { x: 60, y: 760, size: 13, font })
  const fill = (on: typeof first, from: number) => {
    for (let i = 0; i < 20; i++)
      on.drawText(`Line ${i} of this text says little about anything, and goes on for a while.`, {
        x: 60,
        y: from - 14 * i,
        size: 10,
        font,
      })
  }
  fill(first, 700)
  first.drawText('Moths fell by a third where quays were lit (Lunemark, 2011). Nobody knows why.', {
    x: 60,
    y: 400,
    size: 10,
    font,
  })
  const second = sheet()
  fill(second, 780)
  second.drawText('So it was at the second quay, too (Lunemark, 2011; Birchholt, 1999).', {
    x: 60,
    y: 480,
    size: 10,
    font,
  })
  second.drawText('References', { x: 60, y: 440, size: 13, font: await doc.embedFont('Times-Bold') })
  for (const [i, t] of [
    'Birchholt, O. (1999). Of lamps and of what they are for. Harbour Studies, 3, 1-9.',
    'Lunemark, M. (2011). Quiet quays and the moths they keep. Night Papers, 7, 45-67.',
  ].entries())
    second.drawText(t, { x: 60, y: 416 - 16 * i, size: 10, font })
  await request.post(`/api/inquiries/${id}/works/${work}/copies`, {
    data: Buffer.from(await doc.save()),
    headers: { 'content-type': 'application/octet-stream' },
  })
  interface Said {
    texts: { copy: number; places: unknown[] }[]
  }
  const said = async () => (await (await request.get(`/api/inquiries/${id}/works/${other}/said`)).json()) as Said
  await expect.poll(async () => (await said()).texts.map(t => t.places.length), { timeout: 60_000 }).toEqual([2])

  // from the work that is spoken of to the sentence
  await page.goto(`/inquiries/${id}/works/${other}`)
  const section = page.getByRole('region', { name: 'What others say of it' })
  await expect(section).toContainText('2 sentences')
  await isAccessible(page)
  await section.getByRole('link', { name: /So it was at the second quay/ }).press('Enter')
  await expect(page).toHaveURL(new RegExp(`/read/${(await said()).texts[0]!.copy}\\?`))
  const panel = page.getByRole('complementary', { name: 'Beside the pages' })
  await expect(panel.getByRole('tab', { name: 'References 2' })).toHaveAttribute('aria-selected', 'true')
  await expect(page.locator('[data-page-number="2"]')).toBeInViewport()
  const picked = panel.locator('[data-picked]')
  await expect(picked).toContainText('Quiet quays')
  await isAccessible(page, { without: '.textLayer' })
  // by keys to the other sentence
  await picked.getByRole('button', { name: /Moths fell by a third/ }).press('Enter')
  await expect(page.locator('[data-page-number="1"]')).toBeInViewport()

  // a citation of two works that is pressed on the page
  await picked.getByRole('button', { name: /So it was/ }).press('Enter')
  await picked
    .getByRole('button', { name: /Quiet quays/ })
    .first()
    .press('Enter')
  await expect(panel.locator('[data-picked]')).toHaveCount(0)
  const at = (words: string) => `(() => {
    const box = [...CSS.highlights.get('cited') ?? []].find(r => String(r).includes('${words}'))?.getBoundingClientRect()
    return box && { x: box.x + box.width / 2, y: box.y + box.height / 2 }
  })()`
  const press = async (words: string) => {
    await expect.poll(() => page.evaluate(at(words))).toBeTruthy()
    const { x, y } = (await page.evaluate(at(words))) as { x: number; y: number }
    await page.mouse.click(x, y)
  }
  await press('Birchholt')
  await expect(panel.locator('[data-picked]')).toContainText('Of lamps and of what they are for')
  await expect(panel.locator('[data-picked]')).toContainText('So it was at the second quay')

  // nobody has the other one: it is kept as it is printed, and comes into the pool, all of it here
  await panel.getByRole('button', { name: 'Walk this list' }).press('Enter')
  await expect(panel.getByRole('button', { name: 'in the pool 1' })).toBeVisible({ timeout: 120_000 })
  await expect(picked.getByText('Nobody who was asked has this.')).toBeVisible({ timeout: 120_000 })
  await isAccessible(page, { without: '.textLayer' })
  await picked.getByRole('button', { name: 'Keep it as printed' }).press('Enter')
  await expect(page.getByText('Entry 1 is settled.')).toBeVisible()
  await picked.getByRole('button', { name: 'Keep', exact: true }).press('Enter')
  await expect(picked.getByRole('button', { name: 'in the pool, kept' })).toBeVisible()
  await expect(panel.getByRole('button', { name: 'in the pool 2' })).toBeVisible()
})
