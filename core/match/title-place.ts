import { findLetters, lettersIn, wordEdge, type Found, type Letters } from '../bib/found'
import { foldTitle } from '../bib/fold'

/** How a title stands in a text: alone on its lines, with more behind a sign, or among other words. */
export type Standing = 'alone' | 'begun' | 'among words'

export interface TitlePlace {
  /** Share of its letters that stand there in their order. */
  fit: number
  how: Standing
  /** Its words of which something else, or nothing, stands there. */
  otherWords: number
  /** Numbers in it that are others there. */
  otherNumbers: boolean
  /** Lines from its first up to its last. */
  first: number
  last: number
  /** What stands before and behind it on these. */
  before: string
  after: string
}

/** Lines in which a title is looked for. */
export class TitleLines {
  readonly words: Set<string>
  private readonly text: string
  private readonly starts: number[] = []
  private readonly letters: Letters

  constructor(readonly lines: readonly string[]) {
    let at = 0
    for (const l of lines) {
      this.starts.push(at)
      at += l.length + 1
    }
    this.text = lines.join('\n')
    this.letters = lettersIn(this.text)
    // the hyphen at the end of a line is the word's own, or it is not
    const joined = this.text.replace(/(\p{L})[-‐\u00ad]\n(\p{Ll})/gu, '$1$2')
    this.words = new Set(`${foldTitle(this.text)} ${foldTitle(joined)}`.split(' '))
  }

  /** Whether most words of a title stand somewhere in the lines: a quick look before a closer one. */
  mayHave(title: string): boolean {
    const words = foldTitle(title).split(' ').slice(0, 60)
    return words.filter(w => this.words.has(w)).length >= words.length * 0.7
  }

  /** Where a title stands, the likeliest first: alone on its lines before among other words. */
  find(title: string): TitlePlace[] {
    const { length } = lettersIn(title).letters
    const places = length ? findLetters(this.letters, title, MOST_WRONG) : []
    return likeliest(places.map(f => this.placeOf(title, f, length)))
  }

  has(title: string): boolean {
    return this.find(title).length > 0
  }

  private placeOf(title: string, { from, to, errors }: Found, length: number): TitlePlace {
    const [start, end] = [wordEdge(this.text, from), wordEdge(this.text, to)]
    const first = this.lineOf(start)
    const last = this.lineOf(Math.max(start, end - 1))
    const before = this.text.slice(this.starts[first], start)
    const after = this.text.slice(end, this.starts[last]! + this.lines[last]!.length)
    const there = this.text.slice(start, end)
    return {
      fit: 1 - errors / length,
      how: standing(before, after),
      otherWords: errors ? wordsMissing(title, there) : 0,
      otherNumbers: errors > 0 && numbersIn(title) !== numbersIn(there),
      ...{ first, last, before, after },
    }
  }

  private lineOf(at: number): number {
    let low = 0
    let high = this.starts.length - 1
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (this.starts[middle]! <= at) low = middle
      else high = middle - 1
    }
    return low
  }
}

/** So much of the letters of a title may be wrong where it is still looked at: a word changed, slips of reading. */
const MOST_WRONG = 0.18

const rank = ({ how, fit }: TitlePlace): number => (how === 'alone' ? 2 : how === 'begun' ? 1 : 0) + fit
export const likeliest = (places: readonly TitlePlace[]): TitlePlace[] =>
  [...places].sort((a, b) => rank(b) - rank(a) || a.first - b.first)

/** What may stand before a title in its line and says what it is. */
const LABEL =
  /^\W*(?:\d{1,3}|[ivxlc]{1,6}|(?:chapter|kapitel|chapitre|capítulo) \w{1,6}|open access|(?:(?:original|research|review|regular|full|short|brief|rapid|invited|feature|technical|case|special)\W+){0,2}(?:articles?|papers?|communications?|reports?|essays?|stud(?:y|ies)|notes?|perspectives?|viewpoint|opinion|forum|focus|analysis|methods?|protocol|data|resource|technology))\W*$/iu

/** What makes another work of one that has the same title before it. */
const PART =
  /^\W{0,3}(?:(?:part|teil|partie|parte|part\. |pt\.?|no\.?|volume|vol\.?|band|tome|del|deel) ?)?(?:[2-9]|i{2,3}|iv|vi{0,3}|two|three|four|second|third)(?=$|[\s.:,–—-])/iu

/** Letters on either side of a title that say how it stands. */
const NEAR = 200

function standing(before: string, after: string): Standing {
  // a cell that stands apart is no part of the title's line
  const [near, next] = [before.slice(-NEAR), after.slice(0, NEAR)]
  const lead = near.slice(near.lastIndexOf('\t') + 1)
  const rest = next.split('\t')[0]!
  if (/\p{L}{2}/u.test(lead) && !LABEL.test(lead)) return 'among words'
  if (PART.test(rest)) return 'among words'
  if (!/\p{L}{2}/u.test(rest)) return 'alone'
  return /^\W*[:.–—(]/u.test(rest) ? 'begun' : 'among words'
}

function wordsMissing(title: string, there: string): number {
  const letters = lettersIn(asSeen(there))
  return foldTitle(title)
    .split(' ')
    .filter(w => w.length > 2 && !findLetters(letters, asSeen(w), 0.2).length).length
}

/** Letters that reading machines take for each other are one. */
const asSeen = (text: string): string =>
  text
    .toLowerCase()
    .replace(/rn/g, 'm')
    .replace(/vv/g, 'w')
    .replace(/cl/g, 'd')
    .replace(/[1i|]/g, 'l')
    .replace(/0/g, 'o')

const numbersIn = (text: string): string =>
  (
    foldTitle(text).match(
      /(?<=^| )(?:\d+|i{1,3}|iv|vi{0,3}|one|two|three|four|five|first|second|third|fourth)(?= |$)/g,
    ) ?? []
  ).join(' ')
