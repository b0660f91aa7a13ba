import { cleanText, firstLetters } from '../../core/bib/clean'
import { printCql, type Query } from '../../core/query/cql'
import { holds } from '../../core/query/holds'
import { parseCql } from '../../core/query/parse-cql'
import type { Context } from '../base/context'
import { OutsideError } from '../connect/http'
import { explainOf, search } from '../catalogues/catalogue'
import { isRepository, takeIn } from '../catalogues/repositories'
import { readRecord } from '../../core/formats/records'
import type { CatalogueSetting, Searched } from '../connect/sru-client'
import type { JobRow } from '../jobs/jobs-model'
import type { SweepCatalogueRow, SweepRow } from './gather-model'
import { addMissing } from '../db/rows'
import { isDatabaseTrouble } from '../db/transaction'
import { logError } from '../base/log'
import { recordOf } from '../pool/record'
import { cataloguesFor } from '../library/catalogues'
import { refreshHoldings } from '../library/holdings'
import { librariesOf } from '../library/libraries'
import { change } from '../db/revision'
import type { JobHandle } from '../jobs/queue'
import { Problem } from '../base/problem'

/** Records fetched of a catalogue in one sweep; more can be asked for. */
export const FIRST_FETCH = 200
const PAGE = 50

/** How far a catalogue is: records fetched of those it counts, or of a repository taken in of those it has. */
interface Far {
  count: number | null
  fetched: number
  takenIn?: true
}
/** Runs a sweep: each catalogue in its own time; one that fails is named, the others' results stand. */
export async function runSweep(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const { sweepId, only, most } = job.payload as { sweepId: number; only?: string; most?: number }
  const sweep = await c.db.sweeps.findByPk(sweepId, { raw: true })
  if (!sweep) throw new Problem(404, 'gone', 'The sweep is gone.')
  const parsed = parseCql(sweep.cql)
  if (!parsed.ok) throw new Problem(422, 'query', parsed.error.message)
  const parts = await c.db.sweepCatalogues.findAll({ where: { sweepId }, raw: true })
  const at: Record<string, Far> = {}
  const told = async (catalogue: string, far: Far) => {
    at[catalogue] = far
    await progress({ catalogues: at })
  }
  const ends = await Promise.allSettled(
    parts
      .filter(p => (only ? p.catalogue === only : p.state !== 'done'))
      .map(part => runPart(c, sweep, part, parsed.query, { most, signal, told })),
  )
  for (const end of ends) if (end.status === 'rejected') throw end.reason
  // so that the records can say what the library reaches; where it does not answer, Obtain says so
  await refreshHoldings(c, await librariesOf(c, sweep.inquiryId))
  return { catalogues: at }
}

/** Catalogues of a sweep that will not be asked further say so. */
export async function sweepGivenUp(c: Context, job: JobRow, why: string): Promise<void> {
  const { sweepId, only } = job.payload as { sweepId: number; only?: string }
  const sweep = await c.db.sweeps.findByPk(sweepId, { raw: true })
  if (!sweep) return
  const where = { sweepId, state: ['waiting', 'asking'], ...(only ? { catalogue: only } : {}) }
  await change(c, sweep.inquiryId, t =>
    c.db.sweepCatalogues.update({ state: 'failed', error: why }, { where, transaction: t }),
  )
}

/**
 * Asks one catalogue, page by page. What it answers wrongly ends its part alone; what ends the job leaves it to go
 * on.
 */
async function runPart(
  c: Context,
  sweep: SweepRow,
  part: SweepCatalogueRow,
  wanted: Query,
  how: {
    most: number | undefined
    signal: AbortSignal
    told: (catalogue: string, far: Far) => Promise<void>
  },
): Promise<void> {
  const { signal } = how
  const catalogue = (await cataloguesFor(c, sweep.inquiryId)).find(x => x.id === part.catalogue)
  const where = { sweepId: sweep.id, catalogue: part.catalogue }
  const save = (values: Partial<SweepCatalogueRow>) =>
    change(c, sweep.inquiryId, t => c.db.sweepCatalogues.update(values, { where, transaction: t }))
  try {
    if (!catalogue) throw new OutsideError('This catalogue is not set up here any more.', false)
    await save({ state: 'asking', error: null })
    if (isRepository(catalogue))
      await takeIn(c, catalogue, {
        signal,
        told: ({ taken, size }) => how.told(catalogue.id, { count: size, fetched: taken, takenIn: true }),
      })
    const { abilities } = await explainOf(c, catalogue, signal)
    // what is here is looked through once for all that is wanted of it
    const atOnce = isRepository(catalogue) ? Infinity : PAGE
    // goes on where a crash or an earlier fetch left it
    let { fetched, count } = part
    let done = false
    const said = new Set<string>()
    const lost: Lost[] = []
    let sifted = 0
    let asked: Pick<Searched, 'asked' | 'changes'> | undefined
    const notes = () => [
      ...(asked?.changes ?? part.changes),
      ...(sifted ? [saySifted(sifted, fetched)] : []),
      ...said,
      ...sayLost(lost),
    ]
    const goal = Math.min(Math.max(how.most ?? FIRST_FETCH, FIRST_FETCH), abilities.window ?? Infinity)
    for (let more = count === null || fetched < Math.min(count, goal); more;) {
      signal.throwIfAborted()
      const page = await askWithPatience(
        () => search(c, catalogue, wanted, fetched + 1, Math.min(atOnce, goal - fetched), signal),
        signal,
      ).catch((e: unknown) => {
        // what came before a refusal stands
        if (!(e instanceof OutsideError) || e.again || !fetched || count === null) throw e
        said.add(`It counts ${count} records and gave ${fetched}. ${e.message}`)
        return undefined
      })
      if (!page) {
        await save({ state: 'done', changes: notes() })
        return
      }
      asked = page
      fetched += page.records.length + page.unread.length
      // catalogues change while they are read, and some count what they do not give
      if (count !== null && page.counted && page.count !== count)
        said.add(`Its answer changed while it was read: ${count} records at first, then ${page.count}.`)
      count = page.count
      if (!page.more && fetched < Math.min(count, goal)) said.add(`It counts ${count} records and gave ${fetched}.`)
      more = page.more && fetched < goal
      // with its last page a catalogue is done: there is no moment between
      await keepPage(c, sweep, catalogue, page, (unread, outside) => {
        lost.push(...unread)
        sifted += outside
        return {
          ...{ count: page.count, fetched, asked: printCql(page.asked), changes: notes() },
          unread: part.unread + lost.length,
          ...(more ? {} : { state: 'done' as const }),
        }
      })
      done = !more
      await how.told(catalogue.id, { count, fetched })
    }
    if (!done) await save({ state: 'done' })
  } catch (e) {
    // what is not the catalogue's doing ends the job; it goes on from here
    if (signal.aborted || isDatabaseTrouble(e) || e instanceof Problem) throw e
    if (!(e instanceof OutsideError)) logError(`asking ${part.catalogue}`, e)
    await save({
      state: 'failed',
      error:
        e instanceof OutsideError
          ? e.message
          : `${catalogue!.name} sent an answer that could not be taken. The other catalogues are not touched by it.`,
    })
  }
}

/** A record that could not be read or kept: where it stood, and why. */
interface Lost {
  position: number
  why: string
  /** As it came. */
  raw: string
}
/** So many of a page are kept as they came, and so many letters of each: the rest is counted. */
const KEPT_UNREAD = 20
const LONGEST_UNREAD = 100_000
const sayLost = (lost: readonly Lost[]): string[] =>
  lost.length
    ? [
        `${lost.length === 1 ? 'One of its records' : `${lost.length} of its records`} could not be read or kept. Record ${lost[0]!.position}: ${lost[0]!.why}`,
      ]
    : []

/** What was asked here because the catalogue cannot. */
const saySifted = (n: number, of: number): string =>
  `${n === 1 ? 'One' : n} of the ${of} records it gave did not fit when looked at here, and ${n === 1 ? 'was' : 'were'} left out.`

/** Stores the records of a page and where they stood, with how far the catalogue is read; told which could not be. */
async function keepPage(
  c: Context,
  sweep: SweepRow,
  catalogue: CatalogueSetting,
  page: Searched,
  far: (lost: readonly Lost[], outside: number) => Partial<SweepCatalogueRow>,
): Promise<void> {
  const { id: sweepId, inquiryId } = sweep
  const lost: Lost[] = [...page.unread]
  let outside = 0
  const rows = page.records.flatMap(r => {
    try {
      const read = readRecord(catalogue.schema, r.raw)
      if (page.sift && holds(page.sift, read) === false) {
        outside++
        return []
      }
      const given = { ...read, raw: r.raw, format: catalogue.schema }
      const key = firstLetters(cleanText(r.identifier ?? String(r.position)), 190)
      return [{ position: r.position, record: { inquiryId, source: catalogue.id, ...recordOf(given, key) } }]
    } catch (e) {
      // one unreadable record does not cost the page
      lost.push({ position: r.position, why: e instanceof Error ? e.message : String(e), raw: r.raw })
      return []
    }
  })
  await change(c, inquiryId, async (t, revision) => {
    await addMissing(
      c.db.records,
      rows.map(r => r.record),
      'source',
      t,
    )
    const stored = await c.db.records.findAll({
      where: { inquiryId, source: catalogue.id, rawHash: rows.map(r => r.record.rawHash) },
      attributes: ['id', 'sourceKey', 'rawHash', 'workId'],
      transaction: t,
      raw: true,
    })
    const idOf = new Map(stored.map(s => [`${s.sourceKey} ${s.rawHash}`, s.id]))
    const hits = rows.map(({ position, record }) => {
      const recordId = idOf.get(`${record.sourceKey} ${record.rawHash}`)
      if (!recordId) throw new Error('a record of a page was not stored')
      return { sweepId, catalogue: catalogue.id, position, recordId }
    })
    await addMissing(c.db.sweepHits, hits, 'sweepId', t)
    const unread = lost.slice(0, KEPT_UNREAD).map(({ position, why, raw }) => ({
      ...{ sweepId, catalogue: catalogue.id, position },
      why: cleanText(why),
      raw: firstLetters(cleanText(raw), LONGEST_UNREAD),
    }))
    await addMissing(c.db.sweepUnread, unread, 'sweepId', t)
    // works of the pool that this sweep found as well
    const known = stored.flatMap(s => s.workId ?? [])
    if (known.length) await c.db.works.update({ revision }, { where: { id: known }, transaction: t })
    await c.db.sweepCatalogues.update(far(lost, outside), {
      where: { sweepId, catalogue: catalogue.id },
      transaction: t,
    })
  })
}

/** Once more after a pause where the service asks for one or broke off. */
async function askWithPatience<T>(ask: () => Promise<T>, signal: AbortSignal): Promise<T> {
  try {
    return await ask()
  } catch (e) {
    if (!(e instanceof OutsideError) || !e.again || signal.aborted) throw e
    await new Promise(r => setTimeout(r, Math.min(e.afterSeconds ?? 1, 5) * 1000))
    signal.throwIfAborted()
    return ask()
  }
}
