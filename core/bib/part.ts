import { withoutEnd } from './clean'
import { fold } from './fold'
import { readDate } from './dates'
import type { Item, ItemDate } from './item'
import { monthOf, seasonOf } from './months'

/** Where in its journal or book something stands. */
export type Part = Pick<Item, 'volume' | 'issue' | 'page' | 'issued'>

/** How catalogues and lists of many tongues announce a number; the words are folded and without a dot. */
const LABELS: Record<'volume' | 'issue' | 'page' | 'article' | 'date', Set<string>> = {
  volume: words(
    'v vol vols volume volumes volumen volum bd bde band bind jg jahrg jahrgang jaarg jaargang arg argang t tome tomes tomo tom deel dl rocnik roc rok r ano annee an anno ' +
      'vsk vuosikerta kot evfolyam cilt svazek sv god godina letnik т том томе год vyp',
  ),
  issue: words(
    'n no nos nr nrs nro num number numero numeri numer nummer issue issues iss h heft hefte fasc fascicule fascicolo fascicle cislo c sz szam sayi zeszyt z hafte haefte ' +
      'hft nra br № вып выпуск pt part parts teil suppl supplement supplementum beiheft sonderheft beilage special spec',
  ),
  page: words(
    'p pp ppg pg pgs page pages pag pags pagina paginas pagine paginas s ss seite seiten sid sidor sider side sivu sivut sivua str strony o old blz bladzijde bladzijden f ff fol с стр',
  ),
  article: words('art article artikel articulo articolo artigo paper e-location elocator'),
  date: words('year month jahr monat mois mes'),
}
/** Words that say nothing of where it stands. */
const FILLERS = words(
  'and und et y e i en to bis a of the der des in from de du special issue winter online epub ahead print published publ serie series ser new neue nouvelle n.s also',
)
/** Words behind which a number is part of a title: "Lamps of 1850", "Papers in 12 parts". */
const PREPOSITIONS = words('of in from to der des de du di in von aus a en und and et y the for')
const ANNOUNCING = new Set(Object.values(LABELS).flatMap(l => [...l]))
/** An issue that has a name in a number's place. */
const NAMED_ISSUES = words('suppl supplement supplementum beiheft sonderheft special spec')

function words(text: string): Set<string> {
  return new Set(text.split(' ').map(fold))
}

/** Letters that are looked at: what is longer is no such statement. */
const LONGEST = 500
const NUMBER = /^[a-z]{0,2}\d+[a-z]?(?:[-/][a-z]{0,2}\d+[a-z]?)?$/i
const ROMAN = /^[ivxlcdm]+(?:-[ivxlcdm]+)?$/i
const isNumeral = (token: string): boolean => NUMBER.test(token) || isYear(token)
const isYear = (n: string): boolean =>
  /^(1[5-9]|20)\d{2}([-/]\d{2}){0,2}$|^(1[5-9]|20)\d{2}[-/](1[5-9]|20)\d{2}$/.test(n)

/** Words, numbers with what clings to them, and marks between. */
const TOKEN =
  /(?<!\d)\d{4}-\d{2}-\d{2}(?!\d)|№|n[°º]|[a-z]{0,2}\d+[a-z]?(?:[-/][a-z]{0,2}\d+[a-z]?)?(?![\p{L}\d])|\p{L}[\p{L}'’-]*|\d+|[^\s]/giu

/** One manner of dashes, none of them between blanks. */
const tidy = (text: string): string =>
  text
    .slice(0, LONGEST)
    .replace(/[‐‑‒–—−]/g, '-')
    .replace(/-{2,}/g, '-')
    .replace(/(\d) ?- ?(?=[a-z]{0,2}\d)/gi, '$1-')

export interface ReadPart extends Part {
  /** Words that are none of it: with any, the text may say something else altogether. */
  strange: number
}

/**
 * Reads where something stands in its journal or book, in whatever manner: "Vol. 12, no. 3 (Mar. 2019), p. 45-67",
 * "Jg. 12 (2019), H. 3, S. 45-67", "12(3):45-67", "12:3<45", "т. 12, № 3, с. 45-67".
 */
export function readPart(text: string): ReadPart {
  return new Reader(tidy(text).match(TOKEN) ?? []).read()
}

type Label = keyof typeof LABELS

/** Goes through the tokens from left to right; a number belongs to what announced it, else to its place in the row. */
class Reader {
  private readonly part: ReadPart = { strange: 0 }
  private years: number[][] | undefined
  private season: number | undefined
  private month: number | undefined
  private day: number | undefined
  private label: Label | undefined
  private depth = 0
  private at = 0

  constructor(private readonly tokens: string[]) {}

  read(): ReadPart {
    for (; this.at < this.tokens.length; this.at++) this.take(this.tokens[this.at]!)
    const first = this.years?.[0]
    if (!first) return this.part
    const issued: ItemDate = { 'date-parts': this.years! }
    if (this.years!.length === 1 && first.length === 1 && this.month)
      first.push(this.month, ...(this.day ? [this.day] : []))
    else if (this.season) issued.season = this.season
    return { ...this.part, issued }
  }

  private take(token: string): void {
    if (token === '(' || token === '[') this.depth++
    else if (token === ')' || token === ']') this.depth = Math.max(0, this.depth - 1)
    else if (token === '№' || /^n[°º]$/i.test(token)) this.label = 'issue'
    else if (isNumeral(token) || (this.label && ROMAN.test(token))) this.takeNumber(token)
    else if (/^\p{L}/u.test(token)) this.takeWord(token)
  }

  private takeWord(token: string): void {
    const word = fold(token)
    const next = this.tokens[this.at + 1] ?? ''
    const announced = (Object.keys(LABELS) as Label[]).find(l => LABELS[l].has(word))
    // a letter alone announces something only right before its number
    const isSure = word.length > 1 || /^[.:]$/.test(next) || NUMBER.test(next) || ROMAN.test(next)
    if (announced && isSure) return NAMED_ISSUES.has(word) ? this.takeNamedIssue(word) : void (this.label = announced)
    const month = monthOf(token)
    const season = seasonOf(token)
    if (month) this.month ??= month
    else if (season) this.season ??= season
    else if (/^[IVXLCDM]{2,7}$/.test(token) && !this.part.volume) this.part.volume = token
    else if (!FILLERS.has(word)) this.part.strange++
  }

  /** "Suppl. 2" is a number of its own, with the number of the issue it belongs to before it. */
  private takeNamedIssue(word: string): void {
    let name = word.startsWith('sup') ? 'Suppl.' : 'Special'
    const skip = this.tokens[this.at + 1] === '.' ? 2 : 1
    const number = this.tokens[this.at + skip]
    if (name === 'Suppl.' && number && NUMBER.test(number) && !isYear(number)) {
      name += ` ${number}`
      this.at += skip
    }
    this.part.issue = this.part.issue ? `${this.part.issue} ${name}` : name
    this.label = undefined
  }

  private takeNumber(n: string): void {
    const { part, label } = this
    if (label === 'date') {
      this.label = undefined
      if (isYear(n)) this.years ??= readDate(n)?.['date-parts'] as number[][] | undefined
      else if (Number(n) >= 1 && Number(n) <= 12) this.month ??= Number(n)
      return
    }
    const before = this.tokens[this.at - 1] ?? ''
    const isYearBehind = label !== undefined && this.isYearInstead(n, label)
    if (label && !isYearBehind) {
      const name = label === 'article' ? 'page' : label
      // pages may go on: "45-50, 67"
      if (name === 'page' && part.page && /^[,;]$/.test(before)) part.page += `, ${n}`
      else part[name] ??= n
      if (name !== 'page') this.label = undefined
      return
    }
    this.label = undefined
    if (isYear(n) && !this.years && (isYearBehind || !part.page || this.depth > 0 || this.month !== undefined))
      this.years = readDate(n)?.['date-parts'] as number[][] | undefined
    else if (this.isDay(n)) this.day = Number(n)
    else this.place(n, before)
  }

  /** A year behind a word for a volume: "année 2012, vol. 4", and "no. (2019)". */
  private isYearInstead(n: string, label: Label): boolean {
    if (!isYear(n)) return false
    if (label === 'page' || label === 'article') return this.part.page !== undefined && !this.years
    const later = this.tokens.slice(this.at + 1)
    return (
      (label === 'volume' && later.some(t => LABELS.volume.has(fold(t)))) ||
      (this.years === undefined && this.depth > 0)
    )
  }

  private isDay(n: string): boolean {
    const behind = this.tokens[this.at + (this.tokens[this.at + 1] === '.' ? 2 : 1)] ?? ''
    const beside = monthOf(this.tokens[this.at - 1] ?? '') ?? monthOf(behind)
    return this.day === undefined && beside !== undefined && /^\d{1,2}$/.test(n) && Number(n) <= 31
  }

  /** A number that nothing announced: volume, then issue, then pages, told by the marks about it. */
  private place(n: string, before: string): void {
    const { part } = this
    if (before === '<') part.page ??= n
    else if (!part.volume) this.placeFirst(n, before)
    else if (this.depth > 0 || /^[./]$/.test(before)) part.issue ??= n
    else if (this.tokens[this.at + 1] === '<') part.issue ??= n
    else {
      const isRange = /-|^[a-z]+\d/i.test(n)
      const isLast = !this.tokens.slice(this.at + 1).some(t => NUMBER.test(t) && !isYear(t))
      if (isRange || isLast || before === ':') part.page ??= n
      else part.issue ??= n
    }
  }

  private placeFirst(n: string, before: string): void {
    const { part } = this
    const [, volume, issue] = /^(\d+)\/(\d+)$/.exec(n) ?? []
    const [, from, to] = /^(\d+)-(\d+)$/.exec(n) ?? []
    const isOnly = !this.tokens.some((t, i) => i !== this.at && NUMBER.test(t) && !isYear(t))
    if (before === ':' && this.years) part.issue ??= n
    // a span that stands alone is one of pages, two numbers that follow each other a volume of two years
    else if (from && isOnly && Number(to) !== Number(from) + 1) part.page ??= n
    // "12/3" is an issue of a volume, "12/13" a volume of two years
    else if (volume && Number(issue) !== Number(volume) + 1 && !part.issue) Object.assign(part, { volume, issue })
    else if (before === ':') part.page ??= n
    else part.volume = n
  }
}

/**
 * Takes a citation apart that squeezes a container and the place in it into one text: "Night Papers, Vol. 12, No. 3
 * (2019), pp. 45-67". The container ends where nothing but the place follows.
 */
export function readSource(text: string): Partial<Item> {
  const s = withoutEnd(tidy(text.trim()), /[.\s]/)
  // the place begins behind a blank, with a number, a bracket or a short word that announces one
  for (const { index } of s.matchAll(PLACE)) {
    const container = withoutEnd(s.slice(0, index), /[\s,.;:(]/)
    const rest = s.slice(index)
    const word = /^[^\p{L}\d]*(\p{L}+)(?!\p{L}|\d)/u.exec(rest)?.[1]
    const last = /\p{L}+$/u.exec(container)?.[0]
    // "Lamps of 1850" and "Papers in 12 parts" are titles
    if (last && PREPOSITIONS.has(fold(last))) continue
    // what stands before the first number announces it, or is part of the name
    if (word && !ANNOUNCING.has(fold(word)) && !monthOf(word) && !seasonOf(word) && !/^[IVXLC]+$/.test(word)) continue
    const { strange, ...part } = readPart(rest)
    if (strange || !/\p{L}{2}/u.test(container) || !(part.volume ?? part.issued ?? part.page)) continue
    return { 'container-title': container, ...part }
  }
  return s ? { 'container-title': text.trim() } : {}
}
const PLACE =
  /(?<=[\p{L}\p{N}.,;:)!?"”»])[ ,.;:]{1,6}(?=[([]?(?:\p{L}{1,10}\.?[ :]{0,2})?[([]?(?:[A-Za-z]{0,2}\d|№|[IVXLC]+(?!\p{L})))/gu
