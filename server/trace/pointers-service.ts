import { randomUUID } from 'node:crypto'
import type { Transaction } from 'sequelize'
import type { Answer } from '../../core/schema/api'
import type { Choice } from '../../core/sift/decisions'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { addMissing } from '../db/rows'
import type { By } from '../deeds/deeds-service'
import { decide } from '../pool/decisions'
import { pool } from '../pool/pool'
import { recordOf } from '../pool/record'
import { worksOfNodes } from './graph-model'

/**
 * Brings pointers into the pool; with a choice they are decided in the same write, so that one is never there without
 * the other. What was in the pool already is decided all the same.
 * @throws Problem 422 where one of them is not in the graph
 */
export async function bringPointers(
  c: Context,
  { inquiryId, userId, revision }: By,
  { nodes, group, choice }: { nodes: readonly number[]; group?: string | undefined; choice?: Choice | undefined },
  t: Transaction,
): Promise<Answer<'bringPointers'>> {
  const wanted = [...new Set(nodes)]
  const found = await c.db.nodes.findAll({ where: { inquiryId, id: wanted }, order: ['id'], transaction: t, raw: true })
  if (found.length < wanted.length)
    throw new Problem(422, 'unknown-pointer', 'One of these works is not in the graph of this inquiry.')
  const there = await worksOfNodes(c, inquiryId, wanted, t)
  const rows = found
    .filter(n => !there.has(n.id))
    .map(({ id, item, facts, nodeKey }) => {
      const given = { item, facts, raw: JSON.stringify({ item, facts }), format: 'CSL-JSON' }
      return { node: id, record: { inquiryId, source: 'trail', ...recordOf(given, nodeKey) } }
    })
  await addMissing(
    c.db.records,
    rows.map(r => r.record),
    'source',
    t,
  )
  const stored = await c.db.records.findAll({
    where: { inquiryId, source: 'trail', rawHash: rows.map(r => r.record.rawHash) },
    attributes: ['id', 'rawHash'],
    transaction: t,
    raw: true,
  })
  const ids = stored.map(s => s.id)
  const recordOfHash = new Map(stored.map(s => [s.rawHash, s.id]))
  // one without a DOI is found by its record
  for (const { node, record } of rows)
    if (!record.item.DOI)
      await c.db.nodes.update(
        { recordId: recordOfHash.get(record.rawHash) ?? null },
        { where: { id: node }, transaction: t },
      )
  const pooled = await pool(c, inquiryId, ids, { how: 'trail', userId }, t, revision)
  const now = await worksOfNodes(c, inquiryId, wanted, t)
  const works = [...now].map(([node, work]) => ({ node, work }))
  if (choice) {
    const chosen = [...new Set(works.map(w => w.work))]
    const decisions = chosen.map(work => ({ id: randomUUID(), work, pass: 'abstract' as const, choice, reason: null }))
    await decide(c, { inquiryId, userId, revision }, { group: group ?? randomUUID(), decisions }, t)
  }
  return { ...pooled, works, revision }
}
