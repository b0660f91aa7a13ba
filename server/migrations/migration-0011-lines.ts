import { QueryTypes, type Sequelize } from 'sequelize'
import type { Facts, Item } from '../../core/bib/item'
import { lineFacts } from '../../core/sift/line'

/** What a list shows of a work, kept ready beside its description. */
export const lines: string[] = [
  'ALTER TABLE works ADD COLUMN IF NOT EXISTS line JSON NULL',
  // a value of reach has another name
  `UPDATE pool_views SET limits = REPLACE(limits, '"not looked up"', '"not asked"')`,
]

/** Fills it for works that were described before. */
export async function fillLines(sequelize: Sequelize): Promise<void> {
  const read = <T>(v: unknown) => (typeof v === 'string' ? JSON.parse(v) : v) as T
  for (;;) {
    const works = await sequelize.query<{ id: number; item: unknown; facts: unknown }>(
      'SELECT id, item, facts FROM works WHERE line IS NULL LIMIT 500',
      { type: QueryTypes.SELECT },
    )
    if (!works.length) return
    for (const w of works)
      await sequelize.query('UPDATE works SET line = ? WHERE id = ?', {
        replacements: [JSON.stringify(lineFacts(read<Item>(w.item), read<Facts>(w.facts))), w.id],
      })
  }
}
