import { createHash } from 'node:crypto'
import { QueryTypes, type Transaction } from 'sequelize'
import type { Db } from '../db/models'

const CHUNK = 1_000_000

/** Stores bytes under their SHA-256, in chunks, in the transaction of the fact they belong to. Storing twice is once. */
export async function storeBlob(db: Db, bytes: Buffer, mediaType: string, transaction: Transaction): Promise<string> {
  const hash = createHash('sha256').update(bytes).digest('hex')
  const [, inserted] = await db.sequelize.query('INSERT IGNORE INTO blobs (hash, size, media_type) VALUES (?, ?, ?)', {
    type: QueryTypes.UPDATE,
    replacements: [hash, bytes.length, mediaType],
    transaction,
  })
  if (inserted) {
    for (let n = 0; n * CHUNK < bytes.length; n++) {
      await db.sequelize.query('INSERT INTO blob_chunks (hash, n, bytes) VALUES (?, ?, ?)', {
        replacements: [hash, n, bytes.subarray(n * CHUNK, (n + 1) * CHUNK)],
        transaction,
      })
    }
  }
  return hash
}

export async function readBlob(db: Db, hash: string): Promise<Buffer> {
  const rows = await db.sequelize.query<{ bytes: Buffer }>('SELECT bytes FROM blob_chunks WHERE hash = ? ORDER BY n', {
    type: QueryTypes.SELECT,
    replacements: [hash],
  })
  return Buffer.concat(rows.map(r => r.bytes))
}
