import { cleanText } from '../bib/clean'
import { inOneLine } from '../bib/fold'
import type { RichRun } from '../cite/rich-text'
import type { Stretch } from './closeness'

export const LOOKS = ['emphasis', 'strong', 'raised', 'lowered'] as const
export type Look = (typeof LOOKS)[number]
/** What a line is where it is no plain paragraph: a quotation that stands by itself, or an item of a list. */
export const LINES = ['quotation', 'bullet', 'number'] as const
export type LineKind = (typeof LINES)[number]

/** A work as it is cited in a text. */
export interface Citing {
  work: number
  /** The page, or the pages with a dash; empty where the work as a whole is cited. */
  page: string
  /** Its authors stand in the sentence, and the rest behind them in brackets. */
  named: boolean
}
export interface Mark extends Stretch {
  is: Look | LineKind | 'cites'
  /** Of a stretch that cites: its letters are how the style had it when it was written last. */
  cites?: Citing | undefined
}

/**
 * Words with what stretches of them are. The text alone is always readable: a line each paragraph, a citation as the style
 * had it.
 */
export interface Written {
  text: string
  /** In the order of where they begin. */
  marks: Mark[]
}

export const plainWritten = (text: string): Written => ({ text, marks: [] })

const isLook = (is: Mark['is']): is is Look => LOOKS.some(l => l === is)
const isLine = (is: Mark['is']): is is LineKind => LINES.some(l => l === is)
const inOrder = (a: Mark, b: Mark): number => a.from - b.from || a.to - b.to || (a.is < b.is ? -1 : a.is > b.is ? 1 : 0)

/** A line of a text, without its break. */
interface Line extends Stretch {
  kind?: LineKind | undefined
}
function linesIn(text: string): Line[] {
  let from = 0
  return text.split('\n').map(line => {
    const to = from + line.length
    const at = { from, to }
    from = to + 1
    return at
  })
}

/**
 * Marks as they are kept: within the text, looks within lines and joined where they meet, lines whole and of one kind,
 * citations beside each other. The same marks in another order, or cut otherwise, become the same.
 */
export function fitMarks(text: string, given: readonly Mark[]): Mark[] {
  const lines = linesIn(text)
  const wanted = given
    .map(m => ({ ...m, from: Math.max(0, m.from), to: Math.min(text.length, m.to) }))
    .filter(m => m.from < m.to)
    .sort(inOrder)
  const out: Mark[] = []
  for (const look of LOOKS) {
    let last: Mark | undefined
    for (const m of wanted.filter(w => w.is === look)) {
      for (const { from, to } of cutBy(lines, m)) {
        if (last && from <= last.to) last.to = Math.max(last.to, to)
        else out.push((last = { from, to, is: look }))
      }
    }
  }
  const of = new Map<Line, LineKind>()
  for (const m of wanted) if (isLine(m.is)) for (const line of within(lines, m)) if (!of.has(line)) of.set(line, m.is)
  for (const [{ from, to }, is] of of) if (from < to) out.push({ from, to, is })
  let end = 0
  for (const { from, to, is, cites } of wanted) {
    if (is !== 'cites' || !cites || from < end || text.slice(from, to).includes('\n')) continue
    const { work, page, named } = cites
    out.push({ from, to, is, cites: { work, page, named } })
    end = to
  }
  return out.sort(inOrder)
}

/** Lines that a stretch has letters of. */
function within(lines: readonly Line[], { from, to }: Stretch): Line[] {
  // the last line that begins no later than the stretch: there it begins
  let [low, high] = [0, lines.length - 1]
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (lines[middle]!.from <= from) low = middle
    else high = middle - 1
  }
  const out: Line[] = []
  for (let i = low; i < lines.length && lines[i]!.from < to; i++)
    if (lines[i]!.from < lines[i]!.to && lines[i]!.to > from) out.push(lines[i]!)
  return out
}
const cutBy = (lines: readonly Line[], s: Stretch): Stretch[] =>
  within(lines, s).map(l => ({ from: Math.max(l.from, s.from), to: Math.min(l.to, s.to) }))

/** How a citation reads in a style. */
export interface Said {
  text: string
  /** It stands above the line, as the numbers of some styles do. */
  raised: boolean
}

/** What citations are known by: the same work on the same page in the same form. */
export const citingKey = ({ work, page, named }: Citing): string => `${work} ${named ? 'named' : ''} ${page}`

/** The citations of texts, each once. */
export function citingsIn(all: readonly { marks: readonly Mark[] }[]): Citing[] {
  const found = all.flatMap(w => w.marks.flatMap(m => m.cites ?? []))
  return [...new Map(found.map(c => [citingKey(c), c])).values()]
}

/**
 * A text with its citations as they read now; one that is not known any more stands as it was.
 * @param now by `citingKey`
 */
export function asCited(written: Written, now: ReadonlyMap<string, Said>): Written {
  const { text } = written
  const known = written.marks.flatMap(({ from, to, cites }) => {
    const said = cites && now.get(citingKey(cites))
    const line = said && inOneLine(said.text)
    return line ? [{ from, to, said: line, raised: said.raised }] : []
  })
  const changes = known.filter(({ from, to, said }) => said !== text.slice(from, to))
  const marks = raisedAs(written, known)
  if (!changes.length) return { text, marks: fitMarks(text, marks) }
  let out = ''
  let at = 0
  for (const c of changes) {
    out += text.slice(at, c.from) + c.said
    at = c.to
  }
  out += text.slice(at)
  /** Where a place of the text stands then: within what was changed, at one of its ends. */
  const moved = (place: number, isEnd: boolean): number => {
    let by = 0
    for (const { from, to, said } of changes) {
      if (place <= from) break
      if (place < to) return from + by + (isEnd ? said.length : 0)
      by += said.length - (to - from)
    }
    return place + by
  }
  return {
    text: out,
    marks: fitMarks(
      out,
      marks.map(m => ({ ...m, from: moved(m.from, false), to: moved(m.to, true) })),
    ),
  }
}

/** The marks with those citations raised that are to be, and no others: that is the style's, not the writer's. */
function raisedAs({ marks }: Written, known: readonly (Stretch & { raised: boolean })[]): Mark[] {
  const others = known.reduce<Mark[]>(
    (all, { from, to }) =>
      all.flatMap(m =>
        m.is !== 'raised' || m.to <= from || m.from >= to
          ? [m]
          : [
              { ...m, to: from },
              { ...m, from: to },
            ],
      ),
    [...marks],
  )
  return [...others, ...known.filter(k => k.raised).map(({ from, to }): Mark => ({ from, to, is: 'raised' }))]
}

/** Two texts, the second beneath the first. */
export function beneath(a: Written, b: Written): Written {
  if (!a.text || !b.text) return a.text ? a : b
  const by = a.text.length + 1
  return {
    text: `${a.text}\n${b.text}`,
    marks: [...a.marks, ...b.marks.map(m => ({ ...m, from: m.from + by, to: m.to + by }))],
  }
}

/** A stretch of a line in one look. */
export interface WrittenRun {
  text: string
  looks: Look[]
  cites?: Citing | undefined
}
export interface WrittenLine {
  kind: LineKind | undefined
  runs: WrittenRun[]
}

/** A text line by line, each cut where its looks change. */
export function linesOf({ text, marks }: Written): WrittenLine[] {
  const fit = fitMarks(text, marks)
  let next = 0
  return linesIn(text).map(line => {
    const own: Mark[] = []
    // marks keep within their lines, and stand in order
    for (; next < fit.length && fit[next]!.from < line.to; next++) own.push(fit[next]!)
    const ends = [...new Set([line.from, line.to, ...own.flatMap(m => [m.from, m.to])])].sort((a, b) => a - b)
    // a citation is one run, whatever looks parts of it have
    const cited = own.filter(m => m.is === 'cites')
    const cuts = ends.filter(e => !cited.some(c => c.from < e && e < c.to))
    const runs = cuts.slice(1).map((to, i): WrittenRun => {
      const from = cuts[i]!
      const over = own.filter(m => m.from <= from && m.to >= to)
      const cites = over.find(m => m.cites)?.cites
      return {
        text: text.slice(from, to),
        looks: over.flatMap(m => (isLook(m.is) ? [m.is] : [])).sort(),
        ...(cites ? { cites } : {}),
      }
    })
    return { kind: own.map(m => m.is).find(isLine), runs }
  })
}

/** The text of lines, with their marks. */
export function writtenOf(lines: readonly WrittenLine[]): Written {
  let text = ''
  const marks: Mark[] = []
  lines.forEach(({ kind, runs }, i) => {
    if (i) text += '\n'
    const begin = text.length
    for (const r of runs) {
      const [from, to] = [text.length, text.length + r.text.length]
      text += r.text
      for (const is of r.looks) marks.push({ from, to, is })
      if (r.cites) marks.push({ from, to, is: 'cites', cites: r.cites })
    }
    if (kind) marks.push({ from: begin, to: text.length, is: kind })
  })
  return { text, marks: fitMarks(text, marks) }
}

/** Lines as they print: those of nothing are none, and white space at their ends is none. */
export function printedLines(written: Written): { kind: LineKind | undefined; runs: RichRun[] }[] {
  return linesOf(written).flatMap(({ kind, runs }) => {
    const made = runs.map(({ text, looks }): RichRun => {
      const run: RichRun = { text: cleanText(text) }
      if (looks.includes('emphasis')) run.italic = true
      if (looks.includes('strong')) run.bold = true
      if (looks.includes('raised')) run.raised = 'super'
      else if (looks.includes('lowered')) run.raised = 'sub'
      return run
    })
    while (made.length && !made[0]!.text.trim()) made.shift()
    while (made.length && !made.at(-1)!.text.trim()) made.pop()
    if (!made.length) return []
    made[0]!.text = made[0]!.text.trimStart()
    made.at(-1)!.text = made.at(-1)!.text.trimEnd()
    return [{ kind, runs: made }]
  })
}
