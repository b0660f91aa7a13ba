import { randomUUID } from 'node:crypto'
import type { Context } from '../context'
import type { ArrivalRow } from '../db/models'
import { change } from '../inquiries/revision'
import type { JobHandle } from '../jobs/queue'
import { pool, projectStates, type Pooled } from '../pool/pool'

/** More records than this are brought in as a job. */
export const AT_ONCE = 1000

export interface Brought {
  records: number[]
  how?: ArrivalRow['how']
  /** A decision made while bringing in, with an id of the client's for the group. */
  decide?: { group: string; choice: 'keep' | 'set aside'; reason: string | null }
}

/** Brings records of sweeps into the pool with the decision made on them: all of it, or nothing where `step` throws. */
export function bring(
  c: Context,
  inquiryId: number,
  userId: number,
  { records, decide, how = 'sweep' }: Brought,
  step?: Parameters<typeof pool>[6],
): Promise<Pooled> {
  return change(c, inquiryId, async (t, revision) => {
    const got = await pool(c, inquiryId, records, { how, userId }, t, revision, step)
    if (decide) {
      const rows = await c.db.records.findAll({
        where: { id: records },
        attributes: ['workId'],
        transaction: t,
        raw: true,
      })
      const works = [...new Set(rows.map(r => r.workId).filter(w => w !== null))]
      await c.db.decisions.bulkCreate(
        works.map(workId => ({
          id: randomUUID(),
          groupId: decide.group,
          inquiryId,
          workId,
          pass: 'title',
          choice: decide.choice,
          reason: decide.reason,
          userId,
          revision,
        })),
        { transaction: t },
      )
      await projectStates(c, inquiryId, works, t, revision)
    }
    return got
  })
}

/** Many records, as a job: progress is told from outside the transaction, and a cancelled one leaves nothing behind. */
export async function runPool(c: Context, { job, progress }: JobHandle): Promise<Record<string, unknown>> {
  const wanted = job.payload as unknown as Brought & { sweepId: number }
  return {
    ...(await bring(c, job.inquiryId!, job.userId!, wanted, (done, of) => progress({ done, of }))),
  }
}
