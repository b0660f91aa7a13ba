import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { gunzipSync } from 'node:zlib'
import { QueryTypes } from 'sequelize'
import type { GraphAnswer } from '../../core/schema/api'
import { addUser } from '../accounts/accounts-service'
import { openDesk, PASSWORD, type Desk } from './desk'
import { fillLanguages } from '../migrations/migration-0052-languages'
import { forgetLibraries } from '../library/libraries'
import { shown } from './upgrade/laid'

/** A database as an earlier version left it, and what its pages showed. */
const at = (name: string) => gunzipSync(readFileSync(`server/test/upgrade/${name}.gz`)).toString()
const before = JSON.parse(at('at-0008.json')) as { id: number; pages: Record<string, Record<string, unknown>> }
let desk: Desk
let now: typeof before.pages

beforeAll(async () => {
  desk = await openDesk('upgrade', undefined, {}, undefined, ({ host, port, user, name, password }) =>
    execFileSync('mariadb', ['--no-defaults', `--host=${host}`, `--port=${port}`, `--user=${user}`, name], {
      input: at('at-0008.sql'),
      env: { ...process.env, MYSQL_PWD: password },
    }),
  )
  // libraries got no loans then, and a text that can be asked for is within reach by now
  for (const library of desk.context.settings.outside.libraries) delete library.office
  forgetLibraries(desk.context)
  now = (await shown(desk.owner, before.id)) as typeof now
  const rules = (of: typeof now) => of['/bibliography']!.rules as { rule: string }[]
  now['/bibliography']!.rules = rules(now).filter(r => rules(before.pages).some(b => b.rule === r.rule))
})
afterAll(() => desk.close())

interface Runs {
  runs: { toldAt?: unknown }[]
}
interface Told {
  what: string
  group: string | null
  undone: boolean
  first: { id: number } | null
  detail: Record<string, unknown>
}
/**
 * What a step that takes back took back was told and never shown; of a pair, how its links stood before was told too.
 */
const asTold = (d: Told): Told => ({
  ...d,
  detail:
    d.what === 'undo'
      ? {}
      : String(d.detail.about).startsWith('pair:')
        ? { ...d.detail, value: (d.detail.value as { verdict: string }).verdict }
        : d.detail,
})
/** Reach knows the library's holdings by now, before anybody looked, and the brief is asked for all of its rules. */
const forgetReach = (v: unknown): void => {
  if (!v || typeof v !== 'object') return
  const of = v as Record<string, unknown>
  if (of.reach === 'not looked up') delete of.reach
  Object.values(of).forEach(forgetReach)
}
forgetReach(before.pages)
delete (before.pages['']!.numbers as Record<string, unknown>).rules
// one library became a list of them
before.pages['']!.libraries = [
  {
    ...{ key: 'home', name: before.pages['']!.library, resolver: 'http://resolver.halverane.example/openurl' },
    contact: 'help@halverane.example',
  },
]
delete before.pages['']!.library
// the styles to choose from are asked for by their words
delete before.pages['']!.styles
delete before.pages['/bibliography']!.styles
// sweeps do not tell any more to what they belong, which their address says
for (const s of before.pages['/sweeps'] as unknown as { inquiryId?: number; catalogues: { sweepId?: number }[] }[]) {
  delete s.inquiryId
  for (const of of s.catalogues) delete of.sweepId
}
// of a run of what stands it is not told any more when its letter went out
for (const s of Object.values(before.pages['/standing']!)) for (const run of (s as Runs).runs) delete run.toldAt
/** Trails, which a work told of and the graph tells of now. */
const trails: { work: number; direction: string; total: number }[] = []
for (const [page, its] of Object.entries(before.pages)) {
  for (const t of (its.trails ?? []) as { direction: string; total: number }[])
    trails.push({ work: its.id as number, ...t })
  delete its.trails
  if (page === '/history') before.pages[page] = (its as unknown as Told[]).map(asTold) as never
  if (its.history) its.history = (its.history as Told[]).map(asTold)
  // how sure the judgement of a kind is, is told by the weights of now; the kind itself stands
  const judged = its.judged as { confidence?: number } | undefined
  if (judged) delete judged.confidence
}

/** What is compared: all that was shown, without what later versions add. */
function known(then: unknown, is: unknown): unknown {
  if (Array.isArray(then) && Array.isArray(is)) return is.map((x, i) => (i < then.length ? known(then[i], x) : x))
  if (then && is && typeof then === 'object' && typeof is === 'object')
    return Object.fromEntries(
      Object.keys(then).map(k => [k, known((then as Record<string, unknown>)[k], (is as Record<string, unknown>)[k])]),
    )
  return is
}

test.each(Object.keys(before.pages))('%s shows after the upgrade what it showed before', page => {
  expect(known(before.pages[page], now[page])).toEqual(before.pages[page])
})

test('trails that were walked are in the graph, with their neighbours as nodes, and are looks at one work', async () => {
  const owner = await desk.signIn('owner@desk.example')
  const { body } = await owner.get(`/api/inquiries/${before.id}/graph`).expect(200)
  const graph = body as GraphAnswer
  expect(trails.length).toBeGreaterThan(0)
  expect(graph.walks.map(w => ({ work: graph.nodes[w.node]!.work, direction: w.direction, total: w.total }))).toEqual(
    trails,
  )
  for (const w of graph.walks) {
    const ends = w.direction === 'references' ? graph.citing : graph.cited
    expect(ends.filter(e => e === w.node)).toHaveLength(w.got)
  }
  expect(graph.rounds.map(r => [r.n, r.scope, r.left])).toEqual(trails.map(() => [null, 'work', 0]))
})

test('works whose language no source says are told by their words, and those that say it are left', async () => {
  const { db } = desk.context
  const [first, second] = await db.works.findAll({ order: ['id'], limit: 2, raw: true })
  const abstract =
    'Wir haben gezählt, was in sechs Wochen an zwölf Laternen einer Hafenstadt kam, und was in dieser Zeit nicht kam.'
  const { language: _, ...item } = first!.item
  await db.works.update(
    { item: { ...item, title: 'Nachtfalter', abstract }, line: { ...first!.line, language: null } },
    { where: { id: first!.id } },
  )
  const said = { ...second!.item, language: 'fr', abstract }
  await db.works.update({ item: said, line: { ...second!.line, language: 'fr' } }, { where: { id: second!.id } })
  await fillLanguages(db.sequelize)
  const [a, b] = await db.works.findAll({ order: ['id'], limit: 2, raw: true })
  expect([a!.line.language, a!.facts.languageTold, a!.facts.genre]).toEqual(['de', 'de', first!.facts.genre])
  expect([b!.line.language, b!.facts.languageTold]).toEqual(['fr', undefined])
})

test('work goes on: what was decided before can be taken back, and a step is written after those of before', async () => {
  await addUser(desk.context, 'later@desk.example', 'Later', PASSWORD)
  const owner = await desk.signIn('owner@desk.example')
  const decided = (now['/history'] as unknown as Told[]).find(d => d.what === 'decision' && d.group && !d.undone)!
  const { body } = await owner
    .post(`/api/inquiries/${before.id}/undo`)
    .send({ group: decided.group, id: crypto.randomUUID() })
    .expect(201)
  expect(body.works).toContain(decided.first!.id)
})

test('models are the tables as they are: every column of a model is there, and every column has its model', async () => {
  const { db } = desk.context
  const columns = await db.sequelize.query<{ t: string; c: string }>(
    `SELECT table_name AS t, column_name AS c FROM information_schema.columns WHERE table_schema = DATABASE()`,
    { type: QueryTypes.SELECT },
  )
  // written and read by statements of their own, which are tested with what they do
  const own = new Set([
    'blobs',
    'blob_chunks',
    'clock',
    'counts',
    'gate_files',
    'gate_sessions',
    'holdings_files',
    'holding_lines',
    'holding_keys',
    'repositories',
    'repository_records',
    'connector_keys',
    'connector_days',
    'desk_days',
    'moved_rows',
    'tries',
  ])
  const there = columns.filter(x => !own.has(x.t)).map(x => `${x.t}.${x.c}`)
  const modelled = Object.values(db.sequelize.models).flatMap(m =>
    Object.values(m.getAttributes()).map(a => `${String(m.getTableName())}.${String(a.field)}`),
  )
  expect(modelled.filter(x => !there.includes(x))).toEqual([])
  expect(there.filter(x => !modelled.includes(x))).toEqual([])
})
