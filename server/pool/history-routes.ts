import { Router } from 'express'
import { QueryTypes } from 'sequelize'
import { date, number, object } from 'yup'
import type { Deed } from '../../core/sift/line'
import { inquiryOf } from '../accounts/accounts'
import type { Context } from '../context'
import type { DeedRow } from '../deeds/deeds-model'
import { check } from '../problem'
import type { Decided } from './decisions'

interface Grouped {
  at: Date
  works: number
  /** The first of its lines. */
  n: number
  /** How many matters it speaks of. */
  matters: number
  undone: number
}

/**
 * What was done in an inquiry, or with one work, the latest first: decisions and words by the groups they were made in,
 * arrivals, sweeps and checks.
 * @param which `before`: only what is older, for reading on
 */
export async function historyOf(
  c: Context,
  inquiryId: number,
  which: { work?: number; before?: Date | undefined; limit: number },
): Promise<Deed[]> {
  const { work, limit } = which
  const before = which.before ?? new Date('9999-01-01')
  const ask = <T extends object>(sql: string) =>
    c.db.sequelize.query<T>(sql, { type: QueryTypes.SELECT, replacements: { inquiryId, work, before, limit } })
  // a work has the id of its first record, and so had those that were joined to it
  const of = work === undefined ? '' : 'AND work_id IN (SELECT id FROM records WHERE work_id = :work)'
  const adds = work === undefined
  const [groups, arrivals, sweeps, checks] = await Promise.all([
    // groups with their numbers are no matter of a model
    ask<Grouped>(
      `SELECT MAX(at) AS at, COUNT(DISTINCT work_id) AS works, MIN(n) AS n, COUNT(DISTINCT about) AS matters,
         EXISTS (SELECT 1 FROM deeds u WHERE u.undoes = d.group_id) AS undone
       FROM deeds d WHERE inquiry_id = :inquiryId ${of} GROUP BY group_id HAVING MAX(at) < :before ORDER BY MAX(n) DESC LIMIT :limit`,
    ),
    adds ? c.db.arrivals.findAll({ where: { inquiryId }, order: [['id', 'DESC']], limit, raw: true }) : [],
    adds ? c.db.sweeps.findAll({ where: { inquiryId }, order: [['id', 'DESC']], limit, raw: true }) : [],
    adds ? c.db.checks.findAll({ where: { inquiryId }, order: [['id', 'DESC']], limit, raw: true }) : [],
  ])
  const lines = groups.length ? await c.db.deeds.findAll({ where: { n: groups.map(g => g.n) }, raw: true }) : []
  const firstLine = new Map(lines.map(l => [l.n, l]))
  const told = (g: Grouped) => {
    const line = firstLine.get(g.n)!
    return {
      at: g.at,
      userId: line.userId,
      what: line.kind === 'pair' ? ('mark' as const) : line.kind,
      group: line.undoes ? null : line.groupId,
      undone: Boolean(g.undone),
      works: g.works,
      first: line.workId,
      detail: detailOf(line, g.matters),
    }
  }
  const plain = (what: Deed['what'], row: { at: Date; userId: number | null }, works: number, detail: object) => ({
    at: row.at,
    userId: row.userId,
    what,
    group: null,
    undone: false,
    works,
    first: null,
    detail: detail as Record<string, unknown>,
  })
  const all = [
    ...groups.map(told),
    ...arrivals.map(a => plain('arrival', a, a.newWorks + a.known, { id: a.id, how: a.how, records: a.records, newWorks: a.newWorks, known: a.known })), // prettier-ignore
    ...sweeps.map(s => plain('sweep', { at: s.at, userId: null }, 0, { id: s.id, query: s.query, name: s.name })),
    ...checks.map(k => plain('check', k, k.drawn.length, { n: k.n, size: k.size })),
  ]
    .filter(d => d.at < before)
    .sort((a, b) => b.at.getTime() - a.at.getTime())
    .slice(0, limit)
  if (!all.length) return []
  const ids = [...new Set(all.flatMap(d => d.first ?? []))]
  const [works, users] = await Promise.all([
    c.db.works.findAll({ where: { id: ids }, attributes: ['id', 'line'], raw: true }),
    c.db.users.findAll({ where: { id: [...new Set(all.flatMap(d => d.userId ?? []))] }, attributes: ['id', 'name'], raw: true }), // prettier-ignore
  ])
  const titles = new Map(works.map(w => [w.id, w.line.title]))
  const names = new Map(users.map(u => [u.id, u.name]))
  return all.map(({ userId, first, at, ...d }) => ({
    ...d,
    at: at.toISOString(),
    who: userId === null ? null : (names.get(userId) ?? null),
    first: first === null ? null : { id: first, title: titles.get(first) ?? 'Untitled' },
  }))
}

/** What a line says, by its kind. */
function detailOf({ kind, about, value }: DeedRow, all: number): Record<string, unknown> {
  if (kind === 'undo') return {}
  if (kind === 'decision') return { pass: about, ...(value as Decided) }
  // how links stood before is for undoing, not for reading
  if (kind === 'pair') return { about: `pair:${about}`, value: (value as { verdict: string }).verdict, all }
  return { about, value, all }
}

/** The history of an inquiry, and how its works arrived. */
export function historyRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })
  router.get('/arrivals', async (req, res) => {
    const rows = await c.db.arrivals.findAll({
      where: { inquiryId: inquiryOf(req) },
      attributes: ['id', 'how', 'records', 'newWorks', 'known', 'at'],
      order: [['id', 'DESC']],
      raw: true,
    })
    res.json(rows)
  })
  router.get('/history', async (req, res) => {
    const asked = check(object({ before: date(), limit: number().integer().min(1).max(500).default(100) }), req.query)
    res.json(await historyOf(c, inquiryOf(req), { before: asked.before, limit: asked.limit }))
  })
  return router
}
