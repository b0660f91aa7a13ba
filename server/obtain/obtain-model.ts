import { QueryTypes } from 'sequelize'
import type { AwaitedFor } from '../../core/access/awaited'
import type { Route } from '../../core/access/routes'
import type { Ended, Step } from '../../core/access/walk'
import {
  day,
  describeTable,
  flag,
  json,
  key,
  keyText,
  moment,
  orNull,
  ownId,
  text,
  whole,
  word,
  type RowOf,
  type Table,
} from '../db/table'
import type { Db } from '../base/context'

/** The ways to a work's text that were looked for. */
export const routes = describeTable('routes', {
  workId: key(),
  inquiryId: whole(),
  routes: json<Route[]>(),
  closed: json<string[]>(),
  deskDay: day(),
  trouble: orNull(text()),
  at: moment(),
})
export type RouteRow = RowOf<typeof routes>

export const attempts = describeTable('attempts', {
  id: ownId(),
  workId: whole(),
  url: word(),
  outcome: word(),
  said: text(),
  at: moment(),
})
export type AttemptRow = RowOf<typeof attempts>

/** A way that was walked. */
export const wayWalks = describeTable('way_walks', {
  id: ownId(),
  inquiryId: whole(),
  workId: whole(),
  userId: whole(),
  /** Where it began. */
  url: word(),
  byGate: flag(),
  ended: word<Ended>(),
  said: text(),
  steps: json<Step[]>(),
  deskDay: day(),
  at: moment(),
})
export type WayWalkRow = RowOf<typeof wayWalks>

/** Terms of a platform that a user accepted on a day. */
export const acceptedTerms = describeTable('accepted_terms', { userId: key(), host: keyText(), deskDay: day() })
export type AcceptedTermsRow = RowOf<typeof acceptedTerms>

/** Texts that are fetched by themselves for a user, from a day on. */
export const awaited = describeTable('awaited', {
  workId: key(),
  userId: key(),
  inquiryId: whole(),
  fromDay: day(),
  why: word<AwaitedFor>(),
  /** The library at whose gate the user has to sign in first. */
  gate: orNull(word()),
  at: moment(),
})
export type AwaitedRow = RowOf<typeof awaited>

/**
 * Texts whose day has come, and those whose gate was signed in at; of the inquiries that are due first, first.
 * @param today ISO date of the desk
 */
export const dueAwaited = (
  db: Db,
  today: string,
): Promise<Pick<AwaitedRow, 'workId' | 'userId' | 'inquiryId' | 'gate'>[]> =>
  db.sequelize.query(
    `SELECT a.work_id AS workId, a.user_id AS userId, a.inquiry_id AS inquiryId, a.gate FROM awaited a
       JOIN inquiries i ON i.id = a.inquiry_id
       LEFT JOIN gate_sessions g ON g.user_id = a.user_id AND g.library = a.gate AND g.until > NOW(3)
     WHERE a.from_day <= ? AND (a.gate IS NULL OR g.user_id IS NOT NULL)
     ORDER BY i.due IS NULL, i.due, a.inquiry_id LIMIT 2000`,
    { type: QueryTypes.SELECT, replacements: [today] },
  )

/** Letters that a user wrote to the author of a work: on which days of the desk. */
export const authorLetters = describeTable('author_letters', {
  workId: key(),
  userId: key(),
  inquiryId: whole(),
  wrote: json<string[]>(),
  declined: flag(),
  /** The day of the desk on which its silence is told by mail. */
  remindOn: orNull(day()),
  at: moment(),
})
export type AuthorLettersRow = RowOf<typeof authorLetters>

/** A file that was brought and is not read yet. */
export const uploads = describeTable('uploads', {
  id: ownId(),
  inquiryId: whole(),
  /** Null where the file is to find its work by its own text. */
  workId: orNull(whole()),
  hash: word(),
  name: word(),
  at: moment(),
})
export type UploadRow = RowOf<typeof uploads>

declare module '../base/context' {
  interface Db {
    routes: Table<RouteRow>
    attempts: Table<AttemptRow>
    wayWalks: Table<WayWalkRow>
    acceptedTerms: Table<AcceptedTermsRow>
    awaited: Table<AwaitedRow>
    authorLetters: Table<AuthorLettersRow>
    uploads: Table<UploadRow>
  }
}
