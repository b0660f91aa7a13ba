import { clauses, type QueryNode } from './cql'
import { wantedConcepts } from './concepts'
import { isMasked, maskTest, termWords, tokenise } from './tokens'

export interface Span {
  start: number
  end: number
  /** Which concept of the query it matches, counted from 0: decides the tint. */
  concept: number
}

/** The stretches of a text that a query's positive terms match, in order, not overlapping. */
export function matchSpans(root: QueryNode, text: string): Span[] {
  const tokens = tokenise(text)
  const spans: Span[] = []
  wantedConcepts(root).forEach((node, concept) => {
    for (const { clause, negated } of clauses(node)) {
      if (negated || ['doi', 'year', 'language', 'type'].includes(clause.index ?? '')) continue
      const tests = termWords(clause.term).map(wordTest)
      if (!tests.length) continue
      if (clause.relation === 'adj') {
        for (let i = 0; i + tests.length <= tokens.length; i++) {
          if (tests.every((t, k) => t(tokens[i + k]!.text))) {
            spans.push({ start: tokens[i]!.start, end: tokens[i + tests.length - 1]!.end, concept })
          }
        }
      } else {
        for (const t of tokens)
          if (tests.some(test => test(t.text))) spans.push({ start: t.start, end: t.end, concept })
      }
    }
  })
  spans.sort((a, b) => a.start - b.start || b.end - a.end)
  return spans.filter((s, i) => !spans.slice(0, i).some(before => before.end > s.start))
}

function wordTest(word: string): (token: string) => boolean {
  if (isMasked(word)) {
    const test = maskTest(word)
    return t => test.test(t)
  }
  const folded = new Set(tokenise(word).map(t => t.text))
  return t => folded.has(t)
}
