import { useQuery } from '@tanstack/react-query'
import { api, type Answer } from '../../core/schema/api'
import { call } from './client'

export type Session = Answer<'session'>

/** Who is signed in. */
export const useSession = () =>
  useQuery({ queryKey: ['session'], queryFn: () => call(api.session, {}), staleTime: 60_000 })
