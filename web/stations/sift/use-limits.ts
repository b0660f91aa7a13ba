import { useCallback, useMemo } from 'react'
import { useSearchParams } from 'react-router'
import { FACETS, type Facet, type Limits } from '../../../core/sift/limits'

export interface LimitHandle {
  limits: Limits
  /** Words that have to stand in title, authors or journal. */
  words: string
  any: boolean
  set: (facet: Facet, values: readonly string[]) => void
  setWords: (words: string) => void
  /** All limits at once, as a view or a chart gives them. */
  replace: (limits: Limits, words?: string, view?: string) => void
}

/** The limits on the pool. They stand in the address, so that a limited pool can be linked and gone back to. */
export function useLimits(): LimitHandle {
  const [params, setParams] = useSearchParams()
  const text = params.toString()
  const { limits, words } = useMemo(() => {
    const p = new URLSearchParams(text)
    const given: Limits = {}
    for (const f of FACETS) if (p.has(f)) given[f] = p.getAll(f)
    return { limits: given, words: p.get('words') ?? '' }
  }, [text])
  const write = useCallback(
    (change: (p: URLSearchParams) => void) =>
      setParams(
        p => {
          change(p)
          return p
        },
        // drawn at once: a click on a line right after goes out from the address with the limit
        { replace: true, flushSync: true },
      ),
    [setParams],
  )
  return useMemo(
    () => ({
      limits,
      words,
      any: Object.keys(limits).length > 0 || words !== '',
      set: (facet, values) =>
        write(p => {
          p.delete(facet)
          for (const v of values) p.append(facet, v)
        }),
      setWords: w => write(p => (w ? p.set('words', w) : p.delete('words'))),
      replace: (now, w = '', view) =>
        write(p => {
          for (const f of FACETS) p.delete(f)
          for (const [f, values] of Object.entries(now)) for (const v of values) p.append(f, v)
          if (w) p.set('words', w)
          else p.delete('words')
          if (view) p.set('view', view)
        }),
    }),
    [limits, words, write],
  )
}
