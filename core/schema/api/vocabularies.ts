import { object, string } from 'yup'
import { BYTES, endpoint } from './endpoint'
import { begun } from './inquiries'
import { day, flag, list, maybe, oneOf, orNull, shape, text, whole } from './parts'

const vocabulary = shape({
  key: text(),
  name: text(),
  /** Its address, or the name of the file that was brought. */
  from: text(),
  /** Brought into this inquiry; all others are there for everybody. */
  isOwn: flag(),
  state: oneOf(['unread', 'waiting', 'read', 'refused']),
  /** Why it could not be read, or not anew. */
  said: orNull(text()),
  concepts: whole(),
  labels: whole(),
  languages: list(text()),
  /** What stands in it and is not shown. */
  left: list(shape({ said: text(), times: whole() })),
  /** When it was read. */
  day: orNull(day()),
})
const near = shape({
  place: whole(),
  name: text(),
  /** How many narrower ones it has. */
  narrower: whole(),
})
const vocabularyConcept = shape({
  vocabulary: text(),
  place: whole(),
  iri: text(),
  name: text(),
  /** The name that led to it, where that is another. */
  by: orNull(text()),
  note: orNull(text()),
  names: list(shape({ text: text(), language: maybe(text()), as: oneOf(['preferred', 'other']) })),
  /** One way from the top of the vocabulary down to it. */
  above: list(near),
  broader: list(near),
  narrower: list(near),
  related: list(near),
  /** How many each of these three are in all. */
  inAll: shape({ broader: whole(), narrower: whole(), related: whole() }),
  /** The vocabulary uses it no more; what it uses instead. */
  retired: flag(),
  instead: list(near),
})

/** Vocabularies: words with what is broader, narrower and related, from SKOS. */
export const vocabulariesApi = {
  vocabularies: endpoint('GET', '/inquiries/:inquiry/vocabularies', {
    does: 'The vocabularies in which words can be looked up.',
    answer: list(vocabulary),
  }),
  bringVocabulary: endpoint('POST', '/inquiries/:inquiry/vocabularies', {
    does: 'Brings one as a file in SKOS (Turtle, N-Triples or RDF/XML); it is read as a job.',
    status: 202,
    body: BYTES,
    most: 60 * 1024 * 1024,
    answer: begun,
  }),
  readVocabulary: endpoint('POST', '/inquiries/:inquiry/vocabularies/:vocabulary/read', {
    does: 'Fetches and reads one, as a job.',
    status: 202,
    answer: begun,
  }),
  dropVocabulary: endpoint('DELETE', '/inquiries/:inquiry/vocabularies/:vocabulary', {
    does: 'Takes one out that was brought into this inquiry.',
  }),
  relatedWords: endpoint('GET', '/inquiries/:inquiry/related-words', {
    does: 'Concepts that some words name, in all vocabularies that are read, and others whose names are near.',
    query: object({ words: string().trim().max(200).required() }),
    answer: shape({
      /** What was looked for: the words, or the one of them that has a name near to it. */
      words: text(),
      named: list(vocabularyConcept),
      near: list(shape({ vocabulary: text(), place: whole(), name: text(), by: orNull(text()) })),
    }),
  }),
  vocabularyConcept: endpoint('GET', '/inquiries/:inquiry/vocabularies/:vocabulary/concepts/:concept', {
    does: 'One concept of one of them.',
    answer: vocabularyConcept,
  }),
}
