import { normaliseIsbn, normaliseIssn } from '../bib/identifiers'

/** One line of a KBART file (NISO RP-9): a title, or a stretch of it, on one platform. */
export interface Holding {
  line: number
  title: string
  printIdentifier?: string
  onlineIdentifier?: string
  firstDate?: string
  firstVolume?: string
  firstIssue?: string
  lastDate?: string
  lastVolume?: string
  lastIssue?: string
  url?: string
  embargo?: string
  coverage?: string
  publisher?: string
  type?: 'serial' | 'monograph'
  free: boolean
}

export interface KbartReport {
  holdings: Holding[]
  problems: { line: number; said: string }[]
}

const required = ['publication_title', 'print_identifier', 'online_identifier', 'date_first_issue_online', 'title_url']

/**
 * Reads a KBART file: tab-separated, UTF-8, a header line. Strict in what counts, lenient in going on: a line that
 * cannot be trusted is reported and left out, the others stand.
 */
export function readKbart(text: string): KbartReport {
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/)
  const header = (lines[0] ?? '').split('\t').map(h => h.trim().toLowerCase())
  const missing = required.filter(r => !header.includes(r))
  if (missing.length)
    return {
      holdings: [],
      problems: [{ line: 1, said: `This is not a KBART file: ${missing.join(', ')} missing in its first line.` }],
    }
  const holdings: Holding[] = []
  const problems: KbartReport['problems'] = []
  lines.slice(1).forEach((l, i) => {
    const line = i + 2
    if (!l.trim()) return
    const cells = l.split('\t')
    const get = (name: string): string | undefined => cells[header.indexOf(name)]?.trim() || undefined
    const wrong = (said: string) => problems.push({ line, said })
    const title = get('publication_title')
    if (!title) return void wrong('No title: the line is left out.')
    const date = (name: string): string | undefined => {
      const v = get(name)
      if (v && !/^\d{4}(-\d{2}(-\d{2})?)?$/.test(v)) {
        wrong(`"${v}" is not a date as KBART has it (YYYY, YYYY-MM or YYYY-MM-DD).`)
        return 'bad'
      }
      return v
    }
    const firstDate = date('date_first_issue_online')
    const lastDate = date('date_last_issue_online')
    if (firstDate === 'bad' || lastDate === 'bad') return
    const embargo = get('embargo_info')
    if (embargo && !readEmbargo(embargo))
      return void wrong(`"${embargo}" is not an embargo as KBART has it: the line is left out.`)
    const type = get('publication_type')?.toLowerCase()
    const identifier = (name: string) => {
      const v = get(name)
      const n = normaliseIssn(v) ?? normaliseIsbn(v)
      if (v && !n) wrong(`"${v}" is no valid ISSN or ISBN.`)
      return n
    }
    holdings.push({
      line,
      title,
      free: get('access_type')?.toUpperCase() === 'F',
      ...defined({
        printIdentifier: identifier('print_identifier'),
        onlineIdentifier: identifier('online_identifier'),
        firstDate,
        firstVolume: get('num_first_vol_online'),
        firstIssue: get('num_first_issue_online'),
        lastDate,
        lastVolume: get('num_last_vol_online'),
        lastIssue: get('num_last_issue_online'),
        url: get('title_url'),
        embargo,
        coverage: get('coverage_depth'),
        publisher: get('publisher_name'),
        type: type === 'serial' || type === 'monograph' ? type : undefined,
      }),
    })
  })
  return { holdings, problems }
}

function defined<T extends object>(o: T): { [K in keyof T]: Exclude<T[K], undefined> } {
  return Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined)) as never
}

export interface Wall {
  /** P: the latest part is closed. R: only the latest part is open. */
  way: 'P' | 'R'
  amount: number
  unit: 'D' | 'M' | 'Y'
}

/** Reads embargo_info such as "P12M", "R5Y" or "R5Y;P30D"; undefined where it is none. */
export function readEmbargo(text: string): Wall[] | undefined {
  const walls = text.split(';').map(part => /^([PR])(\d{1,4})([DMY])$/i.exec(part.trim()))
  if (!walls.length || walls.some(w => !w)) return undefined
  return walls.map(w => ({
    way: w![1]!.toUpperCase() as Wall['way'],
    amount: Number(w![2]),
    unit: w![3]!.toUpperCase() as Wall['unit'],
  }))
}
