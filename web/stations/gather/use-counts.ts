import { api } from '../../../core/schema/api'
import { queryOptions, useQuery } from '@tanstack/react-query'
import { call, restOf } from '../../api/client'

/** What catalogues count for a query; asked once and kept while the page is open. */
export const useCounts = (inquiry: number, query: string | undefined, catalogues: readonly string[]) =>
  useQuery(countsOf(inquiry, query, catalogues))

export const countsOf = (inquiry: number, query: string | undefined, catalogues: readonly string[]) =>
  queryOptions({
    queryKey: ['counts', inquiry, query, catalogues.join(',')],
    queryFn: ({ signal }) =>
      call(api.counts, { params: { inquiry }, body: { query: query!, catalogues: [...catalogues] }, signal }),
    enabled: Boolean(query) && catalogues.length > 0,
    staleTime: 600_000,
    retry: false,
    // as its sentence says: counting goes on after a rest
    refetchInterval: asked => (restOf(asked.state.error) ?? 0) * 1000 || false,
  })

export const n = (x: number): string => new Intl.NumberFormat('en').format(x)
/** A count over several catalogues: exact, or the range from the largest to the sum. */
export const range = (c: { least: number; most: number }): string =>
  c.least === c.most ? n(c.most) : `${n(c.least)}–${n(c.most)}`
/** A large number in few letters. */
export const short = (x: number): string => (x < 10_000 ? n(x) : `${Math.round(x / 1000)}k`)
