import type { Selector } from '../../core/pdftext/anchor'
import { describeTable, json, moment, orNull, ownId, text, whole, word, type RowOf, type Table } from '../db/table'

export const passages = describeTable('passages', {
  id: ownId(),
  inquiryId: whole(),
  workId: whole(),
  copyId: whole(),
  page: whole(),
  label: word(),
  kind: word<'quoted' | 'in my words' | 'figure'>(),
  quote: text(),
  note: text(),
  strandId: orNull(whole()),
  tags: json<string[]>(),
  /** What finds it again in another version of its work; null for passages of before. */
  selectors: orNull(json<Selector[]>()),
  version: whole(),
  /** The id that the client gave it, so that sending it twice makes one. */
  ownId: orNull(word()),
  at: moment(),
})
export type PassageRow = RowOf<typeof passages>

declare module '../base/context' {
  interface Db {
    passages: Table<PassageRow>
  }
}
