import { addDays, daysBetween } from '../../core/bib/dates'
import {
  readOaiFormats,
  readOaiIdentity,
  readOaiPage,
  readOaiSets,
  type OaiIdentity,
  type OaiPage,
} from '../../core/formats/oai'
import { offersOf, schemaFor } from '../../core/formats/records'
import type { Query } from '../../core/query/cql'
import type { Context } from '../base/context'
import { decodeXml } from '../base/decode'
import { OutsideError, requireSuccess } from '../connect/http'
import type { CatalogueSetting, Known, Searched } from '../connect/sru-client'
import { deskDay } from '../db/desk-day'
import { inTransaction } from '../db/transaction'
import { inThread } from '../threads/threads'
import * as model from './repositories-model'
import type { Repository } from './repositories-model'

/** A catalogue that cannot be searched, but harvested (OAI-PMH 2.0): it is taken in, and looked through here. */
export type RepositorySetting = CatalogueSetting & { oai: string }
export const isRepository = (x: CatalogueSetting): x is RepositorySetting => x.oai !== undefined

/** Bytes of one answer at most. */
const LONGEST_ANSWER = 50_000_000
const PLAIN = 'oai_dc'
/** Seconds that a repository's "later" is waited for; what takes longer is told. */
const LONGEST_WAIT = 120
const TRIES = 4
/** Times that a list is begun again whose mark the repository has forgotten. */
const AGAIN = 2
/** Days after which one that does not tell what was taken back is gone through whole. */
const WHOLE_AGAIN = 30

async function ask(
  c: Context,
  { oai, name, also }: Pick<RepositorySetting, 'oai' | 'name' | 'also'>,
  given: Record<string, string>,
  signal: AbortSignal | undefined,
): Promise<string> {
  const at = new URL(oai)
  for (const [key, value] of Object.entries(given)) at.searchParams.set(key, value)
  for (let tries = 1; ; tries++) {
    signal?.throwIfAborted()
    try {
      const a = await c.outside(at.href, {
        timeoutMs: 60_000,
        maxBytes: LONGEST_ANSWER,
        ...(also ? { also } : {}),
        ...(signal ? { signal } : {}),
      })
      const text = decodeXml(a.body, String(a.headers['content-type'] ?? ''))
      // some tell an error of the protocol with a status of its own
      if (a.status < 400 || !/<([\w.-]+:)?error[\s>]/.test(text)) requireSuccess(a)
      return text
    } catch (e) {
      if (!(e instanceof OutsideError) || !e.again || tries >= TRIES) throw e
      const wait = e.afterSeconds ?? tries
      if (wait > LONGEST_WAIT)
        throw new OutsideError(`${name} asks to come back in ${Math.ceil(wait / 60)} minutes.`, true)
      await new Promise(r => setTimeout(r, wait * 1000))
    }
  }
}

function understood<T>(name: string, read: (xml: string) => T, xml: string): T {
  try {
    return read(xml)
  } catch (e) {
    throw new OutsideError(
      `${name} sent an answer that cannot be read: ${e instanceof Error ? e.message : String(e)}`,
      true,
    )
  }
}

/** What a repository says of itself, and in which forms it gives records. @throws OutsideError */
export async function identify(
  c: Context,
  setting: RepositorySetting,
  signal?: AbortSignal,
): Promise<OaiIdentity & { formats: { name: string; identifier: string }[]; prefix: string }> {
  const { name } = setting
  const identity = understood(name, readOaiIdentity, await ask(c, setting, { verb: 'Identify' }, signal))
  const formats = understood(name, readOaiFormats, await ask(c, setting, { verb: 'ListMetadataFormats' }, signal))
  const schema = offersOf(setting.schema, formats).length ? setting.schema : schemaFor(formats)
  return { ...identity, formats, prefix: (schema && offersOf(schema, formats)[0]?.name) ?? PLAIN }
}

/** Its sets, the first that it names; none where it has none. @throws OutsideError */
export const setsOf = async (c: Context, setting: RepositorySetting, signal?: AbortSignal) =>
  understood(setting.name, readOaiSets, await ask(c, setting, { verb: 'ListSets' }, signal))

/** One page of its records. @throws OutsideError */
export const listPage = async (
  c: Context,
  setting: RepositorySetting,
  { prefix, since, token }: Pick<Repository, 'prefix' | 'since' | 'token'>,
  signal?: AbortSignal,
): Promise<OaiPage> =>
  understood(
    setting.name,
    readOaiPage,
    await ask(
      c,
      setting,
      {
        verb: 'ListRecords',
        ...(token
          ? { resumptionToken: token }
          : {
              metadataPrefix: prefix,
              ...(setting.set ? { set: setting.set } : {}),
              ...(since ? { from: since } : {}),
            }),
      },
      signal,
    ),
  )

/** The repositories that are being taken in by this process, each once however many wait for it. */
const underWay = new Map<string, Promise<void>>()

/**
 * Takes in what a repository has, or what was changed in it since the last time: once a desk day. What came before it
 * breaks off stands, and the next time goes on there.
 * @throws OutsideError where it cannot be taken in to the end
 */
export async function takeIn(
  c: Context,
  setting: RepositorySetting,
  how: { signal: AbortSignal; told: (far: { taken: number; size: number | null }) => Promise<void> },
): Promise<void> {
  const before = underWay.get(setting.id)
  if (before) {
    await before.catch(() => undefined)
    how.signal.throwIfAborted()
  }
  const going = takeInNow(c, setting, how)
  underWay.set(setting.id, going)
  try {
    await going
  } finally {
    if (underWay.get(setting.id) === going) underWay.delete(setting.id)
  }
}

async function takeInNow(
  c: Context,
  setting: RepositorySetting,
  { signal, told }: Parameters<typeof takeIn>[2],
): Promise<void> {
  const today = await deskDay(c.db)
  const r = await runOf(c, setting, today, signal)
  if (!r) return
  const seen = new Set<string>()
  for (let again = 0; ;) {
    signal.throwIfAborted()
    const page = await listPage(c, setting, r, signal)
    const error = page.errors.find(e => e.code !== NOTHING_THERE)
    if (error?.code === 'badResumptionToken' && r.token && again++ < AGAIN) {
      r.token = null
      seen.clear()
    } else if (error) Object.assign(r, askedOtherwise(setting, r, error))
    else {
      if (page.token && seen.has(page.token))
        throw new OutsideError(`${setting.name} gives the same page again and again.`, true)
      if (page.token) seen.add(page.token)
      await keepPage(c, setting, r, page, today)
      await told({ taken: r.taken, size: r.size })
      if (!page.token) return
    }
  }
}

/** Where nothing was changed, or there is nothing at all, that comes as an error. */
const NOTHING_THERE = 'noRecordsMatch'

/** The run that is under way, or a new one; none where the repository is here as it is today. */
async function runOf(
  c: Context,
  setting: RepositorySetting,
  today: string,
  signal: AbortSignal,
): Promise<Repository | undefined> {
  const source = setting.id
  const address = `${setting.oai} ${setting.set ?? ''}`.trim()
  let r = await model.repositoryOf(c.db, source)
  if (r?.address !== address) {
    const { name, seconds, deletes, prefix } = await identify(c, setting, signal)
    await model.beginRepository(c.db, { source, address, name, prefix, seconds, deletes })
    r = (await model.repositoryOf(c.db, source))!
  }
  if (r.began !== null) return r
  if (r.doneDay === today) return undefined
  const isOld = r.deletes !== 'persistent' && r.wholeDay !== null && daysBetween(r.wholeDay, today) >= WHOLE_AGAIN
  const whole = !r.doneUntil || isOld
  // a day earlier: what is changed today may be shown tomorrow
  const since = whole ? null : addDays(r.doneUntil!.slice(0, 10), -1) + (r.seconds ? 'T00:00:00Z' : '')
  const fresh = { run: r.run + 1, whole, since, token: null, size: null, taken: 0 }
  const began = { ...fresh, ...(whole ? { lost: 0, lostWhy: null } : {}) }
  await model.saveRepository(c.db, source, began)
  return { ...r, ...began }
}

/** In which other form a refused list may be asked for. @throws OutsideError where in none */
function askedOtherwise(
  { name }: RepositorySetting,
  { prefix, since }: Repository,
  { code, said }: OaiPage['errors'][number],
): Partial<Repository> {
  if (code === 'cannotDisseminateFormat' && prefix !== PLAIN) return { prefix: PLAIN }
  if (code === 'badArgument' && since && since.length > 10) return { since: since.slice(0, 10) }
  throw new OutsideError(`${name} refuses: ${said}`, false)
}

/** Keeps a page with the mark of the next one; with the last the run is done. */
async function keepPage(
  c: Context,
  setting: RepositorySetting,
  r: Repository,
  page: OaiPage,
  today: string,
): Promise<void> {
  const isNothing = r.whole && r.taken === 0 && page.errors.length > 0
  if (isNothing && (await model.countRecords(c.db, r.source)).all)
    throw new OutsideError(`${setting.name} says that it has no records at all. Those taken in before stand.`, true)
  const began = r.began ?? page.at ?? new Date().toISOString()
  Object.assign(r, {
    began,
    token: page.token ?? null,
    size: page.size ?? r.size,
    taken: r.taken + page.records.length + page.unread.length,
    lost: r.lost + page.unread.length,
    lostWhy: r.lostWhy ?? page.unread[0]?.why ?? null,
  })
  const read = await inThread('read', { schema: setting.schema, raws: page.records.map(x => x.raw) })
  const { prefix, token, size, taken, lost, lostWhy } = r
  const far = { began, prefix, token, size, taken, lost, lostWhy }
  const done = { began: null, doneUntil: began, doneDay: today, ...(r.whole ? { wholeDay: today } : {}) }
  await inTransaction(c.db.sequelize, async t => {
    const records = page.records.map((x, i) => ({ ...x, ...read[i] }))
    await model.keepRecords(c.db, r, records, t)
    if (!page.token && r.whole) await model.dropUnmet(c.db, r, t)
    await model.saveRepository(c.db, r.source, page.token ? far : { ...far, ...done }, t)
  })
}

/** Nothing of a repository is here, so that it is not known what it has. */
export class NotTakenIn extends OutsideError {}

/** What can be asked of what was taken in: anything, since it is looked through here. */
export async function explainRepository(c: Context, setting: RepositorySetting): Promise<Known> {
  const r = await model.repositoryOf(c.db, setting.id)
  return {
    title: r?.name ?? setting.name,
    ...(r ? { extent: `${(await model.countRecords(c.db, setting.id)).all} records taken in` } : {}),
    schemas: [],
    abilities: { truncation: true, proximity: true },
    names: {},
    refused: {},
    version: '',
    noSchema: new Set(),
    endings: new Map(),
  }
}

/** Looks through what was taken in: how many records answer a query, and those from a position on. */
export async function searchRepository(
  c: Context,
  setting: RepositorySetting,
  query: Query,
  start: number,
  most: number,
  signal?: AbortSignal,
): Promise<Searched> {
  const r = await model.repositoryOf(c.db, setting.id)
  if (!r?.taken && !r?.doneUntil)
    throw new NotTakenIn(`Nothing of ${setting.name} is here yet: it is taken in by the first sweep of it.`, false)
  const ids: number[] = []
  let count = 0
  for await (const rows of model.readOf(c.db, setting.id)) {
    signal?.throwIfAborted()
    const { fits, cannot } = await inThread('sift', { query, read: rows.map(x => x.read) })
    if (cannot) throw new OutsideError(`${setting.name} cannot be asked this: ${cannot}`, false)
    for (const i of fits) if (++count >= start && ids.length < most) ids.push(rows[i]!.id)
  }
  const records = (await model.recordsOf(c.db, ids)).map((x, i) => ({ ...x, position: start + i }))
  const { all, unread, why } = await model.countRecords(c.db, setting.id)
  const changes = [`It cannot be searched, so its ${all} records were taken in and looked through here.`]
  if (r.began !== null || !r.doneUntil) changes.push('It is not taken in to its end yet, so there may be more.')
  if (r.lost) changes.push(`${r.lost} of the records that it gave had no name or no metadata. ${r.lostWhy}`)
  if (unread) changes.push(`${unread} of its records cannot be read, and are in no answer. ${why}`)
  const more = start - 1 + records.length < count
  return { count, counted: true, records, unread: [], more, asked: query, changes }
}
