/** The words of a drawn page as one text. */
export interface WordsOn {
  text: string
  /** Where in the page a stretch of it is. */
  range: (start: number, end: number) => Range
  /** Where in the text a place of the page is; undefined where it is none of its words. */
  placeOf: (node: Node, offset: number) => number | undefined
}

export function wordsOn(layer: HTMLElement): WordsOn {
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
    return [n.node, Math.min(at - n.at, n.node.nodeValue?.length ?? 0)]
  }
  const range = (start: number, end: number): Range => {
    const r = document.createRange()
    const [last, at] = place(end - 1)
    r.setStart(...place(start))
    r.setEnd(last, Math.min(at + 1, last.nodeValue?.length ?? 0))
    return r
  }
  const placeOf = (node: Node, offset: number) => {
    const n = nodes.find(x => x.node === node)
    return n && n.at + offset
  }
  return { text, range, placeOf }
}
