import { Router } from 'express'
import { randomInt } from 'node:crypto'
import { Op, type Transaction } from 'sequelize'
import { number, object } from 'yup'
import { drawsFor, levelOf, mostLeft } from '../../core/sift/stopping'
import { inquiryOf, memberOf, userOf } from '../accounts/accounts'
import type { Context } from '../context'
import type { CheckRow } from '../db/models'
import { answerOnce } from '../once'
import { check, Problem } from '../problem'

/** Of the unread works so many may be left for an answer to be of use. */
const USEFUL = 0.05

/** Checks of how much is left to find: draws among the unread works, and what their decisions say. */
export function checkRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })

  router.get('/checks', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const rows = await c.db.checks.findAll({ where: { inquiryId }, order: [['n', 'DESC']], raw: true })
    const unread = await c.db.works.count({ where: { inquiryId, successorId: null, state: 'unread' } })
    res.json({
      checks: await Promise.all(rows.map(r => face(c, r))),
      unread,
      offered: unread ? drawsFor(unread, Math.max(1, Math.round(unread * USEFUL)), levelOf(rows.length + 1)) : 0,
    })
  })

  router.post('/checks', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const { draws } = check(object({ draws: number().integer().min(1).max(100_000).required() }), req.body)
    const userId = userOf(req)
    const today = memberOf(res).day
    const draw = async (t: Transaction) => {
      const before = await c.db.checks.findAll({
        where: { inquiryId },
        order: [['n', 'DESC']],
        transaction: t,
        raw: true,
      })
      if (before[0] && (await face(c, before[0])).mostLeft === null)
        throw new Problem(409, 'check-open', 'A check is under way. Decide on the works it drew, then begin another.')
      const works = await c.db.works.findAll({
        where: { inquiryId, successorId: null, state: 'unread' },
        attributes: ['id'],
        order: ['id'],
        transaction: t,
        raw: true,
      })
      if (!works.length)
        throw new Problem(422, 'nothing-unread', 'Every work is decided: nothing is left to draw from.')
      const ids = works.map(w => w.id)
      const n = Math.min(draws, ids.length)
      // the beginning of a uniform shuffle (Fisher and Yates)
      for (let i = 0; i < n; i++) {
        const j = randomInt(i, ids.length)
        ;[ids[i], ids[j]] = [ids[j]!, ids[i]!]
      }
      const row = await c.db.checks.create(
        { inquiryId, userId, n: (before[0]?.n ?? 0) + 1, size: ids.length, drawn: ids.slice(0, n), deskDay: today },
        { transaction: t },
      )
      return { id: row.id }
    }
    await answerOnce(c, req, res, 201, draw, async ({ id }) =>
      face(c, (await c.db.checks.findByPk(id, { raw: true }))!),
    )
  })
  return router
}

/** A check as it stands: what is decided of its draw, and once all is, the most that may be left. */
async function face(c: Context, r: CheckRow) {
  const drawn = typeof r.drawn === 'string' ? (JSON.parse(r.drawn) as number[]) : r.drawn
  const found = await c.db.works.findAll({
    where: { inquiryId: r.inquiryId, id: { [Op.in]: drawn } },
    attributes: ['id', 'successorId', 'state'],
    raw: true,
  })
  const heirs = await c.db.works.findAll({
    where: { inquiryId: r.inquiryId, id: { [Op.in]: found.flatMap(f => f.successorId ?? []) } },
    attributes: ['id', 'state'],
    raw: true,
  })
  const stateOf = new Map(heirs.map(h => [h.id, h.state]))
  const states = found.map(f => (f.successorId ? (stateOf.get(f.successorId) ?? f.state) : f.state))
  // what is left for later is not yet decided
  const decided = states.filter(s => s === 'kept' || s === 'set aside').length
  const wanted = states.filter(s => s === 'kept').length
  const level = levelOf(r.n)
  return {
    id: r.id,
    n: r.n,
    size: r.size,
    day: r.deskDay,
    level,
    drawn,
    decided,
    wanted,
    mostLeft: decided === drawn.length ? mostLeft(r.size, drawn.length, wanted, level) : null,
  }
}
