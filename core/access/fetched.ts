import type { Ended, Step } from './walk'

/** How the fetching of one text stands, as a job tells it. */
export interface Fetched {
  work: number
  title: string
  state: 'waiting' | 'fetching' | 'proved' | 'doubtful' | 'gate needed' | 'limit' | 'no route' | Exclude<Ended, 'taken'>
  said?: string
  from?: string
  /** The steps of the way that is walked, or was last. */
  steps?: readonly Step[]
  /** The terms that are asked for. */
  terms?: { host: string; text: string }
  /** The library at whose gate the student has to sign in first. */
  gate?: string
  /** ISO moment of the next try. */
  again?: string
}

/** Which of several ends is told of a text that did not come: that which the student can do most about. */
export const TOLD_FIRST: readonly Fetched['state'][] = [
  ...(['doubtful', 'terms', 'gate needed', 'session over', 'limit', 'by chapter', 'challenge', 'sign in'] as const),
  ...(['by hand', 'later', 'embargo', 'wrong file', 'not paid', 'gone', 'lost', 'no route'] as const),
]

/** Whether a text is done with, for this time. */
export const isDone = ({ state }: Pick<Fetched, 'state'>): boolean => state !== 'waiting' && state !== 'fetching'
