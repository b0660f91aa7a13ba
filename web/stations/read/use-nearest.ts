import { useEffect, useRef, useState } from 'react'
import { parseCql } from '../../../core/query/parse-cql'
import { searchFor } from '../../../core/write/sheet-of-reading'
import { useHere } from '../../frame/inquiry-frame'
import { textsOf } from '../../frame/texts'
import type { Sheets } from './use-notes'

/** Pages that are named where a text may answer. */
const MOST = 2
/** So often its words stand on a page that may answer, at least. */
const LEAST = 2

/** For each empty cell the pages on which the words of its head stand most often: by work and head, in the copy's pages. */
export function useNearest(table: Sheets | undefined): ReadonlyMap<string, readonly number[]> {
  const { inquiry } = useHere()
  const texts = textsOf(inquiry.id)
  const [near, setNear] = useState<ReadonlyMap<string, readonly number[]>>(new Map())
  // the table comes anew with every note: what was looked for in a copy is not looked for again
  const done = useRef(new Set<string>())
  useEffect(() => {
    let isWanted = true
    const once = (copy: number, head: string) => `${copy} ${head}`
    const look = async () => {
      for (const w of table?.works ?? []) {
        const { copy } = w
        if (!copy) continue
        const heads = table!.heads.filter(
          h => !w.notes.some(n => n.head === h.key && n.content) && !done.current.has(once(copy.id, h.key + h.name)),
        )
        const searches = heads.flatMap(h => {
          const words = searchFor(h)
          const p = words ? parseCql(words) : undefined
          return p?.ok ? [{ key: h.key, root: p.query.root }] : []
        })
        if (!searches.length) continue
        const standing = await texts.placesIn(
          copy,
          searches.map(s => s.root),
        )
        if (!isWanted) return
        for (const h of heads) done.current.add(once(copy.id, h.key + h.name))
        const found = searches.map((s, i) => [nearKey(w.id, s.key), mostOn(standing.each[i]!)] as const)
        setNear(was => new Map([...was, ...found]))
      }
    }
    // without their words the cells stay empty
    look().catch(() => undefined)
    return () => {
      isWanted = false
    }
  }, [texts, table])
  return near
}

export const nearKey = (work: number, head: string): string => `${work} ${head}`

function mostOn(places: readonly { page: number }[]): number[] {
  const times = new Map<number, number>()
  for (const { page } of places) times.set(page, (times.get(page) ?? 0) + 1)
  return [...times]
    .filter(([, n]) => n >= LEAST)
    .sort(([a, n], [b, m]) => m - n || a - b)
    .slice(0, MOST)
    .map(([page]) => page)
    .sort((a, b) => a - b)
}
