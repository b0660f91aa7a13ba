import { plainTitle } from '../../core/bib/clean'
import { Op } from 'sequelize'
import { sendMail } from '../connect/mail'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import type { JobHandle } from '../jobs/queue'
import { markNews, newsOf, type StandingRow } from './gather-model'
import { MOST_WATCHED, placeOfRun, sayRecord } from './standing-service'
import { runSweep } from './sweep-job'

/** One run of a standing sweep: the sweep itself, then what no earlier run had, told by mail where that is wanted. */
export async function runStanding(c: Context, handle: JobHandle): Promise<Record<string, unknown>> {
  const { standingId, sweepId } = handle.job.payload as { standingId: number; sweepId: number }
  const { db } = c
  await runSweep(c, { ...handle, job: { ...handle.job, payload: { sweepId, most: MOST_WATCHED } } })
  const foundNew = await change(c, handle.job.inquiryId!, async t => {
    await markNews(c, standingId, sweepId, t)
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
      ...news.flatMap(x => [plainTitle(x.item.title), `  ${sayRecord(x)}`, '']),
      ...(n > news.length ? [`and ${n - news.length} more.`, ''] : []),
      `See them: ${placeOfRun(c, s, sweep)}`,
      `It runs again on ${s.nextDay}. To end these letters, open the log of that inquiry.`,
    ].join('\n'),
  })
}
