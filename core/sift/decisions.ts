import { standingLines, type LogLine } from './log'

export type State = 'unread' | 'kept' | 'set aside' | 'later'
export const PASSES = ['title', 'abstract', 'full text'] as const
export type Pass = (typeof PASSES)[number]
export type Choice = 'keep' | 'set aside' | 'later'

/** One decision in the log. */
export interface Decision extends LogLine {
  /** Made by the client, so that sending twice changes nothing. */
  id: string
  pass: Pass
  choice: Choice | null
  reason?: string | null
}

export interface Standing {
  state: State
  pass: Pass | null
  reason: string | null
}

/**
 * The present state of each work from its log, oldest line first. A work counts as kept while its latest decided pass
 * keeps it and none has set it aside.
 */
export function project(log: readonly Decision[]): Map<number, Standing> {
  const byWork = new Map<number, Map<Pass, Decision>>()
  for (const d of standingLines(log)) {
    const passes = byWork.get(d.work) ?? new Map<Pass, Decision>()
    passes.set(d.pass, d)
    byWork.set(d.work, passes)
  }
  return new Map([...byWork].map(([work, passes]) => [work, standing(passes)]))
}

function standing(passes: Map<Pass, Decision>): Standing {
  const made = PASSES.map(p => passes.get(p)).filter((d): d is Decision => Boolean(d?.choice))
  const aside = made.find(d => d.choice === 'set aside')
  const last = aside ?? made.at(-1)
  if (!last) return { state: 'unread', pass: null, reason: null }
  const state: State = last.choice === 'keep' ? 'kept' : last.choice === 'later' ? 'later' : 'set aside'
  return { state, pass: last.pass, reason: last.reason ?? null }
}
