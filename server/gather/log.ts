import { Router } from 'express'
import Papa from 'papaparse'
import { Op, QueryTypes } from 'sequelize'
import { object, string } from 'yup'
import { methodsText } from '../../core/query/methods'
import type { Context } from '../context'
import { inquiryOf } from '../accounts/accounts'
import { change } from '../inquiries/revision'
import { check, notFound } from '../problem'

/** The search log: names and notes, two sweeps side by side, the log as CSV and as a methods paragraph; what each catalogue adds. */
export function logRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })
  const names = new Map(c.settings.outside.catalogues.map(x => [x.id, x.name]))

  router.patch('/sweeps/:sweep', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(object({ name: string().trim().max(190).nullable(), note: string().trim().max(4000).nullable() }), req.body) // prettier-ignore
    const id = Number(req.params.sweep)
    await change(c, inquiryId, async t => {
      const found = await c.db.sweeps.findOne({ where: { id, inquiryId }, transaction: t, raw: true })
      if (!found) throw notFound()
      await c.db.sweeps.update(
        {
          ...(given.name !== undefined ? { name: given.name || null } : {}),
          ...(given.note !== undefined ? { note: given.note || null } : {}),
        },
        { where: { id }, transaction: t },
      )
    })
    res.json(await c.db.sweeps.findByPk(id, { raw: true }))
  })

  /** What of a sweep an other one did not find, by the catalogue's own identifier, and the other way round. */
  router.get('/sweeps/:sweep/against/:other', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const ids = [Number(req.params.sweep), Number(req.params.other)]
    if ((await c.db.sweeps.count({ where: { inquiryId, id: ids } })) < new Set(ids).size) throw notFound()
    const rows = (a: number, b: number) =>
      c.db.sequelize.query<{ id: number; title: string | null; catalogue: string }>(
        `SELECT r.id, JSON_VALUE(r.item, '$.title') AS title, h.catalogue FROM sweep_hits h JOIN records r ON r.id = h.record_id
         WHERE h.sweep_id = :a AND NOT EXISTS (SELECT 1 FROM sweep_hits o JOIN records s ON s.id = o.record_id WHERE o.sweep_id = :b AND s.source = r.source AND s.source_key = r.source_key)
         ORDER BY h.position LIMIT 500`,
        { type: QueryTypes.SELECT, replacements: { a, b } },
      )
    const [came, went] = await Promise.all([rows(ids[0]!, ids[1]!), rows(ids[1]!, ids[0]!)])
    res.json({ came, went })
  })

  const logged = async (inquiryId: number) => {
    const sweeps = await c.db.sweeps.findAll({ where: { inquiryId }, order: ['id'], raw: true })
    const parts = await c.db.sweepCatalogues.findAll({ where: { sweepId: sweeps.map(s => s.id) }, raw: true })
    return sweeps.map(s => ({
      ...s,
      catalogues: parts
        .filter(p => p.sweepId === s.id)
        .map(p => ({ ...p, name: names.get(p.catalogue) ?? p.catalogue })),
    }))
  }
  router.get('/log.csv', async (req, res) => {
    const rows = (await logged(inquiryOf(req))).flatMap((s, i) =>
      s.catalogues.map(p => ({
        search: i + 1,
        name: s.name ?? '',
        'desk day': s.deskDay,
        'run at': new Date(s.at).toISOString(),
        catalogue: p.name,
        query: s.cql,
        'asked as': p.asked ?? '',
        found: p.count ?? '',
        examined: p.fetched,
        state: p.state,
        said: p.error ?? p.changes.join(' '),
        note: s.note ?? '',
      })),
    )
    // a cell that begins like a formula is made plain text
    res
      .type('text/csv')
      .attachment('search-log.csv')
      .send(Papa.unparse(rows, { escapeFormulae: true }))
  })
  router.get('/methods', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const records = await c.db.records.count({ where: { inquiryId, workId: { [Op.ne]: null } } })
    const works = await c.db.works.count({ where: { inquiryId, successorId: null } })
    res.json({ text: methodsText(await logged(inquiryId), c.settings.outside.library.name, { records, works }) })
  })

  /** Of the pool and of the kept works: what only one catalogue has, and with which it shares the rest. */
  router.get('/catalogue-shares', async (req, res) => {
    const rows = await c.db.sequelize.query<{ work: number; title: string; state: string; source: string }>(
      `SELECT DISTINCT w.id AS work, JSON_VALUE(w.item, '$.title') AS title, w.state, r.source FROM works w JOIN records r ON r.work_id = w.id WHERE w.inquiry_id = :id AND w.successor_id IS NULL`,
      { type: QueryTypes.SELECT, replacements: { id: inquiryOf(req) } },
    )
    const sources = new Map<number, Set<string>>()
    const of = (source: string) => (source.startsWith('file:') ? 'your files' : source)
    for (const r of rows) sources.set(r.work, (sources.get(r.work) ?? new Set()).add(of(r.source)))
    const works = new Map(rows.map(r => [r.work, r]))
    const all = [...new Set([...names.keys(), ...[...sources.values()].flatMap(s => [...s])])]
    res.json(
      all.map(id => {
        const mine = [...sources].filter(([, s]) => s.has(id))
        const alone = mine.filter(([, s]) => s.size === 1).map(([w]) => works.get(w)!)
        return {
          catalogue: id,
          name: names.get(id) ?? (id === 'trail' ? c.settings.outside.citations.name : id),
          works: mine.length,
          onlyHere: alone.length,
          kept: mine.filter(([w]) => works.get(w)!.state === 'kept').length,
          keptOnlyHere: alone.filter(w => w.state === 'kept').map(w => ({ id: w.work, title: w.title })),
          shared: all
            .filter(o => o !== id)
            .map(o => ({ catalogue: o, works: mine.filter(([, s]) => s.has(o)).length }))
            .filter(x => x.works > 0)
            .sort((a, b) => b.works - a.works),
        }
      }),
    )
  })
  return router
}
