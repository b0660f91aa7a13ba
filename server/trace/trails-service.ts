import type { Transaction } from 'sequelize'
import { appraise } from '../../core/appraise/kind'
import { yearOf } from '../../core/bib/dates'
import { normaliseDoi } from '../../core/bib/identifiers'
import type { Facts, Item } from '../../core/bib/item'
import type { Answer } from '../../core/schema/api'
import { citationsPerYear } from '../../core/trails/rate'
import type { Member } from '../sessions/member'
import type { Context } from '../base/context'
import { citationsName } from '../connect/connectors'
import { addMissing } from '../db/rows'
import type { By } from '../deeds/deeds-service'
import { hashOf } from '../base/hash'
import { enqueue } from '../jobs/queue'
import { worksByIdentifier } from '../pool/blocks'
import { pool, type Pooled } from '../pool/pool'
import { recordOf } from '../pool/record'
import { notFound, Problem } from '../base/problem'
import type { TrailRow } from './trails-model'

/** A work at the other end of a citation, as the index describes it. */
export interface Neighbour {
  item: Item
  citedBy?: number
  references?: number
  genre?: string
  refereedVenue?: boolean
}
type Direction = TrailRow['direction']

const factsOf = (n: Neighbour): Facts => ({
  ...(n.genre ? { genre: n.genre } : {}),
  ...(n.refereedVenue !== undefined ? { refereedVenue: n.refereedVenue } : {}),
  ...(n.references !== undefined ? { referenceCount: n.references } : {}),
  ...(n.citedBy !== undefined ? { citedByCount: n.citedBy } : {}),
})
const keyOf = (n: Neighbour): string => normaliseDoi(n.item.DOI) ?? hashOf(JSON.stringify(n.item)).slice(0, 40)

async function requireTrail(c: Context, inquiryId: number, work: number, direction: string): Promise<Direction> {
  if (direction !== 'references' && direction !== 'cited-by') throw notFound()
  if (!(await c.db.works.count({ where: { id: work, inquiryId } }))) throw notFound()
  return direction
}

/** A trail as it was walked last, those cited most a year first. */
export async function trailOf(
  c: Context,
  { inquiryId, day }: Member,
  work: number,
  towards: string,
): Promise<Answer<'trail'>> {
  const direction = await requireTrail(c, inquiryId, work, towards)
  const from = citationsName(c)
  const trail = await c.db.trails.findOne({ where: { workId: work, direction }, raw: true })
  if (!trail) return { walkedAt: null, total: 0, from, neighbours: [] }
  const neighbours = JSON.parse(trail.neighbours) as Neighbour[]
  const items = neighbours.map(n => n.item)
  const works = await worksByIdentifier(c, inquiryId, items)
  const lines = neighbours.map((n, i) => {
    const { kind, confidence } = appraise(n.item, factsOf(n))
    return {
      key: keyOf(n),
      item: n.item,
      kind,
      confidence,
      citedBy: n.citedBy ?? null,
      perYear: citationsPerYear(n.citedBy, yearOf(n.item), day) ?? null,
      work: works[i] ?? null,
    }
  })
  lines.sort((x, y) => (y.perYear ?? -1) - (x.perYear ?? -1) || (y.citedBy ?? 0) - (x.citedBy ?? 0))
  return { walkedAt: trail.at.toISOString(), total: trail.total, from, neighbours: lines }
}

/** Queues the walking of a trail. @throws Problem 422 where the index could not find the work */
export async function walkTrail(
  c: Context,
  { inquiryId, userId }: Pick<By, 'inquiryId' | 'userId'>,
  work: number,
  towards: string,
  t: Transaction,
): Promise<{ job: number }> {
  const direction = await requireTrail(c, inquiryId, work, towards)
  const row = await c.db.works.findByPk(work, { attributes: ['item'], raw: true })
  if (!normaliseDoi(row!.item.DOI))
    throw new Problem(422, 'no-doi', `${citationsName(c)} finds works by DOI, and this one has none on record.`)
  return { job: await enqueue(c, 'trail', inquiryId, userId, { work, direction }, t) }
}

/**
 * Brings works of a trail into the pool. @throws Problem 409 where it was not walked; 422 where none of them is on it
 */
export async function bringFromTrail(
  c: Context,
  { inquiryId, userId, revision }: By,
  of: { work: number; direction: string; keys: readonly string[] },
  t: Transaction,
): Promise<Pooled> {
  const where = { workId: of.work, inquiryId, direction: of.direction as Direction }
  const trail = await c.db.trails.findOne({ where, transaction: t, raw: true })
  if (!trail) throw new Problem(409, 'not-walked', 'Open this trail first.')
  const chosen = (JSON.parse(trail.neighbours) as Neighbour[]).filter(n => of.keys.includes(keyOf(n)))
  if (!chosen.length) throw new Problem(422, 'unknown-neighbour', 'None of these works is on this trail.')
  const rows = chosen.map(n => {
    const given = { item: n.item, facts: factsOf(n), raw: JSON.stringify(n), format: 'CSL-JSON' }
    return { inquiryId, source: 'trail', ...recordOf(given, keyOf(n)) }
  })
  await addMissing(c.db.records, rows, 'source', t)
  const stored = await c.db.records.findAll({
    where: { inquiryId, source: 'trail', rawHash: rows.map(r => r.rawHash) },
    attributes: ['id'],
    transaction: t,
    raw: true,
  })
  const ids = stored.map(s => s.id)
  return pool(c, inquiryId, ids, { how: 'trail', userId }, t, revision)
}
