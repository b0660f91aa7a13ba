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
  await db.sequelize.query(
    'INSERT INTO clock (id, stands_on) VALUES (1, ?) ON DUPLICATE KEY UPDATE stands_on = VALUES(stands_on)',
    { replacements: [day], ...(transaction ? { transaction } : {}) },
  )
}
