import { QueryTypes, type Transaction } from 'sequelize'
import type { DataLink, Grant } from '../../core/bib/item'
import type { Follow } from '../../core/schema/api/follow'
import type { Context } from '../base/context'
import { readJson } from '../db/rows'
import { day, describeTable, key, orNull, ownId, whole, word, type RowOf, type Table } from '../db/table'

/** An author, a grant or the data of a work, for which others were asked. */
export const follows = describeTable('follows', {
  id: ownId(),
  inquiryId: whole(),
  what: word<Follow>(),
  /** The identifier of the author, the bare number of the grant, the DOI of the work. */
  subject: word(),
  /** Who was asked. */
  source: word(),
  /** Works that they have, and those that were read. */
  total: whole(),
  got: whole(),
  trouble: orNull(word()),
  /** The day of the desk. */
  day: day(),
})
export type FollowRow = RowOf<typeof follows>

/** What was found. */
export const followHits = describeTable('follow_hits', { followId: key(), nodeId: key() })
export type FollowHitRow = RowOf<typeof followHits>

declare module '../base/context' {
  interface Db {
    follows: Table<FollowRow>
    followHits: Table<FollowHitRow>
  }
}

/** What was found of a subject, by node. */
export async function hitsOf(
  c: Context,
  inquiryId: number,
  what: Follow,
  subjects: readonly string[],
): Promise<{ asked: FollowRow[]; nodes: number[] }> {
  if (!subjects.length) return { asked: [], nodes: [] }
  const asked = await c.db.follows.findAll({ where: { inquiryId, what, subject: [...subjects] }, raw: true })
  const hits = await c.db.followHits.findAll({ where: { followId: asked.map(a => a.id) }, raw: true })
  return { asked, nodes: [...new Set(hits.map(h => h.nodeId))] }
}

/** Keeps what others said last of a subject, in place of what they said before. */
export async function keepFollow(
  c: Context,
  row: Omit<FollowRow, 'id'>,
  nodes: readonly number[],
  t: Transaction,
): Promise<void> {
  const { inquiryId, what, subject } = row
  await c.db.follows.destroy({ where: { inquiryId, what, subject }, transaction: t })
  const { id: followId } = await c.db.follows.create(row, { transaction: t })
  await c.db.followHits.bulkCreate(
    nodes.map(nodeId => ({ followId, nodeId })),
    { transaction: t },
  )
}

/** Of works and of nodes: those whose sources name any grant. */
export async function grantsAround(
  c: Context,
  inquiryId: number,
): Promise<{ works: { id: number; grants: Grant[] }[]; nodes: { id: number; grants: Grant[] }[] }> {
  const ask = async (from: string) => {
    const rows = await c.db.sequelize.query<{ id: number; grants: string | Grant[] }>(
      `SELECT id, JSON_EXTRACT(facts, '$.grants') AS grants FROM ${from} AND JSON_EXTRACT(facts, '$.grants') IS NOT NULL`,
      { type: QueryTypes.SELECT, replacements: { inquiryId } },
    )
    return rows.map(r => ({ id: r.id, grants: readJson(r.grants) })).sort((a, b) => a.id - b.id)
  }
  return {
    works: await ask('works WHERE inquiry_id = :inquiryId AND successor_id IS NULL'),
    nodes: await ask('nodes WHERE inquiry_id = :inquiryId'),
  }
}

/** Works of the pool that say of themselves that they are data behind others, or that have data. */
export async function dataInPool(
  c: Context,
  inquiryId: number,
): Promise<{ id: number; doi: string | null; data: DataLink[]; dataOf: string[] }[]> {
  const rows = await c.db.sequelize.query<{
    id: number
    doi: string | null
    data: string | DataLink[] | null
    of: string | string[] | null
  }>(
    `SELECT id, JSON_VALUE(item, '$.DOI') AS doi, JSON_EXTRACT(facts, '$.data') AS data, JSON_EXTRACT(facts, '$.dataOf') AS \`of\`
     FROM works WHERE inquiry_id = :inquiryId AND successor_id IS NULL
       AND (JSON_EXTRACT(facts, '$.dataOf') IS NOT NULL OR JSON_EXTRACT(facts, '$.data') IS NOT NULL)`,
    { type: QueryTypes.SELECT, replacements: { inquiryId } },
  )
  return rows.map(r => ({
    id: r.id,
    doi: r.doi,
    data: r.data === null ? [] : readJson(r.data),
    dataOf: r.of === null ? [] : readJson(r.of),
  }))
}
