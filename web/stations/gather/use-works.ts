import { releaseProxy, wrap } from 'comlink'
import { useEffect, useMemo, useState } from 'react'
import { worksAmong } from '../../../core/match/records'
import type { FoundRecord } from '../../../core/schema/api'

/**
 * Which of the records found describe one work, as bringing them in would join them: each list of ids by the record that
 * stands for it. Reckoned in a worker; until then each stands for itself.
 */
export function useWorks(records: readonly FoundRecord[]): ReadonlyMap<number, number> {
  const [groups, setGroups] = useState<readonly number[][]>([])
  useEffect(() => {
    if (records.length < 2) return
    let wanted = true
    const take = (found: readonly number[][]) => wanted && setGroups(found)
    const told = records.map(({ id, item: { abstract: _, ...item }, kind, work }) => ({
      id,
      item,
      work,
      // a preprint has a DOI of its own
      facts: kind === 'preprint' ? { version: 'preprint' as const } : {},
    }))
    if (typeof Worker === 'undefined') {
      take(worksAmong(told))
      return
    }
    const worker = new Worker(new URL('./works.worker.ts', import.meta.url), { type: 'module' })
    const remote = wrap<typeof worksAmong>(worker)
    void remote(told).then(take)
    return () => {
      wanted = false
      remote[releaseProxy]()
      worker.terminate()
    }
  }, [records])
  return useMemo(() => new Map(groups.flatMap(g => g.map(id => [id, g[0]!] as const))), [groups])
}
