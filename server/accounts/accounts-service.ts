import type { Request } from 'express'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import type { UserRow } from './accounts-model'
import { fitsPassword, hashPassword, requireStrong } from './passwords'
import { beginSession, endSessions } from '../sessions/sessions'
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

export type User = NonNullable<Answer<'session'>['user']>
const told = (u: UserRow): User => ({
  id: u.id,
  name: u.name,
  email: u.email,
  role: u.role,
  mustChange: Boolean(u.mustChange),
})

/** Who is signed in; in the demo its student is signed in by asking, unless they signed out by hand. */
export async function whoIsThere(c: Context, req: Request): Promise<User | null> {
  const known = req.session.userId ? await c.db.users.findByPk(req.session.userId, { raw: true }) : null
  if (known) return told(known)
  if (!c.settings.demoAccount || req.session.stayOut) return null
  const user = await c.db.users.findOne({ where: { email: c.settings.demoAccount }, raw: true })
  if (!user) return null
  await beginSession(req, user)
  return told(user)
}

/** @throws Problem 401 where address or password is wrong; 429 after too many tries */
export async function signIn(c: Context, req: Request, given: { email: string; password: string }): Promise<User> {
  const user = await c.db.users.findOne({ where: { email: given.email }, raw: true })
  const tries = [
    { kind: 'account' as const, of: given.email },
    { kind: 'address' as const, of: req.ip ?? '' },
  ]
  const fits = await limitTries(c, tries, () => fitsPassword(user?.passwordHash, given.password))
  if (!user || !fits) throw new Problem(401, 'wrong-sign-in', 'E-mail address or password is wrong.')
  await beginSession(req, user)
  return told(user)
}

export async function signOut(req: Request): Promise<void> {
  await beginSession(req, undefined)
  req.session.stayOut = true
}

/**
 * Whoever knew the old password is signed out with it.
 * @returns how many other sessions ended
 */
export async function changePassword(
  c: Context,
  req: Request,
  userId: number,
  given: { current: string; password: string },
): Promise<number> {
  const user = await c.db.users.findByPk(userId, { raw: true })
  if (!user) throw notFound()
  const fits = await limitTries(c, [{ kind: 'account', of: user.email }], () =>
    fitsPassword(user.passwordHash, given.current),
  )
  const wrong = (code: string, field: string, said: string) =>
    new Problem(422, code, said, { fields: [{ field, said }] })
  if (!fits) throw wrong('wrong-password', 'current', 'Your present password is wrong.')
  requireStrong(given.password, [user.email, user.name])
  if (given.password === given.current) throw wrong('weak-password', 'password', 'That is your present password.')
  await c.db.users.update(
    { passwordHash: await hashPassword(given.password), mustChange: false },
    { where: { id: user.id } },
  )
  const ended = await endSessions(c, user.id, { but: null })
  await beginSession(req, { id: user.id, mustChange: false })
  return Math.max(0, ended - 1)
}
