import { addDays } from '../bib/dates'
import type { Fetched } from './fetched'
import { canBeFetched, isFetchable, type Route } from './routes'

/**
 * What a text is fetched again for by itself: a new day of the card, a way that opens, a gate that is signed in at; and
 * that fetching it failed before it was asked for.
 */
export const AWAITED = ['limit', 'opens', 'gate', 'failed'] as const
export type AwaitedFor = (typeof AWAITED)[number]

/** A text that is fetched by itself. */
export interface Awaited {
  /** ISO date from which on; of one behind a gate the day on which it was asked for. */
  day: string
  why: AwaitedFor
}

/** The first day after today on which a text can be fetched that cannot be today, by its ways. */
export function opensLater(routes: readonly Route[], today: string): string | undefined {
  const days = routes.filter(r => canBeFetched(r) && r.expected > today).map(r => r.expected)
  return days.toSorted()[0]
}

/** Ends after which nothing but waiting is left. */
const SHUT: readonly Fetched['state'][] = ['no route', 'embargo', 'not paid', 'gone', 'lost', 'wrong file']

/**
 * Whether a text that did not come is fetched again by itself, and when. What the student has to do first, and what is
 * tried again within minutes, is not.
 * @param routes its ways as they stand after it was tried
 * @param today ISO date of the desk
 */
export function awaitedAfter(
  { state, gate }: Pick<Fetched, 'state' | 'gate'>,
  routes: readonly Route[],
  today: string,
): Awaited | undefined {
  if (state === 'limit') return { day: addDays(today, 1), why: 'limit' }
  if (state === 'gate needed') return gate === undefined ? undefined : { day: today, why: 'gate' }
  const opens = SHUT.includes(state) ? opensLater(routes, today) : undefined
  return opens ? { day: opens, why: 'opens' } : undefined
}

/** A work that is to be fetched, with its ways. */
interface Wanted {
  work: number
  routes: readonly Route[]
}

/** Chances that differ by less are the same to a student. */
const ALIKE = 0.05

/** The chance that a text comes in time in another way than by being fetched today; an author is none to count on. */
const otherwise = (routes: readonly Route[], today: string): number =>
  Math.round(
    Math.max(0, ...routes.filter(r => r.way !== 'author' && !isFetchable(r, today)).map(r => r.likely)) / ALIKE,
  )

/**
 * Works in the order in which their texts are needed: first those that nothing else would bring in time, since a card
 * may end before the last; of those alike the ones behind a gate, as a session there ends.
 * @param today ISO date of the desk
 */
export function byNeed<W extends Wanted>(works: readonly W[], today: string): W[] {
  const first = (routes: readonly Route[]) => (routes.find(r => isFetchable(r, today))?.way === 'gate' ? 0 : 1)
  return works.toSorted(
    (a, b) => otherwise(a.routes, today) - otherwise(b.routes, today) || first(a.routes) - first(b.routes),
  )
}
