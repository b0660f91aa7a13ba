import type { Bibliography } from '../../core/cite/format'
import type { Item } from '../../core/bib/item'
import { hashOf } from '../base/hash'
import { inThread } from '../threads/threads'

const made = new Map<string, Promise<Bibliography>>()

/** Formats a list; the same list in the same style is formatted once. */
export function bibliographyOf(folder: string, style: string, items: readonly Item[]): Promise<Bibliography> {
  const key = `${style} ${hashOf(JSON.stringify(items))}`
  const have = made.get(key)
  if (have) return have
  const b = inThread('bibliography', { folder, style, items })
  if (made.size > 60) made.delete(made.keys().next().value!)
  made.set(key, b)
  // what failed is tried again
  b.catch(() => made.delete(key))
  return b
}
