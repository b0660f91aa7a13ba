/** In which order a list prints: as its style sorts, by the student's strands, oldest first, or as they laid it. */
export const ORDERS = ['style', 'strand', 'year', 'hand'] as const
export type Order = (typeof ORDERS)[number]
export const SHEETS = ['a4', 'letter'] as const
export const SPACINGS = [1, 1.5, 2] as const

/** How a bibliography is laid out when it is handed in. */
export interface Layout {
  order: Order
  sheet: (typeof SHEETS)[number]
  /** Height of a line, of its letters'. */
  spacing: (typeof SPACINGS)[number]
  /** Whether a page of its own with title and names comes first. */
  cover: boolean
  /** Whether annotations stand below their citations. */
  annotated: boolean
  /** How copies are named in a bundle, see `copyName`. */
  names: string
}

export const LAYOUT: Layout = {
  order: 'style',
  sheet: 'a4',
  spacing: 2,
  cover: false,
  annotated: true,
  names: '{place} {author} {year} {title}',
}

/** Texts around the list that the student writes; what a strand says of itself stands below its heading. */
export const PLACES = ['title', 'author', 'course', 'opening', 'closing'] as const
export type Place = (typeof PLACES)[number] | `strand-${number}`
export const isPlace = (place: string): place is Place =>
  (PLACES as readonly string[]).includes(place) || strandOfPlace(place) !== undefined
export const placeOfStrand = (strand: number): Place => `strand-${strand}`
export const strandOfPlace = (place: string): number | undefined => {
  const at = /^strand-(\d{1,10})$/.exec(place)
  return at ? Number(at[1]) : undefined
}
