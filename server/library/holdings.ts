import { holdingKeys, itemKeys } from '../../core/access/coverage'
import type { Profile } from '../../core/access/profile'
import type { Item } from '../../core/bib/item'
import type { Answer } from '../../core/schema/api'
import { kbartParts } from '../../core/formats/kbart'
import type { Transaction } from 'sequelize'
import { OutsideError, requireSuccess } from '../connect/http'
import type { Context, Db } from '../base/context'
import { inTransaction } from '../db/transaction'
import { readBlob, storeBlob } from '../db/blobs'
import { enqueue } from '../jobs/queue'
import { inThread } from '../threads/threads'
import { decodeText } from '../base/decode'
import { hashOf } from '../base/hash'
import * as model from './holdings-model'
import type { FileReport, KeptFile } from './holdings-model'

const filesOf = (c: Context): Promise<KeptFile[]> => model.holdingsFiles(c, c.settings.outside.library.holdings)

/** For so many milliseconds an answer holds: every list asks which files are kept, and they change once a day. */
const HOLDS = 1000
const asked = new WeakMap<Db, { at: number; files: Promise<KeptFile[]> }>()
function keptFiles(c: Context): Promise<KeptFile[]> {
  const have = asked.get(c.db)
  if (have && Date.now() - have.at < HOLDS) return have.files
  const files = filesOf(c)
  files.catch(() => asked.delete(c.db))
  asked.set(c.db, { at: Date.now(), files })
  return files
}

/**
 * Fetches the holdings files of the home library that are missing or old, and reads what was not read yet, as a part of
 * some job; where the library is away those that are kept stand.
 * @param o.anew also those that are not old
 * @returns what is missing altogether, in a sentence
 */
export async function refreshHoldings(c: Context, { anew = false } = {}): Promise<string | undefined> {
  const { name, holdings: addresses } = c.settings.outside.library
  const kept = new Map((await filesOf(c)).map(f => [f.address, f]))
  const missing: string[] = []
  for (const address of addresses) {
    const have = kept.get(address)
    if (have && !have.old && !anew) continue
    try {
      const { body } = requireSuccess(await c.outside(address, { maxBytes: LARGEST_FILE }))
      await inTransaction(c.db.sequelize, async t =>
        model.keepFile(c.db, address, await storeBlob(c.db, body, 'text/tab-separated-values', t), t),
      )
    } catch (e) {
      if (!(e instanceof OutsideError)) throw e
      if (!have) missing.push(e.message)
    }
  }
  for (const file of await filesOf(c)) if (file.readHash !== file.hash) await readFile(c, file.id)
  asked.delete(c.db)
  return missing.length
    ? `${missing.length} of ${addresses.length} holdings files of ${name} could not be read: ${missing[0]}`
    : undefined
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

/** A name for the files of the home library as they are read now, by which it is seen that they changed. */
export async function holdingsStamp(c: Context): Promise<string> {
  const files = await keptFiles(c)
  return files.length
    ? hashOf([c.settings.outside.library.name, ...files.map(f => f.readHash)].join()).slice(0, 16)
    : ''
}

/**
 * The home library as far as it speaks of some items, from what is kept; nothing is asked of the outside. Without a kept
 * file there is no profile.
 */
export async function profilesFor(c: Context, items: Iterable<Partial<Item>>): Promise<Profile[]> {
  const files = await keptFiles(c)
  if (!files.length) return []
  const keys = new Set<number>()
  for (const item of items) for (const key of itemKeys(item)) keys.add(numberOf(key))
  const holdings = await model.linesUnder(
    c,
    files.filter(f => f.readHash).map(f => f.id),
    [...keys],
  )
  return [{ name: c.settings.outside.library.name, holdings, unread: files.flatMap(unreadOf) }]
}
const unreadOf = ({ address, readHash, report }: KeptFile): string[] => {
  if (!readHash) return [`${fileName(address)}: it is being read.`]
  return report?.refused ? [`${fileName(address)}: ${report.refused}`] : []
}
const fileName = (address: string): string => address.split('/').at(-1) || address

/** Fetches all files anew, when somebody asked for it. */
export const runHoldings = async (c: Context): Promise<Record<string, unknown>> => ({
  missing: (await refreshHoldings(c, { anew: true })) ?? null,
})

/** Has the files fetched again, unless that is under way. */
export async function fetchHoldings(c: Context, userId: number, t: Transaction): Promise<{ job: number }> {
  const under = await c.db.jobs.findOne({ where: { kind: 'holdings', state: ['queued', 'running'] }, transaction: t })
  return { job: under?.id ?? (await enqueue(c, 'holdings', null, userId, {}, t)) }
}

/** What is known of the home library, file by file. */
export async function holdingsOf(c: Context): Promise<Answer<'holdings'>> {
  const { name, holdings: addresses } = c.settings.outside.library
  const kept = new Map((await filesOf(c)).map(f => [f.address, f]))
  const last = await c.db.jobs.findOne({ where: { kind: 'holdings' }, order: [['id', 'DESC']], raw: true })
  const missing = last?.state === 'done' ? (last.result as { missing?: string | null } | null)?.missing : undefined
  return {
    library: name,
    fetching: last?.state === 'queued' || last?.state === 'running',
    trouble: missing ?? (last?.state === 'failed' ? (last.error ?? 'The files could not be fetched.') : null),
    files: addresses.map(address => {
      const file = kept.get(address)
      return {
        name: fileName(address),
        address,
        isKept: Boolean(file),
        isRead: Boolean(file && file.readHash === file.hash),
        report: file?.report ?? null,
      }
    }),
  }
}
