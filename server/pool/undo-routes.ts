import { Router } from 'express'
import { object } from 'yup'
import { inquiryOf, memberOf, userOf } from '../accounts/accounts'
import type { Context } from '../context'
import { takeBack } from '../deeds/deeds-service'
import { answerOnce } from '../once'
import { check } from '../problem'
import { workLines } from './lines'
import { uuid } from './uuid'

/** Takes back what was decided, said or joined together, wherever nothing later spoke of the same. */
export function undoRoutes(context: Context): Router {
  const router = Router({ mergeParams: true })
  router.post('/undo', async (req, res) => {
    const by = { inquiryId: inquiryOf(req), userId: userOf(req) }
    const { group, id } = check(object({ group: uuid.required(), id: uuid.required() }), req.body)
    await answerOnce(
      context,
      req,
      res,
      201,
      (t, revision) => takeBack(context, { ...by, revision }, group, id, t),
      // how they stand again, so that it shows at once
      async done => ({ ...done, lines: await workLines(context, memberOf(res), done.works) }),
    )
  })
  return router
}
