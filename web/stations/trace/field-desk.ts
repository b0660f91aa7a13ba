import type { GraphAnswer } from '../../../core/schema/api'
import type { WorkLine } from '../../../core/sift/line'
import { Field } from '../../../core/trails/field'
import type { End, Enough, Lacking, ListKind, Ranked } from '../../../core/trails/field-shapes'
import type { Place } from '../../../core/trails/main-path'
import type { Forecast, Pays } from '../../../core/trails/rounds'

/** What a page is told of a field at once; works and pointers are named by their places among `ends`. */
export interface Overview {
  /** Which load it belongs to. */
  of: number
  ends: End[]
  lacking: Lacking[]
  arcs: [older: number, newer: number][]
  places: Place[]
  /** Citations of a work by an older one, which the main path leaves out. */
  forward: [citing: number, cited: number][]
  /** Names of the stems with the works on them; suggested where the student has no strands. */
  stems: { strand: number | null; name: string; works: number[] }[]
  suggested: { name: string; works: number[] }[]
  /** Of works that belong to more than the stem they stand on: the names of the others. */
  also: [at: number, names: string[]][]
  /** On which stem each of the ends stands; -1 of none. */
  stemOf: Int16Array
  strokes: { stem: number; year: number; n: number }[]
  enough: Enough
  pays: Pays[]
  /** Kept works that were hardly cited for years, and then woke. */
  slept: { at: number; woke: number }[]
}
/** A step of a chain: the work that it leads to, and whether the one before cites it. */
export interface Link {
  end: End
  by: 'cites' | 'is cited by'
}
/** A row of a ranked list, with the work that it is of. */
export interface Row extends Ranked {
  end: End
}
export interface StrandOf {
  id: number
  name: string
}
export type FieldLine = Pick<
  WorkLine,
  'id' | 'title' | 'year' | 'state' | 'strands' | 'citedBy' | 'references' | 'sources' | 'sweeps'
>

/** Kept works that are on none of the strands. */
export const REST = 'on no strand'

/** The place of a work among the ends. */
export function placeAmong(ends: readonly End[], { work, node }: End): number | undefined {
  const at = ends.findIndex(e => (work === null ? e.work === null && e.node === node : e.work === work))
  return at < 0 ? undefined : at
}

/** A field that is reckoned beside the page; it holds the one that was loaded last. */
export class FieldDesk {
  private field: Field | undefined
  private loads = 0

  load(graph: GraphAnswer, works: readonly FieldLine[], strands: readonly StrandOf[], today: string): Overview {
    const { from } = graph
    const field = new Field(
      graph,
      works.map(({ sources, sweeps, ...w }) => ({
        ...w,
        swept: sweeps.length > 0,
        byTrail: sources.length > 0 && sources.every(s => s === from),
      })),
      today,
    )
    this.field = field
    const lacking = field.lacking()
    const { arcs, places, forward } = field.path(lacking.map(l => l.node))
    const { strands: suggested, second } = field.suggested()
    const kept = works.filter(w => w.state === 'kept')
    const at = (w: FieldLine) => field.nodeOf(w.id)!
    const taken = strands.map(s => ({
      strand: s.id as number | null,
      name: s.name,
      // on several, it stands on the first
      works: kept.filter(w => strands.find(x => w.strands.includes(x.id))?.id === s.id).map(at),
    }))
    const areOwn = taken.some(s => s.works.length)
    const stems = areOwn ? taken.filter(s => s.works.length) : suggested.map(s => ({ strand: null, ...s }))
    const placed = new Set(stems.flatMap(s => s.works))
    const rest = kept.map(at).filter(w => !placed.has(w))
    if (rest.length) stems.push({ strand: null, name: stems.length ? REST : 'all kept works', works: rest })
    const also = areOwn
      ? kept.map((w): [number, string[]] => [
          at(w),
          strands
            .filter(x => w.strands.includes(x.id))
            .slice(1)
            .map(x => x.name),
        ])
      : [...second].map(([w, strand]): [number, string[]] => [w, [suggested[strand]!.name]])
    const stemOf = field.stems(new Map(stems.flatMap((s, i) => s.works.map(w => [w, i] as const))))
    return {
      of: ++this.loads,
      ends: field.ends,
      lacking,
      arcs,
      places,
      forward,
      stems,
      suggested,
      also: also.filter(([, names]) => names.length),
      stemOf,
      strokes: field.strokes(stemOf),
      enough: field.enough(),
      pays: field.pays(),
      slept: kept.map(at).flatMap(w => {
        const s = field.slept(w)
        return s ? [{ at: w, woke: s.woke }] : []
      }),
    }
  }

  /** Rows name their work themselves, so that a list stays true while the next one is reckoned. */
  list(kind: ListKind, of?: number): Row[] {
    const { field } = this
    return field?.list(kind, of).map(r => ({ ...r, end: field.ends[r.at]! })) ?? []
  }
  next(trails: number): { brought: Forecast; kept: Forecast } | undefined {
    return this.field?.next(trails)
  }
  /** A shortest chain of citations between two works; undefined where none is known. */
  chain(from: End, to: End): Link[] | undefined {
    const { field } = this
    if (!field) return undefined
    const [a, b] = [placeAmong(field.ends, from), placeAmong(field.ends, to)]
    if (a === undefined || b === undefined) return undefined
    return field.chain(a, b)?.map(({ node, by }) => ({ end: field.ends[node]!, by }))
  }
}
