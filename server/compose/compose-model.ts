import type { Layout } from '../../core/paper/layout'
import type { Paper } from '../../core/paper/bibliography'
import type { Mark } from '../../core/write/written'
import {
  day,
  describeTable,
  json,
  key,
  keyText,
  moment,
  orNull,
  ownId,
  text,
  whole,
  word,
  type RowOf,
  type Table,
} from '../db/table'

export const entries = describeTable('entries', {
  id: ownId(),
  inquiryId: whole(),
  workId: whole(),
  annotation: text(),
  marks: json<Mark[]>(),
  /** Where it stands by hand; null where it was not laid. */
  place: orNull(whole()),
  version: whole(),
  at: moment(),
})
export type EntryRow = RowOf<typeof entries>

/** What is written around the list. */
export const listTexts = describeTable('list_texts', {
  inquiryId: key(),
  place: keyText(),
  content: text(),
  marks: json<Mark[]>(),
  version: whole(),
})
export type ListTextRow = RowOf<typeof listTexts>

/** States of a bibliography as they were handed in, or stood before an older one was taken up again. */
export const versions = describeTable('versions', {
  id: ownId(),
  inquiryId: whole(),
  /** Who did; null where they are forgotten. */
  userId: orNull(whole()),
  day: day(),
  /** Of the paper without its day, to tell whether it is the same. */
  hash: word(),
  why: word<'handed in' | 'set aside'>(),
  /** The formats in which it was handed in. */
  formats: json<string[]>(),
  /** What a list of versions tells, so that it need not read them. */
  entries: whole(),
  words: whole(),
  styleName: word(),
  layout: json<Layout>(),
  paper: json<Paper>(),
  at: moment(),
})
export type VersionRow = RowOf<typeof versions>

declare module '../base/context' {
  interface Db {
    entries: Table<EntryRow>
    listTexts: Table<ListTextRow>
    versions: Table<VersionRow>
  }
}
