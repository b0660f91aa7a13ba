/**
 * Call numbers in the order in which they stand. Libraries number by letters of a class and a whole number (QL561), by
 * decimal numbers (595.78), or by signs of their own (NWc 12/3): each is compared by its own rules, part by part.
 */

/** One part of a call number: letters, a whole number, or digits behind a point, which are a fraction. */
type Part = { kind: 'whole'; n: number } | { kind: 'letters' | 'fraction'; text: string }

/** Words that stand before a number and do not move it: where it stands, how large it is. */
const PREFIX = /^(ref(erence)?|oversize|folio|quarto|stack|res(erve)?|per(iodical)?)\.?\s+/i

/** Letters before the number of a volume or a copy; such a number is whole. */
const COUNTS = new Set(['v', 'c', 't', 'bd', 'vol', 'no', 'copy'])

/** @param call as it stands on the book: `QL561 .W49 1989 v.2` */
function partsOfCall(call: string): Part[] {
  const parts: Part[] = []
  const plain = call.replace(PREFIX, '')
  /** Whether the digits that follow the letters before them are an author's mark, a fraction: .W49 before .W5. */
  let isMark = false
  for (const { 0: token, index } of plain.matchAll(/(?<=\d)\.\d+|\d+|\p{L}+/gu)) {
    if (token.startsWith('.')) parts.push({ kind: 'fraction', text: token.slice(1) })
    else if (/^\d/.test(token)) {
      const touches = isMark && /\p{L}/u.test(plain[index - 1] ?? '')
      parts.push(touches ? { kind: 'fraction', text: token } : { kind: 'whole', n: Number(token) })
    } else {
      const text = token.toLowerCase()
      isMark = parts.length > 1 && token.length <= 2 && !COUNTS.has(text)
      parts.push({ kind: 'letters', text })
    }
  }
  return parts
}

/** A number that goes on behind a point stands after all that end there and have an author's mark. */
const KINDS = ['whole', 'letters', 'fraction'] as const

/** Orders call numbers as they stand on the shelf: nothing before something, numbers before letters. */
export function compareCalls(a: string, b: string): number {
  const [x, y] = [partsOfCall(a), partsOfCall(b)]
  for (let i = 0; i < Math.max(x.length, y.length); i++) {
    const [p, q] = [x[i], y[i]]
    if (!p || !q) return p ? 1 : -1
    if (p.kind !== q.kind) return KINDS.indexOf(p.kind) - KINDS.indexOf(q.kind)
    const by = p.kind === 'whole' ? p.n - (q as typeof p).n : byText(p.text, (q as typeof p).text)
    if (by) return by
  }
  return byText(a, b)
}
const byText = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0)
