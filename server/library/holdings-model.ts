import { QueryTypes, type Transaction } from 'sequelize'
import type { Holding } from '../../core/formats/kbart'
import type { Context, Db } from '../base/context'
import { readJson, inParts } from '../db/rows'

/** What was read of a holdings file. */
export interface FileReport {
  /** Lines that name a title. */
  titles: number
  /** Lines that were left out. */
  left: number
  /** What was read otherwise than it stands, or left out: the first of them. */
  problems: { line: number; said: string }[]
  /** All of them. */
  problemsInAll: number
  /** Why nothing could be read. */
  refused?: string
  /** Why a newer file could not be read: this is of the one before. */
  newer?: string
}

export interface KeptFile {
  id: number
  address: string
  hash: string
  at: Date
  /** What its lines are of; another than `hash` while a newer file is being read. */
  readHash: string | null
  report: FileReport | null
  /** Whether it is so old that the library is asked again. */
  old: boolean
}

/** After so long the files of a library are fetched again. */
const OLD = 'INTERVAL 1 DAY'

export async function holdingsFiles({ db }: Pick<Context, 'db'>, addresses: readonly string[]): Promise<KeptFile[]> {
  if (!addresses.length) return []
  const rows = await db.sequelize.query<
    Omit<KeptFile, 'old' | 'report'> & { old: number; report: FileReport | string | null }
  >(
    `SELECT id, address, hash, at, read_hash AS readHash, report, at < NOW(3) - ${OLD} AS old FROM holdings_files
     WHERE address IN (:addresses) ORDER BY address`,
    { type: QueryTypes.SELECT, replacements: { addresses } },
  )
  return rows.map(r => ({
    ...r,
    at: new Date(r.at),
    old: Boolean(r.old),
    report: readJson<FileReport | null>(r.report),
  }))
}

/** Keeps a file as it was fetched now; what was read of it before stands until it is read. */
export async function keepFile(db: Db, address: string, hash: string, transaction: Transaction): Promise<void> {
  await db.sequelize.query(
    'INSERT INTO holdings_files (address, hash) VALUES (?, ?) ON DUPLICATE KEY UPDATE hash = VALUES(hash), at = NOW(3)',
    { replacements: [address, hash], transaction },
  )
}

/** Takes a file that is still to be read; nothing where it is read already, or another process is at it. */
export async function takeUnread(
  db: Db,
  id: number,
  transaction: Transaction,
): Promise<{ hash: string; report: FileReport | null } | undefined> {
  const [row] = await db.sequelize.query<{ hash: string; report: FileReport | string | null }>(
    'SELECT hash, report FROM holdings_files WHERE id = ? AND NOT read_hash <=> hash FOR UPDATE SKIP LOCKED',
    { type: QueryTypes.SELECT, replacements: [id], transaction },
  )
  return row && { hash: row.hash, report: readJson<FileReport | null>(row.report) }
}

export async function dropLines(db: Db, id: number, transaction: Transaction): Promise<void> {
  for (const table of ['holding_keys', 'holding_lines'])
    await db.sequelize.query(`DELETE FROM ${table} WHERE file_id = ?`, { replacements: [id], transaction })
}

/** @param keysOf numbers under which a line is found */
export async function addLines(
  db: Db,
  id: number,
  held: readonly Holding[],
  keysOf: (h: Holding) => readonly number[],
  transaction: Transaction,
): Promise<void> {
  const write = async (statement: string, rows: unknown[][]) => {
    for (const part of inParts(rows))
      await db.sequelize.query(`${statement} VALUES ${part.map(r => `(${r.map(() => '?').join()})`).join()}`, {
        replacements: part.flat(),
        transaction,
      })
  }
  await write(
    'INSERT INTO holding_lines (file_id, line, held)',
    held.map(h => [id, h.line, JSON.stringify(h)]),
  )
  await write(
    'INSERT IGNORE INTO holding_keys (file_id, found, line)',
    held.flatMap(h => keysOf(h).map(k => [id, k, h.line])),
  )
}

export async function keepReport(
  db: Db,
  id: number,
  hash: string,
  report: FileReport,
  transaction: Transaction,
): Promise<void> {
  await db.sequelize.query('UPDATE holdings_files SET read_hash = ?, report = ? WHERE id = ?', {
    replacements: [hash, JSON.stringify(report), id],
    transaction,
  })
}

/** Keys of one statement. */
const KEYS = 5000

/** The lines of some files that are found under any of the keys, in their order, by their files. */
export async function linesUnder(
  { db }: Pick<Context, 'db'>,
  files: readonly number[],
  keys: readonly number[],
): Promise<Map<number, Holding[]>> {
  const seen = new Set<string>()
  const lines = new Map<number, Holding[]>()
  for (let i = 0; files.length && i < keys.length; i += KEYS) {
    const rows = await db.sequelize.query<{ file: number; line: number; held: Holding | string }>(
      `SELECT DISTINCT l.file_id AS file, l.line, l.held FROM holding_keys k
       JOIN holding_lines l ON l.file_id = k.file_id AND l.line = k.line
       WHERE k.file_id IN (:files) AND k.found IN (:keys) ORDER BY l.file_id, l.line`,
      { type: QueryTypes.SELECT, replacements: { files, keys: keys.slice(i, i + KEYS) } },
    )
    for (const r of rows) {
      const id = `${r.file} ${r.line}`
      if (seen.has(id)) continue
      seen.add(id)
      const own = lines.get(r.file)
      if (own) own.push(readJson<Holding>(r.held))
      else lines.set(r.file, [readJson<Holding>(r.held)])
    }
  }
  return lines
}
