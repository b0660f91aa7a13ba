import { useQuery } from '@tanstack/react-query'
import { api } from './client'

export interface Session {
  user: { id: number; name: string; email: string; role: 'student' | 'administrator'; mustChange: boolean } | null
  demo: boolean
}

/** Who is signed in. */
export const useSession = () =>
  useQuery({ queryKey: ['session'], queryFn: () => api<Session>('GET', '/session'), staleTime: 60_000 })
