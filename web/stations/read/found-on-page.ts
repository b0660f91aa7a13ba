import { useEffect } from 'react'
import type { QueryNode } from '../../../core/query/cql'
import { matchSpans } from '../../../core/query/spans'

/** Under this name the page's style paints what was found. */
const NAME = 'found'

/**
 * Marks on a drawn page what was looked for, without touching its words: by the browser's own highlights, where it has
 * them.
 * @param layer the words of the page, once they are there
 */
export function useFoundOn(layer: HTMLElement | undefined, query: QueryNode | undefined): void {
  useEffect(() => {
    if (!layer || !query || typeof Highlight === 'undefined') return
    const all = CSS.highlights.get(NAME) ?? new Highlight()
    CSS.highlights.set(NAME, all)
    const own = rangesOf(layer, query)
    for (const r of own) all.add(r)
    return () => {
      for (const r of own) all.delete(r)
    }
  }, [layer, query])
}

function rangesOf(layer: HTMLElement, query: QueryNode): Range[] {
  const nodes: { node: Node; at: number }[] = []
  let text = ''
  const walk = document.createTreeWalker(layer, NodeFilter.SHOW_TEXT | NodeFilter.SHOW_ELEMENT)
  for (let node = walk.nextNode(); node; node = walk.nextNode()) {
    // a word may stand in several pieces, for its ligatures; only the end of a line parts two
    if (node instanceof HTMLBRElement) text += '\n'
    if (node.nodeType !== Node.TEXT_NODE) continue
    nodes.push({ node, at: text.length })
    text += node.nodeValue ?? ''
  }
  const place = (at: number): [Node, number] => {
    const n = nodes.findLast(x => x.at <= at)!
    return [n.node, at - n.at]
  }
  return matchSpans(query, text).map(({ start, end }) => {
    const range = document.createRange()
    const [last, at] = place(end - 1)
    range.setStart(...place(start))
    range.setEnd(last, at + 1)
    return range
  })
}
