import { useCallback, useEffect, useRef } from 'react'

/** One function throughout, that does what the latest one given does: what is handed it is not drawn anew for it. */
export function useStable<A extends unknown[], R>(act: (...given: A) => R): (...given: A) => R {
  const latest = useRef(act)
  useEffect(() => {
    latest.current = act
  })
  return useCallback((...given: A) => latest.current(...given), [])
}
