import { clauses, type Query } from './cql'
import type { Searchable } from './evaluate'
import { readDocuments, termNumbers } from './positional-index'
import { termRuns } from './tokens'

/** How much a word counts by where it stands; fields that are not named count once. */
export const FIELD_WEIGHTS: Record<string, number> = { title: 3, keyword: 2, subject: 2, abstract: 1 }
const K1 = 1.2
const B = 0.75

/**
 * Scores of all documents for the positive words of a query by BM25F (Robertson, Zaragoza and Taylor 2004): the
 * frequencies of a word in all fields are weighted, set against the length of each field, added, and then saturated
 * once. A masked word counts as one word with all its endings.
 */
export function scores(query: Query, on: Searchable): Float32Array {
  const { index } = on
  const out = new Float32Array(index.documents)
  const weighted = new Float32Array(index.documents)
  const averages = new Map(
    Object.entries(index.fields).map(([name, f]) => [
      name,
      f.lengths.reduce((a, b) => a + b, 0) / Math.max(1, index.documents),
    ]),
  )
  for (const { clause, negated } of clauses(query.root)) {
    if (negated || on.numbers?.[clause.index?.toLowerCase() ?? '']) continue
    const fields = on.names[clause.index?.toLowerCase() ?? ''] ?? []
    for (const run of termRuns(clause.term)) {
      for (const part of run) {
        const touched: number[] = []
        for (const name of fields) {
          const f = index.fields[name]
          if (!f) continue
          const w = FIELD_WEIGHTS[name] ?? 1
          const average = averages.get(name)! || 1
          for (const t of termNumbers(f, part)) {
            const frequencies = new Uint32Array(f.counts[t]!)
            const documents = readDocuments(f, t, frequencies)
            for (let i = 0; i < documents.length; i++) {
              const d = documents[i]!
              if (weighted[d] === 0) touched.push(d)
              weighted[d]! += (w * frequencies[i]!) / (1 - B + (B * f.lengths[d]!) / average)
            }
          }
        }
        const rarity = Math.log(1 + (index.documents - touched.length + 0.5) / (touched.length + 0.5))
        for (const d of touched) {
          out[d]! += (rarity * weighted[d]!) / (K1 + weighted[d]!)
          weighted[d] = 0
        }
      }
    }
  }
  return out
}

/** The best of some documents by their scores, the better first; among equals the earlier. */
export function best(documents: Uint32Array, of: Float32Array, most: number): Uint32Array {
  return documents
    .slice()
    .sort((a, b) => of[b]! - of[a]! || a - b)
    .slice(0, most)
}
