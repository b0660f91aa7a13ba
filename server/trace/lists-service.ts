import type { Transaction } from 'sequelize'
import { firstLetters, cleanText, clean, plainTitle } from '../../core/bib/clean'
import type { Item } from '../../core/bib/item'
import { readReference } from '../../core/match/reference'
import { findLinks } from '../../core/match/records'
import { namesOthers, verdictOf } from '../../core/match/settle'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { deskDay } from '../db/desk-day'
import type { By } from '../deeds/deeds-service'
import { enqueue } from '../jobs/queue'
import type { Member } from '../sessions/member'
import { latestWalks, nodesOfWorks, putCitations, addNodes, worksOfNodes } from './graph-model'
import { nodeRowOfWork, nodeRows } from './graph-service'
import type { EntryRow, ListRow } from './list-model'

type Who = Pick<By, 'inquiryId' | 'userId'>

/** The work that an entry means: as somebody said, else the one that fits. */
export function meantBy({ byHand, nodeId, matches }: Pick<EntryRow, 'byHand' | 'nodeId' | 'matches'>): number | null {
  if (byHand) return nodeId
  return verdictOf(matches.map(m => m.share)) === 'fits' ? matches[0]!.node : null
}

async function listOf(c: Context, inquiryId: number, id: number, t?: Transaction): Promise<ListRow> {
  const where = { id, inquiryId }
  const row = await c.db.lists.findOne({ where, raw: true, ...(t ? { transaction: t, lock: t.LOCK.UPDATE } : {}) })
  if (!row) throw notFound()
  return row
}

async function rowsOf(c: Context, lists: readonly ListRow[]): Promise<Answer<'lists'>> {
  const ids = lists.map(l => l.id)
  const counted = await c.db.listEntries.findAll({
    where: { listId: ids },
    attributes: ['listId', 'looked'],
    raw: true,
  })
  const records = await c.db.records.findAll({
    where: { id: lists.flatMap(l => l.recordId ?? []) },
    attributes: ['id', 'workId'],
    raw: true,
  })
  return lists.map(({ id, name, copyId, recordId, day, jobId, pasted }) => {
    const own = counted.filter(e => e.listId === id)
    return {
      ...{ id, name, day, copy: copyId, job: jobId },
      work: records.find(r => r.id === recordId)?.workId ?? null,
      entries: own.length,
      // what was not cut yet is one thing to do
      left: own.filter(e => !e.looked).length + (pasted === null ? 0 : 1),
    }
  })
}

export const listsOf = async (c: Context, { inquiryId }: Pick<Member, 'inquiryId'>): Promise<Answer<'lists'>> =>
  rowsOf(c, await c.db.lists.findAll({ where: { inquiryId }, order: [['id', 'DESC']], raw: true }))

/**
 * Takes a list and queues the looking for its works. One of a copy that was taken before is looked at again.
 * @throws Problem 422 where there is nothing to take
 */
export async function takeList(
  c: Context,
  { inquiryId, userId, day }: Who & { day: string },
  asked: { name?: string | undefined; text?: string | undefined; copy?: number | undefined; work?: number | undefined },
  t: Transaction,
): Promise<Answer<'takeList'>> {
  const pasted = asked.copy === undefined ? cleanText(asked.text ?? '').trim() : null
  if (pasted === '') throw new Problem(422, 'nothing-pasted', 'There is no line to look up.')
  const from = asked.copy === undefined ? undefined : await ofCopy(c, inquiryId, asked.copy, t)
  const before =
    from && (await c.db.lists.findOne({ where: { inquiryId, copyId: from.copy }, transaction: t, raw: true }))
  if (before) return begin(c, { inquiryId, userId }, before, t)
  const work = from?.work ?? asked.work
  const record =
    work === undefined
      ? null
      : await c.db.records.findOne({
          where: { inquiryId, workId: work },
          attributes: ['id'],
          order: ['id'],
          transaction: t,
          raw: true,
        })
  if (work !== undefined && !record) throw new Problem(422, 'unknown-work', 'This work is not in the pool.')
  const name = firstLetters(asked.name || from?.title || firstLetters(pasted!.split('\n')[0]!, 60), 200)
  const { id } = await c.db.lists.create(
    {
      ...{ inquiryId, name, pasted, day, copyId: from?.copy ?? null, recordId: record?.id ?? null },
      ...{ cutBy: from?.by ?? '', saidBy: from ? 'copy' : 'student' },
    },
    { transaction: t },
  )
  if (from)
    await c.db.listEntries.bulkCreate(
      from.entries.map(e => ({ listId: id, ...e })),
      { transaction: t },
    )
  return begin(c, { inquiryId, userId }, { id, jobId: null }, t)
}

/** Queues the looking, unless it is under way. */
async function begin(c: Context, { inquiryId, userId }: Who, list: Pick<ListRow, 'id' | 'jobId'>, t: Transaction) {
  const under = await c.db.jobs.findOne({
    where: { id: list.jobId ?? 0, state: ['queued', 'running'] },
    attributes: ['id'],
    transaction: t,
    raw: true,
  })
  if (under) return { id: list.id, job: under.id }
  const job = await enqueue(c, 'list', inquiryId, userId, { list: list.id }, t)
  await c.db.lists.update({ jobId: job }, { where: { id: list.id }, transaction: t })
  return { id: list.id, job }
}

/** An entry that nobody has looked for yet. */
export const newEntry = (
  n: number,
  {
    text,
    label,
    item,
    sure,
    page,
  }: Pick<EntryRow, 'text' | 'item' | 'sure'> & Partial<Pick<EntryRow, 'label' | 'page'>>,
): Omit<EntryRow, 'listId'> => ({
  ...{ n, text, label: label?.slice(0, 60) ?? null, page: page ?? null, item, sure },
  others: namesOthers(text),
  ...{ looked: false, matches: [], byHand: false, nodeId: null, missing: null },
})

async function ofCopy(c: Context, inquiryId: number, id: number, t: Transaction) {
  const copy = await c.db.copies.findOne({ where: { id, inquiryId }, transaction: t, raw: true })
  if (!copy) throw notFound()
  const work = await c.db.works.findOne({
    where: { id: copy.workId },
    attributes: ['id', 'item', 'successorId'],
    transaction: t,
    raw: true,
  })
  const references = await c.db.copyReferences.findAll({
    where: { copyId: id },
    order: ['n'],
    transaction: t,
    raw: true,
  })
  if (!references.length)
    throw new Problem(
      422,
      'no-references',
      'No list of references was found in this copy. Copy it from the page and paste it here.',
    )
  const title = plainTitle(work?.item.title, 'untitled')
  return {
    copy: id,
    work: work?.successorId ?? copy.workId,
    by: copy.parts?.lists[0]?.by ?? '',
    title: `References of “${title}”`,
    entries: references.map((r, i) => newEntry(i + 1, { ...r, page: r.boxes[0]?.page ?? null })),
  }
}

/** A list, entry by entry, with what each may mean. */
export async function oneList(
  c: Context,
  { inquiryId }: Pick<Member, 'inquiryId'>,
  id: number,
): Promise<Answer<'list'>> {
  const list = await listOf(c, inquiryId, id)
  const [[row], entries] = await Promise.all([
    rowsOf(c, [list]),
    c.db.listEntries.findAll({ where: { listId: id }, order: ['n'], raw: true }),
  ])
  const origins = row!.work === null ? [] : (await nodesOfWorks(c, inquiryId, [row!.work])).map(n => n.node)
  const said = await c.db.citations.findAll({
    where: { inquiryId, citing: origins, saidBy: 'index' },
    attributes: ['cited'],
    raw: true,
  })
  const walked = (await latestWalks(c, inquiryId)).find(w => w.direction === 'references' && origins.includes(w.nodeId))
  const indexed = new Set(said.map(s => s.cited))
  const meant = new Set(entries.flatMap(e => meantBy(e) ?? []))
  const only = [...indexed].filter(n => !meant.has(n))
  const ids = [...new Set([...meant, ...only, ...entries.flatMap(e => e.matches.map(m => m.node))])].sort(
    (a, b) => a - b,
  )
  const nodes = await c.db.nodes.findAll({
    where: { inquiryId, id: ids },
    attributes: ['id', 'item', 'kind'],
    order: ['id'],
    raw: true,
  })
  const works = await c.db.sequelize.transaction(t => worksOfNodes(c, inquiryId, ids, t))
  const place = new Map(nodes.map((n, i) => [n.id, i]))
  // of a work that has several nodes each is that work; one whose record lacks its DOI is told by what it says
  const workOf = (n: number) => works.get(n) ?? `node ${n}`
  const indexedWorks = new Set([...indexed].map(workOf))
  const meantWorks = new Set([...meant].map(workOf))
  const described = (ofList: boolean) =>
    nodes
      .filter(n =>
        ofList
          ? meant.has(n.id) && !indexedWorks.has(workOf(n.id))
          : !meantWorks.has(workOf(n.id)) && indexed.has(n.id),
      )
      .map(({ id: node, item }) => ({ id: node, item, facts: {} }))
  for (const { a, b, verdict } of walked ? findLinks(described(true), described(false)) : [])
    if (verdict === 'same') for (const n of [a, b]) (indexed.has(n) ? meantWorks : indexedWorks).add(workOf(n))
  return {
    ...row!,
    by: list.cutBy,
    indexDay: walked?.day ?? null,
    entries: entries.map(entry => {
      const { listId: _, nodeId: __, sure: ___, ...e } = entry
      const means = meantBy(entry)
      return {
        ...e,
        // a raw row has flags as numbers
        ...{ others: Boolean(e.others), looked: Boolean(e.looked), byHand: Boolean(e.byHand) },
        matches: e.matches.flatMap(m => (place.has(m.node) ? { node: place.get(m.node)!, share: m.share } : [])),
        means: means === null ? null : (place.get(means) ?? null),
        inIndex: walked && means !== null ? indexedWorks.has(workOf(means)) : null,
      }
    }),
    indexOnly: walked ? only.filter(n => !meantWorks.has(workOf(n))).map(n => place.get(n)!) : [],
    nodes: nodes.map(({ id: node, item, kind }) => ({ id: node, work: works.get(node) ?? null, item, kind })),
  }
}

/**
 * Says which work an entry means.
 * @throws Problem 422 where the work is not in the graph, or the entry has no title to be kept by
 */
export async function settleEntry(
  c: Context,
  { inquiryId }: Pick<By, 'inquiryId'>,
  { list: id, n }: { list: number; n: number },
  { means, node }: { means: 'this' | 'none' | 'as printed' | 'as found'; node?: number | undefined },
  t: Transaction,
): Promise<Answer<'settleEntry'>> {
  const list = await listOf(c, inquiryId, id, t)
  const where = { listId: id, n }
  const entry = await c.db.listEntries.findOne({ where, transaction: t, raw: true })
  if (!entry) throw notFound()
  const chosen =
    means === 'this'
      ? await knownNode(c, inquiryId, node ?? 0, t)
      : means === 'as printed'
        ? await printedNode(c, inquiryId, entry, t)
        : null
  await c.db.listEntries.update({ byHand: means !== 'as found', nodeId: chosen }, { where, transaction: t })
  await tie(c, list, t)
  return { node: meantBy({ ...entry, byHand: means !== 'as found', nodeId: chosen }) }
}

async function knownNode(c: Context, inquiryId: number, id: number, t: Transaction): Promise<number> {
  const found = await c.db.nodes.findOne({ where: { inquiryId, id }, attributes: ['id'], transaction: t, raw: true })
  if (!found) throw new Problem(422, 'unknown-pointer', 'One of these works is not in the graph of this inquiry.')
  return id
}

/** A node for what an entry says, where nobody has the work. */
async function printedNode(c: Context, inquiryId: number, { item, text }: EntryRow, t: Transaction): Promise<number> {
  const as: Item = { ...item, id: '', type: item.type ?? 'document', title: item.title ?? firstLetters(text, 300) }
  const rows = await nodeRows([{ item: as, facts: {} }], null)
  return (await addNodes(c, inquiryId, rows, t)).get(rows[0]!.nodeKey)!
}

/** Puts the words of an entry right; what it meant is looked for anew. */
export async function rewriteEntry(
  c: Context,
  who: Who,
  { list: id, n }: { list: number; n: number },
  text: string,
  t: Transaction,
): Promise<Answer<'rewriteEntry'>> {
  const list = await listOf(c, who.inquiryId, id, t)
  const where = { listId: id, n }
  const entry = await c.db.listEntries.findOne({ where, transaction: t, raw: true })
  if (!entry) throw notFound()
  const { item, sure } = clean(readReference(cleanText(text)))
  const { n: _, ...now } = newEntry(n, { text: cleanText(text), item, sure, label: entry.label, page: entry.page })
  await c.db.listEntries.update(now, { where, transaction: t })
  return begin(c, who, list, t)
}

/** Looks for what was left, and asks again who could not be asked. */
export async function lookOn(c: Context, who: Who, id: number, t: Transaction): Promise<Answer<'lookOn'>> {
  const list = await listOf(c, who.inquiryId, id, t)
  const entries = await c.db.listEntries.findAll({
    where: { listId: id },
    attributes: ['n', 'missing'],
    transaction: t,
    raw: true,
  })
  await c.db.listEntries.update(
    { looked: false, missing: null },
    { where: { listId: id, n: entries.flatMap(e => (e.missing === null ? [] : e.n)) }, transaction: t },
  )
  return begin(c, who, list, t)
}

export async function dropList(
  c: Context,
  { inquiryId }: Pick<By, 'inquiryId'>,
  id: number,
  t: Transaction,
): Promise<void> {
  const list = await listOf(c, inquiryId, id, t)
  await c.db.lists.destroy({ where: { id }, transaction: t })
  await tie(c, list, t)
}

/**
 * Brings the citations that lists of one work say in line with what their entries mean now: those that no list says any
 * more go, those that are new come. What the index says stands beside them.
 */
export async function tie(c: Context, { inquiryId, recordId, saidBy }: ListRow, t: Transaction): Promise<void> {
  if (recordId === null) return
  const record = await c.db.records.findOne({
    where: { id: recordId },
    attributes: ['workId'],
    transaction: t,
    raw: true,
  })
  const work = await c.db.works.findOne({
    where: { id: record?.workId ?? 0 },
    attributes: ['id', 'item', 'facts'],
    transaction: t,
    raw: true,
  })
  if (!work) return
  const row = await nodeRowOfWork(c, work, t)
  const origin = (await addNodes(c, inquiryId, [row], t)).get(row.nodeKey)!
  const lists = await c.db.lists.findAll({
    where: { inquiryId, recordId, saidBy },
    attributes: ['id'],
    transaction: t,
    raw: true,
  })
  const entries = await c.db.listEntries.findAll({
    where: { listId: lists.map(l => l.id) },
    attributes: ['byHand', 'nodeId', 'matches'],
    transaction: t,
    raw: true,
  })
  const wanted = new Set(entries.flatMap(e => meantBy(e) ?? []).filter(n => n !== origin))
  const where = { inquiryId, citing: origin, saidBy } as const
  const there = await c.db.citations.findAll({ where, attributes: ['cited'], transaction: t, raw: true })
  const gone = there.map(r => r.cited).filter(n => !wanted.has(n))
  if (gone.length) await c.db.citations.destroy({ where: { ...where, cited: gone }, transaction: t })
  const day = await deskDay(c.db)
  await putCitations(
    c,
    [...wanted].map(cited => ({ ...where, cited, roundId: null, day })),
    t,
  )
}
