import { Op, type Transaction } from 'sequelize'
import { isDone, type Fetched } from '../../core/access/fetched'
import type { Context } from '../base/context'
import type { JobRow } from '../jobs/jobs-model'
import { enqueue } from '../jobs/queue'
import type { Member } from '../sessions/member'

/** The works that a job is still to fetch. */
export function stillToFetch({ payload, progress }: Pick<JobRow, 'payload' | 'progress'>): number[] {
  const done = new Set(((progress.works as Fetched[] | undefined) ?? []).filter(isDone).map(f => f.work))
  return (payload.works as number[]).filter(w => !done.has(w))
}

/** The kept works of an inquiry: of these, or all. */
export async function keptOf(
  c: Context,
  inquiryId: number,
  wanted: readonly number[] | undefined,
  t: Transaction,
): Promise<number[]> {
  const rows = await c.db.works.scope('living').findAll({
    where: { inquiryId, state: 'kept' },
    attributes: ['id'],
    transaction: t,
    raw: true,
  })
  const kept = rows.map(r => r.id)
  return wanted ? wanted.filter(w => kept.includes(w)) : kept
}

/**
 * Queues the fetching of the texts of works. What a job of the inquiry is fetching already is not begun again: two
 * windows may ask for the same.
 * @param byItself nobody pressed for it: what becomes of it is told by mail
 */
export async function queueFetching(
  c: Context,
  { inquiryId, userId }: Pick<Member, 'inquiryId' | 'userId'>,
  works: readonly number[],
  t: Transaction,
  { byItself = false } = {},
): Promise<{ job: number }> {
  // of two that ask in one moment the second sees the job of the first
  await c.db.inquiries.findByPk(inquiryId, { attributes: ['id'], transaction: t, lock: t.LOCK.UPDATE })
  const under = await c.db.jobs.findAll({
    where: {
      ...{ kind: 'retrieval', inquiryId, cancelAsked: false },
      [Op.or]: [{ state: 'running' }, { state: 'queued', runAfter: { [Op.lte]: new Date() } }],
    },
    attributes: ['id', 'payload', 'progress'],
    transaction: t,
    lock: t.LOCK.UPDATE,
    raw: true,
  })
  const busy = new Map(under.flatMap(j => stillToFetch(j).map(w => [w, j.id] as const)))
  const fresh = works.filter(w => !busy.has(w))
  if (!fresh.length) return { job: busy.get(works[0]!)! }
  const payload = { works: fresh, ...(byItself ? { byItself } : {}) }
  return { job: await enqueue(c, 'retrieval', inquiryId, userId, payload, t) }
}
