import { randomInt } from 'node:crypto'
import { Op, type Transaction } from 'sequelize'
import { drawsFor, levelOf, mostLeft } from '../../core/sift/stopping'
import type { Answer } from '../../core/schema/api'
import type { Member } from '../sessions/member'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import type { CheckRow } from './sift-model'

/** Of the unread works so many may be left for an answer to be of use. */
const USEFUL = 0.05

/** The checks of how much is left to find, and how many draws the next would take. */
export async function checksOf(c: Context, inquiryId: number): Promise<Answer<'checks'>> {
  const rows = await c.db.checks.findAll({ where: { inquiryId }, order: [['n', 'DESC']], raw: true })
  const unread = await c.db.works.scope('living').count({ where: { inquiryId, state: 'unread' } })
  return {
    checks: await Promise.all(rows.map(r => tellCheck(c, r))),
    unread,
    offered: unread ? drawsFor(unread, Math.max(1, Math.round(unread * USEFUL)), levelOf(rows.length + 1)) : 0,
  }
}

/**
 * Draws works among the unread ones.
 * @throws Problem 409 where a check is under way; 422 where nothing is unread
 */
export async function beginCheck(
  c: Context,
  { inquiryId, userId, day }: Member,
  draws: number,
  t: Transaction,
): Promise<{ id: number }> {
  const before = await c.db.checks.findOne({ where: { inquiryId }, order: [['n', 'DESC']], transaction: t, raw: true })
  if (before && (await tellCheck(c, before)).mostLeft === null)
    throw new Problem(409, 'check-open', 'A check is under way. Decide on the works it drew, then begin another.')
  const works = await c.db.works.scope('living').findAll({
    where: { inquiryId, state: 'unread' },
    attributes: ['id'],
    order: ['id'],
    transaction: t,
    raw: true,
  })
  if (!works.length) throw new Problem(422, 'nothing-unread', 'Every work is decided: nothing is left to draw from.')
  const ids = works.map(w => w.id)
  const n = Math.min(draws, ids.length)
  // the beginning of a uniform shuffle (Fisher and Yates)
  for (let i = 0; i < n; i++) {
    const j = randomInt(i, ids.length)
    ;[ids[i], ids[j]] = [ids[j]!, ids[i]!]
  }
  const row = await c.db.checks.create(
    { inquiryId, userId, n: (before?.n ?? 0) + 1, size: ids.length, drawn: ids.slice(0, n), deskDay: day },
    { transaction: t },
  )
  return { id: row.id }
}

export const oneCheck = async (c: Context, id: number) => tellCheck(c, (await c.db.checks.findByPk(id, { raw: true }))!)

/** A check as it stands: what is decided of its draw, and once all is, the most that may be left. */
async function tellCheck(c: Context, r: CheckRow) {
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
