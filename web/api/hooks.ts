import {
  queryOptions,
  useMutation,
  useQuery,
  useQueryClient,
  type QueryClient,
  type QueryKey,
} from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, type Job } from '../../core/schema/api'
import type { AnswerOf, Endpoint, ParamsOf, QueryOf } from '../../core/schema/api/endpoint'
import { placeOf as placeAmong, type Changes, type WorkLine } from '../../core/sift/line'
import { call, placeOf, request, type ApiError, type Asking } from './client'

/** What stands in a path below an inquiry. */
type Below<E> = Omit<ParamsOf<E>, 'inquiry'>
type Wanted<E> = (keyof Below<E> extends never ? { params?: Below<E> } : { params: Below<E> }) & {
  query?: Partial<QueryOf<E>>
  /** Not asked for as long as it is false. */
  enabled?: boolean
}
type MayBeLeftOut<E> = keyof Below<E> extends never ? [wanted?: Wanted<E>] : [wanted: Wanted<E>]

/** Something of an inquiry, read anew whenever the inquiry's revision moves. */
export function useOf<E extends Endpoint>(inquiry: number, endpoint: E, ...[wanted]: MayBeLeftOut<E>) {
  return useQuery({ ...ofQuery(inquiry, endpoint, wanted as Wanted<E>), enabled: wanted?.enabled ?? true })
}

/** The same as a query, for what is read ahead. */
export function ofQuery<E extends Endpoint>(inquiry: number, endpoint: E, wanted: Wanted<E>) {
  const place = placeOf(endpoint, { ...wanted?.params, inquiry }, wanted?.query)
  return queryOptions({
    queryKey: ['inquiry', inquiry, place.replace(/^\/inquiries\/\d+/, '')] as QueryKey,
    queryFn: ({ signal }) => request<AnswerOf<E>>(endpoint.method, place, { signal }),
  })
}

/** Under which the lines of a pool are kept. */
export const worksKey = (inquiry: number): QueryKey => ['inquiry', inquiry, '/works']

/** At which revision, and on which day of the desk, the lines of a pool were read. */
const readAt = new WeakMap<readonly WorkLine[], { revision: number; day: string }>()

/** The lines of a pool, changed here: what they were read at stays true of them. */
export function repaint(client: QueryClient, inquiry: number, change: (lines: WorkLine[]) => WorkLine[]): void {
  client.setQueryData<WorkLine[]>(worksKey(inquiry), lines => {
    if (!lines) return lines
    const now = change(lines)
    const at = readAt.get(lines)
    if (at) readAt.set(now, at)
    return now
  })
}

/**
 * The pool's works as lines. Read whole once; after that only what changed, so that lines that did not stay as they
 * are.
 */
export function useWorks(inquiry: number) {
  const client = useQueryClient()
  return useQuery({
    queryKey: worksKey(inquiry),
    queryFn: async ({ signal }) => {
      const had = client.getQueryData<WorkLine[]>(worksKey(inquiry))
      const at = had && readAt.get(had)
      const told = await changesSince(inquiry, at, signal)
      // painted meanwhile: the newest lines are what the changes go onto
      const lines = told.whole ? [] : (client.getQueryData<WorkLine[]>(worksKey(inquiry)) ?? [])
      const now = told.whole ? told.lines : merged(lines, told)
      readAt.set(now, { revision: told.revision, day: told.day })
      return now
    },
    structuralSharing: false,
  })
}

/** All that changed, page after page; as one answer. */
async function changesSince(
  inquiry: number,
  at: { revision: number; day: string } | undefined,
  signal: AbortSignal,
): Promise<Changes> {
  const page = (after: number) =>
    call(api.changes, {
      params: { inquiry },
      query: { after, ...(at ? { since: at.revision, day: at.day } : {}) },
      ...(signal ? { signal } : {}),
    })
  const told = await page(0)
  for (let { next } = told; next;) {
    const more = await page(next)
    told.lines.push(...more.lines)
    told.gone.push(...more.gone)
    next = more.next
  }
  return told
}

function merged(lines: WorkLine[], { lines: changed, gone }: Changes): WorkLine[] {
  if (!changed.length && !gone.length) return lines
  const away = new Set(gone)
  const now = gone.length ? lines.filter(w => !away.has(w.id)) : lines.slice()
  const more: WorkLine[] = []
  for (const w of changed) {
    const at = placeAmong(now, w.id)
    if (at < 0) more.push(w)
    else now[at] = w
  }
  return more.length ? now.concat(more).sort((a, b) => a.id - b.id) : now
}

/** A change to an inquiry; afterwards all that is shown of it is read anew. */
export function useChange<E extends Endpoint, In>(
  inquiry: number,
  endpoint: E,
  asking: (input: In) => Asking<E, Below<E>>,
) {
  const client = useQueryClient()
  return useMutation<AnswerOf<E>, ApiError, In>({
    mutationFn: input => {
      const given = asking(input)
      return call(endpoint, { ...given, params: { ...given.params, inquiry } } as unknown as Asking<E>)
    },
    onSettled: () => void client.invalidateQueries({ queryKey: ['inquiry', inquiry] }),
  })
}

/** So long nothing more has to happen before all that is shown of an inquiry is read again. */
const REST = 350
const timers = new Map<number, ReturnType<typeof setTimeout>>()

/** Reads what is shown of an inquiry again, once its changes rest: a row of quick decisions asks once. */
export function readAgain(client: QueryClient, inquiry: number): void {
  clearTimeout(timers.get(inquiry))
  timers.set(
    inquiry,
    setTimeout(() => void client.invalidateQueries({ queryKey: ['inquiry', inquiry] }), REST),
  )
}

/** The latest revision of each inquiry that this window made itself, and reads again by itself. */
const own = new Map<number, number>()
export const noteOwn = (inquiry: number, revision: number): void => void own.set(inquiry, revision)
const isOwn = (inquiry: number, revision: number): boolean => own.get(inquiry) === revision

/** Live changes of an inquiry: raises what is shown to the newest revision, and tells of running jobs. */
export function useLive(inquiry: number): { jobs: Job[]; away: boolean } {
  const client = useQueryClient()
  const [jobs, setJobs] = useState<Job[]>([])
  const [away, setAway] = useState(false)
  useEffect(() => {
    const source = new EventSource(`/api/inquiries/${inquiry}/events`)
    let last = ''
    source.onopen = () => setAway(false)
    // a moment's silence is no outage
    let timer: ReturnType<typeof setTimeout> | undefined
    source.onerror = () => (timer ??= setTimeout(() => setAway(true), 2500))
    const alive = () => {
      clearTimeout(timer)
      timer = undefined
      setAway(false)
    }
    source.addEventListener('revision', e => {
      alive()
      if (last && last !== e.data && !isOwn(inquiry, Number(e.data))) readAgain(client, inquiry)
      last = e.data as string
    })
    source.addEventListener('job', e => {
      alive()
      const job = JSON.parse(e.data as string) as Job
      setJobs(before => [...before.filter(j => j.id !== job.id), job])
      if (job.state === 'done' || job.state === 'failed' || job.state === 'cancelled')
        void client.invalidateQueries({ queryKey: ['inquiry', inquiry] })
    })
    return () => {
      clearTimeout(timer)
      source.close()
    }
  }, [inquiry, client])
  return { jobs, away }
}
