import { QueryTypes, type Transaction } from 'sequelize'
import type { OaiRecord } from '../../core/formats/oai'
import type { Db } from '../base/context'
import { hashOf } from '../base/hash'
import { inParts } from '../db/rows'

/** How far a repository is taken in. */
export interface Repository {
  source: string
  /** Where it is asked, with the set; another one begins anew. */
  address: string
  name: string
  prefix: string
  /** Whether its dates have the time of the day. */
  seconds: boolean
  deletes: 'persistent' | 'transient' | 'no'
  /** Counts the times it was gone through, to the end or not. */
  run: number
  /** Whether this run takes in everything, and not only what was changed. */
  whole: boolean
  /** Changes since when this run asks for. */
  since: string | null
  /** When this run began by the repository's clock; null between runs. */
  began: string | null
  token: string | null
  size: number | null
  /** Records of this run so far. */
  taken: number
  /** Records that came without a name or without metadata since it was gone through whole, and why the first. */
  lost: number
  lostWhy: string | null
  /** What was changed until then is here. */
  doneUntil: string | null
  doneDay: string | null
  wholeDay: string | null
}

const COLUMNS =
  'source, address, name, prefix, seconds, deletes, run, whole, since, began, token, size, taken, lost, lost_why AS lostWhy, done_until AS doneUntil, done_day AS doneDay, whole_day AS wholeDay'
const day = (d: string | null): string | null => d && String(d).slice(0, 10)

export async function repositoryOf(db: Db, source: string): Promise<Repository | undefined> {
  const [r] = await db.sequelize.query<Repository>(`SELECT ${COLUMNS} FROM repositories WHERE source = ?`, {
    type: QueryTypes.SELECT,
    replacements: [source],
  })
  if (!r) return undefined
  return {
    ...r,
    seconds: Boolean(r.seconds),
    whole: Boolean(r.whole),
    doneDay: day(r.doneDay),
    wholeDay: day(r.wholeDay),
  }
}

/** Begins with a repository, or anew; what was taken in of another address goes. */
export async function beginRepository(
  db: Db,
  r: Pick<Repository, 'source' | 'address' | 'name' | 'prefix' | 'seconds' | 'deletes'>,
): Promise<void> {
  await db.sequelize.transaction(async transaction => {
    await db.sequelize.query('DELETE FROM repositories WHERE source = ?', { replacements: [r.source], transaction })
    await db.sequelize.query(
      'INSERT INTO repositories (source, address, name, prefix, seconds, deletes) VALUES (?, ?, ?, ?, ?, ?)',
      { replacements: [r.source, r.address, r.name, r.prefix, r.seconds, r.deletes], transaction },
    )
  })
}

const NAMES: Partial<Record<keyof Repository, string>> = {
  lostWhy: 'lost_why',
  doneUntil: 'done_until',
  doneDay: 'done_day',
  wholeDay: 'whole_day',
}
export async function saveRepository(
  db: Db,
  source: string,
  values: Partial<Repository>,
  transaction?: Transaction,
): Promise<void> {
  const names = Object.keys(values) as (keyof Repository)[]
  await db.sequelize.query(
    `UPDATE repositories SET ${names.map(n => `${NAMES[n] ?? n} = :${n}`).join(', ')} WHERE source = :source`,
    { replacements: { ...values, source }, ...(transaction ? { transaction } : {}) },
  )
}

/** Keeps a page: what is new or changed, and no longer what was taken back. */
export async function keepRecords(
  db: Db,
  { source, run }: Pick<Repository, 'source' | 'run'>,
  records: readonly (OaiRecord & { read?: string; why?: string })[],
  transaction: Transaction,
): Promise<void> {
  const gone = records.filter(r => r.deleted).map(r => hashOf(r.identifier))
  if (gone.length)
    await db.sequelize.query('DELETE FROM repository_records WHERE source = :source AND identifier_hash IN (:gone)', {
      replacements: { source, gone },
      transaction,
    })
  const rows = records
    .filter(r => !r.deleted)
    .map(r => [source, hashOf(r.identifier), r.identifier.slice(0, 2000), r.raw, r.read ?? null, r.why ?? null, run])
  for (const part of inParts(rows))
    await db.sequelize.query(
      `INSERT INTO repository_records (source, identifier_hash, identifier, raw, read_as, why, run) VALUES ${part.map(() => '(?)').join(', ')}
       ON DUPLICATE KEY UPDATE raw = VALUES(raw), read_as = VALUES(read_as), why = VALUES(why), run = VALUES(run)`,
      { replacements: part, transaction },
    )
}

/** Takes out what the last run, which went through everything, did not meet. */
export async function dropUnmet(db: Db, { source, run }: Pick<Repository, 'source' | 'run'>, transaction: Transaction) {
  await db.sequelize.query('DELETE FROM repository_records WHERE source = ? AND run <> ?', {
    replacements: [source, run],
    transaction,
  })
}

/** How many records are here, how many of them cannot be read, and why the first of those. */
export async function countRecords(db: Db, source: string): Promise<{ all: number; unread: number; why?: string }> {
  const [row] = await db.sequelize.query<{ n: number; unread: number }>(
    'SELECT COUNT(*) AS n, COALESCE(SUM(read_as IS NULL), 0) AS unread FROM repository_records WHERE source = ?',
    { type: QueryTypes.SELECT, replacements: [source] },
  )
  const { n: all, unread } = row!
  const [first] = Number(unread)
    ? await db.sequelize.query<{ identifier: string; why: string }>(
        'SELECT identifier, why FROM repository_records WHERE source = ? AND read_as IS NULL ORDER BY id LIMIT 1',
        { type: QueryTypes.SELECT, replacements: [source] },
      )
    : []
  return { all: Number(all), unread: Number(unread), ...(first ? { why: `${first.identifier}: ${first.why}` } : {}) }
}

/** Records that could be read, in parts, those that came last first. */
export async function* readOf(db: Db, source: string, atOnce = 2000): AsyncGenerator<{ id: number; read: string }[]> {
  for (let before = 2 ** 32 - 1; ;) {
    const rows = await db.sequelize.query<{ id: number; read: string }>(
      `SELECT id, read_as AS 'read' FROM repository_records WHERE source = ? AND id < ? AND read_as IS NOT NULL
       ORDER BY id DESC LIMIT ?`,
      { type: QueryTypes.SELECT, replacements: [source, before, atOnce] },
    )
    if (!rows.length) return
    yield rows
    before = rows.at(-1)!.id
  }
}

/** Records as they came, in the order of their ids given. */
export async function recordsOf(db: Db, ids: readonly number[]): Promise<{ identifier: string; raw: string }[]> {
  if (!ids.length) return []
  return db.sequelize.query<{ identifier: string; raw: string }>(
    'SELECT identifier, raw FROM repository_records WHERE id IN (:ids) ORDER BY FIELD(id, :ids)',
    { type: QueryTypes.SELECT, replacements: { ids } },
  )
}
