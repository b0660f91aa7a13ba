/** A piece of text where a page has it: in points from the upper left corner of the page as it is seen. */
export interface Run {
  text: string
  x: number
  /** Its baseline. */
  y: number
  width: number
  /** Size of its letters in points. */
  size: number
  /** The font by whatever name the file gives it: tells only that two are the same. */
  font?: string
  /** Degrees by which it is turned against the page, clockwise: 0, 90, 180 or 270. */
  turn?: number
  /** Its letters stand one under the other. */
  upright?: boolean
}

/** A page as a file draws it. */
export interface DrawnPage {
  width: number
  height: number
  runs: readonly Run[]
}

/** A line of a column. Cells that stand apart in it are parted by tabs. */
export interface Line {
  text: string
  x: number
  /** Its baseline. */
  y: number
  width: number
  size: number
  /** The font of most of its letters. */
  font?: string
  /** Where its cells stand, if it has more than one. */
  cells?: { x: number; right: number }[]
}

/** A column of lines, or a stretch of lines over all columns. */
export interface Column {
  x: number
  width: number
  lines: Line[]
}

/** A page taken apart. */
export interface ReadPage {
  width: number
  height: number
  /** In the order in which one reads. */
  columns: Column[]
  /** Running heads and feet, top to bottom. */
  heads: Line[]
  feet: Line[]
  /** Notes at the foot of columns. */
  notes: Line[]
}

/** Room that a run takes, from the top of its tall letters to the bottom of its long ones. */
export const topOf = (r: Pick<Run, 'y' | 'size'>): number => r.y - r.size * 0.75
export const bottomOf = (r: Pick<Run, 'y' | 'size'>): number => r.y + r.size * 0.22

export const lettersOf = (text: string): number => text.replace(/[^\p{L}\p{N}]/gu, '').length

/** The room that pieces take together; a page may have more of them than a call takes arguments. */
export function around(of: Iterable<Pick<Run, 'x' | 'y' | 'width' | 'size'>>): {
  x: number
  right: number
  top: number
  bottom: number
} {
  const room = { x: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity }
  for (const o of of) {
    room.x = Math.min(room.x, o.x)
    room.right = Math.max(room.right, o.x + o.width)
    room.top = Math.min(room.top, topOf(o))
    room.bottom = Math.max(room.bottom, bottomOf(o))
  }
  return room
}

/** What most letters have. */
export function mostBy<T>(of: Iterable<readonly [T, number]>): T | undefined {
  const votes = new Map<T, number>()
  for (const [what, n] of of) votes.set(what, (votes.get(what) ?? 0) + n)
  let best: T | undefined
  let most = 0
  for (const [what, n] of votes) if (n > most) [best, most] = [what, n]
  return best
}

/** The middle one of numbers; 0 of none. */
export function middleOf(numbers: readonly number[]): number {
  const sorted = [...numbers].sort((a, b) => a - b)
  return sorted[sorted.length >> 1] ?? 0
}
