import { Router } from 'express'
import { QueryTypes } from 'sequelize'
import { array, boolean, number, object, string } from 'yup'
import { printCql } from '../../core/query/cql'
import { parseCql } from '../../core/query/parse-cql'
import { appraise, itemRefereed } from '../../core/appraise/kind'
import { citationsPerYear } from '../../core/trails/rate'
import { reach } from '../../core/access/reach'
import { yearOf } from '../../core/bib/dates'
import type { Facts, Item } from '../../core/bib/item'
import type { Context } from '../context'
import { inquiryOf, memberOf, userOf } from '../accounts/accounts'
import { answerOnce } from '../once'
import { enqueue } from '../jobs/queue'
import { profilesAtHand } from '../obtain/holdings'
import { AT_ONCE, bring, type Brought } from './bring'
import { rowId } from '../pool/row-id'
import { uuid } from '../pool/uuid'
import { check, notFound, Problem } from '../problem'

const newSweep = object({
  query: string().max(5000, 'A query may have 5,000 letters.').required('Type at least one word.'),
  catalogues: array(string().required()).min(1, 'Choose at least one catalogue.').required(),
})
const toBring = object({
  sweep: rowId.required(),
  records: array(rowId.required()),
  all: boolean(),
  /** A decision made while bringing in, with an id of the client's for the group. */
  decide: object({
    group: uuid.required(),
    choice: string()
      .oneOf(['keep', 'set aside'] as const)
      .required(),
    reason: string().trim().max(500).nullable(),
  }).default(undefined),
})

/** Gather: sweeps over the catalogues, their records, and bringing them into the pool. */
export function gatherRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })
  const names = new Map(c.settings.outside.catalogues.map(x => [x.id, x.name]))

  router.get('/sweeps', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const sweeps = await c.db.sweeps.findAll({ where: { inquiryId }, order: [['id', 'DESC']], raw: true })
    const parts = await c.db.sweepCatalogues.findAll({ where: { sweepId: sweeps.map(s => s.id) }, raw: true })
    res.json(
      sweeps.map(s => ({
        ...s,
        catalogues: parts
          .filter(p => p.sweepId === s.id)
          .map(p => ({ ...p, name: names.get(p.catalogue) ?? p.catalogue })),
      })),
    )
  })

  router.post('/sweeps', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(newSweep, req.body)
    const parsed = parseCql(given.query)
    if (!parsed.ok)
      throw new Problem(422, 'query', parsed.error.message, {
        fields: [{ field: 'query', said: parsed.error.message }],
        ...parsed.error,
      })
    const unknown = given.catalogues.find(x => !names.has(x))
    if (unknown)
      throw new Problem(422, 'invalid', `There is no catalogue "${unknown}".`, {
        fields: [{ field: 'catalogues', said: 'unknown' }],
      })
    const { day } = memberOf(res)
    await answerOnce(c, req, res, 202, async t => {
      const sweep = await c.db.sweeps.create(
        {
          inquiryId,
          query: given.query,
          cql: printCql(parsed.query),
          repairs: parsed.repairs.map(r => r.said),
          deskDay: day,
        },
        { transaction: t },
      )
      await c.db.sweepCatalogues.bulkCreate(
        [...new Set(given.catalogues)].map(catalogue => ({ sweepId: sweep.id, catalogue, changes: [] })),
        { transaction: t },
      )
      await c.db.inquiries.update({ query: given.query }, { where: { id: inquiryId }, transaction: t })
      const job = await enqueue(c, 'sweep', inquiryId, userOf(req), { sweepId: sweep.id }, t)
      return { id: sweep.id, job, repairs: parsed.repairs }
    })
  })

  router.post('/sweeps/:sweep/fetch', async (req, res) => {
    const given = check(object({ catalogue: string().required(), most: number().integer().min(1).max(5000) }), req.body)
    const sweep = await c.db.sweeps.findOne({
      where: { id: Number(req.params.sweep), inquiryId: inquiryOf(req) },
      raw: true,
    })
    if (!sweep || !names.has(given.catalogue)) throw notFound()
    const payload = { sweepId: sweep.id, only: given.catalogue, ...(given.most ? { most: given.most } : {}) }
    await answerOnce(c, req, res, 202, async t => ({
      job: await enqueue(c, 'sweep', inquiryOf(req), userOf(req), payload, t),
    }))
  })

  router.get('/sweeps/:sweep/records', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const sweep = await c.db.sweeps.findOne({ where: { id: Number(req.params.sweep), inquiryId }, raw: true })
    if (!sweep) throw notFound()
    const { day: today } = memberOf(res)
    const { profiles } = await profilesAtHand(c)
    // one line a record, the catalogues taking turns, each in its own order
    const rows = await c.db.sequelize.query<{
      id: number
      source: string
      item: Item | string
      facts: Facts | string
      work_id: number | null
      state: string | null
      position: number
      is_new: number
    }>(
      `SELECT r.id, r.source, r.item, r.facts, r.work_id, w.state, h.position, h.is_new FROM sweep_hits h JOIN records r ON r.id = h.record_id LEFT JOIN works w ON w.id = r.work_id
       WHERE h.sweep_id = :sweep ORDER BY h.position, h.catalogue LIMIT 2000`,
      { type: QueryTypes.SELECT, replacements: { sweep: sweep.id } },
    )
    res.json(
      rows.map(r => {
        const item = json<Item>(r.item)
        const facts = json<Facts>(r.facts)
        const a = appraise(item, facts)
        return {
          id: r.id,
          catalogue: r.source,
          item,
          kind: a.kind,
          confidence: a.confidence,
          work: r.work_id,
          state: r.state,
          isNew: Boolean(r.is_new),
          within: reach(item, { profiles, day: today, facts }).reach === 'within reach',
          pages: facts.pageCount ?? null,
          refereed: itemRefereed(a.kind, facts) ?? null,
          perYear: citationsPerYear(facts.citedByCount, yearOf(item), today) ?? null,
        }
      }),
    )
  })

  router.post('/pool', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(toBring, req.body)
    const sweep = await c.db.sweeps.findOne({ where: { id: given.sweep, inquiryId }, raw: true })
    if (!sweep) throw notFound()
    const hits = await c.db.sweepHits.findAll({ where: { sweepId: sweep.id }, attributes: ['recordId'], raw: true })
    const chosen = given.all
      ? hits.map(h => h.recordId)
      : hits.map(h => h.recordId).filter(id => given.records?.includes(id))
    if (!chosen.length) throw new Problem(422, 'nothing-chosen', 'Choose at least one record of this sweep.')
    const wanted: Brought = {
      records: [...new Set(chosen)],
      ...(given.decide ? { decide: { ...given.decide, reason: given.decide.reason || null } } : {}),
    }
    const userId = userOf(req)
    if (wanted.records.length <= AT_ONCE)
      return answerOnce(c, req, res, 201, (t, revision) => bring(c, inquiryId, userId, wanted, t, revision))
    await answerOnce(c, req, res, 202, async t => ({
      job: await enqueue(c, 'pool', inquiryId, userId, { sweepId: sweep.id, ...wanted }, t),
    }))
  })
  return router
}

const json = <T>(v: T | string): T => (typeof v === 'string' ? (JSON.parse(v) as T) : v)
