import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { plainText } from '../../core/cite/rich-text'
import { STYLES } from '../../core/cite/styles'
import { readBibliography } from '../../core/formats/read-file'
import { CARD } from '../../standins/gate'
import { drawPdf } from '../../standins/pdf'
import { entered } from '../../standins/records'
import { citingNow } from '../../standins/world'
import { OutsideError } from '../connect/http'
import { newInquiry, openDesk, type Desk } from './desk'
import type { WorldWork } from '../../core/world/types'
import { smallOutside, smallWorld } from './small-world'

const world = smallWorld()
let desk: Desk
let id: number
let at: string
beforeAll(async () => {
  desk = await openDesk('path', smallOutside(world))
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
})
afterAll(() => desk.close())

const get = (path: string) => desk.get(at + path)
const post = (path: string, body: object, status?: number) => desk.post(at + path, body, status)
const control = (path: string, body: object = {}) =>
  desk.context
    .outside(`http://broadleaf.example/`, {})
    .then(
      () => undefined,
      () => undefined,
    )
    .then(() => setSwitch(path, body))
const setSwitch = async (path: string, body: object) => {
  const port = desk.settings.outside.loopback.port
  const { request } = await import('undici')
  await request(`http://127.0.0.1:${port}${path}`, {
    method: 'POST',
    headers: { host: 'control.example', 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
}
const sweep = async (query: string, catalogues: string[]) => {
  const made = await post('/sweeps', { query, catalogues }, 202)
  await desk.finish(id, made.job)
  return (await get('/sweeps')).find((s: { id: number }) => s.id === made.id)
}
const decide = (work: number, choice: string, group = randomUUID()) =>
  post('/decisions', { group, decisions: [{ id: randomUUID(), work, pass: 'abstract', choice }] }).then(() => group)

/** Drops a file on a work, and waits until it was read. */
const drop = async (work: number, bytes: Buffer, key: string = randomUUID(), status = 202) => {
  const { body } = await desk.owner
    .post(`${at}/works/${work}/copies`)
    .set('Content-Type', 'application/octet-stream')
    .set('Idempotency-Key', key)
    .send(bytes)
    .expect(status)
  return status === 202 ? (await desk.finish(id, body.job)).result : body
}

/** The article of a line by the DOI of its version of record; none for a preprint's own DOI. */
const ownOf = (line: Line): WorldWork | undefined => {
  const own = line.doi ? world.byDoi.get(line.doi) : undefined
  return own?.form === 'research article' && own.item.DOI === line.doi ? own : undefined
}
const onPlainPlatform = (line: Line) => /tessary|moorgrave/.test(ownOf(line)?.host ?? '')

const byTitle = (lines: Line[]): Line[] => lines.sort((a, b) => (a.title < b.title ? -1 : 1))
interface Line {
  id: number
  title: string
  state: string
  reach: string
  doi: string | null
  kind: string
  year: number
}

test('a broken query is refused with its place and a repair', async () => {
  const answer = await desk.owner
    .post(at + '/sweeps')
    .send({ query: 'moth and (', catalogues: ['broadleaf'] })
    .expect(422)
  expect(answer.body).toMatchObject({ code: 'query', position: 10, repaired: 'moth' })
  await desk.owner
    .post(at + '/sweeps')
    .send({ query: '  ', catalogues: ['broadleaf'] })
    .expect(422)
  await desk.owner
    .post(at + '/sweeps')
    .send({ query: 'moth', catalogues: ['nowhere'] })
    .expect(422)
})

test('a sweep asks each catalogue in its own way and says what it changed', async () => {
  const s = await sweep('moth* and light*', ['broadleaf', 'lampyr', 'vault', 'civic', 'fennmark'])
  const by = Object.fromEntries(s.catalogues.map((c: { catalogue: string }) => [c.catalogue, c]))
  expect(by.broadleaf).toMatchObject({ state: 'done', changes: [] })
  expect(by.broadleaf.count).toBeGreaterThan(20)
  // it cannot truncate, so that it is asked for the endings of its own dictionary
  expect(by.civic.asked).toBe('(moths or moth) and (light or lighting or lights or lighthouse)')
  expect(by.civic.changes).toHaveLength(2)
  const records = await get(`/sweeps/${s.id}/records`)
  expect(records.length).toBe(s.catalogues.reduce((n: number, c: { fetched: number }) => n + c.fetched, 0))
  // found by reading every description, without any index
  const text = (w: WorldWork) => {
    const i = entered({ id: w.id, from: '', how: w.catalogues.broadleaf!, work: w })
    return [
      i.title,
      i.abstract,
      ...w.keywords,
      ...w.subjects,
      i['container-title'],
      ...(i.author ?? []).map(n => n.family),
    ].join(' ')
  }
  const held = world.works.filter(
    w =>
      w.catalogues.broadleaf &&
      w.catalogues.broadleaf.from <= world.day &&
      /\bmoth/i.test(text(w)) &&
      /\blight/i.test(text(w)),
  )
  expect(by.broadleaf.count).toBe(held.length)
})

test.each([
  ['503', 'out of service'],
  ['broken', 'cannot be read'],
  ['cut', 'broke off'],
])('a catalogue that answers with %s is named, and the others stand', async (mode, said) => {
  await control('/switches/civic.example', { mode })
  const s = await sweep(`lamp* and garden*`, ['broadleaf', 'civic'])
  const by = Object.fromEntries(s.catalogues.map((c: { catalogue: string }) => [c.catalogue, c]))
  expect(by.civic.state).toBe('failed')
  expect(by.civic.error).toContain(said)
  expect(by.broadleaf.state).toBe('done')
  await setSwitch('/reset', {})
  const again = await post(`/sweeps/${s.id}/fetch`, { catalogue: 'civic' }, 202)
  await desk.finish(id, again.job)
  const mended = (await get('/sweeps')).find((x: { id: number }) => x.id === s.id)
  expect(mended.catalogues.find((c: { catalogue: string }) => c.catalogue === 'civic')).toMatchObject({
    state: 'done',
    error: null,
  })
})

test('bringing a sweep into the pool joins the records of one work, and bringing it again adds nothing', async () => {
  const [s] = (await get('/sweeps')).filter((x: { query: string }) => x.query === 'moth* and light*')
  const first = await post('/pool', { sweep: s.id, all: true, records: [] })
  expect(first.records).toBeGreaterThan(first.newWorks)
  const works: Line[] = await get('/works')
  expect(works.length).toBe(first.newWorks)
  const dois = works.map(w => w.doi).filter(Boolean)
  expect(new Set(dois).size).toBe(dois.length)
  const second = await post('/pool', { sweep: s.id, all: true, records: [] })
  expect(second).toMatchObject({ records: 0, newWorks: 0 })
})

test('decisions are saved, sent twice once, undone, and an undo that was overtaken is refused', async () => {
  const [a] = (await get('/works')) as Line[]
  const group = randomUUID()
  const decisions = [{ id: randomUUID(), work: a!.id, pass: 'abstract', choice: 'set aside', reason: 'Too short' }]
  await post('/decisions', { group, decisions })
  await post('/decisions', { group, decisions })
  let sheet = await get(`/works/${a!.id}`)
  expect(sheet).toMatchObject({ state: 'set aside', reason: 'Too short' })
  expect(sheet.history).toHaveLength(1)
  const later = await decide(a!.id, 'keep')
  const refused = await desk.owner
    .post(at + '/undo')
    .send({ group, id: randomUUID() })
    .expect(409)
  expect(refused.body.title).toContain('decided again since')
  await post('/undo', { group: later, id: randomUUID() })
  await post('/undo', { group, id: randomUUID() })
  sheet = await get(`/works/${a!.id}`)
  expect(sheet.state).toBe('unread')
  expect(sheet.history).toHaveLength(4)
})

test('a proposed pair is joined by the student and taken apart again, with its decisions', async () => {
  // the same title two years later, once without authors: likely, not certain
  const title = 'Harbour lamps and the moths of a cold spring'
  const file = `@article{a, title={${title}}, year={2020}, author={Okafor, Ada}}\n@article{b, title={${title}}, year={2022}}`
  const sent = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .set('X-File-Name', 'two.bib')
    .send(Buffer.from(file))
    .expect(202)
  await desk.finish(id, sent.body.job)
  const twins = (await get('/twins')).filter((t: { a: { item: { title: string } } }) => t.a.item.title === title)
  expect(twins).toHaveLength(1)
  const { record: a, work } = twins[0].a
  const { record: b, work: other } = twins[0].b
  expect((await get(`/works/${work}`)).asked).toMatchObject([{ record: b, work: other }])
  await decide(other, 'keep')
  await post('/links', { a, b, verdict: 'same' })
  const joined = Math.min(work, other)
  const gone = Math.max(work, other)
  expect(await get(`/works/${joined}`)).toMatchObject({ id: joined, state: 'kept' })
  // the address of the retired work leads on
  expect((await get(`/works/${gone}`)).id).toBe(joined)
  await post('/links', { a, b, verdict: 'never' })
  expect((await get(`/works/${gone}`)).id).toBe(gone)
  expect((await get(`/works/${other}`)).state).toBe('kept')
  expect((await get(`/works/${work}`)).state).toBe('unread')
  // an answer can be taken back, and then the question stands again
  const asks = async () => (await get('/twins')).some((t: { a: { record: number } }) => t.a.record === a)
  expect(await asks()).toBe(false)
  await post('/links', { a, b, verdict: 'asked' })
  expect(await asks()).toBe(true)
  await post('/links', { a, b, verdict: 'never' })
})

/** Brings a bibliography in, read to its end. */
const bring = async (file: string) => {
  const sent = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .set('X-File-Name', 'more.bib')
    .send(Buffer.from(file))
    .expect(202)
  await desk.finish(id, sent.body.job)
}

test('an answer closes every pair of records of two works, and a later one opens them again', async () => {
  const title = 'Quarry lamps and the owls of a wet autumn'
  // two records of each of two works that may be one
  await bring(
    `@article{a, title={${title}}, year={2020}, author={Okafor, Ada}, volume={4}, pages={1--9}}\n@article{b, title={${title}}, year={2020}, author={Okafor, A.}, volume={4}, pages={1--9}}`,
  )
  await bring(
    `@article{c, title={${title}}, year={2022}, journal={Night Papers}}\n@article{d, title={${title}}, year={2022}, journal={Night Papers}, issn={}}`,
  )
  const mine = async () =>
    (await get('/twins')).filter((t: { a: { item: { title: string } } }) => t.a.item.title === title)
  const works = async () => ((await get('/works')) as Line[]).filter(w => w.title === title).length
  const [pair] = await mine()
  const before = await works()
  const [a, b] = [pair.a.record, pair.b.record]
  await post('/links', { a, b, verdict: 'never' })
  const left = (await mine()).length
  await post('/links', { a, b, verdict: 'same' })
  expect(await works()).toBe(before - 1)
  expect((await mine()).length).toBeLessThanOrEqual(left)
})

test('trails lead to references and citing works, as the index has them, and into the pool', async () => {
  const works: Line[] = await get('/works')
  const cited = world.works
    .filter(w => citingNow(world, w.id).length > 3 && w.references.length > 3)
    .map(w => w.item.DOI)
  const origin = works.find(w => w.doi && cited.includes(w.doi))!
  const truth = world.byDoi.get(origin.doi!)!
  expect((await get('/graph')).nodes).toEqual([])
  const { job } = await post('/rounds', { scope: 'work', of: origin.id }, 202)
  expect((await desk.finish(id, job)).result).toMatchObject({ n: null, trails: 2, amiss: 0 })
  const graph = await get('/graph')
  expect(
    graph.walks.map((w: { direction: string; total: number; got: number }) => [w.direction, w.total, w.got]),
  ).toEqual(
    [
      ['cited-by', citingNow(world, truth.id).length],
      ['references', truth.references.length - truth.unlinked],
    ].map(([way, n]) => [way, n, n]),
  )
  const here = graph.nodes.findIndex((n: { work: number | null }) => n.work === origin.id)
  expect(graph.cited.filter((_: number, i: number) => graph.citing[i] === here)).toHaveLength(
    truth.references.length - truth.unlinked,
  )
  const fresh = graph.nodes.find((n: { pointer: { doi: string | null } | null }) => n.pointer?.doi)
  expect(await post('/pointers', { nodes: [fresh.id] })).toMatchObject({ records: 1, newWorks: 1 })
  const now = (await get('/graph')).nodes.find((n: { id: number }) => n.id === fresh.id)
  expect(now).toMatchObject({ work: expect.any(Number), pointer: null })
  expect(await get(`/works/${now.work}/trail`)).toHaveLength(2)
  await bring(
    '@article{far, title={A tale that no index knows of}, author={Okafor, Ada}, year={2020}, doi={10.5555/nowhere.1}}',
  )
  const unknown = ((await get('/works')) as Line[]).find(w => w.doi === '10.5555/nowhere.1')!
  await desk.finish(id, (await post('/rounds', { scope: 'work', of: unknown.id }, 202)).job)
  const walks = (await get('/graph')).walks.filter((w: { trouble: string | null }) => w.trouble)
  expect(walks.map((w: { total: number }) => w.total)).toEqual([0, 0])
})

test('the citation index is asked how often each work of the pool is cited, and what came before a failure stands', async () => {
  const of = async () => {
    const works = (await get('/works')) as (Line & { citedBy: number | null; perYear: number | null })[]
    return works.filter(w => w.doi && w.doi !== '10.5555/nowhere.1' && world.byDoi.has(w.doi))
  }
  const truth = (w: Line) => citingNow(world, world.byDoi.get(w.doi!)!.id).length
  const { outside } = desk.context
  let asked = 0
  desk.context.outside = (url, o) =>
    url.includes('/works/') && ++asked > 30
      ? Promise.reject(new OutsideError('The index broke off.', true))
      : outside(url, o)
  const broken = await desk.finish(id, (await post('/citations', {}, 202)).job)
  desk.context.outside = outside
  expect(broken).toMatchObject({ state: 'failed', error: expect.stringContaining('counts that came before are kept') })
  const some = (await of()).filter(w => w.citedBy === truth(w)).length
  expect(some).toBeGreaterThanOrEqual(20)
  const { state, result } = await desk.finish(id, (await post('/citations', {}, 202)).job)
  expect(state).toBe('done')
  const all = await of()
  expect(result.known).toBeGreaterThanOrEqual(all.length)
  for (const w of all) expect([w.doi, w.citedBy]).toEqual([w.doi, truth(w)])
  const unknown = ((await get('/works')) as (Line & { citedBy: number | null })[]).find(
    w => w.doi === '10.5555/nowhere.1',
  )
  expect(unknown!.citedBy).toBeNull()
})

test('routes come from holdings and repositories, and what is fetched is proved by its own text', async () => {
  // the same works in whatever order the catalogues answered: some on platforms that name their PDF, some anywhere
  const works = byTitle(await get('/works'))
  const plain = works.filter(onPlainPlatform)
  for (const w of [...plain.slice(0, 6), ...works.filter(x => x.doi && !plain.includes(x)).slice(0, 10)])
    await decide(w.id, 'keep')
  await desk.finish(id, (await post('/routes', {}, 202)).job)
  const lines = await get('/routes')
  expect(lines.every((l: { routes: unknown }) => l.routes !== null)).toBe(true)
  const ways = new Set(lines.flatMap((l: { routes: { way: string }[] }) => l.routes.map(r => r.way)))
  expect(ways).toEqual(new Set(['open', 'gate', 'shelf', 'loan', 'author']))

  await desk.finish(id, (await post('/retrievals', {}, 202)).job)
  const before = await get('/routes')
  expect(before.some((l: Line) => l.reach === 'in hand')).toBe(true)
  expect(before.some((l: Line) => l.reach === 'within reach')).toBe(true)
  const refused = await desk.owner
    .post(`/api/inquiries/${id}/gates/home`)
    .send({ card: 'HV-1', password: 'x' })
    .expect(422)
  expect(refused.body.code).toBe('gate-refused')
  await desk.owner.post(`/api/inquiries/${id}/gates/home`).send(CARD).expect(201)
  const job = await desk.finish(id, (await post('/retrievals', {}, 202)).job)
  const got = (job.result as { works: { state: string; title: string }[] }).works
  const after = await get('/routes')
  expect(after.filter((l: Line) => l.reach === 'in hand').length).toBeGreaterThan(
    before.filter((l: Line) => l.reach === 'in hand').length,
  )
  expect(got.some(g => g.state === 'gate needed')).toBe(false)
  // a copy in hand carries the DOI of its work, whatever the platform sent
  for (const l of after.filter((x: Line) => x.reach === 'in hand')) {
    const { copies, item } = await get(`/works/${l.id}`)
    const proved = copies.find((c: { outcome: string }) => c.outcome === 'proved')
    const pages = await desk.context.db.sequelize.query(
      'SELECT content FROM copy_pages WHERE copy_id = ? AND page = 1',
      { replacements: [proved.id] },
    )
    expect(JSON.stringify(pages)).toContain(item.DOI)
  }
})

test('a session that the gate ends in the middle is noticed, said, and forgotten', async () => {
  await desk.owner.post(`/api/inquiries/${id}/gates/home`).send(CARD).expect(201)
  const unread = byTitle(await get('/works')).filter(w => w.state === 'unread')
  for (const w of unread.filter(onPlainPlatform).slice(0, 12)) await decide(w.id, 'keep')
  await desk.finish(id, (await post('/routes', {}, 202)).job)
  const lines = await get('/routes')
  const gated = lines.find(
    (l: { reach: string; routes: { way: string }[] }) =>
      l.reach === 'within reach' && l.routes[0]!.way === 'gate' && !l.routes.some(r => r.way === 'open'),
  )
  expect(gated).toBeDefined()
  await setSwitch('/gate/expire', {})
  const job = await desk.finish(id, (await post('/retrievals', { works: [gated.id] }, 202)).job)
  expect((job.result as { works: { state: string }[] }).works[0]!.state).toBe('gate needed')
  expect((await desk.get(`/api/inquiries/${id}/gates`))[0].until).toBeNull()
})

test.each<[string, (right: Buffer, wrong: Buffer) => Buffer, string]>([
  ['a sign-in page', () => Buffer.from('<html><title>Sign in</title><input type="password"></html>'), 'sign-in page'],
  ['half a file', right => right.subarray(0, right.length >> 1), 'breaks off'],
  ['no PDF at all', () => Buffer.from('hello'), 'not a PDF'],
  ['a PDF that lies about itself', () => Buffer.from('%PDF-1.4\nnothing\n%%EOF'), 'damaged'],
  ['another article', (_, wrong) => wrong, 'not the work'],
])(
  '%s dropped on a work is refused with what it is',
  async (_, make, said) => {
    const lines: Line[] = await get('/works')
    const line = lines.find(ownOf)!
    const own = ownOf(line)!
    const foreign = world.works.find(
      w => w.form === 'research article' && w.item.DOI !== line.doi && w.item.title !== own.item.title,
    )!
    const right = Buffer.from(await drawPdf(world, own, { version: 'version of record' }))
    const wrong = Buffer.from(await drawPdf(world, foreign, { version: 'version of record' }))
    const got = await drop(line.id, make(right, wrong))
    expect(got.outcome).toBe('refused')
    expect(got.said).toContain(said)
    // of what is refused nothing is kept
    const [rows] = await desk.context.db.sequelize.query('SELECT COUNT(*) AS n FROM uploads')
    expect(Number((rows as { n: number }[])[0]!.n)).toBe(0)
  },
  60_000,
)

test('the right PDF dropped on its work is in hand, can be read, and gives passages with the printed page', async () => {
  const lines: Line[] = await get('/works')
  const line = lines.find(l => l.reach !== 'in hand' && /^\d+-\d+$/.test(ownOf(l)?.item.page ?? ''))!
  const own = ownOf(line)!
  const pdf = Buffer.from(await drawPdf(world, own, { version: 'version of record' }))
  const got = await drop(line.id, pdf)
  expect(got.outcome).toBe('proved')
  const copy = await get(`/copies/${got.copyId}`)
  expect(copy.labels[0]).toBe(own.item.page!.split('-')[0])
  const file = await desk.owner
    .get(`${at}/copies/${got.copyId}/file`)
    .buffer()
    .parse((res, done) => {
      const parts: Buffer[] = []
      res.on('data', (p: Buffer) => parts.push(p))
      res.on('end', () => done(null, Buffer.concat(parts)))
    })
  expect(Buffer.compare(file.body as Buffer, pdf)).toBe(0)
  // in ranges, so that its first page shows before the rest has come
  const part = (range: string, more: Record<string, string> = {}) => {
    const r = desk.owner.get(`${at}/copies/${got.copyId}/file`).set('Range', range)
    for (const [k, v] of Object.entries(more)) void r.set(k, v)
    return r.buffer().parse((res, done) => {
      const parts: Buffer[] = []
      res.on('data', (p: Buffer) => parts.push(p))
      res.on('end', () => done(null, Buffer.concat(parts)))
    })
  }
  const first = await part('bytes=0-9').expect(206)
  expect(first.headers['content-range']).toBe(`bytes 0-9/${pdf.length}`)
  expect(Buffer.compare(first.body as Buffer, pdf.subarray(0, 10))).toBe(0)
  expect(Buffer.compare((await part('bytes=-20').expect(206)).body as Buffer, pdf.subarray(-20))).toBe(0)
  expect((await part(`bytes=${pdf.length}-`).expect(416)).headers['content-range']).toBe(`bytes */${pdf.length}`)
  await part('bytes=0-9', { 'If-Range': '"another"' }).expect(200)
  await desk.owner.get(`${at}/copies/${got.copyId}/file`).set('If-None-Match', file.headers.etag!).expect(304)
  expect(file.headers['cache-control']).toBe('private, no-cache')
  const passage = await post(`/copies/${got.copyId}/passages`, {
    page: 2,
    kind: 'quoted',
    quote: 'as printed',
    note: '',
  })
  expect(passage.label).toBe(String(Number(copy.labels[0]) + 1))
  await desk.owner
    .post(`${at}/copies/${got.copyId}/passages`)
    .send({ page: 1, kind: 'quoted', quote: '', note: '' })
    .expect(422)
  await desk.owner
    .post(`${at}/copies/${got.copyId}/passages`)
    .send({ page: 999, kind: 'in my words', note: 'x' })
    .expect(422)
})

test('entries are formatted together in every style, and two windows do not overwrite each other', async () => {
  const kept = ((await get('/works')) as Line[]).filter(w => w.state === 'kept').slice(0, 6)
  const unread = ((await get('/works')) as Line[]).find(w => w.state === 'unread')!
  await desk.owner
    .post(at + '/entries')
    .send({ work: unread.id })
    .expect(422)
  for (const w of kept) await post('/entries', { work: w.id })
  const list = await get('/bibliography')
  expect(list.entries).toHaveLength(kept.length)
  const texts = list.entries.map((e: { citation: { text: string }[] }) => plainText(e.citation))
  expect([...texts].sort((x, y) => x.localeCompare(y, 'en'))).toEqual(texts)
  for (const style of STYLES) {
    const b = await get(`/bibliography?style=${style.id}`)
    expect(b.entries).toHaveLength(kept.length)
    expect(
      b.entries.every((e: { citation: unknown[]; inText: string }) => e.citation.length > 0 && e.inText.length > 0),
    ).toBe(true)
  }
  const ieee = await get('/bibliography?style=ieee')
  expect(ieee.entries.map((e: { label: string }) => e.label.trim())).toEqual(kept.map((_, i) => `[${i + 1}]`))
  const [e] = list.entries
  const url = `${at}/entries/${e.id}`
  await desk.owner.patch(url).set('If-Match', `"${e.version}"`).send({ annotation: 'one two three' }).expect(200)
  const second = await desk.owner.patch(url).set('If-Match', `"${e.version}"`).send({ annotation: 'other' }).expect(412)
  expect(second.body.current).toMatchObject({ annotation: 'one two three', version: e.version + 1 })
})

test('what is handed in can be read again: CSL-JSON the same, BibTeX and RIS but for the losses that are said', async () => {
  const json = (await desk.owner.get(`${at}/export?format=csl`).buffer().expect(200)).text
  const items = JSON.parse(json)
  expect(readBibliography(json)!.entries.map(x => x.item)).toEqual(items)
  for (const [format, name] of [
    ['bibtex', 'BibTeX'],
    ['ris', 'RIS'],
  ] as const) {
    const text = (await desk.owner.get(`${at}/export?format=${format}`).buffer().expect(200)).text
    const back = readBibliography(text)!
    expect(back).toMatchObject({ format: name, refused: [] })
    const said = await get(`/export/losses?format=${format}`)
    for (const item of items) {
      const lost = new Set(
        said.filter((l: { title: string }) => l.title === item.title).flatMap((l: { fields: string[] }) => l.fields),
      )
      const twin = back.entries.find(x => x.item.title === item.title)!.item
      for (const field of ['title', 'DOI', 'volume', 'issue', 'container-title'])
        if (!lost.has(field)) expect(String(twin[field] ?? '')).toBe(String(item[field] ?? ''))
      expect(lost.has('author')).toBe(false)
    }
  }
  const docx = await desk.owner
    .get(`${at}/export?format=docx`)
    .buffer()
    .parse((res, done) => {
      const parts: Buffer[] = []
      res.on('data', (p: Buffer) => parts.push(p))
      res.on('end', () => done(null, Buffer.concat(parts)))
    })
  expect((docx.body as Buffer).subarray(0, 2).toString()).toBe('PK')
  const html = (await desk.owner.get(`${at}/export?format=html`).buffer()).text
  expect(html).toContain('one two three')
  expect((await desk.owner.get(`${at}/export?format=markdown`)).text).toContain('> one two three')
  await desk.owner.get(`${at}/export?format=stone`).expect(422)
})

test('the path bar counts what is there', async () => {
  const { numbers } = await get('')
  const works: Line[] = await get('/works')
  expect(numbers).toMatchObject({
    pool: works.length,
    unread: works.filter(w => w.state === 'unread').length,
    kept: works.filter(w => w.state === 'kept').length,
    inHand: works.filter(w => w.state === 'kept' && w.reach === 'in hand').length,
    read: 1,
    annotated: 1,
  })
})
