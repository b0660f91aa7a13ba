import { yearOf } from '../bib/dates'
import { fold } from '../bib/fold'
import type { Item } from '../bib/item'
import { familyName } from '../bib/names'

/** An entry of a list of references, as far as it is needed to find where it is cited. */
export interface Listed {
  n: number
  label: string | null
  text: string
  item: Partial<Item>
  /** Where it stands; its first tells the page of its beginning. */
  boxes: readonly { page: number }[]
}

/** Numbers in square brackets, singly, in rows and in runs: [3], [3, 5], [3–7]. */
const BRACKETS = /\[\s*(\d{1,3}(?:\s*[,;–—-]\s*\d{1,3}){0,40})\s*\]/g
const IN_ROUND = /\(\s*(\d{1,3}(?:\s*[,;–—-]\s*\d{1,3}){0,40})\s*\)/g
const YEARS = /\b((?:1[5-9]|20)\d\d)([a-z])?\b/g
/** So far before a year stand the names that go with it, in letters. */
const NAMES = 110
/** Letters by which the beginning of an entry is found on its page. */
const BEGINNING = 24
/** Share of the entries that are numbered where a text cites by numbers. */
const NUMBERED = 0.6

/**
 * On which pages of its text each entry of a list of references is cited: by number in brackets, or by the name of its
 * first author before its year.
 * @param pages words of the text, page by page
 * @returns by the number of the entry, its pages in order, each as often as it is cited there
 */
export function citedOn(pages: readonly string[], list: readonly Listed[]): Map<number, number[]> {
  const found = new Map<number, number[]>()
  const cite = (n: number, page: number) => {
    const there = found.get(n)
    if (there) there.push(page)
    else found.set(n, [page])
  }
  const texts = withoutTheList(pages, list)
  const byLabel = new Map(list.flatMap(e => (numberOf(e.label) ? [[numberOf(e.label)!, e.n] as const] : [])))
  if (list.length && byLabel.size / list.length >= NUMBERED) {
    const isSquare = texts.some(t => t.search(BRACKETS) >= 0)
    for (const [i, text] of texts.entries())
      for (const m of text.matchAll(isSquare ? BRACKETS : IN_ROUND))
        for (const k of numbersOf(m[1]!)) if (byLabel.has(k)) cite(byLabel.get(k)!, i + 1)
    if (found.size) return found
  }
  const byYear = listedByYear(list)
  for (const [i, text] of texts.entries()) {
    let names = ''
    let from = 0
    for (const m of text.matchAll(YEARS)) {
      const before = text.slice(Math.max(from, m.index - NAMES), m.index)
      // “Aster (1999, 2001)”: the second year goes with the names of the first
      if (/\p{Lu}\p{L}/u.test(before)) names = ` ${plain(before)} `
      else if (/[.;]/.test(before)) names = ''
      from = m.index + m[0].length
      const entry = likeliest(byYear.get(m[1]!) ?? [], names, m[2])
      if (entry) cite(entry.n, i + 1)
    }
  }
  return found
}

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

/** The pages without what stands from the first entry of the list to its last page. */
function withoutTheList(pages: readonly string[], list: readonly Listed[]): string[] {
  const on = list.flatMap(e => e.boxes.map(b => b.page))
  if (!on.length) return [...pages]
  const [first, last] = [Math.min(...on), Math.max(...on)]
  // notes that are the list stand on all pages: nothing can be left out there
  if (list.length > 1 && last - first > pages.length / 2) return [...pages]
  const opening = list.find(e => e.boxes[0]?.page === first)?.text.slice(0, BEGINNING) ?? ''
  return pages.map((text, i) => {
    if (i + 1 < first || i + 1 > last) return text
    const at = i + 1 === first && opening ? text.indexOf(opening) : 0
    return at > 0 ? text.slice(0, at) : ''
  })
}

const plain = (text: string): string => fold(text).replace(/[^\p{L}\p{N};]+/gu, ' ')

interface Cited extends Listed {
  first: string
  second: string | undefined
  authors: number
  suffix: string | undefined
}

function listedByYear(list: readonly Listed[]): Map<string, Cited[]> {
  const by = new Map<string, Cited[]>()
  for (const e of list) {
    const year = String(yearOf(e.item as Item) ?? '')
    const names = e.item.author ?? e.item.editor
    if (!year || !names?.length) continue
    const [first, second] = names.slice(0, 2).map(n => plain(familyName(n)).trim())
    if (!first) continue
    const suffix = new RegExp(`${year}([a-z])\\b`).exec(e.text)?.[1]
    const entry = { ...e, first, second, authors: names.length, suffix }
    const there = by.get(year)
    if (there) there.push(entry)
    else by.set(year, [entry])
  }
  return by
}

/** The entry whose first author stands in the names before a year: of several the one that they name best. */
function likeliest(of: readonly Cited[], names: string, suffix: string | undefined): Cited | undefined {
  // what stands before a semicolon goes with another year
  const own = names.split(';').at(-1)!
  let best: { entry: Cited; fit: number } | undefined
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
