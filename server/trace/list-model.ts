import type { Item } from '../../core/bib/item'
import type { Reference } from '../../core/match/reference'
import {
  day,
  describeTable,
  flag,
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

export const lists = describeTable('lists', {
  id: ownId(),
  inquiryId: whole(),
  name: word(),
  /** The copy that it stands in. */
  copyId: orNull(whole()),
  /** A record of the work whose list it is: the work is the one that has it now. */
  recordId: orNull(whole()),
  cutBy: word(),
  /** Who says its citations; a copy does, even when it is gone. */
  saidBy: word<'copy' | 'student'>(),
  /** What was pasted, until it is cut into entries. */
  pasted: orNull(text()),
  jobId: orNull(whole()),
  day: day(),
  at: moment(),
})
export type ListRow = RowOf<typeof lists>

/** A work that an entry may mean, with the share of the belief that it does, 0 to 1. */
export interface Match {
  node: number
  share: number
}

export const listEntries = describeTable('list_entries', {
  listId: key(),
  n: key(),
  label: orNull(word()),
  text: text(),
  /** In the copy. */
  page: orNull(whole()),
  item: json<Partial<Item>>(),
  sure: json<Reference['sure']>(),
  others: flag(),
  looked: flag(),
  matches: json<Match[]>(),
  /** Whether somebody said what it means: the node, or no work where there is none. */
  byHand: flag(),
  nodeId: orNull(whole()),
  /** Who could not be asked for it. */
  missing: orNull(word()),
})
export type EntryRow = RowOf<typeof listEntries>

declare module '../base/context' {
  interface Db {
    lists: Table<ListRow>
    listEntries: Table<EntryRow>
  }
}
