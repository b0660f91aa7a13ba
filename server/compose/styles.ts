import type { Bibliography, Cite } from '../../core/cite/format'
import type { Manner } from '../../core/cite/manner'
import type { Item } from '../../core/bib/item'
import { hashOf } from '../base/hash'
import { inThread } from '../threads/threads'

const MOST = 60
const made = new Map<string, Promise<unknown>>()

/** What was formatted once is not formatted again: the latest are kept. */
function once<T>(given: unknown, make: () => Promise<T>): Promise<T> {
  const key = hashOf(JSON.stringify(given))
  const have = made.get(key) as Promise<T> | undefined
  if (have) return have
  const now = make()
  if (made.size >= MOST) made.delete(made.keys().next().value!)
  made.set(key, now)
  // what failed is tried again
  now.catch(() => made.delete(key))
  return now
}

/** Formats a list. */
export const bibliographyOf = (folder: string, style: string, items: readonly Item[]): Promise<Bibliography> =>
  once(['bibliography', style, items], () => inThread('bibliography', { folder, style, items }))

/** How a style sets items. */
export const mannerOf = (folder: string, style: { id: string; name: string }): Promise<Manner> =>
  once(['manner', style], () => inThread('manner', { folder, style }))

/** How places in items are cited in a text, as the list of all items has it. */
export const citesOf = (
  folder: string,
  style: string,
  items: readonly Item[],
  cites: readonly Cite[],
): Promise<string[]> => once(['cites', style, items, cites], () => inThread('cites', { folder, style, items, cites }))
