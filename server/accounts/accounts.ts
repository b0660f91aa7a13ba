import './sessions'
import { Router, type Request, type RequestHandler, type Response } from 'express'
import { QueryTypes } from 'sequelize'
import { object, string } from 'yup'
import { dayOf } from '../desk-day'
import type { Context } from '../context'
import type { UserRow } from '../db/models'
import { check, notFound, Problem } from '../problem'
import { fitsPassword, hashPassword, LONGEST, requireStrong } from './passwords'
import { beginSession, endSessions, sessionsOf } from './sessions'
import { limitTries } from './tries'

export async function addUser(
  c: Context,
  email: string,
  name: string,
  password: string,
  more: Partial<Pick<UserRow, 'role' | 'mustChange'>> = {},
): Promise<number> {
  const row = await c.db.users.create({
    email: email.trim().toLowerCase(),
    name,
    passwordHash: await hashPassword(password),
    ...more,
  })
  return row.id
}

export const emailShape = string()
  .trim()
  .lowercase()
  .max(190, 'An e-mail address may have 190 letters.')
  .email('This is not an e-mail address.')
  .required('Your e-mail address is missing.')
const credentials = object({
  email: emailShape,
  password: string().min(1).max(LONGEST).required('Your password is missing.'),
})
const newPassword = object({
  current: string().max(LONGEST).required('Your present password is missing.'),
  password: string().max(1000).required('The new password is missing.'),
})

/** Sign-in, sign-out, who is there; one's password, and where one is signed in. */
export function accountRoutes(c: Context): Router {
  const router = Router()
  router.get('/session', async (req, res) => {
    let user = req.session.userId ? await c.db.users.findByPk(req.session.userId, { raw: true }) : null
    if (!user && c.settings.demoAccount && !req.session.stayOut) {
      user = await c.db.users.findOne({ where: { email: c.settings.demoAccount }, raw: true })
      if (user) await beginSession(req, user)
    }
    res.json({ user: user ? face(user) : null, demo: Boolean(c.settings.demoAccount) })
  })
  router.post('/session', async (req, res) => {
    const given = check(credentials, req.body)
    const user = await c.db.users.findOne({ where: { email: given.email }, raw: true })
    const fits = await limitTries(
      c,
      [
        { kind: 'account', of: given.email },
        { kind: 'address', of: req.ip ?? '' },
      ],
      () => fitsPassword(user?.passwordHash, given.password),
    )
    if (!user || !fits) throw new Problem(401, 'wrong-sign-in', 'E-mail address or password is wrong.')
    await beginSession(req, user)
    res.json({ user: face(user) })
  })
  router.delete('/session', async (req, res) => {
    await beginSession(req, undefined)
    req.session.stayOut = true
    res.status(204).end()
  })

  router.put('/account/password', async (req, res) => {
    const given = check(newPassword, req.body)
    const user = await c.db.users.findByPk(userOf(req), { raw: true })
    if (!user) throw notFound()
    const fits = await limitTries(c, [{ kind: 'account', of: user.email }], () =>
      fitsPassword(user.passwordHash, given.current),
    )
    if (!fits)
      throw new Problem(422, 'wrong-password', 'Your present password is wrong.', {
        fields: [{ field: 'current', said: 'Your present password is wrong.' }],
      })
    requireStrong(given.password, [user.email, user.name])
    if (given.password === given.current)
      throw new Problem(422, 'weak-password', 'That is your present password.', {
        fields: [{ field: 'password', said: 'That is your present password.' }],
      })
    await c.db.users.update(
      { passwordHash: await hashPassword(given.password), mustChange: false },
      { where: { id: user.id } },
    )
    // whoever knew the old one is signed out with it
    const ended = await endSessions(c, user.id, { but: null })
    await beginSession(req, { id: user.id, mustChange: false })
    res.json({ ended: Math.max(0, ended - 1) })
  })
  router.get('/account/sessions', async (req, res) => {
    res.json(await sessionsOf(c, userOf(req), req.sessionID))
  })
  router.delete('/account/sessions/:session', async (req, res) => {
    if (!(await endSessions(c, userOf(req), { id: req.params.session }))) throw notFound()
    res.status(204).end()
  })
  /** Everywhere but here. */
  router.delete('/account/sessions', async (req, res) => {
    res.json({ ended: await endSessions(c, userOf(req), { but: req.sessionID }) })
  })
  return router
}

const face = (u: UserRow) => ({
  id: u.id,
  name: u.name,
  email: u.email,
  role: u.role,
  mustChange: Boolean(u.mustChange),
})

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

/** Who asks for something of an inquiry, and how it stood when they asked. */
export interface Member {
  inquiryId: number
  userId: number
  role: 'owner' | 'reader'
  revision: number
  /** The day on which the desk stands. */
  day: string
}

/**
 * Every address below an inquiry passes here: members may read, owners may write, to anybody else it does not exist. What
 * all of them need to know is asked in one statement.
 */
export function membersOnly(c: Context): RequestHandler {
  return async (req, res, next) => {
    const inquiryId = inquiryOf(req)
    const userId = userOf(req)
    const [found] = await c.db.sequelize.query<{ role: Member['role']; revision: number; standsOn: string | null }>(
      `SELECT m.role, i.revision, (SELECT stands_on FROM clock WHERE id = 1) AS standsOn
       FROM memberships m JOIN inquiries i ON i.id = m.inquiry_id WHERE m.inquiry_id = ? AND m.user_id = ?`,
      { type: QueryTypes.SELECT, replacements: [inquiryId, userId] },
    )
    if (!found) throw notFound()
    if (req.method !== 'GET' && req.method !== 'HEAD' && found.role !== 'owner') {
      throw new Problem(403, 'reader-only', 'You may look at this inquiry but not change it.')
    }
    const { role, revision, standsOn } = found
    const member: Member = { inquiryId, userId, role, revision, day: dayOf(standsOn) }
    res.locals.member = member
    next()
  }
}

/** Who asks, below an inquiry. */
export const memberOf = (res: Response): Member => res.locals.member as Member

export const inquiryOf = (req: Request): number => Number(req.params.inquiry)
