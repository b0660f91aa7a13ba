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

/** Works of the pool or nodes of the graph, by their numbers. */
export async function signedIn(
  c: Context,
  inquiryId: number,
  table: 'works' | 'nodes',
  ids: readonly number[],
): Promise<Signed[]> {
  if (!ids.length) return []
  const options = { where: { inquiryId, id: [...ids] }, attributes: ['id', 'item', 'facts'], raw: true as const }
  const rows = await (table === 'works' ? c.db.works.findAll(options) : c.db.nodes.findAll(options))
  return rows.map(({ id, item, facts }) => ({ id, item, facts })).sort((a, b) => a.id - b.id)
}

/**
 * Works of the pool, and nodes of the graph, among whose authors or editors a name may be, accents and case aside; or that
 * name somebody by an identifier.
 */
export async function signedBy(
  c: Context,
  inquiryId: number,
  family: string,
  id?: string,
): Promise<{ works: Signed[]; nodes: Signed[] }> {
  // a name within another is told apart by whoever reads them; what a pattern means by itself is meant as it stands
  const name = `%${family.replace(/[\\%_]/g, '\\$&')}%`
  const named = `COALESCE(JSON_EXTRACT(item, '$.author'), JSON_EXTRACT(item, '$.editor')) COLLATE utf8mb4_unicode_ci LIKE :name`
  const ask = async (from: string): Promise<Signed[]> => {
    const rows = await c.db.sequelize.query<{ id: number; item: string | Item; facts: string | Facts }>(
      `SELECT id, item, facts FROM ${from} AND (${named}${id ? ' OR facts LIKE :id' : ''}) LIMIT ${MOST}`,
      { type: QueryTypes.SELECT, replacements: { inquiryId, name, id: `%${id}%` } },
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
