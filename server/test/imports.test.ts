import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { count, file, newInquiry, openDesk, type Desk } from './desk'

let desk: Desk
let id: number
beforeAll(async () => {
  desk = await openDesk('imports')
})
beforeAll(async () => {
  id = await newInquiry(desk)
})
afterAll(() => desk.close())

interface Report {
  format: string | null
  read: number
  newWorks: number
  mended: { line: number; title: string; said: string[] }[]
  refused: { line: number; why: string; excerpt: string }[]
}

async function bring(
  bytes: Buffer,
  name = 'file.bib',
  inquiry = id,
): Promise<{ state: string; report: Report; id: number }> {
  const url = `/api/inquiries/${inquiry}`
  const sent = await desk.owner
    .post(`${url}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .set('X-File-Name', encodeURIComponent(name))
    .send(bytes)
    .expect(202)
  await desk.finish(inquiry, sent.body.job)
  return (await desk.owner.get(`${url}/imports/${sent.body.id}`).expect(200)).body
}
const titles = async (inquiry = id): Promise<string[]> =>
  ((await desk.owner.get(`/api/inquiries/${inquiry}/works`)).body as { title: string }[]).map(w => w.title)

describe('files as people have them', () => {
  test('Latin-1 is read, and said', async () => {
    const { report } = await bring(
      Buffer.from('@article{a, title={Nachtfalter über Lünen}, author={Müller, Jörg}, year=1931}', 'latin1'),
    )
    expect(report.mended[0]!.said.join()).toContain('not UTF-8')
    expect(await titles()).toContain('Nachtfalter über Lünen')
  })
  test('quotes and dashes of an old Windows file are what they are there', async () => {
    const entry = Buffer.from('@article{w, title={Lamps ~ an owl@s view}, year=1996}', 'latin1')
    entry[entry.indexOf('~')] = 0x96
    entry[entry.indexOf('@s')] = 0x92
    await bring(entry)
    expect(await titles()).toContain('Lamps – an owl’s view')
  })
  test('a file in UTF-16 is read', async () => {
    const { report } = await bring(
      Buffer.from('\ufeffTY  - JOUR\r\nTI  - Moths of Łódź\r\nER  - \r\n', 'utf16le'),
      'b.ris',
    )
    expect(report).toMatchObject({ format: 'RIS', read: 1, refused: [] })
    expect(report.mended[0]!.said.join()).toContain('UTF-16')
    expect(await titles()).toContain('Moths of Łódź')
  })
  test('a byte order mark and other line ends do no harm', async () => {
    const { report } = await bring(
      Buffer.from('\ufeffTY  - JOUR\r\nTI  - Lamps behind a mark\r\nAU  - Okafor, A\r\nER  - \r\n'),
      'a.ris',
    )
    expect(report).toMatchObject({ format: 'RIS', read: 1, refused: [] })
  })
  test('the format is told by the content, whatever the name says', async () => {
    const { report } = await bring(Buffer.from('[{"id":"1","type":"book","title":"A book in disguise"}]'), 'list.bib')
    expect(report.format).toBe('CSL-JSON')
  })
  test('the exact source is kept with each record', async () => {
    const source = '@book{x,\r\n  title = {Exact \\"Ubung},  shelf={9}\r\n}'
    await bring(Buffer.from(`% my books\r\n${source}\r\n`))
    const works = (await desk.owner.get(`/api/inquiries/${id}/works`)).body as { id: number; title: string }[]
    const sheet = (
      await desk.owner.get(`/api/inquiries/${id}/works/${works.find(w => w.title.startsWith('Exact'))!.id}`)
    ).body
    expect(sheet.records[0]).toMatchObject({ raw: source, source: 'your file', format: 'BibTeX' })
  })
  test('the same file twice gives the same works, once', async () => {
    const bytes = Buffer.from(
      '@article{d, title={Twice the same}, author={Okafor, Ada}, doi={10.5555/twice}, year=2020}',
    )
    await bring(bytes)
    const again = await bring(bytes)
    expect(again.report.newWorks).toBe(0)
    expect((await titles()).filter(t => t === 'Twice the same')).toHaveLength(1)
  })
})

test.each([
  ['exchange-utf8.mrc', 'MARC 21', 'Nächte in sechs Städten: eine Łódź-Geschichte'],
  ['exchange-marc8.mrc', 'MARC 21', 'On dusk'],
  ['collection.mods.xml', 'MODS', 'On wicks'],
])('a library’s own records come as a file: %s', async (name, format, title) => {
  const inquiry = await newInquiry(desk)
  const { state, report } = await bring(file(`core/formats/foreign/${name}`), name, inquiry)
  expect(state).toBe('done')
  expect(report).toMatchObject({ format, refused: [] })
  expect(await titles(inquiry)).toContain(title)
})

describe('files that are not what they say', () => {
  test.each([
    ['a letter', Buffer.from('Dear librarian,\nwhere are the moths?')],
    ['a PDF', Buffer.from('%PDF-1.7 …')],
    ['noise', Buffer.from(Array.from({ length: 4000 }, (_, i) => (i * 7919) % 256))],
    ['broken JSON', Buffer.from('[{"id": 1,')],
    ['an empty list', Buffer.from('[]')],
  ])('%s is refused with a reason, and nothing is imported', async (_, bytes) => {
    const before = await count(desk, 'records')
    const { state, report } = await bring(bytes)
    expect(state).toBe('refused')
    expect(report.read).toBe(0)
    expect(await count(desk, 'records')).toBe(before)
  })
  test('an empty file and one over 20 MB are not taken', async () => {
    const url = `/api/inquiries/${id}/imports`
    await desk.owner.post(url).set('Content-Type', 'application/octet-stream').expect(422)
    const large = await desk.owner
      .post(url)
      .set('Content-Type', 'application/octet-stream')
      .send(Buffer.alloc(20 * 1024 * 1024 + 1, 'a'))
      .expect(413)
    expect(large.body.code).toBe('too-large')
  })
})

test('five thousand entries, one of them bad: the others stand, and the bad one is named with its line', async () => {
  const inquiry = await newInquiry(desk)
  const filler = 'Lamps and moths were counted in the same towns again and again. '.repeat(25)
  const entries = Array.from(
    { length: 5000 },
    (_, i) =>
      `@article{k${i},\n  title = {Lamps of town ${i}},\n  author = {Okafor, Ada and Bee, Carl},\n  year = ${1950 + (i % 70)},\n  abstract = {${filler}}\n}\n`,
  )
  entries.splice(2500, 0, '@article{bad,\n  = {nothing}\n}\n')
  const bytes = Buffer.from(entries.join(''))
  expect(bytes.length).toBeGreaterThan(8_000_000)
  const { report } = await bring(bytes, 'large.bib', inquiry)
  expect(report.read).toBe(5000)
  expect(report.refused.map(r => r.line)).toEqual([2500 * 6 + 1])
  expect((await titles(inquiry)).length).toBe(5000)
})

test('a failed import can be looked at afterwards, by its members only', async () => {
  const list = (await desk.owner.get(`/api/inquiries/${id}/imports`).expect(200)).body as { state: string }[]
  expect(list.some(r => r.state === 'refused')).toBe(true)
  const stranger = await desk.signIn('stranger@desk.example')
  await stranger.get(`/api/inquiries/${id}/imports`).expect(404)
})

test('entries that cannot be kept are counted and named, each, and the others stand', async () => {
  const inquiry = await newInquiry(desk)
  const deep = (n: number): unknown => (n ? [deep(n - 1)] : 1)
  const items = [
    { id: 'whole', type: 'book', title: 'Whole \ud83d lamps\u0000' },
    { id: 'deep', type: 'book', title: 'Deep', custom: { a: deep(40) } },
    { id: 'long', type: 'book', title: 'Long', custom: { text: 'moths '.repeat(250_000) } },
    { id: 'strange', type: 'book', title: ['Strange'], author: 'Okafor, Ada', language: ['en', 'fr'], issued: [] },
  ]
  const { report } = await bring(Buffer.from(JSON.stringify(items)), 'hard.json', inquiry)
  expect(report.read).toBe(2)
  expect(report.refused.map(r => r.why)).toEqual([
    expect.stringContaining('nested deeper'),
    expect.stringContaining('MB long'),
  ])
  expect((await titles(inquiry)).sort()).toEqual(['Strange', 'Whole \ufffd lamps'])
  expect(await count(desk, 'records', `inquiry_id = ${inquiry}`)).toBe(2)
})

test('what was refused or given up can be read once more; what was read cannot', async () => {
  const inquiry = await newInquiry(desk)
  const { id: refused } = await bring(Buffer.from('Dear librarian,'), 'letter.txt', inquiry)
  const again = await desk.owner.post(`/api/inquiries/${inquiry}/imports/${refused}/again`).expect(202)
  await desk.finish(inquiry, again.body.job)
  const row = (await desk.owner.get(`/api/inquiries/${inquiry}/imports/${refused}`)).body
  expect(row.state).toBe('refused')
  const { id: done } = await bring(Buffer.from('@book{a, title={Lamps}}'), 'a.bib', inquiry)
  const no = await desk.owner.post(`/api/inquiries/${inquiry}/imports/${done}/again`).expect(409)
  expect(no.body.code).toBe('not-refused')
})
