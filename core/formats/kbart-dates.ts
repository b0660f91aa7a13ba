import { parse } from 'date-fns/parse'
import { daysInMonth } from '../bib/dates'

/** A beginning or an end of coverage, as KBART has it: YYYY, YYYY-MM or YYYY-MM-DD. */
export interface CoverageDate {
  /** What is claimed at least: of a beginning that can be read in two ways the later, of an end the earlier. */
  date?: string
  /** What may be meant at most, where that differs. */
  perhaps?: string
  /** A sentence, where it is not written as the standard has it. */
  said?: string
}

const WORDED = [
  'MMM yyyy', 'MMMM yyyy', 'yyyy MMM', 'yyyy MMMM', 'MMM-yy', 'MMM-yyyy', 'd MMM yyyy', 'd MMMM yyyy', 'MMM d, yyyy',
  'MMMM d, yyyy', 'MMM d yyyy', 'd-MMM-yyyy', 'd-MMM-yy', 'd. MMMM yyyy',
] // prettier-ignore
const two = (n: number | string): string => String(n).padStart(2, '0')
/** The day from which spreadsheets count, so that 1 is 1 January 1900 for them. */
const SHEET_DAY = Date.UTC(1899, 11, 30)

/**
 * Reads a date of coverage in the ways in which files write them. What leaves open which day is meant is read both ways:
 * nothing is claimed that only one of them bears out.
 * @returns undefined where no year can be told
 * @example readCoverageDate('05/01/1999', 'first') // { date: '1999-05-01', perhaps: '1999-01-05', said: … }
 */
export function readCoverageDate(text: string, which: 'first' | 'last'): CoverageDate | undefined {
  const given = text.trim()
  if (!given || /^[0.\-–—/]+$/.test(given)) return {}
  if (which === 'last' && /^(present|current|ongoing|to date|open|9{4}(-\d\d){0,2})\.?$/i.test(given)) return {}
  const plain = given.replace(/(?<=\d)[T ]+\d{1,2}:\d{2}.*$/, '').replace(/^(\d{4})\.0$/, '$1')
  const iso = made(/^(\d{4})(?:-(\d{2})(?:-(\d{2}))?)?$/.exec(plain))
  if (iso) return iso === given ? { date: iso } : { date: iso, said: read(given, iso) }
  const loose =
    made(/^(\d{4})[-/.](\d{1,2})(?:[-/.](\d{1,2}))?$/.exec(plain)) ??
    made(/^((?:1[4-9]|20)\d{2})(\d{2})(\d{2})$/.exec(plain)) ??
    turned(/^(\d{1,2})[-/.](\d{4})$/.exec(plain)) ??
    worded(plain) ??
    counted(plain)
  if (loose) return { date: loose, said: read(given, loose) }
  const both = /^(\d{1,2})([-/.])(\d{1,2})[-/.](\d{4})$/.exec(plain)
  if (both) {
    const [, a, sign, b, year] = both as unknown as [string, string, string, string, string]
    // a point stands behind the day
    const ways = [made([plain, year, two(b), two(a)]), sign === '.' ? undefined : made([plain, year, two(a), two(b)])]
      .flatMap(w => w ?? [])
      .sort()
    const [early, late] = [ways[0], ways.at(-1)]
    if (early && late) return between(given, early, late, which)
  }
  const year = /(?<!\d)(1[4-9]|20)\d{2}(?!\d)/.exec(plain)?.[0]
  return year ? between(given, `${year}-01-01`, `${year}-12-31`, which) : undefined
}

function between(given: string, early: string, late: string, which: 'first' | 'last'): CoverageDate {
  const [date, perhaps] = which === 'first' ? [late, early] : [early, late]
  if (date === perhaps) return { date, said: read(given, date) }
  return { date, perhaps, said: `“${given}” may be ${early} or ${late}: between them it is not sure.` }
}
const read = (given: string, as: string): string => `“${given}” was read as ${as}.`

/** Year, month and day of a match as a date; what no calendar has is left out from behind. */
function made(m: readonly (string | undefined)[] | null): string | undefined {
  if (!m) return undefined
  const [, year, month, day] = m
  const mm = Number(month ?? 0)
  if (mm > 12) return undefined
  if (!mm) return year
  const dd = Number(day ?? 0)
  return dd >= 1 && dd <= daysInMonth(Number(year), mm) ? `${year}-${two(mm)}-${two(dd)}` : `${year}-${two(mm)}`
}
const turned = (m: RegExpExecArray | null): string | undefined => (m ? made([m[0], m[2], two(m[1]!)]) : undefined)

function worded(text: string): string | undefined {
  for (const format of WORDED) {
    const d = parse(text, format, new Date(2000, 0, 1))
    if (Number.isNaN(d.getTime()) || d.getFullYear() < 1400 || d.getFullYear() > 2200) continue
    const month = `${d.getFullYear()}-${two(d.getMonth() + 1)}`
    return format.includes('d') ? `${month}-${two(d.getDate())}` : month
  }
  return undefined
}

/** A date that a spreadsheet has turned into a count of days. */
function counted(text: string): string | undefined {
  const n = Number(text)
  return /^\d{5}$/.test(text) && n > 10_000 && n < 73_000
    ? new Date(SHEET_DAY + n * 86_400_000).toISOString().slice(0, 10)
    : undefined
}
