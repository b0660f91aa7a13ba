import { yearOf } from '../../core/bib/dates'
import type { Item, Name } from '../../core/bib/item'
import { identifierIn, type Written } from '../../core/trails/author'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Member } from '../sessions/member'
import { inThread } from '../threads/threads'
import { signedBy, signedIn, type Signed } from './author-model'
import { hitsOf } from './follow-model'
import { followed } from './follow-service'
import { knownWork, outsideOf, shownPointers, type Ref } from './known-works'

/**
 * Who seems to stand behind a name, by the works of the pool and those that trails met: the person of the work from which
 * it is asked first, others of that name beside.
 */
export async function authorOf(
  c: Context,
  member: Member,
  { work, ...name }: Name & { work?: number | undefined },
): Promise<Answer<'author'>> {
  const { inquiryId } = member
  const from = work === undefined ? undefined : (await signedIn(c, inquiryId, 'works', [work]))[0]
  const id = from && identifierIn(writtenOf('', from), name)
  const { works, nodes } = await signedBy(c, inquiryId, String(name.family ?? name.literal ?? ''), id)
  const hits = id ? (await hitsOf(c, inquiryId, 'author', [id])).nodes : []
  const found = new Set(nodes.map(n => n.id))
  nodes.push(
    ...(await signedIn(
      c,
      inquiryId,
      'nodes',
      hits.filter(h => !found.has(h)),
    )),
  )
  const outside = await outsideOf(c, inquiryId, works, nodes)
  // who was asked by the identifier need not say it in each record
  const isHit = new Set(hits)
  const saidFor = (w: Written, node: number): Written =>
    id && isHit.has(node) && !identifierIn(w, name) ? { ...w, ids: [...w.ids, { name, id }] } : w
  const persons = await inThread('persons', {
    name,
    works: [...works.map(w => writtenOf(`w${w.id}`, w)), ...outside.map(n => saidFor(writtenOf(`p${n.id}`, n), n.id))],
    first: work === undefined ? undefined : `w${work}`,
    id,
  })
  const refs = new Map(persons.flatMap(p => p.works.map((w): [string, Ref] => [w, refOf(w)])))
  const shown = await shownPointers(
    c,
    member,
    [...refs.values()].flatMap(r => ('node' in r ? r.node : [])),
  )
  return {
    persons: persons.map(({ works: own, ...p }) => ({ ...p, works: own.map(w => knownWork(refs.get(w)!, shown)) })),
    asked: await followed(c, inquiryId, 'author', persons[0]?.id ? [persons[0].id] : []),
  }
}

const refOf = (id: string): Ref => (id.startsWith('w') ? { work: Number(id.slice(1)) } : { node: Number(id.slice(1)) })

const writtenOf = (id: string, { item, facts }: Signed): Written => ({
  id,
  names: item.author ?? item.editor ?? [],
  year: yearOf(item) ?? null,
  container: placeOf(item),
  words: [...(facts.keywords ?? []), ...(facts.subjects ?? [])],
  ids: facts.authorIds ?? [],
})

const placeOf = (item: Item): string => item['container-title'] ?? item.publisher ?? ''
