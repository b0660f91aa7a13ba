import { saidOfAnother, saidOfItself, takenBackAmong } from '../../core/appraise/taken-back'
import { plainTitle } from '../../core/bib/clean'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { citationsName } from '../connect/connectors'
import { grouped } from '../db/rows'
import { sourcesOf } from '../pool/lines'
import type { Member } from '../sessions/member'
import { nodesOfWorks, worksOfNodes } from './graph-model'
import { citingWorks } from './said-service'
import { tellingTitles, titledLike, type Titled } from './taken-back-model'

/** Notices whose works are looked for, and works whose readers are: no inquiry that was met has a tenth of it. */
const MOST = 60

type Told = Answer<'takenBack'>[number]

/**
 * What was taken back or corrected among the works of the pool and those around it, by their own titles in one source or
 * another and by notices there; with the works of the pool that cite it.
 */
export async function takenBack(c: Context, member: Member): Promise<Told[]> {
  const { inquiryId } = member
  const telling = await tellingTitles(c, inquiryId)
  if (!telling.length) return []
  const spoken = telling.flatMap(t => {
    const title = plainTitle(t.title, '')
    return (saidOfItself(title) ?? saidOfAnother(title))?.title ?? []
  })
  const like = await titledLike(c, inquiryId, [...new Set(spoken)].slice(0, MOST))
  const all = [...telling, ...like]
  const nodes = [...new Set(all.flatMap(t => t.node ?? []))]
  // a node that is a work of the pool is that work
  const now = await c.db.sequelize.transaction(t => worksOfNodes(c, inquiryId, nodes, t))
  const keyOf = ({ work, node }: Titled) => {
    const of = work ?? now.get(node!)
    return of === undefined ? `p${node}` : `w${of}`
  }
  const things = [...grouped(all, keyOf).values()]
  const told = takenBackAmong(things.map(list => [...new Set(list.map(t => plainTitle(t.title, '')))])).slice(0, MOST)
  const names = await sourcesOf(c)
  const numbers = (list: readonly Titled[]) => {
    const work = list.flatMap(t => t.work ?? now.get(t.node!) ?? [])[0] ?? null
    return { work, node: work === null ? list[0]!.node : null }
  }
  const out: Told[] = []
  for (const { at, says, by } of told) {
    const list = things[at]!
    // who says it: a source that calls it so, or the one that has the notice
    const from = by === null ? takenBackFrom(list) : things[by]![0]!
    const subject = numbers(list)
    out.push({
      ...subject,
      says,
      title: plainTitle(list[0]!.title, ''),
      by: by === null ? null : { ...numbers(things[by]!), title: plainTitle(things[by]![0]!.title, '') },
      source: from.source === 'trail' ? citationsName(c) : names(from.source),
      at: from.at.toISOString(),
      citing: says === 'corrected' ? [] : await readersOf(c, member, subject),
    })
  }
  return out
}

const takenBackFrom = (list: readonly Titled[]): Titled =>
  list.find(t => takenBackAmong([[plainTitle(t.title, '')]]).length) ?? list[0]!

/** Works of the pool that cite it, by the graph or by the lists of copies. */
async function readersOf(c: Context, member: Member, { work, node }: { work: number | null; node: number | null }) {
  const { inquiryId } = member
  const [subject, nodes] = await Promise.all([
    work === null
      ? c.db.nodes.findOne({ where: { id: node!, inquiryId }, attributes: ['item'], raw: true })
      : c.db.works.findOne({ where: { id: work, inquiryId }, attributes: ['item'], raw: true }),
    work === null ? [node!] : nodesOfWorks(c, inquiryId, [work]).then(list => list.map(n => n.node)),
  ])
  return subject ? citingWorks(c, member, { work: work ?? 0, item: subject.item, nodes }) : []
}
