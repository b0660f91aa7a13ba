import { withoutEnd } from '../bib/clean'
import { readPages } from '../bib/pages'
import { ONLY_NUMBER } from './heads'

/** Who said how a page is called. */
export type LabelBy = 'printed' | 'file' | 'record' | 'place'

export interface PageLabels {
  /** One a page; a page without a number is called by its place, in brackets: `[1]`. */
  labels: string[]
  by: LabelBy[]
  /** What spoke, in a sentence for the student. */
  said: string
}

export interface PageNumbers {
  /** Running heads and feet of a page. */
  edges: readonly string[]
  /** Other lines at its edges, which may be of its text. */
  outer: readonly string[]
}

interface Numbered {
  style: string
  n: number
}

/** A label that counts on: in figures or Roman numerals, with what stands before them. */
const write = (style: string, n: number): string =>
  style.endsWith('i') || style.endsWith('I')
    ? style.slice(0, -1) + (style.endsWith('I') ? roman(n).toUpperCase() : roman(n))
    : style + String(n)

const ROMAN = Object.entries({
  m: 1000,
  cm: 900,
  d: 500,
  cd: 400,
  c: 100,
  xc: 90,
  l: 50,
  xl: 40,
  x: 10,
  ix: 9,
  v: 5,
  iv: 4,
  i: 1,
})
function roman(n: number): string {
  let out = ''
  for (const [sign, value] of ROMAN) for (; n >= value; n -= value) out += sign
  return out
}
function fromRoman(text: string): number | undefined {
  let rest = text.toLowerCase()
  let n = 0
  for (const [sign, value] of ROMAN) for (; rest.startsWith(sign); rest = rest.slice(sign.length)) n += value
  return rest || !n || roman(n) !== text.toLowerCase() ? undefined : n
}

/** What a single label says: its number, and the manner in which it counts. */
function numberIn(token: string): Numbered | undefined {
  const figures = /^([A-Za-z]{0,3}[-.–:]?|\d{1,5}:)(\d{1,6})$/.exec(token)
  if (figures) return { style: figures[1]!, n: Number(figures[2]) }
  const n = /^[ivxlcdm]{1,12}$/i.test(token) ? fromRoman(token) : undefined
  return n === undefined ? undefined : { style: token === token.toUpperCase() ? 'I' : 'i', n }
}

/** Numbers that a line at an edge may give its page: at either end of it, or of a cell in it. */
function candidates(line: string): Numbered[] {
  const out: Numbered[] = []
  for (const cell of line.split('\t')) {
    const words = cell
      .replace(/\b(?:p(?:age|\.)|seite|pág(?:ina)?\.?)\s+(?=\S)/giu, ' ')
      .replace(/(\d)\s*(?:of|\/|von|de|sur)\s*\d+/giu, '$1')
      .split(/[\s|•·]+/u)
      .map(w => withoutEnd(w.replace(/^[[(–—-]+/u, ''), /[\])–—.,;-]/))
      .filter(Boolean)
    for (const w of new Set([words[0], words.at(-1), words.at(-2)])) {
      const told = w === undefined ? undefined : numberIn(w)
      if (told) out.push(told)
      // a first page is headed with all its pages: 45–67
      const range = w === undefined ? undefined : /^([A-Za-z]?\d{1,6})[-–—][A-Za-z]?\d{1,6}$/u.exec(w)?.[1]
      const first = range === undefined ? undefined : numberIn(range)
      if (first) out.push(first)
    }
  }
  return out
}

/** Letters of a label. */
const LONGEST = 20

/** The numbers that a page may bear, and how much each counts: one that stands alone most, one in a line of text least. */
const votesOf = ({ edges, outer }: PageNumbers): (Numbered & { vote: number })[] => [
  ...edges.flatMap(l => candidates(l).map(c => ({ ...c, vote: ONLY_NUMBER.test(l) ? 1.5 : 1 }))),
  ...outer.flatMap(l => candidates(l).map(c => ({ ...c, vote: ONLY_NUMBER.test(l) ? 1.5 : 0.6 }))),
]

/** Costs of reading the pages as runs of numbers, in votes. */
const COST = { missing: 0.4, other: 0.6, change: 2, none: 0.5 }

/**
 * How the pages of a file are called. Numbers printed at their edges, the file's own labels and the pages that a record
 * gives say it together: printed numbers count if they go up with the pages, wherever they begin again.
 * @param own the file's own labels (ISO 32000 12.4.2)
 * @param page the pages as a record gives them
 */
export function pageLabels(
  pages: readonly PageNumbers[],
  own: readonly string[] | null | undefined,
  page?: unknown,
): PageLabels {
  const range = typeof page === 'string' || typeof page === 'number' ? readPages(String(page)) : undefined
  const printed = printedNumbers(pages, range)
  const isOwn = Boolean(own && own.length === pages.length && own.some((l, i) => l.trim() && l !== String(i + 1)))
  const supported = printed.filter(p => p?.seen).length
  const agree = isOwn ? printed.filter((p, i) => p && write(p.style, p.n) === own![i]).length : 0
  // the file's labels were made by the same press; printed numbers that many pages bear are what readers cite
  const byFile = isOwn && (supported < 2 || agree * 2 >= printed.filter(Boolean).length)
  const byRecord = !byFile && !supported && range && range.last - range.first + 1 === pages.length
  const before = range && !byFile && printed.some(p => p?.style === '' && p.n === range.first) ? range.first : -Infinity
  const labels: string[] = []
  const by: LabelBy[] = []
  pages.forEach((_, i) => {
    const p = printed[i]
    const told: [string, LabelBy] = byFile
      ? [own![i]!.trim(), 'file']
      : byRecord
        ? [String(range.first + i), 'record']
        : p && (p.style || p.n >= before)
          ? [write(p.style, p.n), 'printed']
          : ['', 'place']
    labels.push(told[0].slice(0, LONGEST) || `[${i + 1}]`)
    by.push(told[0] ? told[1] : 'place')
  })
  return { labels, by, said: saidOf(by, supported, agree, range, labels) }
}

function saidOf(
  by: readonly LabelBy[],
  supported: number,
  agree: number,
  range: { first: number; last: number } | undefined,
  labels: readonly string[],
): string {
  const of = (n: number) => `${n} of ${by.length} ${by.length === 1 ? 'page' : 'pages'}`
  const has = (b: LabelBy) => by.includes(b)
  const fits = range && labels.includes(String(range.first))
  const record = !range ? '' : fits ? ' The record says the same.' : ` The record says ${range.first}–${range.last}.`
  if (has('file'))
    return `The file itself says how its pages are called${agree ? `, and so do the numbers printed on ${of(agree)}` : ''}.${record}`
  if (has('record')) return 'No page bears a number: they are counted from the first page that the record gives.'
  if (!has('printed')) return 'No page bears a number: pages are called by their place in the file, in brackets.'
  const rest = by.filter(b => b === 'place').length
  return `Numbers are printed on ${of(supported)}; those between are counted on${rest ? `, and ${rest} before or after ${rest === 1 ? 'is' : 'are'} called by ${rest === 1 ? 'its' : 'their'} place, in brackets` : ''}.${record}`
}

interface State extends Numbered {
  seen: boolean
}

/**
 * The likeliest reading of the pages as runs of numbers that go up by one, each with its own manner of counting (Viterbi).
 * Two pages at least must bear a number of a run, or one alone at its edge, or the one with which the record begins.
 */
function printedNumbers(
  pages: readonly PageNumbers[],
  range: { prefix: string; first: number } | undefined,
): (State | undefined)[] {
  const found = pages.map(votesOf)
  // a run is told by its style and where it would be at the first page
  const key = (c: Numbered, i: number) => `${c.style}|${c.n - i}`
  const votes = new Map<string, number>()
  const here = found.map((list, i) => {
    const own = new Map<string, number>()
    for (const { vote, ...c } of list) {
      const isRecords = range && i < 3 && c.n === range.first && c.style === range.prefix
      own.set(key(c, i), Math.max(own.get(key(c, i)) ?? 0, vote + (isRecords ? 1 : 0)))
    }
    for (const [k, vote] of own) votes.set(k, (votes.get(k) ?? 0) + vote)
    return own
  })
  const runs = [...votes]
    .filter(([, n]) => n > 1)
    .sort((a, b) => b[1] - a[1])
    .slice(0, 40)
    .map(([k]) => k)
  const states = ['', ...runs]
  let best = states.map(s => (s ? -COST.change / 2 : 0))
  const from: number[][] = []
  here.forEach((own, i) => {
    const top = best.indexOf(Math.max(...best))
    const next: number[] = []
    const came: number[] = []
    states.forEach((s, k) => {
      const stay = best[k]!
      const move = best[top]! - COST.change
      const back = i > 0 && move > stay ? top : k
      came.push(back)
      const n = s ? Number(s.slice(s.lastIndexOf('|') + 1)) + i : 0
      const vote = !s
        ? -COST.none
        : n < 1
          ? -Infinity
          : own.has(s)
            ? own.get(s)!
            : own.size
              ? -COST.other
              : -COST.missing
      next.push(Math.max(stay, i > 0 ? move : -Infinity) + vote)
    })
    best = next
    from.push(came)
  })
  let k = best.indexOf(Math.max(...best))
  const out: (State | undefined)[] = []
  for (let i = found.length - 1; i >= 0; i--) {
    const s = states[k]!
    const bar = s.lastIndexOf('|')
    const n = s ? Number(s.slice(bar + 1)) + i : 0
    out[i] = s ? { style: s.slice(0, bar), n, seen: here[i]!.has(s) } : undefined
    k = from[i]![k]!
  }
  return out
}
