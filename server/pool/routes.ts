import { Router } from 'express'
import { Op } from 'sequelize'
import { number, object, string } from 'yup'
import { appraise } from '../../core/appraise/kind'
import { leadOf } from '../../core/appraise/leads'
import { yearOf } from '../../core/bib/dates'
import { flowsOf } from '../../core/sift/flow'
import type { Changes } from '../../core/sift/line'
import type { Context } from '../context'
import type { RecordRow, WorkRow } from '../db/models'
import { inquiryOf, memberOf } from '../accounts/accounts'
import { check, notFound } from '../problem'
import { profilesAtHand } from '../obtain/holdings'
import { historyOf } from './history-routes'
import { lineOf, linesPage, sourceName, workLines } from './lines'

/** The pool: its works as record lines, one work in full, joining and taking apart. */
export function poolRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })

  router.get('/works', async (_req, res) => {
    res.json(await workLines(c, memberOf(res)))
  })

  /**
   * The record lines that changed after a revision, for a browser that has the others; all of them without `since`. On
   * another `day` (of the desk, with the library's holdings) all are told, since what a line says of age and reach moves with it. In pages: where `next`
   * is a number, the rest is asked for with it as `after`.
   */
  router.get('/works/changes', async (req, res) => {
    const asked = check(
      object({ since: number().integer().min(0), day: string(), after: number().integer().min(0).default(0) }),
      req.query,
    )
    // the revision is older than the lines: what changes in between is told once more, never missed
    const member = memberOf(res)
    const { profiles, stamp } = await profilesAtHand(c)
    const day = `${member.day} ${stamp}`.trim()
    const since = asked.day === day ? asked.since : undefined
    const page = await linesPage(
      c,
      { ...member, profiles },
      { ...(since === undefined ? {} : { since }), after: asked.after },
    )
    res.json({ revision: member.revision, day, whole: since === undefined, ...page } satisfies Changes)
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
    const { inquiryId, day } = memberOf(res)
    const found = await c.db.works.findOne({ where: { id: Number(req.params.work), inquiryId }, raw: true })
    const w = found?.successorId
      ? await c.db.works.findOne({ where: { id: found.successorId, inquiryId }, raw: true })
      : found
    if (!w) throw notFound()
    const where = { workId: w.id }
    const records = await c.db.records.findAll({ where, order: ['id'], raw: true })
    const { asked, linked } = await beyond(c, inquiryId, w.id, records.map(r => r.id)) // prettier-ignore
    const [routes, copies, attempts, passages, entry, trail, history] = await Promise.all([
      c.db.routes.findOne({ where, raw: true }),
      c.db.copies.findAll({ where, order: ['id'], raw: true }),
      c.db.attempts.findAll({ where, order: [['id', 'DESC']], limit: 10, raw: true }),
      c.db.passages.findAll({ where, order: ['page'], raw: true }),
      c.db.entries.findOne({ where, raw: true }),
      c.db.trails.findAll({ where, attributes: ['direction', 'total'], raw: true }),
      historyOf(c, inquiryId, { work: w.id, limit: 200 }),
    ])
    const signs = copies.find(x => x.outcome === 'proved' && x.signs)?.signs ?? {}
    const judged = w.said?.kind ? appraise(w.item, w.facts, signs) : null
    res.json({
      ...lineOf(c, w, { routes: routes?.routes, proved: copies.some(x => x.outcome === 'proved'), sources: [], sweeps: [], arrivals: [] }, { day, profiles: (await profilesAtHand(c)).profiles }), // prettier-ignore
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
      asked: asked.map(o => ({ record: o.id, work: o.workId, source: sourceName(c, o.source), item: o.item })),
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
      history,
    })
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

  return router
}

/** What lies beyond a work: records of others that may describe it too, and works that belong with it. */
async function beyond(
  c: Context,
  inquiryId: number,
  work: number,
  records: readonly number[],
): Promise<{ asked: RecordRow[]; linked: WorkRow[] }> {
  const links = await c.db.pairLinks.findAll({
    where: { inquiryId, verdict: ['asked', 'linked'], [Op.or]: [{ a: { [Op.in]: [...records] } }, { b: { [Op.in]: [...records] } }] }, // prettier-ignore
    raw: true,
  })
  if (!links.length) return { asked: [], linked: [] }
  const ends = new Map(links.map(l => [records.includes(l.a) ? l.b : l.a, l.verdict]))
  const others = await c.db.records.findAll({ where: { id: [...ends.keys()], workId: { [Op.ne]: null } }, raw: true })
  const away = others.filter(o => o.workId !== work)
  const together = [...new Set(away.filter(o => ends.get(o.id) === 'linked').map(o => o.workId!))]
  return {
    asked: away.filter(o => ends.get(o.id) === 'asked'),
    linked: together.length ? await c.db.works.findAll({ where: { id: together }, raw: true }) : [],
  }
}
