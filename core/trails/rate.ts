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
