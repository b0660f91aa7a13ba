import type { Item, Version } from '../bib/item'

/** What a text is about: one cause, one thing it acts on, somewhere, measured in some way. */
export type Story = {
  thing: string
  cause: string
  place: string
  measure: string
  second: string
  method: string
}

/** What kind of page its text is laid out as. */
export type Form =
  | 'research article'
  | 'literature review'
  | 'review of a book'
  | 'conference paper'
  | 'conference abstract'
  | 'book'
  | 'chapter'
  | 'thesis'
  | 'report'
  | 'editorial or letter'
  | 'correction'
  | 'magazine'
  | 'news'
  | 'dataset'
  | 'image or recording'

/** How one catalogue describes a work: from which day on, and how carelessly. */
export interface Description {
  /** ISO day on which it is listed there. */
  from: string
  noDoi?: boolean
  capitals?: boolean
  noPages?: boolean
  initials?: boolean
  noAbstract?: boolean
  /** Year as entered there, where it is wrong. */
  year?: number
  /** Only the first author is entered. */
  firstOnly?: boolean
  /** A letter is left out of the title. */
  slip?: number
}

export interface Deposit {
  /** Last part of its address in the repository. */
  id: string
  version: Version
  /** ISO day of the deposit. */
  from: string
  embargoUntil?: string
  /** Preprints have a DOI of their own. */
  doi?: string
  /** Whether the address still leads to a file. */
  dead?: boolean
}

/**
 * One work of the made-up world as the generator writes it and the stand-ins read it, a line of JSON each.
 * True labels are not part of it.
 */
export interface WorldWork {
  id: string
  year: number
  /** ISO day of publication. */
  date: string
  item: Item
  form: Form
  /** How catalogues word its genre. */
  genre: string
  refereedVenue: boolean
  keywords: string[]
  subjects: string[]
  pages: number
  /** Code of its journal, magazine or series. */
  venue?: string
  /** Host of the platform that has its text. */
  host?: string
  /** Which lexicon its text is spun from, which half of the grammar, what it tells, and from which seed. */
  text: { lexicon: number; half: 0 | 1; seed: number; story: Story }
  references: string[]
  /** How many of its references the citation index has not linked. */
  unlinked: number
  catalogues: Record<string, Description>
  deposits: Deposit[]
  /** Identifiers of those authors who have one, by their place. */
  authorIds?: Record<number, string>
  grant?: string
  /** The work it speaks of: the book of a review or a chapter, the article of a correction, the study of data. */
  about?: string
  shelf?: { call: string; branch: string; ebook?: boolean; loanUntil?: string }
}

/** One stretch for which the home library has paid, as it really is; what its files say may differ. */
export interface Licence {
  package: string
  from: string
  to?: string
  wall?: string
}

/** A journal, magazine, newspaper or series of proceedings. */
export interface Venue {
  code: string
  title: string
  abbreviation: string
  kind: 'journal' | 'magazine' | 'newspaper' | 'proceedings' | 'bulletin'
  imprint: string
  host: string
  refereed: boolean
  /** The citation index files its works under this field. */
  field: string
  lexicons: number[]
  since: number
  issnPrint: string
  issnOnline: string
  former?: { title: string; until: number; issnPrint: string }
  issues: number
  columns: 1 | 2
  style: 0 | 1 | 2
  /** Year from which all its articles are open. */
  openFrom?: number
  articleNumbers: boolean
  licences: Licence[]
  print?: { from: number; to?: number; call: string; branch: string; gaps: string; microfilm?: string }
}

export interface Grant {
  id: string
  title: string
  funder: string
  from: number
  to: number
}

/** Sentences and words from which bodies of texts are spun. */
export interface Grammar {
  /** For each half: sentences of each section. */
  sentences: [Sentences, Sentences]
  /** For each lexicon and half: the words of each slot. */
  lexicons: [Words, Words][]
}
export type Section = 'introduction' | 'methods' | 'results' | 'discussion'
export type Sentences = Record<Section, string[]>
export type Words = Record<'things' | 'causes' | 'places' | 'measures' | 'methods', string[]>

/** Everything beside the works. */
export interface WorldFacts {
  seed: number
  /** Names the bytes of the works, so that what is computed from them can be kept. */
  stamp: string
  venues: Venue[]
  grants: Grant[]
  grammar: Grammar
  /** Name of each KBART package of the home library. */
  packages: string[]
}

/** The files of a made-up world in its folder. */
export const WORLD_FILES = { works: 'works.ndjson', facts: 'facts.json', kbart: 'kbart' } as const
