/** A line of an append-only log about works. A line with `undoes` takes back the lines of that group. */
export interface LogLine {
  /** Lines made together share a group and are undone together. */
  group: string
  work: number
  undoes?: string | null
}

const key = (group: string, work: number): string => `${group} ${work}`

/** The lines that still count, oldest first: neither taken back nor taking back. */
export function standingLines<L extends LogLine>(log: readonly L[]): L[] {
  const undone = new Set(log.filter(l => l.undoes).map(l => key(l.undoes!, l.work)))
  return log.filter(l => !l.undoes && !undone.has(key(l.group, l.work)))
}

/**
 * Whether a group can be taken back: refused where a later line that still counts spoke of the same matter of one of
 * its works. Gives the works that stand in the way; empty means it can.
 * @param matter what a line is about, within its work
 */
export function contradictions<L extends LogLine>(
  log: readonly L[],
  group: string,
  matter: (line: L) => string,
): number[] {
  const counts = new Set(standingLines(log))
  /** The last place of the log where each matter of a work is spoken of by another group. */
  const last = new Map<string, number>()
  log.forEach((l, i) => {
    if (l.group !== group && counts.has(l)) last.set(key(matter(l), l.work), i)
  })
  const blocked = new Set<number>()
  log.forEach((l, i) => {
    if (l.group === group && !l.undoes && (last.get(key(matter(l), l.work)) ?? -1) > i) blocked.add(l.work)
  })
  return [...blocked]
}
