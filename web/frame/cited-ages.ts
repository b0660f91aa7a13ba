import { useQuery } from '@tanstack/react-query'
import { api } from '../../core/schema/api'
import { call } from '../api/client'

/** How old what kept works cite was; asked now and then, as no single decision changes it by much. */
export const useCitedAges = (inquiry: number) =>
  useQuery({
    queryKey: ['cited ages', inquiry],
    queryFn: ({ signal }) => call(api.citedAges, { params: { inquiry }, signal }),
    staleTime: 300_000,
  })
