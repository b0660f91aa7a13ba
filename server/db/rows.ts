import type { Model, ModelStatic, Transaction } from 'sequelize'

/** Bytes of one statement at most: a fourth of what a server takes by its standard settings. */
const STATEMENT = 4_000_000
const ROWS = 5000

/** Rows in parts that each fit into one statement. */
export function* inParts<T>(rows: readonly T[]): Generator<T[]> {
  let part: T[] = []
  let size = 0
  for (const row of rows) {
    const own = Buffer.byteLength(JSON.stringify(row))
    if (part.length && (part.length >= ROWS || size + own > STATEMENT)) {
      yield part
      part = []
      size = 0
    }
    part.push(row)
    size += own
  }
  if (part.length) yield part
}

/**
 * Adds rows; one that is there already by the table's key stays as it is. Whatever else the database refuses is an
 * error:
 * no row is left out in silence.
 * @param untouched a column that is the same in the row that is there, which its rewriting leaves as it was
 */
export async function addMissing<M extends Model>(
  table: ModelStatic<M>,
  rows: readonly object[],
  untouched: keyof M['_attributes'] & string,
  transaction: Transaction,
): Promise<void> {
  for (const part of inParts(rows))
    await table.bulkCreate(part as never[], { updateOnDuplicate: [untouched] as never, transaction })
}

/** An object or a list in an answer to raw SQL: the driver knows some columns of JSON as such. */
export const readJson = <T>(v: T | string): T => (typeof v === 'string' ? (JSON.parse(v) as T) : v)

/** Rows by what they are of. */
export function grouped<K, T>(rows: readonly T[], keyOf: (row: T) => K): Map<K, T[]> {
  const out = new Map<K, T[]>()
  for (const row of rows) {
    const of = out.get(keyOf(row))
    if (of) of.push(row)
    else out.set(keyOf(row), [row])
  }
  return out
}
