import type { ImportReport } from '../../core/formats/report'
import { describeTable, json, moment, orNull, ownId, whole, word, type RowOf, type Table } from '../db/table'

export const imports = describeTable('imports', {
  id: ownId(),
  inquiryId: whole(),
  fileName: word(),
  hash: word(),
  state: word<'waiting' | 'done' | 'refused'>(),
  report: orNull(json<ImportReport>()),
  at: moment(),
})
export type ImportRow = RowOf<typeof imports>

declare module '../base/context' {
  interface Db {
    imports: Table<ImportRow>
  }
}
