import type { Transaction } from 'sequelize'
import type { Job } from '../../core/schema/api'
import type { Context } from '../base/context'
import { notFound } from '../base/problem'
import type { JobRow } from './jobs-model'

/** A job as it is told; of a long list in its payload, only how long it is. */
export const tellJob = ({ payload: { records, ...payload }, ...j }: JobRow) => ({
  id: j.id,
  kind: j.kind as Job['kind'],
  state: j.state,
  progress: j.progress,
  result: j.result,
  error: j.error,
  payload: Array.isArray(records) ? { ...payload, records: records.length } : payload,
  at: j.at,
  cancelAsked: Boolean(j.cancelAsked),
})

const LATEST = 30
export async function latestJobs(c: Context, inquiryId: number) {
  const rows = await c.db.jobs.findAll({ where: { inquiryId }, order: [['id', 'DESC']], limit: LATEST, raw: true })
  return rows.map(tellJob)
}

export async function oneJob(c: Context, where: { id: number; inquiryId: number }) {
  const row = await c.db.jobs.findOne({ where, raw: true })
  if (!row) throw notFound()
  return tellJob(row)
}

/** One that waits ends at once; one that runs, at its next step. */
export async function stopJob(c: Context, where: { id: number; inquiryId: number }) {
  await oneJob(c, where)
  await c.db.jobs.update({ cancelAsked: true }, { where })
  await c.db.jobs.update({ state: 'cancelled' }, { where: { ...where, state: 'queued' } })
  return oneJob(c, where)
}

/** Begins a job anew that was given up: parked, failed or stopped. */
export async function beginAgain(
  c: Context,
  where: { id: number; inquiryId: number },
  t: Transaction,
): Promise<{ job: number }> {
  const row = await c.db.jobs.findOne({ where, transaction: t, lock: t.LOCK.UPDATE, raw: true })
  if (!row) throw notFound()
  if (row.state === 'failed' || row.state === 'cancelled')
    await c.db.jobs.update(
      {
        state: 'queued',
        error: null,
        attempts: 0,
        losses: 0,
        cancelAsked: false,
        worker: null,
        leaseUntil: null,
        runAfter: new Date(),
      },
      { where, transaction: t },
    )
  return { job: row.id }
}
