import { withoutEnd } from './clean'
import { fold } from './fold'
import type { Grant } from './item'

/** Grants that one source may name, and letters of each part. */
const MOST = 50
const LONGEST = 300
/** Letters of a note that are read. */
const READ = 3000

const NUMBER = String.raw`[\p{L}\p{N}][\p{L}\p{N}./_-]{0,38}[\p{L}\p{N}]`
/** The number that stands behind a word for it, or in brackets behind the funder; one without a digit is a word. */
const NUMBERED = new RegExp(
  String.raw`(?:\b(?:grants?|awards?|contracts?|projects?|agreements?|fellowships?|projekt|förderkennzeichen|numbers?|nos?|nr|num|id)\b[.:]?(?:\s{1,3}(?:agreement|numbers?|nos?|nr|id)\b[.:]?)?[\s#:]{1,4}|[([,]\s{0,3})(?=[^\s)\]]{0,38}\d)(${NUMBER})`,
  'giu',
)
const LEAD =
  /^.{0,80}?\b(?:funded|supported|financed|funding(?: was)? (?:received|provided)|support)\b.{0,20}?\b(?:by|from)\s+/iu

/**
 * Reads a note that says who paid: the funder stands before a number, and each number is a grant of its own. A note without
 * a number is kept as it stands.
 * @example readGrants('Night Land Foundation, NLF-2003-0042')
 * // [{ number: 'NLF-2003-0042', funder: 'Night Land Foundation' }]
 */
export function readGrants(note: string): Grant[] {
  const parts = note.slice(0, READ).split(/;|\band\b(?=\s{1,3}(?:by\s{1,3})?the\s)|\n/iu)
  const read = parts.flatMap((part): Grant[] => {
    const said = trimmed(part)
    if (!said) return []
    const found = [...said.matchAll(NUMBERED)]
    if (!found.length) return [{ said: said.slice(0, LONGEST) }]
    const funder = trimmed(
      trimmed(said.slice(0, found[0]!.index).replace(LEAD, '')).replace(
        /^(?:and )?(?:by )?the |\s(?:under|through|via|within)(?: the)?$/giu,
        '',
      ),
    )
    const numbers = [...new Set(found.flatMap(f => [f[1]!, ...more(said, f.index + f[0].length)]))]
    return numbers.map(number => ({ number, ...(funder ? { funder: funder.slice(0, LONGEST) } : {}) }))
  })
  return joinGrants(read)
}

/** Numbers that follow one at once: "NLF-3, NLF-4 and NLF-5". */
function more(said: string, from: number): string[] {
  const next = new RegExp(String.raw`(?:,\s{0,3}|\s{1,3}(?:and|&|und|et)\s{1,3})(?=\S{0,38}\d)(${NUMBER})`, 'uy')
  next.lastIndex = from
  return Array.from({ length: MOST }, () => next.exec(said)?.[1]).flatMap(n => n ?? [])
}

const trimmed = (text: string): string => {
  const end = withoutEnd(text.replace(/\s+/g, ' '), /[\s.,:;)(\]—–-]/)
  return end.replace(/^[\s.,:([]+/u, '')
}

/** Letters and digits of a number, which are all that tells grants apart. */
export const bareNumber = (n: string): string => fold(n).replace(/[^\p{L}\p{N}]/gu, '')

/** Whether two are one grant: the number is the same, and no two funders contradict. Words alone are the same words. */
export function isSameGrant(a: Grant, b: Grant): boolean {
  if (a.number === undefined || b.number === undefined)
    return a.number === b.number && fold(a.said ?? a.funder ?? '') === fold(b.said ?? b.funder ?? '')
  return bareNumber(a.number) === bareNumber(b.number) && fitFunders(a.funder, b.funder)
}

/** The same funder in other words: one is part of the other, or the first letters of its words. */
function fitFunders(a: string | undefined, b: string | undefined): boolean {
  if (!a || !b) return true
  const [x, y] = [wordsOf(a), wordsOf(b)].sort((p, q) => p.length - q.length) as [string[], string[]]
  return x.every(w => y.includes(w)) || x.join('') === y.map(w => w[0]).join('')
}
const wordsOf = (text: string): string[] =>
  (fold(text).match(/[\p{L}\p{N}]+/gu) ?? []).filter(w => !/^(the|of|for|and|de|der|die|des|für|und|et|la|le)$/.test(w))

/** Grants once each, with what any source says of them. */
export function joinGrants(of: readonly Grant[]): Grant[] {
  const out: Grant[] = []
  for (const g of of) {
    const there = out.findIndex(o => isSameGrant(o, g))
    if (there < 0) {
      if (out.length < MOST) out.push(g)
    } else out[there] = { ...g, ...out[there] }
  }
  return out
}
