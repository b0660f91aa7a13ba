import { endOf, withoutEnd } from '../bib/clean'
import type { Item } from '../bib/item'
import { readSource } from '../bib/part'

/** Words that journals have in their names. */
export const IS_JOURNAL =
  /\b(journal|review|annals|studies|papers|letters|quarterly|proceedings|bulletin|transactions|magazine|zeitschrift|archiv|revue|annales|rivista|revista|anales|tidsskrift|tidskrift)\b/i

/** A journal and the place in it, where nothing else is said. */
export function placeAlone(rest: string): Partial<Item> | undefined {
  const m = /^(\p{Lu}[\p{L}.& -]{2,60}?),? (\d{1,4}), ?([A-Za-z]?\d{1,7}(?:-\d{1,7})?)[.]?$/u.exec(rest)
  const cited = m ? { 'container-title': m[1]!, volume: m[2]!, page: m[3]! } : readSource(rest)
  const journal = cited['container-title']
  const isJournal =
    journal &&
    journal.length < 60 &&
    !/,|\p{Ll}{4,}[.?!] \p{Lu}/u.test(journal) &&
    (journal.split(' ').length < 5 || /\p{L}\. /u.test(journal))
  return isJournal && cited.volume && cited.page ? { ...cited, 'container-title': tidyTitle(journal) } : undefined
}

/** Words of those who publish. */
const OF_PRESS =
  /press|verlag|publish|university|universit|college|editions?\b|éditions|books|institut|society|school|academic|inc\b|ltd\b|network|thesis|dissertation|report/iu

/** What a thesis or a report is called that a comma parts from its title. */
const OF_REPORTS = /^(?:ph\.? ?d|tech(?:nical|\.)|working paper|master|m\.? ?sc|doctoral|research report)/iu

/** A name of a few words: a press or a place. */
const NAME = /^\p{Lu}[\p{L}.&'’-]*(?: (?:\p{Lu}[\p{L}.&'’-]*|de|der|of|and|&)){0,4}$/u

/**
 * Where a title ends that a comma ends: at the first behind which a journal with its volume and pages stands, or else
 * nothing but names of a press and a place.
 */
export function commaEnd(rest: string): number {
  const text = rest.replace(/[.]$/, '')
  for (const m of text.matchAll(/, (?=\p{Lu}|\d{1,2}(?:st|nd|rd|th) ed)/gu)) {
    const behind = text.slice(m.index + 2)
    const cited = readSource(behind)
    if (cited['container-title'] && cited.volume && (cited.page ?? cited.issued)) return m.index
    const parts = behind.split(/, /)
    if (OF_REPORTS.test(behind)) return m.index
    const isPress = parts.length <= 4 && parts.every(p => p.length < 45 && !/^\p{Ll}/u.test(p))
    if (
      isPress &&
      (OF_PRESS.test(behind) ||
        (parts.length < 4 && parts.every(p => NAME.test(p) || /^\d{1,2}(?:st|nd|rd|th)? ed/.test(p))))
    )
      return m.index
  }
  return Infinity
}

/** Where the title of a book ends that something stands in: at its full stop, or at a place and a press. */
export function titleOfBookEnd(rest: string): number {
  const press =
    / \((?=[^():]{2,40}: )|, (?=\p{Lu}[\p{L} .]{2,30}: \p{Lu})|[.] (?=\p{Lu})|, (?=(?:vol|Bd|Band)\b)|,? \((?=(?:1[5-9]|20)\d{2})|, (?=(?:1[5-9]|20)\d{2}\b)/gu
  for (const m of rest.matchAll(press)) {
    const word = endOf(rest.slice(0, m.index), /[\p{L}.]/u)
    if (m[0] === '. ' && /^(\p{Lu}|vs|St|Dr|No|Vol)$/u.test(word)) continue
    return m.index
  }
  const comma = /, (?=\p{Lu})/u.exec(rest)
  return comma ? comma.index : rest.length
}

export const tidyTitle = (s: string): string => withoutEnd(s, /[\s.,;:]/).trim()
