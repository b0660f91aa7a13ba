import './sessions'
import type { Request, RequestHandler, Response } from 'express'
import { QueryTypes } from 'sequelize'
import { USUAL, type Rhythm } from '../../core/write/plan'
import type { Context } from '../base/context'
import { dayOf } from '../db/desk-day'
import { readJson } from '../db/rows'
import { notFound, Problem } from '../base/problem'

/** The signed-in user's id. @throws Problem 401 */
export function userOf(req: Request): number {
  if (!req.session.userId)
    throw new Problem(401, 'signed-out', 'You are signed out. Sign in to go on; what you saved is there.')
  return req.session.userId
}

/** Everything but one's own account waits until a password that somebody else made was changed. */
export const ownPasswordOnly: RequestHandler = (req, _res, next) => {
  userOf(req)
  if (req.session.mustChange) throw new Problem(403, 'change-password', 'Choose a password of your own first.')
  next()
}

/** How a student works, as it was said; the usual where it was not. */
export const rhythmOf = (said: Rhythm | string | null): Rhythm => ({ ...USUAL, ...(said && readJson(said)) })

/** Who asks for something of an inquiry, and how it stood when they asked. */
export interface Member {
  inquiryId: number
  userId: number
  role: 'owner' | 'reader'
  revision: number
  /** The day on which the desk stands. */
  day: string
  /** The day on which the inquiry is due. */
  due: string | null
  /** How the student works on it. */
  rhythm: Rhythm
}

/**
 * Every address below an inquiry passes here: to who is no member it does not exist. What all of them need to know is
 * asked in one statement, which no model puts together.
 */
export function membersOnly(c: Context): RequestHandler {
  return async (req, res, next) => {
    const inquiryId = Number(req.params.inquiry)
    const userId = userOf(req)
    const [found] = await c.db.sequelize.query<
      { role: Member['role']; revision: number; standsOn: string | null; rhythm: Rhythm | string | null } & Pick<
        Member,
        'due'
      >
    >(
      `SELECT m.role, i.revision, i.rhythm, CAST(i.due AS CHAR) AS due, (SELECT stands_on FROM clock WHERE id = 1) AS standsOn
       FROM memberships m JOIN inquiries i ON i.id = m.inquiry_id WHERE m.inquiry_id = ? AND m.user_id = ?`,
      { type: QueryTypes.SELECT, replacements: [inquiryId, userId] },
    )
    if (!found) throw notFound()
    const { role, revision, standsOn, due, rhythm } = found
    const member: Member = { inquiryId, userId, role, revision, day: dayOf(standsOn), due, rhythm: rhythmOf(rhythm) }
    res.locals.member = member
    next()
  }
}

/** Who asks, below an inquiry. */
export const memberOf = (res: Response): Member => res.locals.member as Member
