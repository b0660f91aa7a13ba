/**
 * The one bibliographic item of the product: CSL-JSON (an open standard), plus our typed facts beside it.
 * What is not CSL never goes inside the item, so that an exported item is exactly what the standard allows.
 */
export interface Name {
  family?: string
  given?: string
  literal?: string
  suffix?: string
  'non-dropping-particle'?: string
  'dropping-particle'?: string
  [key: string]: unknown
}

export interface ItemDate {
  'date-parts'?: (number | string)[][]
  raw?: string
  literal?: string
  circa?: boolean | string | number
  season?: string | number
  [key: string]: unknown
}

export interface Item {
  id: string
  type: string
  title?: string
  author?: Name[]
  editor?: Name[]
  'container-title'?: string
  'collection-title'?: string
  publisher?: string
  'publisher-place'?: string
  issued?: ItemDate
  accessed?: ItemDate
  volume?: string | number
  issue?: string | number
  page?: string
  edition?: string | number
  DOI?: string
  ISBN?: string
  ISSN?: string
  URL?: string
  abstract?: string
  language?: string
  keyword?: string
  note?: string
  genre?: string
  [key: string]: unknown
}

export type Version = 'preprint' | 'accepted manuscript' | 'version of record' | 'translation'

/** Who paid for a work, as far as a source says it: always the number or the words. */
export interface Grant {
  number?: string
  funder?: string
  title?: string
  /** The words of the source, where they could not be taken apart. */
  said?: string
}

/** That one work was changed by another, as registrations of DOIs say it: “retraction”, “correction”. */
export interface Update {
  doi: string
  type: string
}

/** Data that stand behind a work. */
export interface DataLink {
  doi?: string
  address?: string
  title?: string
}

/** What we know of a work beside its citation. Every field is optional: a catalogue says what it says. */
export interface Facts {
  /** The kind as the source words it, e.g. "book review"; what the work really is is judged in appraise/. */
  genre?: string
  /** Whether the catalogue flags the venue as refereed. Says nothing of the item. */
  refereedVenue?: boolean
  version?: Version
  /** Titles it is known by besides its own: of its cover, in another language, cut short. */
  otherTitles?: string[]
  keywords?: string[]
  subjects?: string[]
  /** The language that title and abstract are in by their words, where no source says it. */
  languageTold?: string
  /** Number of pages, where given or computed from the page range. */
  pageCount?: number
  referenceCount?: number
  citedByCount?: number
  /** The field of research that a citation index counts it in. */
  field?: string
  /** Address of a freely readable copy, as the source gives it. */
  openUrl?: string
  /** ISO date until which the deposit is closed. */
  embargoUntil?: string
  /** Identifiers of its authors (ISO 27729), by the name that they bear there. */
  authorIds?: { name: Name; id: string }[]
  grants?: Grant[]
  /** Data behind it. */
  data?: DataLink[]
  /** Of data: the DOIs of the works that they stand behind. */
  dataOf?: string[]
  /** Notices that its registration names: what they are called there, and their DOI. */
  updatedBy?: Update[]
  /** Of a notice: the works of which it speaks. */
  updates?: Update[]
  /** Under which licence it is published: an address, or words. */
  licence?: string
  /** Where it stands in print, with what is said of it there. */
  shelf?: { branch: string; call: string; note?: string }[]
  /** Runs of a journal in print, as the library words them. */
  runs?: string[]
}

/** One description as a source gave it, read. */
export interface ReadRecord {
  item: Item
  facts: Facts
}

/** Those of some fields that something has. */
export const given = <T extends object, K extends keyof T>(of: T, fields: readonly K[]): Pick<T, K> =>
  Object.fromEntries(fields.flatMap(f => (of[f] === undefined ? [] : [[f, of[f]]]))) as Pick<T, K>
