import { Op } from 'sequelize'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import { runSweep } from '../gather/sweep-job'
import type { JobHandle } from '../jobs/queue'
import { runRound } from '../trace/round-job'
import { tellNews } from './standing-news'
import { markNews, putTrailNews, type StandingRow } from './standing-model'
import { MOST_WATCHED } from './standing-service'

/** One run of what stands: the sweep or the round itself, then what is new in it, told by letter where that is wanted. */
export const runStanding = (c: Context, handle: JobHandle): Promise<Record<string, unknown>> => {
  const { standingId, sweepId, round } = handle.job.payload as { standingId: number; sweepId?: number; round?: number }
  return round === undefined ? sweepAgain(c, handle, standingId, sweepId!) : walkAgain(c, handle, standingId, round)
}

/** What stands, where it is to be told by letter and can be. */
async function toTell(c: Context, standingId: number): Promise<StandingRow | undefined> {
  const row = await c.db.standing.findByPk(standingId, { raw: true })
  return row?.mails && c.settings.outside.mail ? row : undefined
}

async function sweepAgain(c: Context, handle: JobHandle, standingId: number, sweepId: number) {
  const { db } = c
  const inquiryId = handle.job.inquiryId!
  await runSweep(c, { ...handle, job: { ...handle.job, payload: { sweepId, most: MOST_WATCHED } } })
  const foundNew = await change(c, inquiryId, async t => {
    await markNews(c, standingId, sweepId, t)
    const first = !(await db.sweeps.count({ where: { standingId, id: { [Op.lt]: sweepId } }, transaction: t }))
    const n = first ? null : await db.sweepHits.count({ where: { sweepId, isNew: true }, transaction: t })
    await db.sweeps.update({ foundNew: n }, { where: { id: sweepId }, transaction: t })
    return n
  })
  const standing = foundNew ? await toTell(c, standingId) : undefined
  const told = await db.sweeps.findByPk(sweepId, { attributes: ['toldAt'], raw: true })
  if (standing && foundNew && !told?.toldAt) {
    await tellNews(c, standing, sweepId, foundNew)
    await change(c, inquiryId, t =>
      db.sweeps.update({ toldAt: new Date() }, { where: { id: sweepId }, transaction: t }),
    )
  }
  return { sweepId, foundNew }
}

async function walkAgain(c: Context, handle: JobHandle, standingId: number, round: number) {
  const { db } = c
  const inquiryId = handle.job.inquiryId!
  const walked = await runRound(c, handle)
  const foundNew = await change(c, inquiryId, async t => {
    const n = await putTrailNews(c, { standingId, round, inquiryId }, t)
    await db.rounds.update({ foundNew: n }, { where: { id: round }, transaction: t })
    return n
  })
  // of a round that was walked in parts, each part is told once
  const news = { where: { roundId: round, told: false }, distinct: true, col: 'citing' }
  const untold = await db.trailNews.count(news)
  const standing = untold ? await toTell(c, standingId) : undefined
  if (standing) {
    await tellNews(c, standing, round, untold, foundNew > untold ? `-${foundNew - untold}` : '')
    await change(c, inquiryId, t => db.trailNews.update({ told: true }, { where: { roundId: round }, transaction: t }))
  }
  return { ...walked, foundNew }
}
