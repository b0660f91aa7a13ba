import { useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useSyncExternalStore } from 'react'
import { PoolIndex } from '../../core/sift/limits'
import type { WorkLine } from '../../core/sift/line'
import { worksKey } from './hooks'

/**
 * The pool of an inquiry as it stands: a store beside React that follows the lines as they are read and painted, and
 * hands out a snapshot that never changes. After a decision it is another one, for which only what changed was read.
 */
class PoolStore {
  private readonly key: string
  private snapshot: PoolIndex<WorkLine> | undefined
  constructor(
    private readonly client: QueryClient,
    private readonly inquiry: number,
  ) {
    this.key = JSON.stringify(worksKey(inquiry))
  }
  readonly subscribe = (tell: () => void): (() => void) =>
    this.client.getQueryCache().subscribe(e => {
      if (e.type === 'updated' && e.query.queryHash === this.key) tell()
    })
  readonly get = (): PoolIndex<WorkLine> | undefined => {
    const lines = this.client.getQueryData<readonly WorkLine[]>(worksKey(this.inquiry))
    // the same lines are the same pool
    if (lines !== this.snapshot?.works) this.snapshot = lines && (this.snapshot?.next(lines) ?? PoolIndex.of(lines))
    return this.snapshot
  }
}

const stores = new WeakMap<QueryClient, Map<number, PoolStore>>()
function storeOf(client: QueryClient, inquiry: number): PoolStore {
  const of = stores.get(client) ?? new Map<number, PoolStore>()
  stores.set(client, of)
  const store = of.get(inquiry) ?? new PoolStore(client, inquiry)
  of.set(inquiry, store)
  return store
}

/** The pool as it stands; undefined until its lines were read. */
export function usePool(inquiry: number): PoolIndex<WorkLine> | undefined {
  const store = storeOf(useQueryClient(), inquiry)
  return useSyncExternalStore(store.subscribe, store.get)
}
