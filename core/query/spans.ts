import { clauses, type QueryNode } from './cql'
import { wantedConcepts } from './concepts'
import { BEGIN, END, fits, termRuns, tokenise, type Slot, type Token } from './tokens'

export interface Span {
  start: number
  end: number
  /** Which concept of the query it matches, counted from 0: decides the tint. */
  concept: number
}

/** The stretches of a text that a query's positive terms match, in order, not overlapping. */
export function matchSpans(root: QueryNode, text: string): Span[] {
  const tokens: Token[] = [
    { text: BEGIN, start: 0, end: 0 },
    ...tokenise(text),
    { text: END, start: text.length, end: text.length },
  ]
  const spans: Span[] = []
  wantedConcepts(root).forEach((node, concept) => {
    for (const { clause, negated } of clauses(node)) {
      if (negated || ['doi', 'year', 'language', 'type'].includes(clause.index ?? '')) continue
      const runs = termRuns(clause.term)
      const row = clause.relation === 'adj' || clause.relation === '=='
      for (const run of row ? [runs.flat()] : runs) spans.push(...placesOf(run, tokens, concept))
    }
  })
  spans.sort((a, b) => a.start - b.start || b.end - a.end)
  let end = 0
  return spans.filter(s => {
    const isFree = s.start >= end
    end = Math.max(end, s.end)
    return isFree
  })
}

/** Where a run of words stands; the marks of where a text begins and ends are not painted. */
function placesOf(run: readonly Slot[], tokens: readonly Token[], concept: number): Span[] {
  const out: Span[] = []
  const words = run.filter(s => s !== BEGIN && s !== END).length
  if (!words) return out
  const skip = run[0] === BEGIN ? 1 : 0
  for (let i = 0; i + run.length <= tokens.length; i++)
    if (run.every((slot, k) => fits(slot, tokens[i + k]!.text)))
      out.push({ start: tokens[i + skip]!.start, end: tokens[i + skip + words - 1]!.end, concept })
  return out
}
