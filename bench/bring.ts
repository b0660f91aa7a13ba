/**
 * Bringing one more record into a large pool: its time, and that of the database; beside it the floor of the same
 * run, one row written and committed. npx tsx bench/bring.ts [records, 100000]
 */
import { seeded } from '../core/world/random'
import { bringIn } from '../server/imports/import-job'
import { change } from '../server/db/revision'
import { USUAL } from '../core/write/plan'
import { linesPage } from '../server/pool/lines'
import { ownContext } from './database'

const SIZE = Number(process.argv[2] ?? 100_000)
const BATCH = 5000
const ONE = 200
/** Milliseconds that statements took, of whatever connection, and by what they are. */
let inDatabase = 0
const by = new Map<string, number>()
const { context, close } = await ownContext((statement, ms) => {
  inDatabase += ms
  const kind = statement
    .replace(/^Executed \([^)]*\): /, '')
    .replace(/\s+/g, ' ')
    .slice(0, 90)
  by.set(kind, (by.get(kind) ?? 0) + ms)
})
const { db } = context
const user = await db.users.create({ email: 'a@desk.example', name: 'A', passwordHash: 'x' })
const inquiry = await db.inquiries.create({
  title: 'T',
  question: 'Q',
  due: '2026-10-29',
  zone: 'UTC',
  style: 'apa',
  rules: { entriesWanted: 1 },
  query: '',
})

const random = seeded(3)
const pick = (list: string[]) => list[Math.floor(random() * list.length)]!
const WORDS =
  'amber bats beetles bridges broad canals cold counts dim dusk early faint fields gardens grey harbours hedges inner lamps lanes late lights meadows moths narrow nights open orchards owls pale quarries quiet rivers roads rough slow streets towers upper warm winters yards'.split(
    ' ',
  )
const NAMES = 'Okafor Ruiz Bee Moro Lindqvist Anwar Castel Dvor Ekwu Farrow Haddon Imber'.split(' ')
let made = 0
function entry(): Parameters<typeof bringIn>[3][number] {
  const n = made++
  const title = Array.from({ length: 8 }, () => pick(WORDS)).join(' ')
  const item = {
    id: `r${n}`,
    type: 'article-journal',
    title,
    author: [{ family: pick(NAMES), given: 'Ada' }],
    issued: { 'date-parts': [[1970 + Math.floor(random() * 55)]] },
    'container-title': `Papers of ${pick(WORDS)} ${pick(WORDS)}`,
    volume: String(1 + Math.floor(random() * 60)),
    page: `${1 + Math.floor(random() * 400)}-${420}`,
    DOI: `10.5555/bring.${n}`,
    abstract: `We counted ${pick(WORDS)} among ${pick(WORDS)}. `.repeat(15),
  }
  return { item, facts: {}, raw: JSON.stringify(item), line: n, format: 'CSL-JSON' }
}
/** A file of so many entries, as the job brings it in. */
let files = 0
async function bring(n: number): Promise<void> {
  const report = { format: null, read: 0, newWorks: 0, mended: [], refused: [] }
  await bringIn(
    context,
    { id: ++files, inquiryId: inquiry.id },
    user.id,
    Array.from({ length: n }, entry),
    report,
    new AbortController().signal,
    async () => undefined,
  )
}
const began = performance.now()
for (let n = 0; n < SIZE; n += BATCH) await bring(Math.min(BATCH, SIZE - n))
console.log(
  `${SIZE} records brought in, ${BATCH} at a time: ${((performance.now() - began) / SIZE).toFixed(2)} ms a record`,
)

const median = (list: number[]) => list.sort((a, b) => a - b)[list.length >> 1]!.toFixed(1)
const p95 = (list: number[]) => list.sort((a, b) => a - b)[Math.floor(list.length * 0.95)]!.toFixed(1)
const all: number[] = []
const statements: number[] = []
const floor: number[] = []
by.clear()
for (let i = 0; i < ONE; i++) {
  inDatabase = 0
  const at = performance.now()
  await bring(1)
  all.push(performance.now() - at)
  statements.push(inDatabase)
  const f = performance.now()
  await change(context, inquiry.id, t =>
    db.arrivals.create(
      { inquiryId: inquiry.id, userId: user.id, how: 'file', records: 0, newWorks: 0, known: 0 },
      { transaction: t },
    ),
  )
  floor.push(performance.now() - f)
}
console.log(
  `one record more: median ${median(all)} ms, p95 ${p95(all)} ms; of it the database ${median(statements)} ms, p95 ${p95(statements)} ms`,
)
for (const [kind, ms] of [...by].sort((a, b) => b[1] - a[1]).slice(0, 8))
  console.log(`  ${(ms / ONE).toFixed(2)} ms  ${kind}`)
console.log(`floor, one row written and committed: median ${median(floor)} ms`)
const pages: number[] = []
for (let after: number | null = 0; after !== null;) {
  const at = performance.now()
  const page: { next: number | null } = await linesPage(
    context,
    { inquiryId: inquiry.id, userId: 1, day: '2026-10-05', due: null, rhythm: USUAL },
    { after },
  )
  pages.push(performance.now() - at)
  after = page.next
}
console.log(
  `all its lines: ${pages.length} pages, ${(pages.reduce((a, b) => a + b, 0) / 1000).toFixed(2)} s; a page median ${median(pages)} ms`,
)
await close()
process.exit(0)
