import { printCql, type BooleanNode, type Clause, type Modifier, type Query, type QueryNode } from './cql'
import {
  BEGIN,
  END,
  readDocuments,
  readPositions,
  termNumbers,
  type FrozenField,
  type FrozenIndex,
} from './positional-index'
import { isMasked, termWords, tokenise } from './tokens'

export interface Searchable {
  index: FrozenIndex
  /** Which index fields a name of the query stands for; `` is the server's choice. Unknown names have no entry. */
  names: Record<string, readonly string[]>
  /** Number columns (such as year), NaN where unknown. */
  numbers?: Record<string, Float64Array>
}

export class UnknownIndex extends Error {
  constructor(readonly indexName: string) {
    super(`There is no index called ${indexName}.`)
  }
}

/** Answers of combined queries on one index, the latest ones: a ladder's rung goes on from the rung above it. */
export class KeptAnswers {
  private readonly of = new Map<string, Uint32Array>()
  constructor(private readonly most = 64) {}
  /** The answer of a node, found anew only where it is not kept. */
  get(n: QueryNode, find: () => Uint32Array): Uint32Array {
    const key = printCql({ root: n })
    const have = this.of.get(key)
    const answer = have ?? find()
    // the one used last stands last
    if (have) this.of.delete(key)
    this.of.set(key, answer)
    if (this.of.size > this.most) this.of.delete(this.of.keys().next().value!)
    return answer
  }
}

/**
 * The numbers of all documents that a query matches, ascending. Positions are read only where a phrase or nearness asks
 * for them, and only of documents that have every word. Given `kept` answers, it goes on from them; the answer is then
 * not to be written to.
 * @throws UnknownIndex where the query names an index that is not searchable here
 */
export function evaluate(query: Query, on: Searchable, kept?: KeptAnswers): Uint32Array {
  return documentsOf(query.root, on, kept)
}

const NONE = new Uint32Array(0)

function documentsOf(n: QueryNode, on: Searchable, kept?: KeptAnswers): Uint32Array {
  if (n.kind === 'clause') return clause(n, on)
  return kept ? kept.get(n, () => combined(n, on, kept)) : combined(n, on)
}

function combined(n: BooleanNode, on: Searchable, kept?: KeptAnswers): Uint32Array {
  if (n.op === 'prox') {
    // nearness is a matter of one field: positions of different fields cannot be compared
    const near = Object.keys(on.index.fields).map(f => Uint32Array.from(placesIn(n, f, on).keys()).sort())
    check(n, on)
    return near.reduce(unite, NONE)
  }
  const left = documentsOf(n.left, on, kept)
  const right = documentsOf(n.right, on, kept)
  return n.op === 'and' ? intersect(left, right) : n.op === 'or' ? unite(left, right) : subtract(left, right)
}

/** Names of indexes below a node are looked at even where nothing is found. */
function check(n: QueryNode, on: Searchable): void {
  if (n.kind === 'clause') fieldsOf(n, on)
  else {
    check(n.left, on)
    check(n.right, on)
  }
}

function fieldsOf(c: Clause, on: Searchable): readonly string[] {
  const name = c.index?.toLowerCase() ?? ''
  if (on.numbers?.[name]) return []
  const fields = on.names[name]
  if (!fields) throw new UnknownIndex(c.index ?? '')
  return fields
}

function clause(c: Clause, on: Searchable): Uint32Array {
  const numbers = on.numbers?.[c.index?.toLowerCase() ?? '']
  if (numbers) return compareNumbers(c, numbers)
  const fields = fieldsOf(c, on)
  if (c.term.trim() === '*' || (!c.term.trim() && c.relation === '=')) return every(on.index.documents)
  const found = fields.map(name => inField(c, on.index.fields[name], on.index.documents)).reduce(unite, NONE)
  return c.relation === '<>' && termWords(c.term).length ? subtract(every(on.index.documents), found) : found
}

/** A word as what may stand at one place or, in scripts without spaces, at several that follow one another. */
function slotsOf(word: string, f: FrozenField): number[][] {
  if (isMasked(word) || word === BEGIN || word === END) return [termNumbers(f, word)]
  return tokenise(word.replace(/\\(.)/g, '$1')).map(t => termNumbers(f, t.text))
}

function inField(c: Clause, f: FrozenField | undefined, documents: number): Uint32Array {
  if (!f) return NONE
  const words = termWords(c.term)
  if (!words.length) return NONE
  switch (c.relation) {
    case '==':
      return phrase(
        [[...termNumbers(f, BEGIN)], ...words.flatMap(w => slotsOf(w, f)), [...termNumbers(f, END)]],
        f,
        documents,
      )
    case 'adj':
      return phrase(
        words.flatMap(w => slotsOf(w, f)),
        f,
        documents,
      )
    case 'any':
      return words.map(w => phrase(slotsOf(w, f), f, documents)).reduce(unite, NONE)
    case '=':
    case 'all':
    case '<>':
      return words.map(w => phrase(slotsOf(w, f), f, documents)).reduce(intersect)
    default:
      return NONE
  }
}

/** Documents of any of some terms. */
function anyOf(terms: readonly number[], f: FrozenField, documents: number): Uint32Array {
  if (!terms.length) return NONE
  if (terms.length === 1) return readDocuments(f, terms[0]!)
  if (terms.length < 5) return terms.map(t => readDocuments(f, t)).reduce(unite)
  // many endings: marked on one bit a document
  const bits = new Uint32Array((documents + 31) >>> 5)
  for (const t of terms) for (const d of readDocuments(f, t)) bits[d >>> 5]! |= 1 << (d & 31)
  return fromBits(bits)
}

function phrase(slots: readonly number[][], f: FrozenField, documents: number): Uint32Array {
  if (!slots.length || slots.some(s => !s.length)) return NONE
  if (slots.length === 1) return anyOf(slots[0]!, f, documents)
  const { candidates, ends } = placesOf(slots, f, documents)
  return candidates.filter((_, i) => ends[i]!.length > 0)
}

/** Of every document that has something at each slot, the positions at which the run of slots ends. */
function placesOf(
  slots: readonly number[][],
  f: FrozenField,
  documents: number,
): { candidates: Uint32Array; ends: number[][] } {
  if (slots.some(s => !s.length)) return { candidates: NONE, ends: [] }
  // the rarest slots first: they leave least to look at
  const rare = [...slots].sort((a, b) => weight(a, f) - weight(b, f))
  const candidates = rare.map(s => anyOf(s, f, documents)).reduce(intersect)
  let ends: number[][] = []
  slots.forEach((slot, k) => {
    const here: number[][] = Array.from({ length: candidates.length }, () => [])
    for (const t of slot) readPositions(f, t, candidates, (i, p) => void here[i]!.push(p))
    if (k === 0) ends = here
    else
      ends = here.map((list, i) => {
        const before = ends[i]!
        return before.length ? list.filter(p => before.includes(p - 1)) : []
      })
  })
  return { candidates, ends }
}
const weight = (slot: readonly number[], f: FrozenField): number => slot.reduce((n, t) => n + f.counts[t]!, 0)

/** Positions of a node in one field, by document: what nearness is measured between. */
function placesIn(n: QueryNode, field: string, on: Searchable): Map<number, number[]> {
  const f = on.index.fields[field]!
  if (n.kind === 'clause') {
    const out = new Map<number, number[]>()
    if (!fieldsOf(n, on).includes(field)) return out
    const words = termWords(n.term)
    const runs =
      n.relation === 'adj' || n.relation === '==' ? [words.flatMap(w => slotsOf(w, f))] : words.map(w => slotsOf(w, f))
    for (const slots of runs) {
      if (!slots.length) continue
      const { candidates, ends } = placesOf(slots, f, on.index.documents)
      candidates.forEach((d, i) => ends[i]!.length && out.set(d, [...(out.get(d) ?? []), ...ends[i]!]))
    }
    return out
  }
  const left = placesIn(n.left, field, on)
  const right = placesIn(n.right, field, on)
  if (n.op === 'prox') return near(left, right, n.modifiers)
  const out = new Map<number, number[]>()
  for (const [d, p] of left) {
    const q = right.get(d)
    if (n.op === 'not' ? !q : n.op === 'or' || q) out.set(d, n.op === 'not' || !q ? p : [...p, ...q])
  }
  if (n.op === 'or') for (const [d, q] of right) if (!out.has(d)) out.set(d, q)
  return out
}

/** prox: by default words at distance 1 in either order; `distance` and `ordered` as in the standard. */
function near(a: Map<number, number[]>, b: Map<number, number[]>, modifiers: Modifier[]): Map<number, number[]> {
  const distance = modifiers.find(m => m.name.toLowerCase() === 'distance')
  const ordered = modifiers.some(m => m.name.toLowerCase() === 'ordered')
  const n = Number(distance?.value ?? 1)
  const fits: Record<string, (d: number) => boolean> = {
    '<': d => d < n,
    '<=': d => d <= n,
    '>': d => d > n,
    '>=': d => d >= n,
    '<>': d => d !== n,
  }
  const holds = fits[distance?.comparison ?? '<='] ?? ((d: number) => d === n)
  const out = new Map<number, number[]>()
  for (const [d, before] of a) {
    const kept = (b.get(d) ?? []).filter(q =>
      before.some(p => p !== q && holds(Math.abs(q - p)) && (!ordered || p < q)),
    )
    if (kept.length) out.set(d, kept)
  }
  return out
}

function compareNumbers(c: Clause, column: Float64Array): Uint32Array {
  const wanted = (c.term.match(/-?\d+/g) ?? []).map(Number)
  const a = wanted[0]
  if (a === undefined) return NONE
  const b = wanted[1] ?? a
  const test: Record<string, (v: number) => boolean> = {
    '<': v => v < a,
    '<=': v => v <= a,
    '>': v => v > a,
    '>=': v => v >= a,
    '<>': v => v !== a,
    within: v => v >= a && v <= b,
    any: v => wanted.includes(v),
  }
  const holds = test[c.relation] ?? ((v: number) => v === a)
  const out = new Uint32Array(column.length)
  let n = 0
  for (let d = 0; d < column.length; d++) if (!Number.isNaN(column[d]!) && holds(column[d]!)) out[n++] = d
  return out.slice(0, n)
}

const every = (n: number): Uint32Array => Uint32Array.from({ length: n }, (_, i) => i)

/** The numbers of the bits that are set. */
export function fromBits(bits: Uint32Array): Uint32Array {
  let n = 0
  for (const word of bits) n += popcount(word)
  const out = new Uint32Array(n)
  let k = 0
  for (let w = 0; w < bits.length; w++)
    for (let word = bits[w]!; word !== 0; word &= word - 1) out[k++] = (w << 5) + 31 - Math.clz32(word & -word)
  return out
}
/** How many bits of a 32-bit word are set. */
export function popcount(x: number): number {
  x -= (x >>> 1) & 0x55555555
  x = (x & 0x33333333) + ((x >>> 2) & 0x33333333)
  return Math.imul((x + (x >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24
}

function intersect(a: Uint32Array, b: Uint32Array): Uint32Array {
  if (a.length > b.length) return intersect(b, a)
  const out = new Uint32Array(a.length)
  let n = 0
  // where one list is far shorter, its members are looked up in the other
  if (b.length > a.length * 24) {
    let low = 0
    for (const x of a) {
      let high = b.length
      while (low < high) {
        const mid = (low + high) >>> 1
        if (b[mid]! < x) low = mid + 1
        else high = mid
      }
      if (b[low] === x) out[n++] = x
    }
    return out.subarray(0, n)
  }
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    const x = a[i]!
    const y = b[j]!
    if (x === y) {
      out[n++] = x
      i++
      j++
    } else if (x < y) i++
    else j++
  }
  return out.subarray(0, n)
}
function unite(a: Uint32Array, b: Uint32Array): Uint32Array {
  if (!a.length) return b
  if (!b.length) return a
  const out = new Uint32Array(a.length + b.length)
  let n = 0
  let i = 0
  let j = 0
  while (i < a.length && j < b.length) {
    const x = a[i]!
    const y = b[j]!
    out[n++] = x <= y ? x : y
    if (x <= y) i++
    if (y <= x) j++
  }
  while (i < a.length) out[n++] = a[i++]!
  while (j < b.length) out[n++] = b[j++]!
  return out.subarray(0, n)
}
function subtract(a: Uint32Array, b: Uint32Array): Uint32Array {
  const out = new Uint32Array(a.length)
  let n = 0
  let j = 0
  for (const x of a) {
    while (j < b.length && b[j]! < x) j++
    if (b[j] !== x) out[n++] = x
  }
  return out.subarray(0, n)
}
