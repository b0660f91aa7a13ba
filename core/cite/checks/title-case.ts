/** How a word is written within sentences. */
interface Use {
  small: number
  capital: number
}

/** How words are written in running text, where no sentence begins with them. */
export class WordUse {
  private readonly uses = new Map<string, Use>()

  constructor(text: string) {
    for (const m of text.matchAll(WORD)) {
      const word = m[0]
      const isSmall = /^\p{Ll}/u.test(word)
      // what begins a sentence, or stands in a heading of capitals, says nothing
      if (!isSmall && (!GOES_ON.test(text.slice(Math.max(0, m.index - 24), m.index)) || isShouted(word))) continue
      const key = word.toLowerCase()
      const use = this.uses.get(key) ?? { small: 0, capital: 0 }
      if (isSmall) use.small++
      else use.capital++
      this.uses.set(key, use)
    }
  }
  of(word: string): Use {
    return this.uses.get(word.toLowerCase()) ?? NONE
  }
}
const NONE: Use = { small: 0, capital: 0 }
const WORD = /\p{L}[\p{L}\p{M}\p{N}]*(?:['’]\p{L}+)?/gu
/** A word before it in small letters, and nothing between that ends a sentence. */
const GOES_ON = /(?<![\p{L}\p{N}])\p{Ll}[\p{L}\p{M}]*,? ["“(]?$/u
const isShouted = (word: string): boolean => word.length > 1 && word === word.toUpperCase()

/** Words that stay small within a title in capitals. */
const LITTLE = new Set(
  'a an the and but or nor for so yet as at by in of off on per to up via with from into over than that onto upon is'.split(
    ' ',
  ),
)
/** Words of a title as they stand in it. */
const wordsOf = (title: string) => [...title.matchAll(/\p{L}[\p{L}\p{M}\p{N}]*(?:['’.]\p{L}+)*/gu)]
const isPlainCapital = (word: string): boolean => /^\p{Lu}\p{Ll}/u.test(word) && !/\p{Lu}/u.test(word.slice(1))
/** What stands before a word that begins a title or a part of it. */
const BEGINS = /(?:^|[:?!.—–][”"’']?\s+)["“‘'«([]*$/u
/** Letters before a word that are looked at. */
const BEFORE = 12
/** Words of a title below which its capitals say nothing. */
const FEWEST = 4

/** Whether a title is written with a capital to each word. */
export function isInCapitals(title: string): boolean {
  const own = wordsOf(title).filter(
    m =>
      !LITTLE.has(m[0].toLowerCase()) &&
      !BEGINS.test(title.slice(Math.max(0, m.index - BEFORE), m.index)) &&
      m[0].length > 2,
  )
  const plain = own.filter(m => isPlainCapital(m[0])).length
  return own.length + 1 >= FEWEST && plain >= own.length * 0.8
}
/** Whether a title is written in capitals throughout. */
export const isShouting = (title: string): boolean =>
  !/\p{Ll}/u.test(title) && wordsOf(title).filter(m => m[0].length > 2).length >= FEWEST - 1

/**
 * A title with capitals only where running text has them: words that the work's own text writes small are small, those
 * that it writes with a capital stay. Of a word that it does not have, its capital says nothing in such a title.
 * @returns undefined where too few words of it stand in the text to tell
 */
export function sentenceCase(
  title: string,
  use: WordUse,
): { title: string; small: string[]; kept: string[] } | undefined {
  const shouted = isShouting(title)
  const small: string[] = []
  const kept: string[] = []
  let known = 0
  let of = 0
  const now = replaceWords(title, (word, before) => {
    if (BEGINS.test(before)) return shouted ? capital(word) : word
    const { small: s, capital: c } = use.of(word)
    if (!shouted && !isPlainCapital(word)) return word
    if (word.length > 2 && !LITTLE.has(word.toLowerCase())) {
      of++
      if (s + c) known++
    }
    if (c > s) {
      kept.push(word)
      return shouted ? capital(word) : word
    }
    if (s) small.push(word.toLowerCase())
    return word.toLowerCase()
  })
  return of && known >= Math.max(2, of / 2) && small.length ? { title: now, small, kept } : undefined
}

/** A title with a capital behind its colon; undefined where it has one or no colon. */
export function capitalAfterColon(title: string): { title: string; word: string } | undefined {
  const m = /: ["“‘'(]?(\p{Ll}[\p{L}\p{M}’'-]*)/u.exec(title)
  // what a species or a unit begins is small for a reason
  if (!m || /\p{Lu}/u.test(m[1]!)) return undefined
  const at = m.index + m[0].length - m[1]!.length
  return { title: title.slice(0, at) + capital(m[1]!, false) + title.slice(at + m[1]!.length), word: m[1]! }
}

const capital = (word: string, rest = true): string => {
  const [first = '', ...others] = word
  return first.toUpperCase() + (rest ? others.join('').toLowerCase() : others.join(''))
}

function replaceWords(title: string, put: (word: string, before: string) => string): string {
  let out = ''
  let at = 0
  for (const m of wordsOf(title)) {
    out += title.slice(at, m.index) + put(m[0], title.slice(Math.max(0, m.index - BEFORE), m.index))
    at = m.index + m[0].length
  }
  return out + title.slice(at)
}
