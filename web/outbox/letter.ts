import { ApiError } from '../api/client'
import type { WorkLine } from '../../core/sift/line'

/** What a decision or a mark changes of a line. */
export type Patch = Partial<WorkLine>

/** A write that the server has not taken yet, as it is kept in the browser. */
export interface Letter {
  /** Made here; it is the key under which the server takes it once, however often it is sent. */
  id: string
  /** Its place among all that waits, over all windows. */
  n: number
  /** Whose it is: it is sent while this user is signed in, and stays until then. */
  user: number
  inquiry: number
  method: 'POST' | 'PUT' | 'PATCH'
  /** Below the inquiry. */
  path: string
  body: unknown
  /** What it is, in words: "Kept: 3 works". */
  said: string
  /** Deeds that belong together, by which they are undone. */
  group?: string
  /** A text that is saved as it is written: what is written later goes in place of what was not sent yet. */
  slot?: string
  /** The window in which a text was written: two windows are two writers, and neither writes over the other. */
  window?: string
  /** The version that the text stood on; sent as If-Match. */
  version?: number
  /** Milliseconds since 1970 before which it is not sent: the student is still writing. */
  after?: number
  /** How works stand by it, and how they stood before, by work. */
  shows?: Record<number, Patch>
  before?: Record<number, Patch>
  /** The query that shows what the server made of it. */
  shownBy?: string
  /** It was sent, so that the server may have it: what it says does not change any more. */
  sent?: boolean
  /** Why the server did not take it; it stays until it is tried again or taken back. */
  refused?: Refusal
}
export interface Refusal {
  code: string
  said: string
  body: Record<string, unknown>
}

/** What the server tells of a write that it took. */
export interface Answer {
  /** Of an undo: its works as they stand again. */
  lines?: WorkLine[]
  revision?: number
  version?: number
}

/** Answers with an error that says nothing against a letter may come so often before the student is asked. */
export const PATIENCE = 6

/**
 * What an error means for a letter: it waits for the server, or for a sign-in; it may be tried a few times more; or it
 * will not be taken as it is.
 */
export function meaning(e: unknown): 'waits' | 'signed out' | 'again' | 'refused' {
  if (!(e instanceof ApiError)) return 'waits'
  if (e.status === 401) return 'signed out'
  if (e.status === 0 || [408, 425, 429, 502, 503, 504, 507].includes(e.status) || e.code === 'in-progress')
    return 'waits'
  return e.status >= 500 ? 'again' : 'refused'
}

export const refusalOf = (e: unknown): Refusal =>
  e instanceof ApiError
    ? { code: e.code, said: e.message, body: e.body }
    : { code: 'unforeseen', said: e instanceof Error ? e.message : String(e), body: {} }

/** Puts a letter where it belongs: in place of itself, or at the end. */
export const withLetter = (list: readonly Letter[], letter: Letter): Letter[] => {
  const at = list.findIndex(l => l.id === letter.id)
  return at < 0 ? [...list, letter].sort((a, b) => a.n - b.n) : list.with(at, letter)
}

/** The version that another window saved meanwhile, where that is why a text was refused. */
export const overtakenBy = (refused: Refusal | undefined): number | undefined =>
  refused?.code === 'changed-elsewhere' ? (refused.body.current as { version: number }).version : undefined
