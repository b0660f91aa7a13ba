import { popcount } from './evaluate'

/**
 * Counts of every possible next limit over a set of documents. Values of a facet with few of them (kinds, years,
 * languages) are bitsets, counted by AND and popcount; those with thousands (authors, journals) are lists by document,
 * counted by walking the documents of the set.
 */
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

export interface ListFacet {
  values: string[]
  /** starts[d] to starts[d+1] are the value numbers of document d. */
  starts: Uint32Array
  numbers: Uint32Array
}

export function listFacet(documents: number, valuesOf: (document: number) => readonly string[]): ListFacet {
  const numbers = new Map<string, number>()
  const starts = new Uint32Array(documents + 1)
  const list: number[] = []
  for (let d = 0; d < documents; d++) {
    for (const v of new Set(valuesOf(d))) {
      let n = numbers.get(v)
      if (n === undefined) numbers.set(v, (n = numbers.size))
      list.push(n)
    }
    starts[d + 1] = list.length
  }
  return { values: [...numbers.keys()], starts, numbers: Uint32Array.from(list) }
}

/** For each value, how many of the documents have it; the set as numbers, ascending. */
export function countLists(facet: ListFacet, documents: Uint32Array): Uint32Array {
  const out = new Uint32Array(facet.values.length)
  const { starts, numbers } = facet
  for (const d of documents) for (let i = starts[d]!; i < starts[d + 1]!; i++) out[numbers[i]!]!++
  return out
}

/** A set of documents as bits. */
export function toBits(documents: Uint32Array, of: number): Uint32Array {
  const bits = new Uint32Array((of + 31) >>> 5)
  for (const d of documents) bits[d >>> 5]! |= 1 << (d & 31)
  return bits
}
