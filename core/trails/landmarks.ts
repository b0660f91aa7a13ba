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
  /** How many of the n would cite it by its fame alone: n·K/N. */
  fame: number | undefined
  /** P(X ≥ k) by its fame alone; undefined where that cannot be reckoned. */
  p: number | undefined
}

/** Kept works that have to cite it at least. */
export const LEAST = 3
/** Of those that are named, the share that may be named by chance. */
const FALSE = 0.05

/**
 * Works that are cited by more of the kept ones than their fame explains: P(X ≥ k) by the hypergeometric law, of all
 * candidates those that pass at 5% by Benjamini & Hochberg (1995); the least likely first. Where an index does not tell
 * how many works a field has, candidates stand behind the others by how many kept works cite them, untested.
 */
export function landmarks(candidates: readonly Candidate[]): Landmark[] {
  const tested: (Landmark & { p: number })[] = []
  const untested: Landmark[] = []
  for (const c of candidates) {
    if (c.citing < LEAST) continue
    // an index can have counted the citations later than the works
    const N = c.N === undefined ? undefined : Math.max(c.N, c.K, c.n)
    if (N === undefined) untested.push({ ...c, fame: undefined, p: undefined })
    else if (c.k >= LEAST) tested.push({ ...c, fame: (c.n * c.K) / N, p: atLeast(c.k, N, Math.max(c.K, c.k), c.n) })
  }
  tested.sort((a, b) => a.p - b.p || b.citing - a.citing || a.node - b.node)
  // every candidate that is old enough was looked at, those under the least included
  const looked = candidates.filter(c => c.N !== undefined && c.k > 0).length
  let passed = 0
  tested.forEach((c, i) => {
    if (c.p <= ((i + 1) / looked) * FALSE) passed = i + 1
  })
  untested.sort((a, b) => b.citing - a.citing || a.node - b.node)
  return [...tested.slice(0, passed), ...untested]
}
