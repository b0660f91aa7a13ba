import { QueryTypes, type Transaction } from 'sequelize'
import type { Context, Db } from '../base/context'

/** A session at the gate, its cookie sealed; none where it is over. The database's own clock decides. */
export async function gateSession(
  { db }: Context,
  userId: number,
  library: string,
): Promise<{ cookie: Buffer; until: Date } | undefined> {
  const [row] = await db.sequelize.query<{ cookie: Buffer; until: Date }>(
    'SELECT cookie, until FROM gate_sessions WHERE user_id = ? AND library = ? AND until > NOW(3)',
    { type: QueryTypes.SELECT, replacements: [userId, library] },
  )
  return row && { cookie: row.cookie, until: new Date(row.until) }
}

export async function keepGateSession(
  { db }: Context,
  userId: number,
  library: string,
  { cookie, seconds }: { cookie: Buffer; seconds: number },
): Promise<void> {
  await db.sequelize.query(
    `INSERT INTO gate_sessions (user_id, library, cookie, until) VALUES (:userId, :library, :cookie, NOW(3) + INTERVAL :seconds SECOND)
     ON DUPLICATE KEY UPDATE cookie = VALUES(cookie), until = VALUES(until)`,
    { replacements: { userId, library, cookie, seconds } },
  )
}

export async function dropGateSession({ db }: Context, userId: number, library: string): Promise<void> {
  await db.sequelize.query('DELETE FROM gate_sessions WHERE user_id = ? AND library = ?', {
    replacements: [userId, library],
  })
}

/** Ends all sessions at a gate that is not what it was: no cookie of it goes to another. */
export async function dropSessionsAt({ sequelize }: Db, library: string, transaction: Transaction): Promise<void> {
  await sequelize.query('DELETE FROM gate_sessions WHERE library = ?', { replacements: [library], transaction })
}

/** Counts a file that came through the gate of a library on a day. */
export async function countGateFile(
  { db }: Pick<Context, 'db'>,
  userId: number,
  library: string,
  day: string,
): Promise<void> {
  await db.sequelize.query(
    'INSERT INTO gate_files (user_id, library, desk_day, files) VALUES (?, ?, ?, 1) ON DUPLICATE KEY UPDATE files = files + 1',
    { replacements: [userId, library, day] },
  )
}

/** Files that came through the gate of a library for a user on a day, over all inquiries. */
export async function gateFiles(
  { db }: Pick<Context, 'db'>,
  userId: number,
  library: string,
  day: string,
): Promise<number> {
  const [row] = await db.sequelize.query<{ files: number }>(
    'SELECT files FROM gate_files WHERE user_id = ? AND library = ? AND desk_day = ?',
    { type: QueryTypes.SELECT, replacements: [userId, library, day] },
  )
  return Number(row?.files ?? 0)
}
