import { plainTitle } from '../../../core/bib/clean'
import { yearOf } from '../../../core/bib/dates'
import type { Item } from '../../../core/bib/item'
import { authorLine } from '../../../core/bib/names'
import { compareEntry, readEntry, type Compared, type Part, type Printed } from '../../../core/match/settle'
import type { WorkLine } from '../../../core/sift/line'
import type { Entry, ListAnswer, ListNode } from '../../frame/settle'

export type { Entry, ListAnswer, ListNode }

/** Where an entry stands. */
export const STANDS = ['in pool', 'you lack', 'to settle', 'unknown'] as const
export type Stands = (typeof STANDS)[number]

/** An entry with what it means. */
export interface Row {
  entry: Entry
  stands: Stands | undefined
  node: ListNode | undefined
  work: WorkLine | undefined
  title: string
}

export const PART_NAMES: Record<Part, string> = {
  title: 'title',
  author: 'author',
  container: 'journal',
  year: 'year',
  volume: 'volume',
  issue: 'issue',
  pages: 'page',
  publisher: 'publisher',
  DOI: 'DOI',
}

export const printedOf = ({ text, item, others }: Entry): Printed => readEntry(text, { item, others })

/** What speaks for a work, and what against it. @example bySaid(compared) // 'by author, volume and page; year one apart' */
export function bySaid({ parts }: Compared): string {
  const agree = parts.filter(p => p.standing === 'agrees').map(p => PART_NAMES[p.part])
  const against = parts.filter(p => p.standing === 'differs').map(p => PART_NAMES[p.part])
  if (agree.length > 2 && agree.length === parts.length) return 'every part agrees'
  const list = (of: string[]) => (of.length > 1 ? `${of.slice(0, -1).join(', ')} and ${of.at(-1)!}` : (of[0] ?? ''))
  const others = against.length ? `${list(against)} ${against.length > 1 ? 'differ' : 'differs'}` : ''
  return [agree.length ? `by ${list(agree)}` : '', others].filter(Boolean).join('; ')
}

/** The entries of a list as they are shown. */
export function rowsOf(list: ListAnswer, works: ReadonlyMap<number, WorkLine>): Row[] {
  return list.entries.map(entry => {
    const node = entry.means === null ? undefined : list.nodes[entry.means]
    const work = node && node.work !== null ? works.get(node.work) : undefined
    const title = work?.title ?? (node ? plainTitle(node.item.title, 'untitled') : '')
    return { entry, node, work, title, stands: standsOf(entry, node) }
  })
}

/** By what the work of an entry was told. */
export const toldBy = ({ entry, node }: Row): string =>
  node && !entry.byHand ? bySaid(compareEntry(printedOf(entry), node.item as Item)) : ''

function standsOf(entry: Entry, node: ListNode | undefined): Stands | undefined {
  if (node) return node.work === null ? 'you lack' : 'in pool'
  if (!entry.looked) return undefined
  return entry.matches.length && !entry.byHand ? 'to settle' : 'unknown'
}

/** A part of an item, as words. */
export function partOf(part: Part, item: Partial<Item>): string {
  switch (part) {
    case 'title':
      return item.title ? plainTitle(item.title, '') : ''
    case 'author':
      return authorLine(item.author ?? item.editor, 4)
    case 'container':
      return item['container-title'] ?? ''
    case 'year':
      return String(yearOf(item as Item) ?? '')
    case 'pages':
      return (item.page ?? '').replace(/(\d)-(\d)/g, '$1–$2')
    default:
      return String(item[part] ?? '')
  }
}
