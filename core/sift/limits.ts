import { REACHES } from '../access/reach'
import { sayLanguage } from '../query/languages'
import { PARTS } from './marks'
import type { Pass, State } from './decisions'

/** What limits can be set on, of one work of the pool. */
export interface Limited {
  id: number
  title: string
  state: State
  pass: Pass | null
  reason: string | null
  decidedAt: string | null
  part: string | null
  strands: readonly number[]
  tags: readonly string[]
  kind: string
  year: number | null
  language: string | null
  /** Names of the catalogues whose records it has. */
  sources: readonly string[]
  /** Ids of the sweeps that found it. */
  sweeps: readonly number[]
  /** Arrivals that brought it, as "7 new", or "7 known" where it was there before. */
  arrivals: readonly string[]
  reach: string
  hasAbstract: boolean
  pageCount: number | null
  references: number | null
  container: string
  people: readonly string[]
  subjects: readonly string[]
}

/** Everything a pool can be limited by, in the order of use. */
export const FACETS = [
  'state', 'pass', 'reason', 'part', 'strand', 'tag', 'kind', 'year', 'language', 'catalogue', 'sweep', 'came',
  'reach', 'text', 'abstract', 'pages', 'references', 'decided', 'journal', 'author', 'subject',
] as const // prettier-ignore
export type Facet = (typeof FACETS)[number]

/** Chosen values by facet: any of a facet's values, all of the facets. */
export type Limits = Partial<Record<Facet, readonly string[]>>

export const NONE = '–'
const some = (list: readonly (string | number)[]): string[] => (list.length ? list.map(String) : [NONE])

const band = (n: number | null, ends: readonly [number, string][], above: string): string =>
  n === null ? NONE : (ends.find(([end]) => n <= end)?.[1] ?? above)
const PAGES: [number, string][] = [
  [1, '1'],
  [3, '2 to 3'],
  [6, '4 to 6'],
  [20, '7 to 20'],
  [60, '21 to 60'],
]
const REFERENCES: [number, string][] = [
  [0, 'none'],
  [14, '1 to 14'],
  [39, '15 to 39'],
  [79, '40 to 79'],
]

/** Values of a facet in their natural order, where they have one; others stand by how many works they have. */
export const ORDER: Partial<Record<Facet, readonly string[]>> = {
  state: ['unread', 'kept', 'later', 'set aside'],
  pass: ['title', 'abstract', 'full text', NONE],
  part: [...PARTS, NONE],
  reach: REACHES,
  abstract: ['yes', 'no'],
  pages: [...PAGES.map(p => p[1]), 'over 60', NONE],
  references: [...REFERENCES.map(p => p[1]), '80 and more', NONE],
  decided: ['today', 'in the last 7 days', 'earlier', NONE],
}

/** Words that were looked for in the copies, as a query, and the works in whose copies they stand. */
export type Found = ReadonlyMap<string, ReadonlySet<number>>

/** The values a work has of each facet; `now` is the moment that "today" is told by. */
const VALUES: Record<Facet, (w: Limited, now: Date, texts: Found) => readonly string[]> = {
  state: w => [w.state],
  pass: w => [w.pass ?? NONE],
  reason: w => [w.reason ?? NONE],
  part: w => [w.part ?? NONE],
  strand: w => some(w.strands),
  tag: w => some(w.tags),
  kind: w => [w.kind],
  year: w => [w.year === null ? NONE : String(w.year)],
  language: w => [w.language ?? NONE],
  catalogue: w => some(w.sources),
  sweep: w => some(w.sweeps),
  came: w => some(w.arrivals),
  reach: w => [w.reach],
  text: (w, _, texts) => some([...texts].flatMap(([words, works]) => (works.has(w.id) ? words : []))),
  abstract: w => [w.hasAbstract ? 'yes' : 'no'],
  pages: w => [band(w.pageCount, PAGES, 'over 60')],
  references: w => [band(w.references, REFERENCES, '80 and more')],
  decided: (w, now) => [whenOf(w.decidedAt, now)],
  journal: w => [w.container || NONE],
  author: w => some(w.people),
  subject: w => some(w.subjects),
}

function whenOf(at: string | null, now: Date): string {
  if (!at) return NONE
  const midnight = new Date(now.getFullYear(), now.getMonth(), now.getDate()).getTime()
  const then = Date.parse(at)
  return then >= midnight ? 'today' : then >= midnight - 6 * 86_400_000 ? 'in the last 7 days' : 'earlier'
}

/** One facet of a pool: its values as numbers, and the numbers of every work. */
interface Column {
  values: string[]
  numberOf: Map<string, number>
  /** One number a work, or several. */
  of: (number | number[])[]
}

/** Where a work stands in the passes, as a number; from `KEPT` on no pass waits for it. */
export const STANDING = { UNREAD: 0, KEPT_BY_TITLE: 1, KEPT: 2, LATER: 3, ASIDE: 4 } as const
const standingOf = (w: Limited): number =>
  w.state === 'unread'
    ? STANDING.UNREAD
    : w.state === 'later'
      ? STANDING.LATER
      : w.state === 'set aside'
        ? STANDING.ASIDE
        : w.pass === 'title'
          ? STANDING.KEPT_BY_TITLE
          : STANDING.KEPT

/**
 * Those of the places at which a list has a number; a plain loop, for it runs over the whole pool with each decision.
 */
export function placesWith(places: Uint32Array, list: Uint8Array, wanted: number): Uint32Array {
  const out = new Uint32Array(places.length)
  let n = 0
  for (let i = 0; i < places.length; i++) {
    const at = places[i]!
    if (list[at] === wanted) out[n++] = at
  }
  return out.subarray(0, n)
}

/** One list of places after another. */
export function joined(a: ArrayLike<number>, b: ArrayLike<number>): Uint32Array {
  const all = new Uint32Array(a.length + b.length)
  all.set(a)
  all.set(b, a.length)
  return all
}

/**
 * A pool made ready for sifting and limiting, as it stands at one moment: it never changes. The pool as it stands
 * after a decision is another one, for which only the works that changed are read. Facets that nobody asked for are
 * not read at all.
 */
export class PoolIndex<W extends Limited = Limited> {
  private constructor(
    private readonly now: Date,
    readonly works: readonly W[],
    /** The pool as it was when works last came or went: another list only then. */
    readonly members: readonly W[],
    /** Where each work stands, in its place: one of `STANDING`. */
    readonly standing: Uint8Array,
    /** Kept as they are read. */
    private readonly columns: Map<Facet, Column>,
    private readonly texts: Found = new Map(),
  ) {}

  static of<W extends Limited>(works: readonly W[], now = new Date()): PoolIndex<W> {
    return new PoolIndex(now, works, works, Uint8Array.from(works, standingOf), new Map())
  }

  /** The pool as it stands now; works that are the same objects as here are not read again. */
  next(works: readonly W[]): PoolIndex<W> {
    const before = this.works
    if (works === before) return this
    const changed: number[] = []
    let same = before.length > 0 && before.length === works.length
    for (let i = 0; same && i < works.length; i++) {
      if (works[i] === before[i]) continue
      same = works[i]!.id === before[i]!.id
      changed.push(i)
    }
    if (!same) return PoolIndex.of(works, this.now).knowing(this.texts)
    const standing = this.standing.slice()
    for (const i of changed) standing[i] = standingOf(works[i]!)
    const columns = new Map<Facet, Column>()
    for (const [facet, { values, numberOf, of }] of this.columns) {
      // values only ever get numbers: one that no work has any more counts nothing
      const column = { values, numberOf, of: of.slice() }
      for (const i of changed) column.of[i] = this.read(column, facet, works[i]!)
      columns.set(facet, column)
    }
    return new PoolIndex(this.now, works, this.members, standing, columns, this.texts)
  }

  /** The same pool, and what was found in its copies. */
  knowing(texts: Found): PoolIndex<W> {
    if (texts === this.texts) return this
    const columns = new Map(this.columns)
    columns.delete('text')
    return new PoolIndex(this.now, this.works, this.members, this.standing, columns, texts)
  }

  private read(c: Column, facet: Facet, w: Limited): number | number[] {
    const number = (v: string): number => {
      let n = c.numberOf.get(v)
      if (n === undefined) {
        c.numberOf.set(v, (n = c.values.length))
        c.values.push(v)
      }
      return n
    }
    const values = VALUES[facet](w, this.now, this.texts)
    return values.length === 1 ? number(values[0]!) : values.map(number)
  }

  private column(facet: Facet): Column {
    let c = this.columns.get(facet)
    if (!c) {
      c = { values: [], numberOf: new Map(), of: [] }
      this.columns.set(facet, c)
      for (const w of this.works) c.of.push(this.read(c, facet, w))
    }
    return c
  }

  /** For each work how many of the limits it fails, and the last one it fails. */
  private failures(limits: Limits, words: string): { fails: Uint8Array; at: Int8Array } {
    const fails = new Uint8Array(this.works.length)
    const at = new Int8Array(this.works.length).fill(-1)
    FACETS.forEach((facet, f) => {
      const chosen = limits[facet]
      if (!chosen?.length) return
      const c = this.column(facet)
      const wanted = new Uint8Array(c.values.length)
      for (const v of chosen) {
        const n = c.numberOf.get(v)
        if (n !== undefined) wanted[n] = 1
      }
      for (let i = 0; i < fails.length; i++) {
        const n = c.of[i]!
        if (typeof n === 'number' ? !wanted[n] : !n.some(x => wanted[x])) {
          fails[i]!++
          at[i] = f
        }
      }
    })
    const asked = words.toLowerCase().split(/\s+/).filter(Boolean)
    if (asked.length)
      this.works.forEach((w, i) => {
        const text = `${w.title} ${w.people.join(' ')} ${w.container}`.toLowerCase()
        // two, so that no facet's count takes it for its own
        if (!asked.every(a => text.includes(a))) fails[i]! += 2
      })
    return { fails, at }
  }

  /** For each work, in its place, how many limits keep it out; `words` have to stand in title, authors or container. */
  barred(limits: Limits, words = ''): Uint8Array {
    return this.failures(limits, words).fails
  }

  /** The works within the limits, in their order. */
  within(limits: Limits, words = ''): W[] {
    const barred = this.barred(limits, words)
    return this.works.filter((_, i) => !barred[i])
  }

  /**
   * For each value of a facet, the works that choosing it alone in this facet would leave under all other limits.
   * Values without any are left out unless chosen.
   */
  counts(facet: Facet, limits: Limits, words = ''): { value: string; works: number }[] {
    const { fails, at } = this.failures(limits, words)
    const c = this.column(facet)
    const own = FACETS.indexOf(facet)
    const counts = new Uint32Array(c.values.length)
    for (let i = 0; i < fails.length; i++) {
      if (fails[i] && !(fails[i] === 1 && at[i] === own)) continue
      const n = c.of[i]!
      if (typeof n === 'number') counts[n]!++
      else for (const x of n) counts[x]!++
    }
    const chosen = new Set(limits[facet])
    const order = ORDER[facet]
    const missing = [...chosen].filter(v => !c.numberOf.has(v))
    return [...c.values, ...missing]
      .map((value, n) => ({ value, works: counts[n] ?? 0 }))
      .filter(v => v.works || chosen.has(v.value))
      .sort((a, b) =>
        order
          ? order.indexOf(a.value) - order.indexOf(b.value)
          : facet === 'year'
            ? b.value.localeCompare(a.value)
            : b.works - a.works || a.value.localeCompare(b.value),
      )
  }
}

/** A limit as a person reads it. */
export function sayValue(
  facet: Facet,
  value: string,
  names: (facet: Facet, value: string) => string | undefined,
): string {
  if (value === NONE)
    return (
      {
        text: 'none of these',
        strand: 'no strand yet',
        tag: 'no tag',
        part: 'no part yet',
        decided: 'not yet',
        reason: 'no reason',
        pass: 'in no pass',
        sweep: 'no sweep',
      }[facet as string] ?? 'not known'
    )
  return names(facet, value) ?? (facet === 'language' ? sayLanguage(value) : value)
}
