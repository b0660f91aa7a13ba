import { plainTitle } from '../bib/clean'
import { fold, foldTitle } from '../bib/fold'
import { normaliseDoi } from '../bib/identifiers'
import { familyName } from '../bib/names'
import { yearOf } from '../bib/dates'
import { readPages } from '../bib/pages'
import type { Item, Version } from '../bib/item'
import type { Kind } from '../appraise/kinds'
import { titleSigns } from '../appraise/titles'

export type Outcome = 'proved' | 'doubtful' | 'not this work'

export interface Proof {
  outcome: Outcome
  /** What was compared, a sentence each, with whether it speaks for the work. */
  evidence: { holds: boolean; said: string }[]
  /** What the file really is, where it is something else. */
  really?: string
  version?: Version
}

export interface PageText {
  /** Number in the file, from 1. */
  page: number
  /** What it says of itself: without notes and lists of references, where these are known. */
  lines: string[]
  /** Its lines in the largest letters. */
  heading?: string
  /** Notes at its foot. */
  notes?: string[]
  /** What is set apart from the text, by larger letters or another font: a title is. */
  apart?: string[]
}

/**
 * Tells whether a text is that of a work: title, DOI, authors, year and page numbers on its first two pages, set
 * against the work and against the others of the pool. Only a proved copy counts as in hand.
 * @param records the work as its records describe it: a manuscript may bear a title and a DOI of its own
 */
export function proveCopy(
  work: Item,
  pages: readonly PageText[],
  others: readonly { id: number; item: Item }[] = [],
  records: readonly Item[] = [],
): Proof {
  const evidence: Proof['evidence'] = []
  const say = (holds: boolean, said: string) => evidence.push({ holds, said })
  const front = pages.slice(0, 2).flatMap(p => p.lines)
  const all = front.join(' ')
  if (fold(all).replace(/[^\p{L}]/gu, '').length < 40) {
    say(false, 'The pages carry no text: they are pictures of a text, so nothing can be compared.')
    return { outcome: 'doubtful', evidence, really: 'a scan without text' }
  }
  const opening = frontOf(front)
  const titles = new Set([work, ...records].map(i => i.title ?? ''))
  const titleFits = Math.max(...[...titles].map(t => titleOverlap(t, opening)))
  const titleHolds = titleFits > 0.85
  // whoever speaks of a work has its title in the text; where nothing is set apart, nothing can be told by it
  const apart = pages.slice(0, FRONT).flatMap(p => p.apart ?? [])
  const isSetAsTitle =
    !titleHolds || !apart.length || [...titles].some(t => titleOverlap(t, frontOf(apart.flatMap(asLines))) > 0.85)
  say(
    titleHolds && isSetAsTitle,
    titleHolds
      ? isSetAsTitle
        ? 'The title stands on the first pages.'
        : 'The title stands in the text of the first pages, not above it: they may only speak of the work.'
      : `The title does not stand on the first pages (at most ${Math.round(titleFits * 100)}% of its words in one place).`,
  )
  const own = new Set([work, ...records].flatMap(i => normaliseDoi(i.DOI) ?? []))
  const dois = doisIn([...(pages[0]?.lines ?? []), ...(pages[0]?.notes ?? [])])
  const carried = dois.find(d => own.has(d))
  const doiHolds = carried !== undefined
  const doiDiffers = own.size > 0 && dois.length > 0 && !doiHolds
  if (doiHolds) say(true, `It carries the DOI ${carried}.`)
  else if (doiDiffers) say(false, `It carries another DOI: ${dois[0]}.`)
  const folded = fold(all)
  const families = (work.author ?? []).map(familyName).filter(Boolean)
  const present = families.filter(f => folded.includes(fold(f)))
  if (families.length) {
    const enough = present.length >= Math.ceil(families.length / 2)
    say(enough, `${present.length} of ${families.length} authors are named on the first pages.`)
  }
  const authorsHold = !families.length || present.length >= Math.ceil(families.length / 2)
  const year = yearOf(work)
  if (year)
    say(
      all.includes(String(year)),
      all.includes(String(year)) ? `The year ${year} is printed there.` : `The year ${year} is not printed there.`,
    )
  const version = versionMarks([...front, ...(pages[0]?.notes ?? [])])
  const range = readPages(work.page)
  // a manuscript has pages of its own
  let lengthHolds = true
  if (!version && range && range.last > range.first) {
    const wanted = range.last - range.first + 1
    const fits = Math.abs(pages.length - wanted) <= Math.max(2, wanted * 0.25)
    // a cover sheet or a page of another piece makes some difference, not such a one
    lengthHolds = pages.length * 2 > wanted - 2 && pages.length < wanted * 2 + 8
    say(
      fits,
      fits ? `It has ${count(pages)}, as the record says.` : `It has ${count(pages)}; the record says ${wanted}.`,
    )
  }
  if (work.type === 'book') {
    const said = Number(/\d+/.exec(String(work['number-of-pages'] ?? ''))?.[0] ?? 0)
    const wanted = said > 0 ? said / 2 : SHORTEST_BOOK
    if (pages.length < wanted) {
      lengthHolds = false
      say(
        false,
        `It has ${count(pages)}, ${said > 0 ? `and the record says ${said}` : 'few for a book'}: it may be a part of it.`,
      )
    }
  }
  const printed = work.type === 'book' ? editionOf(pages, year) : undefined
  if (printed) say(false, printed)
  const about = titleHolds ? aboutIt(work, front) : undefined
  const better = others
    .map(o => ({ ...o, fit: titleOverlap(o.item.title ?? '', opening), doi: normaliseDoi(o.item.DOI) }))
    .filter(o => (o.doi && !own.has(o.doi) && dois.includes(o.doi)) || (o.fit > 0.9 && o.fit > titleFits + 0.2))[0]
  const done = (outcome: Outcome, really?: string): Proof => ({
    outcome,
    evidence,
    ...(really ? { really } : {}),
    ...(version ? { version } : {}),
  })
  if (about) {
    say(false, about.said)
    return done('not this work', about.really)
  }
  if (titleHolds && isSetAsTitle && lengthHolds && !printed && (doiHolds || (authorsHold && !doiDiffers)))
    return done('proved')
  if (better && !titleHolds) {
    say(false, `It is "${better.item.title}", another work of your pool.`)
    return done('not this work', `"${better.item.title}"`)
  }
  if (titleHolds || doiHolds) return done('doubtful', doiDiffers ? `the text of ${dois[0]}` : undefined)
  const heading = pages[0]?.heading ?? longLine(pages[0]?.lines ?? [])
  return done('not this work', heading ? `"${heading}"` : 'another text')
}

/** Pages on which a title may stand: a cover sheet comes first. */
const FRONT = 3
/** A stretch of text as lines of some words, as it was printed. */
const asLines = (text: string): string[] => text.match(/(?:\S+\s*){1,10}/g) ?? []

const count = ({ length }: readonly unknown[]): string => `${length} ${length === 1 ? 'page' : 'pages'}`

/** What has fewer pages is rarely a whole book. */
const SHORTEST_BOOK = 32

/** What stands before a title that is spoken of, and what the text is then. */
const SPOKEN_OF: [RegExp, string][] = [
  [
    /\b(supplement(ary|al)?|supporting|additional) (material|information|data|file|appendix|text)s?( (to|for|of|accompanying))?\W*$|\bonline (appendix|supplement)( (to|for))?\W*$/iu,
    'a supplement to',
  ],
  [
    /\b(preface|introduction|foreword|afterword|postscript|appendix|index) (to|of)( the book)?\W*$/iu,
    'a part that goes with',
  ],
  [/\b(summary|abstract|translation|reprint|précis|synopsis) of\W*$/iu, 'a summary or another rendering of'],
  [
    /\b(reply|response|rejoinder|rebuttal|comments?|commentary|remarks|reflections|discussion) (to|on|of)( the (paper|article|book))?\W*$/iu,
    'a comment on',
  ],
  [
    /\b(correction|erratum|errata|corrigendum|addendum|retraction|notice)( notice| note)? (to|of|for)( the (paper|article))?\W*$/iu,
    'a correction of',
  ],
  [/(?<!peer )\b(reviews?|notice)( work)? of( the book)?\W*$|\breviewed (work|here|by)\W*$/iu, 'a review of'],
]

/** Kinds of what is about another work, as titles tell them. */
const ABOUT: Partial<Record<Kind, string>> = {
  correction: 'a correction of',
  'review of a book': 'a review of',
  'editorial or letter': 'a comment on',
}

/** Signs of a title that stand before the title of another work. */
const SPEAKS = new Set(['correction of', 'taken back', 'book review', 'letter', 'answers'])

/** A line above a title that is no running head: it has no number, and is not the journal's name. */
const ofItsOwn = (line = '', { 'container-title': container, type }: Item): string =>
  // "Review" alone is what a journal calls its survey articles
  (type !== 'book' && /^\W*reviews?\W*$/iu.test(line)) ||
  /\d/.test(line) ||
  (container && foldTitle(line).includes(foldTitle(container)))
    ? ''
    : line

/**
 * Whether a text that has the title only speaks of the work: by the words before the title where it stands first, by the
 * way in which reviews name a book, or as one line in a list of many.
 */
function aboutIt(work: Item, lines: readonly string[]): { said: string; really: string } | undefined {
  const title = plainTitle(work.title, '')
  const words = foldTitle(title).split(' ').filter(Boolean)
  const at = lines.findIndex((_, i) => beginsAt(words, lines, i))
  if (at < 0) return undefined
  const told = (what: string, by: string) => ({ said: by, really: `${what} “${title}”` })
  const line = lines[at]!
  const found = placeIn(line, words)
  // an article is of the title itself
  const start = /^\W*\p{L}{1,3}\W*$/u.test(line.slice(0, found)) ? 0 : found
  const before = [...lines.slice(Math.max(0, at - 2), at), line.slice(0, start)]
    .join(' ')
    .replace(/\s+/g, ' ')
    .slice(-160)
  const said = SPOKEN_OF.find(([is]) => is.test(before))
  // what the work's own title says of it is no sign against it
  const own = new Set(titleSigns(title).map(s => s.kind))
  if (said && !own.size) return told(said[1], `Before the title stands “${before.trim().slice(-60)}”.`)
  // the line above may hold a running head: what belongs to the title stands in its own line, or alone in the one above
  for (const lead of [line.slice(0, start), ...(start ? [] : [ofItsOwn(lines[at - 1], work)])]) {
    const sign = titleSigns(`${lead} ${title}`.trim()).find(s => SPEAKS.has(s.name) && !own.has(s.kind))
    if (sign && /\p{L}/u.test(lead)) return told(ABOUT[sign.kind]!, `${sign.said} (“${lead.trim().slice(0, 60)}”)`)
  }
  const label = lines
    .slice(0, at)
    .slice(-8)
    .map(l => l.trim())
  if (!own.size && label.some(l => CORRECTS.test(l)))
    return told('a correction of', 'Above the title stands that it is a correction.')
  const isBook = work.type === 'book'
  if (isBook && label.some(l => REVIEWS.test(l)))
    return told('a review of', 'Above the title stands that a book is reviewed.')
  const after = lines
    .slice(at, at + 7)
    .join(' ')
    .slice(start + title.length, start + title.length + 400)
  if (isBook && BOOK_IN_PRINT.test(after))
    return told('a review of', 'After the title stand the pages and the price of a book.')
  const listed = lines.filter(inAList).length
  if (listed >= 6 && lines.slice(at, at + 3).some(inAList))
    return told('a list of contents with', 'The title stands as one line in a list of many, each with its page.')
  return undefined
}
const CORRECTS =
  /^(author |publisher )?(correction|erratum|errata|corrigendum|retraction( note)?|expression of concern|berichtigung|rectificatif|fe de erratas|errata corrige|rättelse)$/iu
const REVIEWS =
  /^(book reviews?|reviews?( of books)?|rezension(en)?|buchbesprechung(en)?|comptes? rendus?|reseñas?|recensioni?|recensioner?|anmeldelser?)$/iu
const BOOK_IN_PRINT =
  /\b(\d{2,4} ?pp?\b\.?|pp?\. ?[xvi]*,? ?\d{2,4}\b).{0,40}([$£€] ?\d|\d+ ?(€|EUR|USD|GBP)|(hb|pb|hardback|paperback|cloth)\b)/iu
/** A line of a list of contents: words, then dots or room, then a page number. */
const IN_A_LIST = /\p{L}{3}.*(\.{3,}|(\. ){3,}|\s{2,}|\t| … )\s*\d{1,4}$/u
const LONGEST_LINE = 200
const inAList = (line: string): boolean => line.length <= LONGEST_LINE && IN_A_LIST.test(line)

/** Whether the first words of a title begin in a line and go on in the next ones. */
function beginsAt(words: readonly string[], lines: readonly string[], at: number): boolean {
  const wanted = words.slice(0, 4)
  if (!wanted.length) return false
  const has = foldTitle(lines.slice(at, at + 3).join(' ')).split(' ')
  const here = foldTitle(lines[at]!).split(' ').length
  for (let i = 0; i < Math.min(has.length, here, 60); i++) if (wanted.every((w, k) => has[i + k] === w)) return true
  return false
}

/** Where in a line the title begins, in letters. */
function placeIn(line: string, words: readonly string[]): number {
  for (const m of line.matchAll(/[\p{L}\p{N}]+/gu)) if (fold(m[0]) === words[0]) return m.index
  return 0
}

/** Pages on which a book says when it came out. */
const IMPRINT = 6

/** That a book is another edition: it names years of its own, and not the one of the record. */
function editionOf(pages: readonly PageText[], year: number | undefined): string | undefined {
  if (!year) return undefined
  const text = pages
    .slice(0, IMPRINT)
    .flatMap(p => p.lines)
    .join(' ')
  if (text.includes(String(year))) return undefined
  const years = [
    ...text.matchAll(
      /(?:©|\(c\)|copyright|published( in)?|edition,?|auflage,?|impression,?)\s*(?:©\s*)?((?:1[5-9]|20)\d{2})\b/giu,
    ),
  ]
  const other = years.at(-1)?.[2]
  return other
    ? `It says that it came out in ${other}, another year than the record's ${year}: it may be another edition.`
    : undefined
}

/** DOIs that are printed in lines. */
export function doisIn(lines: readonly string[]): string[] {
  return lines
    .flatMap(l => [...l.matchAll(/10\.\d{4,9}\/\S+/g)].map(m => normaliseDoi(m[0])))
    .filter((d): d is string => Boolean(d))
}

/** Lines of a first page, made ready for titles to be looked for. */
export interface Front {
  /** Every five lines joined, as folded words. */
  windows: string[][]
  words: Set<string>
}

export function frontOf(lines: readonly string[]): Front {
  const windows = Array.from({ length: Math.min(lines.length, 80) }, (_, i) => lines.slice(i, i + 5).join(' ')).flatMap(
    text => {
      // the hyphen at the end of a line is the word's own, or it is not
      const joined = text.replace(/(\p{L})[-‐] (\p{Ll})/gu, '$1$2')
      return (joined === text ? [text] : [joined, text]).map(t => foldTitle(t).split(' '))
    },
  )
  return { windows, words: new Set(windows.flat()) }
}

/** Of a title so many words are looked for: they tell it from any other. */
const WORDS_COMPARED = 60

/** The best share of a title's words found in order within a window; a title of other words is told at once. */
export function titleOverlap(title: string, front: Front): number {
  const words = foldTitle(title).split(' ').filter(Boolean).slice(0, WORDS_COMPARED)
  if (!words.length) return 0
  const present = words.filter(w => front.words.has(w)).length / words.length
  if (present < 0.8) return Math.min(present, 0.5)
  let best = 0
  for (const w of front.windows) best = Math.max(best, inOrder(words, w.slice(0, words.length + 12)) / words.length)
  return best
}

/** Length of the longest common subsequence of words, in O(n·m) for short lists. */
function inOrder(a: string[], b: string[]): number {
  let row = new Uint16Array(b.length + 1)
  for (const x of a) {
    const next = new Uint16Array(b.length + 1)
    b.forEach((y, j) => (next[j + 1] = x === y ? row[j]! + 1 : Math.max(row[j + 1]!, next[j]!)))
    row = next
  }
  return row[b.length]!
}

function versionMarks(lines: readonly string[]): Version | undefined {
  const text = lines.join(' ')
  if (/accepted (author )?manuscript|author'?s accepted/i.test(text)) return 'accepted manuscript'
  if (/not (yet )?(been )?peer[- ]reviewed|preprint/i.test(text)) return 'preprint'
  return undefined
}

const longLine = (lines: readonly string[]): string | undefined =>
  lines
    .find(l => l.trim().split(/\s+/).length >= 4)
    ?.trim()
    .slice(0, 160)
