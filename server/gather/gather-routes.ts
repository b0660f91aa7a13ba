import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import { enqueue } from '../jobs/queue'
import { notFound } from '../base/problem'
import type { Serve } from '../serve/serve'
import { bring } from './bring'
import { aboutCatalogue, countsOf, readCounting, spellingOf, yearsOf } from './counts-service'
import { harvestOf } from './harvest-service'
import { compareSweeps, logAsCsv, methodsOf, sharesOf } from './log-service'
import { saveSheet, sheetOfInquiry } from './sheet-service'
import { beginSweep, chosenOf, isCatalogue, nameSweep, recordsOf, sweepOf, sweepsOf, unreadOf } from './sweeps-service'

/** Gather: the question sheet, sweeps over the catalogues, their log, and bringing records into the pool. */
export function gatherRoutes(c: Context, serve: Serve): void {
  serve(api.sheet, async ({ member, res }) => {
    const sheet = await sheetOfInquiry(c, member.inquiryId)
    res.set('ETag', `"${sheet.version}"`)
    return sheet
  })
  serve(api.saveSheet, async ({ member, version, body, once, res }) => {
    const saved = await once(t => saveSheet(c, member.inquiryId, version, body, t))
    res.set('ETag', `"${saved.version}"`)
    return { ...(await sheetOfInquiry(c, member.inquiryId)), sheet: body, ...saved }
  })
  serve(api.sweeps, ({ member }) => sweepsOf(c, member.inquiryId, 'latest'))
  serve(api.beginSweep, ({ member, body, once }) => once(t => beginSweep(c, member, body, t)))
  serve(api.changeSweep, async ({ member: { inquiryId }, params, body }) => {
    const where = { id: params.sweep, inquiryId }
    await change(c, inquiryId, t => nameSweep(c, where, body, t))
    return sweepOf(c, inquiryId, params.sweep)
  })
  serve(api.fetchMore, async ({ member: { inquiryId, userId }, params, body, once }) => {
    const sweep = await sweepOf(c, inquiryId, params.sweep)
    if (!(await isCatalogue(c, inquiryId, body.catalogue))) throw notFound()
    const payload = { sweepId: sweep.id, only: body.catalogue, ...(body.most ? { most: body.most } : {}) }
    return once(async t => ({ job: await enqueue(c, 'sweep', inquiryId, userId, payload, t) }))
  })
  serve(api.unreadRecords, ({ member, params }) => unreadOf(c, member.inquiryId, params.sweep))
  serve(api.foundRecords, ({ member, params }) => recordsOf(c, member, params.sweep))
  serve(api.against, ({ member, params }) => compareSweeps(c, member.inquiryId, params.sweep, params.other))
  serve(api.bring, async ({ member: { inquiryId, userId }, body, once }) => {
    const { wanted, long } = await chosenOf(c, inquiryId, body)
    if (!long) return once((t, revision) => bring(c, inquiryId, userId, wanted, t, revision))
    const payload = { sweepId: body.sweep, ...wanted }
    return once(async t => ({ job: await enqueue(c, 'pool', inquiryId, userId, payload, t) }), { status: 202 })
  })
  serve(api.log, async ({ member, res }) => {
    const csv = await logAsCsv(c, member.inquiryId)
    res.type('text/csv').attachment('search-log.csv').send(csv)
  })
  serve(api.methods, async ({ member }) => ({ text: await methodsOf(c, member.inquiryId) }))
  serve(api.shares, ({ member }) => sharesOf(c, member.inquiryId))
}

/** Counting before committing: what a query would find. Nothing is stored but the counts. */
export function countsRoutes(c: Context, serve: Serve): void {
  serve(api.counts, async ({ member, body, gone }) =>
    countsOf(c, await readCounting(c, member.inquiryId, body), member, gone),
  )
  serve(api.years, async ({ member: { inquiryId, userId }, body, gone }) =>
    yearsOf(c, await readCounting(c, inquiryId, body), userId, gone),
  )
  serve(api.spelling, ({ member, body }) => spellingOf(c, body.word, member))
  serve(api.catalogue, ({ member, params }) => aboutCatalogue(c, params.catalogue, member))
  serve(api.harvest, ({ member, query }) => harvestOf(c, member.inquiryId, query))
  serve(api.lookAtLosses, async ({ member: { inquiryId, userId }, body, once }) => {
    await readCounting(c, inquiryId, body)
    return once(async t => ({ job: await enqueue(c, 'losses', inquiryId, userId, body, t) }))
  })
}
