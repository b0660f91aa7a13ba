import { QueryTypes, type Transaction } from 'sequelize'
import type { Hours } from '../../core/access/hours'
import type { LibraryProfile } from '../../core/schema/library'
import type { Context, Db } from '../base/context'
import { day, describeTable, flag, json, keyText, key, moment, orNull, ownId, text, whole, word } from '../db/table'
import type { RowOf, Table } from '../db/table'
import { readJson } from '../db/rows'

/** Libraries that were set up here, beside those of the settings. */
export const libraries = describeTable('libraries', {
  id: ownId(),
  /** Whose it is; null where an administrator set it up for all. */
  userId: orNull(whole()),
  profile: json<LibraryProfile>(),
  /** The address of the profile that it was brought in from. */
  cameFrom: orNull(word()),
  /** Whether its hosts may be fetched though the settings do not name them. */
  allowed: flag(),
  /** It is asked no more; works that came by its catalogues still tell its name. */
  dropped: flag(),
  version: whole(),
  at: moment(),
})
export type LibraryRow = RowOf<typeof libraries>

/** The libraries that somebody asks, by their keys, in their order. */
export const chosenLibraries = describeTable('chosen_libraries', { userId: key(), library: keyText(), place: whole() })

/** What came of trying a part of a library last. */
export const libraryTrials = describeTable('library_trials', {
  library: keyText(),
  part: keyText(),
  holds: flag(),
  said: text(),
  deskDay: day(),
  at: moment(),
})

/** When libraries are open, by branch, as their calendars said last. */
export const libraryHours = describeTable('library_hours', {
  library: keyText(),
  branch: keyText(),
  /** From which it was read. */
  addresses: text(),
  hours: orNull(json<Hours>()),
  /** Why it could not be read, or what of it. */
  trouble: orNull(text()),
  deskDay: day(),
  at: moment(),
})
export type LibraryHoursRow = RowOf<typeof libraryHours>

declare module '../base/context' {
  interface Db {
    libraryHours: Table<LibraryHoursRow>
    libraries: Table<LibraryRow>
    chosenLibraries: Table<RowOf<typeof chosenLibraries>>
    libraryTrials: Table<RowOf<typeof libraryTrials>>
  }
}

/** Libraries that have or had catalogues of their own. */
export async function librariesWithCatalogues({
  db,
}: Pick<Context, 'db'>): Promise<{ key: string; catalogues: LibraryProfile['catalogues'] }[]> {
  const rows = await db.sequelize.query<{ id: number; catalogues: LibraryProfile['catalogues'] | string }>(
    `SELECT id, JSON_EXTRACT(profile, '$.catalogues') AS catalogues FROM libraries WHERE JSON_LENGTH(profile, '$.catalogues') > 0`,
    { type: QueryTypes.SELECT },
  )
  return rows.map(r => ({ key: String(r.id), catalogues: readJson(r.catalogues) }))
}

/** Counts of the catalogues of a library say nothing any more once they lie elsewhere. */
export async function dropCounts(db: Db, key: string, transaction: Transaction): Promise<void> {
  await db.sequelize.query(`DELETE FROM counts WHERE catalogue LIKE CONCAT(?, '.%')`, {
    replacements: [key],
    transaction,
  })
}

/** Who asks the libraries for an inquiry: the first of its owners. */
export async function askerOf(
  { db }: Pick<Context, 'db'>,
  inquiryId: number,
  transaction?: Transaction,
): Promise<number | undefined> {
  const [row] = await db.sequelize.query<{ user: number }>(
    `SELECT user_id AS user FROM memberships WHERE inquiry_id = ? AND role = 'owner' ORDER BY at, user_id LIMIT 1`,
    { type: QueryTypes.SELECT, replacements: [inquiryId], ...(transaction ? { transaction } : {}) },
  )
  return row?.user
}

/** The inquiries for which somebody asks the libraries. */
export async function asksFor(db: Db, userId: number, transaction: Transaction): Promise<number[]> {
  const rows = await db.sequelize.query<{ id: number }>(
    `SELECT m.inquiry_id AS id FROM memberships m WHERE m.role = 'owner' AND m.user_id = :userId AND NOT EXISTS
       (SELECT 1 FROM memberships o WHERE o.inquiry_id = m.inquiry_id AND o.role = 'owner'
         AND (o.at < m.at OR (o.at = m.at AND o.user_id < :userId))) ORDER BY id`,
    { type: QueryTypes.SELECT, replacements: { userId }, transaction },
  )
  return rows.map(r => r.id)
}
