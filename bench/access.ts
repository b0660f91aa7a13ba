/**
 * Whether lawful ways to texts are found, and what they promise comes: works of made-up worlds, their ways by the
 * home library's files and by deposits, each walked at the stand-ins as the server does, each file proved by its text.
 * npx tsx bench/access.ts [works of each world]      SHOW=1 prints what did not come
 */
import { setLibraries } from '../server/library/libraries'
import type { Settings } from '../server/base/settings'
import { once } from 'node:events'
import type { AddressInfo } from 'node:net'
import { plainHost } from '../core/access/links'
import { linesFor } from '../core/access/coverage'
import { afterWalk, findRoutes, isFetchable, type OpenCopy } from '../core/access/routes'
import { walk, type Ended } from '../core/access/walk'
import { readKbart } from '../core/formats/kbart'
import { proveCopy, type Outcome } from '../core/match/proof'
import { proofPages } from '../core/pdftext/read-text'
import { mayRead } from '../core/world/licence'
import type { WorldWork } from '../core/world/types'
import { WorldMaker } from '../demo/generate'
import { writeKbart } from '../demo/kbart'
import { readSettings } from '../server/base/settings'
import { tasks } from '../server/child/tasks'
import { outsideClient } from '../server/connect/http'
import { asker } from '../server/obtain/walks'
import { outsideWorld } from '../standins/app'
import { CARD } from '../standins/gate'
import { lot, serveWorld, type ServedWorld } from '../standins/world'

const most = Number(process.argv[2] ?? 60)
const share = (n: number, of: number) => `${n} of ${of} (${of ? ((100 * n) / of).toFixed(1) : '–'}%)`

/** Whether somebody with this library's card may lawfully read a work's text today, and from where. */
function lawful(world: ServedWorld, w: WorldWork): boolean {
  const venue = w.venue ? world.venues.get(w.venue) : undefined
  const free = venue?.openFrom !== undefined && w.year >= venue.openFrom
  const paid = venue ? mayRead(venue, w.date, world.day) : Boolean(w.shelf?.ebook)
  return Boolean(w.host && (free || paid)) || w.deposits.some(d => !d.embargoUntil || d.embargoUntil <= world.day)
}

const told = {
  ...{
    works: 0,
    lawful: 0,
    found: 0,
    promised: 0,
    came: 0,
    wrong: 0,
    doubtful: 0,
    asked: 0,
    walks: 0,
    print: 0,
    shelved: 0,
  },
  ends: new Map<Ended, number>(),
}
for (const seed of [21, 22, 23]) {
  const maker = new WorldMaker(seed, 6000)
  const works = [...maker].map(m => m.work)
  const world = serveWorld(works, maker.facts, writeKbart(seed, maker.facts.venues, works))
  const server = outsideWorld(world).listen(0, '127.0.0.1')
  await once(server, 'listening')
  const { outside } = readSettings({
    ...{ VINE_SECRET: 'for-benchmarks-only-for-benchmarks-only', DB_PASSWORD: 'none', DB_PORT: '1' },
    STANDINS_PORT: String((server.address() as AddressInfo).port),
  })
  const client = outsideClient(outside)
  const [home] = setLibraries({ settings: { outside } as Settings })
  const gated = { ...home!, gate: home!.gate! }
  const signedIn = await client(gated.gate.signIn, {
    ...{ method: 'POST' as const, hops: 0 },
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
    body: new URLSearchParams({ ...CARD, terms: 'accepted', then: '' }).toString(),
  })
  const cookie = [signedIn.headers['set-cookie'] ?? []]
    .flat()
    .map(s => s.split(';')[0])
    .join('; ')
  /** The card's files of a day begin anew. */
  const morning = () => client('http://control.example/reset', { method: 'POST' })
  const holdings = [...world.kbart.values()].flatMap(t => readKbart(t).holdings)
  const readable = works.filter(w => w.date <= world.day && (w.host || w.deposits.length || w.shelf))
  const step = readable.length / most
  for (let i = 0; i < most; i++) {
    const w = readable[Math.floor(i * step)]!
    const item = { ...w.item, id: w.id }
    const library = {
      key: 'home',
      name: 'Halverane Library',
      door: 'gate' as const,
      holdings: linesFor(item, holdings),
    }
    const open = w.deposits.map((d): OpenCopy => ({
      url: `http://fennmark.example/deposit/${d.id}.pdf`,
      version: d.version,
      from: 'Fennmark',
      ...(d.embargoUntil ? { embargoUntil: d.embargoUntil } : {}),
    }))
    const shelf = w.shelf && !w.shelf.ebook ? [{ branch: w.shelf.branch, call: w.shelf.call }] : undefined
    const answer = findRoutes(item, shelf ? { shelf } : {}, {
      ...{ libraries: [library], open, today: world.day, due: '9999-12-31', resolver: outside.resolver },
    })
    let { routes } = answer
    told.works++
    if (shelf) told.shelved++
    if (shelf && routes.some(r => r.way === 'shelf')) told.print++
    const may = lawful(world, w)
    if (may) told.lawful++
    const usable = () => routes.filter(r => isFetchable(r, world.day))
    if (may && usable().length) told.found++
    else if (may && process.env.SHOW)
      console.log(`no way for ${w.id} ${item.type} ${w.host} ${w.date}: ${answer.closed.join(' ')}`)
    const promised = usable().some(r => r.likely >= 0.9)
    if (promised) told.promised++
    let came = false
    let last: Outcome | undefined
    const ends: string[] = []
    const done = new Set<string>()
    const refused = new Set<string>()
    for (let next = usable()[0]; next && !came; next = usable().find(r => !done.has(r.url!))) {
      done.add(next.url!)
      const accepted = new Set<string>()
      for (let again = true; again;) {
        again = false
        await morning()
        const through = next.way === 'gate' ? { library: gated, cookie } : undefined
        const get = asker({ outside: client, settings: { outside } }, through, AbortSignal.timeout(60_000))
        const walked = await walk({
          ...{
            item,
            start: next.url!,
            accepted,
            refused,
            thisYear: Number(world.day.slice(0, 4)),
            called: (h: string) => plainHost(h, gated.gate),
          },
          get: async asked => {
            told.asked++
            return get(asked)
          },
          ...(through ? { signIn: gated.gate.signIn } : {}),
          take: async bytes => {
            try {
              const { outcome, evidence } = proveCopy(item, proofPages(await tasks.pdf(Buffer.from(bytes))))
              return { taken: (last = outcome) !== 'not this work', said: evidence.map(e => e.said).join(' ') }
            } catch (e) {
              return { taken: false, said: String(e) }
            }
          },
        })
        told.walks++
        told.ends.set(walked.ended, (told.ends.get(walked.ended) ?? 0) + 1)
        ends.push(`${next.way} ${next.url}: ${walked.ended}, ${walked.said}`)
        if (walked.ended === 'terms') {
          accepted.add(walked.terms!.host)
          again = true
          continue
        }
        if (walked.ended === 'taken') {
          came = true
          if (last === 'doubtful') told.doubtful++
          else if (next.way === 'gate' && lot(w.id, 'neighbour', 40) < 1) told.wrong++
        }
        const { ended, said, on } = walked
        routes = afterWalk(routes, next.url!, { ended, said, on, day: world.day })
      }
    }
    if (promised && came) told.came++
    if (process.env.SHOW && promised && !came)
      console.log(
        `${w.id} ${item.type} ${w.host ?? ''} ${w.date} ${may ? 'lawful' : 'not paid'}\n  ${ends.join('\n  ')}`,
      )
  }
  server.close()
  server.closeAllConnections()
}
console.log(`works ${told.works}, of which some way is lawful for ${told.lawful}`)
console.log(`a way found: ${share(told.found, told.lawful)}; call numbers shown: ${share(told.print, told.shelved)}`)
console.log(
  `promised and came: ${share(told.came, told.promised)}; to be looked at by the student ${told.doubtful}, wrong ones taken for it ${told.wrong}`,
)
console.log(
  `walks ${told.walks}, askings a walk ${(told.asked / told.walks).toFixed(1)}; ends: ${[...told.ends].map(([e, n]) => `${e} ${n}`).join(', ')}`,
)
process.exit(0)
