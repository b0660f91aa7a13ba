export interface YearCount {
  year: number
  n: number
}

/** The median year of a count by years; of two in the middle the earlier. Undefined where there is nothing. */
export function medianYear(counts: readonly YearCount[]): number | undefined {
  const sorted = [...counts].sort((a, b) => a.year - b.year)
  const half = sorted.reduce((t, y) => t + y.n, 0) / 2
  let so = 0
  for (const { year, n } of sorted) if ((so += n) >= half && n > 0) return year
  return undefined
}

/** Counts of several sources by year, added up, ascending. What is no year is left out. */
export function addYears(lists: readonly (readonly { value: string; count: number }[])[]): YearCount[] {
  const of = new Map<number, number>()
  for (const { value, count } of lists.flat())
    if (/^\d{4}$/.test(value)) of.set(Number(value), (of.get(Number(value)) ?? 0) + count)
  return [...of].map(([year, n]) => ({ year, n })).sort((a, b) => a.year - b.year)
}
