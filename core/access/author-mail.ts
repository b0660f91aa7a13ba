import { fold } from '../bib/fold'
import { familyName } from '../bib/names'
import type { Name } from '../bib/item'

/** An address in a text; its parts are bounded as by RFC 5321, so that no long run of letters is read again and again. */
const ADDRESS =
  /(?<![\p{L}\p{N}.+_-])[\p{L}\p{N}.+_-]{1,64}@(?:[\p{L}\p{N}-]{1,63}\.){1,6}\p{L}{2,24}(?![\p{L}\p{N}-])/gu
/** The name of an author has to have so many letters to be known in an address. */
const TELLING = 3

/** The letters of a text alone. */
const letters = (text: string): string => fold(text).replace(/[^\p{L}\p{N}]/gu, '')

/**
 * Mail addresses of authors that stand on a page: those whose first part has the family name of one of them, and one
 * that stands there alone where there is a single author.
 * @param authors of that text, in order
 * @returns each with whose it is, in the order of the page, none twice
 */
export function authorMails(page: string, authors: readonly Name[]): { mail: string; author: number }[] {
  const found = [...new Set((page.match(ADDRESS) ?? []).map(m => m.toLowerCase()))]
  const families = authors.map(a => letters(familyName(a)))
  const of = found.flatMap(mail => {
    const own = letters(mail.slice(0, mail.indexOf('@')))
    const author = families.findIndex(f => f.length >= TELLING && own.includes(f))
    return author < 0 ? [] : [{ mail, author }]
  })
  return !of.length && found.length === 1 && authors.length === 1 ? [{ mail: found[0]!, author: 0 }] : of
}
