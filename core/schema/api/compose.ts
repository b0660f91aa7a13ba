import { mixed, object, string } from 'yup'
import { FIELDS, type FieldChoice } from '../../match/best-fields'
import { kind, richRun, ruleAnswer } from './core-shapes'
import { endpoint } from './endpoint'
import { flag, list, maybe, moment, oneOf, orNull, rowId, shape, text, whole } from './parts'
import { styleAsked } from './read'

const entry = shape({
  id: whole(),
  inquiryId: whole(),
  workId: whole(),
  annotation: text(),
  version: whole(),
  at: moment(),
})
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
      entries: list(
        shape({
          id: whole(),
          work: whole(),
          title: text(),
          label: orNull(text()),
          citation: list(richRun),
          inText: text(),
          annotation: text(),
          version: whole(),
          words: whole(),
          kind,
          abstract: maybe(text()),
          /** Findings that are right as they are, by their keys. */
          right: list(text()),
        }),
      ),
      rules: list(ruleAnswer),
    }),
  }),
  entryChecks: endpoint('GET', '/inquiries/:inquiry/bibliography/checks', {
    does: 'What was found of each entry: against its copy, the records of its work, and what the style asks for.',
    query: object({ style: styleAsked }),
    answer: shape({
      /** The style as it is called. */
      style: text(),
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
    body: object({ annotation: string().max(50_000).defined('The annotation is missing.') }),
    answer: shape({ id: whole(), version: whole(), annotation: text(), words: whole() }),
    ifMatch: true,
  }),
  dropEntry: endpoint('DELETE', '/inquiries/:inquiry/entries/:entry', { does: 'Takes an entry out.' }),
  losses: endpoint('GET', '/inquiries/:inquiry/export/losses', {
    does: 'What a format cannot hold of the entries.',
    query: object({ format: string().oneOf(['bibtex', 'ris']).required() }),
    answer: list(shape({ title: maybe(text()), id: text(), fields: list(text()) })),
  }),
  handIn: endpoint('GET', '/inquiries/:inquiry/export', {
    does: 'The bibliography as a file.',
    query: object({ format: string().required(), style: styleAsked }),
    answer: [
      'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
      'text/html',
      'text/markdown',
      'application/x-bibtex',
      'application/x-research-info-systems',
      'application/vnd.citationstyles.csl+json',
    ],
  }),
}
