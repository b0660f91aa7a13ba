import Papa from 'papaparse'
import { normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import { readCoverageDate } from './kbart-dates'

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
  /** What may be meant by a date that can be read in two ways. */
  firstPerhaps?: string
  lastPerhaps?: string
  /** Why it is not sure what of it is held, as the end of a sentence. */
  unclear?: string
}

export interface KbartReport {
  /** Every line that names a title. What of it cannot be told is unsure, not gone. */
  holdings: Holding[]
  /** What was read otherwise than it stands, or left out. */
  problems: { line: number; said: string; leftOut?: true }[]
  /** Why nothing of the file could be read. */
  refused?: string
}

/**
 * A KBART file in pieces that can each be read by `readKbart`: the header with so many letters of lines, so that a file of
 * any size is read in the memory of one. A file that is none comes in one piece.
 * @yields `skipped`: lines of the file that stand before the piece and are not in it
 */
export function* kbartParts(text: string, letters = 250_000): Generator<{ text: string; skipped: number }> {
  const lines = text.replace(/^\uFEFF/, '').replace(/\r\n?/g, '\n')
  const header = headerOf(lines)
  const end = header ? lines.indexOf('\n', header.at) + 1 : 0
  if (!header || !end || lines.length <= letters) {
    yield { text: lines, skipped: 0 }
    return
  }
  // what stands before the header is of no use, but it has lines
  const head = lines.slice(0, end)
  let skipped = 0
  for (let from = end; from < lines.length;) {
    const to = cutAt(lines, from, letters, header.quoted)
    const part = lines.slice(from, to)
    yield { text: head + part, skipped }
    for (let at = part.indexOf('\n'); at >= 0; at = part.indexOf('\n', at + 1)) skipped++
    from = to
  }
}

/** The end of a line near `letters` from `from` on, and of a quoted cell that runs over lines. */
function cutAt(text: string, from: number, letters: number, quoted: boolean): number {
  let open = false
  let counted = from
  for (let at = text.indexOf('\n', Math.min(text.length, from + letters)); at >= 0; at = text.indexOf('\n', at + 1)) {
    if (!quoted) return at + 1
    for (; counted < at; counted++) if (text[counted] === '"') open = !open
    // a mark that is never closed does not hold the rest of the file
    if (!open || at > from + 2 * letters) return at + 1
  }
  return text.length
}

/** A column by its name, however that is written: "Publication Title", "publication-title", quoted. */
const columnName = (cell: string): string =>
  cell
    .trim()
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^_|_$/g, '')
const TITLE = 'publication_title'
/** So many lines may stand before the header: blank ones, comments, a name of the file. */
const BEFORE_HEADER = 50

/**
 * Reads a KBART file (NISO RP-9): tab-separated with a header line, or as vendors make them of it, separated by commas,
 * quoted, with a comment before. Only the column of titles has to be there. A line whose dates or wall cannot be read
 * stands as unsure; nothing is dropped in silence.
 * @param skipped lines of the file that are not in this piece, see `kbartParts`
 */
export function readKbart(text: string, skipped = 0): KbartReport {
  const lines = text.replace(/^\uFEFF/, '').replace(/\r\n?/g, '\n')
  const found = headerOf(lines)
  if (!found)
    return {
      holdings: [],
      problems: [],
      refused: 'This is not a KBART file: no line of it names a column publication_title.',
    }
  const { rows, problems } = rowsOf(lines.slice(found.at), found)
  const header = rows[0]!.cells.map(columnName)
  const holdings: Holding[] = []
  const column = new Map(header.map((name, i) => [name, i]))
  const dated = column.has('date_first_issue_online') || column.has('num_first_vol_online')
  if (!dated)
    problems.push({
      line: found.line,
      said: 'No column says from when on titles are held: of journals that is not sure.',
    })
  for (const { line: inPiece, cells } of rows.slice(1)) {
    const line = inPiece + skipped
    if (cells.every(c => !c.trim()) || cells[0]!.startsWith('#')) continue
    const get = (name: string): string | undefined => cells[column.get(name) ?? -1]?.trim() || undefined
    const tell = (said: string) => problems.push({ line, said })
    const title = get(TITLE)
    if (!title) {
      problems.push({ line, said: 'No title: the line is left out.', leftOut: true })
      continue
    }
    holdings.push(holdingOf(line, title, get, dated, tell))
  }
  return { holdings, problems: problems.sort((x, y) => x.line - y.line) }
}

function holdingOf(
  line: number,
  title: string,
  get: (name: string) => string | undefined,
  dated: boolean,
  tell: (said: string) => void,
): Holding {
  let unclear: string | undefined
  const date = (name: string, which: 'first' | 'last') => {
    const given = get(name)
    const read = readCoverageDate(given ?? '', which)
    if (!read) unclear ??= `its file says “${given}” where a date should stand`
    if (!read || read.said) tell(read?.said ?? `“${given}” is no date: when the title is held is not sure.`)
    return read ?? {}
  }
  const first = date('date_first_issue_online', 'first')
  const last = date('date_last_issue_online', 'last')
  const embargo = get('embargo_info')
  if (embargo && !readEmbargo(embargo)) {
    unclear ??= `its file says “${embargo}” of an embargo`
    tell(`“${embargo}” is no embargo as KBART has it: what is open now is not sure.`)
  }
  const kind = get('publication_type') ?? ''
  const type = /mono|book/i.test(kind) ? 'monograph' : /serial|journal|periodical/i.test(kind) ? 'serial' : undefined
  if (!dated && type !== 'monograph') unclear ??= 'its file does not say from when on'
  const identifier = (name: string) => {
    const v = get(name)
    const n = normaliseIssn(v) ?? normaliseIsbn(v)
    if (v && !n) tell(`“${v}” is no valid ISSN or ISBN.`)
    return n
  }
  return {
    line,
    title,
    free: /^(f|free|open)/i.test(get('access_type') ?? ''),
    ...defined({
      printIdentifier: identifier('print_identifier'),
      onlineIdentifier: identifier('online_identifier'),
      firstDate: first.date,
      firstPerhaps: first.perhaps,
      firstVolume: get('num_first_vol_online'),
      firstIssue: get('num_first_issue_online'),
      lastDate: last.date,
      lastPerhaps: last.perhaps,
      lastVolume: get('num_last_vol_online'),
      lastIssue: get('num_last_issue_online'),
      url: get('title_url'),
      embargo: embargo && readEmbargo(embargo) ? embargo : undefined,
      coverage: get('coverage_depth'),
      publisher: get('publisher_name'),
      type,
      unclear,
    }),
  }
}

interface Header {
  /** Where the line of column names begins, in letters and in lines from 1. */
  at: number
  line: number
  delimiter: string
  quoted: boolean
}
function headerOf(text: string): Header | undefined {
  let at = 0
  for (let line = 1; line <= BEFORE_HEADER && at < text.length; line++) {
    const end = text.indexOf('\n', at)
    const head = text.slice(at, end < 0 ? text.length : Math.min(end, at + 20_000))
    const delimiter = ['\t', ',', ';', '|']
      .map(d => [d, head.split(d).length] as const)
      .sort((a, b) => b[1] - a[1])[0]![0]
    if (head.split(delimiter).some(c => columnName(c) === TITLE))
      return { at, line, delimiter, quoted: delimiter !== '\t' || head.trimStart().startsWith('"') }
    if (end < 0) break
    at = end + 1
  }
  return undefined
}

/** Rows with the lines they begin on. Where quotes do not close, they are letters like others. */
function rowsOf(
  text: string,
  { delimiter, quoted, line }: Header,
): { rows: { line: number; cells: string[] }[]; problems: KbartReport['problems'] } {
  const cut = (quoteChar: string) => Papa.parse<string[]>(text, { delimiter, newline: '\n', quoteChar })
  // a letter that no text has: tab-separated files hold quotes as they are
  const NONE = '\u0000'
  let read = cut(quoted ? '"' : NONE)
  const problems: KbartReport['problems'] = []
  const open = quoted && read.errors.find(e => e.type === 'Quotes')
  if (open) {
    problems.push({
      line: line + (open.row ?? 0),
      said: 'A quotation mark is not closed: marks were read as letters from the beginning.',
    })
    read = cut(NONE)
  }
  let at = line
  const rows = read.data.map(cells => {
    const row = { line: at, cells: quoted && !open ? cells : cells.map(bare) }
    at += 1 + cells.reduce((n, c) => n + (c.split('\n').length - 1), 0)
    return row
  })
  return { rows, problems }
}
const bare = (cell: string): string =>
  /^".*"$/s.test(cell.trim()) ? cell.trim().slice(1, -1).replaceAll('""', '"') : cell

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
