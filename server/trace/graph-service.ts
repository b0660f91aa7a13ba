import { Op, type Transaction } from 'sequelize'
import { reach } from '../../core/access/reach'
import type { Facts, Item } from '../../core/bib/item'
import type { Answer } from '../../core/schema/api'
import type { Direction } from '../../core/schema/api/trace'
import { describeWork } from '../../core/sift/describe'
import { citationsPerYear } from '../../core/trails/rate'
import type { Context } from '../base/context'
import { hashOf } from '../base/hash'
import { citationsName, connectorsFor } from '../connect/connectors'
import { holdingsStamp, profilesFor } from '../library/holdings'
import { inThread } from '../threads/threads'
import type { Member } from '../sessions/member'
import { citedAges, firstMet, graphNodes, latestWalks, nodesOfWorks, roundNumbers, type NewNode } from './graph-model'
import { keyOfNode } from './node-key'
import { keptPeers } from './peers'

/** Fewer than this are described at once; more in a thread. */
const FEW = 100

/** Descriptions as rows of nodes; of two of one key the latter. */
export async function nodeRows(
  given: readonly { item: Item; facts: Facts }[],
  roundId: number | null,
): Promise<NewNode[]> {
  const works = given.map((g, id) => [{ id, ...g }])
  const described = works.length < FEW ? works.map(w => describeWork(w)) : await inThread('describe', { works })
  const rows = described.map(({ line, kind, confidence }, i) => {
    const { item, facts } = given[i]!
    const doi = item.DOI?.slice(0, 190) ?? null
    return { nodeKey: keyOfNode(item), doi, recordId: null, item, facts, line, kind, confidence, roundId }
  })
  return [...new Map(rows.map(r => [r.nodeKey, r])).values()]
}

/** How old what the kept works cite was when they cited it. */
export async function agesCited(c: Context, { inquiryId }: Pick<Member, 'inquiryId'>): Promise<Answer<'citedAges'>> {
  const kept = await c.db.works.findAll({ where: { inquiryId, state: 'kept' }, attributes: ['id'], raw: true })
  const of = await nodesOfWorks(
    c,
    inquiryId,
    kept.map(w => w.id),
  )
  const { nodes, ages } = await citedAges(c, inquiryId, [...new Set(of.map(n => n.node))])
  const citing = new Set(nodes)
  return { works: new Set(of.filter(n => citing.has(n.node)).map(n => n.work)).size, ages }
}

/** The graph as the rounds so far found it, with reach and rates as of today. */
export async function graphOfInquiry(c: Context, { inquiryId, day }: Member): Promise<Answer<'graph'>> {
  const where = { inquiryId }
  const [nodes, links, walks, rounds, numbers] = await Promise.all([
    graphNodes(c, inquiryId),
    c.db.citations.findAll({ where, attributes: ['citing', 'cited'], order: ['citing', 'cited'], raw: true }),
    latestWalks(c, inquiryId),
    c.db.rounds.findAll({ where, order: ['id'], raw: true }),
    roundNumbers(c, inquiryId),
  ])
  const place = new Map(nodes.map((n, i) => [n.id, i]))
  const outside = nodes.filter(n => n.work === null)
  const profiles = await profilesFor(
    c,
    inquiryId,
    outside.map(n => n.line.access.item),
  )
  // two who say the same are one link
  const once = links.filter((l, i) => l.citing !== links[i - 1]?.citing || l.cited !== links[i - 1]?.cited)
  const index = connectorsFor(c.settings.outside, 'peers')[0]
  return {
    from: connectorsFor(c.settings.outside, 'references').length ? citationsName(c) : '',
    stamp: hashOf(
      [
        nodes.map(n => `${n.id} ${n.work ?? ''}`).join(),
        once.length,
        rounds.map(r => [r.id, r.jobId, r.calls, numbers.get(r.id)?.left].join(' ')).join(),
        walks.length,
        day,
        await holdingsStamp(c, inquiryId),
      ].join('|'),
    ),
    nodes: nodes.map(({ id, work, line, facts, kind, confidence, round }) => ({
      id,
      work,
      year: line.year,
      citedBy: line.citedBy,
      field: facts.field ?? null,
      round,
      pointer:
        work === null
          ? {
              title: line.title,
              authors: line.authors,
              container: line.container,
              kind,
              confidence,
              language: line.language,
              doi: line.doi,
              references: line.references,
              perYear: citationsPerYear(line.citedBy ?? undefined, line.year ?? undefined, day) ?? null,
              reach: reach(line.access.item, { profiles, day, facts: line.access.facts }).reach,
            }
          : null,
    })),
    citing: once.map(l => place.get(l.citing)!),
    cited: once.map(l => place.get(l.cited)!),
    walks: walks.map(w => ({
      node: place.get(w.nodeId)!,
      direction: w.direction,
      round: w.roundId,
      total: w.total,
      got: w.got,
      trouble: w.trouble,
      day: w.day,
    })),
    rounds: rounds.map(({ id, n, scope, subject, day: begun, jobId, planned, calls, standingId }) => ({
      isStanding: standingId !== null,
      ...{ id, n, scope, of: subject, day: begun, job: jobId, planned, calls },
      ...(numbers.get(id) ?? { trails: 0, left: 0, found: 0, fresh: 0 }),
    })),
    fields: index
      ? await keptPeers(
          c,
          index.id,
          nodes.flatMap(n => n.facts.field ?? []),
        )
      : [],
  }
}

/** A node for a work of the pool. */
export async function nodeRowOfWork(
  c: Context,
  work: { id: number; item: Item; facts: Facts },
  t: Transaction,
): Promise<NewNode> {
  const [row] = await nodeRows([work], null)
  if (row!.doi) return row!
  const record = await c.db.records.findOne({
    where: { workId: work.id },
    attributes: ['id'],
    order: ['id'],
    transaction: t,
    raw: true,
  })
  return { ...row!, recordId: record?.id ?? null }
}

/** No line of trails is longer than this. */
const LONGEST = 40

/** How a work was come upon, back to one that came otherwise. */
export async function trailOfWork(c: Context, { inquiryId }: Member, id: number): Promise<Answer<'trailOf'>> {
  const steps: Answer<'trailOf'> = []
  const rounds = new Map(
    (await c.db.rounds.findAll({ where: { inquiryId }, attributes: ['id', 'n'], raw: true })).map(r => [r.id, r.n]),
  )
  const seen = new Set<number>()
  for (let at: number | undefined = id; at !== undefined && !seen.has(at) && steps.length < LONGEST;) {
    seen.add(at)
    const work: { line: { title: string; authors: string; year: number | null } } | null = await c.db.works.findOne({
      where: { id: at, inquiryId },
      attributes: ['line'],
      raw: true,
    })
    if (!work) break
    const { title, authors, year } = work.line
    const met: Met | undefined = (await cameByTrail(c, at)) ? await metFirst(c, inquiryId, at) : undefined
    steps.push({
      ...{ work: at, title, authors, year },
      direction: met?.direction ?? null,
      round: met ? (rounds.get(met.round) ?? null) : null,
      day: met?.day ?? null,
    })
    at = met?.work
  }
  return steps
}

/** Whether nothing but trails brought it. */
const cameByTrail = async (c: Context, workId: number): Promise<boolean> => {
  const sources = await c.db.records.findAll({ where: { workId }, attributes: ['source'], raw: true })
  return sources.length > 0 && sources.every(s => s.source === 'trail')
}

interface Met {
  work: number
  direction: Direction
  round: number
  day: string
}
async function metFirst(c: Context, inquiryId: number, work: number): Promise<Met | undefined> {
  const met = await Promise.all(
    (await nodesOfWorks(c, inquiryId, [work])).map(({ node }) => firstMet(c, inquiryId, node)),
  )
  const [first] = met.flatMap(m => m ?? []).sort((a, b) => a.round - b.round)
  if (!first) return undefined
  const from = await workOfNode(c, inquiryId, first.origin)
  return from === undefined ? undefined : { ...first, work: from }
}

/** The work that a node is now. */
async function workOfNode(c: Context, inquiryId: number, node: number): Promise<number | undefined> {
  const n = await c.db.nodes.findOne({ where: { id: node, inquiryId }, attributes: ['doi', 'recordId'], raw: true })
  // records of sweeps that were not brought are no works
  const pooled = { workId: { [Op.ne]: null } }
  const record = await c.db.records.findOne({
    where: n?.doi ? { inquiryId, doi: n.doi, ...pooled } : { id: n?.recordId ?? 0, ...pooled },
    attributes: ['workId'],
    order: ['workId'],
    raw: true,
  })
  return record?.workId ?? undefined
}
