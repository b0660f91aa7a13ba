import { CSL_TYPES } from './csl-types'

/** Fields of CSL 1.0.2 that hold a text. */
export const TEXTS = (
  'abstract annote archive archive_collection archive_location archive-place authority call-number citation-key citation-label ' +
  'collection-title container-title container-title-short dimensions division DOI event event-title event-place genre ISBN ' +
  'ISSN journalAbbreviation jurisdiction keyword language medium note original-publisher original-publisher-place original-title ' +
  'part-title PMCID PMID publisher publisher-place references reviewed-genre reviewed-title scale section shortTitle source ' +
  'status title title-short URL version volume-title volume-title-short year-suffix'
).split(' ')
/** Fields that hold a number, or a text that stands for one. */
export const NUMBERS = (
  'chapter-number citation-number collection-number edition first-reference-note-number issue locator number number-of-pages ' +
  'number-of-volumes page page-first part-number printing-number supplement-number volume'
).split(' ')
export const NAMES = (
  'author chair collection-editor compiler composer container-author contributor curator director editor editorial-director ' +
  'editor-translator executive-producer guest host illustrator interviewer narrator organizer original-author performer ' +
  'producer recipient reviewed-author script-writer series-creator translator'
).split(' ')
export const DATES = 'accessed available-date event-date issued original-date submitted'.split(' ')
/** The parts of a name that hold a text, and those that say yes or no. */
export const NAME_PARTS = ['family', 'given', 'dropping-particle', 'non-dropping-particle', 'suffix', 'literal']
export const NAME_MARKS = ['comma-suffix', 'static-ordering', 'parse-names']

const text = { type: 'string' }
const number = { type: ['string', 'number'] }
const mark = { type: ['string', 'number', 'boolean'] }
const each = (names: readonly string[], what: object) => Object.fromEntries(names.map(n => [n, what]))

/**
 * One item of CSL-JSON, after the schema that the Citation Style Language publishes for version 1.0.2
 * (csl-data.json), as JSON Schema. As there, no field may stand in an item that the language does not know.
 */
export const CSL_ITEM = {
  type: 'object',
  required: ['type', 'id'],
  additionalProperties: false,
  properties: {
    type: { enum: [...CSL_TYPES] },
    id: number,
    categories: { type: 'array', items: text },
    custom: { type: 'object' },
    ...each(TEXTS, text),
    ...each(NUMBERS, number),
    ...each(NAMES, {
      type: 'array',
      items: {
        type: 'object',
        additionalProperties: false,
        properties: { ...each(NAME_PARTS, text), ...each(NAME_MARKS, mark) },
      },
    }),
    ...each(DATES, {
      type: 'object',
      additionalProperties: false,
      properties: {
        'date-parts': {
          type: 'array',
          minItems: 1,
          maxItems: 2,
          items: { type: 'array', minItems: 1, maxItems: 3, items: number },
        },
        season: number,
        circa: mark,
        literal: text,
        raw: text,
        edtf: text,
      },
    }),
  },
}
