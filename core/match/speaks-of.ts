import { plainTitle } from '../bib/clean'
import { foldTitle } from '../bib/fold'
import type { Item } from '../bib/item'
import type { Kind } from '../appraise/kinds'
import { titleSigns } from '../appraise/titles'
import type { TitlePlace } from './title-place'

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
  [/\bexpression of concern( about| on| for)?\W*$/iu, 'a correction of'],
  [
    /\b(reading guide|study guide|study questions|lecture notes|course notes|handout|slides|poster)(?: (?:to|for|on|of|about)|\s*:)\W*$/iu,
    'notes on',
  ],
  [/\b(interview|conversation|podcast)( with \S+( \S+)?)? (about|on)\W*$/iu, 'an interview on'],
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
 * Whether a text that has the title only speaks of the work: by the words before the title, by the way in which reviews
 * name a book, or as one line in a list of many.
 */
export function speaksOf(
  work: Item,
  lines: readonly string[],
  { first: at, last, before: lead, after: rest }: TitlePlace,
): { said: string; really: string } | undefined {
  const title = plainTitle(work.title, '')
  const told = (what: string, by: string) => ({ said: by, really: `${what} “${title}”` })
  // an article is of the title itself
  const own = /^\W*\p{L}{1,3}\W*$/u.test(lead) ? '' : lead
  const before = [...lines.slice(Math.max(0, at - 2), at), own].join(' ').replace(/\s+/g, ' ').slice(-160)
  const said = SPOKEN_OF.find(([is]) => is.test(before))
  // what the work's own title says of it is no sign against it
  const kinds = new Set(titleSigns(title).map(s => s.kind))
  if (said && !kinds.size) return told(said[1], `Before the title stands “${before.trim().slice(-60)}”.`)
  // the line above may hold a running head: what belongs to the title stands in its own line, or alone in the one above
  for (const words of [own, ...(own ? [] : [ofItsOwn(lines[at - 1], work)])]) {
    const sign = titleSigns(`${words} ${title}`.trim()).find(s => SPEAKS.has(s.name) && !kinds.has(s.kind))
    if (sign && /\p{L}/u.test(words)) return told(ABOUT[sign.kind]!, `${sign.said} (“${words.trim().slice(0, 60)}”)`)
  }
  const goesOn = AFTER.find(([is]) => is.test(rest))
  if (goesOn && !kinds.size) return told(goesOn[1], `Behind the title stands “${rest.trim().slice(0, 60)}”.`)
  const label = lines
    .slice(0, at)
    .slice(-8)
    .map(l => l.trim())
  if (!kinds.size && label.some(l => CORRECTS.test(l)))
    return told('a correction of', 'Above the title stands that it is a correction.')
  const isBook = work.type === 'book'
  if (isBook && label.some(l => REVIEWS.test(l)))
    return told('a review of', 'Above the title stands that a book is reviewed.')
  const after = [rest, ...lines.slice(last + 1, at + 7)].join(' ').slice(0, 400)
  if (isBook && BOOK_IN_PRINT.test(after))
    return told('a review of', 'After the title stand the pages and the price of a book.')
  const listed = lines.filter(inAList).length
  if (listed >= 6 && lines.slice(at, last + 2).some(inAList))
    return told('a list of contents with', 'The title stands as one line in a list of many, each with its page.')
  return undefined
}
/** What follows a title that is answered or corrected. */
const AFTER: [RegExp, string][] = [
  [
    /^\W*[:.–—(]\W*(?:an? |some |our |my |the )?(?:short |brief |further |critical |second )?(?:reply|response|rejoinder|comments?|commentary|rebuttal|answer|critique)\b/iu,
    'a comment on',
  ],
  [/^\W*[:.–—(]\W*(?:an? )?(?:correction|erratum|corrigendum|addendum|retraction)\b/iu, 'a correction of'],
  [/^\W*[:.–—(]\W*(?:an? )?(?:book )?review\b(?! (?:of|article))/iu, 'a review of'],
  [/^\W*[:.–—(]\W*(?:supplement|supporting information|online appendix)/iu, 'a supplement to'],
]
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
