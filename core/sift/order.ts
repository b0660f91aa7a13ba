import { tokenise } from '../query/tokens'
import { seeded } from '../world/random'

/** What is read of a work to tell whether it is wanted. */
export interface Described {
  title: string
  abstract?: string | undefined
  keywords?: readonly string[] | undefined
}

/** Features are hashed to 2^18 places, so that their memory does not grow with the words of a pool. */
const PLACES = 1 << 18

/** Works as rows of TF-IDF features, each row of length 1, in compressed sparse rows. */
export interface Features {
  /** Where each row begins in `at` and `value`; one more than there are rows. */
  from: Int32Array
  at: Int32Array
  value: Float32Array
  /** How many works have each feature. */
  holds: Int32Array
  rows: number
}

const STOP = new Set(
  'a an and are as at be but by can did do does for from had has have if in into is it its may more most no not of on or our over per such than that the their them there these they this those to under was we were what when which while who with within without'.split(
    ' ',
  ),
)

/** Words of a work with their weights: the title counts double; pairs of neighbouring words stand beside them. */
function* termsOf(d: Described): Generator<[string, number]> {
  for (const [text, weight] of [
    [d.title, 2],
    [d.abstract ?? '', 1],
    ...(d.keywords ?? []).map(k => [k, 1] as const),
  ] as const) {
    let before = ''
    for (const { text: w } of tokenise(text)) {
      if (STOP.has(w) || w.length < 2) {
        before = ''
        continue
      }
      yield [w, weight]
      if (before) yield [`${before} ${w}`, weight]
      before = w
    }
  }
}

function place(term: string): number {
  let h = 0x811c9dc5
  for (let i = 0; i < term.length; i++) h = Math.imul(h ^ term.charCodeAt(i), 0x01000193)
  return (h ^ (h >>> 15)) & (PLACES - 1)
}

function counts(d: Described): Map<number, number> {
  const out = new Map<number, number>()
  for (const [term, weight] of termsOf(d)) {
    const p = place(term)
    out.set(p, (out.get(p) ?? 0) + weight)
  }
  return out
}

/**
 * Features of works: (1 + ln tf) · ln((1 + N)/(1 + df)), scaled to length 1 (Salton & Buckley 1988). Texts are read
 * once and their counts kept as plain numbers: a hundred thousand abstracts take some 200 MB.
 */
export function featuresOf(works: readonly Described[]): Features {
  const holds = new Int32Array(PLACES)
  const from = new Int32Array(works.length + 1)
  let at = new Int32Array(works.length * 64 + 64)
  let value = new Float32Array(at.length)
  let n = 0
  works.forEach((d, i) => {
    const tally = counts(d)
    if (n + tally.size > at.length) {
      // as long as the rows read so far let expect, and a little more
      const length = Math.ceil(((n + tally.size) / (i + 1)) * works.length * 1.1) + tally.size
      at = grown(at, new Int32Array(length))
      value = grown(value, new Float32Array(length))
    }
    for (const [p, tf] of tally) {
      holds[p]!++
      at[n] = p
      value[n++] = tf
    }
    from[i + 1] = n
  })
  const f: Features = { from, at, value, holds, rows: works.length }
  for (let i = 0; i < works.length; i++) weigh(f, i, works.length)
  return f
}

function grown<A extends Int32Array | Float32Array>(from: A, to: A): A {
  to.set(from)
  return to
}

/** Turns the counts of a row into weights, in place. */
function weigh(f: Features, row: number, works: number): void {
  const end = f.from[row + 1]!
  let squares = 0
  for (let k = f.from[row]!; k < end; k++) {
    const v = (1 + Math.log(f.value[k]!)) * Math.log((1 + works) / (1 + f.holds[f.at[k]!]!))
    f.value[k] = v
    squares += v * v
  }
  const length = Math.sqrt(squares) || 1
  for (let k = f.from[row]!; k < end; k++) f.value[k]! /= length
}

/** A text of the student's own, such as the question and its terms, as a row of the same features. */
function rowOf(d: Described, f: Features): Features {
  const t = counts(d)
  const row = {
    ...f,
    from: Int32Array.of(0, t.size),
    at: Int32Array.from(t.keys()),
    value: Float32Array.from(t.values()),
    rows: 1,
  }
  weigh(row, 0, f.rows)
  return row
}

export interface Learned {
  weights: Float64Array
  /** Features that have a weight. */
  active: Int32Array
  bias: number
}

interface Example {
  of: Features
  row: number
  wanted: 1 | -1
  weight: number
}

/** How strongly weights are held near nothing; set on worlds of other seeds than those measured. */
const HOLD = 0.3
/** Unread works that stand in for unwanted ones while few are set aside. */
const STAND_IN = 150

/**
 * Learns from decisions what is wanted: logistic regression held by the squared length of its weights, both sides made
 * equally heavy. The question's own words count as one wanted work, less with each that is kept; while few works are
 * set aside, unread ones drawn at random stand in for them at a small weight. Minimised by Nesterov's accelerated
 * gradient with restarts.
 * @param decided 1 wanted, -1 not, 0 unread; one for each row
 */
export function learn(f: Features, decided: ArrayLike<number>, question: Described, seed = 1): Learned {
  const kept: Example[] = []
  const aside: Example[] = []
  const unread: number[] = []
  for (let i = 0; i < f.rows; i++) {
    if (decided[i] === 1) kept.push({ of: f, row: i, wanted: 1, weight: 1 })
    else if (decided[i] === -1) aside.push({ of: f, row: i, wanted: -1, weight: 1 })
    else unread.push(i)
  }
  kept.push({ of: rowOf(question, f), row: 0, wanted: 1, weight: 1 / (1 + kept.length / 2) })
  if (aside.length < STAND_IN) {
    const r = seeded(seed)
    const weight = 0.3 / (1 + aside.length / 10)
    for (const row of new Set(Array.from({ length: Math.min(STAND_IN, unread.length) }, () => r.pick(unread))))
      aside.push({ of: f, row, wanted: -1, weight })
  }
  const examples = [...kept, ...aside]
  const heavy = (list: Example[]) => list.reduce((n, e) => n + e.weight, 0) || 1
  const [up, down] = [heavy(kept), heavy(aside)]
  const half = (up + down) / 2
  for (const e of kept) e.weight *= half / up
  for (const e of aside) e.weight *= half / down
  return minimise(examples, HOLD)
}

function minimise(examples: readonly Example[], hold: number): Learned {
  const seen = new Int32Array(PLACES).fill(-1)
  const active: number[] = []
  for (const { of, row } of examples)
    for (let k = of.from[row]!; k < of.from[row + 1]!; k++) {
      const p = of.at[k]!
      if (seen[p] === -1) {
        seen[p] = active.length
        active.push(p)
      }
    }
  const n = active.length + 1
  // rows have length 1 and a bias beside them: the curvature is at most half of all weights together
  const total = examples.reduce((t, e) => t + e.weight, 0)
  const step = 1 / (hold + total / 2)
  let w = new Float64Array(n)
  const ahead = new Float64Array(n)
  const gradient = new Float64Array(n)
  let momentum = 1
  for (let round = 0; round < 300; round++) {
    for (let j = 0; j < n; j++) gradient[j] = j === n - 1 ? 0 : hold * ahead[j]!
    for (const { of, row, wanted, weight } of examples) {
      let s = ahead[n - 1]!
      const end = of.from[row + 1]!
      for (let k = of.from[row]!; k < end; k++) s += of.value[k]! * ahead[seen[of.at[k]!]!]!
      const pull = (-wanted * weight) / (1 + Math.exp(wanted * s))
      for (let k = of.from[row]!; k < end; k++) gradient[seen[of.at[k]!]!]! += pull * of.value[k]!
      gradient[n - 1]! += pull
    }
    const next = new Float64Array(n)
    let uphill = 0
    let size = 0
    for (let j = 0; j < n; j++) {
      next[j] = ahead[j]! - step * gradient[j]!
      uphill += gradient[j]! * (next[j]! - w[j]!)
      size = Math.max(size, Math.abs(gradient[j]!))
    }
    // momentum that leads uphill is dropped (O'Donoghue & Candès 2015)
    const after = uphill > 0 ? 1 : (1 + Math.sqrt(1 + 4 * momentum * momentum)) / 2
    const carry = uphill > 0 ? 0 : (momentum - 1) / after
    for (let j = 0; j < n; j++) ahead[j] = next[j]! + carry * (next[j]! - w[j]!)
    w = next
    momentum = after
    if (size < 1e-4 * total) break
  }
  const weights = new Float64Array(PLACES)
  active.forEach((p, j) => (weights[p] = w[j]!))
  return { weights, active: Int32Array.from(active), bias: w[n - 1]! }
}

/** Log-odds that each work is wanted. */
export function scoresOf(f: Features, m: Learned): Float32Array {
  const out = new Float32Array(f.rows)
  for (let i = 0; i < f.rows; i++) {
    let s = m.bias
    for (let k = f.from[i]!; k < f.from[i + 1]!; k++) s += f.value[k]! * m.weights[f.at[k]!]!
    out[i] = s
  }
  return out
}

/** The words of a work that moved it most, towards keeping and away from it. */
export function why(d: Described, f: Features, m: Learned, most = 4): { towards: string[]; away: string[] } {
  const row = rowOf(d, f)
  const value = new Map<number, number>()
  for (let k = 0; k < row.from[1]!; k++) value.set(row.at[k]!, row.value[k]!)
  const moved = new Map<string, number>()
  for (const [term] of termsOf(d)) {
    const p = place(term)
    // two words that met by chance tell a reader nothing
    if (term.includes(' ') && f.holds[p]! < 3 && f.rows > 20) continue
    moved.set(term, (value.get(p) ?? 0) * m.weights[p]!)
  }
  // a pair that moved the work itself speaks for its two words as well
  const strength = ([term, v]: [string, number]): [string, number] => {
    const parts = term.split(' ').map(w => moved.get(w) ?? 0)
    return [
      term,
      parts.length > 1 && parts.every(p => Math.abs(p) < 4 * Math.abs(v) && p * v > 0) ? v + parts[0]! + parts[1]! : v,
    ]
  }
  const ranked = [...moved]
    .map(strength)
    .filter(([, v]) => Math.abs(v) > 1e-3)
    .sort((x, y) => y[1] - x[1])
  // "street lighting" says it; "street" need not be said again
  const distinct = (list: [string, number][]): string[] => {
    const out: string[] = []
    for (const [t] of list) {
      if (out.length === most) break
      if (!out.some(o => o.split(' ').some(w => t.split(' ').includes(w)))) out.push(t)
    }
    return out
  }
  return {
    towards: distinct(ranked.filter(([, v]) => v > 0)),
    away: distinct(ranked.filter(([, v]) => v < 0).reverse()),
  }
}

/** Works at the beginning that are none of them drawn by chance: a new pool begins with what answers the question. */
export const FIRST_PAGE = 20

/**
 * The order in which unread works are read: the likeliest first, and behind the first page every tenth drawn by chance, so
 * that what the learner has not met can come up.
 * @param read how many were read before: it says where the next draw falls, and what is drawn
 */
export function readingOrder(
  scores: Float32Array,
  unread: readonly number[],
  read: number,
): { row: number; chance: boolean }[] {
  const ranked = [...unread].sort((a, b) => scores[b]! - scores[a]! || a - b)
  const r = seeded(read + 1)
  const out: { row: number; chance: boolean }[] = []
  const taken = new Set<number>()
  let next = 0
  while (out.length < ranked.length) {
    const place = read + out.length
    const chance = place >= FIRST_PAGE && place % 10 === 9
    let row: number
    if (chance) {
      do row = r.pick(unread)
      while (taken.has(row))
    } else {
      while (taken.has(ranked[next]!)) next++
      row = ranked[next]!
    }
    taken.add(row)
    out.push({ row, chance })
  }
  return out
}
