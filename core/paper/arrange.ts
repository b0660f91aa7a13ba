import type { Order } from './layout'

/** An entry as far as its place in a list goes. */
export interface Arranged {
  id: number
  /** Year of its work; without one it comes last. */
  year: number | undefined
  /** Strands that its work is on. */
  strands: readonly number[]
  /** Its place by hand; without one it comes after those that have one. */
  place: number | null
}
export interface Section {
  /** The strand that it is about; null for what is on none, where others are. */
  strand: number | null
  entries: number[]
}

/**
 * Lays entries out in an order. Equal ones stay as the style sorts them. An entry on several strands stands once, with
 * the first of them; strands without entries have no section.
 * @param entries in the order of the style
 * @param strands in the order of the student
 * @example arrange([{ id: 1, year: 2020, … }, { id: 2, year: 2011, … }], 'year', []) // [{ strand: null, entries: [2, 1] }]
 */
export function arrange(entries: readonly Arranged[], order: Order, strands: readonly number[]): Section[] {
  if (order !== 'strand') {
    const rank = (e: Arranged) =>
      (order === 'year' ? e.year : order === 'hand' ? (e.place ?? undefined) : 0) ?? Number.POSITIVE_INFINITY
    // Infinity less itself is no number
    const sorted = entries.toSorted((a, b) => (rank(a) === rank(b) ? 0 : rank(a) - rank(b)))
    return entries.length ? [{ strand: null, entries: sorted.map(e => e.id) }] : []
  }
  const first = new Map(entries.map(e => [e.id, strands.find(s => e.strands.includes(s)) ?? null]))
  return [...strands, null].flatMap((strand): Section[] => {
    const of = entries.filter(e => first.get(e.id) === strand).map(e => e.id)
    return of.length ? [{ strand, entries: of }] : []
  })
}
