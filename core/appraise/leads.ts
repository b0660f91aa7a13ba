import type { Item } from '../bib/item'
import { bare, saidOfAnother } from './taken-back'

/** A work that another one points to by what it is: not itself to be cited, or not alone. */
export interface Lead {
  what: 'the book it reviews' | 'the book it stands in' | 'the item it corrects'
  title: string
  author: string | undefined
}

const text = (v: unknown): string | undefined => (typeof v === 'string' && v.trim() ? v.trim() : undefined)

/**
 * What a work leads to: the book that a review is about, the book that a chapter stands in, the item that a correction
 * mends. From the item's own fields where a catalogue gives them (CSL: reviewed-title, container-title), else from the
 * way such titles are written.
 */
export function leadOf(item: Item, kind: string): Lead | undefined {
  const title = item.title ?? ''
  if (kind === 'review of a book') {
    const given = text(item['reviewed-title'])
    const names = item['reviewed-author'] as { family?: string; literal?: string }[] | undefined
    const author = names?.[0]?.family ?? names?.[0]?.literal
    if (given) return { what: 'the book it reviews', title: given, author }
    const stripped = title.replace(/^(book )?reviews?( of|:)\s+/i, '')
    // "Nights of towns, by A. Okafor" and "A. Okafor: Nights of towns"
    const by = /^(.{4,}?)[,.]? by ((?:\p{Lu}[\p{L}'’-]*\.?[ -]?){1,6})(?:\W.*)?$/u.exec(stripped)
    if (by) return { what: 'the book it reviews', title: bare(by[1]!), author: by[2]!.trim() }
    const before = /^((?:\p{Lu}\.[ -]?)+[\p{L}'’ -]{2,40}): (.{4,})$/u.exec(stripped)
    if (before) return { what: 'the book it reviews', title: bare(before[2]!), author: before[1]!.trim() }
    return stripped !== title && stripped.length > 3
      ? { what: 'the book it reviews', title: bare(stripped), author: undefined }
      : undefined
  }
  if (kind === 'correction') {
    const of = saidOfAnother(title)?.title
    return of ? { what: 'the item it corrects', title: of, author: item.author?.[0]?.family } : undefined
  }
  if (kind === 'chapter') {
    const book = text(item['container-title'])
    return book ? { what: 'the book it stands in', title: book, author: item.editor?.[0]?.family } : undefined
  }
  return undefined
}
