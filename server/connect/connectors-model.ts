import { QueryTypes } from 'sequelize'
import type { Context } from '../base/context'

/** The sealed key that the operator keeps for a connector. */
export async function sealedKey({ db }: Context, connector: string): Promise<Buffer | undefined> {
  const [row] = await db.sequelize.query<{ sealed: Buffer }>('SELECT sealed FROM connector_keys WHERE connector = ?', {
    type: QueryTypes.SELECT,
    replacements: [connector],
  })
  return row?.sealed
}

/** Keeps a key, or forgets it where there is none. */
export async function keepSealedKey({ db }: Context, connector: string, sealed: Buffer | undefined): Promise<void> {
  await db.sequelize.query(
    sealed
      ? 'REPLACE INTO connector_keys (connector, sealed) VALUES (?, ?)'
      : 'DELETE FROM connector_keys WHERE connector = ?',
    { replacements: sealed ? [connector, sealed] : [connector] },
  )
}

/** Counts one request of today, by the database's own clock; false where that would be more than `most`. */
export async function countRequest({ db }: Context, connector: string, most: number): Promise<boolean> {
  await db.sequelize.query('INSERT IGNORE INTO connector_days (connector, day, asked) VALUES (?, UTC_DATE(), 0)', {
    replacements: [connector],
  })
  const [, changed] = await db.sequelize.query(
    'UPDATE connector_days SET asked = asked + 1 WHERE connector = ? AND day = UTC_DATE() AND asked < ?',
    { type: QueryTypes.UPDATE, replacements: [connector, most] },
  )
  return changed > 0
}
