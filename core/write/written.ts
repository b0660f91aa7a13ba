import { cleanText } from '../bib/clean'
import { inOneLine } from '../bib/fold'
import type { RichRun } from '../cite/rich-text'
import type { Stretch } from '../bib/sentences'

export const LOOKS = ['emphasis', 'strong', 'raised', 'lowered'] as const
export type Look = (typeof LOOKS)[number]
/** What a line is where it is no plain paragraph: a quotation that stands by itself, or an item of a list. */
export const LINES = ['quotation', 'bullet', 'number'] as const
export type LineKind = (typeof LINES)[number]

export interface CitedPlace {
  work: number
  /** The page, or the pages with a dash; empty where the work as a whole is cited. */
  page: string
}
/** A work as it is cited in a text, alone or with others in the same brackets. */
export interface Citing extends CitedPlace {
  /** Its authors stand in the sentence, and the rest behind them in brackets: of one work alone. */
  named: boolean
  also?: CitedPlace[] | undefined
}
/** All that a citation cites, each with its page, in the order in which they were put in. */
export const placesOf = ({ work, page, also = [] }: Citing): CitedPlace[] => [{ work, page }, ...also]
/** The most works in one citation. */
export const TOGETHER = 20
/** Works cited together, as one citation; undefined where there are none. */
export function citingOf(places: readonly CitedPlace[], named: boolean): Citing | undefined {
  const [first, ...also] = places
  if (!first) return undefined
  return { ...first, named: named && !also.length, ...(also.length ? { also } : {}) }
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

const isLine = (is: Mark['is']): is is LineKind => LINES.some(l => l === is)
const inOrder = (a: Mark, b: Mark): number => a.from - b.from || a.to - b.to || (a.is < b.is ? -1 : a.is > b.is ? 1 : 0)

/** The lines of a text, without their breaks. */
function linesIn(text: string): Stretch[] {
  let from = 0
  return text.split('\n').map(line => {
    const to = from + line.length
    const at = { from, to }
    from = to + 1
    return at
  })
}

/** The last of sorted stretches that begins no later than a place; -1 where none does. */
function lastBefore(sorted: readonly Stretch[], place: number): number {
  let [low, high] = [-1, sorted.length - 1]
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (sorted[middle]!.from <= place) low = middle
    else high = middle - 1
  }
  return low
}
/** That of sorted stretches that do not overlap within which another lies. */
function around<T extends Stretch>(sorted: readonly T[], { from, to }: Stretch): T | undefined {
  const last = sorted[lastBefore(sorted, from)]
  return last && last.to >= to ? last : undefined
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
  for (const is of LOOKS)
    for (const s of joined(wanted.filter(w => w.is === is)))
      for (let i = lastBefore(lines, s.from); i < lines.length && lines[i]!.from < s.to; i++) {
        const [from, to] = [Math.max(lines[i]!.from, s.from), Math.min(lines[i]!.to, s.to)]
        if (from < to) out.push({ from, to, is })
      }
  // of a line the first that covers it counts
  let next = 0
  for (const m of wanted) {
    if (!isLine(m.is)) continue
    for (next = Math.max(next, lastBefore(lines, m.from)); next < lines.length && lines[next]!.from < m.to; next++) {
      const { from, to } = lines[next]!
      // at the end of a line none of its letters is covered
      if (from < to && to > m.from) out.push({ from, to, is: m.is })
    }
  }
  let end = 0
  for (const { from, to, is, cites } of wanted) {
    if (is !== 'cites' || !cites || from < end || !around(lines, { from, to })) continue
    const places = placesOf(cites).map(({ work, page }) => ({ work, page }))
    out.push({ from, to, is, cites: citingOf(places, cites.named)! })
    end = to
  }
  return out.sort(inOrder)
}

/** Sorted stretches as one where they meet. */
function joined(sorted: readonly Stretch[]): Stretch[] {
  const out: Stretch[] = []
  for (const { from, to } of sorted) {
    const last = out.at(-1)
    if (last && from <= last.to) last.to = Math.max(last.to, to)
    else out.push({ from, to })
  }
  return out
}

/** How a citation reads in a style. */
export interface Said {
  text: string
  /** It stands above the line, as the numbers of some styles do. */
  raised: boolean
}

/** What citations are known by: the same works on the same pages in the same form. */
export const citingKey = (c: Citing): string =>
  JSON.stringify([c.named, ...placesOf(c).flatMap(({ work, page }) => [work, page])])

/** The citations of texts, each once. */
export function citingsIn(all: readonly { marks: readonly Mark[] }[]): Citing[] {
  const found = all.flatMap(w => w.marks.flatMap(m => m.cites ?? []))
  return [...new Map(found.map(c => [citingKey(c), c])).values()]
}

/** Where a text about a work cites others. */
export const citesOfOthers = (marks: readonly Mark[], work: number): Mark[] =>
  marks.filter(m => m.cites && placesOf(m.cites).some(p => p.work !== work))

/** How the citations of a text read in it. */
export function lettersOf({ text, marks }: Written): Map<string, Said> {
  const raised = joined(marks.filter(m => m.is === 'raised').sort(inOrder))
  return new Map(
    marks.flatMap(m =>
      m.cites
        ? [[citingKey(m.cites), { text: text.slice(m.from, m.to), raised: around(raised, m) !== undefined }] as const]
        : [],
    ),
  )
}

/**
 * A text with its citations as they read now; one that is not known any more stands as it was.
 * @param now by `citingKey`
 */
export function asCited(written: Written, now: ReadonlyMap<string, Said>): Written {
  const { text } = written
  const fit = fitMarks(text, written.marks)
  const known = fit.flatMap(({ from, to, cites }) => {
    const said = cites && now.get(citingKey(cites))
    const line = said && inOneLine(said.text)
    return line ? [{ from, to, said: line, raised: said.raised }] : []
  })
  const marks = raisedAs(fit, known)
  let out = ''
  let at = 0
  /** By how many letters all stands further behind a citation. */
  let by = 0
  const changes = known.map(({ from, to, said }) => {
    out += text.slice(at, from) + said
    at = to
    const before = by
    by += said.length - (to - from)
    return { from, to, said, before, behind: by }
  })
  out += text.slice(at)
  /** Where a place of the text stands then: within what was changed, at one of its ends. */
  const moved = (place: number, isEnd: boolean): number => {
    const c = changes[lastBefore(changes, isEnd ? place - 1 : place)]
    if (!c) return place
    if (place >= c.to) return place + c.behind
    return c.from + c.before + (isEnd ? c.said.length : 0)
  }
  return {
    text: out,
    marks: fitMarks(
      out,
      marks.map(m => ({ ...m, from: moved(m.from, false), to: moved(m.to, true) })),
    ),
  }
}

/** Marks with those citations raised that are to be, and no others: that is the style's, not the writer's. */
function raisedAs(fit: readonly Mark[], known: readonly (Stretch & { raised: boolean })[]): Mark[] {
  const out: Mark[] = known.filter(k => k.raised).map(({ from, to }) => ({ from, to, is: 'raised' }))
  for (const m of fit) {
    if (m.is !== 'raised') {
      out.push(m)
      continue
    }
    let at = m.from
    for (let i = Math.max(0, lastBefore(known, m.from)); i < known.length && known[i]!.from < m.to; i++) {
      const { from, to } = known[i]!
      if (to <= at) continue
      out.push({ ...m, from: at, to: from })
      at = to
    }
    out.push({ ...m, from: at })
  }
  return out
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
  const cited = fit.filter(m => m.is === 'cites')
  const looks = LOOKS.map(is => fit.filter(m => m.is === is))
  const kinds = new Map(fit.flatMap(m => (isLine(m.is) ? [[m.from, m.is] as const] : [])))
  let next = 0
  return linesIn(text).map(line => {
    const ends = new Set([line.from, line.to])
    // marks keep within their lines, and stand in order
    for (; next < fit.length && fit[next]!.from < line.to; next++) {
      const { is, from, to } = fit[next]!
      // a citation is one run, whatever looks parts of it have
      for (const end of [from, to]) if (is === 'cites' || !isInside(cited, end)) ends.add(end)
    }
    const cuts = [...ends].sort((a, b) => a - b)
    const runs = cuts.slice(1).map((to, i): WrittenRun => {
      const from = cuts[i]!
      const cites = around(cited, { from, to })?.cites
      return {
        text: text.slice(from, to),
        looks: LOOKS.filter((_, l) => around(looks[l]!, { from, to })).sort(),
        ...(cites ? { cites } : {}),
      }
    })
    return { kind: kinds.get(line.from), runs }
  })
}
/** Whether a place lies within one of sorted stretches, at neither of its ends. */
function isInside(sorted: readonly Stretch[], place: number): boolean {
  const last = sorted[lastBefore(sorted, place - 1)]
  return last !== undefined && place < last.to
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
