import { endOf } from '../bib/clean'
import { fold } from '../bib/fold'
import { readNameList } from '../match/name-list'
import { readReference, type Reference } from '../match/reference'
import type { Heading } from './headings'
import { beginsAsCaption } from './captions'
import { markedNote, partNotes } from './notes'
import { around, lettersOf, mostBy, type Line, type ReadPage } from './page'
import type { Placed } from './placed'
import { joinLines, type Words } from './text'

/** Where something stands: in points from the upper left corner of a page. */
export interface Box {
  page: number
  x: number
  y: number
  width: number
  height: number
}

/** An entry of a list of references, as it is printed and as it is read. */
export interface ListedReference {
  text: string
  /** The number or short name that the text cites it by. */
  label?: string
  boxes: Box[]
  read: Reference
}

export interface ReferenceList {
  /** What the list is headed with; none where the notes were looked through. */
  heading?: string
  /** By what the entries were told apart. */
  by: 'numbers' | 'hanging lines' | 'lines set in' | 'room between them' | 'their words' | 'a line each' | 'notes'
  entries: ListedReference[]
}

const CALLED =
  /^(?:references?(?: and notes| cited| list)?|bibliography|literature(?: cited)?|works cited|cited (?:works|literature)|list of references|sources|further reading|literatur(?:verzeichnis|hinweise|angaben)?|quellen(?: und literatur|verzeichnis)?|bibliographie|references bibliographiques|ouvrages cites|bibliografia|referencias(?: bibliograficas)?|riferimenti(?: bibliografici)?|referenser|referenslista|litteratur(?:forteckning)?|kilder|referanser|literatuur(?:lijst)?|参考文献|список литературы|литература)$/u

/** Whether a heading begins a list of references. */
export const headsReferences = (text: string): boolean =>
  CALLED.test(
    fold(text)
      .replace(/^(?:\d{1,2}(?:\.\d+)*\.?|[ivx]+\.|[a-z]\.)\s+/u, '')
      .replace(/[:.]$/, '')
      .trim(),
  )

/** Lists of references of a text: what stands beneath their headings, or in its notes where it has none. */
export function referencesOf(
  beneath: ReturnType<typeof listsBeneath>,
  pages: readonly ReadPage[],
  words: Words,
): ReferenceList[] {
  const lists = beneath.flatMap(({ heading, own }) => {
    const list = cut(inTheirSize(own), words)
    return list.entries.length ? [{ heading, ...list }] : []
  })
  if (lists.length) return lists
  const notes = fromNotes(pages, words)
  return notes.entries.length > 2 ? [notes] : []
}

/** What stands beneath each heading of references, up to what ends it. */
export const listsBeneath = (
  lines: readonly Placed[],
  headings: readonly Heading[],
): { heading: string; own: Placed[] }[] =>
  headings.flatMap((h, k) => {
    if (!headsReferences(h.text)) return []
    const next = headings.slice(k + 1).find(o => endsList(o, h, lines))
    return [{ heading: h.text, own: lines.slice(h.at + h.lines, next?.at ?? lines.length) }]
  })

/** The lines of a list without what stands between them: captions, tables and pictures have letters of another size. */
function inTheirSize(lines: readonly Placed[]): Placed[] {
  const size = mostBy(lines.map(l => [Math.round(l.size * 2) / 2, lettersOf(l.text)] as const)) ?? 0
  return lines.filter(l => Math.abs(l.size - size) < size * 0.13 && !beginsAsCaption(l.text))
}

/** A heading that ends a list is set as the one that began it, or is called as such: a title in other letters is neither. */
function endsList(o: Heading, list: Heading, lines: readonly Placed[]): boolean {
  const [a, b] = [lines[list.at]!, lines[o.at]!]
  return (
    (a.font === b.font && Math.abs(a.size - b.size) < 0.6) ||
    b.size > a.size + 0.6 ||
    /^(?:(?:\d+|[A-Z])\.?\s+)?(?:append|acknowledg|about the author|author (?:bio|info|contrib)|supplement|notes?$|index$|anhang|danksagung|annexe|remerciements|affiliation|correspondence|received)/iu.test(
      o.text,
    )
  )
}

type Cut = Pick<ReferenceList, 'by' | 'entries'>

/** Longest entry that is believed, in lines and in letters. */
const MOST_LINES = 40

/**
 * Cuts the lines of a list into entries, in the way that makes most of them look like references.
 * @param all the lines are a list and nothing else: an entry may be a line of its own, and what looks like no reference
 * is an entry still
 */
export function cut(lines: readonly Placed[], words: Words, all = false): Cut {
  const own = withColumns(lines)
  const ways: (readonly [ReferenceList['by'], boolean[]])[] = [
    ['numbers', byNumbers(own)],
    ['hanging lines', byIndent(own, 'hanging')],
    ['lines set in', byIndent(own, 'set in')],
    ['room between them', byRoom(own)],
    ['their words', byWords(own)],
    ...(all ? ([['a line each', own.map(() => true)]] as const) : []),
  ]
  let best: Cut = { by: 'their words', entries: [] }
  let most = all ? -1 : 0.45
  for (const [by, starts] of ways) {
    if (!starts.some(Boolean)) continue
    const groups = all ? grouped(own, starts, true) : endingWell(grouped(own, starts), words)
    const told = groups.map(g => plausible(joinLines(g, words)))
    const score = told.reduce((n, s, i) => n + s * groups[i]!.length, 0) / own.length
    // numbers that go up by one are rarely an accident
    const sure = score + (by === 'numbers' ? 0.15 : 0) - (all ? oddBreaks(groups) : 0)
    if (sure <= most) continue
    most = sure
    best = { by, entries: groups.flatMap((g, i) => (all || told[i]! >= 0.35 ? [entryOf(g, words)] : [])) }
  }
  return { by: best.by, entries: withSameAuthors(best.entries) }
}

interface Own extends Placed {
  /** How far in from where the lines of this list begin, in points. */
  set: number
}

/** The left edge of a list in columns that begin alike, so that one which only goes on with an entry is told. */
function withColumns(lines: readonly Placed[]): Own[] {
  const columns = new Map<number, { x: number; width: number }>()
  for (const l of lines) {
    const known = columns.get(l.column)
    const x = l.x - l.indent
    if (!known) columns.set(l.column, { x: l.x, width: x })
    else known.x = Math.min(known.x, l.x)
  }
  const lefts = [...columns.values()].map(c => c.x)
  return lines.map(l => {
    const { x } = columns.get(l.column)!
    const near = lefts.filter(o => Math.abs(o - x) < l.size * 2.6)
    return { ...l, set: l.x - Math.min(x, ...near) }
  })
}

const LABEL = /^(?:\[(\d{1,4})\]|\((\d{1,4})\)|(\d{1,4})[.)](?!\d)|(\d{1,4})(?=\s+[\p{Lu}“"]))\s*/u
const NAMED = /^\[(\p{L}[\p{L}\d+&:. -]{1,30})\]\s+/u

function byNumbers(lines: readonly Own[]): boolean[] {
  // a list writes its numbers in one manner
  const manners = [1, 2, 3, 4].map(m => chain(lines.map(l => Number(LABEL.exec(l.text)?.[m] ?? NaN))))
  const best = [...manners, lines.map(l => NAMED.test(l.text))].sort((a, b) => count(b) - count(a))[0]!
  return count(best) > 1 ? best : lines.map(() => false)
}
const count = (of: readonly boolean[]): number => of.filter(Boolean).length

/** Where numbers go up by one; one or two may not have been read. */
function chain(numbers: readonly number[]): boolean[] {
  let next: number | undefined
  return numbers.map((n, i) => {
    // the first number of a list is rarely large
    const fits = next === undefined ? n <= 3 || (i === 0 && n >= 0) : n >= next && n <= next + 2
    if (fits) next = n + 1
    return fits
  })
}

function byIndent(lines: readonly Own[], way: 'hanging' | 'set in'): boolean[] {
  const isIn = lines.map(l => l.set > l.size * 0.55)
  const n = isIn.filter(Boolean).length
  if (n < 2 || n === lines.length) return lines.map(() => false)
  return isIn.map(x => (way === 'hanging' ? !x : x))
}

function byRoom(lines: readonly Own[]): boolean[] {
  const gaps = lines.filter(l => !l.isFirst).map(l => l.gap)
  const usual = [...gaps].sort((a, b) => a - b)[Math.floor(gaps.length * 0.3)] ?? 1
  if (!gaps.some(g => g > usual * 1.18)) return lines.map(() => false)
  return lines.map((l, i) => (l.isFirst ? i === 0 || begins(lines, i) : l.gap > usual * 1.18))
}

/** Share of the entries that say a year where each is held to. */
const DATED = 0.5
/** What has figures like a year’s and is none: addresses, and pages from one to another. */
const NO_YEAR = /\bdoi: ?\S+|\b10\.\d{4,9}\/\S+|https?:\S+|\d{1,6} ?[-–] ?\d{1,6}/giu

function byWords(lines: readonly Own[]): boolean[] {
  const starts = lines.map((_, i) => i === 0 || begins(lines, i))
  const groups = grouped(lines, starts)
  const isDated = groups.map(g =>
    YEAR.test(
      g
        .map(l => l.text)
        .join(' ')
        .replace(NO_YEAR, ' '),
    ),
  )
  if (count(isDated) < DATED * groups.length) return starts
  // a short name of a journal at the head of a line reads like an author: what has no year goes on with the entry before
  const place = new Map(lines.map((l, i) => [l, i]))
  groups.forEach((g, k) => {
    if (k > 0 && !isDated[k]) starts[place.get(g[0]!)!] = false
  })
  return starts
}

/** Whether an entry begins in a line, by its words and by those of the line before. */
function begins(lines: readonly Own[], i: number): boolean {
  const before = lines[i - 1]
  if (before && !ENDS_WELL.test(before.text)) return false
  const ahead = lines
    .slice(i, i + 4)
    .map(l => l.text)
    .join(' ')
  return beginsWell(ahead) && YEAR.test(ahead.slice(0, 260))
}

const YEAR = /(?<!\d)(?:1[5-9]|20)\d{2}(?!\d)|\b(?:n\.d\.|in press|forthcoming|im Druck|s\.d\.|o\.J\.)/u
const YEARS_OF_ENTRIES = /\((?:1[5-9]|20)\d{2}[a-z]?\)|(?<=[.,] )(?:1[5-9]|20)\d{2}[a-z]?\. (?=\p{Lu}|[“"])/gu

function beginsWell(text: string): boolean {
  const bare = text.replace(LABEL, '').replace(NAMED, '').slice(0, 200)
  if (/^[-–—_]{2,}|^—/u.test(bare)) return true
  const list = readNameList(bare)
  return Boolean(list && list.sure > 0.3)
}

/** How much a stretch of text looks like one reference, 0 to 1. */
function plausible(text: string): number {
  const n = text.length
  if (n < 20) return 0
  const years = text.match(YEARS_OF_ENTRIES)?.length ?? 0
  let score = 0
  if (YEAR.test(text)) score += 0.35
  if (beginsWell(text) || /^[“"«„‘]/.test(text.replace(LABEL, ''))) score += 0.3
  if (ENDS_WELL.test(text) || text.endsWith('/')) score += 0.15
  if (n >= 40 && n <= 420) score += 0.2
  else if (n > 900) score -= 0.2
  // several works in one
  return Math.max(0, score - Math.max(0, years - 1) * 0.3)
}

function grouped(lines: readonly Own[], starts: readonly boolean[], all = false): Own[][] {
  const groups: Own[][] = []
  lines.forEach((l, i) => {
    const last = groups.at(-1)
    if (!last || (starts[i] && !/\p{L}[-‐\u00ad]$/u.test(last.at(-1)!.text))) groups.push([l])
    else if (last.length < MOST_LINES) last.push(l)
    else if (all) groups.push([l])
  })
  return groups
}

/**
 * The share of lines whose end speaks against these groups, where lines are told by their letters alone: within an entry
 * one that had room for the next word, or behind which another seems to begin; between two a full line that ends in the
 * middle of a sentence.
 */
const ENDS_WELL = /(?:[.)\]”"]|\d|\/\S+)$/u
function oddBreaks(groups: readonly Own[][]): number {
  const widest = Math.max(...groups.flat().map(l => l.width))
  const size = groups[0]![0]!.width / groups[0]![0]!.text.length
  let odd = 0
  let lines = 0
  groups.forEach((g, k) => {
    lines += g.length
    for (const [i, l] of g.entries()) {
      const next = g[i + 1]
      // letters are not equally wide
      const isWhole = ENDS_WELL.test(l.text)
      if (next && l.width + (1 + next.text.search(/\s|$/)) * size < widest * 0.8) odd++
      else if (next && isWhole && beginsWell(next.text)) odd += 0.5
      else if (!next && groups[k + 1] && l.width > widest * 0.8 && !isWhole) odd++
    }
  })
  return odd / lines
}

/** The last entry ends where its text is whole and something else stands apart from it: a figure, a table, an address. */
function endingWell(groups: Own[][], words: Words): Own[][] {
  const last = groups.at(-1)
  if (!last) return groups
  for (let i = 1; i < last.length; i++) {
    const apart = last[i]!.page !== last[i - 1]!.page || last[i]!.gap > 1.6
    const before = last[i - 1]!.text
    if (!apart || !(/[.)\]”"]$/u.test(before) || endOf(before, /\S/).slice(0, -1).includes('/'))) continue
    if (plausible(joinLines(last.slice(0, i), words)) >= 0.6) return [...groups.slice(0, -1), last.slice(0, i)]
  }
  return groups
}

function entryOf(lines: readonly Placed[], words: Words): ListedReference {
  const whole = joinLines(lines, words)
  const found = LABEL.exec(whole) ?? NAMED.exec(whole)
  // what is nothing but a number is the entry itself
  const label = found && found[0].length < whole.length ? found : undefined
  const text = label ? whole.slice(label[0].length) : whole
  const told = label?.slice(1).find(Boolean)
  return { text, ...(told ? { label: told } : {}), boxes: boxesOf(lines), read: readReference(text) }
}

/** One box for each column that the lines stand in. */
function boxesOf(lines: readonly Placed[]): Box[] {
  const columns = new Map<number, Placed[]>()
  for (const l of lines) columns.set(l.column, [...(columns.get(l.column) ?? []), l])
  return [...columns.values()].map(own => boxAround(own[0]!.page, own))
}
function boxAround(page: number, lines: readonly Line[]): Box {
  const { x, right, top, bottom } = around(lines)
  const round = (n: number) => Math.round(n * 10) / 10
  return { page, x: round(x), y: round(top), width: round(right - x), height: round(bottom - top) }
}

/** Dashes stand for the authors of the entry before. */
function withSameAuthors(entries: ListedReference[]): ListedReference[] {
  entries.forEach((e, i) => {
    const before = entries[i - 1]?.read
    if (!before || !/^[-–—_]{2,}|^—/u.test(e.text) || e.read.item.author) return
    const { author, editor } = before.item
    e.read = {
      ...e.read,
      item: { ...e.read.item, ...(author ? { author } : editor ? { editor } : {}) },
      sure: { ...e.read.sure, ...(author ? { author: (before.sure.author ?? 0.8) * 0.95 } : {}) },
    }
  })
  return entries
}

/** References that stand in notes: what reads as a work with its author, its title and its year or place. */
function fromNotes(pages: readonly ReadPage[], words: Words): ReferenceList {
  const entries = pages.flatMap((p, i) =>
    partNotes(p.notes).flatMap(lines => {
      const { label, text } = markedNote(joinLines(lines, words))
      const read = readReference(text)
      const { item, sure } = read
      const isOne =
        item.title &&
        (item.author ?? item.editor) &&
        YEAR.test(text) &&
        (sure.title ?? 0) > 0.6 &&
        plausible(text) > 0.6
      if (!isOne) return []
      return [{ text, ...(label ? { label } : {}), boxes: [boxAround(i + 1, lines)], read }]
    }),
  )
  return { by: 'notes', entries: withSameAuthors(entries) }
}
