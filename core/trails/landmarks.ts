import { atLeast } from '../sift/hypergeometric'

/** A work outside the pool that kept works cite. */
export interface Candidate {
  /** By whatever its caller knows it. */
  node: number
  /** Kept works that cite it. */
  citing: number
  /** k: those of them that are of its field and not older. */
  k: number
  /** n: kept works with references, of its field and not older than it. */
  n: number
  /** K: how often it is cited, by the index. */
  K: number
  /** N: works of its field and not older than it; undefined where the index does not tell. */
  N: number | undefined
}
export interface Landmark extends Candidate {
  /** How many of the n would cite it by its fame among works on their subject; undefined where that is not known. */
  fame: number | undefined
  /** Whether more of them do than that explains. */
  standsOut: boolean
}

/** Kept works that have to cite it at least. */
export const LEAST = 3
/** Works that so many kept ones cite tell how near the kept ones are to their subject. */
const TELLING = 2
/** Fewer of them do not tell it: then nothing is said of fame. */
const ENOUGH = 10
/** Of those that stand out, the share that may by chance. */
const FALSE = 0.05

/**
 * Works one lacks: cited by three kept ones or more. Those stand out that are cited by more of them than their fame
 * explains, by the hypergeometric law with K of N (P(X ≥ k), given that k is at least two), of all candidates those that
 * pass at 5% by Benjamini & Hochberg (1995). Kept works are on one subject, and so cite whatever is on it more often
 * than works of the field at large: their fame is raised by that factor, which is drawn from all candidates. They stand
 * first, the least likely first; then the others, by how many kept works cite them.
 */
export function landmarks(candidates: readonly Candidate[]): Landmark[] {
  const telling = candidates.filter(
    (c): c is Candidate & { N: number } => c.N !== undefined && c.n > 0 && c.k >= TELLING,
  )
  const known = telling.length < ENOUGH ? [] : telling
  const nearness = nearnessOf(known)
  const tested = known.map(c => {
    // an index can have counted the citations later than the works
    const N = Math.max(c.N, c.K, c.n)
    const K = Math.min(N, Math.max(c.k, Math.round(c.K * nearness)))
    const p = atLeast(c.k, N, K, c.n) / Math.max(Number.MIN_VALUE, atLeast(TELLING, N, K, c.n))
    return { ...c, fame: Math.min(c.n, (c.n * c.K * nearness) / N), p }
  })
  tested.sort((a, b) => a.p - b.p || b.citing - a.citing || a.node - b.node)
  let passed = 0
  tested.forEach((c, i) => {
    if (c.p <= ((i + 1) / tested.length) * FALSE) passed = i + 1
  })
  const first = tested.slice(0, passed).filter(c => c.citing >= LEAST)
  const out = new Set(first.map(c => c.node))
  const fame = new Map(tested.map(c => [c.node, c.fame]))
  const rest = candidates
    .filter(c => c.citing >= LEAST && !out.has(c.node))
    .sort((a, b) => b.citing - a.citing || (fame.get(a.node) ?? 0) - (fame.get(b.node) ?? 0) || a.node - b.node)
  return [
    ...first.map(({ p: _, ...c }) => ({ ...c, standsOut: true })),
    ...rest.map(c => ({ ...c, fame: fame.get(c.node), standsOut: false })),
  ]
}

/**
 * By what factor kept works cite works on their subject more often than the field at large does: the most likely one
 * where each k is Poisson with mean factor · n·K/N, given that it is at least two. What is far above it is left out and
 * the factor drawn again, so that landmarks do not raise it.
 */
function nearnessOf(of: readonly (Candidate & { N: number })[]): number {
  let list = of.map(c => ({ k: c.k, mean: Math.max(1e-9, (c.n * c.K) / Math.max(c.N, c.K)) }))
  let factor = 1
  for (let pass = 0; pass < 3 && list.length; pass++) {
    let [low, high] = [1, 1e4]
    for (let step = 0; step < 60; step++) {
      const middle = Math.sqrt(low * high)
      const expected = list.reduce((sum, c) => sum + meanOfTwoAndMore(middle * c.mean), 0)
      if (expected < list.reduce((sum, c) => sum + c.k, 0)) low = middle
      else high = middle
    }
    factor = low
    const near = list.filter(c => c.k <= 2 * meanOfTwoAndMore(factor * c.mean))
    if (near.length === list.length) break
    list = near
  }
  return factor
}

/** The mean of a Poisson number that is at least two. */
function meanOfTwoAndMore(mean: number): number {
  if (mean < 1e-4) return 2
  const none = Math.exp(-mean)
  return (mean * (1 - none)) / (1 - none - mean * none)
}
