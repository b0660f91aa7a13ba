/**
 * How the database answers the commonest statements: a student's round in a pool of many works, each statement counted,
 * and the plan of the commonest asked for. Writes docs/plans.md. npx tsx bench/plans.ts [works, 20000]
 */
import { randomUUID } from 'node:crypto'
import { writeFileSync } from 'node:fs'
import { format, resolveConfig } from 'prettier'
import { QueryTypes } from 'sequelize'
import { WorldMaker } from '../demo/generate'
import { newInquiry, openDesk } from '../server/test/desk'
import { smallOutside } from '../server/test/small-world'
import { ownDatabase } from './database'

const WORKS = Number(process.argv[2] ?? 20_000)
const COMMONEST = 20
const { port, password, socket, stop } = await ownDatabase()
Object.assign(process.env, { TEST_DB_PORT: String(port), TEST_DB_PASSWORD: password, TEST_DB_SOCKET: socket })

interface Said {
  /** The statement with its values left out. */
  kind: string
  /** One as it was sent. */
  sample: string
  times: number
  ms: number
  worst: number
}
const said = new Map<string, Said>()
let listening = false
const kindOf = (sql: string): string =>
  sql
    .replace(/\s+/g, ' ')
    .replace(/'(?:[^'\\]|\\.|'')*'/g, '?')
    .replace(/\b\d+(\.\d+)?\b/g, '?')
    .replace(/\(\?(?:, ?\?)*\)/g, '(…)')
    .replace(/(\(…\))(?:, ?\(…\))+/g, '$1 …')
const desk = await openDesk('plans', smallOutside(), { VINE_CHECK_ANSWERS: '0' }, (statement, ms) => {
  if (!listening) return
  const sql = statement.replace(/^Executed \([^)]*\): /, '')
  if (/^(START|COMMIT|BEGIN|SET |ROLLBACK)/.test(sql)) return
  const kind = kindOf(sql)
  const of = said.get(kind) ?? { kind, sample: sql, times: 0, ms: 0, worst: 0 }
  // the longest says most: a list of one thing is asked for otherwise than one of sixty
  if (sql.length > of.sample.length) of.sample = sql
  said.set(kind, { ...of, times: of.times + 1, ms: of.ms + ms, worst: Math.max(of.worst, ms) })
})
const id = await newInquiry(desk)
const at = `/api/inquiries/${id}`
const bytes = async (entries: object[]) => {
  const { body } = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .send(Buffer.from(JSON.stringify(entries)))
    .expect(202)
  await desk.finish(id, (body as { job: number }).job)
}
let entries: object[] = []
for (const { work } of new WorldMaker(33, WORKS)) {
  entries.push({ ...work.item, id: work.id })
  if (entries.length === 4000) {
    await bytes(entries)
    entries = []
  }
}
if (entries.length) await bytes(entries)
await desk.context.db.sequelize.query('ANALYZE TABLE records, works, blocks, deeds, pair_links, sweep_hits, jobs')
const get = async <T>(path: string) => (await desk.owner.get(at + path).expect(200)).body as T
const post = (path: string, body: object) =>
  desk.owner
    .post(at + path)
    .set('Idempotency-Key', randomUUID())
    .send(body)
const works = (await get<{ id: number }[]>('/works')).map(w => w.id)
console.log(`${works.length} works`)

listening = true
let { revision, day } = await get<{ revision: number; day: string }>('/works/changes')
const later = async () => {
  ;({ revision, day } = await get<{ revision: number; day: string }>(
    `/works/changes?since=${revision}&day=${encodeURIComponent(day)}`,
  ))
  await get('')
}
const { body: sweep } = await post('/sweeps', { query: 'moth* and light*', catalogues: ['broadleaf', 'lampyr'] })
await desk.finish(id, (sweep as { job: number }).job)
await later()
for (let i = 0; i < 60; i++) {
  const group = randomUUID()
  const some = i % 20 ? [works[i * 7]!] : works.slice(i * 7, i * 7 + 60)
  const choice = i % 3 ? 'set aside' : 'keep'
  await post('/decisions', { group, decisions: some.map(work => ({ id: randomUUID(), work, pass: 'title', choice })) })
  if (i % 10 === 0) await post('/undo', { group, id: randomUUID() })
  if (i % 4 === 0) await get(`/works/${works[i * 7 + 1]!}`)
  if (i % 6 === 0)
    await post('/marks', {
      group: randomUUID(),
      marks: [{ id: randomUUID(), work: works[i], about: 'tag:lamps', value: true }],
    })
  await later()
}
for (const path of [
  '/works/changes',
  '/history',
  '/twins',
  '/flow',
  '/arrivals',
  '/strands',
  '/bibliography',
  '/routes',
  '/jobs',
  '/sweeps',
  '/imports',
  `/sweeps/${(sweep as { id: number }).id}/records`,
])
  // prettier-ignore
  await get(path)
await post('/decisions', {
  group: randomUUID(),
  decisions: works.slice(0, 5).map(work => ({ id: randomUUID(), work, pass: 'full text', choice: 'keep' })),
})
for (const work of works.slice(0, 5)) {
  const { body } = await post('/entries', { work })
  for (let v = 1; v < 4; v++)
    await desk.owner
      .patch(`${at}/entries/${(body as { id: number }).id}`)
      .set('Idempotency-Key', randomUUID())
      .set('If-Match', `"${v}"`)
      .send({ annotation: `We counted ${v}.` })
      .expect(200)
  await later()
}
await bytes([{ id: 'one', type: 'book', title: 'One more about lamps and moths', issued: { 'date-parts': [[2020]] } }])
listening = false

interface Step {
  table: string | null
  type: string | null
  key: string | null
  rows: number | null
  Extra: string | null
}
/** What is bound to a statement is not told with it: a column stays as it is, and any number is looked for. */
const filled = (sql: string): string => {
  const where = sql.indexOf(' WHERE ')
  const at = where < 0 ? sql.length : where
  return sql.slice(0, at).replace(/(`\w+`) ?= ?\?/g, '$1=$1') + sql.slice(at).replace(/= ?\?/g, '= 1')
}
const commonest = [...said.values()].sort((a, b) => b.times - a.times)
/** Which tables, how they are entered, by which key, and how many rows are expected. */
async function planOf(s: Said): Promise<string> {
  if (/^(INSERT|SHOW)/.test(s.kind)) return 'adds rows'
  const steps = await desk.context.db.sequelize.query<Step>(`EXPLAIN ${filled(s.sample)}`, { type: QueryTypes.SELECT })
  return steps
    .map(p =>
      p.table
        ? `${p.table}: ${p.type === 'ALL' ? '**all rows**' : p.type}${p.key ? ` by ${p.key}` : ''}, ${p.rows ?? 0}`
        : (p.Extra ?? '').toLowerCase(),
    ) // prettier-ignore
    .join('; ')
    .replaceAll('|', ' and ')
}
const row = async (s: Said): Promise<string> =>
  `| ${s.times} | ${(s.ms / s.times).toFixed(1)} | ${s.worst.toFixed(0)} | ${s.kind.length > 150 ? `${s.kind.slice(0, 150)} …` : s.kind} | ${await planOf(s)} |`
const asked = commonest.filter(x => !/^(INSERT|SHOW)/.test(x.kind)).slice(0, COMMONEST)
const lines: string[] = []
for (const s of asked) lines.push(await row(s))
const slow: string[] = []
for (const s of commonest.filter(x => x.worst > 50)) slow.push(await row(s))
const head = '| times | ms, mean | ms, worst | statement | plan |\n| --: | --: | --: | --- | --- |'
const page = `# How the database answers

Written by \`npx tsx bench/plans.ts\`: a student's round in a pool of ${works.length.toLocaleString('en')} works (sweep, file, decisions, marks,
undo, lists, annotations), its statements counted, and the plans of the ${COMMONEST} commonest that ask or change (an INSERT has none). A
step says the table, how it is entered, by which key, and how many rows the database expects to read. Milliseconds are
those of the process that asks, its own work meanwhile and 5,000 lines of one answer included.

${head}
${lines.join('\n')}

## Slower than 50 ms

${slow.length ? `${head}\n${slow.join('\n')}` : 'None.'}
`
writeFileSync('docs/plans.md', await format(page, { parser: 'markdown', ...(await resolveConfig('docs/plans.md')) }))
console.log(`${commonest.length} kinds of statements; docs/plans.md is written; slower than 50 ms: ${slow.length}`)
await desk.close()
await stop()
process.exit(0)
