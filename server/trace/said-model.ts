import { QueryTypes } from 'sequelize'
import type { Item } from '../../core/bib/item'
import type { Context } from '../base/context'
import type { CopyReferenceRow } from '../copies/copies-model'
import { readJson } from '../db/rows'

/** What entries of lists are looked through for: one of these words, and one of these years; or the DOI. */
export interface LooksLike {
  doi: string | null
  name: string | null
  years: readonly number[]
}

/** Entries read at most; a name and a year narrow tens of thousands to tens. */
const MOST = 5000

/** Entries of the lists of copies which may mean a work; not of the work’s own copies. */
export async function entriesLike(
  c: Context,
  inquiryId: number,
  work: number,
  { doi, name, years }: LooksLike,
): Promise<Pick<CopyReferenceRow, 'copyId' | 'n' | 'text' | 'item'>[]> {
  // what the pattern means by itself is meant as it stands
  const within = (s: string) => `%${s.replace(/[\\%_]/g, '\\$&')}%`
  const named = [
    name ? 'r.text LIKE :name' : '',
    years.length ? `(${years.map((_, i) => `r.text LIKE :year${i}`).join(' OR ')})` : '',
  ].filter(Boolean)
  const likely = [named.join(' AND '), doi ? 'r.text LIKE :doi' : ''].filter(Boolean)
  if (!likely.length) return []
  const rows = await c.db.sequelize.query<
    Pick<CopyReferenceRow, 'copyId' | 'n' | 'text'> & { item: string | Partial<Item> }
  >(
    `SELECT r.copy_id AS copyId, r.n, r.text, r.item FROM copies k JOIN copy_references r ON r.copy_id = k.id
     WHERE k.inquiry_id = :inquiryId AND k.work_id <> :work AND k.outcome <> 'not this work'
       AND (${likely.map(l => `(${l})`).join(' OR ')}) ORDER BY r.copy_id, r.n LIMIT ${MOST}`,
    {
      type: QueryTypes.SELECT,
      replacements: {
        ...{ inquiryId, work, name: within(name ?? ''), doi: within(doi ?? '') },
        ...Object.fromEntries(years.map((y, i) => [`year${i}`, within(String(y))])),
      },
    },
  )
  return rows.map(r => ({ ...r, item: readJson(r.item) }))
}

/** What somebody said that entries of copies mean: entries of these works’ nodes, and entries that mean another work. */
export async function entriesByHand(
  c: Context,
  inquiryId: number,
  nodes: readonly number[],
): Promise<{ copyId: number; n: number; isIt: boolean }[]> {
  const rows = await c.db.sequelize.query<{ copyId: number; n: number; node: number | null }>(
    `SELECT l.copy_id AS copyId, e.n, e.node_id AS node FROM lists l JOIN list_entries e ON e.list_id = l.id
     WHERE l.inquiry_id = :inquiryId AND l.copy_id IS NOT NULL AND e.by_hand = 1`,
    { type: QueryTypes.SELECT, replacements: { inquiryId } },
  )
  return rows.map(({ copyId, n, node }) => ({ copyId, n, isIt: node !== null && nodes.includes(node) }))
}

/** The nodes that cite one of these, whoever says so. */
export async function citingNodes(c: Context, inquiryId: number, nodes: readonly number[]): Promise<number[]> {
  if (!nodes.length) return []
  const rows = await c.db.citations.findAll({
    where: { inquiryId, cited: [...nodes] },
    attributes: ['citing'],
    group: ['citing'],
    raw: true,
  })
  return rows.map(r => r.citing)
}
