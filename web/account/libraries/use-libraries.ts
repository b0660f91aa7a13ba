import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { api, type Libraries, type LibraryInFull } from '../../../core/schema/api'
import { call, type ApiError } from '../../api/client'
import { tellError } from '../../frame/parts'
import { isBeingRead } from './files'

const ALL = ['libraries']
const CHOOSING = ['choose libraries']
const keyOf = (key: string): string[] => [...ALL, key]

/** The libraries that one may ask, and what can be done with the list of them. */
export function useLibraries() {
  const client = useQueryClient()
  const query = useQuery({ queryKey: ALL, queryFn: () => call(api.libraries, {}) })
  const choosing = useMutation<Libraries, ApiError, string[], Libraries | undefined>({
    mutationKey: CHOOSING,
    // one is sent at a time, since of two together the server may take the later one first
    scope: { id: CHOOSING[0]! },
    mutationFn: libraries => call(api.chooseLibraries, { body: { libraries }, keepalive: true }),
    onMutate: async libraries => {
      // a list that was asked for before is not to come after the change
      await client.cancelQueries({ queryKey: ALL, exact: true })
      const now = client.getQueryData<Libraries>(ALL)
      if (now) client.setQueryData<Libraries>(ALL, { ...now, libraries: inOrder(now.libraries, libraries) })
      return now
    },
    onSuccess: told => {
      if (isLatest()) client.setQueryData(ALL, told)
    },
    onError: (e, _, before) => {
      tellError(e)
      if (!isLatest()) return
      client.setQueryData(ALL, before)
      void client.invalidateQueries({ queryKey: ALL, exact: true })
    },
  })
  const isLatest = () => client.isMutating({ mutationKey: CHOOSING }) === 1
  /** Asks these, in this order; the page shows it at once. */
  const choose = (libraries: string[]) => choosing.mutate(libraries)
  /** Allows, as an administrator, that the hosts of a student's library are fetched. */
  const allow = async (library: string) => {
    try {
      client.setQueryData(ALL, await call(api.allowLibrary, { params: { library }, body: { allowed: true } }))
    } catch (e) {
      tellError(e)
    }
  }
  return { query, choose, allow, again: () => client.invalidateQueries({ queryKey: ALL }) }
}

/** The list as it stands with another choice. */
function inOrder(all: Libraries['libraries'], chosen: readonly string[]): Libraries['libraries'] {
  const place = (key: string): number => chosen.indexOf(key)
  return all
    .map(l => ({ ...l, chosen: place(l.key) < 0 ? null : place(l.key) + 1 }))
    .toSorted((a, b) => (a.chosen ?? Infinity) - (b.chosen ?? Infinity) || 0)
}

/** Whether files are being fetched or read. A server may know of the end of the one before it knows of the other. */
const isUnderWay = (h: LibraryInFull['holdings'] | undefined): boolean =>
  h !== undefined && (h.fetching || (!h.trouble && h.files.some(isBeingRead)))

/** A library in full, looked at anew while its files are fetched. */
export function useLibrary(key: string) {
  const client = useQueryClient()
  const query = useQuery({
    queryKey: keyOf(key),
    queryFn: () => call(api.library, { params: { library: key } }),
    refetchInterval: q => (isUnderWay(q.state.data?.holdings) ? 1500 : false),
  })
  const fetching = Boolean(query.data?.holdings.fetching)
  const wasFetching = useRef(fetching)
  // what came of fetching is told in the list, too
  useEffect(() => {
    if (wasFetching.current && !fetching) void client.invalidateQueries({ queryKey: ALL, exact: true })
    wasFetching.current = fetching
  }, [fetching, client])
  return query
}

/** Does something with a library that answers with the library as it is then; what failed is told. */
export function useDoing(key: string) {
  const client = useQueryClient()
  return async (doing: Promise<LibraryInFull>): Promise<void> => {
    try {
      client.setQueryData(keyOf(key), await doing)
    } catch (e) {
      tellError(e)
    }
    // what is to be mended of it is told in the list
    await client.invalidateQueries({ queryKey: ALL, exact: true })
  }
}
