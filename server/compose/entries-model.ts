import { describeTable, moment, ownId, text, whole, type RowOf, type Table } from '../db/table'

export const entries = describeTable('entries', {
  id: ownId(),
  inquiryId: whole(),
  workId: whole(),
  annotation: text(),
  version: whole(),
  at: moment(),
})
export type EntryRow = RowOf<typeof entries>

declare module '../base/context' {
  interface Db {
    entries: Table<EntryRow>
  }
}
