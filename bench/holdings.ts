/**
 * A library's holdings file of 200,000 lines and 60 MB: how long it is read into rows, what memory that takes beside the
 * file, whether requests wait meanwhile, and what a list of 5,000 works asks of it.
 * npx tsx bench/holdings.ts [lines]
 */
import { monitorEventLoopDelay } from 'node:perf_hooks'
import { readKbart } from '../core/formats/kbart'
import { storeBlob } from '../server/db/blobs'
import { profilesFor, refreshHoldings } from '../server/library/holdings'
import { setLibraries } from '../server/library/libraries'
import { keepFile } from '../server/library/holdings-model'
import { ownContext } from './database'

const LINES = Number(process.argv[2] ?? 200_000)
const { context, close } = await ownContext()

/** An ISSN with its check digit, by number. */
function issn(n: number): string {
  const seven = String(n).padStart(7, '0')
  const check = (11 - ([...seven].reduce((sum, d, i) => sum + Number(d) * (8 - i), 0) % 11)) % 11
  return `${seven.slice(0, 4)}-${seven.slice(4)}${check === 10 ? 'X' : check}`
}
const head =
  'publication_title\tprint_identifier\tonline_identifier\tdate_first_issue_online\tnum_first_vol_online\tdate_last_issue_online\ttitle_url\tembargo_info\tcoverage_depth\tpublisher_name\tnotes'
const padding = 'a note on the licence of the package and on who may use it, as vendors add to every line '.repeat(2)
const text = [
  head,
  ...Array.from(
    { length: LINES },
    (_, i) =>
      `Annals of Lamp Studies ${i}\t${issn(i)}\t\t1998-01-01\t1\t\thttp://p.example/title/${i}\tP1Y\tfulltext\tLantern\t${padding}`,
  ),
].join('\n')
const bytes = Buffer.from(text)
console.log(`${LINES} lines, ${(bytes.length / 1e6).toFixed(0)} MB`)

let at = performance.now()
readKbart(text)
console.log(`the reader alone, in one: ${((performance.now() - at) / 1000).toFixed(1)} s`)

const library = { ...setLibraries(context)[0]!, holdings: [{ name: '', address: 'http://library.example/all.tsv' }] }
context.settings.outside.libraries[0]!.holdings = library.holdings
await context.db.sequelize.transaction(async t =>
  keepFile(context.db, library.holdings[0]!.address, await storeBlob(context.db, bytes, 'text/plain', t), t),
)
const before = process.memoryUsage().rss
let most = before
const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 50)
const delay = monitorEventLoopDelay({ resolution: 5 })
delay.enable()
at = performance.now()
await refreshHoldings(context, [library])
delay.disable()
clearInterval(watch)
console.log(
  `read into rows: ${((performance.now() - at) / 1000).toFixed(1)} s; memory +${((most - before) / 1e6).toFixed(0)} MB at most (process ${(most / 1e6).toFixed(0)} MB); the loop waited ${(delay.percentile(99) / 1e6).toFixed(0)} ms (99%), ${(delay.max / 1e6).toFixed(0)} ms at most`,
)
at = performance.now()
await refreshHoldings(context, [library])
console.log(`asked again, nothing new: ${(performance.now() - at).toFixed(0)} ms`)
/** No inquiry: the libraries of the settings are asked. */
const NOBODYS = 0
const items = Array.from({ length: 5000 }, (_, i) => ({ ISSN: issn((i * 37) % LINES) }))
await profilesFor(context, NOBODYS, items.slice(0, 1))
for (const n of [1, 100, 5000]) {
  at = performance.now()
  const [profile] = await profilesFor(context, NOBODYS, items.slice(0, n))
  console.log(`${n} works: ${(performance.now() - at).toFixed(0)} ms, ${profile!.holdings.length} lines`)
}
await close()
process.exit(0)
