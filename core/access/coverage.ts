import { addDays, daysInMonth, daySpan } from '../bib/dates'
import { normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import { foldTitle } from '../bib/fold'
import type { Item } from '../bib/item'
import { readEmbargo, type Holding, type Wall } from '../formats/kbart'

export type Held = 'yes' | 'no' | 'unsure'

export interface CoverageAnswer {
  held: Held
  holding: Holding
  /** The sentence that says why. */
  said: string
}

/** The holdings lines of the title an item stands in: by ISSN or ISBN, else by its name. */
export function linesFor(item: Item, holdings: readonly Holding[]): Holding[] {
  const ids = `${item.ISSN ?? ''} ${item.ISBN ?? ''}`
    .split(/[\s,;]+/)
    .map(t => normaliseIssn(t) ?? normaliseIsbn(t))
    .filter(Boolean)
  const index = indexOf(holdings)
  if (ids.length) return [...new Set(ids.flatMap(id => index.byIdentifier.get(id!) ?? []))]
  const name = foldTitle(item['container-title'] ?? (item.type === 'book' ? (item.title ?? '') : ''))
  return name ? (index.byTitle.get(name) ?? []) : []
}

interface HoldingsIndex {
  byIdentifier: Map<string, Holding[]>
  byTitle: Map<string, Holding[]>
}
/** A library's files run to hundreds of thousands of lines: they are looked through once. */
const indexes = new WeakMap<readonly Holding[], HoldingsIndex>()
function indexOf(holdings: readonly Holding[]): HoldingsIndex {
  let index = indexes.get(holdings)
  if (index) return index
  index = { byIdentifier: new Map(), byTitle: new Map() }
  const put = (map: Map<string, Holding[]>, key: string | undefined, h: Holding) => {
    if (!key) return
    const list = map.get(key)
    if (list) list.push(h)
    else map.set(key, [h])
  }
  for (const h of holdings) {
    put(index.byIdentifier, h.printIdentifier, h)
    if (h.onlineIdentifier !== h.printIdentifier) put(index.byIdentifier, h.onlineIdentifier, h)
    put(index.byTitle, foldTitle(h.title), h)
  }
  indexes.set(holdings, index)
  return index
}

/**
 * Decides one holdings line for an item on a day: dates of coverage first (volumes where the item has no year), then
 * the moving wall. A date too coarse to decide at the border is "unsure".
 */
export function decideCoverage(item: Item, h: Holding, today: string): CoverageAnswer {
  const answer = (held: Held, tail: string): CoverageAnswer => ({
    held,
    holding: h,
    said: `${describe(h, today)}; ${tail}`,
  })
  if (h.type === 'monograph') return { held: 'yes', holding: h, said: 'Held as a whole.' }
  const span = daySpan(item.issued)
  if (!span) {
    const volume = Number(item.volume)
    if (!volume || !h.firstVolume) return answer('unsure', 'the record gives no date for yours.')
    const inside = volume >= Number(h.firstVolume) && volume <= Number(h.lastVolume ?? Infinity)
    return answer(
      inside && !h.embargo ? 'yes' : inside ? 'unsure' : 'no',
      `yours is volume ${volume}: ${inside ? (h.embargo ? 'not sure' : 'yes') : 'no'}.`,
    )
  }
  const walls = readEmbargo(h.embargo ?? '') ?? []
  let from = h.firstDate ? startOf(h.firstDate) : '0000-01-01'
  let to = h.lastDate ? endOf(h.lastDate) : '9999-12-31'
  for (const w of walls) {
    if (w.way === 'P') to = min(to, closedFrom(w, today))
    else from = max(from, openFrom(w, today))
  }
  const yours = `yours is of ${sayDate(item)}`
  if (span.from >= from && span.to <= to) return answer('yes', `${yours}: yes.`)
  if (span.to < from || span.from > to) return answer('no', `${yours}: no.`)
  return answer('unsure', `${yours}, which is too coarse to decide at the border.`)
}

/** The last open day under a wall: by days, by whole months, by calendar years. */
export function closedFrom(w: Wall, today: string): string {
  const [y, m] = today.split('-').map(Number) as [number, number]
  if (w.unit === 'D') return addDays(today, -w.amount)
  // a wall of n months or years opens the period before the n latest ones, the present one not counted as passed
  if (w.unit === 'Y') return `${y - w.amount}-12-31`
  const index = y * 12 + (m - 1) - w.amount
  const year = Math.floor(index / 12)
  const month = (index % 12) + 1
  return `${year}-${two(month)}-${two(daysInMonth(year, month))}`
}

/**
 * The first open day where only the latest part is open: R5Y begins on 1 January of the fifth year, this one counted.
 */
export function openFrom(w: Wall, today: string): string {
  const [y, m] = today.split('-').map(Number) as [number, number]
  if (w.unit === 'D') return addDays(today, -w.amount)
  if (w.unit === 'Y') return `${y - w.amount + 1}-01-01`
  const index = y * 12 + (m - 1) - w.amount + 1
  return `${Math.floor(index / 12)}-${two((index % 12) + 1)}-01`
}

const two = (n: number): string => String(n).padStart(2, '0')
const min = (a: string, b: string): string => (a < b ? a : b)
const max = (a: string, b: string): string => (a > b ? a : b)
const startOf = (d: string): string => (d.length === 4 ? `${d}-01-01` : d.length === 7 ? `${d}-01` : d)
const endOf = (d: string): string =>
  d.length === 4
    ? `${d}-12-31`
    : d.length === 7
      ? `${d}-${two(daysInMonth(Number(d.slice(0, 4)), Number(d.slice(5))))}`
      : d

const monthNames = 'January February March April May June July August September October November December'.split(' ')
export function sayIso(iso: string): string {
  const [y, m, d] = iso.split('-').map(Number)
  return `${d} ${monthNames[m! - 1]} ${y}`
}
function sayDate(item: Item): string {
  const [y, m, d] = (item.issued?.['date-parts']?.[0] ?? []).map(Number)
  if (!y) return daySpan(item.issued)?.from.slice(0, 4) ?? 'an unknown date'
  return [d, m ? monthNames[m - 1] : undefined, y].filter(Boolean).join(' ')
}

function describe(h: Holding, today: string): string {
  const from = h.firstDate ? `from ${h.firstDate.slice(0, 4)}` : 'from the beginning'
  const walls = readEmbargo(h.embargo ?? '') ?? []
  const closed = walls.find(w => w.way === 'P')
  const rolling = walls.find(w => w.way === 'R')
  const upTo = closed ? ` to ${sayIso(closedFrom(closed, today))}` : h.lastDate ? ` to ${h.lastDate.slice(0, 4)}` : ''
  const moves = closed ? `, the wall moves ${{ D: 'every day', M: 'each month', Y: 'each January' }[closed.unit]}` : ''
  const only = rolling ? `, only since ${sayIso(openFrom(rolling, today))}` : ''
  return `Held ${from}${upTo}${moves}${only}`
}
