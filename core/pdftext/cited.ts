import { yearOf } from '../bib/dates'
import { fold } from '../bib/fold'
import type { Item } from '../bib/item'
import { lettersIn, type Letters } from '../bib/found'
import { familyName } from '../bib/names'
import { sentencesOf, type Stretch } from '../bib/sentences'
import { sentenceOf, type Citation, type CitingSentence } from './cited-sentence'

/** An entry of a list of references, as far as it is needed to find where it is cited. */
export interface Listed {
  n: number
  label: string | null
  text: string
  item: Partial<Item>
  /** Where it stands; its first tells the page of its beginning. */
  boxes: readonly { page: number }[]
}

/** Numbers in a row and in runs: 3, 5–7. */
const ROW = String.raw`\d{1,3}(?:\s*[,;–—-]\s*\d{1,3}){0,40}`
const BRACKETS = new RegExp(String.raw`\[\s*(${ROW})\s*\]`, 'g')
const IN_ROUND = new RegExp(String.raw`\(\s*(${ROW})\s*\)`, 'g')
/** Raised ones, behind a word or the sign that ends it: lamps³, lamps.³⁻⁵ */
const RAISED =
  /(\p{L}{3}|[.,;:!?)\]”"’»%]|\b(?:1[5-9]|20)\d\d)([⁰¹²³⁴-⁹]{1,3}(?:[,⁻–-] ?[⁰¹²³⁴-⁹]{1,3}){0,40})(?![\d\p{L}])/gu
const FIGURES = '⁰¹²³⁴⁵⁶⁷⁸⁹'
/** Labels of letters and figures in brackets: [Ast99], [AB+04, p. 3]. */
const LABELS = /\[([\p{L}\d+*’'.-]{2,20}(?:, ?[^\]\n]{1,80})?)\]/gu
const YEARS = /\b((?:1[5-9]|20)\d\d)([a-z])?\b/g
/** So far before a year stand the names that go with it, in letters. */
const NAMES = 110
/** The same where they stand within brackets. */
const ALL_NAMES = 700
/** Letters by which the beginning and the end of an entry are found on its page. */
const ENDS = 24
/** Share of the entries that are labelled where a text cites by labels. */
const LABELLED = 0.6
/** On the first pages raised figures stand behind names, too. */
const FRONT = 2

/**
 * Where in its text each entry of a list of references is cited: by its number, in brackets or raised, by its label, or
 * by the name of its first author before its year; in the manner that leads to most entries.
 * @param pages words of the text, page by page, a paragraph a line
 * @returns by the number of the entry, its places in order
 */
export function citedIn(pages: readonly string[], list: readonly Listed[]): Map<number, CitingSentence[]> {
  const found = new Map<number, CitingSentence[]>()
  const sentences = new Map<number, Stretch[]>()
  const on = (page: number) => {
    let there = sentences.get(page)
    if (!there) sentences.set(page, (there = sentencesOf(pages[page - 1] ?? '')))
    return there
  }
  for (const c of citations(withoutLists(pages, list), list)) {
    const place = { page: c.page, ...sentenceOf(pages, c, on) }
    const there = found.get(c.n)
    if (there) there.push(place)
    else found.set(c.n, [place])
  }
  return found
}

/** Letters around a citation by which it is told from others that read the same. */
const AROUND = 40

/**
 * A citation on a page of which the words were read in another way, by its letters and those around it.
 * @returns its place in the text whose letters they are; undefined where it is not there, or may be in several places
 */
export function citationOn(page: Letters, { said, at }: Pick<CitingSentence, 'said' | 'at'>): Stretch | undefined {
  const [before, own, after] = [
    said.slice(Math.max(0, at.from - AROUND), at.from),
    said.slice(at.from, at.to),
    said.slice(at.to, at.to + AROUND),
  ].map(s => lettersIn(s).letters) as [string, string, string]
  if (!own) return undefined
  // a sentence over the end of a page has what stands around it elsewhere
  for (const [b, a] of [
    [before, after],
    [before, ''],
    ['', after],
  ] as const) {
    const piece = b + own + a
    const i = page.letters.indexOf(piece)
    if (i < 0 || page.letters.includes(piece, i + 1)) continue
    return { from: page.from[i + b.length]!, to: page.to[i + b.length + own.length - 1]! }
  }
  return undefined
}

function citations(texts: readonly string[], list: readonly Listed[]): Citation[] {
  const numbers = labelledBy(list, e => numberOf(e.label)?.toString())
  const labels = labelledBy(list, e => /^\[?([^[\]\s]{2,20})\]?$/.exec(e.label?.trim() ?? '')?.[1])
  const manners = [
    () => numbers && byNumber(texts, numbers, BRACKETS),
    () => labels && byLabel(texts, labels),
    () => numbers && byRaised(texts, numbers),
    () => byNames(texts, list),
    () => numbers && byNumber(texts, numbers, IN_ROUND),
  ]
  let best: Citation[] = []
  let most = 0
  for (const manner of manners) {
    // what has led to half of a list is how it is cited: rows of numbers in formulas would lead to more
    if (most >= list.length / 2) break
    const found = manner() ?? []
    const entries = new Set(found.map(f => f.n)).size
    if (entries > most) [best, most] = [found, entries]
  }
  return best
}

/** Entries by their labels; several of one label belong to several lists. */
type Labelled = Map<string, Listed[]>

function labelledBy(list: readonly Listed[], labelOf: (e: Listed) => string | undefined): Labelled | undefined {
  const by: Labelled = new Map()
  let n = 0
  for (const e of list) {
    const label = labelOf(e)
    if (label === undefined) continue
    n++
    const there = by.get(label)
    if (there) there.push(e)
    else by.set(label, [e])
  }
  return list.length && n / list.length >= LABELLED ? by : undefined
}

/** Of entries of one label the one in the list that follows the page. */
const following = (of: readonly Listed[] | undefined, page: number): Listed | undefined =>
  of?.find(e => (pageOfEntry(e) ?? 0) >= page) ?? of?.at(-1)

const pageOfEntry = (e: Listed): number | undefined => e.boxes[0]?.page

const numberOf = (label: string | null): number | undefined => {
  const digits = /^\D{0,2}(\d{1,3})\D{0,2}$/.exec(label?.trim() ?? '')?.[1]
  return digits ? Number(digits) : undefined
}

/** “3, 5–7” as 3, 5, 6, 7. */
function numbersOf(row: string): number[] {
  return row.split(/[,;]/).flatMap(part => {
    const [a = NaN, b = a] = part.split(/[–—-]/).map(Number)
    if (!Number.isInteger(a) || !Number.isInteger(b) || b < a || b - a > 60) return []
    return Array.from({ length: b - a + 1 }, (_, k) => a + k)
  })
}

function byNumber(texts: readonly string[], numbers: Labelled, pattern: RegExp): Citation[] {
  const all = texts.flatMap((text, i) =>
    [...text.matchAll(pattern)].flatMap(m => {
      const row = numbersOf(m[1]!)
      const end = m.index + m[0].length
      const isFirst = m.index === 0 || text[m.index - 1] === '\n'
      // an interval, or the number of a line that is printed before its figures
      if (row.includes(0) || (isFirst && /^ *[\d."-]/.test(text.slice(end, end + 8)))) return []
      const isTied = /[\p{L}\p{N}_)[\]]/u.test(text[m.index - 1] ?? '')
      return [{ row, isTied, page: i + 1, from: m.index, to: end }]
    }),
  )
  // where most stand apart from the word before, those that do not are parts of a program: state[2]
  const isApart = all.filter(c => c.isTied).length <= all.length / 2
  return all.flatMap(({ row, isTied, ...at }) =>
    isTied && isApart
      ? []
      : row.flatMap(k => {
          const entry = following(numbers.get(String(k)), at.page)
          return entry ? [{ n: entry.n, ...at }] : []
        }),
  )
}

function byRaised(texts: readonly string[], numbers: Labelled): Citation[] {
  return texts.flatMap((text, i) => {
    const found: Citation[] = []
    const notes = notesOn(text)
    let from = 0
    for (const line of text.split('\n')) {
      const raised = [...line.matchAll(RAISED)]
      if (i >= FRONT || !isByline(line, raised))
        for (const m of raised) {
          const at = from + m.index + m[1]!.length
          for (const k of numbersOf(figures(m[2]!))) {
            const entry = following(numbers.get(String(k)), i + 1)
            // a note at the foot of the page is no entry, unless the notes are the list
            if (entry && (!notes.has(k) || pageOfEntry(entry) === i + 1))
              found.push({ n: entry.n, page: i + 1, from: at, to: at + m[2]!.length })
          }
        }
      from += line.length + 1
    }
    return found
  })
}

/** Numbers of the notes of a page: whole sentences behind a number. */
const notesOn = (text: string): Set<number> =>
  new Set(
    [...text.matchAll(/^ ?([⁰¹²³⁴-⁹]{1,3}|\d{1,3})[.)]? ?(?=\p{L}.{12,}[.!?)”"]$)/gmu)].map(m =>
      Number(figures(m[1]!)),
    ),
  )

/** Raised figures as plain ones. */
const figures = (raised: string): string =>
  [...raised].map(c => (c === '⁻' ? '-' : FIGURES.includes(c) ? FIGURES.indexOf(c) : c)).join('')

/** Names with the marks of where they work, or a place of work with its mark. */
const isByline = (line: string, raised: readonly RegExpMatchArray[]): boolean =>
  /^[⁰¹²³⁴-⁹*†‡§]/.test(line) ||
  raised.every(m =>
    /\p{Lu}[\p{L}’'-]{1,40}[,*†‡§]?$/u.test(line.slice(Math.max(0, m.index! - 44), m.index! + m[1]!.length)),
  )

function byLabel(texts: readonly string[], labels: Labelled): Citation[] {
  return texts.flatMap((text, i) =>
    [...text.matchAll(LABELS)].flatMap(m =>
      m[1]!.split(/[,;]/).flatMap(part => {
        const entry = following(labels.get(part.trim()), i + 1)
        return entry ? [{ n: entry.n, page: i + 1, from: m.index, to: m.index + m[0].length }] : []
      }),
    ),
  )
}

function byNames(texts: readonly string[], list: readonly Listed[]): Citation[] {
  const byYear = listedByYear(list)
  return texts.flatMap((text, i) => {
    const found: Citation[] = []
    let names = ''
    let from = 0
    for (const m of text.matchAll(YEARS)) {
      const start = Math.max(from, Math.min(m.index - NAMES, openedAt(text, m.index)))
      const before = text.slice(start, m.index)
      // “Aster (1999, 2001)”: the second year goes with the names of the first
      if (/\p{Lu}\p{L}/u.test(before)) names = ` ${plain(before)} `
      else if (/[.;]/.test(before)) names = ''
      from = m.index + m[0].length
      const entry = likeliest(byYear.get(m[1]!) ?? [], names, m[2])
      if (!entry) continue
      const name = before.lastIndexOf(entry.name)
      const begins = name < 0 ? m.index : start + name
      const closes = CLOSED.exec(text.slice(begins, from + 1))
      found.push({ n: entry.n, page: i + 1, from: begins, to: from + (closes ? 1 : 0) })
    }
    return found
  })
}

/** Brackets that are opened and closed within a citation: “Aster (1999)”. */
const CLOSED = /\([^()]*\)$|\[[^[\]]*\]$/

/** Where the brackets begin within which something stands, if that is near: all names of a work may stand there. */
function openedAt(text: string, at: number): number {
  const before = text.slice(Math.max(0, at - ALL_NAMES), at)
  const open = Math.max(before.lastIndexOf('('), before.lastIndexOf('['), before.lastIndexOf(';'))
  return open < 0 || /[)\]]/.test(before.slice(open)) ? at : at - before.length + open
}

/**
 * The pages without their lists of references, each from the beginning of its first entry to the end of its last; what
 * is left stands where it stood.
 */
function withoutLists(pages: readonly string[], list: readonly Listed[]): string[] {
  const out = [...pages]
  const blank = (page: number, from: number, to: number) => {
    const text = out[page - 1]
    if (text !== undefined) out[page - 1] = text.slice(0, from) + ' '.repeat(Math.max(0, to - from)) + text.slice(to)
  }
  for (const run of listsOf(list)) {
    const [first, last] = [pageOf(run[0]!), run.at(-1)!.boxes.at(-1)!.page]
    // notes that are the list stand on all pages: nothing can be left out there
    if (run.length > 1 && last - first > pages.length / 2) continue
    for (let page = first; page <= last; page++) {
      const text = pages[page - 1] ?? ''
      const own = run.filter(e => e.boxes.some(b => b.page === page))
      // an entry of the page before goes on at its head; notes begin at its foot
      const isMiddle = !own.length || own.some(e => pageOf(e) < page)
      const from = isMiddle ? 0 : Math.min(...own.map(e => beginningOf(e, text)))
      const end = run.at(-1)!.text.trimEnd().slice(-ENDS)
      const ends = page === last && end ? text.lastIndexOf(end) : -1
      blank(page, from, ends >= from ? ends + end.length : text.length)
    }
  }
  return out
}

/** Where an entry begins on its page, with its label. */
function beginningOf({ text, label }: Listed, page: string): number {
  const at = Math.max(0, page.indexOf(text.slice(0, ENDS)))
  if (!label) return at
  const before = page.lastIndexOf(label, at)
  return before >= 0 && /^[\s\].):]*$/.test(page.slice(before + label.length, at))
    ? before - Number('[('.includes(page[before - 1] ?? ' '))
    : at
}

const pageOf = (e: Listed): number => e.boxes[0]!.page

/** Lists of references, each by itself: what stands on one page or on one after another. */
function listsOf(list: readonly Listed[]): Listed[][] {
  const runs: Listed[][] = []
  for (const e of list) {
    if (!e.boxes.length) continue
    const last = runs.at(-1)?.at(-1)
    if (last && pageOf(e) - last.boxes.at(-1)!.page <= 1 && pageOf(e) >= pageOf(last)) runs.at(-1)!.push(e)
    else runs.push([e])
  }
  return runs
}

const plain = (text: string): string => fold(text).replace(/[^\p{L}\p{N};]+/gu, ' ')

interface Dated extends Listed {
  /** The first author’s name as it is written, and as it is compared. */
  name: string
  first: string
  second: string | undefined
  authors: number
  suffix: string | undefined
}

function listedByYear(list: readonly Listed[]): Map<string, Dated[]> {
  const by = new Map<string, Dated[]>()
  for (const e of list) {
    const year = String(yearOf(e.item as Item) ?? '')
    const names = e.item.author ?? e.item.editor
    if (!year || !names?.length) continue
    const name = familyName(names[0]!)
    const [first, second] = names.slice(0, 2).map(n => plain(familyName(n)).trim())
    if (!first) continue
    const suffix = new RegExp(`${year}([a-z])\\b`).exec(e.text)?.[1]
    const entry = { ...e, name, first, second, authors: names.length, suffix }
    const there = by.get(year)
    if (there) there.push(entry)
    else by.set(year, [entry])
  }
  return by
}

/** The entry whose first author stands in the names before a year: of several the one that they name best. */
function likeliest(of: readonly Dated[], names: string, suffix: string | undefined): Dated | undefined {
  // what stands before a semicolon goes with another year
  const own = names.split(';').at(-1)!
  let best: { entry: Dated; fit: number } | undefined
  for (const entry of of) {
    const at = own.lastIndexOf(` ${entry.first} `)
    if (at < 0) continue
    const after = own.slice(at + entry.first.length + 1)
    const hasOthers = / et al | et alii | and others | u a | y otros /.test(after)
    const hasSecond = Boolean(entry.second && after.includes(` ${entry.second} `))
    const isAlone = !after.trim()
    let fit = 0
    if (hasSecond) fit += 3
    if (hasOthers && entry.authors > 2) fit += 3
    if (isAlone && entry.authors === 1) fit += 1
    if (!hasSecond && !hasOthers && entry.authors === 2) fit -= 1
    if (suffix && entry.suffix === suffix) fit += 4
    if (suffix && entry.suffix && entry.suffix !== suffix) fit -= 8
    // the name nearest to its year, where nothing else tells
    fit -= after.length / 1000
    if (!best || fit > best.fit) best = { entry, fit }
  }
  return best && best.fit > -5 ? best.entry : undefined
}
