import { Router } from 'express'
import { QueryTypes } from 'sequelize'
import { date, number, object } from 'yup'
import type { Deed } from '../../core/sift/line'
import { inquiryOf } from '../accounts/accounts'
import type { Context } from '../context'
import { check } from '../problem'

interface Grouped {
  groupId: string
  at: Date
  works: number
  first: number
  userId: number | null
  undoes: string | null
  detail: string
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
  const log = (table: string, detail: string) =>
    ask<Grouped>(
      `SELECT group_id AS groupId, MAX(at) AS at, COUNT(DISTINCT work_id) AS works, MIN(work_id) AS first, MIN(user_id) AS userId, MIN(undoes) AS undoes, ${detail} AS detail
       FROM ${table} WHERE inquiry_id = :inquiryId ${of} GROUP BY group_id HAVING MAX(at) < :before ORDER BY MAX(n) DESC LIMIT :limit`,
    )
  const adds = work === undefined
  const [decisions, marks, arrivals, sweeps, checks] = await Promise.all([
    log('decisions', `JSON_OBJECT('pass', MIN(pass), 'choice', MIN(choice), 'reason', MIN(reason))`),
    log('marks', `JSON_OBJECT('about', MIN(about), 'value', JSON_COMPACT(MIN(value)), 'all', COUNT(DISTINCT about))`),
    adds ? c.db.arrivals.findAll({ where: { inquiryId }, order: [['id', 'DESC']], limit, raw: true }) : [],
    adds ? c.db.sweeps.findAll({ where: { inquiryId }, order: [['id', 'DESC']], limit, raw: true }) : [],
    adds ? c.db.checks.findAll({ where: { inquiryId }, order: [['id', 'DESC']], limit, raw: true }) : [],
  ])
  const groups = [...decisions, ...marks]
  const undone = new Set(
    groups.length
      ? (
          await c.db.sequelize.query<{ undoes: string }>(
            'SELECT undoes FROM decisions WHERE undoes IN (:groups) UNION SELECT undoes FROM marks WHERE undoes IN (:groups)',
            { type: QueryTypes.SELECT, replacements: { groups: groups.map(g => g.groupId) } },
          )
        ).map(u => u.undoes)
      : [],
  )
  const told = (what: Deed['what']) => (g: Grouped) => ({
    at: g.at,
    userId: g.userId,
    what: g.undoes ? ('undo' as const) : what,
    group: g.undoes ? null : g.groupId,
    undone: undone.has(g.groupId),
    works: g.works,
    first: g.first,
    detail: detailOf(g.detail),
  })
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
    ...decisions.map(told('decision')),
    ...marks.map(told('mark')),
    ...arrivals.map(a => plain('arrival', a, a.newWorks + a.known, { id: a.id, how: a.how, records: a.records, newWorks: a.newWorks, known: a.known })), // prettier-ignore
    ...sweeps.map(s => plain('sweep', { at: s.at, userId: null }, 0, { id: s.id, query: s.query, name: s.name })),
    ...checks.map(k => plain('check', k, k.drawn.length, { n: k.n, size: k.size })),
  ]
    .filter(d => d.at < before)
    .sort((a, b) => b.at.getTime() - a.at.getTime())
    .slice(0, limit)
  const ids = [...new Set(all.flatMap(d => d.first ?? []))]
  const [works, users] = await Promise.all([
    c.db.works.findAll({ where: { id: ids }, attributes: ['id', 'item'], raw: true }),
    c.db.users.findAll({ where: { id: [...new Set(all.flatMap(d => d.userId ?? []))] }, attributes: ['id', 'name'], raw: true }), // prettier-ignore
  ])
  const titles = new Map(works.map(w => [w.id, w.item.title ?? 'Untitled']))
  const names = new Map(users.map(u => [u.id, u.name]))
  return all.map(({ userId, first, at, ...d }) => ({
    ...d,
    at: at.toISOString(),
    who: userId === null ? null : (names.get(userId) ?? null),
    first: first === null ? null : { id: first, title: titles.get(first) ?? 'Untitled' },
  }))
}

/** MariaDB gives JSON that it made itself as text, and JSON within it as text once more. */
function detailOf(text: string | object): Record<string, unknown> {
  const d = (typeof text === 'string' ? JSON.parse(text) : text) as Record<string, unknown>
  if (typeof d.value === 'string') {
    try {
      const value = JSON.parse(d.value) as unknown
      // how links stood before is for undoing, not for reading
      d.value =
        typeof value === 'object' && value && 'before' in value ? (value as { verdict?: unknown }).verdict : value
    } catch {
      // a text of its own
    }
  }
  return d
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
