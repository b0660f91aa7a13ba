import type { Limits } from '../../core/sift/limits'
import { day, describeTable, flag, json, moment, orNull, ownId, whole, word, type RowOf, type Table } from '../db/table'

export const strands = describeTable('strands', {
  id: ownId(),
  inquiryId: whole(),
  name: word(),
  place: whole(),
  /** Taken away; its works' marks stay, so that it can come back. */
  gone: flag(),
  at: moment(),
})
export type StrandRow = RowOf<typeof strands>

export const poolViews = describeTable('pool_views', {
  id: ownId(),
  inquiryId: whole(),
  name: word(),
  limits: json<Limits>(),
  words: word(),
  at: moment(),
})
export type PoolViewRow = RowOf<typeof poolViews>

export const checks = describeTable('checks', {
  id: ownId(),
  inquiryId: whole(),
  userId: orNull(whole()),
  /** The check's number in its inquiry, from 1. */
  n: whole(),
  /** Works that were unread when it began. */
  size: whole(),
  /** Ids of the works that were drawn, in the order drawn. */
  drawn: json<number[]>(),
  deskDay: day(),
  at: moment(),
})
export type CheckRow = RowOf<typeof checks>

declare module '../base/context' {
  interface Db {
    strands: Table<StrandRow>
    poolViews: Table<PoolViewRow>
    checks: Table<CheckRow>
  }
}
