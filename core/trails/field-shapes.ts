import type { State } from '../sift/decisions'
import type { Escaped } from './captures'
import type { Landmark } from './landmarks'
import type { YearOfField } from './rate'

/** A work of the pool, as far as its trails go. */
export interface FieldWork {
  id: number
  title: string
  year: number | null
  state: State
  strands: readonly number[]
  citedBy: number | null
  references: number | null
  /** Whether a sweep met it, and whether nothing but trails brought it. */
  swept: boolean
  byTrail: boolean
}
/** The graph as the server tells it. */
export interface FieldGraph {
  nodes: readonly {
    id: number
    work: number | null
    year: number | null
    citedBy: number | null
    field: string | null
    round: number | null
    pointer: { title: string } | null
  }[]
  citing: readonly number[]
  cited: readonly number[]
  walks: readonly { node: number; direction: 'references' | 'cited-by'; total: number; got: number }[]
  rounds: readonly { id: number; n: number | null; isStanding: boolean; trails: number; left: number }[]
  fields: readonly YearOfField[]
}

/** A work of the field: of the pool, or a pointer. */
export interface End {
  work: number | null
  /** The pointer's number; of a work that no index knows, null. */
  node: number | null
  year: number | null
}
export const LISTS = ['references', 'cited by', 'shared', 'together', 'alike'] as const
export type ListKind = (typeof LISTS)[number]
/** A work in a ranked list, with what it is ranked by. */
export interface Ranked {
  at: number
  /** 0 to 1 for a likeness; how many kept works are tied to it else. */
  value: number
  /** What is shared, where that is counted. */
  shared: number
  /** Kept works that cite it or are cited by it. */
  tied: number
  percentile: number | null
}
/** A work one lacks. */
export interface Lacking extends Landmark {
  percentile: number | null
}
/** A round, with what came of it. `n` is null of looks at single works and of standing trails, each told together. */
export interface RoundYield {
  n: number | null
  isStanding: boolean
  walked: number
  brought: number
  kept: number
}
export interface Enough {
  sweeps: { brought: number; kept: number }
  rounds: RoundYield[]
  captures: {
    kept: number
    sweeps: number
    trails: number
    both: number
    left: number
    escaped: Escaped | null
    /** Those that sweeps alone found: their place, and how many works they are known to cite and to be cited by. */
    apart: { at: number; cites: number; citedBy: number }[]
  }
}
