import { decideTitle, holdingKeys, itemKeys, linesFor } from '../../core/access/coverage'
import { notKnown, type Profile } from '../../core/access/profile'
import type { Item } from '../../core/bib/item'
import type { Answer } from '../../core/schema/api'
import { kbartParts, type Holding } from '../../core/formats/kbart'
import { BROUGHT } from '../../core/schema/library'
import type { Transaction } from 'sequelize'
import { OutsideError, requireSuccess } from '../connect/http'
import type { Context } from '../base/context'
import { memory } from '../base/memory'
import { deskDay } from '../db/desk-day'
import { inTransaction } from '../db/transaction'
import { readBlob, storeBlob } from '../db/blobs'
import { Problem } from '../base/problem'
import { enqueue, type JobHandle } from '../jobs/queue'
import { inThread } from '../threads/threads'
import { decodeText } from '../base/decode'
import { hashOf } from '../base/hash'
import * as model from './holdings-model'
import type { FileReport, KeptFile } from './holdings-model'
import { fileName, leaveOf, librariesFor, librariesOf, type Library } from './libraries'

const addressesIn = (libraries: readonly Library[]): string[] => [
  ...new Set(libraries.flatMap(l => l.holdings.map(f => f.address))),
]
const filesOf = (c: Context, libraries: readonly Library[]): Promise<KeptFile[]> =>
  model.holdingsFiles(c, addressesIn(libraries))

/** Which files are kept holds for a second: every list asks, and they change once a day. */
const lately = memory<KeptFile[]>({ holds: 1000 })
const keptFiles = (c: Context, libraries: readonly Library[]): Promise<KeptFile[]> =>
  lately.get(c, addressesIn(libraries).join('\n'), () => filesOf(c, libraries))

/**
 * Fetches the holdings files of libraries that are missing or old, and reads what was not read yet, as a part of some
 * job; where a library is away those that are kept stand.
 * @param o.anew also those that are not old
 * @returns what is missing altogether, in a sentence
 */
export async function refreshHoldings(
  c: Context,
  libraries: readonly Library[],
  { anew = false } = {},
): Promise<string | undefined> {
  const kept = new Map((await filesOf(c, libraries)).map(f => [f.address, f]))
  const done = new Set<string>()
  const missing: string[] = []
  for (const library of libraries) {
    const lacking: string[] = []
    for (const { address } of library.holdings) {
      const have = kept.get(address)
      const isDone = done.has(address) || address.startsWith(BROUGHT) || (have && !have.old && !anew)
      done.add(address)
      if (isDone) continue
      try {
        const { body } = requireSuccess(await c.outside(address, { maxBytes: LARGEST_FILE, ...leaveOf(library) }))
        await keepFetched(c, address, body)
      } catch (e) {
        if (!(e instanceof OutsideError)) throw e
        if (!have) lacking.push(e.message)
      }
    }
    if (lacking.length)
      missing.push(
        `${lacking.length} of ${library.holdings.length} holdings files of ${library.name} could not be read: ${lacking[0]}`,
      )
  }
  for (const file of await filesOf(c, libraries)) if (file.readHash !== file.hash) await readFile(c, file.id)
  lately.forget(c)
  return missing.length ? missing.join(' ') : undefined
}

const keepFetched = (c: Context, address: string, bytes: Buffer): Promise<void> =>
  inTransaction(c.db.sequelize, t => keepHoldings(c, address, bytes, t))

/** Keeps a file as it was fetched or brought; what was read of it before stands until it is read. */
export async function keepHoldings(c: Context, address: string, bytes: Buffer, t: Transaction): Promise<void> {
  await model.keepFile(c.db, address, await storeBlob(c.db, bytes, 'text/tab-separated-values', t), t)
}

/** Bytes of a holdings file at most. */
const LARGEST_FILE = 150_000_000
/** What is told of a file at most, of what was read otherwise than it stands. */
const PROBLEMS = 100

/** Reads a file piece by piece in a thread, and keeps its lines as rows; all of them or, where that fails, those before. */
async function readFile(c: Context, id: number): Promise<void> {
  await inTransaction(c.db.sequelize, async t => {
    const file = await model.takeUnread(c.db, id, t)
    if (!file) return
    const { hash, report: before } = file
    const report: FileReport = { titles: 0, left: 0, problems: [], problemsInAll: 0 }
    for (const part of kbartParts(decodeText(await readBlob(c.db, hash)).text)) {
      const { holdings, problems, refused } = await inThread('holdings', part)
      // a page to sign in, say, where a file stood: what the file said stands
      if (refused && before?.titles) return model.keepReport(c.db, id, hash, { ...before, newer: refused }, t)
      if (part.skipped === 0) await model.dropLines(c.db, id, t)
      await model.addLines(c.db, id, holdings, h => holdingKeys(h).map(numberOf), t)
      // what is wrong with the header is said by every piece
      const fresh = problems.filter(p => part.skipped === 0 || p.line > part.skipped)
      report.titles += holdings.length
      report.left += fresh.filter(p => p.leftOut).length
      report.problemsInAll += fresh.length
      report.problems.push(...fresh.slice(0, PROBLEMS - report.problems.length))
      if (refused) report.refused = refused
    }
    await model.keepReport(c.db, id, hash, report, t)
  })
}

/** A key as a number of 32 bits: where two meet by chance, a line is looked at in vain. */
const numberOf = (key: string): number => parseInt(hashOf(key).slice(0, 8), 16)

/** A name for the libraries of an inquiry and their files as they are read now, by which it is seen that they changed. */
export async function holdingsStamp(c: Context, inquiryId: number): Promise<string> {
  const libraries = await librariesOf(c, inquiryId)
  const files = await keptFiles(c, libraries)
  return files.length
    ? hashOf([...libraries.map(l => `${l.key} ${l.name}`), ...files.map(f => f.readHash)].join()).slice(0, 16)
    : ''
}

/**
 * The libraries of an inquiry as far as they speak of some items, from what is kept; nothing is asked of the outside.
 * A library without a kept file is not among them.
 */
export async function profilesFor(c: Context, inquiryId: number, items: Iterable<Partial<Item>>): Promise<Profile[]> {
  const libraries = await librariesOf(c, inquiryId)
  const files = await keptFiles(c, libraries)
  if (!files.length) return []
  const keys = new Set<number>()
  for (const item of items) for (const key of itemKeys(item)) keys.add(numberOf(key))
  const lines = await model.linesUnder(
    c,
    files.filter(f => f.readHash).map(f => f.id),
    [...keys],
  )
  return libraries.flatMap(library => profileOf(library, files, lines))
}

/** A library by those of the kept files that are its own. */
function profileOf(library: Library, files: readonly KeptFile[], lines: ReadonlyMap<number, Holding[]>): Profile[] {
  const called = new Map(library.holdings.map(f => [f.address, fileName(f)]))
  const own = files.filter(f => called.has(f.address))
  if (!own.length) return []
  const unreadOf = ({ address, readHash, report }: KeptFile): string[] => {
    if (!readHash) return [`${called.get(address)}: it is being read.`]
    return report?.refused ? [`${called.get(address)}: ${report.refused}`] : []
  }
  return [
    {
      ...{ key: library.key, name: library.name },
      door: library.gate ? (library.gate.manner === 'form' ? 'gate' : 'window') : 'none',
      holdings: own.flatMap(f => lines.get(f.id) ?? []),
      unread: own.flatMap(unreadOf),
    },
  ]
}

/** Fetches all files of a library anew, when somebody asked for it. */
export async function runHoldings(c: Context, { job }: JobHandle): Promise<Record<string, unknown>> {
  const library = (await librariesFor(c, job.userId!)).find(l => l.key === job.payload.library)
  if (!library) throw new Problem(404, 'gone', 'The library is gone.')
  return { missing: (await refreshHoldings(c, [library], { anew: true })) ?? null }
}

/** The last fetching of a library's files that somebody asked for. */
const lastFetching = (c: Context, key: string, transaction?: Transaction) =>
  c.db.jobs.findOne({
    where: { kind: 'holdings', payload: { library: key } },
    order: [['id', 'DESC']],
    raw: true,
    ...(transaction ? { transaction, lock: transaction.LOCK.UPDATE } : {}),
  })
const isUnderWay = (job: { state: string } | null): boolean => job?.state === 'queued' || job?.state === 'running'

/**
 * Has the files of a library fetched again, unless that is under way.
 * @param o.changed the library has other files by now, of which one that is running may know nothing
 */
export async function fetchHoldings(
  c: Context,
  userId: number,
  { key }: Pick<Library, 'key'>,
  t: Transaction,
  { changed = false } = {},
): Promise<{ job: number }> {
  const last = await lastFetching(c, key, t)
  const suffices = changed ? last?.state === 'queued' : isUnderWay(last)
  return { job: last && suffices ? last.id : await enqueue(c, 'holdings', null, userId, { library: key }, t) }
}

/** What is known of the holdings of a library, file by file. */
export async function holdingsOf(c: Context, library: Library): Promise<Answer<'library'>['holdings']> {
  // asked first: what has ended since is told of its files, and not the other way round
  const last = await lastFetching(c, library.key)
  const kept = new Map((await filesOf(c, [library])).map(f => [f.address, f]))
  const missing = last?.state === 'done' ? (last.result as { missing?: string | null } | null)?.missing : undefined
  return {
    fetching: isUnderWay(last),
    trouble: missing ?? (last?.state === 'failed' ? (last.error ?? 'The files could not be fetched.') : null),
    files: library.holdings.map(of => {
      const file = kept.get(of.address)
      return {
        name: fileName(of),
        address: of.address,
        isKept: Boolean(file),
        isRead: Boolean(file && file.readHash === file.hash),
        at: file?.at.toISOString() ?? null,
        report: file?.report ?? null,
      }
    }),
  }
}

/** What the files of a library say of a title, each line in a sentence. */
export async function titleInFiles(c: Context, library: Library, item: Item): Promise<string[]> {
  const files = await filesOf(c, [library])
  const read = files.filter(f => f.readHash).map(f => f.id)
  const lines = await model.linesUnder(c, read, itemKeys(item).map(numberOf))
  const [profile] = profileOf(library, files, lines)
  if (!profile && library.shelf && !library.holdings.length) return []
  if (!profile) return [`No file of ${library.name} was read yet, so that nobody can say what it holds.`]
  const answers = decideTitle(item, linesFor(item, profile.holdings), await deskDay(c.db))
  if (answers.length) return answers.map(a => a.said)
  return [profile.unread?.length ? notKnown(profile) : `No line of the files of ${library.name} names it.`]
}
