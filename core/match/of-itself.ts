import type { Item, Version } from '../bib/item'
import { normaliseDoi } from '../bib/identifiers'
import type { PageText } from './proof'

/** DOIs that are printed in lines. */
export function doisIn(lines: readonly string[]): string[] {
  return lines
    .flatMap(l => [...l.matchAll(/10\.\d{4,9}\/\S+/g)].map(m => normaliseDoi(m[0])))
    .filter((d): d is string => Boolean(d))
}

/** A line of more letters is running text, which may speak of the drafts and papers of others. */
const LABEL = 100
const DRAFT =
  /^\W*((first|second|third|revised|working|preliminary|conference) )?draft\b|\b(do not|not for) (cite|quote|circulate|distribute|citation|quotation|circulation|distribution)\b|^.{0,50}\b(working|discussion) papers?\b.{0,25}$/iu

/** Which version of its work a text says that it is. */
export function versionMarks(lines: readonly string[]): Version | undefined {
  const text = lines.join(' ')
  if (/accepted (author )?manuscript|author'?s accepted/i.test(text)) return 'accepted manuscript'
  if (/not (yet )?(been )?peer[- ]reviewed|preprint/i.test(text)) return 'preprint'
  return lines.some(l => l.length < LABEL && DRAFT.test(l)) ? 'preprint' : undefined
}

/** Pages on which a book says when it came out. */
const IMPRINT = 6

/** That a book is another edition: it names years of its own, and not the one of the record. */
export function editionOf(pages: readonly PageText[], year: number | undefined): string | undefined {
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

/** Letters of a page, below which a file of some pages is no running text. */
const SPARSE = 150
const SLIDES = 4
/** Letters of a text that is no more than an abstract. */
const SHORT = 1500

const OFFERS =
  /\b(access (this|options|through|the full)|log ?in|sign in|get access|(buy|rent|purchase) (this|the|article|access|now|online|pdf|or)|add to cart|order form|institutional (login|access)|preview of this|this is a preview|full text (is )?available)\b/giu
const ABSTRACT = /^\W*(abstract|summary|zusammenfassung|résumé|resumen)\b/iu
const SECTION =
  /^\W*(\d+\.? )?(introduction|background|methods?|materials|results|findings|discussion|conclusions?|references|literature|einleitung|ergebnisse|literatur|introducción|bibliograf)/iu
const OF_A_MEETING =
  /\babstracts? (of|from|book)\b|\bbook of abstracts\b|\bposter (session|presentation|abstract)|\b(conference|meeting) abstracts?\b/iu

/** Letters of lines; a sign that is a word counts as three. */
export const lettersOf = (lines: readonly string[]): number =>
  lines.reduce(
    (n, l) =>
      n +
      (l.match(/\p{L}/gu)?.length ?? 0) +
      (l.match(/[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}]/gu)?.length ?? 0) * 2,
    0,
  )

/** What a text is in place of the work, by how much of it there is and what it says; undefined where it may be the work. */
export function shortOf(work: Item, pages: readonly PageText[]): string | undefined {
  const lines = pages.slice(0, SLIDES).flatMap(p => p.lines)
  const read = pages.filter(p => !p.isUnread)
  const letters = read.reduce((n, p) => n + (p.letters ?? lettersOf(p.lines)), 0)
  const offers = new Set([...lines.join(' ').matchAll(OFFERS)].map(m => m[1]!.toLowerCase())).size
  if (pages.length <= SLIDES && offers >= 2)
    return 'It offers the text, for a login or a price: it may be a page about it.'
  if (read.length >= SLIDES && letters < SPARSE * read.length)
    return 'Few words stand on its pages, as on slides: it may be a talk on it.'
  if (letters >= SHORT || pages.length > 2) return undefined
  if (work.type !== 'paper-conference' && lines.slice(0, 20).some(l => OF_A_MEETING.test(l)))
    return 'It is an abstract of a meeting.'
  const isAbstract = lines.some(l => ABSTRACT.test(l)) && !lines.some(l => SECTION.test(l))
  return isAbstract ? 'It has hardly more than an abstract.' : undefined
}

const DEGREE =
  /\b(thesis|dissertation)\b.{0,80}\b(degree|doctor|master|bachelor|faculty|submitted|requirements)\b|\b(doctoral|phd|master.?s|bachelor.?s|inaugural)[- ](thesis|dissertation)\b|^\W*dissertation,|\b(inauguraldissertation|thèse de doctorat|tesis doctoral|tesi di (laurea|dottorato))\b/iu

/** What says that an article was made of a thesis. */
const MADE_OF_ONE =
  /\b(based|draws?|drawn|part|derived|adapted|chapter) (up)?(on|of|from)\b|\b(my|his|her|their|author[’']?s[’']?)\b/iu

/** Whether a text says that it was written for a degree. */
export const forDegree = (lines: readonly string[]): boolean =>
  lines.slice(0, 30).some((l, i) => {
    const told = `${l} ${lines[i + 1] ?? ''}`.slice(0, 2 * LABEL)
    return l.length < LABEL && DEGREE.test(told) && !MADE_OF_ONE.test(told)
  })
