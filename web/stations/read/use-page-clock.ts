import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { api } from '../../../core/schema/api'
import { call } from '../../api/client'
import { ofQuery } from '../../api/hooks'
import { PageClock } from './page-clock'
import type { View } from './viewer'

/** What shows pages: which, and how many it has. */
export interface Showing {
  view(): Pick<View, 'page' | 'twoPages'>
  doc: { numPages: number }
}

const BEAT = 1000
/** Milliseconds after which what was spent is told. */
const TELL = 30_000
const SIGNS = ['pointermove', 'pointerdown', 'keydown', 'wheel', 'touchmove'] as const

/** Tells how long the pages of a copy are before the student, as long as it is to be timed. */
export function usePageClock(at: { inquiry: number; copy: number }, reader: Showing | undefined, isTimed: boolean) {
  const { inquiry, copy } = at
  const client = useQueryClient()
  useEffect(() => {
    if (!reader || !isTimed) return
    const clock = new PageClock(Date.now())
    const sign = () => clock.signs(Date.now())
    const beat = () => clock.beat(Date.now(), document.hidden ? [] : shown(reader))
    const tell = () => {
      beat()
      const pages = clock.take()
      // what does not arrive is some seconds of a guess
      if (pages.length)
        void call(api.tellReading, { params: { inquiry, copy }, body: { pages }, keepalive: true })
          .then(() => client.invalidateQueries(ofQuery(inquiry, api.plan, {})))
          .catch(() => undefined)
    }
    const beating = setInterval(beat, BEAT)
    const telling = setInterval(tell, TELL)
    for (const e of SIGNS) window.addEventListener(e, sign, { passive: true })
    document.addEventListener('visibilitychange', tell)
    return () => {
      clearInterval(beating)
      clearInterval(telling)
      for (const e of SIGNS) window.removeEventListener(e, sign)
      document.removeEventListener('visibilitychange', tell)
      tell()
    }
  }, [inquiry, copy, reader, isTimed, client])
}

/** The page in the middle of what is seen; of two beside one another, both. */
function shown(reader: Showing): number[] {
  const { page, twoPages } = reader.view()
  if (!twoPages) return [page]
  const left = page - ((page + 1) % 2)
  return left < reader.doc.numPages ? [left, left + 1] : [left]
}
