/**
 * Citations a year since publication. The year of publication counts as half a year, so that a work of this year is
 * not divided by nothing. Undefined below one full year: too new to tell.
 */
export function citationsPerYear(
  citedBy: number | undefined,
  year: number | undefined,
  today: string,
): number | undefined {
  if (citedBy === undefined || year === undefined) return undefined
  const now = Number(today.slice(0, 4)) + (Number(today.slice(5, 7)) - 1) / 12
  const age = now - year - 0.5
  return age < 1 ? undefined : citedBy / age
}

/** How many works of one field and year have how many citations, by what an index counts. */
export interface YearOfField {
  field: string
  year: number
  works: number
  /** [citations, works that have so many]. */
  counts: readonly (readonly [number, number])[]
}

/**
 * Where a count stands among works of the same field and year: the share of them that is cited less often, those cited
 * as often counting half (Hazen), 0 to 100. Undefined where there are too few to compare with.
 */
export function percentile(citedBy: number, { counts }: Pick<YearOfField, 'counts'>, least = 10): number | undefined {
  let [below, same, all] = [0, 0, 0]
  for (const [n, works] of counts) {
    all += works
    if (n < citedBy) below += works
    else if (n === citedBy) same += works
  }
  return all < least ? undefined : (100 * (below + same / 2)) / all
}

/** A work that was hardly cited for years, and then woke. */
export interface Sleeper {
  /** Beauty coefficient: how far its citations lay under the straight line to their height. */
  beauty: number
  /** The year in which it woke. */
  woke: number
}

/**
 * Whether a work slept and woke, by the beauty coefficient and the year of awakening of Ke, Ferrara, Radicchi &
 * Flammini (2015): B = Σ ((c_m − c_0)/m · t + c_0 − c_t) / max(1, c_t) up to the year of most citations, m years after
 * publication; it woke where the line to that height is farthest from its citations.
 * @param citing years of the works that cite it, all of them
 */
export function sleeper(
  year: number,
  citing: readonly number[],
  least = { beauty: 20, slept: 6 },
): Sleeper | undefined {
  const later = citing.filter(y => y >= year)
  if (!later.length) return undefined
  const c: number[] = []
  for (const y of later) c[y - year] = (c[y - year] ?? 0) + 1
  const at = (t: number) => c[t] ?? 0
  let m = 0
  for (let t = 0; t < c.length; t++) if (at(t) > at(m)) m = t
  if (m < least.slept) return undefined
  const slope = (at(m) - at(0)) / m
  let [beauty, woke, far] = [0, 0, -1]
  for (let t = 0; t <= m; t++) {
    beauty += (slope * t + at(0) - at(t)) / Math.max(1, at(t))
    const distance = Math.abs((at(m) - at(0)) * t - m * at(t) + m * at(0))
    if (distance > far) [far, woke] = [distance, t]
  }
  return beauty < least.beauty || woke < least.slept ? undefined : { beauty, woke: year + woke }
}
