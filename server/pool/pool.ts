import { Op, type Transaction } from 'sequelize'
import { components, findLinks, publishedDoi, type MatchRecord, type PairLink } from '../../core/match/records'
import { describeWork } from '../../core/sift/describe'
import type { Context } from '../base/context'
import type { ArrivalRow, RecordRow } from './pool-model'
import { addMissing } from '../db/rows'
import { projectDecisions } from './decisions'
import { inThread } from '../threads/threads'
import { enterBlocks } from './blocks'
import { saidAndSigns } from './describe'
import { moveRows } from './moves-model'

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

/** Fewer records than this are matched and described at once; more in a thread. */
const FEW = 100
/** Works written between two words of how far it is. */
const STEP = 500

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
  const records = async (ids: readonly number[]) =>
    ids.length
      ? await db.records.findAll({
          where: { inquiryId, id: { [Op.in]: [...ids] } },
          attributes: ['id', 'item', 'facts', 'workId'],
          order: ['id'],
          transaction: t,
          raw: true,
        })
      : []
  const wanted = await records(recordIds)
  const fresh = wanted.filter(r => r.workId === null)
  if (!fresh.length)
    return { records: 0, newWorks: 0, known: new Set(wanted.map(r => r.workId)).size, asked: 0, arrival: null }
  const known = await records(await enterBlocks(c, inquiryId, fresh.map(parsed), t))
  const given = { known: known.map(parsed), fresh: fresh.map(parsed) }
  const few = known.length + fresh.length < FEW
  const links = few ? findLinks(given.known, given.fresh) : await inThread('links', given)
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
  for (let done = 0; done < fresh.length; done += STEP) {
    await step(done, fresh.length)
    const some = given.fresh.slice(done, done + STEP)
    const works = some.map(r => [r])
    const described = few ? works.map(w => describeWork(w)) : await inThread('describe', { works })
    const rows = described.map((d, i) => ({ id: some[i]!.id, inquiryId, successorId: null, revision, ...d }))
    await addMissing(db.works, rows, 'id', t)
  }
  await step(fresh.length, fresh.length)
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
  const { said, signs } = await saidAndSigns(c, inquiryId, new Map(groups.map(g => [g[0]!, g])), t)
  for (const group of groups) {
    const workId = group[0]!
    for (const id of group) workOf.set(id, workId)
    await db.works.upsert(
      {
        id: workId,
        inquiryId,
        successorId: null,
        revision,
        ...describeWork(
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
  const moved = rows.filter(r => workOf.get(r.id) !== r.workId).map(r => r.id)
  await moveRows(c, inquiryId, moved, t)
  await projectDecisions(c, { inquiryId, revision }, [...new Set(workOf.values())], t)
  return workOf
}
