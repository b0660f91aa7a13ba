import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import express from 'express'
import { readConnector } from '../../core/connectors/description'
import type { GraphAnswer, RoundPlan } from '../../core/schema/api'
import { keepKey } from '../connect/connectors'
import { runRound } from '../trace/round-job'
import { DirectedGraph } from 'graphology'
import { parse } from 'graphology-graphml'
import Papa from 'papaparse'
import { newInquiry, openDesk, type Desk } from './desk'

/**
 * An index of another shape than the world's: a key, pages by a cursor, names of its own, some works without a DOI.
 * Paper i refers to paper i + 1, to the two classics, and to a report without a DOI; the last one closes the circle.
 */
interface Paper {
  ids: { doi?: string }
  headline: string
  when: string
  hits: number
  area?: string
}
const PAPERS = 8
const paper = (i: number): Paper => ({
  ids: { doi: `10.5555/lit.${i}` },
  headline: `Lit paths of quarter ${i}`,
  when: String(2010 + i),
  hits: 3,
  area: 'night',
})
const classic = (name: string, hits: number): Paper => ({
  ids: { doi: `10.5555/classic.${name}` },
  headline: `The ${name} of dusk`,
  when: '1980',
  hits,
  area: 'night',
})
const report: Paper = { ids: {}, headline: 'Lamps of the harbour, counted', when: '1999', hits: 0 }
const crowd = (i: number): Paper => ({
  ids: { doi: `10.5555/crowd.${i}` },
  headline: `Crowd ${i}`,
  when: '2020',
  hits: 0,
})

let down = 0
let asked: string[] = []
/** Answers of the index for a trail, in place of its own. */
let odd: Record<string, (cursor: string) => object> = {}
function neighbours(doi: string, way: string): Paper[] | undefined {
  const i = Number(/^10\.5555\/lit\.(\d+)$/.exec(doi)?.[1] ?? NaN)
  if (!(i < PAPERS)) return undefined
  return way === 'out'
    ? [paper((i + 1) % PAPERS), classic('book', 4000), classic('letter', 9), report]
    : [paper((i + PAPERS - 1) % PAPERS)]
}
const outside = express()
outside.get('/p/:doi/:way', (req, res) => {
  const { doi, way } = req.params
  const cursor = String(req.query.cursor ?? '')
  asked.push(`${doi} ${way} ${cursor}`)
  if (req.get('x-key') !== 'open sesame') return void res.status(401).end()
  if (down > 0 && asked.length > down) return void res.status(503).end()
  const answer = odd[`${doi} ${way}`]
  if (answer) return void res.json(answer(cursor))
  const all = neighbours(doi, way)
  if (!all) return void res.status(404).end()
  const from = Number(cursor || 0)
  res.json({
    sum: all.length,
    hits: all.slice(from, from + 3),
    ...(from + 3 < all.length ? { more: String(from + 3) } : {}),
  })
})
outside.get('/p/:doi', (req, res) => {
  asked.push(req.params.doi)
  const i = Number(/lit\.(\d+)$/.exec(req.params.doi)?.[1] ?? NaN)
  if (!(i < PAPERS)) return void res.status(404).end()
  res.json(paper(i))
})
outside.get('/areas/:field/:year', (req, res) => {
  asked.push(`area ${req.params.field} ${req.params.year}`)
  res.json({
    table: [
      { n: 0, w: 90 },
      { n: 3, w: '10' },
      { n: 'many', w: 1 },
    ],
  })
})

const fields = { title: '$.headline', date: '$.when', doi: '$.ids.doi', citedBy: '$.hits', field: '$.area' }
const trail = (way: string) => ({
  address: `http://lampyr.example/p/{doi}/${way}{?cursor}`,
  paging: { by: 'cursor', size: 3, next: '$.more' },
  records: '$.hits[*]',
  total: '$.sum',
  fields,
})
const index = readConnector({
  id: 'odd-index',
  name: 'Index of Quarters',
  perSecond: 100,
  headers: [{ name: 'x-key', value: '{key}' }],
  calls: {
    references: trail('out'),
    citedBy: trail('in'),
    counts: { address: 'http://lampyr.example/p/{doi}', records: '$', fields },
    peers: {
      address: 'http://lampyr.example/areas/{field}/{year}',
      tallies: '$.table[*]',
      citedBy: '$.n',
      works: '$.w',
    },
  },
})

let desk: Desk
let id: number
let at: string
const get = (path: string) => desk.get(at + path)
const post = (path: string, body: object, status?: number) => desk.post(at + path, body, status)
const graph = (): Promise<GraphAnswer> => get('/graph')

async function bring(bibtex: string): Promise<void> {
  const { body } = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .set('X-File-Name', 'list.bib')
    .send(Buffer.from(bibtex))
    .expect(202)
  await desk.finish(id, body.job)
}
const entry = (i: number, more = `doi={10.5555/lit.${i}}`) =>
  `@article{p${i}, title={Lit paths of quarter ${i}}, author={Sand, Ivo}, year={${2010 + i}}, ${more}}`
interface Line {
  id: number
  doi: string | null
  state: string
  title: string
  citedBy: number | null
}
const works = (): Promise<Line[]> => get('/works')
const workOf = async (doi: string) => (await works()).find(w => w.doi === doi)!.id
const keep = async (ids: number[], choice = 'keep') =>
  post('/decisions', {
    group: randomUUID(),
    decisions: ids.map(work => ({ id: randomUUID(), work, pass: 'abstract', choice })),
  })
const walk = async (body: object) => {
  const { job, round } = await post('/rounds', body, 202)
  return { round: round as number, ...(await desk.finish(id, job)) }
}
/** Who cites whom, by title, in order. */
const links = (g: GraphAnswer, titles: Map<number, string>) => {
  const name = (i: number) => {
    const n = g.nodes[i]!
    return n.pointer?.title ?? titles.get(n.work!)!
  }
  return g.citing.map((c, i) => `${name(c)} → ${name(g.cited[i]!)}`).sort()
}
const allLinks = async () => links(await graph(), new Map((await works()).map(w => [w.id, w.title])))

beforeAll(async () => {
  desk = await openDesk('trace', outside)
  desk.context.settings.outside.connectors.splice(0, Infinity, index)
  await keepKey(desk.context, 'odd-index', 'open sesame')
})
afterAll(() => desk.close())
beforeEach(async () => {
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await bring([0, 1, 2, 3].map(i => entry(i)).join('\n'))
  await keep((await works()).map(w => w.id))
  down = 0
  asked = []
  odd = {}
})

test('a round says what it asks, walks every trail once, and tells what it found', async () => {
  const plan: RoundPlan = await get('/rounds/plan?scope=kept')
  expect(plan).toMatchObject({ n: 1, origins: 4, trails: 8, withoutDoi: [], walked: 0 })
  const done = await walk({ scope: 'kept' })
  expect(done).toMatchObject({ state: 'done', result: { n: 1, trails: 8, of: 8, amiss: 0, stopped: false } })
  const g = await graph()
  expect(g.from).toBe('Index of Quarters')
  expect(g.rounds).toEqual([
    expect.objectContaining({ n: 1, scope: 'kept', trails: 8, left: 0, planned: plan.calls, calls: done.result.calls }),
  ])
  // quarters 4 and 7, two classics and the report are not in the pool
  expect(
    g.nodes
      .filter(n => n.pointer)
      .map(n => n.pointer!.title)
      .sort(),
  ).toEqual([
    'Lamps of the harbour, counted',
    'Lit paths of quarter 4',
    'Lit paths of quarter 7',
    'The book of dusk',
    'The letter of dusk',
  ])
  expect(g.rounds[0]).toMatchObject({ found: 9, fresh: 5 })
  expect(await allLinks()).toContain('Lit paths of quarter 0 → The letter of dusk')
  expect(g.citing).toHaveLength(4 * 4 + 1)
  expect(new Set(g.walks.map(w => w.day))).toEqual(new Set(['2026-10-05']))
  // the fields of what was kept, since the oldest work that three of them cite
  expect(g.fields.length).toBe(2026 - 1980 + 1)
  expect(g.fields[0]).toEqual({
    field: 'night',
    year: 1980,
    works: 100,
    counts: [
      [0, 90],
      [3, 10],
    ],
  })
  expect((await works()).map(w => w.citedBy)).toEqual([3, 3, 3, 3])
  expect((await get('')).numbers.trails).toBe(4)
  // nothing is left, and nobody is asked again
  asked = []
  expect(await get('/rounds/plan?scope=kept')).toMatchObject({ n: 2, origins: 0, trails: 0, calls: 0, walked: 8 })
  expect((await post('/rounds', { scope: 'kept' }, 422)).code).toBe('nothing-to-walk')
  await get('/graph')
  expect(asked).toEqual([])
  // but for who asks again: what is there stays as it was said first
  const again = await walk({ scope: 'kept', again: 'yes' })
  expect(again.result).toMatchObject({ n: 2, trails: 8 })
  expect((await graph()).rounds[1]).toMatchObject({ found: 9, fresh: 0 })
  expect((await graph()).citing).toHaveLength(17)
})

test('the graph is there for other programs, each citation once, and as a table without formulas', async () => {
  await bring('@article{f, title={=SUM(A1) & <moths>}, author={Sand, Ivo}, year={2011}, doi={10.5555/lit.90}}')
  await walk({ scope: 'kept' })
  const { nodes, citing, cited } = await graph()
  const { text } = await desk.owner
    .get(`${at}/graph.graphml`)
    .expect(200)
    .expect('Content-Type', /xml/)
    .buffer(true)
    .parse((res, done) => {
      let all = ''
      res.setEncoding('utf8')
      res.on('data', (d: string) => (all += d))
      res.on('end', () => done(null, all))
    })
    .then(res => ({ text: res.body as string }))
  const read = parse(DirectedGraph, text)
  expect([read.order, read.size]).toEqual([nodes.length, citing.length])
  const has = nodes.findIndex((_, i) => citing.includes(i))
  for (const [i, from] of citing.entries())
    if (from === has) expect(read.hasEdge(`n${nodes[from]!.id}`, `n${nodes[cited[i]!]!.id}`)).toBe(true)
  expect(read.nodes().some(n => read.getNodeAttribute(n, 'in the pool') === 'kept')).toBe(true)

  const csv = await desk.owner.get(`${at}/citations.csv`).expect(200).expect('Content-Type', /csv/)
  const { data } = Papa.parse<Record<string, string>>(csv.text, { header: true })
  expect(data).toHaveLength(citing.length)
  expect(new Set(data.map(d => d['said by']))).toEqual(new Set(['index']))
  expect(csv.text).not.toMatch(/(^|,)"?=/m)
})

test('how old what the kept works cite was is told of kept works alone, each citation once', async () => {
  await walk({ scope: 'kept' })
  const told = async () => {
    const { works, ages } = await get('/cited-ages')
    return { works, ages: new Map(ages as [number, number][]) }
  }
  const { nodes, citing, cited } = await graph()
  const states = new Map(((await get('/works')) as { id: number; state: string }[]).map(w => [w.id, w.state]))
  const kept = (k: number) => nodes[k]!.work !== null && states.get(nodes[k]!.work!) === 'kept'
  const wanted = new Map<number, number>()
  for (const [i, from] of citing.entries()) {
    const [a, b] = [nodes[from]!.year, nodes[cited[i]!]!.year]
    if (kept(from) && a !== null && b !== null) wanted.set(a - b, (wanted.get(a - b) ?? 0) + 1)
  }
  expect(wanted.size).toBeGreaterThan(0)
  const now = await told()
  expect(new Map([...now.ages].sort())).toEqual(new Map([...wanted].sort()))
  expect(now.works).toBeGreaterThan(0)
  // without a kept work nothing is told
  const other = await newInquiry(desk)
  expect(await desk.get(`/api/inquiries/${other}/cited-ages`)).toEqual({ works: 0, ages: [] })
})

test('a pointer that is brought keeps its links, is decided with it, and its trail is remembered', async () => {
  await walk({ scope: 'kept' })
  const before = await allLinks()
  const node = (await graph()).nodes.find(n => n.pointer?.title === 'The letter of dusk')!
  const bare = (await graph()).nodes.find(n => n.pointer?.title.startsWith('Lamps of the harbour'))!
  const group = randomUUID()
  const { stamp } = await graph()
  await keep([await workOf('10.5555/lit.0')])
  expect((await graph()).stamp).toBe(stamp)
  const added = await post('/pointers', { nodes: [node.id, bare.id], group, choice: 'keep' })
  expect(added).toMatchObject({ records: 2, newWorks: 2 })
  const now = await graph()
  const work = now.nodes.find(n => n.id === node.id)!.work!
  expect(now.stamp).not.toBe(stamp)
  expect(added.works).toContainEqual({ node: node.id, work })
  expect(now.nodes.find(n => n.id === bare.id)).toMatchObject({ pointer: null })
  expect((await works()).filter(w => w.state === 'kept')).toHaveLength(6)
  expect(await allLinks()).toEqual(before)
  // brought again, nothing is there twice, and it is decided all the same
  expect(await post('/pointers', { nodes: [node.id], choice: 'later' })).toMatchObject({ records: 0, newWorks: 0 })
  expect((await works()).find(w => w.id === work)!.state).toBe('later')
  const undo = (await get('/history')).find((d: { what: string; group: string }) => d.what === 'decision').group
  await post('/undo', { group: undo, id: randomUUID() })
  await post('/undo', { group, id: randomUUID() })
  expect((await works()).find(w => w.id === work)!.state).toBe('unread')
  const steps = await get(`/works/${work}/trail`)
  expect(steps.map((s: { title: string; direction: string }) => [s.title, s.direction])).toEqual([
    ['The letter of dusk', 'references'],
    [expect.stringMatching(/^Lit paths of quarter [0-3]$/), null],
  ])
  expect(steps[0]).toMatchObject({ round: 1, day: '2026-10-05' })
  expect((await post('/pointers', { nodes: [4_000_000_000] }, 422)).code).toBe('unknown-pointer')
})

test('a work is found by its record in the pool, not by one that a sweep met and nobody brought', async () => {
  const item = { id: 'x', type: 'article-journal', title: 'Lit paths of quarter 6', DOI: '10.5555/lit.6' }
  await desk.context.db.records.create({
    ...{ inquiryId: id, source: 'broadleaf', sourceKey: 'x', rawHash: 'x', raw: '', format: 'mods', item, facts: {} },
    workId: null,
  })
  await bring(entry(6))
  await keep([await workOf('10.5555/lit.6')])
  await walk({ scope: 'kept' })
  // quarter 5 is met as what cites quarter 6 alone
  const node = (await graph()).nodes.find(n => n.pointer?.title === 'Lit paths of quarter 5')!
  const { works: now } = await post('/pointers', { nodes: [node.id] })
  const steps = await get(`/works/${now[0].work}/trail`)
  expect(steps.map((s: { title: string; direction: string }) => [s.title, s.direction])).toEqual([
    ['Lit paths of quarter 5', 'cited-by'],
    ['Lit paths of quarter 6', null],
  ])
})

test('joins and splits of works carry links along, and one work under two DOIs is one', async () => {
  await walk({ scope: 'kept' })
  // the letter again, from elsewhere, under a DOI of its own
  const node = (await graph()).nodes.find(n => n.pointer?.title === 'The letter of dusk')!
  await post('/pointers', { nodes: [node.id] })
  await bring(
    '@article{l, title={The letter of dusk, reprinted}, author={Sand, Ivo}, year={1981}, doi={10.5555/lit.5}}',
  )
  await walk({ scope: 'work', of: await workOf('10.5555/lit.5') })
  const record = async (w: number) => (await get(`/works/${w}`)).records[0].id as number
  const [a, b] = [await workOf('10.5555/classic.letter'), await workOf('10.5555/lit.5')]
  const [ra, rb] = [await record(a), await record(b)]
  const nodesOf = async (w: number) => (await graph()).nodes.filter(n => n.work === w).length
  expect([await nodesOf(a), await nodesOf(b)]).toEqual([1, 1])
  const count = (await graph()).citing.length
  await post('/links', { a: ra, b: rb, verdict: 'same' })
  expect(await nodesOf(Math.min(a, b))).toBe(2)
  expect((await graph()).citing).toHaveLength(count)
  // its trails were walked, under whichever DOI
  expect(await get(`/rounds/plan?scope=work&of=${Math.min(a, b)}`)).toMatchObject({ trails: 0, walked: 2 })
  await post('/links', { a: ra, b: rb, verdict: 'never' })
  expect([await nodesOf(a), await nodesOf(b)]).toEqual([1, 1])
})

test('what is odd in an answer is told with the trail, and the others are walked', async () => {
  const page = (hits: object[], more: object = {}) => ({ sum: hits.length, hits, ...more })
  odd = {
    '10.5555/lit.0 out': () => page([classic('letter', 1)], { sum: 90, more: randomUUID() }),
    '10.5555/lit.0 in': cursor => {
      const from = Number(cursor || 0)
      return page(
        [0, 1, 2].map(i => crowd(from + i)),
        { sum: 12_000, more: String(from + 3) },
      )
    },
    '10.5555/lit.1 out': () => page([{ when: '1999' }, paper(2), paper(1), paper(2)]),
    '10.5555/lit.1 in': () => ({ sum: 7, hits: [paper(0)] }),
    '10.5555/lit.2 out': () => ({ nothing: 'of this shape' }),
  }
  await bring(entry(20))
  await keep([await workOf('10.5555/lit.20')])
  const done = await walk({ scope: 'kept', most: 2000 })
  expect(done).toMatchObject({ state: 'done', result: { trails: 10, amiss: 0 } })
  const g = await graph()
  const titles = new Map((await works()).map(w => [w.id, w.title]))
  const told = g.walks.map(w => [titles.get(g.nodes[w.node]!.work!)!.slice(-2), w.direction, w.total, w.got, w.trouble])
  expect(told.sort()).toEqual([
    [' 0', 'cited-by', 12_000, 500, null],
    [' 0', 'references', 90, 1, expect.stringMatching(/the same answer twice/)],
    [' 1', 'cited-by', 7, 1, expect.stringMatching(/counts 7 and gave 1/)],
    // cites itself, and one of them twice
    [' 1', 'references', 4, 2, expect.stringMatching(/1 of them could not be read/)],
    [' 2', 'cited-by', 1, 1, null],
    [' 2', 'references', 0, 0, null],
    [' 3', 'cited-by', 1, 1, null],
    [' 3', 'references', 4, 4, null],
    ['20', 'cited-by', 0, 0, expect.stringMatching(/does not know this work/)],
    ['20', 'references', 0, 0, expect.stringMatching(/does not know this work/)],
  ])
  expect((await allLinks()).filter(l => l === 'Lit paths of quarter 1 → Lit paths of quarter 1')).toEqual([])
})

test('a round stays within its calls, and goes on from there', async () => {
  const first = await walk({ scope: 'kept', most: 6 })
  expect(first.result).toMatchObject({ stopped: true, calls: expect.any(Number) })
  expect(Number(first.result.calls)).toBeLessThanOrEqual(8)
  const { left } = (await graph()).rounds[0]!
  expect(left).toBeGreaterThan(0)
  // what was begun was walked to its end
  expect((await graph()).walks.filter(w => w.trouble || w.got < w.total)).toEqual([])
  const { job } = await post(`/rounds/${first.round}/walk`, {}, 202)
  expect(await desk.finish(id, job)).toMatchObject({ state: 'done', result: { trails: 8, stopped: false } })
  expect((await graph()).rounds).toHaveLength(1)
  expect((await graph()).rounds[0]!.left).toBe(0)
})

test('an index that goes away in the middle takes nothing with it, and is gone on with', async () => {
  const whole = await newInquiryWalked()
  down = 8
  const broken = await walk({ scope: 'kept' })
  expect(broken).toMatchObject({ state: 'failed', error: expect.stringMatching(/What was walked before is kept/) })
  const half = (await graph()).rounds[0]!
  expect(half.left).toBeGreaterThan(0)
  expect(half.left).toBeLessThan(8)
  down = 0
  const { job } = await post(`/rounds/${broken.round}/walk`, {}, 202)
  expect((await desk.finish(id, job)).state).toBe('done')
  expect(await allLinks()).toEqual(whole)
})

test('a round too short to end by its index’s trouble says what it was', async () => {
  down = 1
  const done = await walk({ scope: 'work', of: await workOf('10.5555/lit.0') })
  expect(done).toMatchObject({
    state: 'done',
    result: { trails: 0, of: 2, amiss: 2, trouble: expect.stringContaining('out of service') },
  })
})

/** The links of the same works, walked without trouble in an inquiry of their own. */
async function newInquiryWalked(): Promise<string[]> {
  await walk({ scope: 'kept' })
  const whole = await allLinks()
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await bring([0, 1, 2, 3].map(i => entry(i)).join('\n'))
  await keep((await works()).map(w => w.id))
  asked = []
  return whole
}

test('a round whose process ends at any step is the same in the end', async () => {
  const whole = await newInquiryWalked()
  const row = await desk.context.db.inquiries.findOne({ where: { id }, raw: true })
  expect(row).toBeTruthy()
  // written down, and taken by nobody
  const { beginRound } = await import('../trace/rounds-service')
  const owner = await desk.context.db.memberships.findOne({ where: { inquiryId: id, role: 'owner' }, raw: true })
  const { job, round } = await desk.context.db.sequelize.transaction(async t => {
    const begun = await beginRound(
      desk.context,
      { inquiryId: id, userId: owner!.userId, day: '2026-10-05' },
      { scope: 'kept' },
      t,
    )
    await desk.context.db.jobs.update({ state: 'cancelled' }, { where: { id: begun.job }, transaction: t })
    return begun
  })
  const handle = async (steps: number) => {
    const jobRow = (await desk.context.db.jobs.findByPk(job, { raw: true }))!
    let n = 0
    return runRound(desk.context, {
      job: jobRow,
      signal: new AbortController().signal,
      progress: () => (n++ >= steps ? Promise.reject(new Error('killed')) : Promise.resolve()),
    })
  }
  for (const steps of [0, 1, 1, 2, 1]) await expect(handle(steps)).rejects.toThrow('killed')
  expect(await handle(99)).toMatchObject({ round, trails: 8, of: 8 })
  expect(await allLinks()).toEqual(whole)
})

test('works come and go while a round is walked: what was begun is walked, and asked works of now are told', async () => {
  await bring(entry(30, 'volume={3}'))
  const bare = (await works()).find(w => w.title.endsWith('30'))!.id
  await keep([bare])
  const strand = await post('/strands', { name: 'Paths' })
  await post('/marks', {
    group: randomUUID(),
    marks: [await workOf('10.5555/lit.1'), bare].map(work => ({
      id: randomUUID(),
      work,
      about: `strand:${strand.id}`,
      value: true,
    })),
  })
  expect(await get(`/rounds/plan?scope=strand&of=${strand.id}`)).toMatchObject({
    origins: 1,
    trails: 2,
    withoutDoi: [bare],
  })
  expect(await get(`/rounds/plan?scope=work&of=${bare}`)).toMatchObject({ n: null, origins: 0, withoutDoi: [bare] })
  expect((await post('/rounds', { scope: 'work', of: bare }, 422)).code).toBe('no-doi')
  const walking = walk({ scope: 'strand', of: strand.id })
  await keep([await workOf('10.5555/lit.1')], 'set aside')
  expect(await walking).toMatchObject({ state: 'done', result: { trails: 2 } })
  for (const path of ['/rounds/plan?scope=strand&of=99999', '/rounds/plan?scope=work&of=99999'])
    await desk.owner.get(at + path).expect(404)
})

test('who may look sees the graph and walks nothing', async () => {
  await walk({ scope: 'kept' })
  const user = await desk.context.db.users.findOne({ where: { email: 'reader@desk.example' }, raw: true })
  await desk.context.db.memberships.create({ inquiryId: id, userId: user!.id, role: 'reader' })
  const reader = await desk.signIn('reader@desk.example')
  expect((await reader.get(`${at}/graph`).expect(200)).body.nodes.length).toBeGreaterThan(4)
  await reader.get(`${at}/rounds/plan?scope=kept`).expect(200)
  for (const [path, body] of [
    ['/rounds', { scope: 'kept' }],
    ['/pointers', { nodes: [1] }],
  ] as const)
    await reader
      .post(at + path)
      .send(body)
      .expect(403)
  const stranger = await desk.signIn('stranger@desk.example')
  await stranger.get(`${at}/graph`).expect(404)
})
