import { randomUUID } from 'node:crypto'
import { Router } from 'express'
import { Op, QueryTypes, type Transaction } from 'sequelize'
import { boolean, number, object, string } from 'yup'
import { addDays, yearOf } from '../../core/bib/dates'
import type { Item } from '../../core/bib/item'
import { authorLine, familyName } from '../../core/bib/names'
import { writeAtom } from '../../core/formats/atom'
import { printCql } from '../../core/query/cql'
import { parseCql } from '../../core/query/parse-cql'
import type { Context } from '../context'
import type { StandingRow } from '../db/models'
import { inquiryOf, memberOf, userOf } from '../accounts/accounts'
import { deskDay } from '../desk-day'
import { sendMail } from '../connect/mail'
import { change } from '../inquiries/revision'
import { answerOnce } from '../once'
import { enqueue, type JobHandle } from '../jobs/queue'
import { rowId } from '../pool/row-id'
import { check, notFound, Problem } from '../problem'
import { runSweep } from './sweep-job'

/** Records of a catalogue that a run looks at; what counts more than this is too broad to be watched. */
export const MOST_WATCHED = 5000

const days = number().integer().min(1).max(366)
const made = object({ sweep: rowId.required(), name: string().trim().max(190).required('Give it a name.'), everyDays: days.required(), mails: boolean().required() }) // prettier-ignore
const changed = object({ name: string().trim().min(1).max(190), everyDays: days, mails: boolean(), paused: boolean() })

/** Standing sweeps: run again by schedule and on demand, only what is new since told, as a feed and by mail. */
export function standingRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })
  const face = async (s: StandingRow) => {
    const runs = await c.db.sweeps.findAll({
      where: { standingId: s.id },
      attributes: ['id', 'deskDay', 'foundNew', 'at', 'toldAt'],
      order: [['id', 'DESC']],
      raw: true,
    })
    const { token, userId: _, ...rest } = s
    return { ...rest, mails: Boolean(s.mails), paused: Boolean(s.paused), feed: `/api/feeds/${token}.atom`, runs }
  }
  const find = async (inquiryId: number, id: unknown): Promise<StandingRow> => {
    const row = await c.db.standingSweeps.findOne({ where: { id: Number(id), inquiryId }, raw: true })
    if (!row) throw notFound()
    return row
  }

  router.get('/standing', async (req, res) => {
    const rows = await c.db.standingSweeps.findAll({ where: { inquiryId: inquiryOf(req) }, order: ['id'], raw: true })
    res.json(await Promise.all(rows.map(face)))
  })
  router.post('/standing', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(made, req.body)
    const sweep = await c.db.sweeps.findOne({ where: { id: given.sweep, inquiryId }, raw: true })
    if (!sweep) throw notFound()
    const parts = await c.db.sweepCatalogues.findAll({ where: { sweepId: sweep.id }, raw: true })
    if (parts.some(p => (p.count ?? 0) > MOST_WATCHED))
      throw new Problem(422, 'too-broad', `This finds more than ${MOST_WATCHED.toLocaleString('en')} records in a catalogue, more than can be watched. Narrow it first.`) // prettier-ignore
    const { day } = memberOf(res)
    const make = async (t: Transaction) => {
      const row = (
        await c.db.standingSweeps.create(
          {
            inquiryId,
            userId: userOf(req),
            name: given.name,
            query: sweep.query,
            catalogues: parts.map(p => p.catalogue),
            everyDays: given.everyDays,
            nextDay: addDays(day, given.everyDays),
            mails: given.mails,
            token: randomUUID().replaceAll('-', ''),
          },
          { transaction: t },
        )
      ).get({ plain: true })
      return { id: row.id, ...(await begin(c, row, day, t)) }
    }
    await answerOnce(c, req, res, 201, make, async ({ id, job }) => ({
      ...(await face(await find(inquiryId, id))),
      job,
    }))
  })
  router.patch('/standing/:standing', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(changed, req.body)
    const before = await find(inquiryId, req.params.standing)
    const { day } = memberOf(res)
    await change(c, inquiryId, t =>
      c.db.standingSweeps.update(
        { ...given, ...(given.everyDays ? { nextDay: addDays(day, given.everyDays) } : {}) },
        { where: { id: before.id }, transaction: t },
      ),
    )
    res.json(await face(await find(inquiryId, before.id)))
  })
  router.post('/standing/:standing/runs', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const row = await find(inquiryId, req.params.standing)
    const { day } = memberOf(res)
    await answerOnce(c, req, res, 202, t => begin(c, row, day, t))
  })
  /** Its runs stay in the log. */
  router.delete('/standing/:standing', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const row = await find(inquiryId, req.params.standing)
    await change(c, inquiryId, t => c.db.standingSweeps.destroy({ where: { id: row.id }, transaction: t }))
    res.status(204).end()
  })
  return router
}

/** Writes a run down and queues it, in one transaction. */
async function begin(c: Context, s: StandingRow, day: string, t: Transaction): Promise<{ sweep: number; job: number }> {
  const parsed = parseCql(s.query)
  if (!parsed.ok) throw new Problem(422, 'query', parsed.error.message)
  const sweep = await c.db.sweeps.create(
    {
      inquiryId: s.inquiryId,
      query: s.query,
      cql: printCql(parsed.query),
      repairs: [],
      deskDay: day,
      name: s.name,
      standingId: s.id,
    },
    { transaction: t },
  )
  await c.db.sweepCatalogues.bulkCreate(
    s.catalogues.map(catalogue => ({ sweepId: sweep.id, catalogue, changes: [] })),
    { transaction: t },
  )
  const job = await enqueue(c, 'standing', s.inquiryId, s.userId, { standingId: s.id, sweepId: sweep.id }, t)
  return { sweep: sweep.id, job }
}

/** Queues every standing sweep whose day has come; several processes may do this at once. */
export async function beginDue(c: Context): Promise<number> {
  const day = await deskDay(c.db)
  const due = await c.db.standingSweeps.findAll({
    where: { paused: false, nextDay: { [Op.lte]: day } },
    attributes: ['id', 'inquiryId'],
    raw: true,
  })
  for (const { id, inquiryId } of due) {
    await change(c, inquiryId, async t => {
      const row = await c.db.standingSweeps.findByPk(id, { transaction: t, lock: t.LOCK.UPDATE, raw: true })
      // another process was faster
      if (!row || row.paused || row.nextDay > day) return
      await c.db.standingSweeps.update({ nextDay: addDays(day, row.everyDays) }, { where: { id }, transaction: t })
      await begin(c, row, day, t)
    })
  }
  return due.length
}

/** Looks for due standing sweeps again and again until stopped. */
export function watchDue(c: Context, everyMs = 2000): { stop(): void } {
  let going = false
  const timer = setInterval(() => {
    if (going) return
    going = true
    beginDue(c)
      .catch(() => undefined) // the database is away for a moment; the next look finds the same
      .finally(() => (going = false))
  }, everyMs)
  return { stop: () => clearInterval(timer) }
}

/**
 * One run: the sweep itself, then what no earlier run had. A catalogue whose first answer this is gives no news: all of
 * it is what later runs are held against.
 */
export async function runStanding(c: Context, handle: JobHandle): Promise<Record<string, unknown>> {
  const { standingId, sweepId } = handle.job.payload as { standingId: number; sweepId: number }
  const { db } = c
  await runSweep(c, { ...handle, job: { ...handle.job, payload: { sweepId, most: MOST_WATCHED } } })
  const foundNew = await change(c, handle.job.inquiryId!, async t => {
    await db.sequelize.query(
      `UPDATE sweep_hits h JOIN records r ON r.id = h.record_id SET h.is_new = 1 WHERE h.sweep_id = :sweep
       AND EXISTS (SELECT 1 FROM sweep_catalogues p JOIN sweeps w ON w.id = p.sweep_id WHERE w.standing_id = :standing AND w.id < :sweep AND p.catalogue = h.catalogue AND p.state = 'done')
       AND NOT EXISTS (SELECT 1 FROM records x JOIN sweep_hits o ON o.record_id = x.id JOIN sweeps w ON w.id = o.sweep_id WHERE x.inquiry_id = r.inquiry_id AND x.source = r.source AND x.source_key = r.source_key AND w.standing_id = :standing AND w.id < :sweep)`,
      { replacements: { sweep: sweepId, standing: standingId }, transaction: t },
    )
    const first = !(await db.sweeps.count({ where: { standingId, id: { [Op.lt]: sweepId } }, transaction: t }))
    const n = first ? null : await db.sweepHits.count({ where: { sweepId, isNew: true }, transaction: t })
    await db.sweeps.update({ foundNew: n }, { where: { id: sweepId }, transaction: t })
    return n
  })
  const standing = await db.standingSweeps.findByPk(standingId, { raw: true })
  const told = await db.sweeps.findByPk(sweepId, { attributes: ['toldAt'], raw: true })
  if (foundNew && standing?.mails && !told?.toldAt) {
    await tell(c, standing, sweepId, foundNew)
    await change(c, handle.job.inquiryId!, t =>
      db.sweeps.update({ toldAt: new Date() }, { where: { id: sweepId }, transaction: t }),
    )
  }
  return { sweepId, foundNew }
}

interface News {
  id: number
  sweepId: number
  at: Date
  catalogue: string
  item: Item
}

async function newsOf(c: Context, where: { standing: number; sweep?: number }, most: number): Promise<News[]> {
  const rows =
    await c.db.sequelize.query<{ id: number; sweep_id: number; at: Date; catalogue: string; item: Item | string }>( // prettier-ignore
      `SELECT r.id, w.id AS sweep_id, w.at, h.catalogue, r.item FROM sweeps w JOIN sweep_hits h ON h.sweep_id = w.id JOIN records r ON r.id = h.record_id
     WHERE w.standing_id = :standing AND h.is_new = 1 ${where.sweep ? 'AND w.id = :sweep' : ''} ORDER BY w.id DESC, h.position LIMIT ${most}`,
      { type: QueryTypes.SELECT, replacements: where },
    )
  return rows.map(r => ({
    id: r.id,
    sweepId: r.sweep_id,
    at: new Date(r.at),
    catalogue: c.settings.outside.catalogues.find(x => x.id === r.catalogue)?.name ?? r.catalogue,
    item: typeof r.item === 'string' ? (JSON.parse(r.item) as Item) : r.item,
  }))
}

const place = (c: Context, s: StandingRow, sweep: number): string =>
  `${c.settings.address}/inquiries/${s.inquiryId}/gather?sweep=${sweep}`
const sayRecord = ({ item, catalogue }: News): string =>
  [authorLine(item.author ?? item.editor), item['container-title'] ?? item.publisher, yearOf(item), catalogue]
    .filter(Boolean)
    .join(' · ')

async function tell(c: Context, s: StandingRow, sweep: number, n: number): Promise<void> {
  const user = await c.db.users.findByPk(s.userId ?? 0, { raw: true })
  if (!user) return
  const news = await newsOf(c, { standing: s.id, sweep }, 30)
  await sendMail(c, {
    to: user.email,
    id: `standing-${s.token}-${sweep}`,
    subject: `${n} new: ${s.name}`,
    text: [
      `${n} ${n === 1 ? 'record is' : 'records are'} new in your standing sweep “${s.name}”.`,
      '',
      ...news.flatMap(x => [x.item.title ?? 'Untitled', `  ${sayRecord(x)}`, '']),
      ...(n > news.length ? [`and ${n - news.length} more.`, ''] : []),
      `See them: ${place(c, s, sweep)}`,
      `It runs again on ${s.nextDay}. To end these letters, open the log of that inquiry.`,
    ].join('\n'),
  })
}

/** Feeds are read by programs that cannot sign in: the address itself is the key. */
export function feedRoutes(c: Context): Router {
  const router = Router()
  router.get('/:token.atom', async (req, res) => {
    const s = await c.db.standingSweeps.findOne({ where: { token: String(req.params.token) }, raw: true })
    if (!s) throw notFound()
    const self = `${c.settings.address}/api/feeds/${s.token}.atom`
    const news = await newsOf(c, { standing: s.id }, 200)
    res.type('application/atom+xml').send(
      writeAtom({
        id: self,
        self,
        title: s.name,
        at: (news[0]?.at ?? new Date(s.at)).toISOString(),
        entries: news.map(x => ({
          id: `${self}#${x.id}`,
          title: x.item.title ?? 'Untitled',
          at: x.at.toISOString(),
          authors: (x.item.author ?? []).map(n => [n.given, familyName(n)].filter(Boolean).join(' ')),
          link: x.item.DOI ? `https://doi.org/${encodeURI(x.item.DOI)}` : place(c, s, x.sweepId),
          summary: sayRecord(x),
        })),
      }),
    )
  })
  return router
}
