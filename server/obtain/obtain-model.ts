import type { Route } from '../../core/access/routes'
import type { Signs } from '../../core/appraise/signs'
import type { Proof } from '../../core/match/proof'
import {
  day,
  describeTable,
  json,
  key,
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

export const copies = describeTable('copies', {
  id: ownId(),
  inquiryId: whole(),
  workId: whole(),
  hash: word(),
  origin: word(),
  outcome: word<Proof['outcome']>(),
  version: word(),
  proof: json<Proof>(),
  pages: whole(),
  labels: json<string[]>(),
  /** What its pages say of its kind; null for copies of before these were read. */
  signs: orNull(json<Signs>()),
  at: moment(),
})
export type CopyRow = RowOf<typeof copies>

export const attempts = describeTable('attempts', {
  id: ownId(),
  workId: whole(),
  url: word(),
  outcome: word(),
  said: text(),
  at: moment(),
})
export type AttemptRow = RowOf<typeof attempts>

/** A file that was brought for a work and is not read yet. */
export const uploads = describeTable('uploads', {
  id: ownId(),
  inquiryId: whole(),
  workId: whole(),
  hash: word(),
  name: word(),
  at: moment(),
})
export type UploadRow = RowOf<typeof uploads>

declare module '../base/context' {
  interface Db {
    routes: Table<RouteRow>
    copies: Table<CopyRow>
    attempts: Table<AttemptRow>
    uploads: Table<UploadRow>
  }
}
