import { LRUCache } from 'lru-cache'

/** What was asked lately, by key, and apart for each database. */
export interface Memory<V> {
  /** The answer as it was asked before, while it holds; who asks meanwhile waits for the same one. A failure is not kept. */
  get: (c: { db: object }, key: string | number, ask: () => Promise<V>) => Promise<V>
  /** Forgets all, where it changed. */
  forget: (c: { db: object }) => void
}

/**
 * @param o.holds milliseconds that an answer holds
 * @param o.most answers kept at once; those that were not asked for longest go first
 */
export function memory<V>({ holds, most = 500 }: { holds: number; most?: number }): Memory<V> {
  const known = new WeakMap<object, LRUCache<string | number, Promise<V>>>()
  return {
    get({ db }, key, ask) {
      const of = known.get(db) ?? new LRUCache<string | number, Promise<V>>({ max: most, ttl: holds })
      known.set(db, of)
      const have = of.get(key)
      if (have) return have
      const answer = ask()
      of.set(key, answer)
      answer.catch(() => {
        // what was asked since, after forgetting, stays
        if (of.peek(key) === answer) of.delete(key)
      })
      return answer
    },
    forget: ({ db }) => void known.delete(db),
  }
}
