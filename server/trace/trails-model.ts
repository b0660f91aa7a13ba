import { describeTable, key, keyText, moment, text, whole, type RowOf, type Table } from '../db/table'

export const trails = describeTable('trails', {
  workId: key(),
  inquiryId: whole(),
  direction: keyText<'references' | 'cited-by'>(),
  total: whole(),
  /** JSON, too long for a column of that type. */
  neighbours: text(),
  at: moment(),
})
export type TrailRow = RowOf<typeof trails>

declare module '../base/context' {
  interface Db {
    trails: Table<TrailRow>
  }
}
