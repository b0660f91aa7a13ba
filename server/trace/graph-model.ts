import { Op, QueryTypes, type Transaction } from 'sequelize'
import type { Kind } from '../../core/appraise/kind'
import type { Facts, Item } from '../../core/bib/item'
import type { Direction, Scope } from '../../core/schema/api/trace'
import type { LineFacts } from '../../core/sift/line'
import type { Context } from '../base/context'
import { addMissing, inParts, readJson } from '../db/rows'
import {
  day,
  describeTable,
  json,
  key,
  keyText,
  moment,
  orNull,
  ownId,
  real,
  whole,
  word,
  type RowOf,
  type Table,
} from '../db/table'

/** One walking of trails: of all kept works, of a strand, of one work. */
export const rounds = describeTable('rounds', {
  id: ownId(),
  inquiryId: whole(),
  /** From 1; null of a look at one work. */
  n: orNull(whole()),
  scope: word<Scope>(),
  /** The strand or the work. */
  subject: orNull(whole()),
  day: day(),
  jobId: orNull(whole()),
  planned: whole(),
  /** Calls at most, and those that were made. */
  most: whole(),
  calls: whole(),
  /** What stands and is asked again, of which it is a run. */
  standingId: orNull(whole()),
  /** Works that were new in it to what stands; null until it was walked to its end. */
  foundNew: orNull(whole()),
  at: moment(),
})
export type RoundRow = RowOf<typeof rounds>

/**
 * A work as an index describes it. It is the work of the pool that has a record of its DOI, or its record: so a pointer
 * that enters the pool keeps its links, and joins and splits of works carry theirs along.
 */
export const nodes = describeTable('nodes', {
  id: ownId(),
  inquiryId: whole(),
  nodeKey: word(),
  doi: orNull(word()),
  /** A record of the pool that has no DOI. */
  recordId: orNull(whole()),
  item: json<Item>(),
  facts: json<Facts>(),
  line: json<LineFacts>(),
  kind: word<Kind>(),
  confidence: real(),
  /** In which it was met first. */
  roundId: orNull(whole()),
})
export type NodeRow = RowOf<typeof nodes>

export const citations = describeTable('citations', {
  inquiryId: key(),
  citing: key(),
  cited: key(),
  /** Who says so. */
  saidBy: keyText<'index' | 'copy' | 'student'>(),
  roundId: orNull(whole()),
  day: day(),
})
export type CitationRow = RowOf<typeof citations>

/** A trail of a round; its day is that of the desk on which it was walked. */
export const walks = describeTable('walks', {
  roundId: key(),
  nodeId: key(),
  direction: keyText<Direction>(),
  inquiryId: whole(),
  total: whole(),
  got: whole(),
  trouble: orNull(word()),
  day: orNull(day()),
})
export type WalkRow = RowOf<typeof walks>

/** How works of a field and year are cited, by an index; the same for all inquiries. */
export const fieldYears = describeTable('field_years', {
  connector: keyText(),
  field: keyText(),
  year: key(),
  works: whole(),
  /** [citations, works] pairs. */
  counts: json<[number, number][]>(),
  day: day(),
})
export type FieldYearRow = RowOf<typeof fieldYears>

declare module '../base/context' {
  interface Db {
    rounds: Table<RoundRow>
    nodes: Table<NodeRow>
    citations: Table<CitationRow>
    walks: Table<WalkRow>
    fieldYears: Table<FieldYearRow>
  }
}

export type NewNode = Omit<NodeRow, 'id' | 'inquiryId'>

/** In one order, so that two rounds of one inquiry wait for one another and do not lock each other out. */
const inOrder = (inquiryId: number, rows: readonly NewNode[]) =>
  rows.map(r => ({ inquiryId, ...r })).sort((a, b) => (a.nodeKey < b.nodeKey ? -1 : 1))
/** The ids of nodes that were put; one that was met before its work came in is tied to it now. */
async function idsOf(c: Context, inquiryId: number, rows: readonly NewNode[], t: Transaction) {
  const ids = await nodeIds(
    c,
    inquiryId,
    rows.map(r => r.nodeKey),
    t,
  )
  for (const { nodeKey, recordId } of rows)
    if (recordId !== null)
      await c.db.nodes.update({ recordId }, { where: { id: ids.get(nodeKey)!, recordId: null }, transaction: t })
  return ids
}

/**
 * Adds nodes, or renews what is said of those that are there.
 * @returns their ids by key
 */
export async function putNodes(
  c: Context,
  inquiryId: number,
  rows: readonly NewNode[],
  t: Transaction,
): Promise<Map<string, number>> {
  for (const part of inParts(inOrder(inquiryId, rows)))
    await c.db.nodes.bulkCreate(part, {
      updateOnDuplicate: ['item', 'facts', 'line', 'kind', 'confidence'],
      transaction: t,
    })
  return idsOf(c, inquiryId, rows, t)
}

/**
 * Adds nodes that are not there; of those that are, what an index said of them stays.
 * @returns their ids by key
 */
export async function addNodes(
  c: Context,
  inquiryId: number,
  rows: readonly NewNode[],
  t: Transaction,
): Promise<Map<string, number>> {
  await addMissing(c.db.nodes, inOrder(inquiryId, rows), 'nodeKey', t)
  return idsOf(c, inquiryId, rows, t)
}

export async function nodeIds(
  c: Context,
  inquiryId: number,
  keys: readonly string[],
  t: Transaction,
): Promise<Map<string, number>> {
  const found = await c.db.nodes.findAll({
    where: { inquiryId, nodeKey: { [Op.in]: [...new Set(keys)] } },
    attributes: ['id', 'nodeKey'],
    transaction: t,
    raw: true,
  })
  return new Map(found.map(f => [f.nodeKey, f.id]))
}

/** What is said already stays as it was said first, with its round. */
export const putCitations = (c: Context, rows: readonly CitationRow[], t: Transaction): Promise<void> =>
  addMissing(c.db.citations, rows, 'citing', t)

export interface GraphNode {
  id: number
  work: number | null
  line: LineFacts
  facts: Facts
  kind: Kind
  confidence: number
  doi: string | null
  /** The round that met it first. */
  round: number | null
}

/** In SQL, which work of the pool each node is, if any: by a record of its DOI, or by its own record. */
export const WORK = `COALESCE(MIN(r.work_id), MIN(q.work_id))`
export const TIED = `FROM nodes n LEFT JOIN records r ON r.inquiry_id = n.inquiry_id AND r.doi = n.doi AND r.work_id IS NOT NULL
  LEFT JOIN records q ON q.id = n.record_id`

export async function graphNodes(c: Context, inquiryId: number): Promise<GraphNode[]> {
  const rows = await c.db.sequelize.query<GraphNode>(
    `SELECT n.id, ${WORK} AS work, n.line, n.facts, n.kind, n.confidence, n.doi, n.round_id AS round ${TIED}
     WHERE n.inquiry_id = :inquiryId GROUP BY n.id ORDER BY n.id`,
    { type: QueryTypes.SELECT, replacements: { inquiryId } },
  )
  return rows.map(r => ({ ...r, line: readJson(r.line), facts: readJson(r.facts) }))
}

/** The work of the pool that each of these nodes is now. */
export async function worksOfNodes(
  c: Context,
  inquiryId: number,
  ids: readonly number[],
  t: Transaction,
): Promise<Map<number, number>> {
  if (!ids.length) return new Map()
  const rows = await c.db.sequelize.query<{ node: number; work: number }>(
    `SELECT n.id AS node, ${WORK} AS work ${TIED} WHERE n.inquiry_id = :inquiryId AND n.id IN (:ids) GROUP BY n.id HAVING work IS NOT NULL`,
    { type: QueryTypes.SELECT, replacements: { inquiryId, ids }, transaction: t },
  )
  return new Map(rows.map(r => [r.node, r.work]))
}

/** The nodes that a work of the pool is, the earliest first: more than one where its records have several DOIs. */
export async function nodesOfWorks(
  c: Context,
  inquiryId: number,
  works: readonly number[],
): Promise<{ node: number; work: number; round: number | null }[]> {
  if (!works.length) return []
  return c.db.sequelize.query(
    `SELECT n.id AS node, r.work_id AS work, n.round_id AS round FROM records r JOIN nodes n ON n.inquiry_id = r.inquiry_id AND n.doi = r.doi
       WHERE r.inquiry_id = :inquiryId AND r.work_id IN (:works)
     UNION SELECT n.id, q.work_id, n.round_id FROM records q JOIN nodes n ON n.record_id = q.id
       WHERE q.inquiry_id = :inquiryId AND q.work_id IN (:works) ORDER BY node`,
    { type: QueryTypes.SELECT, replacements: { inquiryId, works } },
  )
}

/** Rounds that walked something: their days, calls, how many works they began from, and how many they met first. */
export async function roundsWalked(
  c: Context,
  inquiryId: number,
): Promise<{ day: string; calls: number; works: number; fresh: number; isStanding: boolean }[]> {
  const where = { inquiryId }
  const [rows, done, numbers] = await Promise.all([
    c.db.rounds.findAll({ where, order: ['id'], raw: true }),
    c.db.walks.findAll({ where, attributes: ['roundId', 'nodeId', 'day'], raw: true }),
    roundNumbers(c, inquiryId),
  ])
  return rows
    .map(({ id, day: on, calls, standingId }) => {
      const works = new Set(done.filter(w => w.roundId === id && w.day).map(w => w.nodeId)).size
      return { day: on, calls, works, fresh: numbers.get(id)?.fresh ?? 0, isStanding: standingId !== null }
    })
    .filter(r => r.works)
}

/** How old what some nodes cite was when they cited it: years, with how many citations; and which nodes do. */
export async function citedAges(
  c: Context,
  inquiryId: number,
  citing: readonly number[],
): Promise<{ nodes: number[]; ages: [number, number][] }> {
  if (!citing.length) return { nodes: [], ages: [] }
  // two who say the same are one citation
  const from = `FROM (SELECT DISTINCT citing, cited FROM citations WHERE inquiry_id = :inquiryId AND citing IN (:citing)) x
    JOIN nodes a ON a.id = x.citing JOIN nodes b ON b.id = x.cited`
  const age = `JSON_VALUE(a.line, '$.year') - JSON_VALUE(b.line, '$.year')`
  const how = { type: QueryTypes.SELECT as const, replacements: { inquiryId, citing } }
  const rows = await c.db.sequelize.query<{ age: number | null; n: number }>(
    `SELECT ${age} AS age, COUNT(*) AS n ${from} GROUP BY age ORDER BY age`,
    how,
  )
  const of = await c.db.sequelize.query<{ citing: number }>(
    `SELECT DISTINCT x.citing ${from} WHERE ${age} IS NOT NULL`,
    how,
  )
  const ages = rows.flatMap(({ age: a, n }): [number, number][] => (a === null ? [] : [[Number(a), Number(n)]]))
  return { nodes: of.map(o => o.citing), ages }
}

/** Of each round: its trails, those left, the works it met, and those that no round met before. */
export async function roundNumbers(
  c: Context,
  inquiryId: number,
): Promise<Map<number, { trails: number; left: number; found: number; fresh: number }>> {
  const how = { type: QueryTypes.SELECT as const, replacements: { inquiryId } }
  const sum = async (sql: string) =>
    new Map((await c.db.sequelize.query<{ round: number; n: number; m: number }>(sql, how)).map(r => [r.round, r]))
  const trails = await sum(
    'SELECT round_id AS round, COUNT(*) AS n, SUM(day IS NULL) AS m FROM walks WHERE inquiry_id = :inquiryId GROUP BY round_id',
  )
  const met = await sum(
    `SELECT x.round_id AS round, COUNT(DISTINCT x.node) AS n, COUNT(DISTINCT IF(n.round_id = x.round_id, n.id, NULL)) AS m FROM (
       SELECT w.round_id, c.cited AS node FROM walks w JOIN citations c ON c.citing = w.node_id AND c.said_by = 'index'
         WHERE w.inquiry_id = :inquiryId AND w.direction = 'references' AND w.day IS NOT NULL
       UNION ALL SELECT w.round_id, c.citing FROM walks w JOIN citations c ON c.cited = w.node_id AND c.said_by = 'index'
         WHERE w.inquiry_id = :inquiryId AND w.direction = 'cited-by' AND w.day IS NOT NULL) x JOIN nodes n ON n.id = x.node GROUP BY x.round_id`,
  )
  return new Map(
    [...trails].map(([round, t]) => [
      round,
      {
        trails: Number(t.n),
        left: Number(t.m),
        found: Number(met.get(round)?.n ?? 0),
        fresh: Number(met.get(round)?.m ?? 0),
      },
    ]),
  )
}

/** The latest walk of each trail. */
export const latestWalks = (c: Context, inquiryId: number): Promise<(WalkRow & { day: string })[]> =>
  c.db.sequelize.query(
    `SELECT w.round_id AS roundId, w.node_id AS nodeId, w.direction, w.total, w.got, w.trouble, DATE_FORMAT(w.day, '%Y-%m-%d') AS day FROM walks w
     JOIN (SELECT node_id, direction, MAX(round_id) AS round_id FROM walks WHERE inquiry_id = :inquiryId AND day IS NOT NULL GROUP BY node_id, direction) l
       ON l.node_id = w.node_id AND l.direction = w.direction AND l.round_id = w.round_id ORDER BY w.node_id, w.direction`,
    { type: QueryTypes.SELECT, replacements: { inquiryId } },
  )

/** The first trail on which a node was met: the other end, and from which side. */
export async function firstMet(
  c: Context,
  inquiryId: number,
  node: number,
): Promise<{ origin: number; direction: Direction; round: number; day: string } | undefined> {
  const [row] = await c.db.sequelize.query<{ origin: number; direction: Direction; round: number; day: string }>(
    `SELECT * FROM (
       SELECT c.citing AS origin, 'references' AS direction, c.round_id AS round, DATE_FORMAT(c.day, '%Y-%m-%d') AS day FROM citations c
         JOIN walks w ON w.round_id = c.round_id AND w.node_id = c.citing AND w.direction = 'references' WHERE c.inquiry_id = :inquiryId AND c.cited = :node
       UNION ALL SELECT c.cited, 'cited-by', c.round_id, DATE_FORMAT(c.day, '%Y-%m-%d') FROM citations c
         JOIN walks w ON w.round_id = c.round_id AND w.node_id = c.cited AND w.direction = 'cited-by' WHERE c.inquiry_id = :inquiryId AND c.citing = :node) x
     ORDER BY round, origin LIMIT 1`,
    { type: QueryTypes.SELECT, replacements: { inquiryId, node } },
  )
  return row
}
