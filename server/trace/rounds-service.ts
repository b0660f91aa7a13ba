import { Op, type Transaction } from 'sequelize'
import { normaliseDoi } from '../../core/bib/identifiers'
import type { Facts, Item } from '../../core/bib/item'
import type { Answer } from '../../core/schema/api'
import { BUDGET, DIRECTIONS, MOST_CALLS, type Direction, type Scope } from '../../core/schema/api/trace'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { connectorsFor } from '../connect/connectors'
import { deskDay } from '../db/desk-day'
import { enqueue } from '../jobs/queue'
import type { Member } from '../sessions/member'
import { comparable, missingPeers, PEERS } from './peers'
import { nodeRowOfWork } from './graph-service'
import { latestWalks, nodesOfWorks, putNodes, type RoundRow } from './graph-model'

/** Neighbours read of one trail; the count is always that of the index. */
export const MOST = 500

export interface Asked {
  scope: Scope
  of?: number | undefined
  again?: 'yes' | undefined
  /** What stands and is asked again, of which it is a run: what cites the works is asked, whoever asked before. */
  standingId?: number | undefined
}
/** Who has a round walked: nobody any more, where what stands outlives its maker's account. */
interface Walker {
  inquiryId: number
  userId: number | null
}
interface Origin {
  id: number
  item: Item
  facts: Facts
  citedBy: number | null
  directions: Direction[]
}
interface Plan {
  origins: Origin[]
  calls: number
  withoutDoi: number[]
  walked: number
}

/** Who is asked for each direction, and how many come in one answer. */
export function indexFor(c: Context, direction: Direction) {
  const call = direction === 'references' ? 'references' : 'citedBy'
  const index = connectorsFor(c.settings.outside, call)[0]
  return index && ({ index, call, size: index.calls[call]!.paging?.size ?? 100 } as const)
}

/** What a round would ask. @throws Problem 404 where there is no such strand or work */
export async function planRound(
  c: Context,
  { inquiryId }: Pick<Member, 'inquiryId'>,
  asked: Asked,
): Promise<Answer<'planRound'>> {
  const { origins, calls, withoutDoi, walked } = await plan(c, inquiryId, asked)
  const trails = origins.reduce((sum, o) => sum + o.directions.length, 0)
  const n = await numberOf(c, inquiryId, asked)
  const comparing = trails ? await comparisons(c, inquiryId) : 0
  return { n, origins: origins.length, trails, calls, comparing, withoutDoi, walked }
}

/** Comparisons that are known to be missing; before the first round nobody knows of which fields. */
async function comparisons(c: Context, inquiryId: number): Promise<number> {
  const index = connectorsFor(c.settings.outside, 'peers')[0]
  if (!index) return 0
  const day = await deskDay(c.db)
  const wanted = await comparable(c, inquiryId, day)
  return wanted.length ? Math.min(PEERS, (await missingPeers(c, index.id, wanted, day)).length) : PEERS
}

/** A look at one work is no round of its own, nor is a run of what stands. */
const numberOf = async (c: Context, inquiryId: number, asked: Asked, t?: Transaction): Promise<number | null> =>
  asked.scope === 'work' || asked.standingId
    ? null
    : 1 + (await c.db.rounds.count({ where: { inquiryId, n: { [Op.ne]: null } }, ...(t ? { transaction: t } : {}) }))

async function plan(c: Context, inquiryId: number, { scope, of, again, standingId }: Asked): Promise<Plan> {
  const ways: readonly Direction[] = standingId ? ['cited-by'] : DIRECTIONS
  const works = await c.db.works.scope('living').findAll({
    where: { inquiryId, ...(scope === 'work' ? { id: of ?? 0 } : { state: 'kept' as const }) },
    attributes: ['id', 'item', 'facts', 'said', 'citedBy'],
    order: ['id'],
    raw: true,
  })
  if (scope === 'work' && !works.length) throw notFound()
  if (scope === 'strand' && !(await c.db.strands.count({ where: { inquiryId, id: of ?? 0, gone: false } })))
    throw notFound()
  const chosen = scope === 'strand' ? works.filter(w => w.said?.strands?.includes(of!)) : works
  const done =
    again || standingId
      ? new Set<string>()
      : await walkedTrails(
          c,
          inquiryId,
          chosen.map(w => w.id),
        )
  const origins: Origin[] = []
  const withoutDoi: number[] = []
  let [calls, walked] = [0, 0]
  for (const { id, item, facts, citedBy } of chosen) {
    if (!normaliseDoi(item.DOI)) {
      withoutDoi.push(id)
      continue
    }
    const directions = ways.filter(d => indexFor(c, d) && !done.has(`${id} ${d}`))
    walked += ways.length - directions.length
    if (!directions.length) continue
    origins.push({ id, item, facts, citedBy, directions })
    // one for what the index says of the work itself
    calls += connectorsFor(c.settings.outside, 'counts').length ? 1 : 0
    for (const d of directions) {
      const known = d === 'references' ? facts.referenceCount : (citedBy ?? facts.citedByCount)
      calls += Math.max(1, Math.ceil(Math.min(known ?? 0, MOST) / indexFor(c, d)!.size))
    }
  }
  return { origins, calls, withoutDoi, walked }
}

async function walkedTrails(c: Context, inquiryId: number, works: readonly number[]): Promise<Set<string>> {
  const nodes = new Map((await nodesOfWorks(c, inquiryId, works)).map(n => [n.node, n.work]))
  const walks = await latestWalks(c, inquiryId)
  return new Set(walks.flatMap(w => (nodes.has(w.nodeId) ? `${nodes.get(w.nodeId)} ${w.direction}` : [])))
}

/**
 * Begins a round: its trails are written down before the first is walked.
 * @throws Problem 422 where nobody can be asked, or nothing is left to walk
 */
export async function beginRound(
  c: Context,
  { inquiryId, userId, day }: Walker & { day: string },
  { most = BUDGET, ...asked }: Asked & { most?: number | undefined },
  t: Transaction,
): Promise<{ job: number; round: number }> {
  if (!DIRECTIONS.some(d => indexFor(c, d))) throw new Problem(422, 'no-index', 'No citation index is set up here.')
  const { origins, calls, withoutDoi } = await plan(c, inquiryId, asked)
  if (!origins.length)
    throw withoutDoi.length
      ? new Problem(
          422,
          'no-doi',
          'The citation index finds works by DOI, and none of these that is left has one on record.',
        )
      : new Problem(
          422,
          'nothing-to-walk',
          asked.standingId
            ? 'There is no work to ask about. Keep one first.'
            : 'All trails of these works were walked. Keep more works, or look again.',
        )
  const n = await numberOf(c, inquiryId, asked, t)
  const round = await c.db.rounds.create(
    {
      ...{ inquiryId, n, scope: asked.scope, subject: asked.of ?? null, day, planned: calls, calls: 0 },
      ...{ most: Math.max(most, asked.standingId ? Math.min(MOST_CALLS, calls) : 0) },
      standingId: asked.standingId ?? null,
    },
    { transaction: t },
  )
  const rows: Awaited<ReturnType<typeof nodeRowOfWork>>[] = []
  for (const o of origins) rows.push(await nodeRowOfWork(c, o, t))
  const ids = await putNodes(c, inquiryId, rows, t)
  await c.db.walks.bulkCreate(
    origins.flatMap((o, i) =>
      o.directions.map(direction => ({
        ...{ roundId: round.id, nodeId: ids.get(rows[i]!.nodeKey)!, direction, inquiryId },
        ...{ total: 0, got: 0, trouble: null, day: null },
      })),
    ),
    { transaction: t },
  )
  const job = await queueRound(c, { inquiryId, userId }, round.get({ plain: true }), t)
  await c.db.rounds.update({ jobId: job }, { where: { id: round.id }, transaction: t })
  return { job, round: round.id }
}

/** A run of what stands tells its news when it is walked, whoever had it walked on. */
const queueRound = (
  c: Context,
  { inquiryId, userId }: Walker,
  { id: round, scope, subject: of, standingId }: Pick<RoundRow, 'id' | 'scope' | 'subject' | 'standingId'>,
  t: Transaction,
): Promise<number> =>
  standingId
    ? enqueue(c, 'standing', inquiryId, userId, { round, scope, of, standingId }, t)
    : enqueue(c, 'round', inquiryId, userId, { round, scope, of }, t)

/** Walks what is left of a round. @throws Problem 409 while it is walked */
export async function walkOn(
  c: Context,
  { inquiryId, userId }: Walker,
  id: number,
  t: Transaction,
): Promise<{ job: number }> {
  const round = await c.db.rounds.findOne({ where: { id, inquiryId }, transaction: t, lock: t.LOCK.UPDATE, raw: true })
  if (!round) throw notFound()
  const under = await c.db.jobs.findOne({
    where: { id: round.jobId ?? 0, state: ['queued', 'running'] },
    attributes: ['id'],
    transaction: t,
    raw: true,
  })
  if (under) return { job: under.id }
  const job = await queueRound(c, { inquiryId, userId }, round, t)
  // as many calls again
  await c.db.rounds.update(
    { jobId: job, most: round.calls + Math.max(round.most, BUDGET) },
    { where: { id }, transaction: t },
  )
  return { job }
}
