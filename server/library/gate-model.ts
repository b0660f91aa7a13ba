import { QueryTypes } from 'sequelize'
import type { Context } from '../base/context'

/** A session at the gate, its cookie sealed; none where it is over. The database's own clock decides. */
export async function gateSession(
  { db }: Context,
  userId: number,
): Promise<{ cookie: Buffer; until: Date } | undefined> {
  const [row] = await db.sequelize.query<{ cookie: Buffer; until: Date }>(
    'SELECT cookie, until FROM gate_sessions WHERE user_id = ? AND until > NOW(3)',
    { type: QueryTypes.SELECT, replacements: [userId] },
  )
  return row && { cookie: row.cookie, until: new Date(row.until) }
}

export async function keepGateSession({ db }: Context, userId: number, cookie: Buffer, seconds: number): Promise<void> {
  await db.sequelize.query(
    `INSERT INTO gate_sessions (user_id, cookie, until) VALUES (:userId, :cookie, NOW(3) + INTERVAL :seconds SECOND)
     ON DUPLICATE KEY UPDATE cookie = VALUES(cookie), until = VALUES(until)`,
    { replacements: { userId, cookie, seconds } },
  )
}

export async function dropGateSession({ db }: Context, userId: number): Promise<void> {
  await db.sequelize.query('DELETE FROM gate_sessions WHERE user_id = ?', { replacements: [userId] })
}
