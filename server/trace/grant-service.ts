import { yearOf } from '../../core/bib/dates'
import { isSameGrant, joinGrants } from '../../core/bib/grants'
import type { Grant } from '../../core/bib/item'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Member } from '../sessions/member'
import { signedIn } from './author-model'
import { grantsAround, hitsOf } from './follow-model'
import { followed, grantSubject } from './follow-service'
import { worksOfNodes } from './graph-model'
import { knownWork, outsideOf, shownPointers, type Ref } from './known-works'

/** What is known of a grant: works whose sources name it, and what was found by asking. */
export async function grantWorks(
  c: Context,
  member: Member,
  { number, funder }: { number: string; funder?: string | undefined },
): Promise<Answer<'grantWorks'>> {
  const { inquiryId } = member
  const asked: Grant = { number, ...(funder ? { funder } : {}) }
  const names = ({ grants }: { grants: readonly Grant[] }) => grants.some(g => isSameGrant(g, asked))
  const [around, { nodes: hits }] = await Promise.all([
    grantsAround(c, inquiryId),
    hitsOf(c, inquiryId, 'grant', [grantSubject(number)]),
  ])
  // what names another grant alone is of that one, whoever found it
  const others = new Set(around.nodes.filter(n => !names(n)).map(n => n.id))
  const named = around.nodes.filter(names).map(n => n.id)
  const [works, nodes] = await Promise.all([
    signedIn(
      c,
      inquiryId,
      'works',
      around.works.filter(names).map(w => w.id),
    ),
    signedIn(c, inquiryId, 'nodes', [...new Set([...named, ...hits.filter(h => !others.has(h))])]),
  ])
  const inPool = await c.db.sequelize.transaction(t =>
    worksOfNodes(
      c,
      inquiryId,
      nodes.map(n => n.id),
      t,
    ),
  )
  const there = new Set(works.map(w => w.id))
  const more = await signedIn(
    c,
    inquiryId,
    'works',
    [...new Set(inPool.values())].filter(w => !there.has(w)),
  )
  const outside = await outsideOf(c, inquiryId, works, nodes)
  const dated = [
    ...[...works, ...more].map((w): [number, Ref] => [yearOf(w.item) ?? 0, { work: w.id }]),
    ...outside.map((n): [number, Ref] => [yearOf(n.item) ?? 0, { node: n.id }]),
  ].sort((a, b) => b[0] - a[0])
  const shown = await shownPointers(
    c,
    member,
    outside.map(n => n.id),
  )
  const said = [...around.works, ...around.nodes].flatMap(w => w.grants.filter(g => isSameGrant(g, asked)))
  return {
    grant: joinGrants([asked, ...said])[0]!,
    works: dated.map(([, ref]) => knownWork(ref, shown)),
    asked: await followed(c, inquiryId, 'grant', [grantSubject(number)]),
  }
}
