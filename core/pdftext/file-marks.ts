import { cleanText, firstLetters } from '../bib/clean'
import { fold } from '../bib/fold'
import type { PageBox } from './anchor'
import { linesOf } from './turned'

/** What somebody marked in a PDF (ISO 32000-2, 12.5.6), as a reader of files tells it. */
export interface ToldMark {
  /** Tells it from the others of its file. */
  key: string
  /** Its subtype in the file: “Highlight”, “Text”. */
  subtype: string
  page: number
  /** The letters of the page that it lies over, lines parted by line ends. */
  words: string
  /** What was written to it. */
  note: string
  /** Who made it, as it says itself. */
  by: string
  /** ISO 8601, where it says when it was changed or made. */
  at: string | null
  /** #rrggbb. */
  colour: string | null
  boxes: PageBox[]
  /** The mark it answers, or belongs to. */
  of: string | null
  /** It says how far work on another has come, and nothing in words. */
  isState: boolean
}

/** How a mark looks in its file. */
export const HOW = {
  Highlight: 'highlighted',
  Underline: 'underlined',
  Squiggly: 'underlined',
  StrikeOut: 'struck out',
  Square: 'boxed',
  Circle: 'boxed',
  Polygon: 'boxed',
  Text: 'note',
  FreeText: 'note',
  Caret: 'note',
  Ink: 'drawn',
  Line: 'drawn',
  PolyLine: 'drawn',
  Stamp: 'drawn',
} as const
export type How = (typeof HOW)[keyof typeof HOW]
const isKnown = (subtype: string): subtype is keyof typeof HOW => Object.hasOwn(HOW, subtype)

/** A mark of a file as it can become a passage. */
export interface FileMark {
  key: string
  page: number
  how: How
  kind: 'quoted' | 'in my words' | 'figure'
  quote: string
  note: string
  by: string
  at: string | null
  colour: string | null
  boxes: PageBox[]
}
export interface FileMarks {
  marks: FileMark[]
  /** Drawings to which nothing was written: they stay in the file alone. */
  drawings: number
  /** Marks beyond those that are read. */
  left: number
  /** Pages whose marks cannot be read. */
  unread: number
}

/** Marks of a file that are read. */
export const MOST_MARKS = 2000
/** Letters that all of them take together, written as JSON. */
const MOST_LETTERS = 2_000_000
/** Letters of what is quoted, and of a note. */
const LONGEST = 16_000
/** Places of a mark that are kept, as of a passage. */
const MOST_BOXES = 200
/** Letters of who made it. */
const LONGEST_NAME = 100

/** Words over lines as one, without the hyphens that a line's end put in. */
const inOne = (words: string): string =>
  cleanText(words)
    .replace(/(\p{L})[-\u00ad]\n(?=\p{Ll})/gu, '$1')
    .replace(/\s+/g, ' ')
    .trim()

/**
 * The marks of a file as passages: words that are marked are quoted, a box is a figure, what is written on the page is a
 * note. Answers are put to what they answer, with who wrote them.
 */
export function readFileMarks(told: readonly ToldMark[]): Omit<FileMarks, 'unread'> {
  const known = told.filter(t => isKnown(t.subtype) && !t.isState)
  const byKey = new Map(known.map(t => [t.key, t]))
  const threads = new Map<string, ToldMark[]>()
  for (const t of known) {
    const root = rootOf(t, byKey)
    const thread = threads.get(root)
    if (thread) thread.push(t)
    else threads.set(root, [t])
  }
  const marks: FileMark[] = []
  let drawings = 0
  for (const [key, thread] of threads) {
    const mark = markOf(byKey.get(key)!, thread)
    if (mark) marks.push(mark)
    else drawings++
  }
  const inOrder = marks.sort((a, b) => a.page - b.page || (a.boxes[0]?.y ?? 0) - (b.boxes[0]?.y ?? 0))
  let room = MOST_LETTERS
  const kept = inOrder.slice(0, MOST_MARKS).filter(m => (room -= JSON.stringify(m).length) >= 0)
  return { marks: kept, drawings, left: inOrder.length - kept.length }
}

/** What a mark answers in the end; in a ring, itself. */
function rootOf(t: ToldMark, byKey: ReadonlyMap<string, ToldMark>): string {
  const seen = new Set([t.key])
  let at = t
  for (let up = at.of; up && byKey.has(up); up = at.of) {
    if (seen.has(up)) return t.key
    seen.add(up)
    at = byKey.get(up)!
  }
  return at.key
}

const rounded = ({ page, x, y, width, height }: PageBox): PageBox => ({
  ...{ page, x: tenth(x), y: tenth(y), width: tenth(width), height: tenth(height) },
})
const tenth = (n: number): number => Math.round(n * 10) / 10

function markOf(root: ToldMark, thread: readonly ToldMark[]): FileMark | undefined {
  // words that are to be replaced are marked by one of a pair, and what for by the other
  const all = [root, ...thread.filter(t => t !== root)]
  const worded = all.find(t => inOne(t.words)) ?? root
  const quote = firstLetters(inOne(worded.words), LONGEST)
  const said: string[] = []
  for (const t of all) {
    const note = cleanText(t.note).trim()
    // some write the marked words into the note as well
    if (!note || fold(note) === fold(quote)) continue
    const line = t === root || t.by === root.by ? note : `${t.by}: ${note}`
    if (!said.includes(line) && !said.includes(note)) said.push(line)
  }
  const note = firstLetters(said.join('\n'), LONGEST)
  const how = HOW[worded.subtype as keyof typeof HOW]
  const kind = quote ? 'quoted' : how === 'note' ? 'in my words' : 'figure'
  if (kind === 'in my words' && !note) return undefined
  // strokes of a pen come by the dozen, and are seen in the file alone
  if (how === 'drawn' && !note) return undefined
  const { page } = worded
  const boxes = linesOf(worded.boxes).slice(0, MOST_BOXES).map(rounded)
  const { key, at, colour } = root
  return {
    ...{ key, page, how, kind, quote, note, at, colour, boxes },
    by: firstLetters(cleanText(root.by), LONGEST_NAME),
  }
}
