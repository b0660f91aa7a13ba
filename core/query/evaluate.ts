import { printCql, type BooleanNode, type Clause, type Modifier, type Query, type QueryNode } from './cql'
import { readDocuments, readPositions, termNumbers, type FrozenField, type FrozenIndex } from './positional-index'
import { BEGIN, END, literally, termRuns, type Slot } from './tokens'

export interface Searchable {
  index: FrozenIndex
  /** Which index fields a name of the query stands for; `` is the server's choice. Unknown names have no entry. */
  names: Record<string, readonly string[]>
  /** Number columns (such as year), NaN where unknown. */
  numbers?: Record<string, Float64Array>
}

/** A part of a query that is not understood here, by its name: it is refused, never left out. */
export class NotUnderstood extends Error {
  constructor(
    readonly what: 'index' | 'relation' | 'relation modifier' | 'boolean modifier' | 'unit of nearness' | 'distance',
    readonly named: string,
  ) {
    super(what === 'index' ? `There is no index called ${named}.` : `The ${what} “${named}” is not understood here.`)
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
 * @throws NotUnderstood where the query asks for what cannot be asked here: an index, a relation, a modifier
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
  checkModifiers(n)
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

/** What is named below a node is looked at even where nothing is found. */
function check(n: QueryNode, on: Searchable): void {
  if (n.kind === 'clause') fieldsOf(n, on)
  else {
    checkModifiers(n)
    check(n.left, on)
    check(n.right, on)
  }
}

function checkModifiers(n: BooleanNode): void {
  if (n.op === 'prox') nearnessOf(n.modifiers)
  else if (n.modifiers[0]) throw new NotUnderstood('boolean modifier', n.modifiers[0].name)
}

function fieldsOf(c: Clause, on: Searchable): readonly string[] {
  const name = c.index?.toLowerCase() ?? ''
  if (on.numbers?.[name]) return []
  const fields = on.names[name]
  if (!fields) throw new NotUnderstood('index', c.index ?? '')
  return fields
}

/** Modifiers that say what is done anyway: words are compared without case and accents, and masks are masks. */
const ALWAYS = /^(cql\.)?(relevant|ignorecase|ignoreaccents|masked|word|string|number|isodate)$/i
const UNMASKED = /^(cql\.)?unmasked$/i

function clause(c: Clause, on: Searchable): Uint32Array {
  const strange = c.modifiers.find(m => !ALWAYS.test(m.name) && !UNMASKED.test(m.name))
  if (strange) throw new NotUnderstood('relation modifier', strange.name)
  const numbers = on.numbers?.[c.index?.toLowerCase() ?? '']
  if (numbers) return compareNumbers(c, numbers)
  const fields = fieldsOf(c, on)
  if (!ON_TEXT.has(c.relation)) throw new NotUnderstood('relation', c.relation)
  if (c.term.trim() === '*' || (!c.term.trim() && c.relation === '=')) return every(on.index.documents)
  const runs = runsOf(c)
  const found = fields.map(name => inField(c, runs, on.index.fields[name], on.index.documents)).reduce(unite, NONE)
  return c.relation === '<>' && runs.length ? subtract(every(on.index.documents), found) : found
}

const runsOf = (c: Clause): Slot[][] =>
  termRuns(c.modifiers.some(m => UNMASKED.test(m.name)) ? literally(c.term) : c.term)

const ON_TEXT = new Set<Clause['relation']>(['=', '==', 'adj', 'all', 'any', '<>'])

function inField(c: Clause, runs: Slot[][], f: FrozenField | undefined, documents: number): Uint32Array {
  if (!f || !runs.length) return NONE
  const each = (run: Slot[]) =>
    phrase(
      run.map(s => termNumbers(f, s)),
      f,
      documents,
    )
  switch (c.relation) {
    case '==':
      return each(whole(runs))
    case 'adj':
      return each(runs.flat())
    case 'any':
      return runs.map(each).reduce(unite, NONE)
    default:
      return runs.map(each).reduce(intersect)
  }
}

/** A term as all of a value. */
const whole = (runs: Slot[][]): Slot[] => [BEGIN, ...runs.flat().filter(s => s !== BEGIN && s !== END), END]

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
    if (!ON_TEXT.has(n.relation)) throw new NotUnderstood('relation', n.relation)
    const runs = runsOf(n)
    const rows = n.relation === '==' ? [whole(runs)] : n.relation === 'adj' ? [runs.flat()] : runs
    for (const slots of rows.map(row => row.map(s => termNumbers(f, s)))) {
      if (!slots.length) continue
      const { candidates, ends } = placesOf(slots, f, on.index.documents)
      candidates.forEach((d, i) => ends[i]!.length && out.set(d, [...(out.get(d) ?? []), ...ends[i]!]))
    }
    return out
  }
  const left = placesIn(n.left, field, on)
  const right = placesIn(n.right, field, on)
  if (n.op === 'prox') return near(left, right, nearnessOf(n.modifiers))
  const out = new Map<number, number[]>()
  for (const [d, p] of left) {
    const q = right.get(d)
    if (n.op === 'not' ? !q : n.op === 'or' || q) out.set(d, n.op === 'not' || !q ? p : [...p, ...q])
  }
  if (n.op === 'or') for (const [d, q] of right) if (!out.has(d)) out.set(d, q)
  return out
}

interface Nearness {
  holds: (distance: number) => boolean
  ordered: boolean
}

/** What prox asks for: by default words at distance 1 in either order, as the standard has it. */
function nearnessOf(modifiers: readonly Modifier[]): Nearness {
  let n = 1
  let comparison: Modifier['comparison'] = '<='
  let ordered = false
  for (const m of modifiers) {
    const name = m.name.toLowerCase().replace(/^cql\./, '')
    if (name === 'distance') {
      if (!/^\d{1,6}$/.test(m.value ?? '')) throw new NotUnderstood('distance', m.value ?? '')
      n = Number(m.value)
      comparison = m.comparison
    } else if (name === 'unit') {
      if (m.value?.toLowerCase() !== 'word') throw new NotUnderstood('unit of nearness', m.value ?? '')
    } else if (name === 'ordered' || name === 'unordered') ordered = name === 'ordered'
    else throw new NotUnderstood('boolean modifier', m.name)
  }
  const holds: Record<string, Nearness['holds']> = {
    '<': d => d < n,
    '<=': d => d <= n,
    '>': d => d > n,
    '>=': d => d >= n,
    '<>': d => d !== n,
  }
  return { holds: holds[comparison ?? '<='] ?? (d => d === n), ordered }
}

function near(a: Map<number, number[]>, b: Map<number, number[]>, { holds, ordered }: Nearness): Map<number, number[]> {
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
    // a single year holds a stretch only where that is the same year
    encloses: v => v === a && v === b,
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
