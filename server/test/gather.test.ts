import { keepKey } from '../connect/connectors'
import { REGISTER_KEY } from '../../standins/register'
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import Papa from 'papaparse'
import { request as ask } from 'undici'
import { emptySheet, sheetQuery, type Sheet, type Term } from '../../core/query/sheet'
import { printCql } from '../../core/query/cql'
import { count, newInquiry, openDesk, type Desk } from './desk'
import type { WorldWork } from '../../core/world/types'
import { smallOutside, smallWorld } from './small-world'
import { lossesShape, type Answer } from '../../core/schema/api'

const world = smallWorld()
let desk: Desk
let at: string
let id: number
beforeAll(async () => {
  desk = await openDesk('gather', smallOutside(world))
  id = await newInquiry(desk, { question: 'Does street lighting change what moths do in towns?' })
  at = `/api/inquiries/${id}`
})
afterAll(() => desk.close())

const get = (path: string) => desk.get(at + path)
const ALL = 'broadleaf,lampyr,vigil,civic,vault,fennmark,shelf'
/** Asks while one waits, as counts are. */
const look = (path: string, body: object = {}, status = 200) => desk.post(at + path, body, status)
const counts = (query: string, catalogues = ALL) => look('/counts', { query, catalogues: catalogues.split(',') })
const control = (path: string, body: object = {}) =>
  ask(`http://127.0.0.1:${desk.settings.outside.loopback.port}${path}`, {
    method: 'POST',
    headers: { host: 'control.example', 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
const sweep = async (query: string, catalogues = ['broadleaf', 'lampyr']): Promise<number> => {
  const { body } = await desk.owner.post(`${at}/sweeps`).send({ query, catalogues }).expect(202)
  await desk.finish(id, body.job)
  return body.id as number
}
const term = (text: string, more: Partial<Term> = {}): Term => ({ id: text, text, role: 'main', on: true, ...more })
const sheet: Sheet = {
  ...emptySheet(),
  concepts: [
    { id: 'a', name: 'lamps', terms: [term('street light', { ending: true }), term('lamp', { ending: true })] },
    { id: 'b', name: 'moths', terms: [term('moth', { ending: true })] },
  ],
  years: { from: 2000 },
}

describe('the question sheet', () => {
  test('begins empty, with the words of the question on offer', async () => {
    expect(await get('/sheet')).toMatchObject({
      sheet: { concepts: [] },
      version: 1,
      offered: ['street lighting', 'moths', 'towns'],
    })
  })
  test('is saved against its version, and the query goes with it', async () => {
    await desk.owner.put(`${at}/sheet`).send(sheet).expect(428)
    const saved = await desk.owner.put(`${at}/sheet`).set('If-Match', '"1"').send(sheet).expect(200)
    expect(saved.body).toMatchObject({ version: 2, sheet })
    expect((await get('')).query).toBe(printCql(sheetQuery(sheet)!))
    const late = await desk.owner.put(`${at}/sheet`).set('If-Match', '"1"').send(sheet).expect(412)
    expect(late.body.current.version).toBe(2)
  })
  test('what is no sheet is refused, and nothing is lost', async () => {
    for (const bad of [
      {},
      { ...sheet, concepts: [{ id: 'a' }] },
      { ...sheet, zone: [1] },
      { ...sheet, concepts: Array.from({ length: 13 }, (_, i) => ({ id: String(i), name: '', terms: [] })) },
    ])
      await desk.owner.put(`${at}/sheet`).set('If-Match', '"2"').send(bad).expect(422)
    expect((await get('/sheet')).sheet).toEqual(sheet)
  })
  test('of an inquiry that had a query before, it is read from that query', async () => {
    const other = await newInquiry(desk)
    await desk.context.db.inquiries.update(
      { query: 'moth* and (lamp* or LED) and year >= 2010' },
      { where: { id: other } },
    )
    const { body } = await desk.owner.get(`/api/inquiries/${other}/sheet`).expect(200)
    expect(body.sheet.concepts.map((c: { terms: Term[] }) => c.terms.map(t => t.text))).toEqual([
      ['moth'],
      ['lamp', 'LED'],
    ])
    expect(body.sheet.years).toEqual({ from: 2010 })
  })
})

describe('counting before committing', () => {
  test('gives each catalogue’s number, and together from the largest to the sum', async () => {
    const found = await counts('moth*')
    const numbers = found.counts.map((c: { count: number | null }) => c.count).filter((n: number | null) => n !== null)
    expect(found.counts).toHaveLength(7)
    expect(found.least).toBe(Math.max(...numbers))
    expect(found.most).toBe(numbers.reduce((a: number, b: number) => a + b, 0))
    expect(found.counts.find((c: { catalogue: string }) => c.catalogue === 'vigil').changes[0]).toContain(
      'cannot truncate',
    )
  })
  test('asks a catalogue once a day for the same query, and again on another day', async () => {
    const first = (await counts('lamp*', 'broadleaf')).counts[0].count
    await control('/switches/broadleaf.example', { mode: '503' })
    expect((await counts('lamp*', 'broadleaf')).counts[0]).toMatchObject({ count: first, error: null })
    expect((await counts('garden*', 'broadleaf')).counts[0]).toMatchObject({
      count: null,
      error: expect.stringContaining('out of service'),
    })
    await control('/reset')
    expect((await counts('garden*', 'broadleaf')).counts[0].count).toBeGreaterThan(0)
  })
  test('a broken query is an error with its place', async () => {
    expect(await look('/counts', { query: 'moth and (' }, 422)).toMatchObject({ code: 'query', position: 10 })
  })
  test('a rung and what it takes away make up the rung above', async () => {
    const of = async (q: string) => (await counts(q, 'lampyr')).counts[0].count as number
    expect((await of('moth* and lamp*')) + (await of('moth* not lamp*'))).toBe(await of('moth*'))
  })
})

describe('the loss account', () => {
  const losses = async (query: string, catalogues = 'lampyr,broadleaf') => {
    const { job } = await look('/losses', { query, catalogues: catalogues.split(',') }, 202)
    const { result } = await desk.finish(id, job)
    return lossesShape.validate(result, { strict: true })
  }
  test('of few records looks at all, and says how many the library still reaches', async () => {
    const some = world.works.find(
      w => w.catalogues.lampyr && w.catalogues.lampyr.from <= world.day && w.item.DOI && !w.catalogues.lampyr.noDoi,
    )!
    const l = await losses(`doi == "${some.item.DOI}"`, 'lampyr')
    expect(l).toMatchObject({ exact: true, looked: 1, reach: { of: 1, interval: null } })
    expect(l.examples[0]!.item.title).toBe(some.item.title)
    expect(l.examples[0]!.item.abstract).toBeUndefined()
    expect(l.kinds).toHaveLength(1)
  })
  test('of many draws a sample and gives an interval', async () => {
    const l = await losses('year >= 1950')
    expect(l.exact).toBe(false)
    expect(l.looked).toBeGreaterThan(20)
    expect(l.looked).toBeLessThanOrEqual(130)
    const [low, high] = l.reach.interval!
    expect(low).toBeLessThanOrEqual(l.reach.within / l.reach.of)
    expect(high).toBeGreaterThanOrEqual(l.reach.within / l.reach.of)
    for (const tally of [l.kinds, l.years, l.languages])
      expect(tally.reduce((n: number, t: { n: number }) => n + t.n, 0)).toBe(l.looked)
    expect(l.examples).toHaveLength(5)
  })
  test('stands where one catalogue fails', async () => {
    await control('/switches/broadleaf.example', { mode: '503' })
    const l = await losses('beetle* and year >= 1951')
    expect(l.counts.find(c => c.catalogue === 'broadleaf')!.error).toContain('out of service')
    expect(l.looked).toBeGreaterThan(0)
    await control('/reset')
  })
})

describe('words to go on with', () => {
  test('a word without records has its neighbours in the catalogues’ own dictionaries', async () => {
    const near = await look('/spelling', { word: 'polination' })
    expect(near.map((w: { text: string }) => w.text)).toContain('pollination')
    expect(await look('/spelling', { word: 'qqqqqqqq' })).toEqual([])
    await look('/spelling', {}, 422)
  })
  test('what sets kept works apart is harvested, and all words of one', async () => {
    const other = await newInquiry(desk)
    const there = `/api/inquiries/${other}`
    expect((await desk.owner.get(`${there}/harvest`)).body).toEqual({
      ...{ wanted: 0, others: 0, words: [] },
    })
    const { body } = await desk.owner
      .post(`${there}/sweeps`)
      .send({ query: 'moth* or sleep', catalogues: ['broadleaf'] })
      .expect(202)
    await desk.finish(other, body.job)
    const found = (await desk.owner.get(`${there}/sweeps/${body.id}/records`)).body as {
      id: number
      item: { title: string }
    }[]
    const moths = found.filter(r => /moth/i.test(r.item.title))
    await desk.owner
      .post(`${there}/pool`)
      .send({ sweep: body.id, records: moths.map(r => r.id), decide: { group: crypto.randomUUID(), choice: 'keep' } })
      .expect(201)
    await desk.owner.post(`${there}/pool`).send({ sweep: body.id, all: true, records: [] }).expect(201)
    const works = (await desk.owner.get(`${there}/works`)).body as {
      id: number
      state: string
      title: string
      pass: string
    }[]
    expect(works.filter(w => w.state === 'kept').length).toBeGreaterThan(5)
    expect(works.filter(w => w.state === 'kept').every(w => w.pass === 'title' && /moth/i.test(w.title))).toBe(true)
    const harvest = (await desk.owner.get(`${there}/harvest`)).body
    expect(harvest.words.map((w: { text: string }) => w.text)).toContain('lepidoptera')
    expect(harvest.words.map((w: { text: string }) => w.text)).not.toContain('sleep')
    const one = (await desk.owner.get(`${there}/harvest?work=${works[0]!.id}`)).body
    expect(one.words.length).toBeGreaterThan(2)

    // what sweeps missed, and what is left out
    const dusk = (n: number) =>
      `@article{d${n}, title={Dusk harps ${n}}, author={Sand, Ivo}, year={201${n}}, doi={10.5555/dusk.${n}}, keywords={dusk harp}}`
    const file = await desk.owner
      .post(`${there}/imports`)
      .set('Content-Type', 'application/octet-stream')
      .set('X-File-Name', 'list.bib')
      .send(Buffer.from([1, 2].map(dusk).join('\n')))
      .expect(202)
    await desk.finish(other, file.body.job)
    type Line = { id: number; title: string }
    const now = (await desk.owner.get(`${there}/works`)).body as Line[]
    const decide = (of: Line[], choice: string) =>
      desk.owner
        .post(`${there}/decisions`)
        .send({
          group: crypto.randomUUID(),
          decisions: of.map(w => ({ id: crypto.randomUUID(), work: w.id, pass: 'title', choice })),
        })
        .expect(201)
    await decide(
      now.filter(w => w.title.startsWith('Dusk harps')),
      'keep',
    )
    await decide(
      now.filter(w => /sleep/i.test(w.title) && !/moth/i.test(w.title)),
      'set aside',
    )
    const texts = (h: { words: { text: string }[] }) => h.words.map(w => w.text)
    const missed = (await desk.owner.get(`${there}/harvest?of=missed`)).body
    expect([missed.wanted, texts(missed)]).toEqual([2, ['dusk harp']])
    const aside = (await desk.owner.get(`${there}/harvest?of=aside`)).body
    expect(texts(aside).some(t => t.includes('sleep'))).toBe(true)
    expect(aside.words.every((w: { others: number }) => w.others === 0)).toBe(true)
    await desk.owner.get(`${there}/harvest?of=all`).expect(422)
  })
})

test('pasted DOIs, ISBNs and references are looked up; what is not found is named with its line', async () => {
  const other = await newInquiry(desk)
  const there = `/api/inquiries/${other}`
  const listed = (key: string) => (w: WorldWork) => (w.catalogues[key]?.from ?? '9') <= world.day
  const article = world.works.find(w => w.item.DOI && listed('broadleaf')(w) && w.date < world.day)!
  const behind = world.works.find(w => w !== article && w.item.DOI && w.date < world.day)!
  const book = world.works.find(w => w.form === 'book' && w.item.ISBN && listed('shelf')(w))!
  const cited = world.works.find(
    w =>
      w.form === 'research article' &&
      w.item.title!.split(' ').length > 8 &&
      listed('lampyr')(w) &&
      !w.catalogues.lampyr!.slip &&
      w.item.language === 'en',
  )!
  const text = [
    `https://doi.org/${article.item.DOI}`,
    '10.5555/never.seen',
    `ISBN ${book.item.ISBN}`,
    `${cited.item.author![0]!.family}, A. (${cited.year}). ${cited.item.title}. Some Journal, 4, 1–9.`,
    'A work that nobody ever wrote about turnips on the moon',
    `Nobody, N. (${cited.year}). ${cited.item.title}. Another Journal, 9, 1–2.`,
    // as one copies it from the window of a platform, and from a catalogue's own menu
    `http://p.example/doi/full/${behind.item.DOI}/pdf?lang=en`,
    'http://r.example/openurl?rft_val_fmt=info:ofi/fmt:kev:mtx:journal&rft.atitle=Radishes+on+the+far+moon&rft.jtitle=Lunar+Notes&rft.aulast=Lune&rft.date=2020',
  ].join('\n')
  const { body } = await desk.owner.post(`${there}/pasted`).send({ text }).expect(202)
  await desk.finish(other, body.job)
  const { body: row } = await desk.owner.get(`${there}/imports/${body.id}`).expect(200)
  expect(row).toMatchObject({ state: 'done', fileName: '8 pasted lines', report: { read: 5 } })
  expect(row.report.refused.map((r: { line: number }) => r.line)).toEqual([2, 5, 6])
  expect(row.report.refused[2].why).toMatch(/has that title, but it is by .+, so it was not taken for yours/)
  expect(row.report.found.map((f: { line: number; where: string }) => [f.line, f.where]).slice(0, 2)).toEqual([
    [1, 'the DOI registration'],
    [3, 'Halverane Shelf Catalogue'],
  ])
  expect(row.report.refused[0].why).toContain('10.5555/never.seen is not registered')
  const titles = ((await desk.owner.get(`${there}/works`)).body as { title: string }[]).map(w => w.title.toLowerCase())
  expect(row.report.found.at(-1)).toMatchObject({
    ...{ line: 8, where: 'the link itself', title: 'Radishes on the far moon' },
    doubt: expect.stringMatching(/^Nobody who was asked has .* It stands as the link describes it\.$/),
  })
  expect(titles).toContain('radishes on the far moon')
  for (const w of [article, book, cited, behind]) expect(titles).toContain(w.item.title!.toLowerCase())
  await desk.owner.post(`${there}/pasted`).send({ text: ' \n ' }).expect(422)
})

test('a register in a shape of its own is asked by its description, once the operator has set its key', async () => {
  const { outside } = desk.context.settings
  const { catalogues } = outside
  const known = world.works.filter(
    w => w.form === 'research article' && w.date < world.day && w.item.title!.split(' ').length > 6,
  )
  const text = known
    .slice(0, 12)
    .map(w => `${w.item.author![0]!.family}, A. (${w.year}). ${w.item.title}. Some Journal.`)
    .join('\n')
  const look = async () => {
    const there = `/api/inquiries/${await newInquiry(desk)}`
    const { body } = await desk.owner.post(`${there}/pasted`).send({ text }).expect(202)
    await desk.finish(Number(there.split('/').at(-1)), (body as { job: number }).job)
    return (
      (await desk.owner.get(`${there}/imports/${(body as { id: number }).id}`).expect(200)).body as Answer<'import'>
    ).report!
  }
  outside.catalogues = []
  try {
    expect(
      (await look()).refused
        .map(r => r.why)
        .every(why => why.includes('asks for a key, and the operator has set none')),
    ).toBe(true)
    await keepKey(desk.context, 'register', REGISTER_KEY)
    const report = await look()
    expect(report.found!.length).toBeGreaterThan(1)
    for (const f of report.found!)
      expect(f).toMatchObject({ where: 'Ostmere Register of Works', title: known[f.line - 1]!.item.title })
    expect(report.found!.length + report.refused.length).toBe(12)
  } finally {
    outside.catalogues = catalogues
  }
})

test('a record that cannot be read is counted, kept as it came, and costs no neighbour', async () => {
  const other = await newInquiry(desk)
  const there = `/api/inquiries/${other}`
  const good = (title: string) =>
    `<dc:dc xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title>${title}</dc:title><dc:date>2003</dc:date></dc:dc>`
  const record = (data: string, i: number) =>
    `<record><recordPacking>string</recordPacking><recordData>${data.replaceAll('<', '&lt;')}</recordData><recordPosition>${i}</recordPosition></record>`
  const answer = `<searchRetrieveResponse xmlns="http://www.loc.gov/zing/srw/"><version>1.2</version><numberOfRecords>3</numberOfRecords><records>${[good('Lamps'), '<dc><title>Broken', good('Owls')].map((d, i) => record(d, i + 1)).join('')}</records></searchRetrieveResponse>`
  const { outside } = desk.context
  desk.context.outside = (url, o) =>
    url.includes('civic.example') && url.includes('searchRetrieve')
      ? Promise.resolve({ status: 200, headers: { 'content-type': 'text/xml' }, body: Buffer.from(answer), url })
      : outside(url, o)
  const { body } = await desk.owner
    .post(`${there}/sweeps`)
    .send({ query: 'lamps', catalogues: ['civic'] })
    .expect(202)
  await desk.finish(other, body.job)
  desk.context.outside = outside
  const [sweep] = (await desk.owner.get(`${there}/sweeps`)).body as Answer<'sweeps'>
  expect(sweep!.catalogues[0]).toMatchObject({ state: 'done', fetched: 3, unread: 1 })
  const records = (await desk.owner.get(`${there}/sweeps/${sweep!.id}/records`)).body as Answer<'foundRecords'>
  expect(records.map(r => r.item.title)).toEqual(['Lamps', 'Owls'])
  const unread = (await desk.owner.get(`${there}/sweeps/${sweep!.id}/unread`).expect(200))
    .body as Answer<'unreadRecords'>
  expect(unread).toEqual([
    { catalogue: 'civic', position: 2, why: expect.stringMatching(/./), raw: '<dc><title>Broken' },
  ])
})

describe('the log', () => {
  let first: number
  let second: number
  beforeAll(async () => {
    first = await sweep('moth* and lamp* and year >= 2015')
    second = await sweep('moth* and lamp* and year >= 2005')
  })
  test('names and notes sweeps', async () => {
    await desk.owner.patch(`${at}/sweeps/${first}`).send({ name: 'narrow', note: '=2+2' }).expect(200)
    expect((await get('/sweeps')).find((s: { id: number }) => s.id === first)).toMatchObject({
      name: 'narrow',
      note: '=2+2',
    })
    await desk.owner.patch(`${at}/sweeps/999999`).send({ name: 'x' }).expect(404)
  })
  test('sets two sweeps side by side: what came, what went', async () => {
    const { came, went } = await get(`/sweeps/${second}/against/${first}`)
    expect(came.length).toBeGreaterThan(0)
    expect(went).toEqual([])
    expect((await get(`/sweeps/${first}/against/${second}`)).went).toEqual(came)
    expect(await get(`/sweeps/${first}/against/${first}`)).toEqual({ came: [], went: [] })
  })
  test('is given as CSV in which no cell is a formula, and as a methods paragraph', async () => {
    const { text } = await desk.owner.get(`${at}/log.csv`).expect(200)
    const rows = Papa.parse<Record<string, string>>(text, { header: true }).data
    expect(rows).toHaveLength(4)
    expect(rows[0]).toMatchObject({ search: '1', name: 'narrow', catalogue: 'Broadleaf Index', state: 'done' })
    expect(rows[0]!.note).toBe("'=2+2")
    const methods = (await get('/methods')).text
    expect(methods).toContain('2 catalogues were searched on 5 October 2026')
    expect(methods).toContain('Search 1 (narrow)')
  })
  test('says what each catalogue adds to the pool', async () => {
    await desk.owner.post(`${at}/pool`).send({ sweep: second, all: true, records: [] }).expect(201)
    const shares = await get('/catalogue-shares')
    const works = await get('/works')
    const by = Object.fromEntries(shares.map((s: { catalogue: string }) => [s.catalogue, s]))
    expect(by.broadleaf.works + by.lampyr.works - by.broadleaf.shared[0].works).toBe(works.length)
    expect(by.broadleaf.onlyHere + by.broadleaf.shared[0].works).toBe(by.broadleaf.works)
    expect(by.vigil).toMatchObject({ works: 0, onlyHere: 0, keptOnlyHere: [], failed: null })
    expect(by.broadleaf.asked).toBeGreaterThan(0)
    expect(by.broadleaf.found).toBeGreaterThanOrEqual(by.broadleaf.works)
  })
})

describe('many records at once', () => {
  const MANY = 8000
  let other: number
  let path: string
  let from: number
  const poolSize = () => count(desk, 'works', `inquiry_id = ${other}`)
  beforeAll(async () => {
    other = await newInquiry(desk)
    path = `/api/inquiries/${other}`
    const { body } = await desk.owner.post(`${path}/sweeps`).send({ query: 'nothingatall', catalogues: ['civic'] })
    await desk.finish(other, body.job)
    from = body.id
    const { records, sweepHits } = desk.context.db
    for (let i = 0; i < MANY; i += 1000) {
      const rows = Array.from({ length: 1000 }, (_, k) => ({
        inquiryId: other,
        source: 'civic',
        sourceKey: `many${i + k}`,
        rawHash: String(i + k).padStart(64, '0'),
        raw: '<x/>',
        format: 'mods',
        item: {
          id: 'x',
          type: 'article-journal',
          title: `Lamps of town ${i + k}`,
          issued: { 'date-parts': [[1950 + (k % 70)]] },
        },
        facts: {},
      }))
      await records.bulkCreate(rows as never)
    }
    const stored = await records.findAll({ where: { inquiryId: other }, attributes: ['id'], raw: true })
    await sweepHits.bulkCreate(
      stored.map((r, i) => ({ sweepId: from, catalogue: 'civic', position: i + 1, recordId: r.id })),
    )
  })
  const start = async () => {
    const { body } = await desk.owner
      .post(`${path}/pool`)
      .send({ sweep: from, records: [], all: true, decide: { group: randomUUID(), choice: 'keep' } })
      .expect(202)
    return body.job as number
  }
  const progressOf = async (job: number) => (await desk.owner.get(`${path}/jobs/${job}`)).body
  test('cancelled on the way, nothing of it is left', async () => {
    const job = await start()
    while (!((await progressOf(job)).progress.done > 0)) await new Promise(r => setTimeout(r, 30))
    await desk.owner.delete(`${path}/jobs/${job}`).expect(202)
    expect((await desk.finish(other, job)).state).toBe('cancelled')
    expect(await poolSize()).toBe(0)
    expect(await count(desk, 'deeds', `inquiry_id = ${other}`)).toBe(0)
  })
  test('they come in whole, with their decision, and the job tells how many but not which', async () => {
    const job = await start()
    expect((await progressOf(job)).payload.records).toBe(MANY)
    const done = await desk.finish(other, job)
    expect(done).toMatchObject({ state: 'done', result: { records: MANY }, progress: { done: MANY, of: MANY } })
    expect(await count(desk, 'works', `inquiry_id = ${other} AND successor_id IS NULL AND state = 'kept'`)).toBe(
      (done.result as { newWorks: number }).newWorks,
    )
  })
})

describe('hard days', () => {
  const sweeps = async () =>
    (await get('/sweeps')) as {
      id: number
      catalogues: {
        catalogue: string
        state: string
        count: number
        fetched: number
        changes: string[]
        error: string
      }[]
    }[]
  const part = async (sweepId: number, catalogue: string) =>
    (await sweeps()).find(s => s.id === sweepId)!.catalogues.find(c => c.catalogue === catalogue)!
  test('queries of 5,000 letters, 200 terms and deep nesting are counted and swept; one letter more is refused', async () => {
    const long = ['moth', ...Array.from({ length: 199 }, (_, i) => `"no such word ${i}"`)].join(' or ')
    const filled = `${long} or ${'x'.repeat(5000 - long.length - 4)}`
    expect(filled).toHaveLength(5000)
    const moths = (await counts('moth', 'broadleaf')).counts[0].count
    for (const q of [filled, `${'('.repeat(200)}moth${')'.repeat(200)}`, 'moth or פרפר or 🦋'])
      expect((await counts(q, 'broadleaf')).counts[0]).toMatchObject({ count: moths, error: null })
    expect((await part(await sweep(filled), 'broadleaf')).count).toBe(moths)
    await look('/counts', { query: 'x'.repeat(5001) }, 422)
    await desk.owner
      .post(`${at}/sweeps`)
      .send({ query: 'x'.repeat(5001), catalogues: ['broadleaf'] })
      .expect(422)
  })
  test('a query of only masks is a refusal of the catalogue, said by name, and never hangs', async () => {
    const { counts: said } = await counts('**', 'broadleaf,vigil')
    for (const c of said) expect(c.count === null ? c.error.length > 10 : c.count >= 0).toBe(true)
  })
  test('a catalogue that counts more than it gives is found out', async () => {
    await control('/switches/lampyr.example', { mode: 'miscount' })
    const id = await sweep('hawkmoth* and year >= 2015', ['lampyr', 'broadleaf'])
    const lying = await part(id, 'lampyr')
    // asked for more, it says itself that there is none
    const said = `It counts ${lying.count} records and gave ${lying.fetched}. Lampyr Abstracts refuses: First record position out of range: ${lying.fetched + 1}`
    expect(lying).toMatchObject({ state: 'done', changes: [said] })
    expect(lying.count).toBeGreaterThan(lying.fetched)
    expect((await part(id, 'broadleaf')).changes).toEqual([])
    await control('/reset')
  })
  test('an answer that changes between its pages is said', async () => {
    await control('/switches/lampyr.example', { mode: 'miscount', times: 1 })
    const id = await sweep('moth* and year >= 1995', ['lampyr'])
    const p = await part(id, 'lampyr')
    expect(p.fetched).toBe(200)
    expect(p.changes.filter(c => c.startsWith('Its answer changed while it was read'))).toHaveLength(
      p.count > 0 ? 1 : 0,
    )
    await control('/reset')
  })
  test('a slow catalogue holds nobody up', async () => {
    await control('/switches/vault.example', { mode: 'slow' })
    const slow = counts('owl*', 'vault')
    const others = await counts('owl*', 'broadleaf,lampyr')
    expect(others.counts.every((c: { error: string | null }) => c.error === null)).toBe(true)
    const first = await Promise.race([slow, Promise.resolve('still waiting')])
    expect(first).toBe('still waiting')
    expect((await slow).counts[0].error).toBeNull()
    await control('/reset')
  })
  test('two sweeps at once each have their own records', async () => {
    const [a, b] = await Promise.all([sweep('hawkmoth*', ['broadleaf']), sweep('lantern*', ['broadleaf'])])
    const of = async (s: number) => (await get(`/sweeps/${s}/records`)) as { item: { title: string } }[]
    expect((await of(a)).length).toBe((await part(a, 'broadleaf')).fetched)
    expect((await of(b)).length).toBe((await part(b, 'broadleaf')).fetched)
    expect(a).not.toBe(b)
  })
  test('the years of an answer come from the catalogues that count by year, and they add up', async () => {
    const { years, told } = await look('/years', { query: 'moth*', catalogues: ['lampyr', 'civic', 'vigil'] })
    expect(told).toEqual(['lampyr'])
    const total = (await counts('moth*', 'lampyr')).counts[0].count
    expect(years.reduce((n: number, y: { n: number }) => n + y.n, 0)).toBe(total)
  })
  test('a catalogue says what it holds; one that is away says so', async () => {
    const about = await look('/catalogues/shelf')
    expect(about).toMatchObject({ description: expect.stringContaining('branch and call number') })
    expect(about.types.length).toBeGreaterThan(1)
    await look('/catalogues/nowhere', {}, 404)
    await control('/switches/shelf.example', { mode: 'dead' })
    await look('/catalogues/shelf', {}, 502)
    await control('/reset')
  })
})
