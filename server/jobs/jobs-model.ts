import {
  describeTable,
  flag,
  json,
  moment,
  orNull,
  ownId,
  text,
  whole,
  word,
  type RowOf,
  type Table,
} from '../db/table'

export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled'

export const jobs = describeTable('jobs', {
  id: ownId(),
  kind: word(),
  inquiryId: orNull(whole()),
  userId: orNull(whole()),
  payload: json<Record<string, unknown>>(),
  state: word<JobState>(),
  progress: json<Record<string, unknown>>(),
  result: orNull(json<Record<string, unknown>>()),
  error: orNull(text()),
  attempts: whole(),
  /** How often its worker vanished without a word since it last got further. */
  losses: whole(),
  claimedAt: orNull(moment()),
  cancelAsked: flag(),
  worker: orNull(word()),
  runAfter: moment(),
  leaseUntil: orNull(moment()),
  at: moment(),
  changedAt: moment(),
})
export type JobRow = RowOf<typeof jobs>

declare module '../base/context' {
  interface Db {
    jobs: Table<JobRow>
  }
}
