import { fold } from '../bib/fold'
import { around, lettersOf, mostBy, type Column, type Line } from './page'

/** Words of a text as it is written, to tell whether a hyphen at the end of a line belongs to its word. */
export class Words {
  private readonly seen = new Map<string, number>()
  /** Breaks are written with a sign of their own, so that any other hyphen belongs to its word. */
  readonly hasBreaks: boolean = false

  constructor(lines: Iterable<string>) {
    for (const line of lines) {
      if (/\p{L}[‐\u00ad]$/u.test(line)) this.hasBreaks = true
      // a word broken at the end of a line is not known to be one
      for (const m of line.matchAll(/[\p{L}\p{N}]+(?:[-‐'’][\p{L}\p{N}]+)*(?![-‐\u00ad\p{L}\p{N}])/gu)) {
        const word = plain(m[0])
        this.seen.set(word, (this.seen.get(word) ?? 0) + 1)
      }
    }
  }
  count(word: string): number {
    return this.seen.get(plain(word)) ?? 0
  }
}
const plain = (word: string): string => fold(word).replace(/‐/g, '-')

/** Letters of a word before a break, and behind it, that are looked at. */
const LONGEST_WORD = 60

/**
 * Lines as running text. A word broken at the end of a line is joined; its hyphen stays where the text has the word
 * with it, or where what follows is no part of a word.
 */
export function joinLines(lines: readonly Pick<Line, 'text'>[], words: Words): string {
  let out = ''
  for (const { text } of lines) {
    const line = text.replaceAll('\t', ' ').trim()
    if (!line) continue
    const before = /([\p{L}\p{N}][\p{L}\p{N}'’-]*)([-‐\u00ad])$/u.exec(out.slice(-LONGEST_WORD))
    const after = /^[\p{L}\p{N}][\p{L}\p{N}'’-]*/u.exec(line.slice(0, LONGEST_WORD))
    if (!out) out = line
    else if (before && after) out = joined(out, before[1]!, before[2]!, after[0], words) + line
    // an address is broken without a sign
    else if (isAddressBroken(out.slice(-200), line)) out += line
    else out += endsSpaceless(out) && beginsSpaceless(line) ? line : ` ${line}`
  }
  return out.replaceAll('\u00ad', '').replace(/\s+/g, ' ').trim()
}

const isAddressBroken = (before: string, after: string): boolean =>
  (/(?:https?:\/\/|doi\.org\/|\b10\.\d{4,9}\/)\S*[./_=-]$/u.test(before) &&
    /^[\p{Ll}\d]/u.test(after) &&
    !/^\d{1,3}[.)]?\s/u.test(after)) ||
  (/https?:$/.test(before) && after.startsWith('//'))

/** What stands before a break, with its hyphen or without. */
function joined(text: string, before: string, hyphen: string, after: string, words: Words): string {
  const bare = text.slice(0, -1)
  if (hyphen === '\u00ad') return bare
  const last = before.slice(before.lastIndexOf('-') + 1)
  if (words.hasBreaks) return hyphen === '-' ? text : bare
  const whole = words.count(last + after)
  const parted = words.count(`${before}-${after}`)
  if (parted !== whole) return parted > whole ? text : bare
  if (after.includes('-') || (before.includes('-') && words.count(last) > 0)) return text
  // unknown either way: names and numbers keep what joins them, words of small letters are one word
  if (!/^\p{Ll}/u.test(after)) return text
  // of two words that stand by themselves elsewhere, a compound
  const isCompound = last.length > 2 && after.length > 3 && words.count(last) > 1 && words.count(after) > 1
  return isCompound ? text : bare
}

const SPACELESS = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}\u3000-\u303f\uff00-\uffef]/u
const endsSpaceless = (text: string): boolean => SPACELESS.test(text.at(-1) ?? '')
const beginsSpaceless = (text: string): boolean => SPACELESS.test(text[0] ?? '')

/** Paragraphs of a column: a line that is set in, more room above it, another size of letters, or a line that ended early. */
export function paragraphsOf(column: Column): Line[][] {
  const out: Line[][] = []
  const { lines } = column
  if (!lines.length) return out
  const lead = usualLead(lines)
  const { right } = around(lines)
  const usual = mostBy(lines.map(l => [l.size, lettersOf(l.text)] as const)) ?? lines[0]!.size
  lines.forEach((line, i) => {
    const last = lines[i - 1]
    const isBroken = last && /\p{L}[-‐\u00ad]$/u.test(last.text) && /^\p{Ll}/u.test(line.text)
    const isNew =
      !last ||
      line.y < last.y ||
      line.y - last.y > roomOf(line, last) * (isBroken ? 2 : 1.3) ||
      (!isBroken && begins(line, last))
    if (isNew) out.push([line])
    else out.at(-1)!.push(line)
  })
  return out

  /** Larger letters stand further from each other. */
  function roomOf(line: Line, last: Line): number {
    return lead * Math.max(1, Math.min(line.size, last.size) / usual)
  }
  function begins(line: Line, last: Line): boolean {
    return (
      Math.abs(line.size - last.size) > 0.6 ||
      (line.font !== last.font && isShort(last, right)) ||
      (line.x - last.x > line.size * 0.7 &&
        line.x - column.x < line.size * 4 &&
        (isShort(last, right) || ENDS.test(last.text))) ||
      (isShort(last, right) && ENDS.test(last.text) && !isUnclosed(last.text) && line.x <= last.x + line.size * 0.7)
    )
  }
}
/** What may end a paragraph. */
const ENDS = /[.!?:;”"»)⁰¹²³⁴⁵⁶⁷⁸⁹\]。？！]$/u
/** A line that stops within brackets ends nothing, whatever it ends with: (Lune, 2014; */
const isUnclosed = (text: string): boolean => text.lastIndexOf('(') > text.lastIndexOf(')')
const isShort = (l: Line, right: number): boolean => right - l.x - l.width > l.size * 3

/** Paragraphs of columns as running text, one a line. One that breaks off in its sentence goes on in the next column. */
export function joinParagraphs(columns: readonly Line[][][], words: Words): string {
  const all: Line[][] = []
  for (const column of columns)
    column.forEach((paragraph, i) => {
      const last = all.at(-1)
      const goesOn =
        i === 0 && last && /[\p{Ll}\p{N},‐\u00ad-]$/u.test(last.at(-1)!.text) && /^\p{Ll}/u.test(paragraph[0]!.text)
      if (goesOn && Math.abs(last.at(-1)!.size - paragraph[0]!.size) < 0.6) last.push(...paragraph)
      else all.push([...paragraph])
    })
  return all
    .map(lines => joinLines(lines, words))
    .filter(Boolean)
    .join('\n')
}

/** The usual way from baseline to baseline; `without` where no line follows another. */
export function usualLead(lines: readonly Line[], without = 12): number {
  const leads = new Map<number, number>()
  for (let i = 1; i < lines.length; i++) {
    const lead = Math.round((lines[i]!.y - lines[i - 1]!.y) * 2) / 2
    if (lead > 0) leads.set(lead, (leads.get(lead) ?? 0) + 1)
  }
  return [...leads].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0] ?? without
}
