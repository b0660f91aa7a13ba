import { Router } from 'express'
import { Op, QueryTypes, type Transaction } from 'sequelize'
import { daysBetween } from '../../core/bib/dates'
import { STYLES } from '../../core/cite/styles'
import { checkBrief } from '../../core/write/rules'
import { briefShape } from '../../core/schema/brief'
import type { Context } from '../context'
import type { InquiryRow } from '../db/models'
import { inquiryOf, memberOf, userOf } from '../accounts/accounts'
import { deskDay } from '../desk-day'
import { check, notFound, Problem } from '../problem'
import { answerOnce } from '../once'
import type { Changes } from './changes'
import { deleteInquiries } from './delete'
import { change } from './revision'

export interface StationNumbers {
  rules: number
  /** Of the latest sweep, as its catalogues count: at least the largest, at most the sum. */
  found: [number, number]
  unread: number
  kept: number
  pool: number
  trails: number
  inHand: number
  read: number
  annotated: number
  entries: number
}

/** The inquiries one is a member of, their briefs, and the live numbers of the path bar. */
export function inquiryRoutes(c: Context): Router {
  const router = Router()

  router.get('/', async (req, res) => {
    const memberships = await c.db.memberships.findAll({ where: { userId: userOf(req) }, raw: true })
    const rows = await c.db.inquiries.findAll({
      where: { id: { [Op.in]: memberships.map(m => m.inquiryId) } },
      order: [['id', 'ASC']],
      raw: true,
    })
    const today = await deskDay(c.db)
    res.json(
      await Promise.all(
        rows.map(async r => ({
          ...(await face(c, r, today)),
          role: memberships.find(m => m.inquiryId === r.id)!.role,
        })),
      ),
    )
  })

  router.post('/', async (req, res) => {
    const userId = userOf(req)
    const given = check(briefShape, req.body)
    const { title, question, due, zone, style, ...rules } = given
    const make = async (t: Transaction) => {
      const row = await c.db.inquiries.create(
        { title, question, due, zone, style, rules, query: '' },
        { transaction: t },
      )
      await c.db.memberships.create({ inquiryId: row.id, userId, role: 'owner' }, { transaction: t })
      return { id: row.id }
    }
    await answerOnce(c, req, res, 201, make, async ({ id }) => {
      const row = await c.db.inquiries.findByPk(id, { raw: true })
      if (!row) throw notFound()
      return { ...(await face(c, row, await deskDay(c.db))), role: 'owner' }
    })
  })
  return router
}

export function oneInquiry(c: Context, changes: Changes): Router {
  const router = Router({ mergeParams: true })
  const load = async (id: number): Promise<InquiryRow> => {
    const row = await c.db.inquiries.findByPk(id, { raw: true })
    if (!row) throw notFound()
    return row
  }

  router.get('/', async (req, res) => {
    const { role, day } = memberOf(res)
    res.json({
      ...(await face(c, await load(inquiryOf(req)), day)),
      role,
      styles: STYLES,
      catalogues: c.settings.outside.catalogues.map(x => ({ id: x.id, name: x.name })),
      library: c.settings.outside.library.name,
    })
  })

  // the brief is a resource of its own: its version changes with it alone, and not with every decision
  router.get('/brief', async (req, res) => {
    const row = await load(inquiryOf(req))
    res.set('ETag', `"${row.version}"`).json(briefOf(row))
  })

  router.patch('/brief', async (req, res) => {
    const id = inquiryOf(req)
    const match = /^"(\d+)"$/.exec(req.get('If-Match') ?? '')
    if (!match) throw new Problem(428, 'if-match', 'Say by If-Match which version of the brief you changed.')
    const { title, question, due, zone, style, ...rules } = check(briefShape, req.body)
    await change(c, id, async t => {
      const now = await c.db.inquiries.findByPk(id, { transaction: t, raw: true })
      if (now!.version !== Number(match[1]))
        throw new Problem(
          412,
          'changed-elsewhere',
          'The brief was changed in another window since you opened it. Load it again to see the change.',
        )
      await c.db.inquiries.update(
        { title, question, due, zone, style, rules, version: now!.version + 1 },
        { where: { id }, transaction: t },
      )
    })
    const row = await load(id)
    res.set('ETag', `"${row.version}"`).json(briefOf(row))
  })

  router.delete('/', async (req, res) => {
    await deleteInquiries(c, [inquiryOf(req)])
    res.status(204).end()
  })

  // what changed, as server-sent events
  router.get('/events', (req, res) => {
    const { inquiryId, userId } = memberOf(res)
    res.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' })
    res.flushHeaders()
    res.write('retry: 1500\n\n')
    const stop = changes.listen({
      inquiryId,
      userId,
      sid: req.sessionID,
      write: text => void res.write(text),
      end: () => res.end(),
    })
    res.on('close', stop)
  })
  return router
}

const briefOf = (r: InquiryRow) => ({
  title: r.title,
  question: r.question,
  due: r.due,
  zone: r.zone,
  style: r.style,
  ...r.rules,
  version: r.version,
})

async function face(c: Context, r: InquiryRow, today: string) {
  const numbers = await stationNumbers(c, r, today)
  return {
    id: r.id,
    title: r.title,
    question: r.question,
    due: r.due,
    zone: r.zone,
    style: r.style,
    rules: r.rules,
    query: r.query,
    revision: r.revision,
    version: r.version,
    today,
    daysLeft: daysBetween(today, r.due),
    numbers,
  }
}

async function stationNumbers(c: Context, r: InquiryRow, today: string): Promise<StationNumbers> {
  // seven counts of as many tables, in one statement
  const [row] = await c.db.sequelize.query<Record<string, number | string | null>>(
    `SELECT w.*, s.*,
       (SELECT COUNT(DISTINCT work_id) FROM trails WHERE inquiry_id = :id) AS trails,
       (SELECT COUNT(DISTINCT c.work_id) FROM copies c JOIN works k ON k.id = c.work_id WHERE c.inquiry_id = :id AND c.outcome = 'proved' AND k.state = 'kept') AS inHand,
       (SELECT COUNT(DISTINCT work_id) FROM passages WHERE inquiry_id = :id) AS readWorks,
       e.*
     FROM (SELECT COUNT(*) AS pool, SUM(state = 'unread') AS unread, SUM(state = 'kept') AS kept FROM works WHERE inquiry_id = :id AND successor_id IS NULL) w,
       (SELECT MAX(count) AS least, SUM(count) AS most FROM sweep_catalogues WHERE sweep_id = (SELECT MAX(id) FROM sweeps WHERE inquiry_id = :id)) s,
       (SELECT COUNT(*) AS entries, SUM(annotation <> '') AS annotated FROM entries WHERE inquiry_id = :id) e`,
    { type: QueryTypes.SELECT, replacements: { id: r.id } },
  )
  const n = (name: string): number => Number(row?.[name] ?? 0)
  return {
    rules: checkBrief(r.rules, [], today).length,
    found: [n('least'), n('most')],
    unread: n('unread'),
    kept: n('kept'),
    pool: n('pool'),
    trails: n('trails'),
    inHand: n('inHand'),
    read: n('readWorks'),
    entries: n('entries'),
    annotated: n('annotated'),
  }
}
