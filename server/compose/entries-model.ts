import { describeTable, moment, ownId, text, whole, type RowOf } from '../db/table'

export const entries = describeTable('entries', {
  id: ownId(),
  inquiryId: whole(),
  workId: whole(),
  annotation: text(),
  version: whole(),
  at: moment(),
})
export type EntryRow = RowOf<typeof entries>
