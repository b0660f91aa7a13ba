import type { StyleInfo } from '../../core/cite/style-info'
import { describeTable, flag, json, moment, ownId, text, whole, type RowOf, type Table } from '../db/table'

/** Citation styles that somebody brought. */
export const ownStyles = describeTable('own_styles', {
  id: ownId(),
  userId: whole(),
  /** What it says of itself. */
  info: json<StyleInfo>(),
  xml: text(),
  /** It is offered no more; what is set in it stays so. */
  dropped: flag(),
  at: moment(),
})
export type OwnStyleRow = RowOf<typeof ownStyles>

declare module '../base/context' {
  interface Db {
    ownStyles: Table<OwnStyleRow>
  }
}
