import type { Bibliography, Cite } from '../../core/cite/format'
import type { Manner } from '../../core/cite/manner'
import type { RichRun } from '../../core/cite/rich-text'
import type { Item } from '../../core/bib/item'
import { hashOf } from '../base/hash'
import { Problem } from '../base/problem'
import type { StyleGiven } from '../threads/style-files'
import { inThread } from '../threads/threads'

const MOST = 60
const made = new Map<string, Promise<unknown>>()

/** Milliseconds that a style which somebody brought may take: it may be made so that it never ends. */
const OWN_WITHIN = 30_000

/** A style to print in, with what it is called. */
export interface PrintStyle extends StyleGiven {
  name: string
}

/** What was formatted once is not formatted again: the latest are kept. */
function once<T>(style: PrintStyle, given: unknown, make: () => Promise<T>): Promise<T> {
  const key = hashOf(JSON.stringify([style, given]))
  const have = made.get(key) as Promise<T> | undefined
  if (have) return have
  const now = make().catch((e: unknown) => {
    // what failed is tried again
    made.delete(key)
    throw new Problem(422, 'style-fails', `The style “${style.name}” cannot print this: ${why(e)} Choose another one.`)
  })
  if (made.size >= MOST) made.delete(made.keys().next().value!)
  made.set(key, now)
  return now
}

const why = (e: unknown): string => {
  if (!(e instanceof Error)) return `${String(e)}.`
  if (e.name === 'AbortError') return 'it was not done in time.'
  return `${e.message.replace(/\.$/, '')}.`
}

/** Milliseconds that a style may take; those that are installed are trusted. */
const timeOf = (style: PrintStyle): number | undefined => (style.xml === undefined ? undefined : OWN_WITHIN)

/**
 * Formats a list, in parts that are set each by itself.
 * @param within milliseconds that it may take
 * @throws Problem 422 where the style cannot, as below
 */
export const bibliographyOf = (
  style: PrintStyle,
  parts: readonly (readonly Item[])[],
  within = timeOf(style),
): Promise<Bibliography> =>
  once(style, ['bibliography', parts], () => inThread('bibliography', { style, parts }, within))

/** How a style sets items. */
export const mannerOf = (style: PrintStyle): Promise<Manner> =>
  once(style, ['manner'], () => inThread('manner', { style, name: style.name.replace(/,.*/, '') }, timeOf(style)))

/** How places in items are cited in a text, as the list of all items has it. */
export const citesOf = (style: PrintStyle, items: readonly Item[], cites: readonly Cite[]): Promise<RichRun[][]> =>
  once(style, ['cites', items, cites], () => inThread('cites', { style, items, cites }, timeOf(style)))
