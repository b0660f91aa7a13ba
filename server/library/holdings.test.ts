import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { storeBlob } from '../db/blobs'
import { newInquiry, openDesk, type Desk } from '../test/desk'
import { smallOutside } from '../test/small-world'

let desk: Desk
let id: number
let at: string
beforeAll(async () => {
  desk = await openDesk('holdings', smallOutside())
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
}, 60_000)
afterAll(() => desk.close())

const HEAD = 'publication_title\tprint_identifier\tdate_first_issue_online'
/** Files as the library sends them, kept as if fetched today. */
async function keep(...files: Buffer[]): Promise<void> {
  const { context } = desk
  const addresses = files.map((_, i) => `http://library.halverane.example/kbart/${randomUUID()}-${i}.tsv`)
  context.settings.outside.library.holdings = addresses
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
  expect(ways.routes.map(r => r.way)).toEqual(['author'])
  expect(ways.trouble).toMatch(/a file of its holdings could not be read.*This is not a KBART file/)
  expect(ways.closed[0]).toMatch(/^Whether Halverane Library holds it is not known/)
  expect(ways.closed.join(' ')).not.toContain('does not hold')
})
