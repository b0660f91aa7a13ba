import { api } from '../../core/schema/api'
import { useCallback, useEffect, useRef } from 'react'
import { useChange } from '../api/hooks'
import { useHere, useOpenWork } from './inquiry-frame'
import { tell, tellError } from './parts'

/**
 * Looks in the catalogues for what a work leads to: the book it reviews, the book it stands in, the item it corrects.
 * What is found comes into the pool, the work itself counts as a lead, and both are told when they happen.
 */
export function useLead(): (work: number) => void {
  const { inquiry, jobs } = useHere()
  const open = useOpenWork()
  const asked = useRef(new Map<number, string>())
  const follow = useChange(inquiry.id, api.followLead, (work: number) => ({ params: { work } }))
  useEffect(() => {
    for (const j of jobs) {
      const title = asked.current.get(j.id)
      if (title === undefined || j.state === 'queued' || j.state === 'running') continue
      asked.current.delete(j.id)
      const found = (j.result?.works as number[] | undefined)?.[0]
      if (j.state !== 'done') tell(`“${title}” could not be looked up: ${j.error ?? 'it was stopped'}`)
      else if (found) tell(`“${title}” is in your pool.`, { label: 'Open it', onClick: () => open(found) })
      else tell(`No catalogue that answered has “${title}”.`)
    }
  }, [jobs, open])
  const { mutate } = follow
  return useCallback(
    (work: number) =>
      mutate(work, {
        onSuccess: ({ job, title }) => {
          asked.current.set(job, title)
          tell(`Looking for “${title}” in the catalogues …`)
        },
        onError: tellError,
      }),
    [mutate],
  )
}
