import type { LoanEvent, LoanKind, LoanState } from '../../core/access/loan'
import type { Supplier } from '../../core/access/partners'
import type { Item } from '../../core/bib/item'
import { day, describeTable, flag, json, moment, orNull, ownId, real, text, whole, word } from '../db/table'
import type { RowOf, Table } from '../db/table'

/** A scan or a book that somebody asked a library's office for. */
export const loans = describeTable('loans', {
  id: ownId(),
  inquiryId: whole(),
  workId: whole(),
  userId: whole(),
  library: word(),
  kind: word<LoanKind>(),
  /** What it is known by in messages. */
  request: word(),
  /** Its description as it was asked for. */
  item: json<Item>(),
  note: text(),
  anyEdition: flag(),
  /** Partners that had it when it was asked for, those to be asked first before others. */
  suppliers: orNull(json<Supplier[]>()),
  /** How it stands: it follows from its events. */
  state: word<LoanState>(),
  /** Working days that it took to come, once it came. */
  took: orNull(real()),
  at: moment(),
})
export type LoanRow = RowOf<typeof loans>

export const loanEvents = describeTable('loan_events', {
  id: ownId(),
  loanId: whole(),
  what: word<LoanEvent['what']>(),
  /** By the clock of the desk. */
  at: moment(),
  said: text(),
  until: orNull(day()),
  url: orNull(word()),
  /** Of a message: the same one counts once. */
  hash: orNull(word()),
  /** The event that it befell after, where others were heard before it could be written down. */
  afterId: orNull(whole()),
})
export type LoanEventRow = RowOf<typeof loanEvents>

declare module '../base/context' {
  interface Db {
    loans: Table<LoanRow>
    loanEvents: Table<LoanEventRow>
  }
}
