import { object, string } from 'yup'
import { STYLE_MANNERS } from '../../cite/style-info'
import { languageTag, styleId } from '../brief'
import { richRun } from './core-shapes'
import { BYTES, endpoint } from './endpoint'
import { day, flag, list, oneOf, orNull, shape, text, whole } from './parts'

/** Bytes of a style that is brought, at most: the longest that is installed has a fifth. */
export const LARGEST_STYLE = 1_000_000

const named = shape({ id: text(), name: text() })
const style = shape({
  id: text(),
  name: text(),
  /** How it cites in a text. */
  manner: orNull(oneOf(STYLE_MANNERS)),
  fields: list(text()),
  /** The language that it is written for, by its name. */
  language: orNull(text()),
  /** When its file was changed last. */
  updated: orNull(day()),
  /** Another style, as which it prints. */
  printsAs: orNull(text()),
  /** A newer edition of it. */
  newer: orNull(named),
  /** Whether one brought it oneself. */
  isOwn: flag(),
})

export const stylesApi = {
  styles: endpoint('GET', '/styles', {
    does: 'Citation styles that have these words in their names, fields or language; without any, one’s own and those asked for most.',
    query: object({ words: string().max(200).default('') }),
    answer: shape({
      styles: list(style),
      /** How many there are of these words, and in all. */
      of: whole(),
      all: whole(),
      /** Files that could not be read. */
      unread: whole(),
      /** Languages in which citations can be written. */
      languages: list(shape({ tag: text(), name: text() })),
    }),
  }),
  bringStyle: endpoint('POST', '/styles', {
    does: 'Brings a citation style (CSL 1.0) of one’s own; it is kept once it was seen to print.',
    body: BYTES,
    most: LARGEST_STYLE,
    answer: style,
  }),
  dropStyle: endpoint('DELETE', '/styles/:style', {
    does: 'Offers a style that one brought no more; what is set in it stays so.',
  }),
  styleSample: endpoint('GET', '/styles/:style/sample', {
    does: 'An article, a book and a chapter as a style prints them.',
    query: object({ language: languageTag }),
    answer: shape({
      hangingIndent: flag(),
      entries: list(shape({ label: orNull(text()), citation: list(richRun), inText: text() })),
    }),
  }),
  setStyle: endpoint('PUT', '/inquiries/:inquiry/style', {
    does: 'Sets the citation style of an inquiry and the language of its citations.',
    body: object({ style: styleId.required('Choose a citation style.'), language: languageTag }),
    answer: shape({ style: text(), language: orNull(text()) }),
  }),
}
