import { releaseProxy, wrap, type Remote } from 'comlink'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import type { Described } from '../../../core/sift/order'
import type { State } from '../../../core/sift/decisions'
import { lineIn, placeOf } from '../../../core/sift/line'
import type { WorkLine } from '../../api/types'
import type { ReadingLearner } from './order.worker'

export const ORDERS = [
  { key: 'likely', name: 'likeliest first' },
  { key: 'new', name: 'newest first', by: (a, b) => (b.year ?? 0) - (a.year ?? 0) },
  { key: 'old', name: 'oldest first', by: (a, b) => (a.year ?? 9999) - (b.year ?? 9999) },
  { key: 'cited', name: 'citations a year', by: (a, b) => (b.perYear ?? -1) - (a.perYear ?? -1) },
  { key: 'title', name: 'title', by: (a, b) => a.title.localeCompare(b.title) },
  { key: 'pool', name: 'as they came', by: (a, b) => a.id - b.id },
  { key: 'chance', name: 'by chance', by: (a, b) => scatter(a.id) - scatter(b.id) },
] as const satisfies readonly { key: string; name: string; by?: (a: WorkLine, b: WorkLine) => number }[]
export type OrderKey = (typeof ORDERS)[number]['key']

/** A number without rhyme or reason, the same for the same work. */
const scatter = (id: number): number => Math.imul(id ^ (id >>> 13), 0x9e3779b1) >>> 0

const told: Record<State, number> = { unread: 0, kept: 1, 'set aside': -1, later: 2 }

export interface ReadingOrder {
  /** Unread works in the learned order; undefined until it is reckoned. */
  ranked: Int32Array | undefined
  /** Whether there is an order to show, or none can be had. */
  ready: boolean
  /** Works that were drawn by chance. */
  chance: ReadonlySet<number>
  why(id: number): Promise<{ towards: string[]; away: string[] }>
}

/**
 * The learned order of reading, reckoned in a worker: anew after each decision, the latest winning where decisions come
 * faster than it learns. `question` are the student's own words and terms.
 */
export function useReadingOrder(inquiry: number, works: readonly WorkLine[], question: Described): ReadingOrder {
  const [order, setOrder] = useState<Pick<ReadingOrder, 'ranked' | 'chance'>>({ ranked: undefined, chance: new Set() })
  // texts do not change with decisions, so they are read again only when works come or go
  const ids = useMemo(() => works.map(w => w.id), [works])
  const key = `${ids.length}/${ids[0] ?? 0}/${ids.at(-1) ?? 0}`
  const learner = useRef<Remote<ReadingLearner>>(undefined)
  const rows = useRef<Int32Array>(new Int32Array(0))
  const [loaded, setLoaded] = useState(0)
  const [failed, setFailed] = useState(false)
  const some = works.length > 0
  useEffect(() => {
    if (typeof Worker === 'undefined' || !some) return
    const worker = new Worker(new URL('./order.worker.ts', import.meta.url), { type: 'module' })
    const remote = wrap<ReadingLearner>(worker)
    let here = true
    remote
      .read(`/api/inquiries/${inquiry}/works/texts`)
      .then(ids => {
        if (!here) return
        rows.current = ids
        learner.current = remote
        setFailed(false)
        setLoaded(n => n + 1)
      })
      // without the texts the works stand as they came
      .catch(() => here && setFailed(true))
    return () => {
      here = false
      learner.current = undefined
      remote[releaseProxy]()
      worker.terminate()
    }
    // works that come or go bring other texts
  }, [inquiry, key, some])

  const busy = useRef(false)
  const wanted = useRef<Int8Array>(undefined)
  useEffect(() => {
    if (!loaded || !learner.current) return
    wanted.current = rows.current.length
      ? Int8Array.from(rows.current, id => told[lineIn(works, id)?.state ?? 'later'])
      : undefined
    const next = async () => {
      while (wanted.current && learner.current) {
        const decided = wanted.current
        wanted.current = undefined
        const answer = await learner.current.order(decided, question)
        const ranked = answer.rows.map(row => rows.current[row]!)
        setOrder({ ranked, chance: new Set(ranked.filter((_, i) => answer.chance[i])) })
      }
    }
    if (busy.current) return
    busy.current = true
    void next().finally(() => (busy.current = false))
  }, [works, loaded, question])

  const why = useCallback(
    async (id: number) => (await learner.current?.why(rows.current.indexOf(id))) ?? { towards: [], away: [] },
    [],
  )
  const ready = order.ranked !== undefined || typeof Worker === 'undefined' || failed
  return { ...order, ready, why }
}

/**
 * The places of the works in the chosen order, as positions in `works`. Decisions do not move anything, so it is
 * reckoned anew only when works come or go, or the learner has learned.
 */
export function useOrdered(works: readonly WorkLine[], key: OrderKey, ranked: ReadingOrder['ranked']): Uint32Array {
  const [same, setSame] = useState(works)
  if (same !== works && (same.length !== works.length || works.some((w, i) => w.id !== same[i]!.id))) setSame(works)
  return useMemo(() => inOrder(same, key, ranked), [same, key, ranked])
}

/** Positions of works, which stand by their ids, in the chosen order; what the learned one does not name comes last. */
export function inOrder(works: readonly WorkLine[], key: OrderKey, ranked: ReadingOrder['ranked']): Uint32Array {
  const order = ORDERS.find(o => o.key === key)!
  const places = Uint32Array.from(works.keys())
  if ('by' in order) return places.sort((a, b) => order.by(works[a]!, works[b]!))
  const named = new Uint8Array(works.length)
  let n = 0
  for (const id of ranked ?? []) {
    const at = placeOf(works, id)
    if (at < 0 || named[at]) continue
    named[at] = 1
    places[n++] = at
  }
  for (let at = 0; at < named.length; at++) if (!named[at]) places[n++] = at
  return places
}
