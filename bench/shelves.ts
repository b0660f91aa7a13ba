/**
 * Whether what stands on shelves is found there, by the descriptions that other catalogues have of it: works of made-up
 * worlds, asked of the library's shelf catalogue as the server asks it.
 * npx tsx bench/shelves.ts [works of each sort and world]      SHOW=1 prints what went wrong
 */
import { once } from 'node:events'
import type { AddressInfo } from 'node:net'
import { shelfRoutes } from '../core/access/shelf'
import type { Item } from '../core/bib/item'
import type { WorldWork } from '../core/world/types'
import { WorldMaker } from '../demo/generate'
import { writeKbart } from '../demo/kbart'
import { readSettings } from '../server/base/settings'
import { outsideClient } from '../server/connect/http'
import { setLibraries } from '../server/library/libraries'
import { askShelves, shelvesOf } from '../server/library/shelves'
import { outsideWorld } from '../standins/app'
import { entered } from '../standins/records'
import { serveWorld } from '../standins/world'

const most = Number(process.argv[2] ?? 60)
const share = (n: number, of: number) => `${n} of ${of} (${of ? ((100 * n) / of).toFixed(1) : '–'}%)`
const told = new Map<string, { right: number; of: number }>()
const tell = (what: string, right: boolean, show: () => string): void => {
  const t = told.get(what) ?? { right: 0, of: 0 }
  told.set(what, { right: t.right + Number(right), of: t.of + 1 })
  if (!right && process.env.SHOW) console.log(what, show())
}
let asked = 0
let works = 0
let ms = 0

for (const seed of [31, 32, 33]) {
  const maker = new WorldMaker(seed, 6000)
  const all = [...maker].map(m => m.work)
  const world = serveWorld(all, maker.facts, writeKbart(seed, maker.facts.venues, all))
  const server = outsideWorld(world).listen(0, '127.0.0.1')
  await once(server, 'listening')
  const settings = readSettings({
    ...{ VINE_SECRET: 'for-benchmarks-only-for-benchmarks-only', DB_PASSWORD: 'none', DB_PORT: '1' },
    STANDINS_PORT: String((server.address() as AddressInfo).port),
  })
  const client = outsideClient(settings.outside)
  const counting: typeof client = (...given) => (asked++, client(...given))
  const c = { settings, outside: counting }
  const shelves = setLibraries({ settings }).map(shelvesOf).find(Boolean)!
  const library = { key: '', name: shelves.name }
  /** Where a work stands by the truth of the world. */
  const standsAt = (w: WorldWork): string | undefined => {
    const run = w.venue ? world.venues.get(w.venue)?.print : undefined
    if (run) {
      const [from = 9999, to = 0] = (run.microfilm ?? '').split('-').map(Number)
      const isThere = (run.from <= w.year && w.year <= (run.to ?? 9999)) || (from <= w.year && w.year <= to)
      return isThere ? run.call : undefined
    }
    return w.shelf && !w.shelf.ebook && (w.catalogues.shelf?.from ?? '9') <= world.day ? w.shelf.call : undefined
  }
  const step = Math.max(1, Math.floor(all.length / (most * 12)))
  const sorts: Record<string, (w: WorldWork) => boolean> = {
    'books, theses and reports that stand there': w => !w.venue && standsAt(w) !== undefined,
    'articles whose year stands there in print': w => Boolean(w.venue) && standsAt(w) !== undefined,
    'what does not stand there': w => standsAt(w) === undefined && w.form !== 'chapter' && w.date <= world.day,
  }
  for (const [sort, is] of Object.entries(sorts))
    for (const w of all.filter((x, i) => is(x) && (sort.startsWith('books') || i % step === 0)).slice(0, most)) {
      const key = Object.keys(w.catalogues).find(k => k !== 'shelf') ?? 'shelf'
      const how = w.catalogues[key]
      if (!how) continue
      // as another catalogue has it; of every second book the number is not known
      const item: Item = { ...entered({ id: w.id, from: how.from, how, work: w }) }
      if (works++ % 2) delete item.ISBN
      const began = performance.now()
      const answer = await askShelves(c, shelves, item, world.day)
      ms += performance.now() - began
      const calls = answer ? shelfRoutes(item, { ...answer, library }).routes.map(r => r.shelf!.call) : []
      const truth = standsAt(w)
      const right = truth === undefined ? !calls.length : calls.includes(truth) && calls.every(x => x === truth)
      tell(sort, right, () => JSON.stringify({ truth, calls, answer, item }))
    }
  server.close()
}

for (const [sort, t] of told) console.log(`${sort}: ${share(t.right, t.of)}`)
console.log(`askings a work: ${(asked / works).toFixed(1)}, ${(ms / works).toFixed(0)} ms on this machine`)
process.exit(0)
