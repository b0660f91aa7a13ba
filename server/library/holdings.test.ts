import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import type { LibraryInFull } from '../../core/schema/api'
import { storeBlob } from '../db/blobs'
import { profilesFor, refreshHoldings } from './holdings'
import { keepFile } from './holdings-model'
import { forgetLibraries, setLibraries } from './libraries'
import { newInquiry, openDesk, type Desk } from '../test/desk'
import { runElsewhere, until } from '../test/running'
import { smallOutside } from '../test/small-world'

let desk: Desk
let id: number
let at: string
beforeAll(async () => {
  desk = await openDesk('holdings', smallOutside())
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
})
afterAll(() => desk.close())

const HEAD = 'publication_title\tprint_identifier\tdate_first_issue_online'
/** Files as the library sends them, kept as if fetched today. */
async function keep(...files: Buffer[]): Promise<void> {
  const { context } = desk
  const addresses = files.map((_, i) => `http://library.halverane.example/kbart/${randomUUID()}-${i}.tsv`)
  context.settings.outside.libraries[0]!.holdings = addresses.map(address => ({ name: '', address }))
  forgetLibraries(context)
  await context.db.sequelize.transaction(async t => {
    for (const [i, bytes] of files.entries()) {
      const hash = await storeBlob(context.db, bytes, 'text/tab-separated-values', t)
      await context.db.sequelize.query('INSERT INTO holdings_files (address, hash) VALUES (?, ?)', {
        replacements: [addresses[i], hash],
        transaction: t,
      })
    }
  })
}
async function article(title: string, issn: string): Promise<number> {
  const entry = `@article{k, title={${title}}, journal={Night Papers}, issn={${issn}}, year=2020, author={Okafor, Ada}}`
  const { body } = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .send(Buffer.from(entry))
    .expect(202)
  await desk.finish(id, (body as { job: number }).job)
  const lines = (await desk.owner.get(`${at}/works`).expect(200)).body as { id: number; title: string }[]
  return lines.find(l => l.title === title)!.id
}
interface Ways {
  routes: { way: string }[]
  closed: string[]
  trouble: string | null
}
async function waysOf(work: number): Promise<Ways> {
  const decisions = [{ id: randomUUID(), work, pass: 'title', choice: 'keep' }]
  await desk.owner.post(`${at}/decisions`).send({ group: randomUUID(), decisions }).expect(201)
  const { body } = await desk.owner
    .post(`${at}/routes`)
    .set('Idempotency-Key', randomUUID())
    .send({ works: [work] })
    .expect(202)
  expect((await desk.finish(id, (body as { job: number }).job)).state).toBe('done')
  const all = (await desk.owner.get(`${at}/routes`).expect(200)).body as (Ways & { id: number })[]
  return all.find(w => w.id === work)!
}

test('a file in another encoding, separated by commas and quoted, is read as it is meant', async () => {
  const csv =
    '"Publication Title","Print Identifier","Date first issue online"\r\n"Night Papers – Lünen","9990-0114","1/1/1998"\r\n'
  await keep(Buffer.from(`\ufeff${csv}`, 'utf16le'))
  const ways = await waysOf(await article('Lamps of Lünen', '9990-0114'))
  expect(ways.routes.map(r => r.way)).toContain('gate')
  expect(ways.trouble).toBeNull()
})

test('a file that cannot be read is named, and nothing is called not held on its account', async () => {
  await keep(Buffer.from(`${HEAD}\nOther Papers\t9990-022X\t1998\n`), Buffer.from('<html>Please sign in</html>'))
  const work = await article('Moths of Lünen', '9990-0114')
  const ways = await waysOf(work)
  expect(ways.routes.map(r => r.way)).toEqual(['loan', 'author'])
  expect(ways.trouble).toMatch(/a file of its holdings could not be read.*This is not a KBART file/)
  expect(ways.closed[0]).toMatch(/^Whether Halverane Library holds it is not known/)
  expect(ways.closed.join(' ')).not.toContain('does not hold')
})

test('what was read of each file is told: titles, what was left out and why, what could not be read at all', async () => {
  const lines = Array.from({ length: 300 }, (_, i) => `Papers ${i}\t\tsometime`)
  await keep(
    Buffer.from(`${HEAD}\nNight Papers\t9990-0114\t1998\n\t9990-022X\t1998\n${lines.join('\n')}`),
    Buffer.from('<html>Please sign in</html>'),
  )
  const holdings = async () => ((await desk.get('/api/libraries/home')) as LibraryInFull).holdings
  const before = await holdings()
  expect(before.files).toMatchObject([{ isKept: true, isRead: false, report: null }, { isRead: false }])
  await refreshHoldings(desk.context, setLibraries(desk.context))
  const { files } = await holdings()
  expect(files[0]).toMatchObject({ isRead: true, report: { titles: 301, left: 1, problemsInAll: 301 } })
  expect(files[0]!.report!.problems).toHaveLength(100)
  expect(files[0]!.report!.problems[0]).toEqual({ line: 3, said: 'No title: the line is left out.', leftOut: true })
  expect(files[1]!.report).toMatchObject({ titles: 0, refused: expect.stringContaining('not a KBART file') })
})

test('a page to sign in where a file stood does not wipe out what the file said', async () => {
  await keep(Buffer.from(`${HEAD}\nNight Papers\t9990-0114\t1998\n`))
  await refreshHoldings(desk.context, setLibraries(desk.context))
  const [address] = desk.context.settings.outside.libraries[0]!.holdings
  await desk.context.db.sequelize.transaction(async t => {
    const page = Buffer.from('<html>Please sign in</html>')
    await keepFile(desk.context.db, address!.address, await storeBlob(desk.context.db, page, 'text/plain', t), t)
  })
  await refreshHoldings(desk.context, setLibraries(desk.context))
  const item = { type: 'article-journal', ISSN: '9990-0114' }
  expect((await profilesFor(desk.context, id, [item]))[0]).toMatchObject({
    holdings: [{ firstDate: '1998' }],
    unread: [],
  })
  const { files } = ((await desk.get('/api/libraries/home')) as LibraryInFull).holdings
  expect(files[0]!.report).toMatchObject({ titles: 1, newer: expect.stringContaining('not a KBART file') })
})

test('files are fetched again when that is asked for, once at a time, and what failed is told', async () => {
  const library = desk.context.settings.outside.libraries[0]!
  library.holdings = [{ name: '', address: 'http://nowhere.example/a.tsv' }]
  const ask = async () => {
    const { body } = await desk.owner
      .post('/api/libraries/home/holdings/fetch')
      .set('Idempotency-Key', randomUUID())
      .expect(202)
    return (body as LibraryInFull).holdings
  }
  const before = await runElsewhere(desk.context, 'holdings', { library: 'home' })
  expect((await ask()).fetching).toBe(true)
  expect(await desk.context.db.jobs.count({ where: { kind: 'holdings' } })).toBe(1)
  await before.end()
  await ask()
  const now = async () => ((await desk.get('/api/libraries/home')) as LibraryInFull).holdings
  await until(async () => !(await now()).fetching)
  expect((await now()).trouble).toMatch(/1 of 1 holdings files .* could not be read/)
  expect(await desk.context.db.jobs.count({ where: { kind: 'holdings' } })).toBe(2)
})

test('a file that changed takes the place of what it said; before it is read the old lines stand', async () => {
  await keep(Buffer.from(`${HEAD}\nNight Papers\t9990-0114\t1998\n`))
  await refreshHoldings(desk.context, setLibraries(desk.context))
  const [address] = desk.context.settings.outside.libraries[0]!.holdings
  const item = { type: 'article-journal', ISSN: '9990-0114', issued: { 'date-parts': [[2020]] } }
  const held = async () => (await profilesFor(desk.context, id, [item]))[0]!.holdings.map(h => h.firstDate)
  expect(await held()).toEqual(['1998'])
  await desk.context.db.sequelize.transaction(async t => {
    const later = Buffer.from(`${HEAD}\nNight Papers\t9990-0114\t2005\n`)
    await keepFile(desk.context.db, address!.address, await storeBlob(desk.context.db, later, 'text/plain', t), t)
  })
  expect(await held()).toEqual(['1998'])
  await Promise.all([
    refreshHoldings(desk.context, setLibraries(desk.context)),
    refreshHoldings(desk.context, setLibraries(desk.context)),
  ])
  expect(await held()).toEqual(['2005'])
})
