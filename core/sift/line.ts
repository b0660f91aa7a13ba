import type { Reach } from '../access/routes'
import type { Limited } from './limits'
import type { Part } from './marks'

/** A work of a pool as a record line: what lists show of it and what it can be limited by. */
export interface WorkLine extends Limited {
  authors: string
  doi: string | null
  pages: string | null
  confidence: number
  /** Citations a year; null where it is too new to tell, or nobody knows. */
  perYear: number | null
  citedBy: number | null
  reach: Reach
  part: Part | null
  hasNote: boolean
  /** Whether the student said what kind it is. */
  ownKind: boolean
}

/** Place of a work among lines, which stand by their ids; -1 where it is not among them. */
export function placeOf(lines: readonly { id: number }[], id: number): number {
  let low = 0
  let high = lines.length - 1
  while (low <= high) {
    const middle = (low + high) >> 1
    const found = lines[middle]!.id
    if (found === id) return middle
    if (found < id) low = middle + 1
    else high = middle - 1
  }
  return -1
}

/** The line of a work. */
export const lineIn = <L extends { id: number }>(lines: readonly L[], id: number): L | undefined =>
  lines[placeOf(lines, id)]

/** The lines that changed after a revision, for whoever has the others. */
export interface Changes {
  revision: number
  /** Day of the desk they were told on. */
  day: string
  /** All lines, instead of those that changed. */
  whole: boolean
  lines: WorkLine[]
  /** Works that were joined into others. */
  gone: number[]
}

/** One thing that was done in an inquiry, as it can be told and, where it has a group, taken back. */
export interface Deed {
  at: string
  who: string | null
  what: 'decision' | 'mark' | 'undo' | 'arrival' | 'sweep' | 'check'
  /** By which it is taken back; null for what only adds. */
  group: string | null
  undone: boolean
  works: number
  /** The first of its works. */
  first: { id: number; title: string } | null
  detail: Record<string, unknown>
}
