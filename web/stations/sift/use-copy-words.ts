import { useEffect, useMemo, useState } from 'react'
import type { Query } from '../../../core/query/cql'
import { parseCql } from '../../../core/query/parse-cql'
import { conceptSearches } from '../../../core/query/texts'
import { api } from '../../../core/schema/api'
import type { Found, PoolIndex } from '../../../core/sift/limits'
import type { WorkLine } from '../../../core/sift/line'
import { useOf } from '../../api/hooks'
import { stepOf, useTexts, type Reading } from '../../frame/texts'

export interface CopyWords {
  /** Begins to read the copies. */
  ask: () => void
  again: () => void
  reading: Reading
  /** What is limited by is not known yet. */
  isPending: boolean
  /** What was read is looked through just now. */
  isLooking: boolean
  /** Which copies there are could not be asked. */
  error: Error | null
  /** Why words cannot be looked for. */
  wrong: (words: string) => string | undefined
}

const NOTHING: readonly string[] = []

/**
 * The pool, and which of its works have words in their copies: those that it is limited by, and the concepts of the
 * question. Copies are read once somebody asks for their words.
 */
export function useCopyWords(
  inquiry: number,
  pool: PoolIndex<WorkLine>,
  chosen: readonly string[] = NOTHING,
  question: Query | undefined,
): { pool: PoolIndex<WorkLine>; copies: CopyWords } {
  const [isAsked, setAsked] = useState(false)
  const isOn = isAsked || chosen.length > 0
  const { data, error, refetch } = useOf(inquiry, api.searchable, { enabled: isOn })
  const { texts, reading } = useTexts(inquiry, isOn ? data : undefined)
  const step = stepOf(reading)
  const [known, setKnown] = useState<{ found: Found; step: number }>()
  const found = known?.found
  useEffect(() => {
    if (!isOn || !data) return
    const ready = question ? conceptSearches(question.root).map(s => s.words) : []
    const workOf = new Map(data.map(c => [c.id, c.work]))
    const works = async (words: string): Promise<Set<number>> => {
      const q = parseCql(words)
      const hits = q.ok ? await texts.find(q.query.root).catch(() => []) : []
      return new Set(hits.flatMap(h => workOf.get(h.copy) ?? []))
    }
    let isWanted = true
    void Promise.all([...new Set([...ready, ...chosen])].map(async w => [w, await works(w)] as const)).then(
      all => isWanted && setKnown({ found: new Map(all), step }),
    )
    return () => {
      isWanted = false
    }
  }, [isOn, data, question, chosen, texts, step])
  const copies = useMemo<CopyWords>(
    () => ({
      ask: () => setAsked(true),
      again: () => (error ? void refetch() : texts.again()),
      ...{ reading, error, isPending: chosen.length > 0 && !found && !error },
      isLooking: isOn && !error && known?.step !== step,
      wrong: words => {
        const q = parseCql(words)
        return q.ok ? undefined : q.error.message
      },
    }),
    [texts, reading, isOn, chosen.length, found, known?.step, step, error, refetch],
  )
  return { pool: useMemo(() => (isOn && found ? pool.knowing(found) : pool), [pool, isOn, found]), copies }
}
