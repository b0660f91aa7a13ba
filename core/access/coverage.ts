import { addDays, daysBetween, daysInMonth, daySpan } from '../bib/dates'
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

/** Under what a line of holdings is found: its numbers, and its title. */
export const holdingKeys = (h: Holding): string[] =>
  [
    ...new Set([h.printIdentifier, h.onlineIdentifier, titleKey(h.title)].filter(k => k !== undefined && k !== '')),
  ] as string[]

/** Under what the title is found that an item stands in: ISSN or ISBN, else its name. */
export function itemKeys(item: Partial<Item>): string[] {
  const ids = `${item.ISSN ?? ''} ${item.ISBN ?? ''}`
    .split(/[\s,;]+/)
    .flatMap(t => normaliseIssn(t) ?? normaliseIsbn(t) ?? [])
  if (ids.length) return [...new Set(ids)]
  const name = titleKey(item['container-title'] ?? (item.type === 'book' ? (item.title ?? '') : ''))
  return name ? [name] : []
}
const titleKey = (title: string): string => {
  const folded = foldTitle(title)
  return folded && `title ${folded}`
}

/** The holdings lines of the title an item stands in. */
export function linesFor(item: Item, holdings: readonly Holding[]): Holding[] {
  const index = indexOf(holdings)
  return [...new Set(itemKeys(item).flatMap(k => index.get(k) ?? []))]
}

/** Lines by their keys, looked through once for a list of works. */
const indexes = new WeakMap<readonly Holding[], Map<string, Holding[]>>()
function indexOf(holdings: readonly Holding[]): Map<string, Holding[]> {
  let index = indexes.get(holdings)
  if (index) return index
  index = new Map()
  for (const h of holdings)
    for (const key of holdingKeys(h)) {
      const list = index.get(key)
      if (list) list.push(h)
      else index.set(key, [h])
    }
  indexes.set(holdings, index)
  return index
}

/** What a file says of how much of a title is there. Without a word it is the text. */
function depthOf(h: Holding): 'text' | 'some' | 'none' | 'print' | 'unknown' {
  const said = h.coverage?.toLowerCase() ?? ''
  if (!said || /full/.test(said) || /^e-?book/.test(said)) return 'text'
  if (/select|partial|some/.test(said)) return 'some'
  if (/abstract|index|citation|contents|toc/.test(said)) return 'none'
  return /print/.test(said) ? 'print' : 'unknown'
}

interface Stretch {
  from: string
  to: string
}
const EVER: Stretch = { from: '0000-01-01', to: '9999-12-31' }
/** The days that a line covers on a day, its walls taken away: those that are sure, and those that may be. */
function stretches(h: Holding, today: string): { sure: Stretch; perhaps: Stretch } {
  const walls = readEmbargo(h.embargo ?? '') ?? []
  const of = (first: string | undefined, last: string | undefined): Stretch => {
    let from = first ? startOf(first) : EVER.from
    let to = last ? endOf(last) : EVER.to
    for (const w of walls) {
      if (w.way === 'P') to = min(to, closedFrom(w, today))
      else from = max(from, openFrom(w, today))
    }
    return { from, to }
  }
  return {
    sure: of(h.firstDate, h.lastDate),
    perhaps: of(h.firstPerhaps ?? h.firstDate, h.lastPerhaps ?? h.lastDate),
  }
}

/**
 * Decides one holdings line for an item on a day: what is there at all, then dates of coverage (volumes where the item
 * has no year), then the moving wall. A date too coarse to decide at the border is "unsure", and so is a line that cannot
 * be read to its end.
 */
export function decideCoverage(item: Item, h: Holding, today: string): CoverageAnswer {
  const answer = (held: Held, tail: string): CoverageAnswer => ({
    held,
    holding: h,
    said: `${describe(h, today)}; ${tail}`,
  })
  const plainly = (held: Held, said: string): CoverageAnswer => ({ held, holding: h, said })
  const depth = depthOf(h)
  if (depth === 'none') return plainly('no', 'Only abstracts of it are there, not the text.')
  const unclear =
    h.unclear ??
    (depth === 'some'
      ? 'only selected articles are there'
      : depth === 'unknown'
        ? `its file says “${h.coverage}” of what is there`
        : undefined)
  if (h.type === 'monograph')
    return unclear ? plainly('unsure', `Held, but ${unclear}.`) : plainly('yes', 'Held as a whole.')
  const span = daySpan(item.issued)
  if (!span) {
    const volume = Number(item.volume)
    if (!volume || !h.firstVolume) return answer('unsure', 'the record gives no date for yours.')
    const inside = volume >= Number(h.firstVolume) && volume <= Number(h.lastVolume ?? Infinity)
    const sure = inside && !h.embargo && !unclear
    return answer(
      sure ? 'yes' : inside ? 'unsure' : 'no',
      `yours is volume ${volume}: ${sure ? 'yes' : inside ? `not sure${unclear ? `, ${unclear}` : ''}` : 'no'}.`,
    )
  }
  const { sure, perhaps } = stretches(h, today)
  const yours = `yours is of ${sayDate(item)}`
  if (span.to < perhaps.from || span.from > perhaps.to) return answer('no', `${yours}: no.`)
  // what makes it unsure stands first, where lines are cut
  if (unclear) return plainly('unsure', `Not sure: ${unclear}. ${describe(h, today)}; ${yours}.`)
  if (span.from >= sure.from && span.to <= sure.to) return answer('yes', `${yours}: yes.`)
  return answer('unsure', `${yours}, which is too coarse to decide at the border.`)
}

/**
 * Decides the lines of a title together: stretches that follow each other are one, before anything is called unsure.
 * @returns an answer a line, the surest first
 */
export function decideTitle(item: Item, lines: readonly Holding[], today: string): CoverageAnswer[] {
  const order: Held[] = ['yes', 'unsure', 'no']
  const answers = lines
    .map(h => decideCoverage(item, h, today))
    .sort((a, b) => order.indexOf(a.held) - order.indexOf(b.held))
  const span = daySpan(item.issued)
  if (answers[0]?.held !== 'unsure' || !span) return answers
  const clear = lines.filter(h => !h.unclear && h.type !== 'monograph' && depthOf(h) === 'text')
  const parts = clear.map(h => ({ ...stretches(h, today).sure, h })).sort((a, b) => (a.from < b.from ? -1 : 1))
  let reached: string | undefined
  let last: Holding | undefined
  for (const p of parts) {
    if (reached === undefined ? p.from > span.from : p.from > addDays(reached, 1)) continue
    if (reached === undefined || p.to > reached) [reached, last] = [p.to, p.h]
    if (reached >= span.to) {
      const said = `Held in stretches that follow each other; yours is of ${sayDate(item)}: yes.`
      return [{ held: 'yes', holding: last!, said }, ...answers.filter(a => a.holding !== last)]
    }
  }
  return answers
}

/** Days that are looked ahead for a wall to fall. */
const AHEAD = 15 * 366

/**
 * The first day on which a line will cover an item that a moving wall keeps closed today; undefined where no wall is
 * what closes it.
 * @returns ISO date
 */
export function opensOn(item: Item, h: Holding, today: string): string | undefined {
  const walls = readEmbargo(h.embargo ?? '') ?? []
  if (!walls.some(w => w.way === 'P')) return undefined
  const isOpen = (day: string) => decideCoverage(item, h, day).held === 'yes'
  let last = addDays(today, AHEAD)
  if (isOpen(today) || !isOpen(last)) return undefined
  // walls only move on, so that it is found by halving
  let first = today
  while (addDays(first, 1) < last) {
    const middle = addDays(first, Math.floor(daysBetween(first, last) / 2))
    if (isOpen(middle)) last = middle
    else first = middle
  }
  return last
}

/** Whether a line speaks of what stands on the shelves. */
export const isPrint = (h: Holding): boolean => depthOf(h) === 'print'

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

/** A day, without its year where that is this one. */
export const sayNear = (day: string, today: string): string =>
  day.slice(0, 4) === today.slice(0, 4) ? sayIso(day).replace(/ \d{4}$/, '') : sayIso(day)

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
