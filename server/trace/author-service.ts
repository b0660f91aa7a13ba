import { reach } from '../../core/access/reach'
import { yearOf } from '../../core/bib/dates'
import { foldTitle } from '../../core/bib/fold'
import type { Item, Name } from '../../core/bib/item'
import type { Written } from '../../core/trails/author'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { profilesFor } from '../library/holdings'
import { inThread } from '../threads/threads'
import type { Member } from '../sessions/member'
import { signedBy, type Signed } from './author-model'
import { worksOfNodes } from './graph-model'

/**
 * Who seems to stand behind a name, by the works of the pool and those that trails met: the person of the work from which
 * it is asked first, others of that name beside.
 */
export async function authorOf(
  c: Context,
  { inquiryId, day }: Member,
  { work, ...name }: Name & { work?: number | undefined },
): Promise<Answer<'author'>> {
  const { works, nodes } = await signedBy(c, inquiryId, String(name.family ?? name.literal ?? ''))
  const known = await c.db.sequelize.transaction(t =>
    worksOfNodes(
      c,
      inquiryId,
      nodes.map(n => n.id),
      t,
    ),
  )
  // a record of the pool may lack the DOI by which a trail knows the work
  const titled = new Set(works.map(titleAndYear))
  const outside = nodes.filter(n => !known.has(n.id) && !titled.has(titleAndYear(n)))
  const persons = await inThread('persons', {
    name,
    works: [...works.map(w => writtenOf(`w${w.id}`, w)), ...outside.map(n => writtenOf(`p${n.id}`, n))],
    first: work === undefined ? undefined : `w${work}`,
  })
  const rows = await c.db.nodes.findAll({
    where: { inquiryId, id: persons.flatMap(p => p.works.flatMap(w => numberOf(w, 'p') ?? [])) },
    attributes: ['id', 'line', 'kind'],
    raw: true,
  })
  const profiles = await profilesFor(
    c,
    inquiryId,
    rows.map(r => r.line.access.item),
  )
  const shown = new Map(
    rows.map(({ id: node, kind, line }) => [
      node,
      {
        ...{ node, kind, title: line.title, authors: line.authors, container: line.container, year: line.year },
        citedBy: line.citedBy,
        reach: reach(line.access.item, { profiles, day, facts: line.access.facts }).reach,
      },
    ]),
  )
  return {
    persons: persons.map(({ works: own, ...p }) => ({
      ...p,
      works: own.map(w => ({
        work: numberOf(w, 'w') ?? null,
        pointer: shown.get(numberOf(w, 'p') ?? 0) ?? null,
      })),
    })),
  }
}

const numberOf = (id: string, kind: 'w' | 'p'): number | undefined => (id[0] === kind ? Number(id.slice(1)) : undefined)

const writtenOf = (id: string, { item, facts }: Signed): Written => ({
  id,
  names: item.author ?? item.editor ?? [],
  year: yearOf(item) ?? null,
  container: placeOf(item),
  words: [...(facts.keywords ?? []), ...(facts.subjects ?? [])],
})

const titleAndYear = ({ item }: Signed): string => `${foldTitle(item.title ?? '')} ${yearOf(item) ?? ''}`

const placeOf = (item: Item): string => item['container-title'] ?? item.publisher ?? ''
