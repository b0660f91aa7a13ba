import { Router } from 'express'
import { Op, type Transaction } from 'sequelize'
import { array, mixed, object, string } from 'yup'
import { inquiryOf, userOf } from '../accounts/accounts'
import type { Context } from '../context'
import { act } from '../deeds/deeds-service'
import { familyOf } from '../deeds/family'
import { answerOnce } from '../once'
import { check, Problem } from '../problem'
import { troubleOf } from './marks'
import { rowId } from './row-id'
import { uuid } from './uuid'

const newMarks = object({
  group: uuid.required(),
  marks: array(
    object({
      id: uuid.required(),
      work: rowId.required(),
      about: string().trim().max(120).required(),
      value: mixed().nullable().defined(),
      /** What stood there when it was said, where that matters: a note of another window is not written over. */
      was: mixed().nullable(),
    }).required(),
  )
    .min(1)
    .max(5000)
    .required(),
})

/** What students say of works beside deciding on them. */
export function markRoutes(context: Context): Router {
  const router = Router({ mergeParams: true })
  router.post('/marks', async (req, res) => {
    const by = { inquiryId: inquiryOf(req), userId: userOf(req) }
    const { group, marks } = check(newMarks, req.body)
    for (const m of marks) {
      const why = troubleOf(m.about, m.value)
      if (why) throw new Problem(422, 'not-understood', why)
    }
    await answerOnce(context, req, res, 201, async (t, revision) => {
      const family = await familyOf(context, by.inquiryId, marks.map(m => m.work), t) // prettier-ignore
      await requireStrands(context, by.inquiryId, marks, t)
      for (const m of marks)
        if (m.was !== undefined && m.about === 'note') await requireSameNote(context, family.heir.get(m.work)!, m, t)
      const deeds = marks.map(({ id, work, about, value }) => ({ id, work, kind: 'mark' as const, about, value }))
      return act(context, { ...by, revision }, group, deeds, t, family)
    })
  })
  return router
}

async function requireStrands(
  context: Context,
  inquiryId: number,
  marks: readonly { about: string }[],
  t: Transaction,
): Promise<void> {
  const strands = new Set(marks.flatMap(m => (m.about.startsWith('strand:') ? Number(m.about.slice(7)) : [])))
  if (!strands.size) return
  const where = { inquiryId, gone: false, id: { [Op.in]: [...strands] } }
  if ((await context.db.strands.count({ where, transaction: t })) < strands.size)
    throw new Problem(422, 'unknown-strand', 'That strand is gone.')
}

async function requireSameNote(
  context: Context,
  work: number,
  mark: { was?: unknown; value?: unknown },
  t: Transaction,
): Promise<void> {
  const now = await context.db.works.findByPk(work, { attributes: ['said'], transaction: t, raw: true })
  const note = now?.said?.note ?? null
  if (note !== (mark.was || null) && note !== mark.value)
    throw new Problem(
      409,
      'changed-since',
      'The note was changed in another window since. Yours is still here: copy it, then read theirs.',
      { note },
    )
}
