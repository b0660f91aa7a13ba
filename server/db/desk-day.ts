import { QueryTypes, type Transaction } from 'sequelize'
import type { Db } from '../base/context'

/** Desk time: the day on which the student works. The demo stands on a fixed day; otherwise it is today's date. */
export async function deskDay(db: Db): Promise<string> {
  const [row] = await db.sequelize.query<{ standsOn: string | null }>(
    'SELECT stands_on AS standsOn FROM clock WHERE id = 1',
    { type: QueryTypes.SELECT },
  )
  return dayOf(row?.standsOn)
}

/** The same from what the clock says. */
export const dayOf = (standsOn: string | null | undefined): string =>
  standsOn ? String(standsOn).slice(0, 10) : new Date().toISOString().slice(0, 10)

export async function standOn(db: Db, day: string | null, transaction?: Transaction): Promise<void> {
  const how = { replacements: [day], ...(transaction ? { transaction } : {}) }
  await db.sequelize.query(
    'INSERT INTO clock (id, stands_on) VALUES (1, ?) ON DUPLICATE KEY UPDATE stands_on = VALUES(stands_on)',
    how,
  )
  await db.sequelize.query('REPLACE INTO desk_days (began, day) VALUES (NOW(3), ?)', how)
}

/** From which moment on the desk stood on which day, the first first: what was done is shown in desk time by it. */
export async function deskDays(db: Db): Promise<{ from: string; day: string | null }[]> {
  const rows = await db.sequelize.query<{ began: string | Date; day: string | null }>(
    'SELECT began, day FROM desk_days ORDER BY began',
    { type: QueryTypes.SELECT },
  )
  return rows.map(r => ({ from: new Date(r.began).toISOString(), day: r.day && String(r.day).slice(0, 10) }))
}
