import type { Kind } from '../../core/appraise/kind'
import type { Facts, Item } from '../../core/bib/item'
import type { Verdict } from '../../core/match/records'
import type { Pass, State } from '../../core/sift/decisions'
import type { LineFacts } from '../../core/sift/line'
import type { Said } from '../../core/sift/marks'
import {
  describeTable,
  json,
  key,
  moment,
  orNull,
  ownId,
  real,
  text,
  whole,
  word,
  type RowOf,
  type Table,
} from '../db/table'

/** A description as a source gave it. */
export const records = describeTable('records', {
  id: ownId(),
  inquiryId: whole(),
  source: word(),
  sourceKey: word(),
  rawHash: word(),
  raw: text(),
  format: word(),
  item: json<Item>(),
  facts: json<Facts>(),
  workId: orNull(whole()),
  /** How it came into the pool: a row of arrivals. */
  arrival: orNull(whole()),
  /** Of its item, by the database itself; never written. */
  doi: orNull(word()),
  at: moment(),
})
export type RecordRow = RowOf<typeof records>

/** One bringing of records into the pool. */
export const arrivals = describeTable('arrivals', {
  id: ownId(),
  inquiryId: whole(),
  userId: orNull(whole()),
  how: word<'sweep' | 'file' | 'trail'>(),
  records: whole(),
  newWorks: whole(),
  known: whole(),
  at: moment(),
})
export type ArrivalRow = RowOf<typeof arrivals>

export const pairLinks = describeTable('pair_links', {
  inquiryId: whole(),
  a: key(),
  b: key(),
  verdict: word<Verdict>(),
  score: real(),
  decidedBy: word<'identifier' | 'description' | 'student'>(),
})
export type PairLinkRow = RowOf<typeof pairLinks>

export const works = describeTable('works', {
  /** That of its first record. */
  id: key(),
  inquiryId: whole(),
  /** The work that has its records now; null while it is in the pool itself. */
  successorId: orNull(whole()),
  item: json<Item>(),
  facts: json<Facts>(),
  fieldFrom: json<Record<string, number>>(),
  /** What a list shows of item and facts. */
  line: json<LineFacts>(),
  kind: word<Kind>(),
  confidence: real(),
  evidence: json<string[]>(),
  state: word<State>(),
  pass: orNull(word<Pass>()),
  reason: orNull(word()),
  decidedAt: orNull(moment()),
  said: orNull(json<Said>()),
  /** By the citation index, and when it was asked. */
  citedBy: orNull(whole()),
  citedAt: orNull(moment()),
  /** Revision of the inquiry at which its line last changed. */
  revision: whole(),
})
export type WorkRow = RowOf<typeof works>

declare module '../base/context' {
  interface Db {
    records: Table<RecordRow>
    arrivals: Table<ArrivalRow>
    pairLinks: Table<PairLinkRow>
    works: Table<WorkRow>
  }
}
