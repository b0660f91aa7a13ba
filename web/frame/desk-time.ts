import { useQuery } from '@tanstack/react-query'
import { parseISO } from 'date-fns'
import { useCallback } from 'react'
import { api, type Answer } from '../../core/schema/api'
import { call } from '../api/client'

/** The day on which the desk stands, and where it stood before. */
export const useDesk = () => useQuery({ queryKey: ['desk'], queryFn: () => call(api.desk, {}) })

/**
 * A moment as it was on the desk: on the day on which that stood then, at the time of the clock.
 * @example with a desk that stands on 5 October: inDeskTime('2026-11-26T23:10:00Z', days) // 5 October, 23:10
 */
export function inDeskTime(at: string, days: Answer<'desk'>['days']): Date {
  const moment = new Date(at)
  const stood = days.findLast(d => new Date(d.from) <= moment)?.day
  if (!stood) return moment
  const day = parseISO(stood)
  moment.setFullYear(day.getFullYear(), day.getMonth(), day.getDate())
  return moment
}

/** Moments in desk time; there is one clock to the eye. */
export function useDeskTime(): (at: string) => Date {
  const days = useDesk().data?.days
  return useCallback(at => inDeskTime(at, days ?? []), [days])
}
