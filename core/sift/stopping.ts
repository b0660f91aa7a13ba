import { atMost } from './hypergeometric'

/**
 * A check of how much is left: the unread works are frozen, some are drawn uniformly and decided, and the number of
 * wanted ones among the others is bounded from above.
 */

/** The level at which the j-th check of an inquiry speaks (from 1), so that looking often does not cheat: 0.05/2^j. */
export const levelOf = (j: number): number => 0.05 / 2 ** j

/**
 * The most wanted works that may be left among the N − n not drawn, when k of n drawn were wanted: exact, one-sided, at
 * the given level (the inverted hypergeometric test).
 */
export function mostLeft(N: number, n: number, k: number, level: number): number {
  // P(X ≤ k) falls as K grows: halve between what is known to be possible and what is not
  let low = k
  let high = N - (n - k)
  while (low < high) {
    const K = (low + high + 1) >>> 1
    if (atMost(k, N, K, n) > level) low = K
    else high = K - 1
  }
  return low - k
}

/** How many works have to be drawn of N so that, if none of them is wanted, at most `left` are left. */
export function drawsFor(N: number, left: number, level: number): number {
  let low = 0
  let high = N
  while (low < high) {
    const n = (low + high) >>> 1
    if (mostLeft(N, n, 0, level) <= left) high = n
    else low = n + 1
  }
  return low
}
