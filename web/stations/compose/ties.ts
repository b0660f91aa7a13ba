/** How far from the right edge of the page what is spoken of is bracketed, and the height of a card's first line. */
const INSIDE = 14
const FIRST_LINE = 17

/** Brackets what each card of an entry speaks of, and ties it to the card. */
export function tie(row: HTMLElement, lines: SVGSVGElement, page: HTMLElement): void {
  const all = row.getBoundingClientRect()
  const edge = page.getBoundingClientRect().right - all.left - INSIDE
  const paths = [...row.querySelectorAll<HTMLElement>('[data-ties]')].flatMap(card => {
    const of = [...row.querySelectorAll<HTMLElement>(`[data-tied=${CSS.escape(card.dataset.ties!)}]`)]
    if (!of.length || !card.offsetParent) return []
    const boxes = of.flatMap(el => [...el.getClientRects()])
    const top = Math.min(...boxes.map(b => b.top)) - all.top + 2
    const bottom = Math.max(...boxes.map(b => b.bottom)) - all.top - 2
    const to = card.getBoundingClientRect()
    const [x, y] = [to.left - all.left, to.top - all.top + FIRST_LINE]
    const middle = (top + bottom) / 2
    const half = (x - edge) / 2
    const path = document.createElementNS('http://www.w3.org/2000/svg', 'path')
    path.setAttribute(
      'd',
      `M${edge - 5} ${top}h5V${bottom}h-5M${edge} ${middle}C${edge + half} ${middle} ${x - half} ${y} ${x} ${y}`,
    )
    path.setAttribute('stroke', `var(--chakra-colors-${card.dataset.voice})`)
    if (card.dataset.voice === 'amber') path.setAttribute('stroke-dasharray', '4 3')
    return [path]
  })
  lines.replaceChildren(...paths)
}
