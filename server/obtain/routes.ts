import express, { Router } from 'express'
import { array, object } from 'yup'
import type { Context } from '../context'
import { inquiryOf, memberOf, userOf } from '../accounts/accounts'
import { enqueue } from '../jobs/queue'
import { fileNameOf } from '../imports/imports'
import { storeBlob } from '../inquiries/blobs'
import { change } from '../inquiries/revision'
import { answerOnce } from '../once'
import { redescribe } from '../pool/describe'
import { workLines } from '../pool/lines'
import { rowId } from '../pool/row-id'
import { check, notFound, Problem } from '../problem'
import { requireWorks } from './retrieve-job'

export const LARGEST_COPY = 60 * 1024 * 1024
const chosen = object({ works: array(rowId.required()).max(2000) })

/** Obtain: routes of the kept works, fetching them, and copies the student brings. */
export function obtainRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })

  router.get('/routes', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const kept = (await workLines(c, memberOf(res))).filter(w => w.state === 'kept')
    const routes = await c.db.routes.findAll({ where: { inquiryId }, raw: true })
    const copies = await c.db.copies.findAll({
      where: { inquiryId },
      attributes: ['id', 'workId', 'outcome', 'version', 'pages', 'proof'],
      raw: true,
    })
    const byWork = new Map(routes.map(r => [r.workId, r]))
    res.json(
      kept.map(w => ({
        ...w,
        routes: byWork.get(w.id)?.routes ?? null,
        closed: byWork.get(w.id)?.closed ?? [],
        trouble: byWork.get(w.id)?.trouble ?? null,
        copies: copies
          .filter(x => x.workId === w.id)
          .map(x => ({
            id: x.id,
            outcome: x.outcome,
            version: x.version,
            pages: x.pages,
            said: x.proof.evidence.filter(e => !e.holds).map(e => e.said),
          })),
      })),
    )
  })

  const keptOf = async (inquiryId: number, works: readonly number[] | undefined): Promise<number[]> => {
    const rows = await c.db.works.findAll({
      where: { inquiryId, successorId: null, state: 'kept' },
      attributes: ['id'],
      raw: true,
    })
    const kept = rows.map(r => r.id)
    return works ? works.filter(w => kept.includes(w)) : kept
  }

  router.post('/routes', async (req, res) => {
    const works = await keptOf(inquiryOf(req), check(chosen, req.body).works)
    requireWorks(works)
    await answerOnce(c, req, res, 202, async t => ({
      job: await enqueue(c, 'routes', inquiryOf(req), userOf(req), { works }, t),
    }))
  })

  router.post('/retrievals', async (req, res) => {
    const works = await keptOf(inquiryOf(req), check(chosen, req.body).works)
    requireWorks(works)
    await answerOnce(c, req, res, 202, async t => ({
      job: await enqueue(c, 'retrieval', inquiryOf(req), userOf(req), { works }, t),
    }))
  })

  router.post('/works/:work/copies', express.raw({ type: () => true, limit: LARGEST_COPY }), async (req, res) => {
    const inquiryId = inquiryOf(req)
    const work = await c.db.works.findOne({
      where: { id: Number(req.params.work), inquiryId, successorId: null },
      attributes: ['id'],
      raw: true,
    })
    if (!work) throw notFound()
    const bytes = req.body as Buffer
    if (!Buffer.isBuffer(bytes) || !bytes.length) throw new Problem(422, 'empty-file', 'The file is empty.')
    const name = fileNameOf(req)
    await answerOnce(c, req, res, 202, async t => {
      const hash = await storeBlob(c.db, bytes, 'application/pdf', t)
      const upload = await c.db.uploads.create({ inquiryId, workId: work.id, hash, name }, { transaction: t })
      return { job: await enqueue(c, 'copy', inquiryId, userOf(req), { upload: upload.id, work: work.id, name }, t) }
    })
  })

  router.delete('/copies/:copy', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const gone = await change(c, inquiryId, async (t, revision) => {
      const where = { id: Number(req.params.copy), inquiryId }
      const copy = await c.db.copies.findOne({ where, attributes: ['workId'], transaction: t, raw: true })
      if (!copy) return false
      await c.db.copies.destroy({ where, transaction: t })
      await redescribe(c, inquiryId, [copy.workId], t, revision)
      return true
    })
    if (!gone) throw notFound()
    res.status(204).end()
  })
  return router
}
