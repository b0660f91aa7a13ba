import type { Transaction } from 'sequelize'
import {
  opensFor,
  openingOf,
  type CopyRight,
  type Opening,
  type PassedOn,
  type RightKind,
} from '../../core/access/copy-rights'
import { firstLetters } from '../../core/bib/clean'
import { notFound, Problem } from '../base/problem'
import type { Context } from '../base/context'
import { addMissing, grouped } from '../db/rows'
import type { Member } from '../sessions/member'
import type { CopyRow } from './copies-model'

/** A copy that somebody asks for. */
export type AskedCopy = Pick<CopyRow, 'id'> & Asker
export type Asker = Pick<Member, 'inquiryId' | 'userId' | 'day'>
export const askedCopy = ({ inquiryId, userId, day }: Asker, id: number): AskedCopy => ({ id, inquiryId, userId, day })

/** By whose right a copy comes. */
export interface Grant {
  kind: RightKind
  /** Null for every member. */
  userId: number | null
  from: string
  until?: string | null
  /** The terms on which it is lent. */
  terms?: string | null
  /** Who passed it on. */
  by?: number
}
/** The row of what is everybody's: no account has this number. */
const EVERYBODY = 0

/**
 * Writes down by whose right a copy is here; where it was by the same right before, by what is said of it now. What was
 * lent to somebody is no file of their own by their bringing it once more.
 * @param revision at which its work changes by that: it is in hand for others then
 */
export async function grant(
  c: Context,
  { id: copyId, workId }: Pick<CopyRow, 'id' | 'workId'>,
  grants: readonly Grant[],
  t: Transaction,
  revision: number,
): Promise<void> {
  const own = grants.flatMap(g => (g.kind === 'own' ? (g.userId ?? []) : []))
  const lent = own.length
    ? await c.db.copyRights.findAll({ where: { copyId, kind: 'loan', userId: own }, transaction: t, raw: true })
    : []
  const given = grants.filter(g => g.kind !== 'own' || lent.every(r => r.userId !== g.userId))
  const rows = given.map(({ kind, userId, from, until = null, terms = null, by: byUser = null }) => ({
    ...{ copyId, userId: userId ?? EVERYBODY, kind, source: firstLetters(from, 500), until, terms, byUser },
  }))
  await c.db.copyRights.bulkCreate(rows, { updateOnDuplicate: ['source', 'until', 'terms', 'byUser'], transaction: t })
  await c.db.works.update({ revision }, { where: { id: workId }, transaction: t })
}

/** Gives the rights to a copy to another one of the same file. */
export async function moveRights(c: Context, from: number, to: number, t: Transaction): Promise<void> {
  const rows = await c.db.copyRights.findAll({ where: { copyId: from }, transaction: t, raw: true })
  const moved = rows.map(r => ({ ...r, copyId: to }))
  await addMissing(c.db.copyRights, moved, 'copyId', t)
}

/** By whose rights copies are here. */
export async function rightsOf(
  c: Context,
  copyIds: readonly number[],
): Promise<(copy: number) => readonly CopyRight[]> {
  const rows = copyIds.length ? await c.db.copyRights.findAll({ where: { copyId: [...copyIds] }, raw: true }) : []
  const of = grouped(rows, r => r.copyId)
  return copy =>
    (of.get(copy) ?? []).map(r => ({
      ...{ kind: r.kind, from: r.source, until: r.until, terms: r.terms, by: r.byUser },
      holder: r.userId === EVERYBODY ? null : r.userId,
    }))
}

/** What a member may do with copies. */
export async function openingsOf(
  c: Context,
  { inquiryId, userId, day }: Asker,
  copyIds: readonly number[],
): Promise<(copy: number) => Opening> {
  const rights = await rightsOf(c, copyIds)
  // only of copies of others has anybody to be named
  const isNamed = copyIds.some(id => !opensFor(rights(id), userId, day))
  const names = isNamed ? await namesOf(c, inquiryId) : new Map<number, string>()
  return copy => openingOf(rights(copy), { user: userId, day, nameOf: id => names.get(id) })
}

async function namesOf(c: Context, inquiryId: number): Promise<Map<number, string>> {
  const members = await c.db.memberships.findAll({ where: { inquiryId }, attributes: ['userId'], raw: true })
  const where = { id: members.map(m => m.userId) }
  const users = await c.db.users.findAll({ where, attributes: ['id', 'name'], raw: true })
  return new Map(users.map(u => [u.id, u.name]))
}

/** Of copies those that a member may open. */
export async function readable<T extends { id: number }>(
  c: Context,
  { userId, day }: Pick<Asker, 'userId' | 'day'>,
  copies: readonly T[],
): Promise<T[]> {
  const rights = await rightsOf(
    c,
    copies.map(x => x.id),
  )
  return copies.filter(x => opensFor(rights(x.id), userId, day))
}

/** A copy that whoever asks may open. @throws Problem 404; 403 where it is another's right, or its time is over */
export async function readableCopy(c: Context, { id, ...asker }: AskedCopy): Promise<CopyRow> {
  const row = await c.db.copies.findOne({ where: { id, inquiryId: asker.inquiryId }, raw: true })
  if (!row) throw notFound()
  const { opens, said } = (await openingsOf(c, asker, [id]))(id)
  if (!opens) throw new Problem(403, 'not-yours-to-open', said)
  return row
}

/**
 * Passes a copy on to every member, or keeps it to oneself again.
 * @param why null takes it back
 * @throws Problem 404; 403 where it is not this member's to pass on
 */
export async function passOn(
  c: Context,
  { id, ...asker }: AskedCopy,
  why: PassedOn | null,
  t: Transaction,
  revision: number,
): Promise<void> {
  const copy = await c.db.copies.findOne({ where: { id, inquiryId: asker.inquiryId }, transaction: t, raw: true })
  if (!copy) throw notFound()
  const { mayPassOn, said } = (await openingsOf(c, asker, [id]))(id)
  if (!mayPassOn) throw new Problem(403, 'not-yours-to-pass-on', `This copy is not yours to pass on. ${said}`)
  if (why) {
    const user = await c.db.users.findByPk(asker.userId, { attributes: ['name'], transaction: t, raw: true })
    const from = SAID[why](user?.name ?? 'a member')
    await grant(c, copy, [{ kind: 'passed on', userId: null, from, by: asker.userId }], t, revision)
  } else {
    await c.db.copyRights.destroy({ where: { copyId: id, userId: EVERYBODY, kind: 'passed on' }, transaction: t })
    await c.db.works.update({ revision }, { where: { id: copy.workId }, transaction: t })
  }
}

const SAID: Record<PassedOn, (name: string) => string> = {
  'it is openly licensed': name => `openly licensed, as ${name} says`,
  'it is my own work': name => `the own work of ${name}`,
  'its owner allows it': name => `its owner allows it, as ${name} says`,
}
