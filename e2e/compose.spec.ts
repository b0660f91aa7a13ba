import { clean, withCopy } from './copy'
import { isAccessible } from './axe'
import { expect, test } from './desk'

test('an entry is checked, its wording held against its copy, and both are mended by keys', async ({
  page,
  request,
}) => {
  const { id, work, copy } = await withCopy(request, 'TeX')
  const at = `/api/inquiries/${id}`
  await request.post(`${at}/entries`, { data: { work } })
  const { pages } = (await (await request.get(`${at}/copies/${copy}/text`)).json()) as { pages: string[] }
  const sentence = /[A-Z][^.“”"()]{60,160}(?=\.)/.exec(pages[0]!.replace(/\s+/g, ' '))![0]
  await page.goto(`/inquiries/${id}/compose`)
  await expect(page.getByRole('heading', { name: 'DOI missing' })).toBeVisible()
  await expect(page.getByRole('heading', { name: 'It lacks what it appeared in' })).toBeVisible()
  await clean(page)

  // by keys alone: to the first finding, which its copy mends, and to the next
  await page.keyboard.press('d')
  await expect(page.getByRole('button', { name: 'Put it in' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'DOI missing' })).toHaveCount(0)
  await expect(page.getByRole('link', { name: /10\.5555\/v16\.2012\.00833/ })).toBeVisible()
  await page.keyboard.press('d')
  await expect(page.getByRole('button', { name: 'Right as it is' })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByText('One finding is right as it is, by your word.')).toBeVisible()
  await expect(page.getByText('Nothing found against the citations')).toBeVisible()

  // words of the copy, and where they stand there
  const annotation = page.getByRole('textbox', { name: 'Annotation' })
  await annotation.fill(`It says that ${sentence}, which I doubt.`)
  await expect(page.getByRole('heading', { name: /words run as on p\. / })).toBeVisible()
  await expect(page.locator('.entry-ties path')).toHaveCount(2)
  await clean(page)
  await page.getByRole('button', { name: 'Quote it with its page' }).press('Enter')
  await expect(annotation).toHaveText(/^It says that “.+” \(p\. .+\), which I doubt\.$/)
  await expect(page.getByRole('heading', { name: /words run as/ })).toHaveCount(0)
  await expect(page.getByText('saved', { exact: true })).toBeVisible()

  // a word that is not as it stands there, and back
  const quoted = (await annotation.textContent())!
  const word = sentence.split(' ').find((w, i) => i > 2 && w.length > 4)!
  await annotation.fill(quoted.replace(word, 'umbrella'))
  await page.getByRole('button', { name: 'As it stands there' }).press('Enter')
  await expect(annotation).toHaveText(quoted)
  await page.reload()
  await expect(annotation).toHaveText(quoted)

  // its DOI was made up with the text: whoever registers DOIs has it for nobody, or for another work
  await page.getByRole('button', { name: 'Hold the DOI against registrations' }).press('Enter')
  await expect(page.getByText(/^DOIs as registered, /)).toBeVisible({ timeout: 120_000 })
  await expect(
    page.getByRole('heading', { name: /^Its DOI is (not registered|registered for another work)$/ }),
  ).toBeVisible()
  await isAccessible(page)
})

test('an annotation has looks, a list and a citation that follows the style, by keys', async ({ page, request }) => {
  const { id, work, title } = await withCopy(request, 'browser')
  const at = `/api/inquiries/${id}`
  await request.post(`${at}/entries`, { data: { work } })
  await page.goto(`/inquiries/${id}/compose`)
  const annotation = page.getByRole('textbox', { name: 'Annotation' })
  await annotation.press('End')
  await page.keyboard.type('As ')
  await page.keyboard.press('Alt+c')
  await expect(page.getByRole('textbox', { name: /^Find the work/ })).toBeFocused()
  await clean(page)
  await page.keyboard.type(title.split(' ')[0]!)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('textbox', { name: 'Page' })).toBeFocused()
  await page.keyboard.type('p. 3')
  await page.keyboard.press('Enter')
  await expect(annotation).toHaveText(/^As \(.+, \d{4}, p\. 3\)$/)
  await expect(annotation).toBeFocused()
  await page.keyboard.type(' says ')
  await page.keyboard.press('Control+i')
  await page.keyboard.type('of moths')
  await page.keyboard.press('Control+i')
  await page.keyboard.type(':')
  await page.keyboard.press('Enter')
  await page.keyboard.type('- they come')
  await page.keyboard.press('Enter')
  await page.keyboard.type('they go')
  await expect(annotation.locator('p[data-kind=bullet]')).toHaveText(['they come', 'they go'])
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await clean(page)
  await page.setViewportSize({ width: 390, height: 844 })
  await expect(page.getByRole('toolbar', { name: 'Looks of: Annotation' })).toBeVisible()
  expect(await page.evaluate('document.documentElement.scrollWidth <= innerWidth')).toBe(true)

  // another style has its citations otherwise, here and in what is handed in
  await request.put(`${at}/style`, { data: { style: 'ieee', language: null } })
  await page.reload()
  await expect(annotation).toHaveText(/^As \[1, p\. 3\] says of moths:they comethey go$/)
  await expect(annotation.locator('em')).toHaveText('of moths')
  const printed = await (await request.get(`${at}/export?format=html`)).text()
  expect(printed).toContain('As [1, p. 3] says <i>of moths</i>:')
  expect(printed).toContain('<ul><li dir="auto">they come</li><li dir="auto">they go</li></ul>')
})

test('what was marked while reading is put into the annotation, and what is short is told', async ({
  page,
  request,
}) => {
  const { id, work, copy } = await withCopy(request, 'browser')
  const at = `/api/inquiries/${id}`
  await request.post(`${at}/entries`, { data: { work } })
  const note = { page: 1, kind: 'in my words', note: 'Fewer came to lit harbours.' }
  await request.post(`${at}/copies/${copy}/passages`, { data: note })
  await page.goto(`/inquiries/${id}/compose`)
  const annotation = page.getByRole('textbox', { name: 'Annotation' })
  await annotation.fill('At first.')
  await page.keyboard.press('Alt+p')
  await expect(page.getByRole('button', { name: /^Put in: p/ })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(annotation).toHaveText(/^At first\. Fewer came to lit harbours \(p\. .+\)\.$/)
  await expect(annotation).toBeFocused()
  await expect(page.getByText(/^Passages in the text: p\. /)).toBeVisible()

  // dragged into a text about no work in particular it is cited as that of its own
  const own = await annotation.textContent()
  await annotation.fill('At first.')
  await page.getByRole('button', { name: 'Write an opening' }).click()
  const opening = page.getByRole('textbox', { name: 'The opening' })
  await opening.fill('We begin. ')
  await annotation.click()
  await page.getByRole('button', { name: /^Put in: p/ }).dragTo(opening)
  await expect(opening).toHaveText(/Fewer came to lit harbours \(.+, p\. .+\)\./)
  await expect(opening.locator('.cites')).toHaveCount(1)
  await annotation.fill(own!)
  // at the width of a phone nothing is cut
  await page.setViewportSize({ width: 390, height: 844 })
  await expect(annotation).toBeVisible()
  expect(await page.evaluate('document.documentElement.scrollWidth <= innerWidth')).toBe(true)
  await clean(page)
})

test('a list is laid by strands, handed in, changed, compared and taken up again, by keys', async ({
  page,
  request,
  context,
}) => {
  const { id, work, title } = await withCopy(request, 'browser')
  const at = `/api/inquiries/${id}`
  const [strand] = (await (await request.get(`${at}/strands`)).json()) as { id: number }[]
  const mark = { id: crypto.randomUUID(), work, about: `strand:${strand!.id}`, value: true }
  await request.post(`${at}/marks`, { data: { group: crypto.randomUUID(), marks: [mark] } })
  await request.post(`${at}/entries`, { data: { work } })
  await page.goto(`/inquiries/${id}/compose`)
  await page.getByRole('combobox', { name: 'Order of the list' }).selectOption('by strand')
  await expect(page.getByRole('heading', { name: 'What lamps change' })).toBeVisible()
  await page.getByRole('button', { name: 'Write what it is about' }).press('Enter')
  await page.keyboard.type('What lamps do by night.')
  await page.getByRole('button', { name: 'Write an opening' }).press('Enter')
  await page.keyboard.type('We begin.')
  const annotation = page.getByRole('textbox', { name: 'Annotation' })
  await annotation.fill('Counts them at lamps.')
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await clean(page)

  // as it will be handed in
  await page.getByRole('link', { name: 'Hand in' }).press('Enter')
  const sheet = page.frameLocator('iframe')
  await expect(sheet.getByText('What lamps do by night.')).toBeVisible()
  await expect(sheet.getByText('We begin.')).toBeVisible()
  await page.getByRole('textbox', { name: 'Your name' }).fill('Ines Quill')
  await expect(sheet.getByText(/^Ines Quill · /)).toBeVisible()
  await clean(page)
  const alone = await context.newPage()
  await alone.setContent(await (await request.get(`${at}/export?format=html`)).text())
  await isAccessible(alone)
  await alone.close()
  const download = page.waitForEvent('download')
  await page.getByRole('radio', { name: 'PDF' }).focus()
  await page.keyboard.press('ArrowUp')
  await expect(page.getByRole('radio', { name: 'Everything, .zip' })).toBeChecked()
  await page.keyboard.press('ArrowDown')
  await page.getByRole('button', { name: 'Hand in as PDF' }).press('Enter')
  expect((await download).suggestedFilename()).toMatch(/\.pdf$/)
  await expect(page.getByText('as it stands')).toBeVisible()

  // written on, and compared
  await page.getByRole('link', { name: 'The entries' }).press('Enter')
  await annotation.fill('Counts them beside lamps.')
  await expect(page.getByText('saved', { exact: true })).toBeVisible()
  await page.getByRole('link', { name: 'Hand in' }).press('Enter')
  await page.getByRole('button', { name: 'What changed since' }).press('Enter')
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText(`Annotation of ${title}`)).toBeVisible()
  await expect(dialog.locator('ins')).toHaveText('beside')
  await clean(page)
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Take up again' }).press('Enter')
  await page.getByRole('button', { name: 'Take it up' }).press('Enter')
  await expect(sheet.getByText('Counts them at lamps.')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).press('Enter')
  await expect(sheet.getByText('Counts them beside lamps.')).toBeVisible()

  // mailed to oneself with its copy
  await page.getByRole('button', { name: 'Mail it …' }).press('Enter')
  const letter = page.getByRole('dialog', { name: 'Mail the bibliography' })
  await expect(letter.getByRole('textbox', { name: 'To' })).toHaveValue(/@/)
  await letter.getByText(/^1 copy in hand/).click()
  await clean(page)
  await letter.getByRole('button', { name: 'Send' }).press('Enter')
  await expect(page.getByText(/^Mailed to .+@/)).toBeVisible()
  await expect(letter).toHaveCount(0)
  const checked = page.getByRole('link', { name: /^What was checked as .*docx/ })
  const told = page.waitForEvent('download')
  await checked.press('Enter')
  expect((await told).suggestedFilename()).toBe('checked.docx')

  await page.setViewportSize({ width: 390, height: 844 })
  await expect(page.getByRole('button', { name: 'Hand in as PDF' })).toBeVisible()
  expect(await page.evaluate('document.documentElement.scrollWidth <= innerWidth')).toBe(true)
  await clean(page)
})
