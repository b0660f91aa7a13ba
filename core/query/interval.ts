/**
 * The interval of Wilson (1927) for a share seen k times in n draws: lower and upper bound at 95%.
 * With n = 0 nothing is known: 0 to 1.
 */
export function wilson(k: number, n: number, z = 1.959964): [number, number] {
  if (n <= 0) return [0, 1]
  const p = k / n
  const z2 = z * z
  const centre = (p + z2 / (2 * n)) / (1 + z2 / n)
  const half = (z / (1 + z2 / n)) * Math.sqrt((p * (1 - p)) / n + z2 / (4 * n * n))
  // where none or all were seen, rounding may put the bound a hair beyond the share
  return [k <= 0 ? 0 : centre - half, k >= n ? 1 : centre + half]
}

/** What several catalogues found together: at least the largest number, at most the sum, exact where it is known. */
export interface Together {
  least: number
  most: number
}
export function together(counts: readonly (number | null)[]): Together {
  const known = counts.filter((n): n is number => n !== null)
  return { least: Math.max(0, ...known), most: known.reduce((a, b) => a + b, 0) }
}
