import { Router } from 'express'
import { Op } from 'sequelize'
import { array, number, object, string } from 'yup'
import { authorLine } from '../../core/bib/names'
import { yearOf } from '../../core/bib/dates'
import { reachOf, type Reach } from '../../core/access/routes'
import { ASK } from '../../core/match/compare'
import { contradictions, PASSES, type Choice, type Decision } from '../../core/sift/decisions'
import { flowOf } from '../../core/sift/flow'
import { citationsPerYear } from '../../core/trails/rate'
import type { Context } from '../context'
import type { CopyRow, RecordRow, RouteRow, WorkRow } from '../db/models'
import { inquiryOf, userOf } from '../accounts/accounts'
import { deskDay } from '../clock'
import { change } from '../inquiries/revision'
import { check, notFound, Problem } from '../problem'
import { projectStates, rebuild } from './pool'

export const uuid = string().matches(
  /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/,
  'An id has to be a UUID.',
)
const newDecisions = object({
  group: uuid.required(),
  decisions: array(
    object({
      id: uuid.required(),
      work: number().integer().required(),
      pass: string().oneOf(PASSES).required(),
      choice: string()
        .oneOf(['keep', 'set aside', 'later'] satisfies Choice[])
        .required(),
      reason: string().trim().max(500).nullable(),
    }).required(),
  )
    .min(1)
    .max(5000)
    .required(),
})

/** The pool: its works as record lines, one work in full, decisions and their undoing, joining and taking apart. */
export function poolRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })

  router.get('/works', async (req, res) => {
    const inquiryId = inquiryOf(req)
    res.json(await workLines(c, inquiryId))
  })

  /** The texts of the works, for what learns from them; they change only as works come and go. */
  router.get('/works/texts', async (req, res) => {
    const works = await c.db.works.findAll({
      where: { inquiryId: inquiryOf(req), successorId: null },
      attributes: ['id', 'item', 'facts'],
      order: ['id'],
      raw: true,
    })
    res.json(
      works.map(({ id, item, facts }) => ({
        id,
        title: item.title ?? '',
        abstract: item.abstract,
        keywords: [...(facts.keywords ?? []), ...(facts.subjects ?? [])],
      })),
    )
  })

  router.get('/works/:work', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const found = await c.db.works.findOne({ where: { id: Number(req.params.work), inquiryId }, raw: true })
    const w = found?.successorId
      ? await c.db.works.findOne({ where: { id: found.successorId, inquiryId }, raw: true })
      : found
    if (!w) throw notFound()
    const where = { workId: w.id }
    const records = await c.db.records.findAll({ where, order: ['id'], raw: true })
    const ids = records.map(r => r.id)
    const asked = await c.db.pairLinks.findAll({
      where: { inquiryId, verdict: 'asked', [Op.or]: [{ a: { [Op.in]: ids } }, { b: { [Op.in]: ids } }] },
      raw: true,
    })
    const others = await c.db.records.findAll({
      where: { id: { [Op.in]: asked.map(l => (ids.includes(l.a) ? l.b : l.a)) }, workId: { [Op.ne]: null } },
      raw: true,
    })
    const [routes, copies, attempts, passages, entry, trail] = await Promise.all([
      c.db.routes.findOne({ where, raw: true }),
      c.db.copies.findAll({ where, order: ['id'], raw: true }),
      c.db.attempts.findAll({ where, order: [['id', 'DESC']], limit: 10, raw: true }),
      c.db.passages.findAll({ where, order: ['page'], raw: true }),
      c.db.entries.findOne({ where, raw: true }),
      c.db.trails.findAll({ where, attributes: ['direction', 'total'], raw: true }),
    ])
    const history = await c.db.decisions.findAll({ where, order: ['n'], raw: true })
    res.json({
      ...line(w, routes ?? undefined, copies, await deskDay(c.db)),
      item: w.item,
      facts: w.facts,
      fieldFrom: w.fieldFrom,
      evidence: w.evidence,
      records: records.map(r => ({
        id: r.id,
        source: sourceName(c, r.source),
        item: r.item,
        facts: r.facts,
        raw: r.raw,
        format: r.format,
        at: r.at,
      })),
      asked: others
        .filter(o => o.workId !== w.id)
        .map(o => ({ record: o.id, work: o.workId, source: sourceName(c, o.source), item: o.item })),
      routes: routes ? { routes: routes.routes, closed: routes.closed, at: routes.at } : null,
      copies: copies.map(x => ({
        id: x.id,
        outcome: x.outcome,
        version: x.version,
        origin: x.origin,
        proof: x.proof,
        pages: x.pages,
      })),
      attempts,
      passages,
      entry,
      trails: trail,
      history: history.map(h => ({
        id: h.id,
        pass: h.pass,
        choice: h.choice,
        reason: h.reason,
        undoes: h.undoes,
        at: h.at,
      })),
    })
  })

  router.post('/decisions', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(newDecisions, req.body)
    const userId = userOf(req)
    const works = [...new Set(given.decisions.map(d => d.work))]
    const answer = await change(c, inquiryId, async (t, revision) => {
      const found = await c.db.works.findAll({
        where: { inquiryId, id: { [Op.in]: works } },
        attributes: ['id', 'successorId'],
        transaction: t,
        raw: true,
      })
      if (found.length < works.length)
        throw new Problem(422, 'unknown-work', 'A work of this decision is not in the pool.')
      const heir = new Map(found.map(f => [f.id, f.successorId ?? f.id]))
      await c.db.decisions.bulkCreate(
        given.decisions.map(d => ({
          id: d.id,
          groupId: given.group,
          inquiryId,
          workId: heir.get(d.work)!,
          pass: d.pass,
          choice: d.choice,
          reason: d.reason || null,
          userId,
          revision,
        })),
        { ignoreDuplicates: true, transaction: t },
      )
      await projectStates(c, inquiryId, [...new Set(heir.values())], t)
      return { revision }
    })
    res.status(201).json({ ...answer, works: await workLines(c, inquiryId, works) })
  })

  router.post('/undo', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const { group, id } = check(object({ group: uuid.required(), id: uuid.required() }), req.body)
    const userId = userOf(req)
    const works = await change(c, inquiryId, async (t, revision) => {
      const lines = await c.db.decisions.findAll({
        where: { inquiryId, groupId: group, undoes: null },
        transaction: t,
        raw: true,
      })
      if (!lines.length) throw notFound()
      const ids = [...new Set(lines.map(l => l.workId))]
      const log = await c.db.decisions.findAll({
        where: { inquiryId, workId: { [Op.in]: ids } },
        order: ['n'],
        transaction: t,
        raw: true,
      })
      if (log.some(l => l.undoes === group)) return ids
      const blocked = contradictions(
        log.map((d): Decision => ({
          id: d.id,
          group: d.groupId,
          work: d.workId,
          pass: d.pass,
          choice: d.choice,
          undoes: d.undoes,
        })),
        group,
      )
      if (blocked.length)
        throw new Problem(
          409,
          'decided-since',
          'This cannot be undone: the work was decided again since. Undo the later decision first.',
          { works: blocked },
        )
      await c.db.decisions.bulkCreate(
        [...new Map(lines.map(l => [l.workId, l])).values()].map((l, i) => ({
          id: i ? crypto.randomUUID() : id,
          groupId: id,
          inquiryId,
          workId: l.workId,
          pass: l.pass,
          choice: null,
          undoes: group,
          userId,
          revision,
        })),
        { transaction: t },
      )
      await projectStates(c, inquiryId, ids, t)
      return ids
    })
    res.status(201).json({ works: await workLines(c, inquiryId, works) })
  })

  /** Pairs of works that may be one, the likeliest first; one question for each pair of works. */
  router.get('/twins', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const links = await c.db.pairLinks.findAll({
      where: { inquiryId, verdict: 'asked' },
      order: [['score', 'DESC'], 'a', 'b'],
      raw: true,
    })
    const records = await c.db.records.findAll({
      where: { inquiryId, id: { [Op.in]: [...new Set(links.flatMap(l => [l.a, l.b]))] }, workId: { [Op.ne]: null } },
      attributes: ['id', 'workId', 'source', 'item', 'facts'],
      raw: true,
    })
    const byId = new Map(records.map(r => [r.id, r]))
    const pairs = new Map<string, object>()
    for (const l of links) {
      const [a, b] = [byId.get(l.a), byId.get(l.b)]
      if (!a || !b || a.workId === b.workId) continue
      const key = [a.workId, b.workId].sort((x, y) => x! - y!).join('-')
      const side = (r: RecordRow) => ({
        record: r.id,
        work: r.workId,
        source: sourceName(c, r.source),
        item: r.item,
        facts: r.facts,
      })
      if (!pairs.has(key)) pairs.set(key, { a: side(a), b: side(b), score: l.score })
    }
    res.json([...pairs.values()])
  })

  /** The way from what was found to what is kept, in numbers. */
  router.get('/flow', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const [records, works, copies] = await Promise.all([
      c.db.records.findAll({ where: { inquiryId }, attributes: ['source', 'workId'], raw: true }),
      c.db.works.findAll({
        where: { inquiryId, successorId: null },
        attributes: ['id', 'state', 'pass', 'reason'],
        raw: true,
      }),
      c.db.copies.findAll({ where: { inquiryId, outcome: 'proved' }, attributes: ['workId'], raw: true }),
    ])
    const held = new Set(copies.map(x => x.workId))
    res.json(
      flowOf({
        records: records.map(r => ({
          source: r.source === 'trail' ? 'trail' : r.source.startsWith('file:') ? 'file' : 'catalogue',
          work: r.workId,
        })),
        works: works.map(w => ({ ...w, inHand: held.has(w.id) })),
      }),
    )
  })

  router.post('/links', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(
      object({
        a: number().integer().required(),
        b: number().integer().required(),
        verdict: string()
          // "asked" takes an answer back
          .oneOf(['same', 'never', 'asked'] as const)
          .required(),
      }),
      req.body,
    )
    const [a, b] = given.a < given.b ? [given.a, given.b] : [given.b, given.a]
    const records = await c.db.records.findAll({
      where: { inquiryId, id: [a, b], workId: { [Op.ne]: null } },
      attributes: ['id', 'workId'],
      raw: true,
    })
    if (records.length < 2) throw new Problem(422, 'unknown-record', 'Both records have to be in the pool.')
    const works = await change(c, inquiryId, async t => {
      await c.db.pairLinks.upsert(
        given.verdict === 'asked'
          ? { inquiryId, a, b, verdict: 'asked', score: ASK, decidedBy: 'description' }
          : { inquiryId, a, b, verdict: given.verdict, score: 20, decidedBy: 'student' },
        { transaction: t },
      )
      // an answer holds for the two works, not for one pair of their records
      const [one, two] = await Promise.all(
        records.map(r =>
          c.db.records.findAll({ where: { workId: r.workId }, attributes: ['id'], transaction: t, raw: true }),
        ),
      )
      const [left, right] = [one!.map(r => r.id), two!.map(r => r.id)]
      const between = [
        { a: { [Op.in]: left }, b: { [Op.in]: right } },
        { a: { [Op.in]: right }, b: { [Op.in]: left } },
      ]
      if (records[0]!.workId !== records[1]!.workId)
        await c.db.pairLinks.update(
          given.verdict === 'never'
            ? { verdict: 'never', decidedBy: 'student' }
            : { verdict: 'asked', decidedBy: 'description' },
          {
            where: {
              inquiryId,
              // an answer taken back, or turned, frees the other pairs that it had closed
              ...(given.verdict === 'never' ? { verdict: 'asked' } : { verdict: 'never', decidedBy: 'student' }),
              [Op.or]: between,
            },
            transaction: t,
          },
        )
      return rebuild(c, inquiryId, [a, b], t)
    })
    res.status(201).json({ works: [...new Set(works.values())] })
  })
  return router
}

/** Says where a record came from, in words. */
export function sourceName(c: Context, source: string): string {
  if (source.startsWith('file:')) return 'your file'
  if (source === 'trail') return c.settings.outside.citations.name
  return c.settings.outside.catalogues.find(x => x.id === source)?.name ?? source
}

export interface WorkLine {
  id: number
  title: string
  authors: string
  container: string
  year: number | null
  doi: string | null
  pages: string | null
  pageCount: number | null
  kind: string
  confidence: number
  perYear: number | null
  citedBy: number | null
  state: WorkRow['state']
  pass: string | null
  reason: string | null
  reach: Reach
  inBibliography?: boolean
}

/** The works of a pool as record lines; all of them, or some. Retired works are left out. */
export async function workLines(c: Context, inquiryId: number, only?: readonly number[]): Promise<WorkLine[]> {
  const works = await c.db.works.findAll({
    where: { inquiryId, successorId: null, ...(only ? { id: { [Op.in]: [...only] } } : {}) },
    order: ['id'],
    raw: true,
  })
  const routes = new Map((await c.db.routes.findAll({ where: { inquiryId }, raw: true })).map(r => [r.workId, r]))
  const copies = await c.db.copies.findAll({ where: { inquiryId }, attributes: ['workId', 'outcome'], raw: true })
  const today = await deskDay(c.db)
  const byWork = new Map<number, CopyRow[]>()
  for (const x of copies) byWork.set(x.workId, [...(byWork.get(x.workId) ?? []), x])
  return works.map(w => line(w, routes.get(w.id), byWork.get(w.id) ?? [], today))
}

function line(
  w: WorkRow,
  routes: RouteRow | undefined,
  copies: readonly Pick<CopyRow, 'outcome'>[],
  today: string,
): WorkLine {
  const { item, facts } = w
  return {
    id: w.id,
    title: (item.title ?? 'Untitled').replace(/<[^>]{1,20}>/g, ''),
    authors: authorLine(item.author ?? item.editor),
    container: item['container-title'] ?? item.publisher ?? '',
    year: yearOf(item) ?? null,
    doi: item.DOI ?? null,
    pages: item.page ?? null,
    pageCount: facts.pageCount ?? null,
    kind: w.kind,
    confidence: w.confidence,
    perYear: citationsPerYear(facts.citedByCount, yearOf(item), today) ?? null,
    citedBy: facts.citedByCount ?? null,
    state: w.state,
    pass: w.pass,
    reason: w.reason,
    reach: reachOf(
      copies.some(x => x.outcome === 'proved'),
      routes?.routes,
    ),
  }
}
