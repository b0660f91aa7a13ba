/** Saves text as a file of the student's. */
function saveText(name: string, text: string, type: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type }))
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}

/** Saves a drawing of the page as a file that other programs show alike. */
export function savePicture(name: string, svg: SVGSVGElement): void {
  const copy = svg.cloneNode(true) as SVGSVGElement
  // the serializer says the namespace itself
  copy.removeAttribute('xmlns')
  const style = getComputedStyle(document.documentElement)
  copy.style.fontFamily = style.getPropertyValue('--chakra-fonts-body')
  copy.style.background = style.getPropertyValue('--chakra-colors-paper')
  for (const f of copy.querySelectorAll('foreignObject')) f.remove()
  for (const f of svg.querySelectorAll('foreignObject')) copy.append(...drawnAlike(f, svg.getBoundingClientRect()))
  // colours are the page's own; a file has to carry them
  const text = new XMLSerializer()
    .serializeToString(copy)
    .replace(/var\((--chakra-[\w-]+)\)/g, (_, variable: string) =>
      style.getPropertyValue(variable).trim().replaceAll('"', "'"),
    )
  saveText(name, text, 'image/svg+xml')
}

const drawn = (kind: string, attributes: Record<string, string | number>): SVGElement => {
  const el = document.createElementNS('http://www.w3.org/2000/svg', kind)
  for (const [k, v] of Object.entries(attributes)) el.setAttribute(k, String(v))
  return el
}

/** What a drawing has of HTML, which browsers alone show, drawn: its ground, its pictures and its words, line by line. */
function drawnAlike(foreign: Element, { left, top }: DOMRect): SVGElement[] {
  const at = (r: DOMRect) => ({ x: r.left - left, y: r.top - top, width: r.width, height: r.height })
  const out: SVGElement[] = []
  for (const el of foreign.querySelectorAll('*')) {
    const { backgroundColor: fill, borderTopColor: stroke, borderTopWidth: width } = getComputedStyle(el)
    const box = el.getBoundingClientRect()
    if (el instanceof SVGSVGElement) {
      const picture = el.cloneNode(true) as SVGSVGElement
      for (const [k, v] of Object.entries(at(box))) picture.setAttribute(k, String(v))
      out.push(picture)
    } else if (!el.closest('svg svg') && fill && !/^rgba\(.*, 0\)$|^transparent$/.test(fill))
      out.push(drawn('rect', { ...at(box), rx: 3, fill, ...(parseFloat(width) ? { stroke } : {}) }))
  }
  const bounds = foreign.getBoundingClientRect()
  for (const el of foreign.querySelectorAll('*'))
    for (const { text, box } of linesOf(el, bounds)) {
      const { fontFamily, fontSize, fontWeight, color } = getComputedStyle(el)
      const size = parseFloat(fontSize)
      const line = drawn('text', {
        ...{ x: box.left - left, y: box.top - top + box.height / 2 + size * 0.35 },
        ...{ 'font-family': fontFamily, 'font-size': size, 'font-weight': fontWeight, fill: color },
      })
      line.textContent = text
      out.push(line)
    }
  return out
}

/** The lines of an element's own words as they are broken on the page; what stands beyond some bounds is told by dots. */
function linesOf(el: Element, bounds: DOMRect): { text: string; box: DOMRect }[] {
  const lines: { text: string; box: DOMRect; right: number }[] = []
  const range = document.createRange()
  const words = [...el.childNodes].flatMap(node =>
    node instanceof Text ? [...node.data.matchAll(/\S+/g)].map(word => ({ node, at: word.index, word: word[0] })) : [],
  )
  for (const { node, at, word } of words) {
    range.setStart(node, at)
    range.setEnd(node, at + word.length)
    const [box] = range.getClientRects()
    if (!box || box.bottom > bounds.bottom + 2) continue
    const last = lines.at(-1)
    // next to each other: what stands between two texts is another element's
    const isSame = last && Math.abs(last.box.top - box.top) < 3 && box.left - last.right < box.height / 2
    if (box.right > bounds.right + 2) {
      if (isSame && !last.text.endsWith('…')) last.text += '…'
    } else if (isSame) Object.assign(last, { text: `${last.text} ${word}`, right: box.right })
    else lines.push({ text: word, box, right: box.right })
  }
  return lines
}
