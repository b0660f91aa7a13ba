import { Router } from 'express'
import { array, object, string } from 'yup'
import { PASSES, type Choice } from '../../core/sift/decisions'
import { inquiryOf, userOf } from '../accounts/accounts'
import type { Context } from '../context'
import { act } from '../deeds/deeds-service'
import { answerOnce } from '../once'
import { check } from '../problem'
import { rowId } from './row-id'
import { uuid } from './uuid'

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
    const { group, decisions } = check(newDecisions, req.body)
    const by = { inquiryId: inquiryOf(req), userId: userOf(req) }
    const deeds = decisions.map(({ id, work, pass, choice, reason }) => ({
      id,
      work,
      kind: 'decision' as const,
      about: pass,
      value: { choice, reason: reason || null },
    }))
    await answerOnce(context, req, res, 201, (t, revision) => act(context, { ...by, revision }, group, deeds, t))
  })
  return router
}
