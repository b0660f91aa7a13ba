import { randomInt } from 'node:crypto'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { accountsWithCounts } from './accounts-model'
import { addUser } from './accounts-service'
import { hashPassword } from './passwords'
import { endSessions } from '../sessions/sessions'

/** Letters that are not taken for one another when read aloud or from paper. */
const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789'
/** A password for one sign-in: sixteen letters in fours. */
const passingPassword = (): string =>
  Array.from({ length: 4 }, () => Array.from({ length: 4 }, () => LETTERS[randomInt(LETTERS.length)]).join('')).join(
    '-',
  )

export async function isAdministrator(c: Context, userId: number): Promise<boolean> {
  const user = await c.db.users.findByPk(userId, { attributes: ['role', 'mustChange'], raw: true })
  return user?.role === 'administrator' && !user.mustChange
}

export const listAccounts = (c: Context): Promise<Answer<'accounts'>> => accountsWithCounts(c)

/** @throws Problem 409 where there is one of this address */
export async function addAccount(
  c: Context,
  { email, name }: { email: string; name: string },
): Promise<{ id: number; password: string }> {
  if (await c.db.users.count({ where: { email } }))
    throw new Problem(409, 'account-there', 'There is an account of this address already.', {
      fields: [{ field: 'email', said: 'There is an account of this address already.' }],
    })
  const password = passingPassword()
  return { id: await addUser(c, email, name, password, { mustChange: true }), password }
}

/** Gives an account a password for one sign-in, and ends what is signed in. */
export async function passingPasswordFor(c: Context, id: number): Promise<{ password: string; ended: number }> {
  await requireAccount(c, id)
  const password = passingPassword()
  await c.db.users.update({ passwordHash: await hashPassword(password), mustChange: true }, { where: { id } })
  return { password, ended: await endSessions(c, id, { but: null }) }
}

export async function endAllSessions(c: Context, id: number): Promise<number> {
  await requireAccount(c, id)
  return endSessions(c, id, { but: null })
}

async function requireAccount(c: Context, id: number): Promise<void> {
  if (!(await c.db.users.count({ where: { id } }))) throw notFound()
}
