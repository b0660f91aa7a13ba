import { familyName } from '../core/bib/names'
import type { Name } from '../core/bib/item'
import type { WorldWork } from '../core/world/types'
import { lot, type ServedWorld } from './world'

const initials = (n: Name, dot: string): string => (n.given ?? '').replace(/(\p{L})[\p{L}-]*\.?\s*/gu, `$1${dot}`)

/** Of a hundred years two are one too many, and one is of another decade. */
function printedYear({ id, year }: WorldWork, citing: WorldWork): number {
  const slip = lot(id + citing.id, 'printed', 1)
  return slip < 0.02 ? year + 1 : slip < 0.03 ? year - 10 : year
}

/** Cited works as they stand in a sentence, in the manner of the list: by names and years, or by their numbers in it. */
export function citedInText(world: ServedWorld, citing: WorldWork, ns: readonly number[], manner: 0 | 1 | 2): string {
  if (manner === 2) return `[${[...new Set(ns)].sort((a, b) => a - b).join(', ')}]`
  const works = [...new Set(ns)].flatMap(n => world.byId.get(citing.references[n - 1]!) ?? [])
  const said = works.flatMap(c => {
    const [first, second, third] = (c.item.author ?? []).map(familyName)
    if (!first) return []
    const who = third ? `${first} et al.` : second ? `${first} ${manner ? 'and' : '&'} ${second}` : first
    return [`${who}${manner ? '' : ','} ${printedYear(c, citing)}`]
  })
  return said.length ? `(${said.join('; ')})` : ''
}

/**
 * A cited work as printed in a reference list, in one of three manners, with the mistakes that print has: a wrong year
 * or page, a cut list of authors, a title without its second half.
 */
export function abbreviateRef(world: ServedWorld, citing: WorldWork, id: string, manner: 0 | 1 | 2, n: number): string {
  const c = world.byId.get(id)
  if (!c) return ''
  const slip = lot(id + citing.id, 'printed', 1)
  const year = printedYear(c, citing)
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
