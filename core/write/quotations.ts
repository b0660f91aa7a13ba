import { findingKey } from '../cite/checks/finding'
import type { FigureFinding } from './figures'
import { isWithin } from './passages'
import { countWords } from './words'
import { citingKey, placesOf, type Written } from './written'
import type { Stretch } from '../bib/sentences'
import type { Run, Wording } from './closeness'

/** Words between quotation marks, with the page that is named behind them. */
export interface Quotation extends Stretch {
  /** Without its marks. */
  text: string
  /** The pages that are named, as they are written ("146", "146–147"), and where: of each work that is cited there. */
  pages: (Stretch & { page: string })[]
}

/** Marks that open a quotation, and what closes each. */
const CLOSING: Record<string, string> = { '“': '”', '„': '“”', '«': '»', '»': '«', '"': '"', '‟': '”' }
/** Letters of a quotation at most: beyond, a mark was forgotten. */
const LONGEST = 3000
/** Behind a quotation, within these letters, its page stands. */
const BEHIND = 90
/** What stands in brackets there. */
const BRACKETS = /^[^\p{L}\p{N}“„«"(]{0,3}\(([^()]+)\)/u
/** A page as it is named in it, of each work: "p. 12", "Lune, 2020, pp. 12–13", "Lune 12". */
const PAGE =
  /^(?:.{0,70}?[\s,])??(?:(?:pp?|S|pág|fol|f|s)\.\s?)?([A-Za-z]?\d{1,5}(?:\s?[-–]\s?\d{1,5})?|[ivxlc]{1,7})$/u
/** A number in brackets that is a year is none. */
const YEAR = /^(?:1[5-9]|20)\d{2}$/

/** Quotations of a text, in their order. */
export function quotationsIn(text: string): Quotation[] {
  const out: Quotation[] = []
  // each letter is looked for once: a text of nothing but opening marks would be read again behind each of them
  const seen = new Map<string, number>()
  const next = (letter: string, from: number): number => {
    let at = seen.get(letter) ?? -1
    if (at < from) {
      at = text.indexOf(letter, from)
      if (at < 0) at = Infinity
      seen.set(letter, at)
    }
    return at
  }
  for (let i = 0; i < text.length; i++) {
    const closing = CLOSING[text[i]!]
    if (!closing) continue
    const at = Math.min(...[...closing].map(c => next(c, i + 1)))
    // what is not closed in its paragraph is none
    if (at > i + LONGEST || next('\n', i + 1) < at) continue
    const to = at + 1
    out.push({ from: i, to, text: text.slice(i + 1, at), pages: pagesBehind(text, to) })
    i = to - 1
  }
  return out
}

/** The pages named behind a place of a text: works that are cited together stand apart by semicolons. */
function pagesBehind(text: string, from: number): Quotation['pages'] {
  const [all, inside] = BRACKETS.exec(text.slice(from, from + BEHIND)) ?? []
  if (all === undefined || inside === undefined) return []
  let at = from + all.length - 1 - inside.length
  return inside.split(';').flatMap(part => {
    const page = PAGE.exec(part.trim())?.[1]
    // at its end: a year may stand before it
    const to = at + part.trimEnd().length
    at += part.length + 1
    const isPage = page !== undefined && (!YEAR.test(page) || /\bpp?\./.test(part))
    return isPage ? [{ from: to - page.length, to, page }] : []
  })
}

/** Something about the wording of an annotation. */
export type WordingFinding = Stretch & { key: string } & (
    | { what: 'close'; run: Run }
    | { what: 'without a page'; quote: string; run: Run | undefined }
    | { what: 'other words'; quote: string; run: Run }
    | { what: 'another page'; quote: string; run: Run; named: Stretch }
    | { what: 'not there'; quote: string }
    | { what: 'not listed'; work: number; all: Stretch[] }
    | FigureFinding
  )

/** Said to be of use, and nothing against an annotation. */
export const isHint = (f: WordingFinding): boolean => f.what === 'figure without a page'

/**
 * Works that are cited and are not on the list, each once, with all its places: whoever looks for them there finds nothing.
 * @param now what works are cited as now: one that was joined into another is that one
 */
export function notListed(
  { marks }: Written,
  listed: ReadonlySet<number>,
  now: ReadonlyMap<string, { works: number[] }>,
): (WordingFinding & { what: 'not listed' })[] {
  const found = new Map<number, Stretch[]>()
  for (const { from, to, cites } of marks) {
    if (!cites) continue
    for (const work of new Set(now.get(citingKey(cites))?.works ?? placesOf(cites).map(p => p.work))) {
      if (listed.has(work)) continue
      const all = found.get(work)
      if (all) all.push({ from, to })
      else found.set(work, [{ from, to }])
    }
  }
  return [...found].map(([work, all]) => ({
    ...{ ...all[0]!, what: 'not listed', work, all },
    key: findingKey('not listed', String(work)),
  }))
}

/** Words of a quotation below which it may be a mere term. */
const FEWEST = 4

/**
 * What of an annotation runs as its sources do without being quoted, and which quotations name no page or have other
 * words than stand there. A quotation with its page is free.
 * @param of the work that is annotated, and the key under which the annotation itself is a source
 * @param hasText its whole text is among the sources, so that what is not there is told
 */
export function wordingOf(
  text: string,
  sources: Wording,
  of: { work: number; key: string; hasText: boolean },
): WordingFinding[] {
  const quotations = quotationsIn(text).filter(q => countWords(q.text) >= FEWEST)
  const findings: WordingFinding[] = quotations.flatMap((q): WordingFinding[] => {
    const place = { from: q.from, to: q.to }
    // letters left out, and put in, by whoever quotes
    const pieces = q.text.split(/\s*(?:\[[^\]]{0,80}\]|…|\.{3})\s*/u).filter(p => countWords(p) >= FEWEST)
    const [named] = q.pages
    const isNamed = (label: string | undefined) =>
      !named || label === undefined || q.pages.some(p => isWithin(label, p.page))
    const found = pieces.map(p => sources.find(p, of.work, isNamed))
    const wrong = found.findIndex(f => f && !f.isExact)
    if (wrong >= 0) {
      const run = found[wrong]!.run
      return [{ ...place, what: 'other words', quote: pieces[wrong]!, run, key: findingKey('other words', q.text) }]
    }
    if (pieces.length && found.every(f => !f) && of.hasText && named)
      return [{ ...place, what: 'not there', quote: q.text, key: findingKey('not there', q.text) }]
    const first = found.find(f => f)?.run
    if (named && first && pieces.length === 1 && !isNamed(first.label))
      return [{ ...place, what: 'another page', quote: q.text, run: first, named, key: findingKey('page', q.text) }]
    if (named) return []
    return [{ ...place, what: 'without a page', quote: q.text, run: first, key: findingKey('no page', q.text) }]
  })
  for (const run of sources.near(text, of.key)) {
    const isQuoted = quotations.some(q => Math.min(q.to, run.to) - Math.max(q.from, run.from) > (run.to - run.from) / 2)
    if (!isQuoted)
      findings.push({
        from: run.from,
        to: run.to,
        what: 'close',
        run,
        key: findingKey('close', text.slice(run.from, run.to)),
      })
  }
  return findings.sort((a, b) => a.from - b.from)
}
