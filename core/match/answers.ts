import { yearOf, yearOfDate } from '../bib/dates'
import { fold, foldTitle } from '../bib/fold'
import type { Item, Name } from '../bib/item'
import { authorLine, familyName } from '../bib/names'
import { readPages } from '../bib/pages'
import { numbersIn } from './prepare'
import type { Reference } from './reference'

/**
 * How well a work answers a reference, 0 to 1, and what speaks against its being the one: the same title by somebody
 * else, or years apart, is another work.
 */
export function answers({ item: asked }: Reference, found: Item): { fit: number; against?: string } {
  const fit = titleFit(String(asked.title ?? ''), found.title ?? '')
  const wanted = asked.author ?? asked.editor
  const given = [...(found.author ?? []), ...(found.editor ?? [])]
  const family = (n: Name) => fold(familyName(n)).replace(/[^\p{L}\p{N}]+/gu, ' ')
  if (wanted?.length && given.length) {
    const known = given.flatMap(n => [family(n), fold(n.given ?? '')])
    // catalogues cut lists and turn names round: one of those named is enough
    const agrees = wanted.some(n => {
      const words = [family(n), fold(n.given ?? '')]
      return known.some(
        k => words.includes(k) || k.split(' ').some(w => w.length > 2 && words[0]!.split(' ').includes(w)),
      )
    })
    if (!agrees) return { fit, against: `it is by ${authorLine(given, 2)}` }
  }
  const [year, its] = [yearOfDate(asked.issued), yearOf(found)]
  if (year && its && Math.abs(year - its) > 1) return { fit, against: `it came out in ${its}` }
  const [numbers, theirs] = [numbersIn(foldTitle(String(asked.title ?? ''))), numbersIn(foldTitle(found.title ?? ''))]
  if (numbers && theirs && numbers !== theirs)
    return { fit, against: `its title has ${theirs} where yours has ${numbers}` }
  const [pages, its2] = [readPages(String(asked.page ?? '')), readPages(found.page)]
  if (
    pages &&
    its2 &&
    pages.first !== its2.first &&
    asked.volume &&
    found.volume &&
    String(asked.volume) !== String(found.volume)
  )
    return { fit, against: `it stands in volume ${found.volume}, ${found.page}` }
  return { fit }
}

/** How well a found title answers a wanted one: the share of words that both have, 0 to 1. */
export function titleFit(wanted: string, found: string): number {
  const a = new Set(foldTitle(wanted).split(' ').filter(Boolean))
  const b = new Set(foldTitle(found).split(' ').filter(Boolean))
  if (!a.size || !b.size) return 0
  const both = [...a].filter(w => b.has(w)).length
  return both / Math.max(a.size, b.size)
}
