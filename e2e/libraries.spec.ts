import { clean } from './copy'
import { readRecord } from '../core/formats/records'
import { readSruAnswer } from '../core/formats/sru'
import { readShelfHoldings } from '../core/formats/shelf'
import { isAccessible } from './axe'
import { expect, homeAlone, keeping, ofWorld, test } from './desk'

test.afterEach(({ request }) => homeAlone(request))

test('a second library is set up by keys alone, tried, put first, and signed in at its own gate', async ({
  page,
  request,
}) => {
  await page.goto('/libraries')
  await expect(page.getByRole('heading', { name: 'Halverane Library' })).toBeVisible()
  await page.getByRole('button', { name: 'Add a library' }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('From the directory')).toBeFocused()
  await page.keyboard.type('ostermoor')
  await expect(page.getByRole('list', { name: 'Libraries of the directory' }).getByRole('listitem')).toHaveCount(1)
  await isAccessible(page, { within: '[role=dialog]' })
  await page.keyboard.press('Tab')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'Ostermoor Town Library' })).toBeVisible()
  await expect(page.getByRole('row', { name: /Journals for readers \d+ 0/ })).toBeVisible()
  await page.getByRole('button', { name: 'Try it: Gate' }).press('Enter')
  await expect(page.getByText(/It answers, and asks for card and password/)).toBeVisible()
  // it is dragged to the top, and put back and there again by keys
  const grip = async (name: string) => (await page.getByTitle(`Drag “${name}” to another place`).boundingBox())!
  const [from, to] = [await grip('Ostermoor Town Library'), await grip('Halverane Library')]
  await page.mouse.move(from.x + 6, from.y + 6)
  await page.mouse.down()
  await page.mouse.move(from.x + 6, from.y - 20, { steps: 4 })
  await page.mouse.move(to.x + 6, to.y + 6, { steps: 8 })
  await page.mouse.up()
  await expect(page.getByRole('link', { name: /2 Halverane Library/ })).toBeVisible()
  await page.getByRole('link', { name: /1 Ostermoor Town Library/ }).focus()
  await page.keyboard.press('Alt+ArrowDown')
  await expect(page.getByRole('link', { name: /2 Ostermoor Town Library/ })).toBeFocused()
  await page.keyboard.press('Alt+ArrowUp')
  await expect(page.getByRole('link', { name: /1 Ostermoor Town Library/ })).toBeFocused()
  await clean(page)

  const item = { id: 'a', type: 'article-journal', title: 'Lamps of a town', issued: { 'date-parts': [[2014]] } }
  const at = await keeping(request, 'Lamps', item)
  await page.goto(`${at}/brief`)
  await expect(page.getByText(/Ostermoor Town Library, then Halverane Library/)).toBeVisible()
  // gates are shown beside works that are kept
  await page.goto(`${at}/obtain`)
  await expect(page.getByText('Halverane Library: not signed in')).toBeVisible()
  await page.getByRole('button', { name: 'Sign in at the gate of Ostermoor Town Library' }).press('Enter')
  await page.getByLabel('Card number').fill('OT-5521')
  await page.getByLabel('Password of the card').fill('saltmarsh')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Ostermoor Town Library: signed in')).toBeVisible()
  await expect(page.getByText('Halverane Library: not signed in')).toBeVisible()
})

test('what is wrong in a library of one’s own is said at its place, what is right is kept, and what waits is told', async ({
  page,
}) => {
  await page.goto('/libraries')
  await page.getByRole('button', { name: 'Add a library' }).click()
  await page.getByRole('button', { name: 'Begin with an empty one' }).click()
  await expect(page.getByRole('heading', { name: 'A library of mine' })).toBeVisible()
  await page.getByRole('button', { name: 'Change' }).click()
  await page.getByLabel('Name', { exact: true }).fill('Harbour Reading Room')
  await page.getByLabel('It has a gate for readers outside').check()
  await page.getByLabel('Address that opens others').fill('http://gate.harbour.example/')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/It has to name where the address goes/)).toBeVisible()
  await isAccessible(page, { within: '[role=dialog]' })
  await page.getByLabel('Address that opens others').fill('http://gate.harbour.example/open{?url}')
  await page.getByLabel('How one signs in').selectOption('window')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('heading', { name: 'Harbour Reading Room' })).toBeVisible()
  await expect(
    page.getByText(/gate\.harbour\.example is not among the hosts that may be fetched/).first(),
  ).toBeVisible()
  // a file that cannot be fetched is brought
  await page.getByLabel('A holdings file of your own').setInputFiles({
    name: 'harbour.tsv',
    mimeType: 'text/tab-separated-values',
    buffer: Buffer.from(
      'publication_title\tprint_identifier\tdate_first_issue_online\nNight Papers\t9990-0114\t1998\n',
    ),
  })
  await expect(page.getByRole('row', { name: 'harbour.tsv 1 0' })).toBeVisible()
  await page.getByLabel('ISSN or ISBN').fill('9990-0114')
  await page.getByLabel('of the year').fill('2001')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/^Held from 1998/)).toBeVisible()
})

/** A book that stands at one of several libraries, and can be taken there, as their catalogue has it. */
async function bookAt(sign: string): Promise<object> {
  const asked = 'version=1.2&operation=searchRetrieve&query=title%3Dlamps&maximumRecords=100'
  const { records } = readSruAnswer(await ofWorld('union.example', `/sru?${asked}`))
  const found = records.find(({ raw }) => readShelfHoldings(raw).some(h => h.of === sign && h.free === 1))
  const { title, author, issued, ISBN } = readRecord('marcxml', found!.raw).item
  return { id: 'a', type: 'book', title, author, issued, ...(ISBN ? { ISBN } : {}) }
}

test('a partner is named and tried by keys alone; for a book that stands there one goes there', async ({
  page,
  request,
}) => {
  await page.goto('/libraries')
  await page.getByRole('button', { name: 'Add a library' }).press('Enter')
  await page.getByRole('button', { name: 'Begin with an empty one' }).press('Enter')
  await page.getByRole('button', { name: 'Change', exact: true }).press('Enter')
  await page.getByRole('button', { name: 'Name a partner' }).press('Enter')
  await page.getByLabel('Its name', { exact: true }).fill('Korrin Regional Library')
  await page.getByLabel('Where it is').fill('Korrin')
  await page.getByLabel('Its shelf catalogue').fill('http://union.example/sru')
  await page.getByLabel('What it is called there').last().fill('XX-KOR')
  await page.getByRole('button', { name: 'Save' }).press('Enter')
  await expect(page.getByText(/What does it do for you\?/)).toBeVisible()
  await isAccessible(page, { within: '[role=dialog]' })
  await page.getByLabel('Going there').selectOption('you may borrow there')
  await page.getByRole('button', { name: 'Save' }).press('Enter')
  await page.getByRole('button', { name: 'Try it: Partners' }).press('Enter')
  await expect(page.getByText(/Korrin Regional Library: [1-9]\d* of the first \d+ on “city”/)).toBeVisible()
  await clean(page)
  const own = page.url().split('/').at(-1)
  await request.put('/api/libraries', { data: { libraries: [own] } })

  await page.goto(`${await keeping(request, 'Lamps', await bookAt('XX-KOR'))}/obtain`)
  await page.getByRole('button', { name: 'Look for ways (1)' }).press('Enter')
  const group = page.getByRole('region', { name: 'at the shelf' })
  await expect(group.getByText('Go there', { exact: true })).toBeVisible({ timeout: 45_000 })
  await page.getByRole('link', { name: 'Shelf list' }).press('Enter')
  const place = page.getByRole('region', { name: 'Korrin Regional Library, Main building' })
  await expect(place.getByText('going to Korrin')).toBeVisible()
  await clean(page)
  await place.getByRole('button', { name: 'Took it' }).press('Enter')
  await expect(place.getByRole('button', { name: 'Took it' })).toHaveAttribute('aria-pressed', 'true')
})
