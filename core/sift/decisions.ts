export type State = 'unread' | 'kept' | 'set aside' | 'later'
export const PASSES = ['title', 'abstract', 'full text'] as const
export type Pass = (typeof PASSES)[number]
export type Choice = 'keep' | 'set aside' | 'later'

/** One line of the append-only log. A line with `undoes` takes back the lines of a group. */
export interface Decision {
  /** Made by the client, so that sending twice changes nothing. */
  id: string
  /** Lines decided together share a group and are undone together. */
  group: string
  work: number
  pass: Pass
  choice: Choice | null
  reason?: string | null
  /** The group this line takes back. */
  undoes?: string | null
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
  const undone = new Set(log.filter(d => d.undoes).map(d => `${d.undoes} ${d.work}`))
  const byWork = new Map<number, Map<Pass, Decision>>()
  for (const d of log) {
    if (d.undoes || undone.has(`${d.group} ${d.work}`)) continue
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

/**
 * Whether a group can be taken back: refused where a later line, not itself undone, decided one of its works in the
 * same pass. Gives the works that stand in the way; empty means it can.
 */
export function contradictions(log: readonly Decision[], group: string): number[] {
  const undone = new Set(log.filter(d => d.undoes).map(d => `${d.undoes} ${d.work}`))
  const blocked = new Set<number>()
  log.forEach((d, i) => {
    if (d.group !== group || d.undoes) return
    const later = log
      .slice(i + 1)
      .some(
        l =>
          l.work === d.work &&
          l.pass === d.pass &&
          l.group !== group &&
          !l.undoes &&
          !undone.has(`${l.group} ${l.work}`),
      )
    if (later) blocked.add(d.work)
  })
  return [...blocked]
}
