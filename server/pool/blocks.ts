import { Op, type Transaction } from 'sequelize'
import type { Item } from '../../core/bib/item'
import { BLOCK, blockKeys, identifierKeys } from '../../core/match/blocks'
import { identifiersOf, prepare } from '../../core/match/prepare'
import type { MatchRecord } from '../../core/match/records'
import type { Context } from '../base/context'
import { addMissing } from '../db/rows'
import { describeTable, key, type RowOf, type Table } from '../db/table'

/** A record stands in a block: with all others of the pool that have this key, of which the first thirty are kept. */
export const blocks = describeTable('blocks', {
  inquiryId: key(),
  /** 30 bits; see `blockKeys`. */
  block: key(),
  recordId: key(),
})
export type BlockRow = RowOf<typeof blocks>

declare module '../base/context' {
  interface Db {
    blocks: Table<BlockRow>
  }
}

/** Keys of one statement. */
const KEYS = 10_000

async function blocksOf(
  c: Pick<Context, 'db'>,
  inquiryId: number,
  keys: readonly number[],
  t?: Transaction,
): Promise<BlockRow[]> {
  const rows: BlockRow[] = []
  for (let i = 0; i < keys.length; i += KEYS)
    rows.push(
      ...(await c.db.blocks.findAll({
        where: { inquiryId, block: { [Op.in]: keys.slice(i, i + KEYS) } },
        raw: true,
        ...(t ? { transaction: t } : {}),
      })),
    )
  return rows
}

/**
 * Puts records into their blocks.
 * @returns ids of the records that were there before and share a block with one of these
 */
export async function enterBlocks(
  c: Pick<Context, 'db'>,
  inquiryId: number,
  records: readonly MatchRecord[],
  t: Transaction,
): Promise<number[]> {
  const keysOf = records.map(r => ({ id: r.id, keys: [...new Set(blockKeys(prepare(r)))] }))
  const there = await blocksOf(c, inquiryId, [...new Set(keysOf.flatMap(k => k.keys))], t)
  const size = new Map<number, number>()
  for (const b of there) size.set(b.block, (size.get(b.block) ?? 0) + 1)
  const rows: BlockRow[] = []
  for (const { id, keys } of keysOf)
    for (const block of keys) {
      const n = size.get(block) ?? 0
      if (n >= BLOCK) continue
      size.set(block, n + 1)
      rows.push({ inquiryId, block, recordId: id })
    }
  await addMissing(c.db.blocks, rows, 'block', t)
  const own = new Set(records.map(r => r.id))
  return [...new Set(there.map(b => b.recordId))].filter(id => !own.has(id))
}

/** Tells of items which work of the pool each is, by its identifiers. @returns undefined for those that are in none */
export async function worksByIdentifier(
  c: Pick<Context, 'db'>,
  inquiryId: number,
  items: readonly Item[],
): Promise<(number | undefined)[]> {
  const named = (item: Item): string[] => {
    const { doi, isbns } = identifiersOf(item)
    return doi ? [doi, ...isbns] : isbns
  }
  const keys = new Set(items.flatMap(i => identifierKeys(identifiersOf(i))))
  const met = await blocksOf(c, inquiryId, [...keys])
  const records = await c.db.records.findAll({
    where: { id: [...new Set(met.map(b => b.recordId))], workId: { [Op.ne]: null } },
    attributes: ['item', 'workId'],
    raw: true,
  })
  // two identifiers may have one key
  const workOf = new Map(records.flatMap(r => named(r.item).map(k => [k, r.workId!] as const)))
  return items.map(i =>
    named(i)
      .map(k => workOf.get(k))
      .find(w => w !== undefined),
  )
}
