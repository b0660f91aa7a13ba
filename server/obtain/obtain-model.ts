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
    uploads: Table<UploadRow>
  }
}
