import { saidOfItself, takenBackAmong, type TakenBack } from '../../core/appraise/taken-back'
import { plainTitle } from '../../core/bib/clean'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { memory } from '../base/memory'
import { citationsName } from '../connect/connectors'
import { grouped } from '../db/rows'
import { sourcesOf } from '../pool/lines'
import type { Member } from '../sessions/member'
import { inThread } from '../threads/threads'
import { nodesOfWorks, titlesAround, type Titled } from './graph-model'
import { citingWorks, NOT_THERE } from './said-service'

/** What is told of at most, and of how much of it who cites it; of more the gravest. */
const [MOST, READ] = [200, 20]
/** Fewer titles than this are looked through at once; more in a thread. */
const FEW = 500

type Told = Answer<'takenBack'>[number]
/** A work by all that it is called, and what is said of it. */
interface Found extends Pick<TakenBack, 'says'> {
  of: Titled[]
  by: Titled[] | null
}
/** Titles change with what comes in, and every step counts the inquiry on. */
const found = memory<Found[]>({ holds: 600_000, most: 200 })

/**
 * What was taken back or corrected among the works of the pool and those around it, by their own titles in one source or
 * another and by notices there; with the works of the pool that cite it.
 */
export async function takenBack(c: Context, member: Member): Promise<Told[]> {
  const { inquiryId } = member
  const inquiry = await c.db.inquiries.findByPk(inquiryId, { attributes: ['revision'], raw: true })
  const told = await found.get(c, `${inquiryId} ${inquiry?.revision}`, () => foundIn(c, inquiryId))
  if (!told.length) return []
  const names = await sourcesOf(c)
  const out: Told[] = []
  for (const { of, says, by } of told) {
    // who says it: a source that calls it so, or the one that has the notice
    const from = by?.[0] ?? of.find(t => saidOfItself(plainTitle(t.title, ''))) ?? of[0]!
    const subject = numbers(of)
    out.push({
      ...subject,
      says,
      title: plainTitle(of[0]!.title, ''),
      by: by && { ...numbers(by), title: plainTitle(by[0]!.title, '') },
      source: from.source === 'trail' ? citationsName(c) : names(from.source),
      at: from.at.toISOString(),
      citing: says === 'corrected' || out.length >= READ ? [] : await readersOf(c, member, subject),
    })
  }
  return out
}

async function foundIn(c: Context, inquiryId: number): Promise<Found[]> {
  const all = await titlesAround(c, inquiryId)
  const things = [...grouped(all, t => (t.work === null ? `p${t.node}` : `w${t.work}`)).values()]
  const titles = things.map(list => [...new Set(list.map(t => plainTitle(t.title, '')))])
  const told = titles.length < FEW ? takenBackAmong(titles) : await inThread('takenBack', { titles })
  return told
    .slice(0, MOST)
    .map(({ at, says, by }) => ({ of: things[at]!, says, by: by === null ? null : things[by]! }))
}

const numbers = ([first]: readonly Titled[]): { work: number | null; node: number | null } => ({
  work: first!.work,
  node: first!.work === null ? first!.node : null,
})

/** Works of the pool that cite it, by the graph or by the lists of copies. */
async function readersOf(c: Context, member: Member, { work, node }: { work: number | null; node: number | null }) {
  const { inquiryId } = member
  const [subject, nodes] = await Promise.all([
    work === null
      ? c.db.nodes.findOne({ where: { id: node!, inquiryId }, attributes: ['item'], raw: true })
      : c.db.works.findOne({ where: { id: work, inquiryId }, attributes: ['item'], raw: true }),
    work === null ? [node!] : nodesOfWorks(c, inquiryId, [work]).then(list => list.map(n => n.node)),
  ])
  return subject ? citingWorks(c, member, { work: work ?? NOT_THERE, item: subject.item, nodes }) : []
}
