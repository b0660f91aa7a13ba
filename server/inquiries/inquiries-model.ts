import { QueryTypes } from 'sequelize'
import type { Context } from '../base/context'
import { opensTo } from '../copies/copies-model'
import type { Layout } from '../../core/paper/layout'
import type { Sheet } from '../../core/query/sheet'
import type { Rhythm } from '../../core/write/plan'
import type { BriefRules } from '../../core/write/rules'
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

export const inquiries = describeTable('inquiries', {
  id: ownId(),
  title: word(),
  question: text(),
  /** ISO date; null where nothing is due. */
  due: orNull(day()),
  zone: word(),
  style: word(),
  /** The tag of the language of its citations, where it is not the style's own. */
  language: orNull(word()),
  /** How its bibliography is laid out; null where it was not said. */
  layout: orNull(json<Layout>()),
  rules: json<BriefRules>(),
  /** How the student works on it; null where it was not said. */
  rhythm: orNull(json<Rhythm>()),
  query: text(),
  sheet: orNull(json<Sheet>()),
  sheetVersion: whole(),
  revision: whole(),
  version: whole(),
  at: moment(),
})
export type InquiryRow = RowOf<typeof inquiries>

export const memberships = describeTable('memberships', {
  inquiryId: key(),
  userId: key(),
  role: word<'owner' | 'reader'>(),
  at: moment(),
})
export type MembershipRow = RowOf<typeof memberships>

declare module '../base/context' {
  interface Db {
    inquiries: Table<InquiryRow>
    memberships: Table<MembershipRow>
  }
}

/** Numbers of the stations, as they stand for a member: seven counts of as many tables, in one statement. */
export async function stationCounts({ db }: Context, id: number, asker: { userId: number; day: string }) {
  const [row] = await db.sequelize.query<Record<string, number | string | null>>(
    `SELECT w.*, s.*,
       (SELECT COUNT(DISTINCT node_id) FROM walks WHERE inquiry_id = :id AND day IS NOT NULL) AS trails,
       (SELECT COUNT(DISTINCT c.work_id) FROM copies c JOIN works k ON k.id = c.work_id
         WHERE c.inquiry_id = :id AND c.outcome = 'proved' AND k.state = 'kept' AND ${opensTo('c')}) AS inHand,
       (SELECT COUNT(DISTINCT work_id) FROM passages WHERE inquiry_id = :id) AS readWorks,
       e.*
     FROM (SELECT COUNT(*) AS pool, SUM(state = 'unread') AS unread, SUM(state = 'kept') AS kept
         FROM works WHERE inquiry_id = :id AND successor_id IS NULL) w,
       (SELECT MAX(count) AS least, SUM(count) AS most
         FROM sweep_catalogues WHERE sweep_id = (SELECT MAX(id) FROM sweeps WHERE inquiry_id = :id)) s,
       (SELECT COUNT(DISTINCT n) AS entries, COUNT(DISTINCT IF(annotation <> '', n, NULL)) AS annotated
         FROM (SELECT COALESCE(k.successor_id, k.id) AS n, x.annotation
           FROM entries x JOIN works k ON k.id = x.work_id WHERE x.inquiry_id = :id) of) e`,
    { type: QueryTypes.SELECT, replacements: { id, userId: asker.userId, day: asker.day } },
  )
  const n = (name: string): number => Number(row?.[name] ?? 0)
  return {
    /** Of the latest sweep, as its catalogues count: at least the largest, at most the sum. */
    least: n('least'),
    most: n('most'),
    unread: n('unread'),
    kept: n('kept'),
    pool: n('pool'),
    trails: n('trails'),
    inHand: n('inHand'),
    read: n('readWorks'),
    entries: n('entries'),
    annotated: n('annotated'),
  }
}
