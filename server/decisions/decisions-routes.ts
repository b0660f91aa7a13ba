import { Router } from 'express'
import { array, object, string } from 'yup'
import { PASSES, type Choice } from '../../core/sift/decisions'
import { inquiryOf, userOf } from '../accounts/accounts'
import type { Context } from '../context'
import { answerOnce } from '../once'
import { workLines } from '../pool/lines'
import { rowId } from '../pool/row-id'
import { uuid } from '../pool/uuid'
import { check } from '../problem'
import { decide } from './decisions-service'

const newDecisions = object({
  group: uuid.required(),
  decisions: array(
    object({
      id: uuid.required(),
      work: rowId.required(),
      pass: string().oneOf(PASSES).required(),
      choice: string()
        .oneOf(['keep', 'set aside', 'later'] satisfies Choice[])
        .required(),
      reason: string().trim().max(500, 'A reason may have 500 letters.').nullable(),
    }).required(),
  )
    .min(1)
    .max(5000)
    .required(),
})

/** Deciding on works. */
export function decisionRoutes(context: Context): Router {
  const router = Router({ mergeParams: true })
  router.post('/decisions', async (req, res) => {
    const given = check(newDecisions, req.body)
    const by = { inquiryId: inquiryOf(req), userId: userOf(req) }
    await answerOnce(
      context,
      req,
      res,
      201,
      (t, revision) => decide(context, by, given, t, revision),
      async done => ({ ...done, works: await workLines(context, by.inquiryId, done.works) }),
    )
  })
  return router
}
