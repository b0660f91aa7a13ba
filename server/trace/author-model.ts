import { QueryTypes } from 'sequelize'
import type { Facts, Item } from '../../core/bib/item'
import type { Context } from '../base/context'
import { readJson } from '../db/rows'

/** A work of the pool or a node of the graph, with who wrote it. */
export interface Signed {
  id: number
  item: Item
  facts: Facts
}

/** Works and nodes with a name at most; a body may sign more. */
const MOST = 1000

/** Works of the pool, and nodes of the graph, among whose authors or editors a name may be; accents and case aside. */
export async function signedBy(
  c: Context,
  inquiryId: number,
  family: string,
): Promise<{ works: Signed[]; nodes: Signed[] }> {
  // a name within another is told apart by whoever reads them; what a pattern means by itself is meant as it stands
  const name = `%${family.replace(/[\\%_]/g, '\\$&')}%`
  const named = `COALESCE(JSON_EXTRACT(item, '$.author'), JSON_EXTRACT(item, '$.editor')) COLLATE utf8mb4_unicode_ci LIKE :name`
  const ask = async (from: string): Promise<Signed[]> => {
    const rows = await c.db.sequelize.query<{ id: number; item: string | Item; facts: string | Facts }>(
      `SELECT id, item, facts FROM ${from} AND ${named} LIMIT ${MOST}`,
      { type: QueryTypes.SELECT, replacements: { inquiryId, name } },
    )
    // ordered here: the database would walk through all works there are in their order
    rows.sort((a, b) => a.id - b.id)
    return rows.map(r => ({ id: r.id, item: readJson(r.item), facts: readJson(r.facts) }))
  }
  return {
    works: await ask('works WHERE inquiry_id = :inquiryId AND successor_id IS NULL'),
    nodes: await ask('nodes WHERE inquiry_id = :inquiryId'),
  }
}
