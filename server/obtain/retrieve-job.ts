import { Parser } from 'htmlparser2'
import { Op } from 'sequelize'
import type { Route } from '../../core/access/routes'
import { firstLetters, plainTitle } from '../../core/bib/clean'
import type { Context } from '../base/context'
import { OutsideError } from '../connect/http'
import type { JobHandle } from '../jobs/queue'
import { Problem } from '../base/problem'
import { receiveCopy, type Received } from './copies'
import { forget, gateCookie, throughGate } from '../library/gate-service'

export interface Fetched {
  work: number
  title: string
  state: 'waiting' | 'fetching' | 'proved' | 'doubtful' | 'refused' | 'gate needed' | 'no route'
  said?: string
  from?: string
}

/** Fetches the texts of works, one after the other, best route first; what one route refuses, the next may have. */
export async function runRetrieval(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const userId = job.userId!
  const wanted = job.payload.works as number[]
  const works = await c.db.works.findAll({
    where: { inquiryId, successorId: null, id: { [Op.in]: wanted } },
    raw: true,
  })
  const saved = new Map(((job.progress.works as Fetched[] | undefined) ?? []).map(f => [f.work, f]))
  const list = works.map((w): Fetched => {
    const before = saved.get(w.id)
    return before && before.state !== 'fetching' && before.state !== 'waiting'
      ? before
      : { work: w.id, title: plainTitle(w.item.title), state: 'waiting' }
  })
  for (const entry of list) {
    if (entry.state !== 'waiting') continue
    entry.state = 'fetching'
    await progress({ works: list })
    const already = await c.db.copies.findOne({ where: { workId: entry.work, outcome: 'proved' }, raw: true })
    if (already) Object.assign(entry, { state: 'proved', said: 'It was in hand already.' })
    else Object.assign(entry, await fetchBest(c, inquiryId, userId, entry.work, signal))
    await progress({ works: list })
  }
  return { works: list }
}

async function fetchBest(
  c: Context,
  inquiryId: number,
  userId: number,
  workId: number,
  signal: AbortSignal,
): Promise<Partial<Fetched>> {
  const row = await c.db.routes.findOne({ where: { workId }, raw: true })
  const usable = (row?.routes ?? []).filter(r => r.url && r.way !== 'author' && r.expected <= row!.deskDay)
  if (!usable.length)
    return {
      state: 'no route',
      said: row ? 'No route leads to a text that can be fetched today.' : 'Its routes have not been looked for yet.',
    }
  let last: Partial<Fetched> = { state: 'no route' }
  for (const route of usable) {
    signal.throwIfAborted()
    try {
      const got = await fetchRoute(c, inquiryId, userId, workId, route, signal)
      if (got === 'gate needed') {
        last = {
          state: 'gate needed',
          said: 'This way leads through the gate. Sign in, and fetch again.',
          from: route.from,
        }
        continue
      }
      if (got.outcome === 'proved') return { state: 'proved', said: got.said, from: route.from }
      if (last.state !== 'doubtful' && last.state !== 'gate needed')
        last = { state: got.outcome === 'doubtful' ? 'doubtful' : 'refused', said: got.said, from: route.from }
    } catch (e) {
      if (!(e instanceof OutsideError)) throw e
      if (last.state === 'no route') last = { state: 'refused', said: e.message, from: route.from }
      await c.db.attempts.create({ workId, url: firstLetters(route.url!, 1000), outcome: 'refused', said: e.message })
    }
  }
  return last
}

async function fetchRoute(
  c: Context,
  inquiryId: number,
  userId: number,
  workId: number,
  route: Route,
  signal: AbortSignal,
): Promise<Received | 'gate needed'> {
  const cookie = route.way === 'gate' ? await gateCookie(c, userId) : undefined
  if (route.way === 'gate' && !cookie) return 'gate needed'
  const options = { signal, ...(cookie ? { gateCookie: cookie } : {}) }
  let answer = await c.outside(cookie ? throughGate(c, await landing(c, route.url!, signal)) : route.url!, options)
  if (answer.status < 400 && isHtml(answer.headers['content-type'])) {
    const link = pdfLink(answer.body.toString('utf8'), answer.url)
    if (link) answer = await c.outside(link, options)
  }
  if (cookie && new URL(answer.url).pathname.includes('sign-in')) {
    // the session ended on the gate's side before its time
    await forget(c, userId)
    return 'gate needed'
  }
  if (answer.status === 429 || answer.status >= 500)
    throw new OutsideError(`${route.from} is out of service for the moment (${answer.status}).`, true)
  if (answer.status === 404 || answer.status === 410)
    throw new OutsideError(`The address at ${route.from} is dead (${answer.status}).`, false)
  return receiveCopy(c, inquiryId, workId, answer.body, route.url!, { signal })
}

/** The gate opens platforms, not resolvers: the resolver's redirect is followed first. */
async function landing(c: Context, url: string, signal: AbortSignal): Promise<string> {
  if (!url.startsWith(c.settings.outside.resolver)) return url
  const answer = await c.outside(url, { hops: 0, signal })
  const location = answer.headers.location
  if (answer.status === 404) throw new OutsideError('The resolver does not know this DOI.', false)
  if (!location) throw new OutsideError('The resolver does not lead on.', false)
  return new URL(String(location), url).href
}

const isHtml = (type: string | string[] | undefined): boolean => /html/.test(String(type ?? ''))

/** The PDF that a landing page names by <link rel="alternate" type="application/pdf">. */
export function pdfLink(html: string, base: string): string | undefined {
  let found: string | undefined
  const parser = new Parser({
    onopentag: (tag, { rel = '', type = '', href }) => {
      if (found || tag !== 'link' || !href) return
      const alternate = rel.toLowerCase().split(/\s+/).includes('alternate')
      if (alternate && type.trim().toLowerCase().startsWith('application/pdf') && URL.canParse(href, base))
        found = new URL(href, base).href
    },
  })
  parser.end(html)
  return found
}

export const requireWorks = (works: readonly unknown[]): void => {
  if (!works.length) throw new Problem(422, 'nothing-chosen', 'Choose at least one kept work.')
}
