import type { Transaction } from 'sequelize'
import { CookieJar } from 'tough-cookie'
import { lasting, plainHost, type GateHosts } from '../../core/access/links'
import { afterWalk, wayKey, type Route, type Tried } from '../../core/access/routes'
import { Refused, Unanswered, walk, type Got, type Step, type Walk, type Walked } from '../../core/access/walk'
import { firstLetters } from '../../core/bib/clean'
import type { Context } from '../base/context'
import type { Outside } from '../base/settings'
import { decodeXml } from '../base/decode'
import { NotAllowed, OutsideError, type OutsideAnswer } from '../connect/http'
import { deskDay } from '../db/desk-day'
import { change } from '../db/revision'
import { notFound } from '../base/problem'
import type { Member } from '../sessions/member'
import { byTemplate } from '../../core/schema/library'
import { countGateFile } from '../library/gate-model'
import type { Gated } from '../library/gate-service'
import { leaveOf } from '../library/libraries'
import { receiveCopy, type Received } from './copies'
import type { Grant } from '../copies/copy-rights'

/** Milliseconds between two askings of one host, and before a server counts as silent. */
const PAUSE = 500
const SILENCE = 30_000
/** Bytes of a text, and milliseconds of one walk. */
const LARGEST_TEXT = 60_000_000
const LONGEST = 180_000
/** Bytes of a page that are read. */
const LARGEST_PAGE = 3_000_000

/** What asking needs of the application. */
export interface Outgoing {
  outside: Context['outside']
  settings: { outside: Outside }
}

/** A gate that somebody is signed in at. */
export interface Through {
  library: Gated
  cookie: string
}

/** When each host was last asked by this process. */
const lastAsked = new Map<string, number>()

/** Waits until a host may be asked again: one asking at a time, with a pause; a server on this machine needs none. */
async function politely(c: Outgoing, host: string, signal: AbortSignal): Promise<void> {
  const { loopback } = c.settings.outside
  if (loopback && host.endsWith(loopback.suffix)) return
  const at = Math.max(Date.now(), (lastAsked.get(host) ?? 0) + PAUSE)
  lastAsked.set(host, at)
  const wait = at - Date.now()
  if (wait <= 0) return
  await new Promise<void>((done, fail) => {
    const timer = setTimeout(done, wait)
    signal.addEventListener(
      'abort',
      () => {
        clearTimeout(timer)
        fail(signal.reason as Error)
      },
      { once: true },
    )
  })
}

/**
 * What a walk asks servers by: cookies are kept as long as the walk; behind the gate what is no resolver is asked
 * through it, and its cookie goes to its hosts alone.
 */
export function asker(c: Outgoing, through: Through | undefined, signal: AbortSignal): Walk['get'] {
  const jar = new CookieJar(undefined, { allowSpecialUseDomain: true })
  const gate = through?.library.gate
  const isGate = (host: string) => Boolean(gate) && (host === gate!.suffix || host.endsWith(`.${gate!.suffix}`))
  return async ({ url, form }) => {
    const goesByGate = gate && !isGate(new URL(url).hostname) && !url.startsWith(c.settings.outside.resolver)
    const to = goesByGate ? byTemplate(gate.template, url) : url
    const { hostname } = new URL(to)
    await politely(c, hostname, signal)
    const cookie = await jar.getCookieString(to)
    let answer: OutsideAnswer
    try {
      answer = await c.outside(to, {
        ...{ hops: 0, maxBytes: LARGEST_TEXT, timeoutMs: SILENCE, signal },
        ...(through ? { gate: { suffix: gate!.suffix, cookie: through.cookie }, ...leaveOf(through.library) } : {}),
        headers: {
          accept: 'application/pdf, text/html;q=0.9, */*;q=0.5',
          ...(cookie ? { cookie } : {}),
          ...(form === undefined ? {} : { 'content-type': 'application/x-www-form-urlencoded' }),
        },
        ...(form === undefined ? {} : { method: 'POST' as const, body: form }),
      })
    } catch (e) {
      if (e instanceof NotAllowed) throw new Refused(`${e.message} Open it yourself, and bring the file.`)
      if (e instanceof OutsideError) throw new Unanswered(e.message)
      throw e
    }
    for (const set of [answer.headers['set-cookie'] ?? []].flat())
      // what is no cookie is as if it had not been sent
      await jar.setCookie(set, to, { ignoreError: true })
    return gotOf(answer)
  }
}

const gotOf = ({ status, headers, body }: OutsideAnswer): Got => {
  const one = (v: string | string[] | undefined) => (Array.isArray(v) ? v.join(', ') : v)
  return {
    status,
    headers: Object.fromEntries(Object.entries(headers).map(([k, v]) => [k, one(v)])),
    bytes: body,
    text: () => decodeHtml(body.subarray(0, LARGEST_PAGE), one(headers['content-type'])),
  }
}

/** A page as text: as its answer says, else as it says itself. */
function decodeHtml(body: Buffer, contentType = ''): string {
  if (/charset/i.test(contentType)) return decodeXml(body, contentType)
  const own = /<meta[^>]{0,200}charset\s*=\s*["']?([\w.:-]{1,40})/i.exec(body.subarray(0, 4096).toString('latin1'))?.[1]
  return decodeXml(body, own ? `text/html; charset=${own}` : contentType)
}

/** Where a walk is, for those who watch. */
export type Watch = (steps: readonly Step[]) => Promise<void>

interface Walking {
  inquiryId: number
  userId: number
  workId: number
  route: Route
  through: Through | undefined
  /** All gates of the inquiry: no address of theirs is kept. */
  gates: readonly GateHosts[]
  signal: AbortSignal
  watch: Watch
  /** Files that are not this work, by the ways that were walked before. */
  refused: Set<string>
}

/**
 * Walks a way to the text of a work, keeps what came where it is, or may be, its text, and takes back what the way
 * promised where it failed.
 * @returns how it ended, and what was received where a file came
 */
export async function walkRoute(c: Context, o: Walking): Promise<Walked & Pick<Tried, 'again'> & { got?: Received }> {
  const { inquiryId, userId, workId, route, through, gates } = o
  const work = await c.db.works.findOne({ where: { id: workId, inquiryId }, attributes: ['item'], raw: true })
  const day = await deskDay(c.db)
  let got: Received | undefined
  const plainStep = (s: Step): Step => ({ ...s, url: lasting(s.url, gates) })
  const signal = AbortSignal.any([o.signal, AbortSignal.timeout(LONGEST)])
  const began = Date.now()
  const walked = await walk({
    item: work!.item,
    start: route.url!,
    thisYear: Number(day.slice(0, 4)),
    get: asker(c, through, signal),
    take: async (bytes, url) => {
      if (through) await countGateFile(c, userId, through.library.key, day)
      const origin = lasting(url, gates)
      const grant: Grant = through
        ? { kind: 'licence', userId, from: through.library.name }
        : { kind: 'open', userId: null, from: `a copy of ${route.from}` }
      const now = await receiveCopy(c, { inquiryId, workId, origin, grant }, Buffer.from(bytes), { signal: o.signal })
      if (now.outcome === 'refused') return { taken: false, said: now.said }
      got = now
      return { taken: true, said: now.said }
    },
    refused: o.refused,
    called: host => gates.reduce(plainHost, host),
    accepted: await hostsAccepted(c, userId, day),
    ...(through ? { signIn: through.library.gate.signIn } : {}),
    step: steps => o.watch(steps.map(plainStep)),
  }).catch((e: unknown): Walked => {
    if (o.signal.aborted || !signal.aborted) throw e
    const said = `It took longer than ${Math.round((Date.now() - began) / 60_000)} minutes, and was broken off.`
    return { ended: 'later', said, steps: [], on: route.url! }
  })
  const steps = walked.steps.map(plainStep)
  const tried = triedOf(walked, day)
  await change(c, inquiryId, async (t, revision) => {
    const { ended, said } = walked
    const url = firstLetters(route.url!, 1000)
    await c.db.wayWalks.create(
      { inquiryId, workId, userId, url, byGate: through !== undefined, ended, said, steps, deskDay: day },
      { transaction: t },
    )
    await keepTried(c, workId, wayKey(route), tried, t, revision)
  })
  return { ...walked, steps, ...(tried.again ? { again: tried.again } : {}), ...(got ? { got } : {}) }
}

/** Writes down how a way ended, so that the ways of its work stand in a new order. @returns whether there is such a way */
async function keepTried(
  c: Context,
  workId: number,
  key: string,
  tried: Tried | undefined,
  transaction: Transaction,
  revision: number,
): Promise<boolean> {
  const row = await c.db.routes.findOne({ where: { workId }, transaction, lock: transaction.LOCK.UPDATE, raw: true })
  if (!row?.routes.some(r => wayKey(r) === key)) return false
  await c.db.routes.update({ routes: afterWalk(row.routes, key, tried) }, { where: { workId }, transaction })
  await c.db.works.update({ revision }, { where: { id: workId }, transaction })
  return true
}

/** Where a student looked, and whether it was there. */
interface ShelfLook {
  branch: string
  call: string
  library?: string | undefined
  found: boolean | null
}

/**
 * Keeps what a student saw at the shelf of a work. A book that they hold is no copy here: what stands in it is not
 * read, so that it does not count as in hand.
 * @throws Problem 404 where it stands on no such shelf
 */
export async function lookedOnShelf(
  c: Context,
  { inquiryId }: Pick<Member, 'inquiryId'>,
  workId: number,
  { branch, call, library, found }: ShelfLook,
): Promise<void> {
  const day = await deskDay(c.db)
  const said = found ? `You found it at ${branch}.` : `It was not on its shelf at ${branch}.`
  const tried: Tried = { ended: found ? 'taken' : 'gone', said, on: branch, day }
  await change(c, inquiryId, async (t, revision) => {
    if (!(await c.db.works.scope('living').count({ where: { id: workId, inquiryId }, transaction: t })))
      throw notFound()
    const of = library === undefined ? {} : { library: { key: library, name: '' } }
    // one that no number stands at is told by its place alone
    const key = wayKey({ way: 'shelf', from: branch, shelf: { call }, ...of })
    if (!(await keepTried(c, workId, key, found === null ? undefined : tried, t, revision))) throw notFound()
  })
}

/** Seconds after which a server is asked again that did not say when; the shortest and the longest wait. */
const WAIT = { usual: 120, shortest: 30, longest: 6 * 3600 }
const waitOf = (seconds = WAIT.usual): number => Math.min(Math.max(seconds, WAIT.shortest), WAIT.longest)

const triedOf = ({ ended, said, on, opens, terms, chapters, wait }: Walked, day: string): Tried => ({
  ...{ ended, said, on, day },
  ...(opens ? { opens } : {}),
  ...(terms ? { terms } : {}),
  ...(chapters ? { chapters } : {}),
  ...(ended === 'later' ? { again: new Date(Date.now() + waitOf(wait) * 1000).toISOString() } : {}),
})

/** Hosts whose terms a user accepted on a day. */
async function hostsAccepted(c: Context, userId: number, day: string): Promise<Set<string>> {
  const rows = await c.db.acceptedTerms.findAll({ where: { userId, deskDay: day }, attributes: ['host'], raw: true })
  return new Set(rows.map(r => r.host))
}

/** Remembers for the day that a user accepted the terms of a platform. */
export async function acceptTerms(c: Context, userId: number, host: string): Promise<void> {
  await c.db.acceptedTerms.upsert({ userId, host, deskDay: await deskDay(c.db) })
}

/** The last walk of each way of a work, newest first. */
export async function walksOf(c: Context, inquiryId: number, workId: number) {
  const last = await c.db.wayWalks.findAll({
    where: { inquiryId, workId },
    attributes: ['id', 'url', 'byGate', 'ended', 'said', 'steps', 'deskDay', 'at'],
    order: [['id', 'DESC']],
    limit: 50,
    raw: true,
  })
  const seen = new Set<string>()
  return last.flatMap(w => (seen.has(w.url) ? [] : (seen.add(w.url), [{ ...w, byGate: Boolean(w.byGate) }])))
}
