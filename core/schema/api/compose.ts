import { array, boolean, mixed, number, object, string } from 'yup'
import type { PaperChange, Piece } from '../../paper/compare'
import { LOSSY } from '../../formats/lossy'
import {
  CITATION_KEYS,
  CITATIONS,
  DOCUMENT_KEYS,
  DOCUMENTS,
  SINGLE_KEYS,
  type CitationFormat,
  type DocumentFormat,
  type Format,
} from '../../paper/formats'
import { ORDERS, SHEETS, SPACINGS, type Layout, type Order } from '../../paper/layout'
import { patternTrouble } from '../../paper/names'
import { FIELDS, type FieldChoice } from '../../match/best-fields'
import { cited, citingGiven, entry, kind, mark, marksGiven, richRun, ruleAnswer } from './core-shapes'
import { endpoint } from './endpoint'
import { begun } from './inquiries'
import { day, flag, like, list, maybe, moment, oneOf, orNull, real, rowId, shape, text, whole } from './parts'
import { styleAsked } from './read'

const layout = like<Layout>()({
  order: oneOf(ORDERS),
  sheet: oneOf(SHEETS),
  spacing: real(),
  cover: flag(),
  annotated: flag(),
  names: text(),
})
const piece = like<Piece>()({ is: oneOf(['same', 'gone', 'new']), text: text() })
/** Pieces stand where words changed; looks alone have none. */
const paperChange = shape({
  what: oneOf<PaperChange['what']>([
    'put in',
    'taken out',
    'citation',
    'annotation',
    'text',
    'looks',
    'style',
    'order',
  ]),
  title: text(),
  pieces: maybe(list(piece)),
})
const worksGiven = array(rowId.required()).min(1).max(500, 'A letter may have 500 works.').default(undefined).optional()
const orNone = (v: unknown, given: unknown) => (given === '' ? null : v)
/** A letter as it is sent. */
export const letterGiven = object({
  to: string().trim().email().max(200).required('Say to whom it goes.'),
  note: string().trim().max(4000, 'A note may have 4,000 letters.').default(''),
  /** The bibliography where none are named. */
  works: worksGiven,
  document: string<DocumentFormat>().oneOf(SINGLE_KEYS).nullable().transform(orNone).default(null),
  citations: string<CitationFormat>().oneOf(CITATION_KEYS).nullable().transform(orNone).default(null),
  copies: boolean().default(false),
})
const types = (formats: readonly Format[]): string[] => [...new Set(formats.map(f => f.type.split(';')[0]!))]
/** Taken from a record, or written. */
const fieldChoice = mixed<FieldChoice>((v): v is FieldChoice => typeof v === 'object' && v !== null).defined()
/** Something about an entry that does not agree, with what speaks for it. */
const finding = shape({
  /** The same for the same matter; `right:` with it says that it is right as it is. */
  key: text(),
  field: orNull(oneOf(FIELDS)),
  what: text(),
  why: text(),
  ours: orNull(text()),
  theirs: orNull(text()),
  /** What puts it right, as a mark on the work. */
  mend: orNull(shape({ value: fieldChoice, called: text() })),
  seen: orNull(shape({ copy: whole(), page: whole() })),
  /** The student said that it is right as it is. */
  isRight: flag(),
})

export const composeApi = {
  bibliography: endpoint('GET', '/inquiries/:inquiry/bibliography', {
    does: 'The bibliography as it prints, with the rules of the brief.',
    query: object({ style: styleAsked }),
    answer: shape({
      style: text(),
      styleName: text(),
      /** The tag of a language, where it is not the style's own. */
      language: orNull(text()),
      /** Why it is another style than the one that was chosen. */
      styleTrouble: orNull(text()),
      /** A newer edition of the style. */
      newerStyle: orNull(shape({ id: text(), name: text() })),
      hangingIndent: flag(),
      layout,
      /** What is written around the list, by its place; what is not here is empty, in version 0. */
      texts: list(shape({ place: text(), content: text(), marks: list(mark), version: whole() })),
      /** The list in its parts, each with its entries as they print. */
      sections: list(shape({ heading: orNull(text()), strand: orNull(whole()), entries: list(whole()) })),
      /** In the order in which they print. */
      entries: list(
        shape({
          id: whole(),
          work: whole(),
          title: text(),
          label: orNull(text()),
          citation: list(richRun),
          inText: text(),
          annotation: text(),
          marks: list(mark),
          version: whole(),
          words: whole(),
          kind,
          abstract: maybe(text()),
          /** Findings that are right as they are, by their keys. */
          right: list(text()),
        }),
      ),
      /** How the citations in annotations and texts read in this style; where one is not here, it stands as it was. */
      cited: list(cited),
      rules: list(ruleAnswer),
    }),
  }),
  entryChecks: endpoint('GET', '/inquiries/:inquiry/bibliography/checks', {
    does: 'What was found of each entry: against its copy, the records of its work, and what the style asks for.',
    query: object({ style: styleAsked }),
    answer: shape({
      /** The style as it is called. */
      style: text(),
      /** Entries with a DOI, those of them whose registration was asked for, and the earliest day on which one was. */
      registrations: shape({ asked: whole(), of: whole(), day: orNull(day()) }),
      entries: list(
        shape({
          entry: whole(),
          findings: list(finding),
          /** Parts of the citation that its copy has as well. */
          agrees: list(text()),
          copy: orNull(whole()),
          /** How many records of its work it was held against. */
          records: whole(),
        }),
      ),
    }),
  }),
  askRegistrations: endpoint('POST', '/inquiries/:inquiry/bibliography/registrations', {
    does: 'Asks what the DOIs of the entries are registered for, as a job; the checks hold the entries against it.',
    status: 202,
    answer: begun,
  }),
  citation: endpoint('GET', '/inquiries/:inquiry/works/:work/citation', {
    does: 'A work as the list and a text cite it, on the list or not.',
    answer: shape({ styleName: text(), citation: list(richRun), inText: text() }),
  }),
  citing: endpoint('POST', '/inquiries/:inquiry/citing', {
    does: 'How a text cites works, on the list or not: on a page, with authors in the sentence, or several together.',
    status: 200,
    body: citingGiven,
    answer: shape({ inText: text(), raised: flag() }),
    forReaders: true,
  }),
  addEntry: endpoint('POST', '/inquiries/:inquiry/entries', {
    does: 'Puts a kept work into the bibliography.',
    body: object({ work: rowId.required() }),
    answer: entry,
  }),
  entry: endpoint('GET', '/inquiries/:inquiry/entries/:entry', {
    does: 'An entry, with its version as ETag.',
    answer: entry,
  }),
  annotate: endpoint('PATCH', '/inquiries/:inquiry/entries/:entry', {
    does: 'Saves an annotation.',
    body: object({ annotation: string().max(50_000).defined('The annotation is missing.'), marks: marksGiven }),
    answer: shape({ id: whole(), version: whole(), annotation: text(), marks: list(mark), words: whole() }),
    ifMatch: true,
  }),
  dropEntry: endpoint('DELETE', '/inquiries/:inquiry/entries/:entry', { does: 'Takes an entry out.' }),
  losses: endpoint('GET', '/inquiries/:inquiry/export/losses', {
    does: 'What a format cannot hold of the entries.',
    query: object({ format: string().oneOf(LOSSY).required() }),
    answer: list(shape({ title: maybe(text()), id: text(), fields: list(text()) })),
  }),
  layEntries: endpoint('PUT', '/inquiries/:inquiry/entries/order', {
    does: 'Lays the entries in an order by hand; those that are not named come last. The list prints in it from then on.',
    body: object({ entries: array(rowId.required()).max(5000).required() }),
  }),
  setLayout: endpoint('PUT', '/inquiries/:inquiry/layout', {
    does: 'How the bibliography is laid out, as far as it is said.',
    body: object({
      order: string<Order>().oneOf(ORDERS),
      sheet: string<Layout['sheet']>().oneOf(SHEETS),
      spacing: number<Layout['spacing']>().oneOf(SPACINGS),
      cover: boolean(),
      annotated: boolean(),
      names: string()
        .trim()
        .min(1, 'Say how the copies are named.')
        .max(120, 'A pattern of names may have 120 letters.')
        .test(
          'pattern',
          ({ value }) => patternTrouble(String(value)) ?? '',
          v => v === undefined || !patternTrouble(v),
        ),
    }),
    answer: layout,
  }),
  writeText: endpoint('PUT', '/inquiries/:inquiry/texts/:place', {
    does: 'Saves a text around the list: title, author, course, opening, closing, or of a strand as strand-7.',
    body: object({ content: string().max(20_000).defined('The text is missing.'), marks: marksGiven }),
    answer: shape({ place: text(), content: text(), marks: list(mark), version: whole() }),
    ifMatch: true,
  }),
  preview: endpoint('GET', '/inquiries/:inquiry/export', {
    does: 'The bibliography as a file, as it stands. Nothing is handed in by it.',
    query: object({
      format: string()
        .oneOf([...DOCUMENT_KEYS, ...CITATION_KEYS])
        .required('Say in which format.'),
    }),
    answer: types([...DOCUMENTS, ...CITATIONS]),
  }),
  checkedFile: endpoint('GET', '/inquiries/:inquiry/bibliography/checks/file', {
    does: 'What was checked of each entry, and what came of it, as a document.',
    query: object({ format: string().oneOf(SINGLE_KEYS).required('Say in which format.') }),
    answer: types(DOCUMENTS.filter(f => f.key !== 'bundle')),
  }),
  letterParts: endpoint('POST', '/inquiries/:inquiry/letter/parts', {
    does: 'What a letter could carry: of the bibliography, or of works that are named.',
    status: 200,
    body: object({ works: worksGiven }),
    answer: shape({
      /** Whether mail is set up. */
      canMail: flag(),
      works: whole(),
      /** Proved copies, with their sizes in bytes. */
      copies: list(shape({ work: whole(), title: text(), version: text(), bytes: whole(), shared: flag() })),
      /** Bytes that one letter may carry. */
      mostBytes: whole(),
    }),
    forReaders: true,
  }),
  sendLetter: endpoint('POST', '/inquiries/:inquiry/letter', {
    does: 'Mails the bibliography, or works that are named, with a document, their citations and copies: to others those that are open.',
    status: 200,
    body: letterGiven,
    answer: shape({
      to: text(),
      files: list(shape({ name: text(), bytes: whole() })),
      /** Titles of works whose copies there was no room for. */
      left: list(text()),
      /** Titles of works whose copies are not for others. */
      kept: list(text()),
    }),
    forReaders: true,
  }),
  methodsFile: endpoint('GET', '/inquiries/:inquiry/methods/file', {
    does: 'How works were searched for and chosen, as a document, with what standards of reporting ask.',
    query: object({ format: string().oneOf(SINGLE_KEYS).required('Say in which format.') }),
    answer: types(DOCUMENTS.filter(f => f.key !== 'bundle')),
  }),
  versions: endpoint('GET', '/inquiries/:inquiry/versions', {
    does: 'States of the bibliography that were handed in, or stood before an older one was taken up, the latest first.',
    answer: list(
      shape({
        id: whole(),
        day: day(),
        at: moment(),
        /** Whoever did it; null where they are forgotten. */
        by: orNull(text()),
        why: oneOf(['handed in', 'set aside']),
        formats: list(text()),
        styleName: text(),
        entries: whole(),
        /** In all annotations. */
        words: whole(),
        /** The bibliography stands so. */
        isNow: flag(),
      }),
    ),
  }),
  handIn: endpoint('POST', '/inquiries/:inquiry/versions', {
    does: 'Keeps the bibliography as it stands as a version, handed in in a format; the same state is kept once.',
    body: object({ format: string().oneOf(DOCUMENT_KEYS).required('Say in which format.') }),
    answer: shape({ version: whole() }),
  }),
  versionFile: endpoint('GET', '/inquiries/:inquiry/versions/:version/file', {
    does: 'A version as a file. A bundle has the copies that are there now.',
    query: object({
      format: string()
        .oneOf([...DOCUMENT_KEYS, ...CITATION_KEYS])
        .required('Say in which format.'),
    }),
    answer: types([...DOCUMENTS, ...CITATIONS]),
  }),
  versionChanges: endpoint('GET', '/inquiries/:inquiry/versions/:version/changes', {
    does: 'What changed from a version to another, or to how the bibliography stands.',
    query: object({ to: rowId }),
    answer: shape({ changes: list(paperChange) }),
  }),
  takeUpVersion: endpoint('POST', '/inquiries/:inquiry/versions/:version/restore', {
    does: 'Takes a version up again. How the bibliography stood is kept as a version of its own.',
    status: 200,
    answer: shape({
      /** The version that has how it stood before. */
      aside: whole(),
      /** Titles of works that stay out, as they are not kept any more. */
      left: list(text()),
    }),
  }),
}
