import { monthOf, seasonOf } from './months'
import type { Item, ItemDate } from './item'

/** Year of publication, or undefined where the item has none. */
export function yearOf(item: Item): number | undefined {
  return yearOfDate(item.issued)
}

export function yearOfDate(date: ItemDate | undefined): number | undefined {
  const given = date?.['date-parts']?.[0]?.[0]
  const year =
    given !== undefined
      ? Number(given)
      : Number(/(?<!\d)(1[5-9]|20)\d{2}(?!\d)/.exec(date?.raw ?? date?.literal ?? '')?.[0])
  return Number.isInteger(year) ? year : undefined
}

const YEAR = '(1[0-9]|20)\\d{2}'
const FORMS: [RegExp, (m: RegExpExecArray) => (number | undefined)[][] | undefined][] = [
  // 2019-03-14, 2019/03, 2019.3.14, 2019-03-14T00:00:00Z, and a year to a year
  [
    new RegExp(`(?<!\\d)(${YEAR})[-/.](\\d{1,2})(?:[-/.](\\d{1,2}))?(?!\\d)`),
    m => (Number(m[3]) > 12 && !m[4] ? toYear(m[1]!, m[3]!) : [[Number(m[1]), Number(m[3]), Number(m[4])]]),
  ],
  [
    new RegExp(`(?<!\\d)(${YEAR})\\s?年\\s?(?:(\\d{1,2})\\s?月)?\\s?(?:(\\d{1,2})\\s?日)?`),
    m => [[Number(m[1]), Number(m[3]), Number(m[4])]],
  ],
  // 14.03.2019 and 14/3/2019: day first, but where that cannot be
  [
    new RegExp(`(?<!\\d)(\\d{1,2})[./-](\\d{1,2})[./-](${YEAR})(?!\\d)`),
    m =>
      Number(m[2]) > 12 ? [[Number(m[3]), Number(m[1]), Number(m[2])]] : [[Number(m[3]), Number(m[2]), Number(m[1])]],
  ],
  [new RegExp(`(?<!\\d)(\\d{1,2})[./](${YEAR})(?!\\d)`), m => [[Number(m[2]), Number(m[1])]]],
  [new RegExp(`(?<!\\d)(${YEAR})\\s?[-–/]\\s?(${YEAR})(?!\\d)`), m => toYear(m[1]!, m[3]!)],
  [new RegExp(`(?<!\\d)(${YEAR})(\\d{2})(\\d{2})(?!\\d)`), m => [[Number(m[1]), Number(m[3]), Number(m[4])]]],
  [new RegExp(`(?<!\\d)(${YEAR})(?!\\d)`), m => [[Number(m[1])]]],
]

/** The end of a range may be short: 1998-99. */
function toYear(from: string, to: string): number[][] | undefined {
  const end = Number(from.slice(0, 4 - to.length) + to)
  return end > Number(from) ? [[Number(from)], [end]] : [[Number(from)]]
}

/**
 * Reads a date as catalogues and people write it: "2019-03-14", "14.03.2019", "March 2020", "14 mars 2019", "c1989",
 * "[ca. 1900]", "1998-99", "Spring 2003". What has no year is kept as `raw`.
 */
export function readDate(text: string): ItemDate | undefined {
  const s = text.trim()
  if (!s) return undefined
  for (const [form, parts] of FORMS) {
    const m = form.exec(s)
    const read = m && parts(m)?.map(p => whole(p))
    if (!read) continue
    const date: ItemDate = { 'date-parts': read }
    if (read.length === 1 && read[0]!.length === 1) addWords(date, read[0]!, s)
    if (/\b(ca|circa|um|vers|hacia)\b|\d\?/i.test(s)) date.circa = true
    return date
  }
  return { raw: s }
}

/** A year, with its month and its day where these can be. */
function whole([year, month, day]: (number | undefined)[]): number[] {
  if (!month || month > 12) return [year!]
  return day && day <= daysInMonth(year!, month) ? [year!, month, day] : [year!, month]
}

/** Month, day and season that stand in words beside a year. */
function addWords(date: ItemDate, parts: number[], text: string): void {
  const words = text.match(/\p{L}+|(?<!\d)\d{1,2}(?!\d)/gu) ?? []
  const month = words.map(monthOf).find(Boolean)
  if (month) {
    parts.push(month)
    const day = Number(words.find(w => /^\d/.test(w) && Number(w) > 0 && Number(w) <= daysInMonth(parts[0]!, month)))
    if (day) parts.push(day)
    return
  }
  const season = words.map(seasonOf).find(Boolean)
  if (season) date.season = season
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

/** Whether a text is an ISO date of a day that there is. */
export function isDay(iso: string): boolean {
  const [, year, month, day] = (/^(\d{4})-(\d{2})-(\d{2})$/.exec(iso) ?? []).map(Number)
  return Boolean(month && month <= 12 && day && day <= daysInMonth(year!, month))
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

const LONG = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' })

/** A day as a text has it. @example longDay('2026-10-05') // '5 October 2026' */
export const longDay = (iso: string): string => LONG.format(new Date(`${iso.slice(0, 10)}T00:00:00Z`))
