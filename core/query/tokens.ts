import { fold } from '../bib/fold'

/** Raised whenever the same text would be cut differently, so that a stored index is known to be stale. */
export const TOKENISER_VERSION = 2

export interface Token {
  /** The folded word. */
  text: string
  /** Offsets of the word in the text it came from, in UTF-16 units. */
  start: number
  end: number
}

/** Stand before and behind every value, so that a whole value is a phrase between them. */
export const BEGIN = '\u0002'
export const END = '\u0003'

/**
 * Letters by Unicode that stand for an apostrophe, a prime or a space: "п’ять" and "пʼять", "Qur’an" and "Qurʾan" are
 * cut alike, and words that a space of no width parts are two.
 */
const PARTING = /[\u200b\u0374\u02b9-\u02bf\u02c8\u02ee]/g
/** A run of what words are made of; marks that show nothing (a soft hyphen, a joiner) part no word. */
const WORD = /[\p{L}\p{N}\p{M}\p{Cf}]+/gu
const PLAIN = /^[A-Za-z0-9]+$/
/** Letters of scripts that leave no space between words. */
const UNSPACED =
  /[\p{Script=Han}\p{scx=Hiragana}\p{scx=Katakana}\p{Script=Hangul}\p{Script=Thai}\p{Script=Lao}\p{Script=Khmer}\p{Script=Myanmar}\p{Script=Bopomofo}]/u
const UNSPACED_RUN = new RegExp(`${UNSPACED.source}(?:${UNSPACED.source}|[\\p{M}\\p{Cf}])*`, 'gu')
/** A letter with the marks on it. */
const LETTER = /[^\p{M}\p{Cf}][\p{M}\p{Cf}]*/gu

/**
 * Cuts text into words by Unicode properties: what is neither letter, digit nor mark parts them, apostrophes of all
 * shapes among it; runs of scripts without spaces become overlapping pairs of letters. Everything that indexes, asks,
 * marks or matches cuts by this. Never by the runtime's segmenter: that differs between the server and the browser.
 * @example tokenise('L’éclairage').map(t => t.text) // ['l', 'eclairage']
 */
export function tokenise(text: string): Token[] {
  const out: Token[] = []
  for (const m of text.replace(PARTING, ' ').matchAll(WORD)) {
    // by far the most words need no folding but their case
    if (PLAIN.test(m[0])) out.push({ text: m[0].toLowerCase(), start: m.index, end: m.index + m[0].length })
    else cut(m[0], m.index, out)
  }
  return out
}

/** Cuts a run of letters, digits and marks, which stands at some place of a text. */
function cut(run: string, at: number, out: Token[]): void {
  let from = 0
  for (const c of run.matchAll(UNSPACED_RUN)) {
    push(out, run.slice(from, c.index), at + from)
    const letters = lettersOf(c[0], at + c.index)
    if (letters.length === 1) out.push(letters[0]!)
    for (let i = 0; i + 1 < letters.length; i++)
      out.push({ text: letters[i]!.text + letters[i + 1]!.text, start: letters[i]!.start, end: letters[i + 1]!.end })
    from = c.index + c[0].length
  }
  push(out, run.slice(from), at + from)
}

function lettersOf(run: string, at: number): Token[] {
  const letters: Token[] = []
  for (const m of run.matchAll(LETTER)) push(letters, m[0], at + m.index)
  return letters
}

function push(out: Token[], raw: string, start: number): void {
  const text = foldWord(raw)
  if (text) out.push({ text, start, end: start + raw.length })
}

/** A word without case, marks, and the stroke that only draws Arabic letters out. */
const foldWord = (raw: string): string => fold(raw).replace(/[^\p{L}\p{N}]+|\u0640/gu, '')

/** What may stand at one place: one word, or all that a masked one stands for. */
export type Slot = string | Mask
export interface Mask {
  /** What every word it stands for begins with. */
  prefix: string
  /** Whether a word that begins so is meant; all are where it is left out. */
  test?: (word: string) => boolean
}

/** Whether a word of a text may stand at a place. */
export const fits = (slot: Slot, word: string): boolean =>
  typeof slot === 'string'
    ? slot === word
    : word !== BEGIN && word !== END && word.startsWith(slot.prefix) && (slot.test?.(word) ?? true)

// masks and anchors of a term, while it is cut: letters for private use, which no word of a text can match
const ANY = '\ue000'
const ONE = '\ue001'
const EDGE = '\ue002'
const PART = /[\p{L}\p{N}\p{M}\p{Cf}\ue000\ue001]+/gu

/**
 * The words of a search term, cut as texts are. White space parts them; what other signs part has to stand in a row:
 * "O'Brien" is `o` followed by `brien`. `*` stands for any letters, `?` for one, `^` before or behind a word for the
 * beginning or the end of a value; a backslash takes the next letter as it is.
 * @example termRuns('street-light* lamp') // [['street', { prefix: 'light' }], ['lamp']]
 */
export function termRuns(term: string): Slot[][] {
  let plain = ''
  for (let i = 0; i < term.length; i++) {
    const c = term[i]!
    if (c === '\\' && i + 1 < term.length) plain += term[++i]!
    else plain += c === '*' ? ANY : c === '?' ? ONE : c === '^' ? EDGE : /[\ue000-\ue002]/.test(c) ? ' ' : c
  }
  return plain
    .replace(PARTING, c => (c === '\u200b' ? ' ' : "'"))
    .split(/\s+/)
    .flatMap(runsOf)
}

function runsOf(word: string): Slot[][] {
  const run: Slot[] = []
  const apart: Slot[][] = []
  for (const [part] of word.matchAll(PART)) {
    if (!/[\ue000\ue001]/.test(part)) run.push(...slotsOf(part))
    else if (!UNSPACED.test(part)) run.push(maskOf(part))
    else {
      // in a script without spaces anything may stand before and behind: only a mask within parts what it stands between
      const pieces = part.split(/[\ue000\ue001]+/).filter(Boolean)
      if (pieces.length === 1) run.push(...slotsOf(pieces[0]!))
      else apart.push(...pieces.map(slotsOf))
    }
  }
  if (run.length) {
    if (word.startsWith(EDGE)) run.unshift(BEGIN)
    if (word.endsWith(EDGE)) run.push(END)
    apart.unshift(run)
  }
  return apart.filter(r => r.length)
}

/** A part of a term without masks. One letter of a script without spaces is looked for within the pairs. */
function slotsOf(part: string): Slot[] {
  const tokens: Token[] = []
  cut(part, 0, tokens)
  return tokens.map((t, i): Slot => {
    const raw = part.slice(t.start, t.end)
    if (!UNSPACED.test(raw) || lettersOf(raw, 0).length !== 1) return t.text
    const first = i === 0
    const last = i === tokens.length - 1
    if (!first) return { prefix: t.text, ...(last ? {} : { test: w => w === t.text }) }
    return { prefix: '', test: last ? w => w.includes(t.text) : w => w.endsWith(t.text) }
  })
}

function maskOf(part: string): Mask {
  const pieces = part.split(/([\ue000\ue001])/)
  const prefix = foldWord(pieces[0]!)
  if (pieces.slice(1).every(p => p === ANY || p === '')) return { prefix }
  const source = pieces.map(p => (p === ANY ? '.*' : p === ONE ? '.' : foldWord(p))).join('')
  const test = new RegExp(`^${source}$`, 'u')
  return { prefix, test: w => test.test(w) }
}

/** Whether a term has a mask: a sign that stands for other letters. */
export const isMasked = (term: string): boolean => /(^|[^\\])(\\\\)*[*?]/.test(term)

/** A text as a term that stands for itself. */
export const literally = (text: string): string => text.replace(/[\\*?^]/g, '\\$&')
