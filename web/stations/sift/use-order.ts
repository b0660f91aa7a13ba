import { releaseProxy, wrap, type Remote } from 'comlink'
import { startTransition, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import type { Described } from '../../../core/sift/order'
import type { PoolIndex } from '../../../core/sift/limits'
import { placeOf } from '../../../core/sift/line'
import type { WorkLine } from '../../../core/sift/line'
import type { ReadingLearner } from './order.worker'

export const ORDERS = [
  { key: 'likely', name: 'likeliest first' },
  { key: 'new', name: 'newest first', by: (a, b) => (b.year ?? 0) - (a.year ?? 0) },
  { key: 'old', name: 'oldest first', by: (a, b) => (a.year ?? 9999) - (b.year ?? 9999) },
  { key: 'cited', name: 'citations a year', by: (a, b) => (b.perYear ?? -1) - (a.perYear ?? -1) },
  { key: 'title', name: 'title', by: (a, b) => a.title.localeCompare(b.title) },
  { key: 'catalogue', name: 'catalogue', by: (a, b) => sourcesOf(a).localeCompare(sourcesOf(b)) },
  { key: 'pool', name: 'as they came', by: (a, b) => a.id - b.id },
  { key: 'chance', name: 'by chance', by: (a, b) => scatter(a.id) - scatter(b.id) },
] as const satisfies readonly { key: string; name: string; by?: (a: WorkLine, b: WorkLine) => number }[]
export type OrderKey = (typeof ORDERS)[number]['key']

/** Where the records of a work are from, the same whatever order they came in. */
const sourcesOf = (w: WorkLine): string => [...w.sources].sort().join(', ')

/** A number without rhyme or reason, the same for the same work. */
const scatter = (id: number): number => Math.imul(id ^ (id >>> 13), 0x9e3779b1) >>> 0

/** What the learner is told of each standing: unread, wanted, wanted, neither, not wanted. */
const TOLD = Int8Array.of(0, 1, 1, 2, -1)

export interface ReadingOrder {
  /** Places of the unread works in the learned order; undefined until it is reckoned. */
  ranked: Uint32Array | undefined
  /** Whether there is an order to show, or none can be had. */
  ready: boolean
  /** Works that were drawn by chance. */
  chance: ReadonlySet<number>
  why(id: number): Promise<{ towards: string[]; away: string[] }>
}

/**
 * The learned order of reading, reckoned in a worker: anew after each decision, the latest winning where decisions come
 * faster than it learns. `question` are the student's own words and terms.
 * @param wanted whether that order is asked for; where it is not, nothing is learned
 */
export function useReadingOrder(
  inquiry: number,
  { members, standing }: PoolIndex<WorkLine>,
  question: Described,
  wanted: boolean,
): ReadingOrder {
  const [order, setOrder] = useState<{ of: typeof members; ranked?: Uint32Array; chance: ReadonlySet<number> }>({
    of: members,
    chance: new Set(),
  })
  const learner = useRef<Remote<ReadingLearner>>(undefined)
  /** Ids of the works whose texts were read, in the learner's order. */
  const [rows, setRows] = useState<Int32Array>()
  const [failed, setFailed] = useState(false)
  const some = members.length > 0
  // texts do not change with decisions: they are read again only when works come or go
  useEffect(() => {
    if (typeof Worker === 'undefined' || !some || !wanted) return
    const worker = new Worker(new URL('./order.worker.ts', import.meta.url), { type: 'module' })
    const remote = wrap<ReadingLearner>(worker)
    let here = true
    remote
      .read(`/api/inquiries/${inquiry}/works/texts`)
      .then(ids => {
        if (!here) return
        learner.current = remote
        setFailed(false)
        setRows(ids)
      })
      // without the texts the works stand as they came
      .catch(() => here && setFailed(true))
    return () => {
      here = false
      learner.current = undefined
      setRows(undefined)
      remote[releaseProxy]()
      worker.terminate()
    }
  }, [inquiry, members, some, wanted])

  /** Place in the pool of each row of the learner; -1 for one that is no longer there. */
  const places = useMemo(() => rows && Int32Array.from(rows, id => placeOf(members, id)), [rows, members])
  const busy = useRef(false)
  const next = useRef<Int8Array>(undefined)
  useEffect(() => {
    if (!places || !learner.current) return
    // a work that is gone is neither wanted nor read
    const told = new Int8Array(places.length)
    for (let i = 0; i < told.length; i++) told[i] = places[i]! < 0 ? 2 : TOLD[standing[places[i]!]!]!
    next.current = told
    const learn = async () => {
      while (next.current && learner.current) {
        const decided = next.current
        next.current = undefined
        const began = performance.now()
        const { rows, chance } = await learner.current.order(decided, question)
        const ranked = new Uint32Array(rows.length)
        const drawn = new Set<number>()
        for (let i = 0; i < rows.length; i++) {
          ranked[i] = places[rows[i]!]!
          if (chance[i]) drawn.add(members[ranked[i]!]!.id)
        }
        // behind what is done by hand
        startTransition(() => setOrder({ of: members, ranked, chance: drawn }))
        // it rests as long as it learned: half of its core stays free, however large the pool
        await new Promise(r => setTimeout(r, performance.now() - began))
      }
    }
    if (busy.current) return
    busy.current = true
    void learn().finally(() => (busy.current = false))
  }, [standing, members, places, question])

  const why = useCallback(
    async (id: number) => (rows && (await learner.current?.why(rows.indexOf(id)))) ?? { towards: [], away: [] },
    [rows],
  )
  // works that came or went moved the places of the others
  const ranked = useMemo(
    () => (order.of === members ? order.ranked : order.ranked?.map(at => placeOf(members, order.of[at]?.id ?? -1))),
    [order, members],
  )
  const ready = ranked !== undefined || typeof Worker === 'undefined' || failed
  return { ranked, chance: order.chance, ready, why }
}

/**
 * Places of works, which stand by their ids, in the chosen order; what the learned one does not name comes last.
 * Decisions move nothing, so it is reckoned anew only when works come or go, or the learner has learned.
 */
export function inOrder(works: readonly WorkLine[], key: OrderKey, ranked: ReadingOrder['ranked']): Uint32Array {
  const order = ORDERS.find(o => o.key === key)!
  const places = Uint32Array.from(works.keys())
  if ('by' in order) return places.sort((a, b) => order.by(works[a]!, works[b]!))
  const named = new Uint8Array(works.length)
  let n = 0
  for (const at of ranked ?? []) {
    if (at >= named.length || named[at]) continue
    named[at] = 1
    places[n++] = at
  }
  for (let at = 0; at < named.length; at++) if (!named[at]) places[n++] = at
  return places
}
