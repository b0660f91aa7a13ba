import { Router } from 'express'
import { boolean, number, object, string } from 'yup'
import { inquiryOf } from '../accounts/accounts'
import type { Context } from '../context'
import { change } from '../inquiries/revision'
import { answerOnce } from '../once'
import { check, notFound, Problem } from '../problem'

/** Strands of an inquiry, onto which its kept works are put. */
export function strandRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })

  router.get('/strands', async (req, res) => {
    res.json(
      await c.db.strands.findAll({
        where: { inquiryId: inquiryOf(req), gone: false },
        attributes: ['id', 'name', 'place'],
        order: ['place', 'id'],
        raw: true,
      }),
    )
  })

  const strandName = string().trim().max(80, 'A name may have 80 letters.').required('Give the strand a name.')

  router.post('/strands', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const { name } = check(object({ name: strandName }), req.body)
    await answerOnce(c, req, res, 201, async t => {
      const rows = await c.db.strands.findAll({ where: { inquiryId, gone: false }, transaction: t, raw: true })
      refuseTwice(rows, name)
      const row = await c.db.strands.create(
        { inquiryId, name, place: Math.max(0, ...rows.map(r => r.place + 1)), gone: false },
        { transaction: t },
      )
      return { id: row.id, name: row.name, place: row.place }
    })
  })

  router.patch('/strands/:strand', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const id = Number(req.params.strand)
    const given = check(
      object({
        name: strandName.optional().default(undefined),
        /** A place in the order of strands, from 0. */
        place: number().integer().min(0).max(1000),
        gone: boolean(),
      }),
      req.body,
    )
    await change(c, inquiryId, async t => {
      const rows = await c.db.strands.findAll({
        where: { inquiryId },
        order: ['place', 'id'],
        transaction: t,
        raw: true,
      })
      if (!rows.some(r => r.id === id)) throw notFound()
      const others = rows.filter(r => r.id !== id && !r.gone)
      if (given.name) refuseTwice(others, given.name)
      const { place, ...rest } = given
      const now = Object.fromEntries(Object.entries(rest).filter(([, v]) => v !== undefined))
      if (Object.keys(now).length) await c.db.strands.update(now, { where: { id }, transaction: t })
      if (place === undefined) return
      const order = others.map(r => r.id)
      order.splice(place, 0, id)
      for (const [i, s] of order.entries())
        await c.db.strands.update({ place: i }, { where: { id: s }, transaction: t })
    })
    res.status(204).end()
  })
  return router
}

function refuseTwice(rows: readonly { name: string }[], name: string): void {
  if (rows.some(r => r.name.toLowerCase() === name.toLowerCase()))
    throw new Problem(409, 'name-taken', `There is a strand “${name}” already.`)
}
