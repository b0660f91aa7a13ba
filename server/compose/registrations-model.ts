import type { Facts, Item } from '../../core/bib/item'
import { day, describeTable, json, keyText, orNull, word, type RowOf, type Table } from '../db/table'

/** What registrations said of a DOI when they were asked last, for all inquiries. */
export const doiRegistrations = describeTable('doi_registrations', {
  doi: keyText(),
  /** Who has it; of one that nobody has, who was asked. */
  source: word(),
  /** Null where nobody has it. */
  item: orNull(json<Item>()),
  facts: json<Facts>(),
  /** The day of the desk. */
  day: day(),
})
export type DoiRegistrationRow = RowOf<typeof doiRegistrations>

declare module '../base/context' {
  interface Db {
    doiRegistrations: Table<DoiRegistrationRow>
  }
}
