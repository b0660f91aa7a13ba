import { boolean, mixed, number, object, string, type Schema } from 'yup'
import { citingSentence, personName, item, OUTCOMES, partOfItem, proof } from './core-shapes'
import { BYTES, endpoint } from './endpoint'
import { opening } from './obtain'
import { bag, flag, list, maybe, moment, oneOf, orNull, real, rowId, shape, text, uuid, whole } from './parts'
import { array } from 'yup'
import type { Selector } from '../../pdftext/anchor'
import { MOST_ANNOTATIONS } from '../../write/annotations-in'
import { HOW, MOST_MARKS } from '../../pdftext/file-marks'

/** A part of a page, in points from its upper left corner. */
const pageBox = shape({ page: whole(), x: real(), y: real(), width: real(), height: real() })
const selector: Schema<Selector> = mixed<Selector>(
  (v): v is Selector => typeof v === 'object' && v !== null && 'type' in v,
).defined()

/** A figure is a part of a page in a box, whatever stands in it. */
export const PASSAGE_KINDS = ['quoted', 'in my words', 'figure'] as const
export const passage = shape({
  id: whole(),
  inquiryId: whole(),
  workId: whole(),
  copyId: whole(),
  page: whole(),
  label: text(),
  kind: oneOf(PASSAGE_KINDS),
  /** Its words: as they are quoted, or those that one's own words stand for. */
  quote: text(),
  note: text(),
  strandId: orNull(whole()),
  tags: list(text()),
  /** What finds it again in another version of its work (W3C Web Annotation Data Model). */
  selectors: orNull(list(selector)),
  version: whole(),
  /** The id that its window gave it. */
  ownId: orNull(text()),
  at: moment(),
})
/** What tells a mark from the others of its file. */
const markKey = string().required().max(100)
const passageParts = {
  quote: string().max(20_000),
  note: string().max(20_000),
  strand: number().integer().min(1).nullable(),
  tags: array(string().trim().required().max(60)).max(20),
}
export const styleAsked = string().max(100)

export const readApi = {
  copy: endpoint('GET', '/inquiries/:inquiry/copies/:copy', {
    does: 'A copy with its page labels, proof and passages.',
    answer: shape({
      id: whole(),
      work: whole(),
      title: text(),
      item: maybe(item),
      outcome: oneOf(OUTCOMES),
      version: text(),
      pages: whole(),
      labels: list(text()),
      proof,
      origin: text(),
      passages: list(passage),
      opening,
      /** Of a scan: how many of its pages were read by machine. */
      scanned: orNull(whole()),
    }),
  }),
  searchable: endpoint('GET', '/inquiries/:inquiry/copies', {
    does: 'The copies that whoever asks may open, whose words can be searched.',
    answer: list(
      shape({
        id: whole(),
        work: whole(),
        title: text(),
        authors: text(),
        year: orNull(whole()),
        version: text(),
        outcome: oneOf(OUTCOMES),
        labels: list(text()),
        /** Of a scan: how many of its pages were read by machine. */
        scanned: orNull(whole()),
      }),
    ),
  }),
  copyText: endpoint('GET', '/inquiries/:inquiry/copies/:copy/text', {
    does: 'The words of a copy page by page, a paragraph a line, without running heads.',
    answer: shape({ pages: list(text()) }),
  }),
  copyParts: endpoint('GET', '/inquiries/:inquiry/copies/:copy/parts', {
    does: 'What the text of a copy was taken apart into: headings, page labels, its title page, its references as read and where each is cited.',
    answer: shape({
      labels: list(text()),
      /** Who said how each page is called. */
      by: list(oneOf(['printed', 'file', 'record', 'place'])),
      said: text(),
      headings: list(shape({ text: text(), level: whole(), page: whole(), y: real() })),
      /** Of figures, tables and the like. */
      captions: list(shape({ text: text(), page: whole(), y: real() })),
      front: shape({
        title: maybe(text()),
        authors: maybe(list(shape({ name: personName, affiliations: list(text()) }))),
        abstract: maybe(text()),
        keywords: maybe(list(text())),
        doi: maybe(text()),
        received: maybe(text()),
        accepted: maybe(text()),
        source: maybe(partOfItem),
      }),
      lists: list(shape({ heading: maybe(text()), by: text(), entries: whole() })),
      left: whole(),
      /** Where its pages are pictures, or their letters not what they show: those that were read by machine. */
      scan: maybe(shape({ why: oneOf(['pictures', 'letters']), read: list(whole()) })),
      references: list(
        shape({
          n: whole(),
          label: orNull(text()),
          text: text(),
          boxes: list(pageBox),
          item: partOfItem,
          sure: bag(),
          /** Where the text cites it, in the order of the text. */
          cited: list(citingSentence),
        }),
      ),
    }),
  }),
  file: endpoint('GET', '/inquiries/:inquiry/copies/:copy/file', {
    does: 'The file itself, whole or in a range.',
    status: [200, 206],
    answer: ['application/pdf'],
  }),
  notePassage: endpoint('POST', '/inquiries/:inquiry/copies/:copy/passages', {
    does: 'Notes a passage. With an `id` made by the client, sent twice it is noted once.',
    body: object({
      id: uuid,
      page: number().integer().min(1).required(),
      kind: string().oneOf(PASSAGE_KINDS).required(),
      ...passageParts,
      /** Where its words stand on the page, as they were selected; the box of a figure. */
      boxes: array(pageBox).max(200),
    }),
    answer: passage,
  }),
  passages: endpoint('GET', '/inquiries/:inquiry/passages', {
    does: 'All passages of an inquiry by work and page, each with its work and as the style cites it in a text.',
    query: object({ style: styleAsked }),
    answer: shape({
      style: text(),
      passages: list(
        passage.shape({
          title: text(),
          authors: text(),
          year: orNull(whole()),
          copyVersion: text(),
          /** “(Okafor, 2020, p. 27)”, or as the style has it. */
          cited: text(),
        }),
      ),
    }),
  }),
  passagesFile: endpoint('GET', '/inquiries/:inquiry/passages/file', {
    does: 'The passages as a file: as a text to read (Markdown), or as W3C Web Annotations (JSON-LD).',
    query: object({ format: string().oneOf(['markdown', 'jsonld']).required() }),
    answer: ['text/markdown', 'application/ld+json'],
  }),
  passagesElsewhere: endpoint('GET', '/inquiries/:inquiry/copies/:copy/passages/elsewhere', {
    does: 'Passages that were noted in other copies of the same work, and where their words stand in this one.',
    answer: list(
      shape({
        passage,
        version: text(),
        /** Null where the words are not found in this copy. */
        here: orNull(shape({ page: whole(), label: text(), exact: text(), fit: real() })),
      }),
    ),
  }),
  marksOfFile: endpoint('GET', '/inquiries/:inquiry/copies/:copy/marks', {
    does: 'What others marked in the file of a copy, and what of it is noted already.',
    answer: shape({
      marks: list(
        shape({
          key: text(),
          page: whole(),
          label: text(),
          how: oneOf([...new Set(Object.values(HOW))]),
          kind: oneOf(PASSAGE_KINDS),
          quote: text(),
          note: text(),
          by: text(),
          at: orNull(text()),
          colour: orNull(text()),
          boxes: list(pageBox),
          isNoted: flag(),
        }),
      ),
      /** Drawings to which nothing was written: they stay in the file alone. */
      drawings: whole(),
      /** Marks beyond those that are read. */
      left: whole(),
      /** Pages whose marks cannot be read. */
      unread: whole(),
    }),
  }),
  noteMarks: endpoint('POST', '/inquiries/:inquiry/copies/:copy/marks', {
    does: 'Notes marks of a copy’s file as passages, each once.',
    body: object({
      marks: array(object({ key: markKey, strand: number().integer().min(1).nullable() }).required())
        .required()
        .max(MOST_MARKS),
    }),
    answer: shape({ noted: list(whole()) }),
  }),
  bringAnnotations: endpoint('POST', '/inquiries/:inquiry/passages/file', {
    does: 'Notes the annotations of a file (W3C Web Annotations, JSON-LD) as passages of the copies that they are of, each once.',
    body: BYTES,
    most: 10 * 1024 * 1024,
    answer: shape({
      noted: list(whole()),
      /** Annotations that are noted already. */
      there: whole(),
      /** Documents of annotations of which there is no copy here, each with how many. */
      elsewhere: list(shape({ source: text(), annotations: whole() })),
      /** What cannot be read, by its place in the file. */
      unread: list(shape({ n: whole(), why: text() })),
      /** Annotations beyond those that are read at a time. */
      left: whole(),
    }),
  }),
  dropPassages: endpoint('DELETE', '/inquiries/:inquiry/passages', {
    does: 'Takes passages out again that were just noted; those that were changed since stay.',
    body: object({ passages: array(rowId.required()).required().max(MOST_ANNOTATIONS) }),
  }),
  markedFile: endpoint('POST', '/inquiries/:inquiry/copies/:copy/marked', {
    does: 'The file of a copy with its passages written in as annotations (ISO 32000); the stored file stays as it is.',
    body: object({ password: string().max(500) }),
    forReaders: true,
    status: [200],
    answer: ['application/pdf'],
  }),
  changePassage: endpoint('PATCH', '/inquiries/:inquiry/passages/:passage', {
    does: 'Changes a passage: what is named of it.',
    body: object({ kind: string().oneOf(PASSAGE_KINDS), ...passageParts }),
    answer: passage,
    ifMatch: true,
  }),
  readingTable: endpoint('GET', '/inquiries/:inquiry/table', {
    does: 'The sheets of reading of all kept works, side by side, with the copy that each is read from.',
    answer: shape({
      heads: list(
        shape({
          key: text(),
          name: text(),
          asks: text(),
          /** One of the student's own. */
          own: orNull(whole()),
        }),
      ),
      works: list(
        shape({
          id: whole(),
          title: text(),
          authors: text(),
          year: orNull(whole()),
          strands: list(whole()),
          copy: orNull(shape({ id: whole(), version: text(), labels: list(text()), scanned: orNull(whole()) })),
          notes: list(shape({ head: text(), content: text(), version: whole() })),
        }),
      ),
    }),
  }),
  writeNote: endpoint('PUT', '/inquiries/:inquiry/works/:work/notes/:head', {
    does: 'Saves what is written of a work under a head. Where nothing was written yet, its version is 0.',
    body: object({ content: string().max(20_000).defined('The note is missing.') }),
    answer: shape({ version: whole() }),
    ifMatch: true,
  }),
  addHead: endpoint('POST', '/inquiries/:inquiry/heads', {
    does: 'Puts a head of one’s own to the sheets of reading.',
    body: object({ name: string().trim().min(1).max(80).required() }),
    answer: shape({ id: whole(), key: text() }),
  }),
  changeHead: endpoint('PATCH', '/inquiries/:inquiry/heads/:own', {
    does: 'Names a head of one’s own anew, takes it away, or brings it back with what was written under it.',
    body: object({ name: string().trim().min(1).max(80), gone: boolean() }),
  }),
  tableFile: endpoint('GET', '/inquiries/:inquiry/table/file', {
    does: 'The table of works as a file.',
    query: object({ format: string().oneOf(['csv', 'docx']).required() }),
    answer: ['text/csv', 'application/vnd.openxmlformats-officedocument.wordprocessingml.document'],
  }),
  dropPassage: endpoint('DELETE', '/inquiries/:inquiry/passages/:passage', { does: 'Deletes a passage.' }),
}
