import { QueryTypes, type Sequelize } from 'sequelize'
import type { Facts, Item } from '../../core/bib/item'
import { blocks as table, enterBlocks } from '../pool/blocks'
import { modelOf } from '../db/table'

/** The blocks in which records meet, so that one more is compared with its like and not with the whole pool. */
export const blocks: string[] = [
  `CREATE TABLE IF NOT EXISTS blocks (inquiry_id INT UNSIGNED NOT NULL, block INT UNSIGNED NOT NULL, record_id INT UNSIGNED NOT NULL, PRIMARY KEY (inquiry_id, block, record_id), KEY by_record (record_id),
   CONSTRAINT block_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE, CONSTRAINT block_record FOREIGN KEY (record_id) REFERENCES records (id) ON DELETE CASCADE) ENGINE=InnoDB`,
]

/** Enters the records that are in pools already, in the order in which they came. */
export async function fillBlocks(sequelize: Sequelize): Promise<void> {
  const db = { sequelize, blocks: modelOf(sequelize, table) } as unknown as Parameters<typeof enterBlocks>[0]['db']
  const read = <T>(v: unknown) => (typeof v === 'string' ? JSON.parse(v) : v) as T
  for (let after = 0; ;) {
    const rows = await sequelize.query<{ id: number; inquiryId: number; item: unknown; facts: unknown }>(
      'SELECT id, inquiry_id AS inquiryId, item, facts FROM records WHERE work_id IS NOT NULL AND id > ? ORDER BY id LIMIT 500',
      { type: QueryTypes.SELECT, replacements: [after] },
    )
    if (!rows.length) return
    for (const inquiryId of new Set(rows.map(r => r.inquiryId))) {
      const its = rows.filter(r => r.inquiryId === inquiryId)
      await sequelize.transaction(t =>
        enterBlocks(
          { db },
          inquiryId,
          its.map(r => ({ id: r.id, item: read<Item>(r.item), facts: read<Facts>(r.facts) })),
          t,
        ),
      )
    }
    after = rows.at(-1)!.id
  }
}
