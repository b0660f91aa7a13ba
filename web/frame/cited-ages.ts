import { useQuery } from '@tanstack/react-query'
import { sayAge } from '../../core/sift/currency'
import { api } from '../../core/schema/api'
import { call } from '../api/client'
import { useHere } from './inquiry-frame'

/** How old what kept works cite was; asked now and then, as no single decision changes it by much. */
export const useCitedAges = (inquiry: number) =>
  useQuery({
    queryKey: ['cited ages', inquiry],
    queryFn: ({ signal }) => call(api.citedAges, { params: { inquiry }, signal }),
    staleTime: 300_000,
  })

/** How old a work of some year is, against what the kept works cite. */
export function useSayAge(): (year: number) => string {
  const { inquiry } = useHere()
  const { data } = useCitedAges(inquiry.id)
  const now = Number(inquiry.today.slice(0, 4))
  return year => sayAge(year, now, data?.ages ?? []) ?? 'not out yet'
}
