import { yearOf } from '../../core/bib/dates'
import { fold } from '../../core/bib/fold'
import { normaliseDoi } from '../../core/bib/identifiers'
import type { Item } from '../../core/bib/item'
import { familyName } from '../../core/bib/names'
import { hashOf } from '../base/hash'

/**
 * What makes two descriptions one node of the graph: their DOI; without one, the letters of their title with the year
 * and the first author.
 */
export function keyOfNode(item: Item): string {
  const doi = normaliseDoi(item.DOI)
  if (doi) return hashOf(`doi ${doi}`).slice(0, 40)
  const letters = fold(item.title ?? '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
  const [first] = item.author ?? item.editor ?? []
  return hashOf(['work', letters, yearOf(item) ?? '', first ? fold(familyName(first)) : ''].join('|')).slice(0, 40)
}
