import { hashOf } from '../base/hash'
import { QueryTypes, type Transaction } from 'sequelize'
import type { Db } from '../base/context'

/** Bytes of a chunk: far below what a server takes in one statement, and what a standard dump writes into one line. */
const CHUNK = 1_000_000

/** Tables of which a row keeps the bytes that it names from being taken away. */
const HOLDERS = ['imports', 'copies', 'uploads', 'holdings_files', 'vocabularies']
const HELD = HOLDERS.map(table => `EXISTS (SELECT 1 FROM ${table} h WHERE h.hash = blobs.hash)`).join(' OR ')

/**
 * Stores bytes under their SHA-256, in chunks, in the transaction of the fact they belong to. Storing twice is once.
 */
export async function storeBlob(db: Db, bytes: Buffer, mediaType: string, transaction: Transaction): Promise<string> {
  const hash = hashOf(bytes)
  // the row stays locked until the fact is there too, so that bytes nobody held are not taken away between
  const [, changed] = await db.sequelize.query(
    'INSERT INTO blobs (hash, size, media_type) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE hash = VALUES(hash)',
    { type: QueryTypes.INSERT, replacements: [hash, bytes.length, mediaType], transaction },
  )
  if (changed !== 1) return hash
  for (let n = 0; n * CHUNK < bytes.length; n++) {
    await db.sequelize.query('INSERT INTO blob_chunks (hash, n, bytes) VALUES (?, ?, ?)', {
      replacements: [hash, n, bytes.subarray(n * CHUNK, (n + 1) * CHUNK)],
      transaction,
    })
  }
  return hash
}

export async function sizesOfBlobs(db: Db, hashes: readonly string[]): Promise<ReadonlyMap<string, number>> {
  if (!hashes.length) return new Map()
  const rows = await db.sequelize.query<{ hash: string; size: number }>(
    'SELECT hash, size FROM blobs WHERE hash IN (:hashes)',
    { type: QueryTypes.SELECT, replacements: { hashes } },
  )
  return new Map(rows.map(r => [r.hash, r.size]))
}

export async function sizeOfBlob(db: Db, hash: string): Promise<number> {
  const [row] = await db.sequelize.query<{ size: number }>('SELECT size FROM blobs WHERE hash = ?', {
    type: QueryTypes.SELECT,
    replacements: [hash],
  })
  return row?.size ?? 0
}

/**
 * The bytes from one place up to another, which is not among them; all of them where neither is given. Only the chunks
 * that have some of them are read.
 */
export async function readBlob(db: Db, hash: string, from = 0, to = Infinity): Promise<Buffer> {
  const first = Math.floor(from / CHUNK)
  const last = Number.isFinite(to) ? Math.max(first, Math.ceil(to / CHUNK) - 1) : 0xffffffff
  const rows = await db.sequelize.query<{ bytes: Buffer }>(
    'SELECT bytes FROM blob_chunks WHERE hash = ? AND n BETWEEN ? AND ? ORDER BY n',
    { type: QueryTypes.SELECT, replacements: [hash, first, last] },
  )
  const bytes = Buffer.concat(rows.map(r => r.bytes))
  return Number.isFinite(to) || from ? bytes.subarray(from - first * CHUNK, to - first * CHUNK) : bytes
}

/** The bytes chunk by chunk, so that no more than one is held. @throws Error where some are missing */
export async function* partsOfBlob(db: Db, hash: string): AsyncGenerator<Buffer> {
  const size = await sizeOfBlob(db, hash)
  for (let from = 0; from < size; from += CHUNK) {
    const part = await readBlob(db, hash, from, Math.min(size, from + CHUNK))
    if (!part.length) throw new Error(`The file ${hash} is not whole: its bytes end at ${from} of ${size}.`)
    yield part
  }
}

/** Takes away bytes that nothing holds any more, among some or all. @returns how many files and bytes that freed */
export async function dropOrphans(
  db: Db,
  among?: readonly string[],
  transaction?: Transaction,
): Promise<{ files: number; bytes: number }> {
  if (among && !among.length) return { files: 0, bytes: 0 }
  const some = among ? 'AND hash IN (:among)' : ''
  const options = { replacements: { among }, ...(transaction ? { transaction } : {}) }
  const found = await db.sequelize.query<{ hash: string; size: number }>(
    `SELECT hash, size FROM blobs WHERE NOT (${HELD}) ${some}`,
    { type: QueryTypes.SELECT, ...options },
  )
  const freed = { files: 0, bytes: 0 }
  for (const { hash, size } of found) {
    // looked at again under its lock: somebody may be storing the same bytes just now
    const gone = await db.sequelize.query(`DELETE FROM blobs WHERE hash = :hash AND NOT (${HELD})`, {
      type: QueryTypes.BULKDELETE,
      replacements: { hash },
      ...(transaction ? { transaction } : {}),
    })
    if (!gone) continue
    freed.files++
    freed.bytes += size
  }
  return freed
}
