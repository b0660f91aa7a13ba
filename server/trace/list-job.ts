import { setImmediate } from 'node:timers/promises'
import { clean } from '../../core/bib/clean'
import type { Facts, Item } from '../../core/bib/item'
import { Finder } from '../../core/match/finder'
import { readEntry, settle, verdictOf, withoutDoubles } from '../../core/match/settle'
import type { Context } from '../base/context'
import { logError } from '../base/log'
import { Problem } from '../base/problem'
import { runChild } from '../child/run'
import { OutsideError } from '../connect/http'
import { change } from '../db/revision'
import { inParts } from '../db/rows'
import { isDatabaseTrouble } from '../db/transaction'
import { byDoi, searchAll } from '../imports/look-up'
import type { JobHandle } from '../jobs/queue'
import { addNodes, worksOfNodes, type NewNode } from './graph-model'
import { nodeRowOfWork, nodeRows } from './graph-service'
import type { EntryRow, ListRow } from './list-model'
import { keyOfNode } from './node-key'
import { newEntry, tie } from './lists-service'

/** A work that an entry may mean: of the pool, of the graph, or one that somebody outside has. */
interface Candidate {
  item: Item
  facts: Facts
  work?: number
  node?: number
}

/** Works that are made ready, and entries whose citations are written, at one time. */
const TOGETHER = 100
/** Works that are held against an entry, and those of them that are kept. */
const NEAR = 6
const KEPT = 3
/** A title that was read with less than this is no title to search for. */
const TITLE_SURE = 0.3
/** A share below this is not worth a line. */
const WORTH = 0.01

/**
 * Looks for the works of a list, entry by entry: first among those that are known here, then by DOI at registrations, then
 * by title in catalogues. Each is kept as soon as it is looked for, so that one that was ended goes on where it was.
 */
export async function runList(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const list = await c.db.lists.findOne({ where: { id: Number(job.payload.list), inquiryId }, raw: true })
  if (!list) throw new Problem(404, 'gone', 'The list is gone.')
  await cutEntries(c, list, signal)
  const known = await knownWorks(c, inquiryId)
  const finder = new Finder()
  for (const [i, k] of known.entries()) {
    // thousands of works take a second: others are answered between them
    if (i % TOGETHER === 0) await setImmediate()
    finder.add(k.item)
  }
  const where = { listId: list.id }
  const entries = await c.db.listEntries.count({ where })
  let found = 0
  let since = 0
  try {
    // whoever puts the words of an entry right meanwhile has it looked for, too
    for (let left = await leftOf(c, list.id); left.length; left = await leftOf(c, list.id))
      for (const [i, entry] of left.entries()) {
        await progress({ done: entries - left.length + i, of: entries, found })
        signal.throwIfAborted()
        const { near, missing } = await candidatesOf(c, entry, { inquiryId, known, finder }, signal)
        await keep(c, list, entry, near, missing)
        if (near.length) found++
        if (++since % TOGETHER === 0) await change(c, inquiryId, t => tie(c, list, t))
      }
  } finally {
    await change(c, inquiryId, t => tie(c, list, t))
  }
  return { list: list.id, entries, found }
}

const leftOf = (c: Context, listId: number): Promise<EntryRow[]> =>
  c.db.listEntries.findAll({ where: { listId, looked: false }, order: ['n'], raw: true })

/** Cuts what was pasted into entries, in a process of its own: it is text from outside. */
async function cutEntries(c: Context, { id, inquiryId, pasted }: ListRow, signal: AbortSignal): Promise<void> {
  if (pasted === null) return
  const cut = await runChild('list', Buffer.from(pasted), { signal })
  const rows = cut.entries.map(({ text, label, read }, i) => ({
    listId: id,
    ...newEntry(i + 1, { text, label: label ?? null, ...clean({ item: read.item, sure: read.sure }) }),
  }))
  await change(c, inquiryId, async t => {
    for (const part of inParts(rows)) await c.db.listEntries.bulkCreate(part, { transaction: t })
    await c.db.lists.update({ pasted: null, cutBy: cut.by }, { where: { id }, transaction: t })
  })
}

/** Works of the pool, and pointers of the graph that are none of them. */
async function knownWorks(c: Context, inquiryId: number): Promise<Candidate[]> {
  const works = await c.db.works.scope('living').findAll({
    where: { inquiryId },
    attributes: ['id', 'item', 'facts'],
    order: ['id'],
    raw: true,
  })
  const nodes = await c.db.nodes.findAll({
    where: { inquiryId },
    attributes: ['id', 'item', 'facts'],
    order: ['id'],
    raw: true,
  })
  const there = await c.db.sequelize.transaction(t =>
    worksOfNodes(
      c,
      inquiryId,
      nodes.map(n => n.id),
      t,
    ),
  )
  return [
    ...works.map(({ id, item, facts }) => ({ work: id, item, facts })),
    ...nodes.flatMap(({ id, item, facts }) => (there.has(id) ? [] : { node: id, item, facts })),
  ]
}

type Near = Candidate & { share: number }

async function candidatesOf(
  c: Context,
  entry: EntryRow,
  { inquiryId, known, finder }: { inquiryId: number; known: readonly Candidate[]; finder: Finder },
  signal: AbortSignal,
): Promise<{ near: Near[]; missing: string | null }> {
  const printed = readEntry(entry.text, entry)
  const rank = (candidates: readonly Candidate[]): Near[] => {
    const one = withoutDoubles(candidates)
    const shares = settle(
      printed,
      one.map(o => o.item),
    )
    return one
      .map((o, i) => ({ ...o, share: shares[i]! }))
      .filter(o => o.share >= WORTH)
      .sort((a, b) => b.share - a.share)
      .slice(0, KEPT)
  }
  const here = finder.find(printed, NEAR).map(i => known[i]!)
  const near = rank(here)
  if (verdictOf(near.map(n => n.share)) === 'fits') return { near, missing: null }
  const { outside, missing } = await askOutside(c, inquiryId, entry, signal)
  return { near: outside.length ? rank([...here, ...outside]) : near, missing }
}

/** What registrations and catalogues have for an entry; whatever comes back for it ends no other. */
async function askOutside(
  c: Context,
  inquiryId: number,
  { item, sure }: EntryRow,
  signal: AbortSignal,
): Promise<{ outside: Candidate[]; missing: string | null }> {
  const away: string[] = []
  const outside: Candidate[] = []
  try {
    if (item.DOI) {
      const found = await byDoi(c, String(item.DOI), signal)
      if (found) outside.push(found)
    }
    const title = item.title && (sure.title ?? 1) >= TITLE_SURE ? String(item.title) : undefined
    if (!outside.length && title) {
      const got = await searchAll(c, inquiryId, 'title', title, signal)
      outside.push(...got.found)
      away.push(...got.away)
    }
  } catch (e) {
    if (signal.aborted || isDatabaseTrouble(e)) throw e
    if (e instanceof OutsideError) return { outside, missing: e.message.slice(0, 500) }
    logError('looking for an entry', e)
    return { outside, missing: 'What came back for it could not be taken.' }
  }
  const missing = away.length ? `${[...new Set(away)].join(', ')} could not be asked.`.slice(0, 500) : null
  return { outside: outside.map(({ item: i, facts }) => ({ item: i, facts })), missing }
}

/** Keeps what an entry may mean; each such work is a node of the graph from now on. */
async function keep(
  c: Context,
  list: ListRow,
  entry: EntryRow,
  near: readonly Near[],
  missing: string | null,
): Promise<void> {
  const { inquiryId } = list
  const fresh = await nodeRows(
    near.flatMap(({ item, facts, work, node }) =>
      work === undefined && node === undefined ? clean({ item, facts }) : [],
    ),
    null,
  )
  await change(c, inquiryId, async t => {
    const own: NewNode[] = []
    for (const { work, item, facts } of near)
      if (work !== undefined) own.push(await nodeRowOfWork(c, { id: work, item, facts }, t))
    const ids = await addNodes(c, inquiryId, [...fresh, ...own], t)
    const matches = near.map(n => ({ node: n.node ?? ids.get(keyOfNode(clean(n.item)))!, share: n.share }))
    const once = matches.filter((m, k) => matches.findIndex(o => o.node === m.node) === k)
    const where = { listId: list.id, n: entry.n }
    const now = await c.db.listEntries.findOne({
      where,
      attributes: ['text'],
      transaction: t,
      lock: t.LOCK.UPDATE,
      raw: true,
    })
    // its words were put right meanwhile: they are looked for next
    if (now?.text !== entry.text) return
    await c.db.listEntries.update({ matches: once, looked: true, missing }, { where, transaction: t })
  })
}
