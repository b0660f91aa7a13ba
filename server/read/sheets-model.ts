import {
  describeTable,
  flag,
  keyText,
  key,
  moment,
  ownId,
  text,
  whole,
  word,
  type RowOf,
  type Table,
} from '../db/table'

/** Heads of their own that students put to the sheets of reading of an inquiry. */
export const readingHeads = describeTable('reading_heads', {
  id: ownId(),
  inquiryId: whole(),
  name: word(),
  place: whole(),
  /** Taken away; what was written under it is kept. */
  gone: flag(),
})
export type ReadingHeadRow = RowOf<typeof readingHeads>

/** What was written of a work under a head. */
export const readingNotes = describeTable('reading_notes', {
  workId: key(),
  head: keyText(),
  inquiryId: whole(),
  content: text(),
  version: whole(),
  at: moment(),
})
export type ReadingNoteRow = RowOf<typeof readingNotes>

declare module '../base/context' {
  interface Db {
    readingHeads: Table<ReadingHeadRow>
    readingNotes: Table<ReadingNoteRow>
  }
}
