import { randomUUID } from 'node:crypto'
import { Op, type Transaction } from 'sequelize'
import { addDays } from '../../core/bib/dates'
import { printCql } from '../../core/query/cql'
import type { Answer, Standing } from '../../core/schema/api'
import type { Scope } from '../../core/schema/api/trace'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { deskDay } from '../db/desk-day'
import { change } from '../db/revision'
import { heirsOf } from '../deeds/family'
import { readQuery, sweepOf } from '../gather/sweeps-service'
import { enqueue } from '../jobs/queue'
import type { Member } from '../sessions/member'
import { beginRound } from '../trace/rounds-service'
import { trailNewsOf, type StandingRow } from './standing-model'

/** Records of a catalogue that a run looks at; what counts more than this is too broad to be watched. */
export const MOST_WATCHED = 5000
/** Works that newly cite others which are told of at most, the latest first. */
const MOST_NEWS = 500

interface Asked {
  name: string
  everyDays: number
  mails: boolean
}
interface Run {
  id: number
  deskDay: string
  foundNew: number | null
  at: Date
}

/** What stands in an inquiry, with its runs; or one of it. */
export async function standingOf(c: Context, inquiryId: number, only?: number) {
  const rows = await c.db.standing.findAll({
    where: { inquiryId, ...(only === undefined ? {} : { id: only }) },
    include: [
      { association: 'sweeps', attributes: ['id', 'deskDay', 'foundNew', 'at'] },
      { association: 'rounds', attributes: ['id', ['day', 'deskDay'], 'foundNew', 'at'] },
    ],
    order: ['id', ['sweeps', 'id', 'DESC'], ['rounds', 'id', 'DESC']],
  })
  return rows.map(row => {
    const {
      token,
      userId: _,
      subject,
      sweeps,
      rounds,
      ...s
    } = row.get({ plain: true }) as StandingRow & { sweeps: Run[]; rounds: Run[] }
    return {
      ...s,
      of: subject,
      mails: Boolean(s.mails),
      paused: Boolean(s.paused),
      feed: `/api/feeds/${token}.atom`,
      runs: [...sweeps, ...rounds],
    }
  })
}

export async function oneStanding(c: Context, inquiryId: number, id: number) {
  const [row] = await standingOf(c, inquiryId, id)
  if (!row) throw notFound()
  return row
}

/** Writes down what is to be asked again, and begins its first run. */
async function stand(
  c: Context,
  { inquiryId, userId, day }: Member,
  given: Asked & Pick<StandingRow, 'query' | 'catalogues' | 'scope' | 'subject'>,
  t: Transaction,
): Promise<{ id: number; job: number }> {
  const row = {
    ...{ inquiryId, userId, nextDay: addDays(day, given.everyDays), paused: false, ...given },
    token: randomUUID().replaceAll('-', ''),
  }
  const { id } = await c.db.standing.create(row, { transaction: t })
  return { id, job: await beginRun(c, { ...row, id }, day, t) }
}

/** Has a sweep run again by schedule. @throws Problem 422 where it finds more than can be watched */
export async function makeStanding(
  c: Context,
  member: Member,
  { sweep: of, ...given }: Asked & { sweep: number },
  t: Transaction,
): Promise<{ id: number; job: number }> {
  const sweep = await sweepOf(c, member.inquiryId, of)
  const parts = await c.db.sweepCatalogues.findAll({ where: { sweepId: sweep.id }, raw: true, transaction: t })
  if (parts.some(p => (p.count ?? 0) > MOST_WATCHED))
    throw new Problem(
      422,
      'too-broad',
      `This finds more than ${MOST_WATCHED.toLocaleString('en')} records in a catalogue, more than can be watched. Narrow it first.`,
    )
  const catalogues = parts.map(p => p.catalogue)
  return stand(c, member, { ...given, query: sweep.query, catalogues, scope: null, subject: null }, t)
}

/** Has the citation index asked by schedule what cites works. @throws Problem as a round does */
export const makeStandingTrail = (
  c: Context,
  member: Member,
  { scope, of = null, ...given }: Asked & { scope: Scope; of?: number | null | undefined },
  t: Transaction,
): Promise<{ id: number; job: number }> =>
  stand(c, member, { ...given, query: null, catalogues: [], scope, subject: scope === 'kept' ? null : of }, t)

export async function changeStanding(
  c: Context,
  { inquiryId, day }: Member,
  id: number,
  given: Partial<Pick<Standing, 'name' | 'everyDays' | 'mails' | 'paused'>>,
  t: Transaction,
): Promise<void> {
  const where = { id, inquiryId }
  if (!(await c.db.standing.count({ where, transaction: t }))) throw notFound()
  const next = given.everyDays ? { nextDay: addDays(day, given.everyDays) } : {}
  await c.db.standing.update({ ...given, ...next }, { where, transaction: t })
}

export async function runNow(
  c: Context,
  { inquiryId, day }: Member,
  id: number,
  t: Transaction,
): Promise<{ job: number }> {
  const row = await c.db.standing.findOne({ where: { id, inquiryId }, transaction: t, raw: true })
  if (!row) throw notFound()
  return { job: await beginRun(c, row, day, t) }
}

/** Its runs stay in the log. */
export async function endStanding(c: Context, where: { id: number; inquiryId: number }, t: Transaction): Promise<void> {
  if (!(await c.db.standing.destroy({ where, transaction: t }))) throw notFound()
}

type Begun = Pick<StandingRow, 'id' | 'inquiryId' | 'userId' | 'name' | 'query' | 'catalogues' | 'scope' | 'subject'>
/** Writes a run down and queues it, in one transaction. @returns its job */
const beginRun = (c: Context, s: Begun, day: string, t: Transaction): Promise<number> =>
  s.query === null ? beginTrail(c, s, day, t) : beginSweep(c, s, s.query, day, t)

async function beginSweep(c: Context, s: Begun, query: string, day: string, t: Transaction): Promise<number> {
  const { id: standingId, inquiryId, userId, name } = s
  const cql = printCql(readQuery(query).query)
  const sweep = await c.db.sweeps.create(
    { inquiryId, query, cql, repairs: [], deskDay: day, name, standingId },
    { transaction: t },
  )
  await c.db.sweepCatalogues.bulkCreate(
    s.catalogues.map(catalogue => ({ sweepId: sweep.id, catalogue, changes: [] })),
    { transaction: t },
  )
  return enqueue(c, 'standing', inquiryId, userId, { standingId, sweepId: sweep.id }, t)
}

async function beginTrail(c: Context, s: Begun, day: string, t: Transaction): Promise<number> {
  const { id: standingId, inquiryId, userId, scope, subject } = s
  // what was joined into another work is watched as that one
  const of = scope === 'work' ? (await heirsOf(c, inquiryId, [subject!], t)).get(subject!) : (subject ?? undefined)
  const { job } = await beginRound(c, { inquiryId, userId, day }, { scope: scope!, of, standingId }, t)
  return job
}

/** Queues everything that stands and whose day has come; several processes may do this at once. */
export async function beginDue(c: Context): Promise<number> {
  const day = await deskDay(c.db)
  const due = await c.db.standing.findAll({
    where: { paused: false, nextDay: { [Op.lte]: day } },
    attributes: ['id', 'inquiryId'],
    raw: true,
  })
  for (const { id, inquiryId } of due) {
    await change(c, inquiryId, async t => {
      const row = await c.db.standing.findByPk(id, { transaction: t, lock: t.LOCK.UPDATE, raw: true })
      // another process was faster
      if (!row || row.paused || row.nextDay > day) return
      await c.db.standing.update({ nextDay: addDays(day, row.everyDays) }, { where: { id }, transaction: t })
      try {
        await beginRun(c, row, day, t)
      } catch (e) {
        // nothing can be asked on this day: no work is kept, its strand is gone; it is looked at again on the next one
        if (!(e instanceof Problem)) throw e
      }
    })
  }
  return due.length
}

/** Works that newly cite what standing trails of the inquiry watch, each once, the latest first. */
export async function newsOfTrails(c: Context, inquiryId: number): Promise<Answer<'trailNews'>> {
  const [news, rounds] = await Promise.all([
    trailNewsOf(c, { inquiry: inquiryId }, MOST_NEWS),
    c.db.rounds.findAll({
      where: { inquiryId, standingId: { [Op.ne]: null } },
      attributes: ['id', 'day'],
      raw: true,
    }),
  ])
  const days = new Map(rounds.map(r => [r.id, r.day]))
  const out = new Map<number, Answer<'trailNews'>[number]>()
  for (const { node, run, cited } of news) {
    const had = out.get(node)
    if (had) had.cites = [...new Set([...had.cites, ...cited])]
    else out.set(node, { node, round: run, day: days.get(run)!, cites: cited })
  }
  return [...out.values()]
}
