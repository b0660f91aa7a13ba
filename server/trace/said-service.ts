import { yearOf } from '../../core/bib/dates'
import { familyName } from '../../core/bib/names'
import type { Item } from '../../core/bib/item'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { notFound } from '../base/problem'
import { readable } from '../copies/copy-rights'
import { pagesOf } from '../copies/texts'
import { grouped } from '../db/rows'
import { inThread } from '../threads/threads'
import { livingWork } from '../pool/work-service'
import type { Member } from '../sessions/member'
import { nodesOfWorks, worksOfNodes } from './graph-model'
import { citingNodes, entriesByHand, entriesLike } from './said-model'

/** Texts that are looked through for their sentences; of more, the latest. */
const MOST = 60

/**
 * What others say of a work: the sentences of stored copies in which it is cited, and the works of the pool that are
 * known to cite it without any.
 */
export async function saidOf(c: Context, member: Member, id: number): Promise<Answer<'saidOf'>> {
  const { id: work, item } = await livingWork(c, member.inquiryId, id)
  const nodes = (await nodesOfWorks(c, member.inquiryId, [work])).map(n => n.node)
  return saidOfSubject(c, member, { work, item, nodes })
}

/** The same of a work outside the pool, by its node in the graph. @throws Problem 404 */
export async function saidOfPointer(c: Context, member: Member, id: number): Promise<Answer<'saidOf'>> {
  const { inquiryId } = member
  const node = await c.db.nodes.findOne({ where: { id, inquiryId }, attributes: ['item'], raw: true })
  if (!node) throw notFound()
  const work = (await c.db.sequelize.transaction(t => worksOfNodes(c, inquiryId, [id], t))).get(id)
  // it came into the pool meanwhile
  return work ? saidOf(c, member, work) : saidOfSubject(c, member, { work: NOT_THERE, item: node.item, nodes: [id] })
}
/** No work has this number. */
export const NOT_THERE = 0

export interface Subject {
  /** 0 of one outside the pool. */
  work: number
  item: Item
  nodes: readonly number[]
}

async function saidOfSubject(c: Context, member: Member, subject: Subject): Promise<Answer<'saidOf'>> {
  const { inquiryId } = member
  const [byEntry, citing] = await Promise.all([entriesOf(c, member, subject), citingNodes(c, inquiryId, subject.nodes)])
  const copiesWith = await c.db.copies.findAll({
    where: { inquiryId, id: [...byEntry.keys()] },
    attributes: ['id', 'workId', 'labels', 'pages', 'version'],
    order: [['id', 'DESC']],
    raw: true,
  })
  const found = (await readable(c, member, copiesWith)).filter(k => k.workId !== subject.work)
  const texts = await Promise.all(
    found.slice(0, MOST).map(async k => {
      const list = await c.db.copyReferences.findAll({ where: { copyId: k.id }, order: ['n'], raw: true })
      const cited = await inThread('cited', { pages: await pagesOf(c, k.id, k.pages), list })
      const own = byEntry.get(k.id)!
      return {
        ...{ work: k.workId, copy: k.id, version: k.version, entry: own[0]!, labels: k.labels },
        places: cited.filter(x => own.includes(x.n)).flatMap(x => x.places),
      }
    }),
  )
  // of several copies of one work the one that says most; of those that say the same, the latest
  texts.sort((a, b) => b.places.length - a.places.length || b.copy - a.copy)
  const once = texts.filter((t, i) => texts.findIndex(x => x.work === t.work) === i)
  const others = await c.db.sequelize.transaction(t => worksOfNodes(c, inquiryId, citing, t))
  const told = new Set([subject.work, ...once.map(t => t.work)])
  // texts that were not looked through cite it by their lists
  const unread = found.slice(MOST).map(k => k.workId)
  const rest = [...new Set([...others.values(), ...unread])].filter(w => !told.has(w)).sort((a, b) => a - b)
  const copies = await c.db.copies.findAll({ where: { inquiryId, workId: rest }, attributes: ['workId'], raw: true })
  const withCopy = new Set(copies.map(k => k.workId))
  return {
    texts: once.map(({ labels, places, ...t }) => ({
      ...t,
      places: places.map(p => ({ ...p, label: labels[p.page - 1] ?? String(p.page) })),
    })),
    others: rest.map(w => ({ work: w, hasCopy: withCopy.has(w) })),
  }
}

/** Works of the pool that cite a work, by the graph or by the lists of copies that open to whoever asks. */
export async function citingWorks(c: Context, member: Member, subject: Subject): Promise<number[]> {
  const { inquiryId } = member
  const [byEntry, citing] = await Promise.all([entriesOf(c, member, subject), citingNodes(c, inquiryId, subject.nodes)])
  const copies = await c.db.copies.findAll({
    where: { inquiryId, id: [...byEntry.keys()] },
    attributes: ['id', 'workId'],
    raw: true,
  })
  const open = (await readable(c, member, copies)).map(k => k.workId)
  const known = await c.db.sequelize.transaction(t => worksOfNodes(c, inquiryId, citing, t))
  return [...new Set([...open, ...known.values()])].filter(w => w !== subject.work).sort((a, b) => a - b)
}

/** Entries of copies that mean a work, by copy: as they are printed, unless somebody said what they mean. */
async function entriesOf(c: Context, member: Member, { work, item, nodes }: Subject): Promise<Map<number, number[]>> {
  const [first] = item.author ?? item.editor ?? []
  const year = yearOf(item)
  const [like, byHand] = await Promise.all([
    entriesLike(c, member.inquiryId, work, {
      doi: item.DOI ?? null,
      name: first ? familyName(first) : null,
      // first online in one year, in print in the next
      years: year ? [year - 1, year, year + 1] : [],
    }),
    entriesByHand(c, member.inquiryId, nodes),
  ])
  const means = like.length ? await inThread('meant', { work: item, entries: like }) : []
  const key = (e: { copyId: number; n: number }) => `${e.copyId} ${e.n}`
  const said = new Map(byHand.map(e => [key(e), e.isIt]))
  const all = [...means.map(i => like[i]!).filter(e => said.get(key(e)) !== false), ...byHand.filter(e => e.isIt)]
  return new Map(
    [...grouped(all, e => e.copyId)].map(([copy, own]) => [
      copy,
      [...new Set(own.map(e => e.n))].sort((a, b) => a - b),
    ]),
  )
}
