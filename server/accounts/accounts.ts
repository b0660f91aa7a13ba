import 'express-session'
import { hash, verify } from '@node-rs/argon2'
import { Router, type Request, type RequestHandler } from 'express'
import { rateLimit } from 'express-rate-limit'
import { object, string } from 'yup'
import type { Context } from '../context'
import type { UserRow } from '../db/models'
import { check, notFound, Problem } from '../problem'

declare module 'express-session' {
  interface SessionData {
    userId?: number
    /** The demo's visitor signed out on purpose: do not sign in again by itself. */
    stayOut?: boolean
  }
}

export const hashPassword = (password: string): Promise<string> => hash(password)

export async function addUser(c: Context, email: string, name: string, password: string): Promise<number> {
  const row = await c.db.users.create({
    email: email.trim().toLowerCase(),
    name,
    passwordHash: await hashPassword(password),
  })
  return row.id
}

const credentials = object({
  email: string()
    .trim()
    .lowercase()
    .email('This is not an e-mail address.')
    .required('Your e-mail address is missing.'),
  password: string().min(1).max(200).required('Your password is missing.'),
})

/** Sign-in, sign-out and who is there. */
export function accountRoutes(c: Context): Router {
  const router = Router()
  const limit = rateLimit({ windowMs: 60_000, limit: 20, standardHeaders: true, legacyHeaders: false })
  router.get('/session', async (req, res) => {
    let user = req.session.userId ? await c.db.users.findByPk(req.session.userId, { raw: true }) : null
    if (!user && c.settings.demoAccount && !req.session.stayOut) {
      user = await c.db.users.findOne({ where: { email: c.settings.demoAccount }, raw: true })
      if (user) req.session.userId = user.id
    }
    res.json({ user: user ? face(user) : null, demo: Boolean(c.settings.demoAccount) })
  })
  router.post('/session', limit, async (req, res) => {
    const given = check(credentials, req.body)
    const user = await c.db.users.findOne({ where: { email: given.email }, raw: true })
    // a hash is always computed, so that the time taken does not tell which addresses exist
    const fits = await verify(user?.passwordHash ?? NOBODY, given.password).catch(() => false)
    if (!user || !fits) throw new Problem(401, 'wrong-sign-in', 'E-mail address or password is wrong.')
    await new Promise<void>((done, fail) => req.session.regenerate(e => (e ? fail(e as Error) : done())))
    req.session.userId = user.id
    res.json({ user: face(user) })
  })
  router.delete('/session', async (req, res) => {
    await new Promise<void>((done, fail) => req.session.regenerate(e => (e ? fail(e as Error) : done())))
    req.session.stayOut = true
    res.status(204).end()
  })
  return router
}

const NOBODY = '$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$1mCq1mQyMPWcMvC4xXo1bq3cVwVL3wJDUoB1p2pSg4s'
const face = (u: UserRow) => ({ id: u.id, name: u.name, email: u.email })

/** The signed-in user's id. @throws Problem 401 */
export function userOf(req: Request): number {
  if (!req.session.userId)
    throw new Problem(401, 'signed-out', 'You are signed out. Sign in to go on; what you saved is there.')
  return req.session.userId
}

/**
 * Every address below an inquiry passes here: members may read, owners may write, to anybody else it does not exist.
 */
export function membersOnly(c: Context): RequestHandler {
  return async (req, _res, next) => {
    const userId = userOf(req)
    const inquiryId = Number(req.params.inquiry)
    const member = Number.isInteger(inquiryId)
      ? await c.db.memberships.findOne({ where: { inquiryId, userId }, raw: true })
      : null
    if (!member) throw notFound()
    if (req.method !== 'GET' && req.method !== 'HEAD' && member.role !== 'owner') {
      throw new Problem(403, 'reader-only', 'You may look at this inquiry but not change it.')
    }
    next()
  }
}

export const inquiryOf = (req: Request): number => Number(req.params.inquiry)
