import { Box, chakra } from '@chakra-ui/react'
import { useEffect, useLayoutEffect, useRef, useState, type ReactNode } from 'react'
import { colourOf } from '../../frame/strands'
import type { Mark } from './over-pages'
import type { Reader } from './viewer'

/** A card beside the pages, at the height of what it speaks of. */
export interface Card {
  mark: Mark
  page: number
  label: string
  node: ReactNode
  /** It stays in sight wherever the pages are: it is being written. */
  stays: boolean
}

/** Letters of a card's first line, in pixels: it stands at the height of what it speaks of. */
const FIRST_LINE = 20
/** How far from the right edge of its page a passage is bracketed. */
const INSIDE = 16
/** A passage farther from the cards is bracketed without a tendril. */
const FAR = 220

/**
 * Cards each at the height of the words they speak of, tied to them by a tendril; where there is no room, as near as
 * there is. Those of pages out of sight are told above and below.
 */
export function Beside({ reader, cards, empty }: { reader: Reader; cards: readonly Card[]; empty: ReactNode }) {
  const column = useRef<HTMLDivElement>(null)
  const tendrils = useRef<SVGSVGElement>(null)
  const [away, setAway] = useState<{ above?: string; below?: string }>({})
  useLayoutEffect(() => {
    if (column.current && tendrils.current) lay(reader, cards, column.current, tendrils.current)
  })
  useEffect(() => {
    const move = () => {
      if (!column.current || !tendrils.current) return
      const now = lay(reader, cards, column.current, tendrils.current)
      setAway(was => (was.above === now.above && was.below === now.below ? was : now))
    }
    const sized = new ResizeObserver(move)
    for (const el of column.current?.querySelectorAll('[data-card]') ?? []) sized.observe(el)
    const done = reader.subscribe(move)
    return () => {
      sized.disconnect()
      done()
    }
  }, [reader, cards])
  const to = (key: string) => {
    const card = cards.find(c => c.mark.key === key)
    if (card) reader.go(card.page, card.mark.boxes[0]?.y)
  }
  const label = (key: string) => cards.find(c => c.mark.key === key)?.label ?? ''
  return (
    <>
      <chakra.svg ref={tendrils} className="tendrils" aria-hidden="true" display={{ base: 'none', md: 'block' }} />
      <Box ref={column} flex="1" minH="0" position="relative" overflow="auto" className="beside">
        {cards.map(c => (
          <div key={c.mark.key} data-card={c.mark.key}>
            {c.node}
          </div>
        ))}
        {cards.length === 0 && empty}
      </Box>
      {(away.above ?? away.below) && (
        <Box className="beside-away">
          {away.above && (
            <span>
              Above:{' '}
              <button type="button" onClick={() => to(away.above!)}>
                p. {label(away.above)}
              </button>
            </span>
          )}
          {away.below && (
            <span>
              Below:{' '}
              <button type="button" onClick={() => to(away.below!)}>
                p. {label(away.below)}
              </button>
            </span>
          )}
        </Box>
      )}
    </>
  )
}

/** Puts cards and tendrils where they belong now. @returns the nearest card out of sight above, and below */
function lay(
  reader: Reader,
  cards: readonly Card[],
  column: HTMLElement,
  tendrils: SVGSVGElement,
): { above?: string; below?: string } {
  const high = column.clientHeight
  const isList = getComputedStyle(tendrils).display === 'none'
  const byKey = new Map(cards.map(c => [c.mark.key, c]))
  const away: { above?: string; below?: string } = {}
  const shown: { el: HTMLElement; card: Card; wanted: number; top: number; height: number; stands: boolean }[] = []
  for (const el of column.querySelectorAll<HTMLElement>('[data-card]')) {
    const card = byKey.get(el.dataset.card ?? '')
    if (!card) continue
    if (isList) {
      el.style.cssText = ''
      continue
    }
    const at = reader.place(card.mark.boxes[0] ?? { page: card.page, x: 0, y: 4, width: 1, height: 1 })
    const isSeen = at !== undefined && at.bottom > 0 && at.top < high
    const stays = card.stays || el.contains(document.activeElement)
    if (!isSeen && at) {
      if (at.bottom <= 0) away.above = card.mark.key
      else away.below ??= card.mark.key
    }
    el.style.visibility = isSeen || stays ? '' : 'hidden'
    if (!isSeen && !stays) {
      el.style.transform = 'translateY(0)'
      continue
    }
    const wanted = Math.max(0, Math.min(high - FIRST_LINE, (at?.top ?? 0) - FIRST_LINE / 2))
    shown.push({ el, card, wanted, top: wanted, height: el.offsetHeight, stands: isSeen })
  }
  shown.sort((a, b) => a.wanted - b.wanted)
  let free = 0
  for (const s of shown) {
    s.top = Math.max(s.wanted, free)
    free = s.top + s.height
  }
  let foot = high
  for (const s of shown.toReversed()) {
    s.top = Math.max(0, Math.min(s.top, foot - s.height))
    foot = s.top
  }
  // more than there is room for: they go on below
  free = 0
  for (const s of shown) {
    s.top = Math.max(s.top, free)
    free = s.top + s.height
    s.el.style.transform = `translateY(${Math.round(s.top)}px)`
  }
  draw(
    reader,
    shown.filter(s => s.stands),
    column,
    tendrils,
  )
  return away
}

function draw(
  reader: Reader,
  shown: readonly { card: Card; top: number }[],
  column: HTMLElement,
  tendrils: SVGSVGElement,
): void {
  const all = tendrils.getBoundingClientRect()
  const room = reader.room.getBoundingClientRect()
  const to = column.getBoundingClientRect()
  const paths = shown.flatMap(({ card, top }) => {
    const { boxes, strand, isOpen } = card.mark
    const first = boxes[0]
    if (!first) return []
    const own = boxes.filter(b => b.page === first.page)
    const [a, z] = [reader.place(first), reader.place(own.at(-1)!)]
    const size = reader.sizeOf(first.page)
    const edge = reader.place({ page: first.page, x: 0, y: 0, ...size })
    if (!a || !z || !edge) return []
    const x = Math.min(edge.right, room.width - 14) + room.left - all.left - INSIDE
    const [y1, y2] = [a.top + room.top - all.top + 1, Math.max(a.bottom, z.bottom) + room.top - all.top]
    const [cx, cy] = [to.left - all.left, top + to.top - all.top - column.scrollTop + 0.5]
    const look = strand === undefined ? 'slate' : colourOf(strand)
    // the bracket lies on the page, which is white in the dark, too
    const bracket = line(`M${x - 5} ${y1}h5V${y2}h-5`, `${look}-solid`)
    if (isOpen) bracket.setAttribute('stroke-width', '2')
    // of two pages side by side the left one is not tied across the other
    if (room.right - all.left - x > FAR) return [bracket]
    const middle = (y1 + y2) / 2
    const half = (cx - x) / 2
    const tendril = line(`M${x} ${middle}C${x + half} ${middle} ${cx - half} ${cy} ${cx} ${cy}`, look)
    if (card.stays) tendril.setAttribute('stroke-dasharray', '4 3')
    return [bracket, tendril]
  })
  tendrils.replaceChildren(...paths)
}

function line(d: string, colour: string): SVGPathElement {
  const path = document.createElementNS('http://www.w3.org/2000/svg', 'path')
  path.setAttribute('d', d)
  path.setAttribute('stroke', `var(--chakra-colors-${colour})`)
  return path
}
