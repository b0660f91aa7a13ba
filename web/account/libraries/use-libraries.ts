import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { api, type Libraries, type LibraryInFull } from '../../../core/schema/api'
import { call } from '../../api/client'
import { tellError } from '../../frame/parts'

const ALL = ['libraries']
const keyOf = (key: string): string[] => [...ALL, key]

/** The libraries that one may ask, and what can be done with the list of them. */
export function useLibraries() {
  const client = useQueryClient()
  const query = useQuery({ queryKey: ALL, queryFn: () => call(api.libraries, {}) })
  /** Asks these, in this order; the page shows it at once. */
  const choose = async (libraries: string[]) => {
    // a list that was asked for before is not to come after the change
    await client.cancelQueries({ queryKey: ALL, exact: true })
    const before = client.getQueryData<Libraries>(ALL)
    if (before) client.setQueryData<Libraries>(ALL, { ...before, libraries: inOrder(before.libraries, libraries) })
    try {
      client.setQueryData(ALL, await call(api.chooseLibraries, { body: { libraries } }))
    } catch (e) {
      client.setQueryData(ALL, before)
      tellError(e)
    }
  }
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

/** A library in full, looked at anew while its files are fetched. */
export function useLibrary(key: string) {
  const client = useQueryClient()
  const query = useQuery({
    queryKey: keyOf(key),
    queryFn: () => call(api.library, { params: { library: key } }),
    refetchInterval: q => (q.state.data?.holdings.fetching ? 1500 : false),
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
