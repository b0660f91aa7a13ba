import { isAccessible, WCAG } from './axe'
import { expect, test } from './desk'

test('trails by keyboard alone: along the trellis, what is lacking kept and taken back, another round planned and walked', async ({
  page,
}) => {
  await page.goto('/inquiries/1/trace')
  const lacking = page.getByRole('list', { name: 'You lack' })
  await expect(lacking.getByRole('listitem').first()).toContainText(
    /\d+ of your \d+ cite it · (its fame|fame explains)/,
  )
  await isAccessible(page, { tags: WCAG })

  // along the leaves, and into the work
  const trellis = page.getByRole('application', { name: /Trellis/ })
  const on = () => trellis.locator('[data-on]').getAttribute('data-leaf')
  await trellis.focus()
  // whichever strand the chosen work is on: up to the first of all
  for (let strand = 0; strand < 12; strand++) await page.keyboard.press('ArrowUp')
  const first = await on()
  await page.keyboard.press('ArrowDown')
  await expect.poll(on).not.toBe(first)
  const second = await on()
  await page.keyboard.press('ArrowUp')
  await expect.poll(on).not.toBe(second)
  await page.keyboard.press('Enter')
  await expect(page.getByRole('dialog', { name: 'Work sheet' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog', { name: 'Work sheet' })).toHaveCount(0)
  await expect(trellis).toBeFocused()
  // closed by its button it gives the keys back, too
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Close the work sheet' }).click()
  await expect(page.getByRole('dialog', { name: 'Work sheet' })).toHaveCount(0)
  await expect(trellis).toBeFocused()

  // what is lacking is kept in one step, and remembers its trail: the first that no catalogue has brought as well
  const kept = async (): Promise<{ id: number; title: string; byTrail: boolean }> => {
    const row = lacking.locator('[data-current]')
    const title = (await row.getByRole('button').first().textContent())!
    await page.keyboard.press('j')
    await expect(page.getByText(`Kept, and brought into the pool: “${title}”`)).toBeVisible()
    await expect(lacking.getByRole('button', { name: title, exact: true })).toHaveCount(0)
    const works = (await (await page.request.get('/api/inquiries/1/works')).json()) as {
      id: number
      title: string
      state: string
    }[]
    const { id, state } = works.find(w => w.title === title)!
    expect(state).toBe('kept')
    return (await (await page.request.get(`/api/inquiries/1/works/${id}`)).json()) as Awaited<ReturnType<typeof kept>>
  }
  await lacking.focus()
  await page.keyboard.press('ArrowDown')
  await isAccessible(page, { tags: WCAG })
  let work = await kept()
  while (!work.byTrail) work = await kept()
  const { title } = work

  // a round from what is kept now: what it asks stands before it is walked
  // the tests before this one may have kept works and walked rounds of their own
  const walk = page.getByRole('button', { name: /^Walk round \d+$/ })
  const n = Number(/\d+/.exec((await walk.textContent())!)![0])
  await walk.focus()
  await page.keyboard.press('Enter')
  const dialog = page.getByRole('dialog', { name: `Walk round ${n}` })
  await expect(dialog).toContainText(/\d+ trails of \d+ works?/)
  await expect(dialog).toContainText(/About \d+ calls? to Lampyr Citations/)
  await isAccessible(page, { tags: WCAG })
  await dialog.getByRole('button', { name: /^Walk \d+ trails$/ }).focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: `Walk round ${n + 1}` })).toBeVisible({ timeout: 120_000 })
  await expect(page.getByRole('table', { name: /New works in the pool/ })).toContainText(`round ${n}`)

  // it stands on the path that led to it
  await page.goto(`/inquiries/1/trace?work=${work.id}`)
  const sheet = page.getByRole('dialog', { name: 'Work sheet' })
  await expect(sheet.getByText(/from the references of/).first()).toContainText(/round \d/)
  await page.keyboard.press('Escape')

  // as a table, and the lists of all kept works
  await page.getByRole('button', { name: 'As a table' }).press('Enter')
  await expect(page.getByRole('table', { name: 'Kept works' })).toContainText(title)
  await page.getByRole('tab', { name: 'Alike' }).press('Enter')
  await page.getByRole('button', { name: 'Of all kept' }).press('Enter')
  await expect(page.getByRole('list', { name: 'Alike' }).getByRole('listitem').first()).toContainText(/\d+% alike/)
  await isAccessible(page, { tags: WCAG })

  // and taken back by the key that takes back everywhere
  const group = (
    (await (await page.request.get('/api/inquiries/1/history')).json()) as { what: string; group: string | null }[]
  ).find(d => d.what === 'decision' && d.group)!
  await page.request.post('/api/inquiries/1/undo', { data: { group: group.group, id: crypto.randomUUID() } })
  await expect
    .poll(async () => {
      const now = (await (await page.request.get('/api/inquiries/1/works')).json()) as { id: number; state: string }[]
      return now.find(w => w.id === work.id)?.state
    })
    .toBe('unread')
})

test('at 390 px the trails stand under the trellis, without a scroll bar across', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 800 })
  await page.goto('/inquiries/1/trace')
  await expect(page.getByRole('tab', { name: /You lack/ })).toBeVisible()
  expect(await page.evaluate('document.documentElement.scrollWidth')).toBeLessThanOrEqual(390)
  // nothing of the row above the trellis is pushed out, nor pushes it down
  const walk = (await page.getByRole('button', { name: /^Walk round/ }).boundingBox())!
  expect(walk.x + walk.width).toBeLessThanOrEqual(390)
  const trellis = (await page.getByRole('application', { name: /Trellis/ }).boundingBox())!
  expect(trellis.y - walk.y).toBeLessThan(120)
})

test('a list without a database: pasted, its works found, the doubtful one settled, what is lacking brought', async ({
  page,
}) => {
  await page.goto('/inquiries/1/trace')
  await expect(page.getByRole('button', { name: 'Lists', exact: true })).toBeVisible()
  // entries of the demo's own works, in another's hand
  const { nodes } = (await (await page.request.get('/api/inquiries/1/graph')).json()) as {
    nodes: {
      work: number | null
      year: number | null
      pointer: { title: string; authors: string; container: string } | null
    }[]
  }
  const works = (await (await page.request.get('/api/inquiries/1/works')).json()) as {
    title: string
    authors: string
    year: number
    container: string
  }[]
  const family = (authors: string) => authors.split(/,| and /)[0]!
  // books have no container that a list would name
  const own = works.filter(w => w.container).slice(0, 3)
  const lacking = nodes.filter(n => n.pointer?.container && n.year).slice(0, 2)
  const lines = [
    ...own.map(w => `${family(w.authors)} (${w.year}) ${w.title}. ${w.container}.`),
    ...lacking.map(n => `${family(n.pointer!.authors)} (${n.year}) ${n.pointer!.title}. ${n.pointer!.container}.`),
    'Lamp Committee (1998) Return of posts that nobody has counted. Typescript.',
  ]
  await page.getByRole('button', { name: 'Lists', exact: true }).press('Enter')
  const dialog = page.getByRole('dialog', { name: 'A list of references' })
  await dialog.getByLabel('The references, in whatever style').fill(lines.map((l, i) => `${i + 1}. ${l}`).join('\n'))
  await dialog.getByLabel('What it is from').fill('A draft of the browser test')
  await isAccessible(page, { tags: WCAG })
  await dialog.getByRole('button', { name: 'Find its works' }).press('Enter')
  const list = page.getByRole('list', { name: 'Entries of A draft of the browser test' })
  const entry = (n: number) => list.locator(`[data-entry="${n}"]`)
  await expect(entry(6)).toContainText('No work found', { timeout: 120_000 })
  for (const [i, w] of own.entries())
    await expect(entry(i + 1)).toContainText(new RegExp(`${escaped(w.title)}.*in pool`))
  await expect(page.getByText(/Looking for works/)).toHaveCount(0)
  await isAccessible(page, { tags: WCAG })

  // by keys to the last, which nobody has: it is kept as it is printed, and that is taken back
  for (let i = 0; i < lines.length; i++) await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  const panel = page.getByRole('group', { name: /Entry 6 beside the works/ })
  await isAccessible(page, { tags: WCAG })
  await panel.getByRole('button', { name: 'Keep it as printed' }).press('Enter')
  await expect(entry(6)).toContainText('as you said')
  await page.getByRole('button', { name: 'Undo' }).press('Enter')
  await expect(entry(6)).toContainText('No work found')

  // a work that fits is looked at part by part, and is said to be another
  await entry(1).getByRole('button').first().press('Enter')
  const first = page.getByRole('group', { name: /Entry 1 beside the works/ })
  await expect(first).toContainText('agrees')
  await first.press('ArrowDown')
  await expect(entry(1)).toContainText('None of those found')
  await page.getByRole('button', { name: 'Undo' }).last().press('Enter')
  await expect(entry(1)).toContainText('in pool')

  await page.getByRole('button', { name: /^Bring \d+ into the pool$/ }).press('Enter')
  await expect(page.getByRole('button', { name: /^you lack 0/ })).toBeVisible()
  await page.getByRole('button', { name: 'Take out this list' }).press('Enter')
  await page.getByRole('button', { name: 'Take it out' }).press('Enter')
  await expect(page.getByRole('application', { name: /Trellis/ })).toBeVisible()
})

const escaped = (s: string): string => s.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

test('from a work to its author and on to who writes with them, by keyboard', async ({ page, request }) => {
  const works = (await (await request.get('/api/inquiries/1/works')).json()) as {
    id: number
    state: string
    authors: string
  }[]
  const kept = works.find(w => w.state === 'kept' && w.authors.includes(','))!
  await page.goto(`/inquiries/1/works/${kept.id}`)
  const by = page.getByTitle('What else of them is known')
  const name = (await by.first().textContent())!
  await by.first().press('Enter')
  const heading = page.getByRole('main').getByRole('heading', { level: 1 })
  // told in the fullest form that is known
  await expect(heading).toContainText(name.split(' ').at(-1)!)
  await expect(page.getByText(/\d+ works? known here/)).toBeVisible()
  const theirs = page.getByRole('list', { name: /^Works of / }).first()
  await expect(theirs.getByRole('listitem').first()).toBeVisible()
  await isAccessible(page, { tags: WCAG })
  // a work of the pool opens beside it
  await theirs.getByRole('button').first().press('Enter')
  await expect(page.getByRole('dialog', { name: 'Work sheet' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog', { name: 'Work sheet' })).toBeHidden()
  const first = await heading.textContent()
  await page.getByRole('main').getByRole('link').filter({ hasText: /\p{L}/u }).first().press('Enter')
  await expect(heading).not.toHaveText(first!)
})

test('from a work to who paid for it, what else they paid for and to the data behind it, by keyboard', async ({
  page,
  request,
}) => {
  const works = (await (await request.get('/api/inquiries/1/works')).json()) as { id: number; doi: string | null }[]
  let [of, name] = [0, '']
  for (const { id, doi } of works) {
    if (!doi) continue
    const told = (await (await request.get(`/api/inquiries/1/works/${id}/beside`)).json()) as {
      grants: { number?: string }[]
    }
    const number = told.grants.find(g => g.number)?.number
    if (!number) continue
    const grant = (await (await request.get('/api/inquiries/1/grant', { params: { number } })).json()) as {
      works: { pointer: object | null }[]
    }
    if (!grant.works.some(w => w.pointer)) continue
    ;[of, name] = [id, number]
    break
  }
  await page.goto(`/inquiries/1/works/${of}`)
  // nobody can know whether there are data; whoever was asked is named, with what they said
  const data = page.getByRole('region', { name: 'Data' })
  await data.getByRole('button', { name: /^Ask .+ for data$/ }).press('Enter')
  await expect(data.getByText(/, \d+ \w+: (\d+ found|nothing|.+\.)$/)).toBeVisible()
  await isAccessible(page, { tags: WCAG })
  await page.getByRole('link', { name: new RegExp(escaped(name)) }).press('Enter')
  await expect(page.getByText(/\d+ works? known here/)).toBeVisible()
  await page.getByRole('button', { name: /^Ask .+ for its other works$/ }).press('Enter')
  await expect(page.getByText(/: \d+ found$/)).toBeVisible()
  const list = page.getByRole('list', { name: 'Works of this grant' })
  await isAccessible(page, { tags: WCAG })
  const outside = list.getByRole('listitem').filter({ hasText: 'not in your pool' })
  const before = await outside.count()
  expect(before).toBeGreaterThan(0)
  await outside.first().getByRole('checkbox').press('Space')
  await page.getByRole('button', { name: 'Bring 1 into the pool' }).press('Enter')
  await expect(outside).toHaveCount(before - 1)
})
