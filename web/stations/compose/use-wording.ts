import { wrap, type Remote } from 'comlink'
import { useEffect, useMemo, useRef, useState } from 'react'
import { api, type BibliographyEntry } from '../../../core/schema/api'
import type { WordingFinding } from '../../../core/write/quotations'
import { citesOfOthers, type Written } from '../../../core/write/written'
import { call } from '../../api/client'
import { useOf } from '../../api/hooks'
import { Sources } from './sources'

/** How a source is named in the worker. */
export const annotationKey = (entry: number): string => `annotation ${entry}`
const copyKey = (copy: number): string => `copy ${copy}`

/** The wording of an inquiry's sources in a worker, for as long as Compose is open. */
export interface WordingDesk {
  sources: Remote<Sources> | Sources
  /** Does one thing after another: what is written in now comes before all that waits. */
  inTurn: InTurn
  /** Raised whenever a source came. */
  told: number
  /** Works of which the whole text is among the sources. */
  withText: ReadonlySet<number>
  /** How the pages of a copy are called. */
  labelsOf: (key: string) => readonly string[]
}

/** Brings the texts of the entries' works, and what is written of each, to where wording is checked. */
export function useWordingDesk(inquiry: number, entries: readonly BibliographyEntry[]): WordingDesk {
  const [desk] = useState(begin)
  const copies = useOf(inquiry, api.searchable)
  const [read, setRead] = useState<readonly number[]>([])
  const [told, setTold] = useState(0)
  const works = useMemo(() => new Set(entries.map(e => e.work)), [entries])
  const wanted = useMemo(
    () => (copies.data ?? []).filter(c => c.outcome === 'proved' && works.has(c.work)),
    [copies.data, works],
  )
  useEffect(() => () => desk.end(), [desk])
  useEffect(() => {
    let isWanted = true
    const bring = async () => {
      for (const c of wanted) {
        if (desk.has.has(copyKey(c.id))) continue
        desk.has.add(copyKey(c.id))
        try {
          const { pages } = await call(api.copyText, { params: { inquiry, copy: c.id } })
          await desk.sources.put({
            ...{ key: copyKey(c.id), work: c.work, what: 'copy', pages },
            // a manuscript has pages of its own, which are not always those that are cited
            ...(c.version === 'version of record' ? { labels: c.labels } : {}),
          })
          if (isWanted) setRead(r => [...r, c.id])
        } catch {
          // asked for again with the next look at the list
          desk.has.delete(copyKey(c.id))
        }
      }
    }
    void bring()
    return () => {
      isWanted = false
    }
  }, [desk, inquiry, wanted])
  useEffect(() => {
    let isWanted = true
    const put = async () => {
      let came = false
      for (const e of entries)
        for (const [key, what, text] of [
          [`abstract ${e.work}`, 'abstract', e.abstract ?? ''],
          [annotationKey(e.id), 'annotation', e.annotation],
        ] as const) {
          if (desk.texts.get(key) === text) continue
          desk.texts.set(key, text)
          await desk.sources.put({ key, work: e.work, what, pages: [text] })
          came = true
        }
      if (came && isWanted) setTold(n => n + 1)
    }
    void put()
    return () => {
      isWanted = false
    }
  }, [desk, entries])
  return useMemo(
    () => ({
      sources: desk.sources,
      inTurn: desk.inTurn,
      told: told + read.length,
      withText: new Set(wanted.filter(c => read.includes(c.id) && c.scanned === null).map(c => c.work)),
      labelsOf: key => wanted.find(c => copyKey(c.id) === key)?.labels ?? [],
    }),
    [desk, told, read, wanted],
  )
}

function begin() {
  const kept = { has: new Set<string>(), texts: new Map<string, string>(), inTurn: turns() }
  if (typeof Worker === 'undefined') return { ...kept, sources: new Sources(), end: () => undefined }
  const worker = new Worker(new URL('./wording.worker.ts', import.meta.url), { type: 'module' })
  return { ...kept, sources: wrap<Sources>(worker), end: () => worker.terminate() }
}

type InTurn = (act: () => Promise<void>, isFirst: boolean) => void
function turns(): InTurn {
  const waiting: (() => Promise<void>)[] = []
  let isBusy = false
  const next = async () => {
    isBusy = true
    // one that fails holds up no other
    for (let act = waiting.shift(); act; act = waiting.shift()) await act().catch(() => undefined)
    isBusy = false
  }
  return (act, isFirst) => {
    if (isFirst) waiting.unshift(act)
    else waiting.push(act)
    if (!isBusy) void next()
  }
}

/** What of an annotation runs as its sources do, as soon as that is known; the latest text counts. */
export function useWordingOf(
  { sources, inTurn, told, withText }: WordingDesk,
  { id, work }: BibliographyEntry,
  { text, marks }: Written,
  isOpen: boolean,
): { of: string; findings: readonly WordingFinding[] } {
  const [found, setFound] = useState<{ of: string; findings: readonly WordingFinding[] }>({ of: '', findings: [] })
  const hasText = withText.has(work)
  // whether it is open changes when it is looked at, not what is found
  const first = useRef(isOpen)
  useEffect(() => {
    first.current = isOpen
  }, [isOpen])
  useEffect(() => {
    let isWanted = true
    const check = async () => {
      if (!isWanted) return
      const others = citesOfOthers(marks, work).map(({ from, to }) => ({ from, to }))
      const findings = await sources.check(text, { work, key: annotationKey(id), hasText, others })
      if (isWanted) setFound({ of: text, findings })
    }
    inTurn(check, first.current)
    return () => {
      isWanted = false
    }
  }, [sources, inTurn, told, hasText, id, work, text, marks])
  return found
}
