import { Router } from 'express'
import type { Context } from '../context'
import type { JobRow } from '../db/models'
import { inquiryOf } from '../accounts/accounts'
import { answerOnce } from '../once'
import { notFound } from '../problem'

/** A job as it is told; of a long list in its payload, only how long it is. */
export const jobFace = ({ payload: { records, ...payload }, ...j }: JobRow) => ({
  id: j.id,
  kind: j.kind,
  state: j.state,
  progress: j.progress,
  result: j.result,
  error: j.error,
  payload: Array.isArray(records) ? { ...payload, records: records.length } : payload,
  at: j.at,
  cancelAsked: Boolean(j.cancelAsked),
})

/** Jobs of an inquiry: what runs, what ended lately, and cancelling. */
export function jobRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })
  router.get('/jobs', async (req, res) => {
    const rows = await c.db.jobs.findAll({
      where: { inquiryId: inquiryOf(req) },
      order: [['id', 'DESC']],
      limit: 30,
      raw: true,
    })
    res.json(rows.map(jobFace))
  })
  router.get('/jobs/:job', async (req, res) => {
    const row = await c.db.jobs.findOne({ where: { id: Number(req.params.job), inquiryId: inquiryOf(req) }, raw: true })
    if (!row) throw notFound()
    res.json(jobFace(row))
  })
  router.delete('/jobs/:job', async (req, res) => {
    const where = { id: Number(req.params.job), inquiryId: inquiryOf(req) }
    const row = await c.db.jobs.findOne({ where, raw: true })
    if (!row) throw notFound()
    await c.db.jobs.update({ cancelAsked: true }, { where })
    await c.db.jobs.update({ state: 'cancelled' }, { where: { ...where, state: 'queued' } })
    res.status(202).json(jobFace((await c.db.jobs.findOne({ where, raw: true }))!))
  })
  /** Begins a job anew that was given up: parked, failed or stopped. */
  router.post('/jobs/:job/again', async (req, res) => {
    const where = { id: Number(req.params.job), inquiryId: inquiryOf(req) }
    await answerOnce(c, req, res, 202, async t => {
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
    })
  })
  return router
}
