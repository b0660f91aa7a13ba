import type { Facts, Item } from '../../core/bib/item'
import type { Direction } from '../../core/schema/api/trace'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { askConnector, askConnectorOnce, connectorsFor } from '../connect/connectors'
import { OutsideError } from '../connect/http'
import { deskDay } from '../db/desk-day'
import { change } from '../db/revision'
import type { JobHandle } from '../jobs/queue'
import { putCitations, putNodes, worksOfNodes, type NodeRow, type RoundRow } from './graph-model'
import { nodeRows } from './graph-service'
import { keyOfNode } from './node-key'
import { comparable, learnPeers, missingPeers, PEERS } from './peers'
import { indexFor, MOST } from './rounds-service'

/** So many trails in a row that cannot be walked are the index's trouble, not theirs. */
const IN_A_ROW = 3

/** A round under way: what it may still ask, and what it came to. */
interface Under {
  c: Context
  round: RoundRow
  day: string
  signal: AbortSignal
  calls: number
}

/**
 * Walks the trails of a round that were not walked yet, one after the other. Each is kept as soon as it is walked, with
 * its round and day, so that a round that was ended in the middle goes on where it was and nothing is there twice.
 */
export async function runRound(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const round = await c.db.rounds.findOne({ where: { id: Number(job.payload.round), inquiryId }, raw: true })
  if (!round) throw new Problem(404, 'gone', 'The round is gone.')
  const where = { roundId: round.id }
  const all = await c.db.walks.findAll({ where, order: ['nodeId', 'direction'], raw: true })
  const left = all.filter(w => w.day === null)
  const under: Under = { c, round, day: await deskDay(c.db), signal, calls: round.calls }
  let done = all.length - left.length
  let [found, amiss, inARow] = [0, 0, 0]
  let stopped = false
  let trouble: string | undefined
  const tell = () => progress({ done, of: all.length, found, calls: under.calls, planned: round.planned })
  await tell()
  for (const { nodeId, direction } of left) {
    signal.throwIfAborted()
    if (under.calls >= round.most) {
      stopped = true
      break
    }
    try {
      const node = await c.db.nodes.findOne({ where: { id: nodeId }, raw: true })
      if (!node) continue
      const first = left.find(w => w.nodeId === nodeId)!.direction === direction
      found += await walk(under, node, direction, first)
      inARow = 0
      done++
    } catch (e) {
      if (!(e instanceof OutsideError)) throw e
      amiss++
      trouble = e.message
      await c.db.walks.update({ trouble: e.message.slice(0, 500) }, { where: { ...where, nodeId, direction } })
      await c.db.rounds.update({ calls: under.calls }, { where: { id: round.id } })
      if (++inARow >= IN_A_ROW || left.length === 1)
        throw new OutsideError(
          `${e.message} What was walked before is kept; the round goes on from there.`,
          e.again,
          e.afterSeconds,
        )
    }
    await tell()
  }
  const unasked =
    stopped || round.standingId ? undefined : await comparePeers(under, progress, { done, of: all.length, found })
  return {
    round: round.id,
    n: round.n,
    trails: done,
    of: all.length,
    found,
    amiss,
    calls: under.calls,
    stopped,
    ...(trouble ? { trouble } : {}),
    ...(unasked ? { unasked } : {}),
  }
}

/**
 * Walks one trail to its end, or as far as trails are read; a budget ends a round between two of them.
 * @param first whether its origin was not asked about in this run
 * @returns how many neighbours it has
 */
async function walk(under: Under, node: NodeRow, direction: Direction, first: boolean): Promise<number> {
  const { c, round, day, signal } = under
  const { index, call } = indexFor(c, direction)!
  const own = first ? await itself(under, node) : undefined
  const neighbours = new Map<string, { item: Item; facts: Facts }>()
  let total: number | undefined
  let trouble: string | null = null
  let unread = 0
  for await (const page of askConnector(c, index, call, { doi: node.item.DOI! }, signal)) {
    under.calls++
    const before = neighbours.size
    for (const { item, facts } of page.records) neighbours.set(keyOfNode(item), { item, facts })
    unread += page.unread.length
    total = page.total ?? neighbours.size
    if (neighbours.size >= MOST) break
    if (page.next && neighbours.size === before) {
      trouble = `${index.name} gave the same answer twice; the rest was left.`
      break
    }
  }
  // it was asked all the same
  if (total === undefined) under.calls++
  const list = [...neighbours.values()].slice(0, MOST)
  trouble ??=
    total === undefined
      ? `${index.name} does not know this work.`
      : unread
        ? `${unread} of them could not be read.`
        : list.length < Math.min(total, MOST)
          ? `${index.name} counts ${total} and gave ${list.length}.`
          : null
  const rows = await nodeRows(list, round.id)
  const { inquiryId } = round
  await change(c, inquiryId, async (t, revision) => {
    const ids = await putNodes(c, inquiryId, rows, t)
    const others = [...ids.values()].filter(id => id !== node.id)
    await putCitations(
      c,
      others.map(other => ({
        inquiryId,
        citing: direction === 'references' ? node.id : other,
        cited: direction === 'references' ? other : node.id,
        saidBy: 'index' as const,
        roundId: round.id,
        day,
      })),
      t,
    )
    await c.db.walks.update(
      { total: total ?? 0, got: list.length, trouble, day },
      { where: { roundId: round.id, nodeId: node.id, direction }, transaction: t },
    )
    if (own) {
      const [row] = await nodeRows([own], round.id)
      await c.db.nodes.update({ facts: row!.facts, line: row!.line }, { where: { id: node.id }, transaction: t })
      const work = (await worksOfNodes(c, inquiryId, [node.id], t)).get(node.id)
      if (work && own.facts.citedByCount !== undefined)
        await c.db.works.update(
          { citedBy: own.facts.citedByCount, citedAt: new Date(), revision },
          { where: { id: work, inquiryId }, transaction: t },
        )
    }
    await c.db.rounds.update({ calls: under.calls }, { where: { id: round.id }, transaction: t })
  })
  return list.length
}

/** What the index says of an origin itself: how often it is cited, and its field. */
async function itself(under: Under, node: NodeRow): Promise<{ item: Item; facts: Facts } | undefined> {
  const index = connectorsFor(under.c.settings.outside, 'counts')[0]
  if (!index) return undefined
  under.calls++
  const page = await askConnectorOnce(under.c, index, 'counts', { doi: node.item.DOI! }, under.signal)
  const [record] = page?.records ?? []
  return record && { item: node.item, facts: { ...node.facts, ...record.facts } }
}

/**
 * Asks how the works of those fields and years are cited that kept works and what many of them cite are compared with.
 * @returns why some could not be asked
 */
async function comparePeers(
  under: Under,
  progress: JobHandle['progress'],
  told: Record<string, unknown>,
): Promise<string | undefined> {
  const { c, round, day, signal } = under
  const index = connectorsFor(c.settings.outside, 'peers')[0]
  if (!index) return undefined
  const wanted = await missingPeers(c, index.id, await comparable(c, round.inquiryId, day), day)
  const asked = wanted.slice(0, Math.max(0, Math.min(PEERS, round.most - under.calls)))
  try {
    for (const [i, w] of asked.entries()) {
      signal.throwIfAborted()
      under.calls++
      await learnPeers(c, index, w, day, signal)
      if (i % 10 === 9)
        await progress({
          ...told,
          calls: under.calls,
          planned: round.planned,
          comparing: i + 1,
          toCompare: asked.length,
        })
    }
  } catch (e) {
    if (!(e instanceof OutsideError)) throw e
    return e.message
  } finally {
    await c.db.rounds.update({ calls: under.calls }, { where: { id: round.id } })
  }
  return asked.length < wanted.length
    ? `${wanted.length - asked.length} comparisons are left for the next round.`
    : undefined
}
