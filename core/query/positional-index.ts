import { BEGIN, END, tokenise, type Slot } from './tokens'

/**
 * A positional inverted index on typed arrays. While it is built, each field is one stream of term numbers in the order
 * in which they stand, so that adding a text is a scan and a look-up in a hash table, without a string for each word.
 * `freeze` sorts the stream by term (a counting sort) and writes varints: documents and frequencies in one stream,
 * positions in another, so that what needs no positions never reads them.
 */
export interface FrozenIndex {
  documents: number
  fields: Record<string, FrozenField>
}
export interface FrozenField {
  /** Sorted by code unit; the two marks of where a value begins and ends stand first. */
  terms: string[]
  /** Number of documents of each term. */
  counts: Uint32Array
  /** docsAt[i] to docsAt[i+1] are the documents of terms[i]: delta and frequency each. */
  docsAt: Uint32Array
  docs: Uint8Array
  /** positionsAt[i] to positionsAt[i+1] are its positions: deltas within each document. */
  positionsAt: Uint32Array
  positions: Uint8Array
  /** Words of the field in each document. */
  lengths: Uint32Array
}

/** Raised whenever a frozen index is laid out differently, so that a stored one is known to be stale. */
export const INDEX_VERSION = 2

/** Position gap between the values of a repeated field, so that no phrase reaches across them. */
const GAP = 16

class Ints {
  data = new Uint32Array(256)
  n = 0
  push(x: number): void {
    if (this.n === this.data.length) {
      const grown = new Uint32Array(this.n * 2)
      grown.set(this.data)
      this.data = grown
    }
    this.data[this.n++] = x
  }
}

class FieldBuilder {
  readonly terms: string[] = []
  private hashes = new Ints()
  /** Open addressing; a term's number plus one, 0 where free. */
  private table = new Int32Array(1024)
  readonly tokens = new Ints()
  readonly at = new Ints()
  /** Documents that have the field, in order, and the first token of each. */
  readonly documents = new Ints()
  readonly starts = new Ints()
  readonly lengths = new Ints()

  addDocument(document: number, values: readonly string[]): void {
    this.documents.push(document)
    this.starts.push(this.tokens.n)
    let base = 0
    let words = 0
    for (const value of values) {
      this.put(this.word(BEGIN), base)
      const n = plain.test(value) ? this.scan(value, base + 1) : this.cut(value, base + 1)
      this.put(this.word(END), base + 1 + n)
      words += n
      base += n + 2 + GAP
    }
    this.lengths.push(words)
  }

  private put(term: number, position: number): void {
    this.tokens.push(term)
    this.at.push(position)
  }
  private cut(value: string, base: number): number {
    const tokens = tokenise(value)
    tokens.forEach((t, i) => this.put(this.word(t.text), base + i))
    return tokens.length
  }
  /** The words of a text of ASCII letters, read letter by letter. */
  private scan(text: string, base: number): number {
    let n = 0
    const end = text.length
    for (let i = 0; i < end;) {
      let hash = 2166136261
      let j = i
      for (; j < end; j++) {
        const c = lower(text.charCodeAt(j))
        if (c < 0) break
        hash = Math.imul(hash ^ c, 16777619)
      }
      if (j > i) {
        this.put(this.find(text, i, j, hash >>> 0), base + n)
        n++
      }
      i = j + 1
    }
    return n
  }
  word(text: string): number {
    let hash = 2166136261
    for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 16777619)
    hash >>>= 0
    const mask = this.table.length - 1
    for (let slot = hash & mask; ; slot = (slot + 1) & mask) {
      const id = this.table[slot]! - 1
      if (id < 0) return this.enter(text, hash, slot)
      if (this.hashes.data[id] === hash && this.terms[id] === text) return id
    }
  }
  private find(text: string, from: number, to: number, hash: number): number {
    const mask = this.table.length - 1
    next: for (let slot = hash & mask; ; slot = (slot + 1) & mask) {
      const id = this.table[slot]! - 1
      if (id < 0) return this.enter(text.slice(from, to).toLowerCase(), hash, slot)
      if (this.hashes.data[id] !== hash) continue
      const term = this.terms[id]!
      if (term.length !== to - from) continue
      for (let k = 0; k < term.length; k++) if (term.charCodeAt(k) !== lower(text.charCodeAt(from + k))) continue next
      return id
    }
  }
  private enter(term: string, hash: number, slot: number): number {
    const id = this.terms.length
    this.terms.push(term)
    this.hashes.push(hash)
    this.table[slot] = id + 1
    if (this.terms.length * 2 > this.table.length) {
      const table = new Int32Array(this.table.length * 2)
      const mask = table.length - 1
      for (let i = 0; i < this.terms.length; i++) {
        let s = this.hashes.data[i]! & mask
        while (table[s]) s = (s + 1) & mask
        table[s] = i + 1
      }
      this.table = table
    }
    return id
  }

  freeze(documents: number): FrozenField {
    const n = this.terms.length
    const total = this.tokens.n
    const tokens = this.tokens.data
    // counting sort by term; documents and positions stay in order within each
    const from = new Uint32Array(n + 1)
    for (let i = 0; i < total; i++) from[tokens[i]! + 1]!++
    for (let i = 0; i < n; i++) from[i + 1]! += from[i]!
    const next = from.slice(0, n)
    const docOf = new Uint32Array(total)
    const posOf = new Uint32Array(total)
    const lengths = new Uint32Array(documents)
    for (let d = 0; d < this.documents.n; d++) {
      const document = this.documents.data[d]!
      lengths[document] = this.lengths.data[d]!
      const stop = d + 1 < this.documents.n ? this.starts.data[d + 1]! : total
      for (let i = this.starts.data[d]!; i < stop; i++) {
        const place = next[tokens[i]!]!++
        docOf[place] = document
        posOf[place] = this.at.data[i]!
      }
    }
    const order = Uint32Array.from({ length: n }, (_, i) => i)
    const { terms } = this
    order.sort((a, b) => (terms[a]! < terms[b]! ? -1 : 1))
    const counts = new Uint32Array(n)
    const docsAt = new Uint32Array(n + 1)
    const positionsAt = new Uint32Array(n + 1)
    const docs = new Bytes(total)
    const positions = new Bytes(total)
    for (let k = 0; k < n; k++) {
      const id = order[k]!
      docsAt[k] = docs.n
      positionsAt[k] = positions.n
      let last = 0
      for (let i = from[id]!; i < from[id + 1]!;) {
        const document = docOf[i]!
        const begin = i
        let p = 0
        for (; i < from[id + 1]! && docOf[i] === document; i++) {
          positions.varint(posOf[i]! - p)
          p = posOf[i]!
        }
        docs.varint(document - last)
        docs.varint(i - begin)
        last = document
        counts[k]!++
      }
    }
    docsAt[n] = docs.n
    positionsAt[n] = positions.n
    return {
      terms: Array.from(order, id => terms[id]!),
      counts,
      docsAt,
      docs: docs.done(),
      positionsAt,
      positions: positions.done(),
      lengths,
    }
  }
}

const plain = /^[^\u0080-\uffff]*$/
/** A letter or digit of ASCII in lower case, or -1. */
function lower(c: number): number {
  if (c >= 97 && c <= 122) return c
  if (c >= 65 && c <= 90) return c + 32
  return c >= 48 && c <= 57 ? c : -1
}

class Bytes {
  private data: Uint8Array
  n = 0
  constructor(guess: number) {
    this.data = new Uint8Array(Math.max(64, guess))
  }
  varint(x: number): void {
    if (this.n + 5 > this.data.length) {
      const grown = new Uint8Array(this.data.length * 2)
      grown.set(this.data)
      this.data = grown
    }
    while (x > 127) {
      this.data[this.n++] = (x & 127) | 128
      x >>>= 7
    }
    this.data[this.n++] = x
  }
  done(): Uint8Array {
    return this.data.slice(0, this.n)
  }
}

export class IndexBuilder {
  private readonly fields = new Map<string, FieldBuilder>()
  private documents = 0

  /** Adds the next document and returns its number, counted from 0. A field's values are kept apart by a gap. */
  add(fields: Record<string, string | readonly string[] | undefined>): number {
    const document = this.documents++
    for (const name in fields) {
      const given = fields[name]
      const values = given === undefined ? [] : typeof given === 'string' ? [given] : given
      if (!values.length) continue
      let field = this.fields.get(name)
      if (!field) this.fields.set(name, (field = new FieldBuilder()))
      field.addDocument(document, values)
    }
    return document
  }

  /** The index of all that was added so far; more can be added, and frozen again. */
  freeze(): FrozenIndex {
    return {
      documents: this.documents,
      fields: Object.fromEntries([...this.fields].map(([name, f]) => [name, f.freeze(this.documents)])),
    }
  }
}

/** Where in the dictionary the words are that may stand at a place. */
export function termNumbers({ terms }: FrozenField, slot: Slot): number[] {
  if (typeof slot === 'string') {
    const i = lowerBound(terms, slot)
    return terms[i] === slot ? [i] : []
  }
  const { prefix, test } = slot
  const out: number[] = []
  // the marks of where a value begins and ends are no words
  for (let i = Math.max(lowerBound(terms, prefix), lowerBound(terms, ' ')); i < terms.length; i++) {
    const term = terms[i]!
    if (!term.startsWith(prefix)) break
    if (!test || test(term)) out.push(i)
  }
  return out
}

function lowerBound(terms: readonly string[], wanted: string): number {
  let low = 0
  let high = terms.length
  while (low < high) {
    const mid = (low + high) >>> 1
    if (terms[mid]! < wanted) low = mid + 1
    else high = mid
  }
  return low
}

/** The documents of one term, ascending; with their frequencies where a list for them is given. */
export function readDocuments(f: FrozenField, term: number, frequencies?: Uint32Array): Uint32Array {
  const out = new Uint32Array(f.counts[term]!)
  const { docs } = f
  let at = f.docsAt[term]!
  let document = 0
  for (let i = 0; i < out.length; i++) {
    let n = 0
    let shift = 0
    let byte = docs[at++]!
    while (byte > 127) {
      n |= (byte & 127) << shift
      shift += 7
      byte = docs[at++]!
    }
    document += n | (byte << shift)
    out[i] = document
    byte = docs[at++]!
    if (frequencies) {
      n = 0
      shift = 0
      while (byte > 127) {
        n |= (byte & 127) << shift
        shift += 7
        byte = docs[at++]!
      }
      frequencies[i] = n | (byte << shift)
    } else while (byte > 127) byte = docs[at++]!
  }
  return out
}

/** Positions of one term in those of its documents that are wanted, given ascending. */
export function readPositions(
  f: FrozenField,
  term: number,
  wanted: Uint32Array,
  take: (index: number, position: number) => void,
): void {
  const frequencies = new Uint32Array(f.counts[term]!)
  const documents = readDocuments(f, term, frequencies)
  const { positions } = f
  let at = f.positionsAt[term]!
  let w = 0
  for (let i = 0; i < documents.length && w < wanted.length; i++) {
    const d = documents[i]!
    while (w < wanted.length && wanted[w]! < d) w++
    const here = w < wanted.length && wanted[w] === d
    let p = 0
    for (let k = 0; k < frequencies[i]!; k++) {
      let n = 0
      let shift = 0
      let byte = positions[at++]!
      while (byte > 127) {
        n |= (byte & 127) << shift
        shift += 7
        byte = positions[at++]!
      }
      p += n | (byte << shift)
      if (here) take(w, p)
    }
  }
}

/** How many bytes an index takes, its dictionary counted as two bytes a letter and sixteen a word. */
export function sizeOf(index: FrozenIndex): number {
  return Object.values(index.fields).reduce(
    (n, f) =>
      n +
      f.docs.byteLength +
      f.positions.byteLength +
      f.counts.byteLength +
      f.docsAt.byteLength +
      f.positionsAt.byteLength +
      f.lengths.byteLength +
      f.terms.reduce((t, s) => t + 16 + 2 * s.length, 0),
    0,
  )
}
