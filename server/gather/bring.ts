import { randomUUID } from 'node:crypto'
import type { Transaction } from 'sequelize'
import type { Context } from '../base/context'
import type { ArrivalRow } from '../pool/pool-model'
import { act } from '../deeds/deeds-service'
import { change } from '../db/revision'
import type { JobHandle } from '../jobs/queue'
import { pool, type Pooled } from '../pool/pool'

/** More records than this are brought in as a job. */
export const AT_ONCE = 1000

export interface Brought {
  records: number[]
  how?: ArrivalRow['how']
  /** A decision made while bringing in, with an id of the client's for the group. */
  decide?: { group: string; choice: 'keep' | 'set aside'; reason: string | null }
}

/** Brings records of sweeps into the pool with the decision made on them: all of it, or nothing where `step` throws. */
export async function bring(
  c: Context,
  inquiryId: number,
  userId: number,
  { records, decide: made, how = 'sweep' }: Brought,
  t: Transaction,
  revision: number,
  step?: Parameters<typeof pool>[6],
): Promise<Pooled> {
  const got = await pool(c, inquiryId, records, { how, userId }, t, revision, step)
  if (made) {
    const rows = await c.db.records.findAll({
      where: { id: records },
      attributes: ['workId'],
      transaction: t,
      raw: true,
    })
    const works = [...new Set(rows.map(r => r.workId).filter(w => w !== null))]
    const { group, choice, reason } = made
    const value = { choice, reason: reason || null }
    const deeds = works.map(work => ({ id: randomUUID(), work, kind: 'decision' as const, about: 'title', value }))
    await act(c, { inquiryId, userId, revision }, group, deeds, t)
  }
  return got
}

/** Many records, as a job: progress is told from outside the transaction, and a cancelled one leaves nothing behind. */
export async function runPool(c: Context, { job, progress }: JobHandle): Promise<Record<string, unknown>> {
  const wanted = job.payload as unknown as Brought & { sweepId: number }
  const got = await change(c, job.inquiryId!, (t, revision) =>
    bring(c, job.inquiryId!, job.userId!, wanted, t, revision, (done, of) => progress({ done, of })),
  )
  return { ...got }
}
