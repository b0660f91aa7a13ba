import type { GraphAnswer } from '../../../core/schema/api'
import type { WorkLine } from '../../../core/sift/line'
import { citationsPerYear } from '../../../core/trails/rate'
import type { End } from '../../../core/trails/field-shapes'

export type Pointer = NonNullable<GraphAnswer['nodes'][number]['pointer']>
/** A work of the field as lists show it: of the pool by its line, else by what the index says. */
export interface Shown {
  work: WorkLine | undefined
  /** The pointer's number, by which it is brought. */
  node: number | null
  pointer: Pointer | undefined
  title: string
  authors: string
  container: string
  year: number | null
  kind: string
  language: string | null
  reach: WorkLine['reach']
  perYear: number | null
  citedBy: number | null
}

/** Finds what is shown of the works of a field. */
export function showing(
  graph: GraphAnswer,
  works: ReadonlyMap<number, WorkLine>,
  today: string,
): (end: End) => Shown | undefined {
  const nodes = new Map(graph.nodes.map(n => [n.id, n]))
  return ({ work: id, node }) => {
    const work = id === null ? undefined : works.get(id)
    const told = node === null ? undefined : nodes.get(node)
    const of = work ?? told?.pointer
    if (!of) return undefined
    const { title, authors, container, kind, language, reach } = of
    const year = work?.year ?? told?.year ?? null
    const citedBy = work?.citedBy ?? told?.citedBy ?? null
    return {
      ...{ title, authors, container, kind, language, reach, work, node, year, citedBy },
      perYear: citationsPerYear(citedBy ?? undefined, year ?? undefined, today) ?? null,
      pointer: told?.pointer ?? undefined,
    }
  }
}

/** Author and year, in short. @example who({ authors: 'Sand, Bee and 2 more', year: 2019 }) // 'Sand 2019' */
export const who = ({ authors, year }: Pick<Shown, 'authors' | 'year'>): string =>
  [authors.split(/,| and /)[0] || 'no author', year ?? 'no year'].join(' ')
