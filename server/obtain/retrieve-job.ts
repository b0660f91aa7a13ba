import { isSureToday } from '../../core/access/partners'
import { byNeed } from '../../core/access/awaited'
import { CLOSED, isFetchable, withLoans, type Route } from '../../core/access/routes'
import { isDone, TOLD_FIRST, type Fetched } from '../../core/access/fetched'
import type { Ended } from '../../core/access/walk'
import { plainTitle } from '../../core/bib/clean'
import type { Context } from '../base/context'
import { heirsOf } from '../deeds/family'
import { deskDay } from '../db/desk-day'
import type { JobRow } from '../jobs/jobs-model'
import { enqueue, type JobHandle } from '../jobs/queue'
import { forget, gateCookie, gatedOf, mayFetchMore, type Gated } from '../library/gate-service'
import { librariesOf } from '../library/libraries'
import { readable } from '../copies/copy-rights'
import { offersFor } from '../library/offices'
import type { WorkRow } from '../pool/pool-model'
import { rhythmOf } from '../sessions/member'
import { awaitTomorrow, keepAwaited, tellAwaited } from './awaited'
import { stillToFetch } from './fetching'
import { walkRoute, type Watch } from './walks'

/** How often what was out of service is tried again by itself. */
const MOST_AGAIN = 3

/**
 * Fetches the texts of works one after the other, those first that nothing else would bring in time, each by its ways,
 * the best first; what one way refuses, the next may have. What was out of service is tried again by a later job, and
 * what opens another day on that day.
 */
export async function runRetrieval(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const userId = job.userId!
  // what was joined into another since is fetched as that
  const ids = [...(await heirsOf(c, inquiryId, job.payload.works as number[])).values()]
  const works = await c.db.works.scope('living').findAll({ where: { id: ids }, attributes: ['id', 'item'], raw: true })
  const saved = new Map(((job.progress.works as Fetched[] | undefined) ?? []).map(f => [f.work, f]))
  const list = (await inNeed(c, inquiryId, works)).map((w): Fetched => {
    const before = saved.get(w.id)
    return before && isDone(before) ? before : { work: w.id, title: plainTitle(w.item.title), state: 'waiting' }
  })
  for (const entry of list) {
    if (entry.state !== 'waiting') continue
    entry.state = 'fetching'
    await progress({ works: list })
    const here = await c.db.copies.findAll({
      where: { workId: entry.work, outcome: 'proved' },
      attributes: ['id'],
      raw: true,
    })
    // what another member has by their own right is fetched anew
    if ((await readable(c, { userId, day: await deskDay(c.db) }, here)).length)
      Object.assign(entry, { state: 'proved', said: 'It was in hand already.' })
    else {
      const watch: Watch = async steps => {
        entry.steps = steps
        await progress({ works: list })
      }
      Object.assign(
        entry,
        await fetchBest(c, { inquiryId, userId, workId: entry.work, signal, watch, refused: new Set() }),
      )
    }
    await progress({ works: list })
  }
  const again = await tryLater(c, job, list)
  await keepAwaited(c, { inquiryId, userId }, list)
  await lookElsewhere(c, job, list)
  if (job.payload.byItself) await tellAwaited(c, { inquiryId, userId }, job.id, list)
  return { works: list, ...(again ? { again } : {}) }
}

/**
 * What ended before a fetching failed is awaited as after any other. What was not asked for yet is asked for tomorrow
 * where the fetching began by itself, and that is told: nobody is there to press again.
 */
export async function retrievalGivenUp(c: Context, { id }: JobRow, why: string): Promise<void> {
  const job = await c.db.jobs.findByPk(id, { raw: true })
  if (job?.state !== 'failed') return
  const who = { inquiryId: job.inquiryId!, userId: job.userId! }
  const ended = ((job.progress.works as Fetched[] | undefined) ?? []).filter(isDone)
  await keepAwaited(c, who, ended)
  if (!job.payload.byItself) return
  const left = await c.db.works.findAll({
    where: { id: stillToFetch(job) },
    attributes: ['id', 'item'],
    raw: true,
  })
  await awaitTomorrow(
    c,
    who,
    left.map(w => w.id),
  )
  const said = `${why} It is asked for again tomorrow.`
  const untried = left.map(w => ({ work: w.id, title: plainTitle(w.item.title), state: 'waiting' as const, said }))
  await tellAwaited(c, who, id, [...ended, ...untried])
}

/** Works in the order in which their texts are needed. */
async function inNeed<W extends Pick<WorkRow, 'id' | 'item'>>(
  c: Context,
  inquiryId: number,
  works: readonly W[],
): Promise<W[]> {
  const [day, inquiry, ways] = await Promise.all([
    deskDay(c.db),
    c.db.inquiries.findByPk(inquiryId, { attributes: ['due', 'rhythm'], raw: true }),
    c.db.routes.findAll({ where: { workId: works.map(w => w.id) }, attributes: ['workId', 'routes'], raw: true }),
  ])
  const { offers } = await offersFor(c, {
    ...{ inquiryId, day, due: inquiry?.due ?? null },
    rhythm: rhythmOf(inquiry?.rhythm ?? null),
  })
  const routesOf = new Map(ways.map(w => [w.workId, w.routes]))
  const wanted = works.map(w => ({ w, work: w.id, routes: withLoans(routesOf.get(w.id) ?? [], w.item, offers) }))
  return byNeed(wanted, day).map(x => x.w)
}

interface Fetching {
  inquiryId: number
  userId: number
  workId: number
  signal: AbortSignal
  watch: Watch
  refused: Set<string>
}

/** Walks the ways of a work that are open today, until one brings its text. */
async function fetchBest(c: Context, o: Fetching): Promise<Partial<Fetched>> {
  const day = await deskDay(c.db)
  const row = await c.db.routes.findOne({ where: { workId: o.workId }, raw: true })
  const usable = (row?.routes ?? []).filter(r => isFetchable(r, day))
  if (!usable.length) {
    const own = row?.routes.find(r => r.hand && r.likely > 0 && r.expected <= day)
    if (own) return { state: 'by hand', said: `${own.evidence} It asks for ${own.asks}.`, from: own.from }
    return {
      state: 'no route',
      said: row ? 'No way leads to a text that can be fetched today.' : 'Its ways have not been looked for yet.',
    }
  }
  const gated = await gatedOf(c, o.inquiryId)
  let told: Partial<Fetched> = { state: 'no route' }
  for (const route of usable) {
    o.signal.throwIfAborted()
    const got = await fetchRoute(c, o, route, gated)
    if (got.state === 'proved') return got
    if (TOLD_FIRST.indexOf(got.state!) < TOLD_FIRST.indexOf(told.state!)) told = got
  }
  return told
}

async function fetchRoute(c: Context, o: Fetching, route: Route, gated: readonly Gated[]): Promise<Partial<Fetched>> {
  const { from } = route
  // ways of before name no library
  const library = route.way === 'gate' ? gated.find(l => l.key === (route.library?.key ?? l.key)) : undefined
  if (route.way === 'gate' && !library)
    return { state: 'no route', said: 'Its library is not among yours any more. Look for ways again.', from }
  const cookie = library && (await gateCookie(c, o.userId, library.key))
  if (library && !cookie)
    return {
      state: 'gate needed',
      said: `This way leads through the gate of ${library.name}. Once you have signed in there, it is fetched by itself.`,
      from,
      gate: library.key,
    }
  if (library && !(await mayFetchMore(c, o.userId, library)))
    return {
      state: 'limit',
      said: 'The files of your card for today are used up. Tomorrow it is fetched by itself.',
      from,
    }
  const through = library && { library, cookie: cookie! }
  const gates = gated.map(l => ({ suffix: l.gate.suffix }))
  const { ended, said, steps, terms, got, again } = await walkRoute(c, { ...o, route, through, gates })
  if (got) return { state: got.outcome === 'proved' ? 'proved' : 'doubtful', said, from, steps }
  if (ended === 'session over' && library) {
    await forget(c, o.userId, library.key)
    return { state: 'gate needed', said, from, steps, gate: library.key }
  }
  const state = ended as Exclude<Ended, 'taken'>
  return { state, said, from, steps, ...(terms ? { terms } : {}), ...(again ? { again } : {}) }
}

/** Looks for ways anew where those that were sure led nowhere: only then are partners asked. */
async function lookElsewhere(c: Context, { inquiryId, userId }: JobRow, list: readonly Fetched[]): Promise<void> {
  const closed = list.filter(f => CLOSED.some(end => end === f.state)).map(f => f.work)
  if (!closed.length || !(await librariesOf(c, inquiryId!)).some(l => l.partners.length)) return
  const day = await deskDay(c.db)
  const rows = await c.db.routes.findAll({ where: { workId: closed }, attributes: ['workId', 'routes'], raw: true })
  const works = rows.filter(r => !isSureToday(r.routes, day)).map(r => r.workId)
  if (works.length) await enqueue(c, 'routes', inquiryId, userId, { works })
}

/** Queues another try of what was out of service, for when the last of them may be asked again. @returns when */
async function tryLater(c: Context, job: JobRow, list: readonly Fetched[]): Promise<string | undefined> {
  const later = list.filter(f => f.state === 'later' && f.again)
  const tries = Number(job.payload.tries ?? 0)
  if (!later.length || tries >= MOST_AGAIN) return undefined
  const again = later
    .map(f => f.again!)
    .toSorted()
    .at(-1)!
  const { byItself } = job.payload
  const payload = { works: later.map(f => f.work), tries: tries + 1, ...(byItself ? { byItself } : {}) }
  await enqueue(c, 'retrieval', job.inquiryId, job.userId, payload, undefined, new Date(again))
  return again
}
