import { fold } from '../bib/fold'

/** Raised whenever the same text would be cut differently, so that a stored index is known to be stale. */
export const TOKENISER_VERSION = 1

export interface Token {
  /** The folded word. */
  text: string
  /** Offsets of the word in the text it came from, in UTF-16 units. */
  start: number
  end: number
}

const word = /[\p{L}\p{N}\p{M}]+(?:['’][\p{L}\p{M}]+)*/gu
const plain = /^[A-Za-z0-9]+$/
const cjk = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}]+/gu

/**
 * Cuts text into words by Unicode properties; runs of CJK letters become overlapping pairs.
 * Never by the runtime's segmenter: that differs between the server and the browser.
 */
export function tokenise(text: string): Token[] {
  const out: Token[] = []
  for (const m of text.matchAll(word)) {
    // by far the most words need no folding but their case
    if (plain.test(m[0])) {
      out.push({ text: m[0].toLowerCase(), start: m.index, end: m.index + m[0].length })
      continue
    }
    let from = 0
    for (const c of m[0].matchAll(cjk)) {
      push(out, m[0].slice(from, c.index), m.index + from)
      const run = [...c[0]]
      let at = m.index + c.index
      if (run.length === 1) push(out, c[0], at)
      for (let i = 0; i + 1 < run.length; i++) {
        push(out, run[i]! + run[i + 1]!, at)
        at += run[i]!.length
      }
      from = c.index + c[0].length
    }
    push(out, m[0].slice(from), m.index + from)
  }
  return out
}

function push(out: Token[], raw: string, start: number): void {
  if (!raw) return
  const text = fold(raw).replace(/[^\p{L}\p{N}]+/gu, '')
  if (text) out.push({ text, start, end: start + raw.length })
}

/** A masked word as a test: `*` stands for any run, `?` for one letter, a backslash takes the next one as it is. */
export function maskTest(masked: string): RegExp {
  let source = ''
  for (let i = 0; i < masked.length; i++) {
    const c = masked[i]!
    if (c === '\\' && i + 1 < masked.length) source += escape(fold(masked[++i]!))
    else if (c === '*') source += '.*'
    else if (c === '?') source += '.'
    else source += escape(fold(c))
  }
  return new RegExp(`^${source}$`, 'u')
}

export const isMasked = (term: string): boolean => /(^|[^\\])(\\\\)*[*?]/.test(term)

/** The letters before the first mask: where in a sorted dictionary the matches can stand. */
export function maskPrefix(masked: string): string {
  const m = /^(?:\\.|[^*?\\])*/.exec(masked)
  return fold((m?.[0] ?? '').replace(/\\(.)/g, '$1')).replace(/[^\p{L}\p{N}]+/gu, '')
}

const escape = (s: string): string => s.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&')

/** The words of a search term, masks kept: `street light*` is `street`, `light*`. */
export function termWords(term: string): string[] {
  return (term.match(/(?:\\.|[^\s\-–—/,;:.()'"’])+/gu) ?? [])
    .map(w => w.replace(/[^\p{L}\p{N}\p{M}*?\\]+/gu, ''))
    .filter(w => /[\p{L}\p{N}]/u.test(w) || w === '*')
}
