import search from 'approx-string-match'
import { fold } from './fold'

/** The folded letters and digits of a text, and where in it each of them begins and ends. */
export interface Letters {
  letters: string
  from: Uint32Array
  to: Uint32Array
}

/** What is compared where room, signs, accents and breaks of lines say nothing. */
export function lettersIn(text: string): Letters {
  const parts: string[] = []
  const from: number[] = []
  const to: number[] = []
  for (const word of text.matchAll(/[\p{L}\p{N}\p{M}]+|&/gu)) {
    let at = word.index
    for (const sign of word[0]) {
      const folded = sign === '&' ? 'and' : fold(sign)
      parts.push(folded)
      // a letter may fold to two, and an accent to none
      for (let i = 0; i < folded.length; i++) {
        from.push(at)
        to.push(at + sign.length)
      }
      at += sign.length
      if (!folded && to.length) to[to.length - 1] = at
    }
  }
  return { letters: parts.join(''), from: Uint32Array.from(from), to: Uint32Array.from(to) }
}

export interface Found {
  /** Where it stands in the text, from its first letter up to behind its last. */
  from: number
  to: number
  /** Letters that are others, too many or missing. */
  errors: number
}

/** A longer piece is found by its beginning and its end: the search takes the square of it. */
const LONGEST = 400

/**
 * Places where a piece of text stands in another, as nearly as it stands anywhere, with up to `share` of its letters
 * wrong: approximate search by bit vectors (Myers 1999).
 * @param share of the letters of the piece, 0 to 1
 */
export function findLetters(within: Letters, piece: string, share: number): Found[] {
  const wanted = lettersIn(piece).letters.slice(0, LONGEST)
  if (!wanted || !within.letters) return []
  const exact = within.letters.indexOf(wanted)
  const found =
    exact >= 0
      ? everywhere(within.letters, wanted, exact)
      : share > 0
        ? search(within.letters, wanted, Math.floor(wanted.length * share))
        : []
  const out: (Found & { off: number })[] = []
  for (const { start, end, errors } of found) {
    if (end <= start) continue
    const one = {
      ...{ from: within.from[start]!, to: within.to[end - 1]!, errors },
      off: Math.abs(end - start - wanted.length),
    }
    const last = out.at(-1)
    // one place is met once for each letter that may be its last
    if (!last || one.from >= last.to) out.push(one)
    else if (one.off < last.off) out[out.length - 1] = one
  }
  return out.map(({ off: _, ...f }) => f)
}

function everywhere(text: string, wanted: string, first: number) {
  const out = []
  for (let at = first; at >= 0; at = text.indexOf(wanted, at + wanted.length))
    out.push({ start: at, end: at + wanted.length, errors: 0 })
  return out
}

/** The edge of a word nearest to a place in a text: what is found by its letters may end within one. */
export function wordEdge(text: string, at: number): number {
  const isIn = (i: number) => /[\p{L}\p{N}\p{M}]/u.test(text[i] ?? '')
  if (!isIn(at) || !isIn(at - 1)) return at
  let back = at
  while (isIn(back - 1) && at - back < LONGEST_WORD) back--
  let on = at
  while (isIn(on) && on - at < LONGEST_WORD) on++
  return at - back < on - at ? back : on
}
const LONGEST_WORD = 40
