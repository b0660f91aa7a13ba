import { useMutation, useQuery, useQueryClient, type QueryKey } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, ApiError, type Options } from './client'
import type { Job } from './types'

/** Something of an inquiry, read anew whenever the inquiry's revision moves. */
export function useOf<T>(inquiry: number, path: string, enabled = true) {
  return useQuery({
    queryKey: ['inquiry', inquiry, path] as QueryKey,
    queryFn: ({ signal }) => api<T>('GET', `/inquiries/${inquiry}${path}`, { signal }),
    enabled,
  })
}

/** A change to an inquiry; afterwards all that is shown of it is read anew. */
export function useChange<In, Out>(inquiry: number, call: (input: In) => { method: string; path: string } & Options) {
  const client = useQueryClient()
  return useMutation<Out, ApiError, In>({
    mutationFn: input => {
      const { method, path, ...o } = call(input)
      return api<Out>(method, `/inquiries/${inquiry}${path}`, o)
    },
    onSettled: () => void client.invalidateQueries({ queryKey: ['inquiry', inquiry] }),
  })
}

/** Live changes of an inquiry: raises what is shown to the newest revision, and tells of running jobs. */
export function useLive(inquiry: number): { jobs: Job[]; away: boolean } {
  const client = useQueryClient()
  const [jobs, setJobs] = useState<Map<number, Job>>(new Map())
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
      if (last && last !== e.data) void client.invalidateQueries({ queryKey: ['inquiry', inquiry] })
      last = e.data as string
    })
    source.addEventListener('job', e => {
      alive()
      const job = JSON.parse(e.data as string) as Job
      setJobs(before => new Map(before).set(job.id, job))
      if (job.state === 'done' || job.state === 'failed' || job.state === 'cancelled')
        void client.invalidateQueries({ queryKey: ['inquiry', inquiry] })
    })
    return () => {
      clearTimeout(timer)
      source.close()
    }
  }, [inquiry, client])
  return { jobs: [...jobs.values()], away }
}
