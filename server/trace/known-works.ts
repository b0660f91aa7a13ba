import { reach } from '../../core/access/reach'
import { yearOf } from '../../core/bib/dates'
import { foldTitle } from '../../core/bib/fold'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { profilesFor } from '../library/holdings'
import type { Member } from '../sessions/member'
import type { Signed } from './author-model'
import { worksOfNodes } from './graph-model'

type Known = Answer<'author'>['persons'][number]['works'][number]

/** A work of the pool or a pointer, by its number. */
export type Ref = { work: number } | { node: number }

/** Nodes that are no work of the pool; a record there may lack the DOI by which a trail knows the work. */
export async function outsideOf(
  c: Context,
  inquiryId: number,
  works: readonly Signed[],
  nodes: readonly Signed[],
): Promise<Signed[]> {
  const ids = nodes.map(n => n.id)
  const known = await c.db.sequelize.transaction(t => worksOfNodes(c, inquiryId, ids, t))
  const titled = new Set(works.map(titleAndYear))
  return nodes.filter(n => !known.has(n.id) && !titled.has(titleAndYear(n)))
}
const titleAndYear = ({ item }: Signed): string => `${foldTitle(item.title ?? '')} ${yearOf(item) ?? ''}`

/** Pointers as lists show them, by node, with their reach as of today. */
export async function shownPointers(
  c: Context,
  { inquiryId, day }: Member,
  ids: readonly number[],
): Promise<Map<number, NonNullable<Known['pointer']>>> {
  const rows = await c.db.nodes.findAll({
    where: { inquiryId, id: [...ids] },
    attributes: ['id', 'line', 'kind'],
    raw: true,
  })
  const profiles = await profilesFor(
    c,
    inquiryId,
    rows.map(r => r.line.access.item),
  )
  return new Map(
    rows.map(({ id: node, kind, line }) => [
      node,
      {
        ...{ node, kind, title: line.title, authors: line.authors, container: line.container, year: line.year },
        citedBy: line.citedBy,
        reach: reach(line.access.item, { profiles, day, facts: line.access.facts }).reach,
      },
    ]),
  )
}

/** Each as a list has it. */
export const knownWork = (ref: Ref, shown: ReadonlyMap<number, NonNullable<Known['pointer']>>): Known =>
  'work' in ref ? { work: ref.work, pointer: null } : { work: null, pointer: shown.get(ref.node) ?? null }
