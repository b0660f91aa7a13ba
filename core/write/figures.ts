import { findingKey } from '../cite/checks/finding'
import type { Stretch } from '../bib/sentences'
import { isWithin } from './passages'
import { sentencesOf } from '../bib/sentences'

/** A number that an annotation tells of its work, with the page that its sentence names. */
export interface Figure extends Stretch {
  /** As it is written: "38%", "1,400", "0.6". */
  said: string
  /** Digits alone, with a point: "1400". */
  digits: string
  isShare: boolean
  /** Where its sentence ends, before the last sign: a page is named there. */
  end: number
  page: (Stretch & { page: string }) | undefined
}

const NUMBER =
  /(?<![\p{L}\p{N}.,–-])(\d{1,3}(?:[ ,’'\u00a0\u202f]\d{3})+(?:\.\d+)?|\d+(?:[.,]\d+)?)(?![\p{L}\p{N}]|[.,]\d)(?:[ \u00a0\u202f]?(%)| (per ?cent\b))?/gu
/** What stands in brackets or behind the sign for pages, and years, are no figures of a work. */
const PAGED = /\b(pp?|S|pág|fol|f|s)\.\s?([A-Za-z]?\d{1,5}(?:\s?[-–]\s?\d{1,5})?|[ivxlc]{1,7})(?![\p{L}\p{N}])/gu
const BRACKETED = /\((?:[^()]{0,60}[\s,(])?(?:1[5-9]|20)\d{2}[a-z]?(?:[,;:][^()]{0,60})?\)|\[[\d\s,;–-]{1,40}\]/g
const isYear = (digits: string): boolean => /^(?:1[5-9]|20)\d{2}$/.test(digits)
/** Letters of an annotation that are looked at. */
const MOST = 50_000

const withinAny = (all: readonly Stretch[], { from, to }: Stretch): boolean => all.some(s => s.from < to && from < s.to)
const stretches = (pattern: RegExp, text: string): Stretch[] =>
  Array.from(text.matchAll(pattern), m => ({ from: m.index, to: m.index + m[0].length }))

/** The digits of a number as it is written, without what parts thousands. @example digitsOf('1,400.5') // '1400.5' */
function digitsOf(said: string): string {
  const bare = said.replace(/[ \u00a0\u202f’']/g, '')
  return /^\d{1,3}(?:,\d{3})+(?:\.\d+)?$/.test(bare) ? bare.replaceAll(',', '') : bare.replace(',', '.')
}

/** Numbers that are told of what nobody says otherwise: shares, parts of one, and counts of three digits or more. */
const isTelling = ({ digits, isShare }: Pick<Figure, 'digits' | 'isShare'>): boolean =>
  isShare || digits.includes('.') || digits.length >= 3

/**
 * Figures that an annotation gives of its work: no years, pages or numbers of citations, and none that is quoted or stands
 * in a sentence about another work.
 * @param apart stretches that are not looked at: quotations, which are held against the page by themselves
 * @param others where other works are cited
 */
export function figuresIn(whole: string, apart: readonly Stretch[] = [], others: readonly Stretch[] = []): Figure[] {
  const text = whole.slice(0, MOST)
  const pages = Array.from(text.matchAll(PAGED), m => {
    const to = m.index + m[0].length
    return { from: to - m[2]!.length, to, page: m[2]! }
  })
  const none = [...apart, ...pages, ...stretches(BRACKETED, text)].sort((a, b) => a.from - b.from)
  const out: Figure[] = []
  for (const own of sentencesOf(text)) {
    const { from, to } = own
    const segment = text.slice(from, to)
    if (withinAny(others, own)) continue
    const apartHere = none.filter(s => s.from < to && from < s.to)
    const page = pages.find(p => p.from >= from && p.to <= to)
    const end = from + segment.trimEnd().replace(/[.!?…]+$/, '').length
    for (const m of segment.matchAll(NUMBER)) {
      const at = { from: from + m.index, to: from + m.index + m[0].length }
      const figure = { ...at, said: m[0], digits: digitsOf(m[1]!), isShare: Boolean(m[2] ?? m[3]), end, page }
      if (isTelling(figure) && !(isYear(m[1]!) && !figure.isShare) && !withinAny(apartHere, at)) out.push(figure)
    }
  }
  return out
}

/** Numbers of a page, as they are kept to be looked up. */
export interface PageFigures {
  digits: ReadonlySet<string>
  shares: ReadonlySet<string>
  /** All of it, in small letters. */
  text: string
}
export function figuresOfPage(text: string): PageFigures {
  const digits = new Set<string>()
  const shares = new Set<string>()
  for (const m of text.matchAll(NUMBER_THERE)) {
    const value = digitsOf(m[1]!)
    digits.add(value)
    // two columns of a table may look like one number
    for (const part of m[1]!.split(/[^\d.]+/)) digits.add(part)
    if (m[2]) shares.add(value)
  }
  return { digits, shares, text: text.toLowerCase() }
}
/** In a text that was set numbers touch letters, dashes and signs: each is taken, so that none is said to be missing. */
const NUMBER_THERE =
  /(?<!\d)(\d{1,3}(?:[ ,’'\u00a0\u202f]\d{3})+(?:\.\d+)?|\d+(?:[.,]\d+)?)(?:\s?(%|per ?cent\b|percentage))?/giu

const stands = (f: Figure, { digits, shares }: PageFigures): 'as it is' | 'its digits' | undefined =>
  (f.isShare ? shares : digits).has(f.digits) ? 'as it is' : digits.has(f.digits) ? 'its digits' : undefined

/**
 * The pages on which a figure stands, by number from 0: those where it has its sign before those of its digits alone.
 */
export function pagesOf(f: Figure, pages: readonly PageFigures[]): number[] {
  const found = pages.map(p => stands(f, p))
  const all = (how: 'as it is' | 'its digits') => found.flatMap((x, i) => (x === how ? [i] : []))
  const whole = all('as it is')
  return whole.length ? whole : all('its digits')
}

/** What was found of the figures of an annotation. */
export type FigureFinding = Stretch & { key: string; figure: string } & (
    | { what: 'figure not there' }
    /** It stands on another page than the one that its sentence names. */
    | { what: 'figure elsewhere'; label: string; named: Stretch }
    /** A hint: most assignments ask for the page of a quotation alone. Where the page may be put in. */
    | { what: 'figure without a page'; label: string; at: Stretch }
  )

/** A copy of the work that is annotated. */
export interface CopyFigures {
  pages: readonly PageFigures[]
  /** How its pages are called, where they are those that are cited. */
  labels?: readonly string[] | undefined
}

/** The page that has most of the words of a sentence, of those that have its figure. */
function likeliest(sentence: string, on: readonly number[], pages: readonly PageFigures[]): number {
  const words = [...new Set(sentence.toLowerCase().match(/\p{L}{4,}/gu) ?? [])].slice(0, 40)
  const shared = (page: number) => words.filter(w => pages[page]!.text.includes(w)).length
  return [...on].sort((a, b) => shared(b) - shared(a) || b - a)[0]!
}

/**
 * Holds the figures of an annotation against the copies of its work: those that stand in none of them, those that stand on
 * another page than the one that is named, and of each sentence without a page the first that stands on one.
 * @param hasText the copies are its whole text, so that what is not there is told
 */
export function figureFindings(
  text: string,
  copies: readonly CopyFigures[],
  o: { hasText: boolean; apart: readonly Stretch[]; others: readonly Stretch[] },
): FigureFinding[] {
  const out: FigureFinding[] = []
  const hinted = new Set<number>()
  for (const f of figuresIn(text, o.apart, o.others)) {
    const { from, to, said: figure, page: named } = f
    const own = { from, to, figure, key: findingKey('figure', figure) }
    if (out.some(x => x.key === own.key)) continue
    const found = copies.map(c => ({ ...c, on: pagesOf(f, c.pages) })).filter(c => c.on.length)
    if (!found.length) {
      if (o.hasText && copies.length) out.push({ ...own, what: 'figure not there' })
      continue
    }
    const { labels, on, pages } = found.find(c => c.labels) ?? found[0]!
    if (!labels) continue
    if (named && on.some(i => isWithin(labels[i] ?? '', named.page))) continue
    const label = labels[likeliest(text.slice(Math.max(0, from - AROUND), f.end), on, pages)]
    if (!label) continue
    if (named) out.push({ ...own, what: 'figure elsewhere', label, named })
    else if (!hinted.has(f.end)) {
      hinted.add(f.end)
      out.push({ ...own, what: 'figure without a page', label, at: { from: f.end, to: f.end } })
    }
  }
  return out
}
/** Letters before a figure whose words tell on which page it stands. */
const AROUND = 160
