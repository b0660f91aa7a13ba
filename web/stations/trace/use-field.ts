import { releaseProxy, wrap, type Remote } from 'comlink'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import type { GraphAnswer } from '../../../core/schema/api'
import type { WorkLine } from '../../../core/sift/line'
import type { ListKind } from '../../../core/trails/field-shapes'
import { FieldDesk, type FieldLine, type Overview, type Row, type StrandOf } from './field-desk'

type Desk = Remote<FieldDesk> | FieldDesk

export interface FieldHandle {
  /** Undefined until it was reckoned once. */
  overview: Overview | undefined
  desk: Desk | undefined
  failed: boolean
}

/** The field of an inquiry, reckoned in a worker: anew when the graph, the works or the strands change. */
export function useField(
  graph: GraphAnswer | undefined,
  works: readonly WorkLine[] | undefined,
  strands: readonly StrandOf[],
  today: string,
): FieldHandle {
  const [desk, setDesk] = useState<Desk>()
  const [overview, setOverview] = useState<Overview>()
  const [failed, setFailed] = useState(false)
  const [alone] = useState(() => (typeof Worker === 'undefined' ? new FieldDesk() : undefined))
  useEffect(() => {
    if (alone) return
    const worker = new Worker(new URL('./field.worker.ts', import.meta.url), { type: 'module' })
    const remote = wrap<FieldDesk>(worker)
    void Promise.resolve().then(() => setDesk(() => remote))
    return () => {
      setDesk(undefined)
      remote[releaseProxy]()
      worker.terminate()
    }
  }, [alone])
  const at = alone ?? desk
  const busy = useRef(false)
  const next = useRef<() => Promise<void>>(undefined)
  useEffect(() => {
    if (!at || !graph || !works) return
    // of states that follow one another fast, the latest
    next.current = async () => {
      const made = await at.load(
        graph,
        works.map(lean),
        strands.map(({ id, name }) => ({ id, name })),
        today,
      )
      setOverview(made)
      setFailed(false)
    }
    if (busy.current) return
    busy.current = true
    const run = async () => {
      for (let job = next.current; job; job = next.current) {
        next.current = undefined
        await job()
      }
    }
    void run()
      .catch(() => setFailed(true))
      .finally(() => (busy.current = false))
  }, [at, graph, works, strands, today])
  return { overview, desk: at, failed }
}

const lean = ({ id, title, year, state, strands, citedBy, references, sources, sweeps }: WorkLine): FieldLine => ({
  ...{ id, title, year, state, strands, citedBy, references, sources, sweeps },
})

/** What so many trails promise, by the rounds so far; undefined while it is reckoned, or where there is none to walk. */
export function useForecast({ overview, desk }: FieldHandle, trails: number) {
  const { data } = useQuery({
    queryKey: ['field', overview?.of ?? 0, 'next', trails],
    queryFn: async () => (await desk?.next(trails)) ?? null,
    enabled: trails > 0 && Boolean(desk && overview),
    gcTime: 60_000,
  })
  return data ?? undefined
}

/** A ranked list of one work, or of all kept ones; undefined while it is reckoned. */
export function useRanked(
  { overview, desk }: FieldHandle,
  kind: ListKind,
  of: number | undefined,
  enabled = true,
): Row[] | undefined {
  const { data } = useQuery({
    queryKey: ['field', overview?.of ?? 0, kind, of ?? 'kept'],
    queryFn: async () => (await desk?.list(kind, of)) ?? [],
    enabled: enabled && Boolean(desk && overview),
    gcTime: 60_000,
    placeholderData: before => before,
  })
  return data
}
