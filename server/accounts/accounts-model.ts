import { QueryTypes } from 'sequelize'
import type { Context } from '../base/context'
import { describeTable, flag, ownId, word, type RowOf, type Table } from '../db/table'

export const users = describeTable('users', {
  id: ownId(),
  email: word(),
  name: word(),
  passwordHash: word(),
  role: word<'student' | 'administrator'>(),
  /** The password was made by an administrator, and is for one sign-in. */
  mustChange: flag(),
})
export type UserRow = RowOf<typeof users>

declare module '../base/context' {
  interface Db {
    users: Table<UserRow>
  }
}

/**
 * Every account with how many inquiries it owns and where it is signed in: two counts beside each row, in one
 * statement.
 */
export async function accountsWithCounts({ db }: Context) {
  const rows = await db.sequelize.query<Omit<UserRow, 'passwordHash'> & { inquiries: number; sessions: number }>(
    `SELECT u.id, u.email, u.name, u.role, u.must_change AS mustChange,
       (SELECT COUNT(*) FROM memberships m WHERE m.user_id = u.id AND m.role = 'owner') AS inquiries,
       (SELECT COUNT(*) FROM sessions s WHERE s.user_id = u.id AND s.expires > NOW(3)) AS sessions
     FROM users u ORDER BY u.name, u.id`,
    { type: QueryTypes.SELECT },
  )
  return rows.map(r => ({
    ...r,
    mustChange: Boolean(r.mustChange),
    inquiries: Number(r.inquiries),
    sessions: Number(r.sessions),
  }))
}
