import { withoutEnd } from '../bib/clean'
import { normaliseDoi } from '../bib/identifiers'
import { fold } from '../bib/fold'
import type { Item } from '../bib/item'
import { readSource } from '../bib/part'
import { headsAbstract, headsKeywords, type Heading } from './headings'
import { authorsOf, type Signed } from './authors'
import type { Body } from './notes'
import type { Placed } from './placed'
import { joinLines, type Words } from './text'

/** What the first pages say of their text. */
export interface Front {
  /** What is printed in the largest letters of the first page, where they are larger than the text. */
  title?: string
  /** Who signs it beneath its title, with what is printed of where they work. */
  authors?: Signed[]
  abstract?: string
  keywords?: string[]
  doi?: string
  /** When it was handed in and taken, as it is printed. */
  received?: string
  accepted?: string
  /** Where it appeared: journal, volume, issue, pages and year, where a line of its first page says so. */
  source?: Partial<Pick<Item, 'container-title' | 'volume' | 'issue' | 'page' | 'issued'>>
}

/** Pages on which these stand; a cover sheet may come first. */
const PAGES = 3
const LONGEST_ABSTRACT = 6000
const OPENS_ABSTRACT = /^(?:abstract|summary|zusammenfassung|résumé|resumen|riassunto|resumo)\s*[.:—–-]\s*/iu

/** Reads title, abstract, keywords, DOI and dates off the first pages of a text. */
export function frontOf(
  lines: readonly Placed[],
  notes: readonly string[],
  headings: readonly Heading[],
  body: Body,
  words: Words,
): Front {
  const first = lines.filter(l => l.page <= PAGES)
  const { title, end } = titleOf(lines, body)
  const sections = [headings[0]?.at ?? Infinity, lines.findIndex(l => OPENS_ABSTRACT.test(l.text))]
  const block = title ? lines.slice(end, Math.min(...sections.filter(at => at >= end))) : []
  const authors = authorsOf(
    block.filter(l => l.page === 1),
    notes,
  )
  const abstract = stretch(first, headings, words, headsAbstract, OPENS_ABSTRACT)
  const listed = stretch(
    first,
    headings,
    words,
    headsKeywords,
    /^(?:key ?words(?: and phrases)?|index terms|schlagw[öo]rter|mots[- ]cl[ée]s|palabras clave|parole chiave|palavras-chave|nyckelord)\s*[.:—–-]\s*/iu,
  )
  const keywords = listed
    ?.split(/\s*[;•·|]\s*|\s*,\s*(?![^()]*\))/u)
    .map(k => k.replace(/[.;,]$/, '').trim())
    .filter(k => k.length > 1 && k.length < 80)
    .slice(0, 30)
  const all = [...first.map(l => l.text), ...notes]
  const doi = all.flatMap(l => normaliseDoi(/10\.\d{4,9}\/[^\s"<>]+/.exec(l)?.[0]) ?? [])[0]
  const dated = all.join(' ')
  const received = DATED('received|submitted|eingegangen|reçu|recibido').exec(dated)?.[1]
  const accepted = DATED('accepted|angenommen|accepté|aceptado').exec(dated)?.[1]
  const source = sourceOf([...notes, ...first.filter(l => l.page === 1).map(l => l.text)])
  return {
    ...(title ? { title } : {}),
    ...(authors.length ? { authors } : {}),
    ...(abstract ? { abstract: abstract.slice(0, LONGEST_ABSTRACT) } : {}),
    ...(keywords?.length ? { keywords } : {}),
    ...(doi ? { doi } : {}),
    ...(received ? { received } : {}),
    ...(accepted ? { accepted } : {}),
    ...(source ? { source } : {}),
  }
}

/** Lines of a first page that may say where it appeared; further down other works are cited. */
const SOURCE_LINES = 14

function sourceOf(lines: readonly string[]): Front['source'] {
  let best: { source: NonNullable<Front['source']>; says: number } | undefined
  for (const line of lines.slice(0, SOURCE_LINES)) {
    if (line.length > 160 || !/\d/.test(line)) continue
    const { 'container-title': container, volume, issue, page, issued } = readSource(line.replaceAll('\t', ' '))
    const isWhole = container && !/[“”"]|https?:/.test(container) && volume && (page ?? issued)
    if (!isWhole) continue
    const source = {
      'container-title': container,
      volume,
      ...(issue ? { issue } : {}),
      // a running head has the number of its own page
      ...(page && /\d\D+\d/.test(page) ? { page } : {}),
      ...(issued ? { issued } : {}),
    }
    // a running head says less than the line beneath it
    const says = Object.keys(source).length
    if (!best || says > best.says) best = { source, says }
  }
  return best?.source
}

const DATED = (words: string): RegExp =>
  new RegExp(
    `\\b(?:${words})\\b:?(?: on)? {0,3}(\\d{1,2}(?:st|nd|rd|th)?[ .-]{1,2}\\p{L}{3,9}[ .,-]{1,2}\\d{4}|\\p{L}{3,9} \\d{1,2},? \\d{4}|\\d{4}-\\d{2}-\\d{2}|\\d{1,2}[./]\\d{1,2}[./]\\d{4})`,
    'iu',
  )

/** The lines in the largest letters, where they are larger than the text, and the line behind them. */
function titleOf(lines: readonly Placed[], body: Body): { title?: string; end: number } {
  const page = lines.filter(l => l.page === 1)
  const largest = Math.max(0, ...page.filter(l => /\p{L}{3}/u.test(l.text)).map(l => l.size))
  if (largest < body.size * 1.15) return { end: 0 }
  const at = page.findIndex(l => l.size > largest * 0.95)
  const own: Placed[] = []
  for (const l of page.slice(at)) {
    if (l.size <= largest * 0.95 || own.length === 5) break
    own.push(l)
  }
  const words = own
    .map(l => l.text.replaceAll('\t', ' '))
    .join(' ')
    .replace(/(\p{L})[-‐] (?=\p{Ll})/gu, '$1')
  const title = withoutEnd(words, /[\s*∗†‡§]/).slice(0, 400)
  return { ...(title ? { title } : {}), end: at + own.length }
}

/** Text beneath a heading up to the next, or behind a word that begins a line, up to the end of its paragraph. */
function stretch(
  lines: readonly Placed[],
  headings: readonly Heading[],
  words: Words,
  heads: (text: string) => boolean,
  opens: RegExp,
): string | undefined {
  const k = headings.findIndex(h => h.page <= PAGES && heads(h.text))
  if (k >= 0) {
    const h = headings[k]!
    const own = lines.slice(h.at + h.lines, headings[k + 1]?.at ?? h.at + h.lines + 60)
    const end = own.findIndex(
      (l, i) => i > 0 && (l.gap > 1.9 || Math.abs(l.size - own[0]!.size) > 0.6 || beginsOther(l.text)),
    )
    const text = joinLines(end < 0 ? own : own.slice(0, end), words)
    if (text) return text
  }
  const at = lines.findIndex(l => opens.test(l.text))
  if (at < 0) return undefined
  const own = [{ ...lines[at]!, text: lines[at]!.text.replace(opens, '') }]
  for (const l of lines.slice(at + 1, at + 60)) {
    const last = own.at(-1)!
    if (l.gap > 1.4 || Math.abs(l.size - last.size) > 0.6 || l.column !== last.column || beginsOther(l.text)) break
    own.push(l)
  }
  return joinLines(own, words) || undefined
}
const beginsOther = (text: string): boolean =>
  /^(?:key ?words|index terms|schlagw|mots|palabras|1\.? introduction|introduction)/u.test(fold(text))
