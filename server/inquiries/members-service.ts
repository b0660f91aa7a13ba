import type { Transaction } from 'sequelize'
import type { Answer } from '../../core/schema/api'
import { notFound, Problem } from '../base/problem'
import type { Context } from '../base/context'
import { libraryAskerChanged } from '../library/libraries-service'
import { askerOf } from '../library/libraries-model'
import type { Member } from '../sessions/member'
import type { MembershipRow } from './inquiries-model'

type Role = MembershipRow['role']
const NOBODY = 'Nobody has an account here with this address.'

/** Who is in an inquiry, those first who came first. */
export async function membersOf(
  c: Context,
  { inquiryId, userId }: Pick<Member, 'inquiryId' | 'userId'>,
): Promise<Answer<'members'>> {
  const rows = await c.db.memberships.findAll({ where: { inquiryId }, order: ['at', 'userId'], raw: true })
  const where = { id: rows.map(m => m.userId) }
  const users = await c.db.users.findAll({ where, attributes: ['id', 'name', 'email'], raw: true })
  const first = rows.find(m => m.role === 'owner')?.userId
  return rows.flatMap(m => {
    const user = users.find(u => u.id === m.userId)
    return user ? { ...user, role: m.role, isMe: user.id === userId, isFirst: user.id === first } : []
  })
}

/** Takes somebody in who has an account. @throws Problem 422 where there is none, 409 where they are in it already */
export async function addMember(
  c: Context,
  inquiryId: number,
  { email, role }: { email: string; role: Role },
  t: Transaction,
): Promise<{ id: number }> {
  const user = await c.db.users.findOne({ where: { email: email.toLowerCase() }, transaction: t, raw: true })
  if (!user) throw new Problem(422, 'nobody-there', NOBODY, { fields: [{ field: 'email', said: NOBODY }] })
  const [, isNew] = await c.db.memberships.findOrCreate({
    where: { inquiryId, userId: user.id },
    defaults: { inquiryId, userId: user.id, role },
    transaction: t,
  })
  if (!isNew) throw new Problem(409, 'member-already', `${user.name} is in it already.`)
  return { id: user.id }
}

/** Lets a member do more, or less. @throws Problem 404; 409 of who is first among those who work on it */
export async function changeMember(
  c: Context,
  inquiryId: number,
  { userId, role }: { userId: number; role: Role },
  t: Transaction,
): Promise<void> {
  const first = await askerOf(c, inquiryId, t)
  await requireMember(c, inquiryId, userId, t)
  await c.db.memberships.update({ role }, { where: { inquiryId, userId }, transaction: t })
  await followAsker(c, inquiryId, first, t)
}

/** Where somebody else is first by now, their libraries are asked. @returns who is first */
async function followAsker(c: Context, inquiryId: number, before: number | undefined, t: Transaction) {
  const now = await askerOf(c, inquiryId, t)
  if (now !== undefined && now !== before) await libraryAskerChanged(c, inquiryId, now, t)
  return now
}

/** Takes a member out; what they decided and wrote stays. @throws as above */
export async function dropMember(c: Context, inquiryId: number, userId: number, t: Transaction): Promise<void> {
  await requireMember(c, inquiryId, userId, t)
  await c.db.memberships.destroy({ where: { inquiryId, userId }, transaction: t })
}

/** The libraries of who is first are asked for all: that changes by their own doing alone. */
async function requireMember(c: Context, inquiryId: number, userId: number, t: Transaction): Promise<void> {
  if (!(await c.db.memberships.count({ where: { inquiryId, userId }, transaction: t }))) throw notFound()
  if ((await askerOf(c, inquiryId, t)) === userId)
    throw new Problem(
      409,
      'first-member',
      'Who is first among those who work on it stays: their libraries are asked for it. They can leave by themselves.',
    )
}

/**
 * Leaves an inquiry. Where it was one's libraries that were asked for it, those of the next are from then on.
 * @throws Problem 409 where nobody else works on it
 */
export async function leave(
  c: Context,
  { inquiryId, userId }: Pick<Member, 'inquiryId' | 'userId'>,
  t: Transaction,
): Promise<void> {
  const first = await askerOf(c, inquiryId, t)
  await c.db.memberships.destroy({ where: { inquiryId, userId }, transaction: t })
  if ((await followAsker(c, inquiryId, first, t)) === undefined)
    throw new Problem(
      409,
      'last-member',
      'Nobody else works on it: let somebody do so first, or delete the inquiry in its brief.',
    )
}
