import { randomUUID } from 'node:crypto'
import { Router } from 'express'
import { Op } from 'sequelize'
import { number, object, string } from 'yup'
import { appraise } from '../../core/appraise/kind'
import { leadOf } from '../../core/appraise/leads'
import { yearOf } from '../../core/bib/dates'
import { ASK } from '../../core/match/compare'
import { flowsOf } from '../../core/sift/flow'
import type { Context } from '../context'
import type { RecordRow } from '../db/models'
import { inquiryOf, userOf } from '../accounts/accounts'
import { deskDay } from '../clock'
import { answerOnce } from '../once'
import { check, notFound, Problem } from '../problem'
import { historyOf } from './history'
import { lineOf, linesSince, sourceName, workLines } from './lines'
import { rebuild } from './pool'
import { rowId } from './row-id'
import type { PairSaid } from './undo'
import { uuid } from './uuid'

/** The pool: its works as record lines, one work in full, joining and taking apart. */
export function poolRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })

  router.get('/works', async (req, res) => {
    res.json(await workLines(c, inquiryOf(req)))
  })

  /**
   * The record lines that changed after a revision, for a browser that has the others; all of them without `since`. On
   * another day of the desk than `day` all are told, since what a line says of age moves with it.
   */
  router.get('/works/changes', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const asked = check(object({ since: number().integer().min(0), day: string() }), req.query)
    // read before the lines: what changes in between is told once more, never missed
    const inquiry = await c.db.inquiries.findByPk(inquiryId, { attributes: ['revision'], raw: true })
    const day = await deskDay(c.db)
    const since = asked.day === day ? asked.since : undefined
    const told = await linesSince(c, inquiryId, since === undefined ? {} : { since })
    res.json({ revision: inquiry!.revision, day, whole: since === undefined, ...told })
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
    const signs = copies.find(x => x.outcome === 'proved' && x.signs)?.signs ?? {}
    const judged = w.said?.kind ? appraise(w.item, w.facts, signs) : null
    const joined = await c.db.pairLinks.findAll({
      where: { inquiryId, verdict: 'linked', [Op.or]: [{ a: { [Op.in]: ids } }, { b: { [Op.in]: ids } }] },
      raw: true,
    })
    const ends = await c.db.records.findAll({
      where: { id: { [Op.in]: joined.map(l => (ids.includes(l.a) ? l.b : l.a)) }, workId: { [Op.ne]: null } },
      attributes: ['workId'],
      raw: true,
    })
    const linked = await c.db.works.findAll({
      where: { id: { [Op.in]: [...new Set(ends.map(e => e.workId!))].filter(id => id !== w.id) } },
      raw: true,
    })
    res.json({
      ...lineOf(c, w, routes ?? undefined, copies, await deskDay(c.db)),
      item: w.item,
      facts: w.facts,
      fieldFrom: w.fieldFrom,
      evidence: w.evidence,
      said: w.said ?? {},
      signs,
      // what the evidence says, where the student says otherwise
      judged: judged && { kind: judged.kind, confidence: judged.confidence },
      lead: leadOf(w.item, w.kind) ?? null,
      linked: linked.map(l => ({
        work: l.id,
        title: l.item.title ?? 'Untitled',
        kind: l.kind,
        year: yearOf(l.item) ?? null,
      })),
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
      history: await historyOf(c, inquiryId, { work: w.id, limit: 200 }),
    })
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
      flowsOf({
        records: records.map(r => ({
          source: r.source === 'trail' ? 'trail' : r.source.startsWith('file:') ? 'file' : 'catalogue',
          work: r.workId,
        })),
        works: works.map(w => ({ ...w, inHand: held.has(w.id) })),
      }),
    )
  })

  /** What a student says of a pair of records; "asked" takes an answer back. */
  router.post('/links', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(
      object({
        a: rowId.required(),
        b: rowId.required(),
        verdict: string()
          .oneOf(['same', 'never', 'asked', 'linked'] as const)
          .required(),
        /** By which it can be taken back later. */
        group: uuid,
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
    const group = given.group ?? randomUUID()
    const userId = userOf(req)
    await answerOnce(c, req, res, 201, async (t, revision) => {
      // an answer holds for the two works, not for one pair of their records
      const [one, two] = await Promise.all(
        records.map(r =>
          c.db.records.findAll({ where: { workId: r.workId }, attributes: ['id'], transaction: t, raw: true }),
        ),
      )
      const [left, right] = [one!.map(r => r.id), two!.map(r => r.id)]
      const between = {
        inquiryId,
        [Op.or]: [
          { a: { [Op.in]: left }, b: { [Op.in]: right } },
          { a: { [Op.in]: right }, b: { [Op.in]: left } },
        ],
      }
      const parted = given.verdict === 'never' || given.verdict === 'linked'
      const before = await c.db.pairLinks.findAll({ where: between, transaction: t, raw: true })
      if (records[0]!.workId !== records[1]!.workId)
        await c.db.pairLinks.update(
          parted ? { verdict: given.verdict, decidedBy: 'student' } : { verdict: 'asked', decidedBy: 'description' },
          {
            where: {
              ...between,
              // an answer taken back, or turned, frees the other pairs that it had closed
              ...(parted ? { verdict: 'asked' } : { verdict: { [Op.in]: ['never', 'linked'] }, decidedBy: 'student' }),
            },
            transaction: t,
          },
        )
      await c.db.pairLinks.upsert(
        given.verdict === 'asked'
          ? { inquiryId, a, b, verdict: 'asked', score: ASK, decidedBy: 'description' }
          : { inquiryId, a, b, verdict: given.verdict, score: 20, decidedBy: 'student' },
        { transaction: t },
      )
      await c.db.marks.create(
        {
          id: randomUUID(),
          groupId: group,
          inquiryId,
          workId: Math.min(...records.map(r => r.workId!)),
          about: `pair:${a}-${b}`,
          value: { verdict: given.verdict, before } satisfies PairSaid,
          userId,
          revision,
        },
        { transaction: t },
      )
      const works = await rebuild(c, inquiryId, [a, b], t, revision)
      return { works: [...new Set(works.values())], group }
    })
  })
  return router
}
