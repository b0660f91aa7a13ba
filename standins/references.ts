import { familyName } from '../core/bib/names'
import type { Name } from '../core/bib/item'
import type { WorldWork } from '../core/world/types'
import { lot, type ServedWorld } from './world'

const initials = (n: Name, dot: string): string => (n.given ?? '').replace(/(\p{L})[\p{L}-]*\.?\s*/gu, `$1${dot}`)

/**
 * A cited work as printed in a reference list, in one of three manners, with the mistakes that print has: a wrong year
 * or page, a cut list of authors, a title without its second half.
 */
export function abbreviateRef(world: ServedWorld, citing: WorldWork, id: string, manner: 0 | 1 | 2, n: number): string {
  const c = world.byId.get(id)
  if (!c) return ''
  const slip = lot(id + citing.id, 'printed', 1)
  const year = slip < 0.02 ? c.year + 1 : slip < 0.03 ? c.year - 10 : c.year
  const title = slip > 0.97 ? c.item.title!.split(': ')[0]! : c.item.title!
  const authors = c.item.author ?? []
  const venue = c.venue ? world.venues.get(c.venue) : undefined
  const journal =
    venue && c.item['container-title'] === venue.title
      ? venue.abbreviation
      : (c.item['container-title'] ?? c.item.publisher ?? '')
  const pages = slip > 0.03 && slip < 0.05 ? undefined : c.item.page
  const { volume } = c.item
  if (manner === 0) {
    const who = authors.slice(0, 4).map(a => `${familyName(a)} ${initials(a, '')}`.trim())
    return `${who.join(', ')}${authors.length > 4 ? ', and others' : ''} (${year}) ${title}. ${journal}${volume ? ` ${volume}:${pages ?? ''}` : ''}.`
  }
  if (manner === 1) {
    const who = authors.map(a => `${familyName(a)}, ${initials(a, '. ').trim()}`)
    const list = who.length > 1 ? `${who.slice(0, -1).join(', ')}, and ${who.at(-1)!}` : who.join('')
    return `${list} ${year}. ${title}. ${journal}${volume ? ` ${volume}` : ''}${c.item.issue ? `(${c.item.issue})` : ''}${pages ? `: ${pages.replace('-', '–')}` : ''}.${c.item.DOI && lot(id, 'doi', 2) < 1 ? ` doi:${c.item.DOI}` : ''}`
  }
  const who = authors.slice(0, 3).map(a => `${initials(a, '. ').trim()} ${familyName(a)}`)
  return `${n}. ${who.join(', ')}${authors.length > 3 ? ' et al.' : ''}, “${title}”, ${journal}${volume ? `, vol. ${volume}` : ''}${pages ? `, pp. ${pages}` : ''}, ${year}.`
}
