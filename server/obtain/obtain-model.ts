import type { Route } from '../../core/access/routes'
import type { Ended, Step } from '../../core/access/walk'
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
  flag,
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

/** The ways to a work's text that were looked for. */
export const routes = describeTable('routes', {
  workId: key(),
  inquiryId: whole(),
  routes: json<Route[]>(),
  closed: json<string[]>(),
  deskDay: day(),
  trouble: orNull(text()),
  at: moment(),
})
export type RouteRow = RowOf<typeof routes>

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

export const attempts = describeTable('attempts', {
  id: ownId(),
  workId: whole(),
  url: word(),
  outcome: word(),
  said: text(),
  at: moment(),
})
export type AttemptRow = RowOf<typeof attempts>

/** A way that was walked. */
export const wayWalks = describeTable('way_walks', {
  id: ownId(),
  inquiryId: whole(),
  workId: whole(),
  userId: whole(),
  /** Where it began. */
  url: word(),
  byGate: flag(),
  ended: word<Ended>(),
  said: text(),
  steps: json<Step[]>(),
  deskDay: day(),
  at: moment(),
})
export type WayWalkRow = RowOf<typeof wayWalks>

/** Terms of a platform that a user accepted on a day. */
export const acceptedTerms = describeTable('accepted_terms', { userId: key(), host: keyText(), deskDay: day() })
export type AcceptedTermsRow = RowOf<typeof acceptedTerms>

/** A file that was brought and is not read yet. */
export const uploads = describeTable('uploads', {
  id: ownId(),
  inquiryId: whole(),
  /** Null where the file is to find its work by its own text. */
  workId: orNull(whole()),
  hash: word(),
  name: word(),
  at: moment(),
})
export type UploadRow = RowOf<typeof uploads>

declare module '../base/context' {
  interface Db {
    routes: Table<RouteRow>
    copies: Table<CopyRow>
    copyPages: Table<CopyPageRow>
    copyScans: Table<CopyScanRow>
    copyMarks: Table<CopyMarksRow>
    copyReferences: Table<CopyReferenceRow>
    attempts: Table<AttemptRow>
    wayWalks: Table<WayWalkRow>
    acceptedTerms: Table<AcceptedTermsRow>
    uploads: Table<UploadRow>
  }
}
