import { findLetters, lettersIn, wordEdge, type Found, type Letters } from '../bib/found'

/**
 * Where a passage stands in a text, so that it is found again in another version of it: words with what stands before and
 * behind, and places in the text as it is kept, its pages joined by line ends (W3C Web Annotation Data Model, 4.2.4 and
 * 4.2.5); on the page as RFC 8118 names it.
 */
export type Selector =
  | { type: 'TextQuoteSelector'; exact: string; prefix: string; suffix: string }
  | { type: 'TextPositionSelector'; start: number; end: number }
  | { type: 'FragmentSelector'; conformsTo: typeof RFC_8118; value: string }

const RFC_8118 = 'http://tools.ietf.org/rfc/rfc8118'

/** A part of a page, in points from its upper left corner. */
export interface PageBox {
  page: number
  x: number
  y: number
  width: number
  height: number
}

/** A part of a page as a selector. */
export function selectorOf({ page, x, y, width, height }: PageBox): Selector {
  const rect = [x, y, width, height].map(n => Math.round(n * 10) / 10).join(',')
  return { type: 'FragmentSelector', conformsTo: RFC_8118, value: `page=${page}&viewrect=${rect}` }
}

/** The page that a fragment names, and the part of it where it names one (RFC 8118). */
export function readFragment(value: string): { page: number | undefined; box: PageBox | undefined } {
  const told = new URLSearchParams(value)
  const page = Number(told.get('page'))
  if (!Number.isInteger(page) || page <= 0) return { page: undefined, box: undefined }
  const [x, y, width, height] = (told.get('viewrect') ?? '').split(',').map(Number)
  const isWhole = [x, y, width, height].every(n => Number.isFinite(n))
  return { page, box: isWhole ? { page, x: x!, y: y!, width: width!, height: height! } : undefined }
}

/** Where on its pages a passage was marked. */
export const boxesOf = (selectors: readonly Selector[] | null): PageBox[] =>
  (selectors ?? []).flatMap(s => (s.type === 'FragmentSelector' ? (readFragment(s.value).box ?? []) : []))

/** The words of a passage as they stand in its text. */
export const exactOf = (selectors: readonly Selector[] | null): string =>
  selectors?.find(s => s.type === 'TextQuoteSelector')?.exact ?? ''

/** Letters of the text that are kept before and behind a passage. */
const AROUND = 48
/** A passage of more letters is found by so many of its beginning and of its end. */
const ENDS = 300
/** So many letters are one of its ends. */
const END = 5
/** Share of the letters of a passage that may have changed from one version to another. */
const CHANGED = 0.3

/** A place in a text of pages. */
export interface Place {
  /** Number of its page in the file, from 1. */
  page: number
  /** The words as they stand there. */
  exact: string
  start: number
  end: number
  /** Share of the passage's letters that stand there as they are. */
  fit: number
}

/** A text of pages in which passages are found. */
export class Anchors {
  private readonly text: string
  private readonly letters: Letters
  private readonly starts: number[] = []

  constructor(private readonly pages: readonly string[]) {
    let at = 0
    for (const p of pages) {
      this.starts.push(at)
      at += p.length + 1
    }
    this.text = pages.join('\n')
    this.letters = lettersIn(this.text)
  }

  /** What tells a passage that was selected on a page; its words as they were selected, where the text lacks them. */
  select(quote: string, page: number, boxes: readonly PageBox[] = []): Selector[] {
    const place = this.nearby(quote, page) ?? this.find(quote, { near: page, changed: 0.1 })
    const onPage = boxes.map(selectorOf)
    if (!place) return [{ type: 'TextQuoteSelector', exact: quote, prefix: '', suffix: '' }, ...onPage]
    const { start, end, exact } = place
    const prefix = this.text.slice(Math.max(0, start - AROUND), start)
    const suffix = this.text.slice(end, end + AROUND)
    return [
      { type: 'TextQuoteSelector', exact, prefix, suffix },
      { type: 'TextPositionSelector', start, end },
      ...onPage,
    ]
  }

  /** On its page or those beside it, which are a small part of a long text; as good as exactly. */
  private nearby(quote: string, page: number): Place | undefined {
    const first = Math.max(0, page - 2)
    const few = this.pages.slice(first, page + 1)
    if (!few.length || few.length === this.pages.length) return undefined
    const place = new Anchors(few).find(quote, { near: page - first, changed: 0.02 })
    const before = this.starts[first]!
    return place && { ...place, page: place.page + first, start: place.start + before, end: place.end + before }
  }

  /** Where a passage of another version stands in this one; undefined where it does not. */
  again(selectors: readonly Selector[]): Place | undefined {
    const quote = selectors.find(s => s.type === 'TextQuoteSelector')
    if (!quote?.exact) return undefined
    return this.find(quote.exact, { changed: CHANGED, prefix: quote.prefix, suffix: quote.suffix })
  }

  private find(
    quote: string,
    how: { changed: number; near?: number; prefix?: string; suffix?: string },
  ): Place | undefined {
    const wanted = lettersIn(quote)
    const { length } = wanted.letters
    if (!length) return undefined
    const found =
      length <= ENDS * 1.3 ? findLetters(this.letters, quote, how.changed) : this.findLong(quote, wanted, how.changed)
    const likely = found.length > 1 ? this.likeliest(found, how) : found[0]
    if (!likely) return undefined
    const best = likely.errors ? this.withItsEnds(likely, quote, wanted) : likely
    // signs at its ends belong to it where they stand there, too
    const lead = quote.slice(0, wanted.from[0]).trim()
    const tail = quote.slice(wanted.to.at(-1)).trim()
    let [start, end] = [wordEdge(this.text, best.from), wordEdge(this.text, best.to)]
    if (lead && this.text.endsWith(lead, start)) start -= lead.length
    if (tail && this.text.startsWith(tail, end)) end += tail.length
    while (end > start && /\s/.test(this.text[end - 1]!)) end--
    const exact = this.text.slice(start, end).replace(/\s+/g, ' ')
    return { page: this.pageOf(start), exact, start, end, fit: 1 - best.errors / length }
  }

  /** Words that were put in or left out near an end may be taken for it: its first and last letters tell better. */
  private withItsEnds(found: Found, quote: string, { from: at, letters }: Letters): Found {
    if (letters.length < END * 2) return found
    const room = Math.ceil(quote.length * CHANGED)
    const nearest = (piece: string, around: number, edge: 'from' | 'to'): number => {
      const first = Math.max(0, around - room)
      const places = findLetters(lettersIn(this.text.slice(first, around + room)), piece, 0.1)
      const edges = places.map(p => first + p[edge]).sort((a, b) => Math.abs(a - around) - Math.abs(b - around))
      return edges[0] ?? around
    }
    const from = nearest(quote.slice(0, at[END]), found.from, 'from')
    const to = nearest(quote.slice(at[letters.length - END]), found.to, 'to')
    return from < to ? { ...found, from, to } : found
  }

  /** A long passage by its two ends, as far apart as they are in it. */
  private findLong(quote: string, { from, letters }: Letters, changed: number): Found[] {
    const head = quote.slice(0, from[ENDS])
    const tail = quote.slice(from[letters.length - ENDS])
    const ends = findLetters(this.letters, tail, changed)
    const room = quote.length * changed + 200
    return findLetters(this.letters, head, changed).flatMap(a => {
      const b = ends.find(e => Math.abs(e.to - a.from - quote.length) < room)
      return b ? [{ from: a.from, to: b.to, errors: a.errors + b.errors }] : []
    })
  }

  /** Of several places the one on the page, else the one between the words that stood around it. */
  private likeliest(
    found: readonly Found[],
    { near, prefix = '', suffix = '' }: { near?: number; prefix?: string; suffix?: string },
  ): Found {
    const onPage = near === undefined ? [] : found.filter(f => this.pageOf(f.from) === near)
    if (onPage.length) return onPage[0]!
    const around = (f: Found) =>
      shared(prefix, this.text.slice(Math.max(0, f.from - AROUND * 2), f.from)) +
      shared(suffix, this.text.slice(f.to, f.to + AROUND * 2))
    return found.reduce((best, f) => (around(f) > around(best) ? f : best))
  }

  private pageOf(at: number): number {
    const k = this.starts.findLastIndex(s => s <= at)
    return k + 1
  }
}

/** How much of some words stands in others, 0 to 1. */
function shared(words: string, within: string): number {
  const [best] = findLetters(lettersIn(within), words, 0.5)
  const { length } = lettersIn(words).letters
  return best && length ? 1 - best.errors / length : 0
}
