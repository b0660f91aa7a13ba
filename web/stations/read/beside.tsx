import { Box, chakra, useMediaQuery } from '@chakra-ui/react'
import { useEffect, useLayoutEffect, useRef, useState, useSyncExternalStore, type ReactNode } from 'react'
import type { PageBox } from '../../../core/pdftext/anchor'
import { colourOf } from '../../frame/strands'
import type { Mark } from './over-pages'
import type { OnScreen, Reader } from './viewer'

/** A card beside the pages, at the height of what it speaks of. */
export interface Card {
  mark: Mark
  page: number
  label: string
  draw: () => ReactNode
  /** It stays in sight wherever the pages are: it is being written. */
  stays: boolean
  /** It is looked at, so that it is there wherever the pages are. */
  isOpen: boolean
}

/** Letters of a card's first line, in pixels: it stands at the height of what it speaks of. */
const FIRST_LINE = 20
/** How far from the right edge of its page a passage is bracketed. */
const INSIDE = 16
/** A passage farther from the cards is bracketed without a tendril. */
const FAR = 220
/** Cards of so many pages before and behind the one that is read are there; a long text may have two thousand. */
const NEAR = 2
/** So many are all there. */
const FEW = 60

/**
 * Cards each at the height of the words they speak of, tied to them by a tendril; where there is no room, as near as
 * there is. Those of pages out of sight are told above and below.
 */
export function Beside({ reader, cards, empty }: { reader: Reader; cards: readonly Card[]; empty: ReactNode }) {
  const column = useRef<HTMLDivElement>(null)
  const tendrils = useRef<SVGSVGElement>(null)
  const [away, setAway] = useState<{ above?: string; below?: string }>({})
  const page = useSyncExternalStore(reader.subscribe, () => reader.view().page)
  // on a phone they are a list of their own
  const [isList = false] = useMediaQuery(['(max-width: 47.99rem)'], { ssr: false })
  const isNear = (c: Card) => c.stays || c.isOpen || Math.abs(c.page - page) <= NEAR
  const shown = isList || cards.length <= FEW ? cards : cards.filter(isNear)
  useLayoutEffect(() => {
    if (column.current && tendrils.current) lay(reader, shown, column.current, tendrils.current)
  })
  useEffect(() => {
    const move = () => {
      if (!column.current || !tendrils.current) return
      const now = lay(reader, shown, column.current, tendrils.current)
      // those that are not there count too
      if (shown.length < cards.length) {
        now.above ??= cards.findLast(c => c.page < page - NEAR)?.mark.key
        now.below ??= cards.find(c => c.page > page + NEAR)?.mark.key
      }
      setAway(was => (was.above === now.above && was.below === now.below ? was : now))
    }
    const sized = new ResizeObserver(move)
    for (const el of column.current?.querySelectorAll('[data-card]') ?? []) sized.observe(el)
    const done = reader.subscribe(move)
    return () => {
      sized.disconnect()
      done()
    }
  }, [reader, cards, shown, page])
  const to = (key: string) => {
    const card = cards.find(c => c.mark.key === key)
    if (card) reader.go(card.page, card.mark.boxes[0]?.y)
  }
  const label = (key: string) => cards.find(c => c.mark.key === key)?.label ?? ''
  return (
    <>
      <chakra.svg ref={tendrils} className="tendrils" aria-hidden="true" display={{ base: 'none', md: 'block' }} />
      <Box ref={column} flex="1" minH="0" position="relative" overflow="auto" className="beside">
        {shown.map(c => (
          <div key={c.mark.key} data-card={c.mark.key}>
            {c.draw()}
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
  const all = [...column.querySelectorAll<HTMLElement>('[data-card]')].flatMap(el => {
    const card = byKey.get(el.dataset.card ?? '')
    return card ? [{ el, card }] : []
  })
  if (isList) {
    for (const { el } of all) el.style.cssText = ''
    return away
  }
  const place = reader.placer()
  const rects = [tendrils, reader.room, column].map(el => el.getBoundingClientRect()) as [DOMRect, DOMRect, DOMRect]
  const scrolled = column.scrollTop
  // all is measured before anything is moved: the browser lays the page out once
  const measured = all.map(({ el, card }) => {
    const at = place(card.mark.boxes[0] ?? { page: card.page, x: 0, y: 4, width: 1, height: 1 })
    const isSeen = at !== undefined && at.bottom > 0 && at.top < high
    const isThere = isSeen || card.stays || el.contains(document.activeElement)
    return { el, card, at, isSeen, isThere, height: isThere ? el.offsetHeight : 0 }
  })
  const shown: { el: HTMLElement; card: Card; wanted: number; top: number; height: number; stands: boolean }[] = []
  for (const { el, card, at, isSeen, isThere, height } of measured) {
    if (!isSeen && at) {
      if (at.bottom <= 0) away.above = card.mark.key
      else away.below ??= card.mark.key
    }
    el.style.visibility = isThere ? '' : 'hidden'
    if (!isThere) {
      el.style.transform = 'translateY(0)'
      continue
    }
    const wanted = Math.max(0, Math.min(high - FIRST_LINE, (at?.top ?? 0) - FIRST_LINE / 2))
    shown.push({ el, card, wanted, top: wanted, height, stands: isSeen })
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
  const paths = shown
    .filter(x => x.stands)
    .flatMap(({ card, top }) => tendril(reader, card, place, rects, top - scrolled))
  tendrils.replaceChildren(...paths)
  return away
}

/** The bracket on the page around a passage, and the tendril from it to its card. */
function tendril(
  reader: Reader,
  { mark: { boxes, strand, isOpen }, stays }: Card,
  place: (box: PageBox) => OnScreen | undefined,
  [all, room, to]: readonly [DOMRect, DOMRect, DOMRect],
  top: number,
): SVGPathElement[] {
  const first = boxes[0]
  if (!first) return []
  const last = boxes.findLast(b => b.page === first.page)!
  const [a, z] = [place(first), place(last)]
  const edge = place({ page: first.page, x: 0, y: 0, ...reader.sizeOf(first.page) })
  if (!a || !z || !edge) return []
  const x = Math.min(edge.right, room.width - 14) + room.left - all.left - INSIDE
  const [y1, y2] = [a.top + room.top - all.top + 1, Math.max(a.bottom, z.bottom) + room.top - all.top]
  const [cx, cy] = [to.left - all.left, top + to.top - all.top + 0.5]
  const look = strand === undefined ? 'slate' : colourOf(strand)
  // the bracket lies on the page, which is white in the dark, too
  const bracket = line(`M${x - 5} ${y1}h5V${y2}h-5`, `${look}-solid`)
  if (isOpen) bracket.setAttribute('stroke-width', '2')
  // of two pages side by side the left one is not tied across the other
  if (room.right - all.left - x > FAR) return [bracket]
  const middle = (y1 + y2) / 2
  const half = (cx - x) / 2
  const tie = line(`M${x} ${middle}C${x + half} ${middle} ${cx - half} ${cy} ${cx} ${cy}`, look)
  if (stays) tie.setAttribute('stroke-dasharray', '4 3')
  return [bracket, tie]
}

function line(d: string, colour: string): SVGPathElement {
  const path = document.createElementNS('http://www.w3.org/2000/svg', 'path')
  path.setAttribute('d', d)
  path.setAttribute('stroke', `var(--chakra-colors-${colour})`)
  return path
}
