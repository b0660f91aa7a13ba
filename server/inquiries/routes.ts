import { Router } from 'express'
import { Op, QueryTypes, type Transaction } from 'sequelize'
import { daysBetween } from '../../core/bib/dates'
import { STYLES } from '../../core/cite/styles'
import { checkBrief } from '../../core/write/brief'
import { briefShape } from '../../core/schema/brief'
import type { Context } from '../context'
import type { InquiryRow } from '../db/models'
import { inquiryOf, userOf } from '../accounts/accounts'
import { deskDay } from '../clock'
import { jobFace } from '../jobs/routes'
import { check, notFound, Problem } from '../problem'
import { answerOnce } from '../once'
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

export function oneInquiry(c: Context): Router {
  const router = Router({ mergeParams: true })
  const load = async (id: number): Promise<InquiryRow> => {
    const row = await c.db.inquiries.findByPk(id, { raw: true })
    if (!row) throw notFound()
    return row
  }

  router.get('/', async (req, res) => {
    const row = await load(inquiryOf(req))
    const role = (await c.db.memberships.findOne({ where: { inquiryId: row.id, userId: userOf(req) }, raw: true }))!
      .role
    res.json({
      ...(await face(c, row, await deskDay(c.db))),
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

  // What changed, as server-sent events. Read from the database, so that it does not matter which process made it.
  router.get('/events', async (req, res) => {
    const id = inquiryOf(req)
    const userId = userOf(req)
    res.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' })
    res.flushHeaders()
    let revision = -1
    const jobs = new Map<number, string>()
    let open = true
    req.on('close', () => (open = false))
    res.write('retry: 1500\n\n')
    for (let beat = 0; open; beat++) {
      try {
        const row = await seenBy(c, id, userId, req.sessionID)
        if (!row) break // deleted, signed out, or not a member any more
        if (row.revision !== revision) res.write(`event: revision\ndata: ${row.revision}\n\n`)
        revision = row.revision
        const live = await c.db.jobs.findAll({
          where: { inquiryId: id, [Op.or]: [{ state: ['queued', 'running'] }, { id: { [Op.in]: [...jobs.keys()] } }] },
          raw: true,
        })
        for (const j of live) {
          const face = JSON.stringify(jobFace(j))
          if (jobs.get(j.id) !== face) res.write(`event: job\ndata: ${face}\n\n`)
          if (j.state === 'queued' || j.state === 'running') jobs.set(j.id, face)
          else jobs.delete(j.id)
        }
        if (beat % 25 === 24) res.write(': still here\n\n')
      } catch {
        break // the database is away: the browser comes back by itself
      }
      await new Promise(r => setTimeout(r, 400))
    }
    res.end()
  })
  return router
}

/** The revision of an inquiry, for as long as a signed-in member asks. */
async function seenBy(c: Context, id: number, userId: number, sid: string): Promise<{ revision: number } | undefined> {
  const [row] = await c.db.sequelize.query<{ revision: number }>(
    'SELECT i.revision FROM inquiries i JOIN memberships m ON m.inquiry_id = i.id JOIN sessions s ON s.user_id = m.user_id WHERE i.id = :id AND m.user_id = :userId AND s.sid = :sid AND s.expires > NOW(3)',
    { type: QueryTypes.SELECT, replacements: { id, userId, sid } },
  )
  return row
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
  const one = async (sql: string): Promise<Record<string, number>> => {
    const [row] = await c.db.sequelize.query<Record<string, unknown>>(sql, {
      type: QueryTypes.SELECT,
      replacements: { id: r.id },
    })
    return Object.fromEntries(Object.entries(row ?? {}).map(([k, v]) => [k, Number(v ?? 0)]))
  }
  const works = await one(
    `SELECT COUNT(*) AS pool, SUM(state = 'unread') AS unread, SUM(state = 'kept') AS kept FROM works WHERE inquiry_id = :id AND successor_id IS NULL`,
  )
  const sweep = await one(
    'SELECT MAX(count) AS least, SUM(count) AS most FROM sweep_catalogues WHERE sweep_id = (SELECT MAX(id) FROM sweeps WHERE inquiry_id = :id)',
  )
  const trails = await one('SELECT COUNT(DISTINCT work_id) AS n FROM trails WHERE inquiry_id = :id')
  const hand = await one(
    `SELECT COUNT(DISTINCT c.work_id) AS n FROM copies c JOIN works w ON w.id = c.work_id WHERE c.inquiry_id = :id AND c.outcome = 'proved' AND w.state = 'kept'`,
  )
  const read = await one('SELECT COUNT(DISTINCT work_id) AS n FROM passages WHERE inquiry_id = :id')
  const entries = await one(
    `SELECT COUNT(*) AS n, SUM(annotation <> '') AS annotated FROM entries WHERE inquiry_id = :id`,
  )
  return {
    rules: checkBrief(r.rules, [], today).length,
    found: [sweep.least ?? 0, sweep.most ?? 0],
    unread: works.unread ?? 0,
    kept: works.kept ?? 0,
    pool: works.pool ?? 0,
    trails: trails.n ?? 0,
    inHand: hand.n ?? 0,
    read: read.n ?? 0,
    entries: entries.n ?? 0,
    annotated: entries.annotated ?? 0,
  }
}
