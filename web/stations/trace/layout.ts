/** A work to be drawn at its year on its stem. */
export interface ToLay {
  at: number
  year: number
  stem: number
}
export interface Laid extends ToLay {
  x: number
  y: number
  /** Whether it stands above its stem. */
  up: boolean
}
export interface Laying {
  width: number
  height: number
  /** Room for the names of stems at the left, and beside the last year. */
  left: number
  right: number
  /** Years that are shown. */
  from: number
  to: number
  stems: number
}

/** A leaf is so wide, and so high that the next one stands clear of it. */
const LEAF = { width: 13, height: 10 }

export const xOf = ({ width, left, right, from, to }: Laying, year: number): number =>
  left + ((year - from + 0.5) / Math.max(1, to - from + 1)) * (width - left - right)

/** The height of a stem at x: it sways a little. */
export function stemAt({ height, stems }: Laying, stem: number, x: number): number {
  const gap = height / Math.max(1, stems)
  return gap * (stem + 0.42) + Math.sin(x / 34 + stem * 1.7) * Math.min(4, gap / 24)
}

/** Where the tally of strokes of a stem stands: its floor. */
export const floorOf = ({ height, stems }: Laying, stem: number): number => {
  const gap = height / Math.max(1, stems)
  return gap * (stem + 0.42) + Math.min(52, gap * 0.4)
}

/**
 * Leaves at their years, alternating above and below their stem; those of one year stand beside one another as far as
 * the year is wide, and then away from the stem. The same leaves stand in the same places, whatever order they come in.
 */
export function layLeaves(list: readonly ToLay[], laying: Laying): Laid[] {
  const { from, to, width, left, right, height, stems } = laying
  const yearWidth = (width - left - right) / Math.max(1, to - from + 1)
  const columns = Math.max(1, Math.floor(yearWidth / LEAF.width))
  // no leaf leaves the room of its stem
  const room = Math.max(LEAF.height, (height / Math.max(1, stems)) * 0.4 - LEAF.height)
  const sorted = [...list].filter(l => l.year >= from && l.year <= to).sort((a, b) => a.year - b.year || a.at - b.at)
  const filled = new Map<string, number>()
  return sorted.map(l => {
    const key = `${l.stem} ${l.year}`
    const k = filled.get(key) ?? 0
    filled.set(key, k + 1)
    const up = k % 2 === 0
    const place = k >> 1
    const column = place % columns
    const row = Math.floor(place / columns)
    const shift = (column - (Math.min(columns, 1 + place) - 1) / 2) * LEAF.width
    const x = xOf(laying, l.year) + Math.max(-yearWidth / 2, Math.min(yearWidth / 2, shift))
    const lift = Math.min(room, row * LEAF.height)
    return { ...l, x, y: stemAt(laying, l.stem, x) + (up ? -lift : lift), up }
  })
}

/** Years that the given ones span, with a little air, at least twelve. */
export function spanOf(years: readonly number[], thisYear: number): { from: number; to: number } {
  const known = years.filter(y => y > 0)
  const to = Math.max(thisYear, ...(known.length ? [Math.max(...known)] : []))
  const from = known.length ? Math.min(...known) : to - 12
  return { from: Math.min(from - 1, to - 12), to }
}

/** The year before which a quarter of the strokes stand. */
export function quarterYear(strokes: readonly { year: number; n: number }[]): number | undefined {
  const sorted = [...strokes].sort((a, b) => a.year - b.year)
  let left = sorted.reduce((sum, s) => sum + s.n, 0) / 4
  return sorted.find(s => (left -= s.n) <= 0)?.year
}

/** Years at which a line is drawn: round ones, not closer than 64 px. */
export function ticksOf(laying: Laying): number[] {
  const { from, to, width, left, right } = laying
  const perYear = (width - left - right) / Math.max(1, to - from + 1)
  const step = [1, 2, 5, 10, 20, 50].find(s => s * perYear >= 64) ?? 100
  const first = Math.ceil(from / step) * step
  return Array.from({ length: Math.max(0, Math.floor((to - first) / step) + 1) }, (_, i) => first + i * step)
}

/** A tendril between two places: it leaves the one sideways and comes to the other sideways. */
export function tendril(a: { x: number; y: number }, b: { x: number; y: number }): string {
  const reach = Math.max(18, Math.abs(b.x - a.x) * 0.45)
  const side = b.x >= a.x ? 1 : -1
  // works of one stem are joined by a bow over it
  const bow = Math.abs(b.y - a.y) < 14 ? -Math.min(46, 12 + Math.abs(b.x - a.x) / 7) : 0
  return `M${r(a.x)} ${r(a.y)} C${r(a.x + side * reach)} ${r(a.y + bow)} ${r(b.x - side * reach)} ${r(b.y + bow)} ${r(b.x)} ${r(b.y)}`
}
const r = (n: number): number => Math.round(n * 10) / 10

/** Names beside their places: of those that would lie on one another, the first. */
export function labelsClear<T extends { x: number; y: number; width: number }>(list: readonly T[], height = 28): T[] {
  const kept: T[] = []
  for (const l of list)
    if (!kept.some(k => Math.abs(k.x - l.x) < (k.width + l.width) / 2 + 6 && Math.abs(k.y - l.y) < height)) kept.push(l)
  return kept
}

export interface Rect {
  x: number
  y: number
  width: number
  height: number
}
/** How much of one another two rectangles cover, in square pixels. */
const overlap = (a: Rect, b: Rect): number =>
  Math.max(0, Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x)) *
  Math.max(0, Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y))

/**
 * Where a name of the given size stands beside its place: on the side where it covers least of what is drawn, and
 * within the room.
 */
export function beside(
  at: { x: number; y: number },
  size: { width: number; height: number },
  room: { width: number; height: number },
  drawn: readonly Rect[],
): Rect {
  const clamp = (v: number, most: number) => Math.max(4, Math.min(most - 4, v))
  const places = [at.x - size.width - 12, at.x + 16, at.x - size.width / 2].flatMap(x =>
    [at.y - size.height - 14, at.y + 24, at.y - size.height - 40, at.y + 50].map(y => ({
      ...size,
      x: clamp(x, room.width - size.width),
      y: clamp(y, room.height - size.height),
    })),
  )
  const own = { x: at.x - 8, y: at.y - 10, width: 24, height: 20 }
  const covered = (r: Rect) => drawn.reduce((sum, d) => sum + overlap(r, d), overlap(r, own) * 4)
  return places.reduce((best, r) => (covered(r) < covered(best) ? r : best))
}
