import { plainTitle } from '../../core/bib/clean'
import { randomUUID } from 'node:crypto'
import { Op, type Transaction } from 'sequelize'
import { addDays, yearOf } from '../../core/bib/dates'
import { doiAddress } from '../../core/bib/identifiers'
import { authorLine, familyName } from '../../core/bib/names'
import { writeAtom } from '../../core/formats/atom'
import { printCql } from '../../core/query/cql'
import type { Answer } from '../../core/schema/api'
import type { Member } from '../sessions/member'
import type { Context } from '../base/context'
import { deskDay } from '../db/desk-day'
import { change } from '../db/revision'
import { enqueue } from '../jobs/queue'
import { notFound, Problem } from '../base/problem'
import { newsOf, type News, type StandingRow, type SweepRow } from './gather-model'
import { readQuery, sweepOf } from './sweeps-service'

/** Records of a catalogue that a run looks at; what counts more than this is too broad to be watched. */
export const MOST_WATCHED = 5000

type Told = Answer<'standing'>[number]
const RUN = ['id', 'deskDay', 'foundNew', 'at', 'toldAt'] as const

/** The standing sweeps of an inquiry with their runs; or one of them. */
export async function standingOf(c: Context, inquiryId: number, only?: number) {
  const rows = await c.db.standingSweeps.findAll({
    where: { inquiryId, ...(only === undefined ? {} : { id: only }) },
    include: { association: 'runs', attributes: [...RUN] },
    order: ['id', ['runs', 'id', 'DESC']],
  })
  return rows.map(row => {
    const {
      token,
      userId: _,
      ...s
    } = row.get({ plain: true }) as StandingRow & { runs: Pick<SweepRow, (typeof RUN)[number]>[] }
    return { ...s, mails: Boolean(s.mails), paused: Boolean(s.paused), feed: `/api/feeds/${token}.atom` }
  })
}

export async function oneStanding(c: Context, inquiryId: number, id: number) {
  const [row] = await standingOf(c, inquiryId, id)
  if (!row) throw notFound()
  return row
}

/**
 * Has a sweep run again by schedule, and begins the first run. @throws Problem 422 where it finds more than can be
 * watched
 */
export async function makeStanding(
  c: Context,
  { inquiryId, userId, day }: Member,
  given: { sweep: number; name: string; everyDays: number; mails: boolean },
  t: Transaction,
): Promise<{ id: number; sweep: number; job: number }> {
  const sweep = await sweepOf(c, inquiryId, given.sweep)
  const parts = await c.db.sweepCatalogues.findAll({ where: { sweepId: sweep.id }, raw: true, transaction: t })
  if (parts.some(p => (p.count ?? 0) > MOST_WATCHED))
    throw new Problem(
      422,
      'too-broad',
      `This finds more than ${MOST_WATCHED.toLocaleString('en')} records in a catalogue, more than can be watched. Narrow it first.`,
    )
  const made = await c.db.standingSweeps.create(
    {
      inquiryId,
      userId,
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
  return { id: made.id, ...(await beginRun(c, made.get({ plain: true }), day, t)) }
}

export async function changeStanding(
  c: Context,
  { inquiryId, day }: Member,
  id: number,
  given: Partial<Pick<Told, 'name' | 'everyDays' | 'mails' | 'paused'>>,
  t: Transaction,
): Promise<void> {
  const where = { id, inquiryId }
  if (!(await c.db.standingSweeps.count({ where, transaction: t }))) throw notFound()
  const next = given.everyDays ? { nextDay: addDays(day, given.everyDays) } : {}
  await c.db.standingSweeps.update({ ...given, ...next }, { where, transaction: t })
}

export async function runNow(
  c: Context,
  { inquiryId, day }: Member,
  id: number,
  t: Transaction,
): Promise<{ sweep: number; job: number }> {
  const row = await c.db.standingSweeps.findOne({ where: { id, inquiryId }, transaction: t, raw: true })
  if (!row) throw notFound()
  return beginRun(c, row, day, t)
}

/** Its runs stay in the log. */
export async function endStanding(c: Context, where: { id: number; inquiryId: number }, t: Transaction): Promise<void> {
  if (!(await c.db.standingSweeps.destroy({ where, transaction: t }))) throw notFound()
}

/** Writes a run down and queues it, in one transaction. */
async function beginRun(
  c: Context,
  s: StandingRow,
  day: string,
  t: Transaction,
): Promise<{ sweep: number; job: number }> {
  const sweep = await c.db.sweeps.create(
    {
      inquiryId: s.inquiryId,
      query: s.query,
      cql: printCql(readQuery(s.query).query),
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
      await beginRun(c, row, day, t)
    })
  }
  return due.length
}

/** Where a run is shown. */
export const placeOfRun = (c: Context, s: Pick<StandingRow, 'inquiryId'>, sweep: number): string =>
  `${c.settings.address}/inquiries/${s.inquiryId}/gather?sweep=${sweep}`
export const sayRecord = ({ item, catalogue }: News): string =>
  [authorLine(item.author ?? item.editor), item['container-title'] ?? item.publisher, yearOf(item), catalogue]
    .filter(Boolean)
    .join(' · ')

/** The news of a standing sweep as a feed; whoever has its token may read it. */
export async function feedOf(c: Context, token: string): Promise<string> {
  const s = await c.db.standingSweeps.findOne({ where: { token }, raw: true })
  if (!s) throw notFound()
  const self = `${c.settings.address}/api/feeds/${s.token}.atom`
  const news = await newsOf(c, { standing: s.id }, 200)
  return writeAtom({
    id: self,
    self,
    title: s.name,
    at: (news[0]?.at ?? new Date(s.at)).toISOString(),
    entries: news.map(x => ({
      id: `${self}#${x.id}`,
      title: plainTitle(x.item.title),
      at: x.at.toISOString(),
      authors: (x.item.author ?? []).map(n => [n.given, familyName(n)].filter(Boolean).join(' ')),
      link: x.item.DOI ? doiAddress('https://doi.org/', x.item.DOI) : placeOfRun(c, s, x.sweepId),
      summary: sayRecord(x),
    })),
  })
}
