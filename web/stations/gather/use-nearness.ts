import { releaseProxy, wrap } from 'comlink'
import { useEffect, useState } from 'react'
import type { Query } from '../../../core/query/cql'
import { nearness } from '../../../core/query/nearest'
import type { FoundRecord } from '../../../core/schema/api'

/** How near each record is to the query, by id; reckoned in a worker, so that typing never waits. Empty until then. */
export function useNearness(records: readonly FoundRecord[], query: Query | undefined): ReadonlyMap<number, number> {
  const [near, setNear] = useState<ReadonlyMap<number, number>>(new Map())
  useEffect(() => {
    if (!query || !records.length) return
    let wanted = true
    const told = records.map(({ item }) => ({ item }))
    const take = (scores: Float32Array) => wanted && setNear(new Map(records.map((r, i) => [r.id, scores[i]!])))
    if (typeof Worker === 'undefined') {
      take(nearness(told, query))
      return
    }
    const worker = new Worker(new URL('./nearest.worker.ts', import.meta.url), { type: 'module' })
    const remote = wrap<typeof nearness>(worker)
    void remote(told, query).then(take)
    return () => {
      wanted = false
      remote[releaseProxy]()
      worker.terminate()
    }
  }, [records, query])
  return near
}
