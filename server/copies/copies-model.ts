import type { RightKind } from '../../core/access/copy-rights'
import type { Signs } from '../../core/appraise/signs'
import type { Item } from '../../core/bib/item'
import type { Proof } from '../../core/match/proof'
import type { Reference } from '../../core/match/reference'
import type { FileMarks } from '../../core/pdftext/file-marks'
import type { DrawnPage } from '../../core/pdftext/page'
import type { CopyParts } from '../../core/pdftext/read-text'
import type { Box } from '../../core/pdftext/references'
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

/** The texts of works as files, each proved by its own words. */
export const copies = describeTable('copies', {
  id: ownId(),
  inquiryId: whole(),
  workId: whole(),
  hash: word(),
  origin: word(),
  outcome: word<Proof['outcome']>(),
  version: word(),
  proof: json<Proof>(),
  pages: whole(),
  labels: json<string[]>(),
  /** What its pages say of its kind; null for copies of before these were read. */
  signs: orNull(json<Signs>()),
  /** What it was taken apart into; null for copies of before. */
  parts: orNull(json<CopyParts>()),
  /** How many pages of a scan were read; null for what is none. It follows from the parts. */
  scanned: orNull(whole()),
  at: moment(),
})
export type CopyRow = RowOf<typeof copies>

/** The words of a copy, page by page: its text, then its notes. */
export const copyPages = describeTable('copy_pages', { copyId: key(), page: key(), content: text() })
export type CopyPageRow = RowOf<typeof copyPages>

/** Pages of scans as they were read by machine. */
export const copyScans = describeTable('copy_scans', { copyId: key(), page: key(), drawn: json<DrawnPage>() })
export type CopyScanRow = RowOf<typeof copyScans>

/** By whose right a copy is here: of one member, or of all of them. */
export const copyRights = describeTable('copy_rights', {
  copyId: key(),
  /** 0 for every member. */
  userId: key(),
  kind: keyText<RightKind>(),
  source: word(),
  /** Of what was passed on: who did. */
  byUser: orNull(whole()),
  until: orNull(day()),
  terms: orNull(text()),
  at: moment(),
})
export type CopyRightRow = RowOf<typeof copyRights>

/** What others marked in the files of copies. */
export const copyMarks = describeTable('copy_marks', { copyId: key(), told: json<FileMarks>() })
export type CopyMarksRow = RowOf<typeof copyMarks>

/** Entries of the lists of references of copies, as printed and as read. */
export const copyReferences = describeTable('copy_references', {
  copyId: key(),
  /** Its place among the copy's references, from 1. */
  n: key(),
  label: orNull(word()),
  text: text(),
  boxes: json<Box[]>(),
  item: json<Partial<Item>>(),
  sure: json<Reference['sure']>(),
})
export type CopyReferenceRow = RowOf<typeof copyReferences>

/** Whether a copy opens for a member, as a condition on its row; of who is asked, user and day are named. */
export const opensTo = (copy: string): string =>
  `EXISTS (SELECT 1 FROM copy_rights g WHERE g.copy_id = ${copy}.id AND g.user_id IN (0, :userId)
     AND (g.until IS NULL OR g.until >= :day))`

declare module '../base/context' {
  interface Db {
    copies: Table<CopyRow>
    copyRights: Table<CopyRightRow>
    copyPages: Table<CopyPageRow>
    copyScans: Table<CopyScanRow>
    copyMarks: Table<CopyMarksRow>
    copyReferences: Table<CopyReferenceRow>
  }
}
