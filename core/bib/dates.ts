import type { Item, ItemDate } from './item'

/** Year of publication, or undefined where the item has none. */
export function yearOf(item: Item): number | undefined {
  return yearOfDate(item.issued)
}

export function yearOfDate(date: ItemDate | undefined): number | undefined {
  const given = date?.['date-parts']?.[0]?.[0]
  const year =
    given !== undefined ? Number(given) : Number(/\b(1[5-9]|20)\d{2}\b/.exec(date?.raw ?? date?.literal ?? '')?.[0])
  return Number.isInteger(year) ? year : undefined
}

/** Reads a date as catalogues write it: "2019", "2019-03", "2019-03-14", "c1989", "March 2020". */
export function readDate(text: string): ItemDate | undefined {
  const iso = /(?<!\d)(\d{4})(?:-(\d{1,2})(?:-(\d{1,2}))?)?(?!\d)/.exec(text)
  if (!iso) return text.trim() ? { raw: text.trim() } : undefined
  const month = iso[2] ? Number(iso[2]) : monthIn(text)
  const parts = [Number(iso[1]), month, month && iso[3] ? Number(iso[3]) : undefined]
  return { 'date-parts': [parts.filter((p): p is number => p !== undefined && p > 0)] }
}

function monthIn(text: string): number | undefined {
  const m = /\b(jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)/i.exec(text)
  return m
    ? ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'].indexOf(
        m[1]!.toLowerCase(),
      ) + 1
    : undefined
}

/**
 * The span of days an item's date covers, as ISO dates: a bare year is from 1 January to 31 December.
 * Returns undefined where there is no year.
 */
export function daySpan(
  date: ItemDate | undefined,
): { from: string; to: string; precision: 'year' | 'month' | 'day' } | undefined {
  const parts = date?.['date-parts']?.[0]?.map(Number)
  const year = yearOfDate(date)
  if (!year) return undefined
  const month = parts?.[1]
  const day = parts?.[2]
  if (!month) return { from: `${year}-01-01`, to: `${year}-12-31`, precision: 'year' }
  const two = (n: number) => String(n).padStart(2, '0')
  if (day)
    return { from: `${year}-${two(month)}-${two(day)}`, to: `${year}-${two(month)}-${two(day)}`, precision: 'day' }
  return {
    from: `${year}-${two(month)}-01`,
    to: `${year}-${two(month)}-${two(daysInMonth(year, month))}`,
    precision: 'month',
  }
}

export function daysInMonth(year: number, month: number): number {
  return new Date(Date.UTC(year, month, 0)).getUTCDate()
}

/** Adds days to an ISO date. */
export function addDays(iso: string, days: number): string {
  const [y, m, d] = iso.split('-').map(Number)
  return new Date(Date.UTC(y!, m! - 1, d! + days)).toISOString().slice(0, 10)
}

/** Whole days from one ISO date to another; negative where the second is earlier. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(`${to}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`)) / 86_400_000)
}
