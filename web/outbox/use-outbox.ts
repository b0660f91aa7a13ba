import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useMemo, useSyncExternalStore } from 'react'
import { useSession } from '../api/session'
import { overtakenBy, type Letter, type Refusal } from './letter'
import { outboxOf, type Outbox } from './outbox'

export const useOutbox = (): Outbox => outboxOf(useQueryClient())

/** Sends what waits while somebody is signed in. */
export function useSending(): void {
  const outbox = useOutbox()
  const user = useSession().data?.user?.id
  useEffect(() => outbox.begin(user), [outbox, user])
}

/** What waits in this browser, and what was refused; of one inquiry, or of all. */
export function useLetters(inquiry?: number): readonly Letter[] {
  const outbox = useOutbox()
  const all = useSyncExternalStore(outbox.subscribe, outbox.letters)
  return useMemo(() => (inquiry === undefined ? all : all.filter(l => l.inquiry === inquiry)), [all, inquiry])
}

/** What was done in an inquiry and is not in what was read of the server: on its way, or taken a moment ago. */
export function useShowing(inquiry: number): readonly Letter[] {
  const outbox = useOutbox()
  const all = useSyncExternalStore(outbox.subscribe, outbox.showing)
  return useMemo(() => all.filter(l => l.inquiry === inquiry && !l.refused), [all, inquiry])
}

/** How a text of this window stands in the outbox: the same answer until that changes, whatever else is written. */
function lookingAt(outbox: Outbox, inquiry: number, slot: string) {
  const read = () => ({
    mine: outbox.letters().filter(l => l.inquiry === inquiry && l.slot === slot && l.window === outbox.here),
    taken: outbox.taken(inquiry, slot),
    away: outbox.away(),
  })
  let last = read()
  return () => {
    const now = read()
    const isSame =
      now.taken === last.taken &&
      now.away === last.away &&
      now.mine.length === last.mine.length &&
      now.mine.every((l, i) => l === last.mine[i])
    return isSame ? last : (last = now)
  }
}

/** Milliseconds after the last letter that a text waits before it is sent. */
const PAUSE = 700

export interface Saved<T> {
  value: T
  write(value: T): void
  /** Untouched: nothing was written here since the page was opened. */
  state: 'untouched' | 'saved' | 'saving' | 'kept here' | 'not taken'
  /** Why the newest writing was not taken, with what stands on the server where another window was faster. */
  refused: Refusal | undefined
  /** Puts the student's own in place of what stands there. */
  keepMine(): void
  /** Gives up the student's own. */
  takeTheirs(): void
}

/**
 * A text that saves itself a moment after the last letter, against the version it stands on. What is written is kept in
 * the browser from its first letter until the server has it, and is there again when the page is.
 * @param o.stands what the server said last
 */
export function useSaved<T>(o: {
  inquiry: number
  slot: string
  method: 'PUT' | 'PATCH'
  path: string
  said: string
  stands: { value: T; version: number } | undefined
  body: (value: T) => unknown
  read: (body: unknown) => T
}): Saved<T> | undefined {
  const outbox = useOutbox()
  const { inquiry, slot, method, path, said, stands, body, read } = o
  const look = useMemo(() => lookingAt(outbox, inquiry, slot), [outbox, inquiry, slot])
  const { mine, taken, away } = useSyncExternalStore(outbox.subscribe, look)
  const newest = mine.at(-1)
  const version = Math.max(stands?.version ?? 0, taken?.version ?? 0)
  const write = useCallback(
    (value: T) =>
      outbox.write({
        id: crypto.randomUUID(),
        inquiry,
        slot,
        method,
        path,
        said,
        body: body(value),
        version,
        after: Date.now() + PAUSE,
      }),
    [outbox, inquiry, slot, method, path, said, body, version],
  )
  if (!stands) return undefined
  const value = newest ? read(newest.body) : taken && taken.version > stands.version ? read(taken.body) : stands.value
  const refused = mine.find(l => l.refused)
  return {
    value,
    write,
    state: refused ? 'not taken' : !newest ? (taken ? 'saved' : 'untouched') : away ? 'kept here' : 'saving',
    refused: refused?.refused,
    keepMine: () => refused && outbox.again(refused.id, overtakenBy(refused.refused)),
    takeTheirs: () => mine.forEach(l => outbox.takeBack(l.id)),
  }
}

/** Texts of an inquiry beside each other, each of which saves itself as with `useSaved`. */
export function useManySaved<T>(o: { inquiry: number; method: 'PUT' | 'PATCH'; read: (body: unknown) => T }) {
  const outbox = useOutbox()
  const { inquiry, method, read } = o
  const letters = useLetters(inquiry)
  const newest = (slot: string) => letters.findLast(l => l.slot === slot && l.window === outbox.here)
  return {
    /** How a text stands here. */
    now(slot: string, stands: { value: T; version: number }): T {
      const mine = newest(slot)
      const taken = outbox.taken(inquiry, slot)
      return mine ? read(mine.body) : taken && taken.version > stands.version ? read(taken.body) : stands.value
    },
    write(slot: string, version: number, letter: { path: string; said: string; body: unknown }): void {
      const taken = outbox.taken(inquiry, slot)?.version ?? 0
      outbox.write({
        ...{ id: crypto.randomUUID(), inquiry, slot, method, ...letter },
        ...{ version: Math.max(version, taken), after: Date.now() + PAUSE },
      })
    },
  }
}
