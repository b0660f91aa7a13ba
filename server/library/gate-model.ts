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

/** Counts a file that came through the gate on a day. */
export async function countGateFile({ db }: Pick<Context, 'db'>, userId: number, day: string): Promise<void> {
  await db.sequelize.query(
    'INSERT INTO gate_files (user_id, desk_day, files) VALUES (?, ?, 1) ON DUPLICATE KEY UPDATE files = files + 1',
    { replacements: [userId, day] },
  )
}

/** Files that came through the gate for a user on a day, over all inquiries. */
export async function gateFiles({ db }: Pick<Context, 'db'>, userId: number, day: string): Promise<number> {
  const [row] = await db.sequelize.query<{ files: number }>(
    'SELECT files FROM gate_files WHERE user_id = ? AND desk_day = ?',
    { type: QueryTypes.SELECT, replacements: [userId, day] },
  )
  return Number(row?.files ?? 0)
}
