import { Router } from 'express'
import { array, object, string } from 'yup'
import { FACETS, type Limits } from '../../core/sift/limits'
import { inquiryOf } from '../accounts/accounts'
import type { Context } from '../context'
import { change } from '../inquiries/revision'
import { answerOnce } from '../once'
import { check, notFound } from '../problem'

/** Saved views of the pool. */
export function viewRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })

  router.get('/views', async (req, res) => {
    res.json(
      await c.db.poolViews.findAll({
        where: { inquiryId: inquiryOf(req) },
        attributes: ['id', 'name', 'limits', 'words'],
        order: ['name', 'id'],
        raw: true,
      }),
    )
  })

  router.post('/views', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(
      object({
        name: string().trim().max(80, 'A name may have 80 letters.').required('Give the view a name.'),
        limits: object(
          Object.fromEntries(FACETS.map(f => [f, array(string().max(300).required()).max(200)])),
        ).noUnknown(),
        words: string().trim().max(190).default(''),
      }),
      req.body,
    )
    await answerOnce(c, req, res, 201, async t => {
      const where = { inquiryId, name: given.name }
      const of = { limits: given.limits as Limits, words: given.words }
      const there = await c.db.poolViews.findOne({ where, transaction: t })
      const view = there
        ? await there.update(of, { transaction: t })
        : await c.db.poolViews.create({ ...where, ...of }, { transaction: t })
      return { id: view.id, name: view.name, limits: view.limits, words: view.words }
    })
  })

  router.delete('/views/:view', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const gone = await change(c, inquiryId, t =>
      c.db.poolViews.destroy({ where: { id: Number(req.params.view), inquiryId }, transaction: t }),
    )
    if (!gone) throw notFound()
    res.status(204).end()
  })
  return router
}
