import { Op, type Transaction } from 'sequelize'
import { components, findLinks, publishedDoi, type MatchRecord, type PairLink } from '../../core/match/records'
import { project, type Decision } from '../../core/sift/decisions'
import { standingLines } from '../../core/sift/log'
import type { Context } from '../context'
import type { ArrivalRow, RecordRow } from '../db/models'
import { addMissing, inParts } from '../db/rows'
import { describe, heirsOf, saidAndSigns, writeAlike } from './describe'

export interface Pooled {
  /** Records that entered the pool now. */
  records: number
  newWorks: number
  /** Works the pool had already that these records describe. */
  known: number
  /** Pairs to be looked at by the student. */
  asked: number
  /** The arrival by which they can be found again; null where nothing came in. */
  arrival: number | null
}

/** Brings records into the pool: links are found and stored, and the works they touch rebuilt. */
export async function pool(
  c: Context,
  inquiryId: number,
  recordIds: readonly number[],
  by: Pick<ArrivalRow, 'how' | 'userId'>,
  t: Transaction,
  revision: number,
  /** Told how many of the records are in; where it throws, all is rolled back. */
  step: (done: number, of: number) => Promise<void> = async () => undefined,
): Promise<Pooled> {
  const { db } = c
  const columns = ['id', 'item', 'facts', 'workId']
  const known = (await db.records.findAll({
    where: { inquiryId, workId: { [Op.ne]: null } },
    attributes: columns,
    transaction: t,
    raw: true,
  })) as unknown as RecordRow[]
  const inPool = new Set(known.map(r => r.id))
  const wanted = recordIds.filter(id => !inPool.has(id))
  const fresh = wanted.length
    ? ((await db.records.findAll({
        where: { inquiryId, id: { [Op.in]: wanted } },
        attributes: columns,
        transaction: t,
        raw: true,
      })) as unknown as RecordRow[])
    : []
  fresh.sort((a, b) => a.id - b.id)
  if (!fresh.length)
    return {
      records: 0,
      newWorks: 0,
      known: new Set(known.filter(r => recordIds.includes(r.id)).map(r => r.workId)).size,
      asked: 0,
      arrival: null,
    }
  const links = findLinks(known.map(parsed), fresh.map(parsed))
  if (links.length) {
    // what a student or an identifier has said of a pair stands
    await addMissing(
      db.pairLinks,
      links.map(l => ({ inquiryId, a: l.a, b: l.b, verdict: l.verdict, score: l.score, decidedBy: l.by })),
      'a',
      t,
    )
  }
  // each record begins as a work of its own; rebuilding joins them
  const rows = fresh.map(r => ({ id: r.id, inquiryId, successorId: null, revision, ...describe([parsed(r)]) }))
  let done = 0
  for (const part of inParts(rows)) {
    await step(done, rows.length)
    await addMissing(db.works, part, 'id', t)
    done += part.length
  }
  await step(rows.length, rows.length)
  const ids = fresh.map(r => r.id)
  const arrival = await db.arrivals.create(
    { inquiryId, ...by, records: ids.length, newWorks: 0, known: 0 },
    { transaction: t },
  )
  for (let i = 0; i < ids.length; i += 5000)
    await db.sequelize.query('UPDATE records SET work_id = id, arrival = :arrival WHERE id IN (:ids)', {
      replacements: { ids: ids.slice(i, i + 5000), arrival: arrival.id },
      transaction: t,
    })
  const touched = new Set(links.filter(l => l.verdict === 'same').flatMap(l => [l.a, l.b]))
  const works = touched.size ? await rebuild(c, inquiryId, [...touched], t, revision) : new Map<number, number>()
  const workOf = (id: number) => works.get(id) ?? id
  const before = new Set(known.map(r => r.workId!))
  const after = [...new Set(fresh.map(r => workOf(r.id)))]
  const counts = { newWorks: after.filter(w => !before.has(w)).length, known: after.filter(w => before.has(w)).length }
  await db.arrivals.update(counts, { where: { id: arrival.id }, transaction: t })
  return {
    records: fresh.length,
    ...counts,
    arrival: arrival.id,
    asked: links.filter(l => l.verdict === 'asked').length,
  }
}

const parsed = (r: RecordRow): MatchRecord => ({ id: r.id, item: json(r.item), facts: json(r.facts) })
const json = <T>(v: T | string): T => (typeof v === 'string' ? (JSON.parse(v) as T) : v)

/**
 * Rebuilds the works of some records from the stored links, and of all records they are or were joined with. A work
 * has the id of its first record; one that lost its records leads to its successor.
 * @returns the work of each record looked at
 */
export async function rebuild(
  c: Context,
  inquiryId: number,
  recordIds: readonly number[],
  t: Transaction,
  revision: number,
): Promise<Map<number, number>> {
  const { db } = c
  const seen = new Set<number>()
  const links: PairLink[] = []
  let frontier = new Set(recordIds)
  // everything that hangs together by "same" links, and by sharing a work now
  while (frontier.size) {
    for (const id of frontier) seen.add(id)
    const ids = [...frontier]
    const found = await db.pairLinks.findAll({
      where: { inquiryId, [Op.or]: [{ a: { [Op.in]: ids } }, { b: { [Op.in]: ids } }] },
      transaction: t,
      raw: true,
    })
    for (const l of found) links.push({ a: l.a, b: l.b, verdict: l.verdict, score: l.score, by: l.decidedBy })
    const mine = await db.records.findAll({
      where: { id: { [Op.in]: ids } },
      attributes: ['workId'],
      transaction: t,
      raw: true,
    })
    const shared = await db.records.findAll({
      where: { inquiryId, workId: { [Op.in]: mine.map(m => m.workId!).filter(Boolean) } },
      attributes: ['id'],
      transaction: t,
      raw: true,
    })
    frontier = new Set(
      [...found.filter(l => l.verdict === 'same').flatMap(l => [l.a, l.b]), ...shared.map(s => s.id)].filter(
        id => !seen.has(id),
      ),
    )
  }
  const rows = (
    (await db.records.findAll({
      where: { id: { [Op.in]: [...seen] }, workId: { [Op.ne]: null } },
      attributes: ['id', 'item', 'facts', 'workId'],
      transaction: t,
      raw: true,
    })) as unknown as RecordRow[]
  ).map(r => ({ ...parsed(r), workId: r.workId! }))
  const byId = new Map(rows.map(r => [r.id, r]))
  const unique = [...new Map(links.map(l => [`${l.a}-${l.b}`, l])).values()]
  const groups = components(
    rows.map(r => ({ id: r.id, doi: publishedDoi(r) })),
    unique,
  )
  const workOf = new Map<number, number>()
  const { said, signs } = await saidAndSigns(c, new Map(groups.map(g => [g[0]!, g])), t)
  for (const group of groups) {
    const workId = group[0]!
    for (const id of group) workOf.set(id, workId)
    await db.works.upsert(
      {
        id: workId,
        inquiryId,
        successorId: null,
        revision,
        ...describe(
          group.map(id => byId.get(id)!),
          said.get(workId),
          signs.get(workId),
        ),
      },
      { transaction: t },
    )
    await db.records.update({ workId }, { where: { id: { [Op.in]: group } }, transaction: t })
    const gone = group.slice(1)
    if (gone.length)
      await db.works.update({ successorId: workId, revision }, { where: { id: { [Op.in]: gone } }, transaction: t })
  }
  await projectStates(c, inquiryId, [...new Set(workOf.values())], t, revision)
  return workOf
}

/** Writes the present state of works from the log; decisions on a retired work count for its successor. */
export async function projectStates(
  c: Context,
  inquiryId: number,
  workIds: readonly number[],
  t: Transaction,
  revision: number,
): Promise<void> {
  const { db } = c
  const heir = await heirsOf(c, inquiryId, workIds, t)
  const log = await db.decisions.findAll({
    where: { inquiryId, workId: { [Op.in]: [...workIds, ...heir.keys()] } },
    order: ['n'],
    transaction: t,
    raw: true,
  })
  const lines = log.map((d): Decision & { at: Date } => ({
    id: d.id,
    group: d.groupId,
    work: heir.get(d.workId) ?? d.workId,
    pass: d.pass,
    choice: d.choice,
    reason: d.reason,
    undoes: d.undoes,
    at: d.at,
  }))
  const standings = project(lines)
  const decidedAt = new Map(standingLines(lines).map(l => [l.work, l.at]))
  await writeAlike(
    c,
    inquiryId,
    workIds,
    id => {
      const { state, pass, reason } = standings.get(id) ?? { state: 'unread', pass: null, reason: null }
      return { state, pass, reason, decidedAt: decidedAt.get(id) ?? null, revision }
    },
    t,
  )
}
