import { popcount } from '../core/query/evaluate'

/** Counts of values by bitsets, AND and popcount: what `core/sift/limits.ts` is measured beside. */
export interface BitFacet {
  values: string[]
  /** One bitset a value, one after the other, `words` 32-bit words each. */
  bits: Uint32Array
  words: number
}

export function bitFacet(documents: number, valuesOf: (document: number) => readonly string[]): BitFacet {
  const words = (documents + 31) >>> 5
  const numbers = new Map<string, number>()
  const pairs: [number, number][] = []
  for (let d = 0; d < documents; d++)
    for (const v of valuesOf(d)) {
      let n = numbers.get(v)
      if (n === undefined) numbers.set(v, (n = numbers.size))
      pairs.push([n, d])
    }
  const bits = new Uint32Array(numbers.size * words)
  for (const [n, d] of pairs) bits[n * words + (d >>> 5)]! |= 1 << (d & 31)
  return { values: [...numbers.keys()], bits, words }
}

/** For each value, how many documents of the set have it. */
export function countBits(facet: BitFacet, set: Uint32Array): Uint32Array {
  const { words, bits } = facet
  const out = new Uint32Array(facet.values.length)
  for (let v = 0; v < out.length; v++) {
    const at = v * words
    let n = 0
    for (let w = 0; w < words; w++) {
      const both = bits[at + w]! & set[w]!
      if (both) n += popcount(both)
    }
    out[v] = n
  }
  return out
}
