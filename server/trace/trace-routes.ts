import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import type { Serve } from '../serve/serve'
import { authorOf } from './author-service'
import { beside } from './beside-service'
import { follow } from './follow-service'
import { grantWorks } from './grant-service'
import { askCitations } from './citations-job'
import { dropList, listsOf, lookOn, oneList, rewriteEntry, settleEntry, takeList } from './lists-service'
import { citationsAsCsv, graphAsGraphml } from './graph-files'
import { agesCited, graphOfInquiry, trailOfWork } from './graph-service'
import { bringPointers } from './pointers-service'
import { saidOf, saidOfPointer } from './said-service'
import { beginRound, planRound, walkOn } from './rounds-service'
import { takenBack } from './taken-back-service'

/** Trace: who cites whom around the kept works, rounds that find it, and pointers into the pool. */
export function traceRoutes(c: Context, serve: Serve): void {
  serve(api.graph, ({ member }) => graphOfInquiry(c, member))
  serve(api.graphFile, async ({ member, res }) => {
    const text = await graphAsGraphml(c, member.inquiryId)
    // the type last: no file of this ending is known
    res.attachment('citations.graphml').type('application/xml').send(text)
  })
  serve(api.citationsFile, async ({ member, res }) => {
    const csv = await citationsAsCsv(c, member.inquiryId)
    res.type('text/csv').attachment('citations.csv').send(csv)
  })
  serve(api.citedAges, ({ member }) => agesCited(c, member))
  serve(api.planRound, ({ member, query }) => planRound(c, member, query))
  serve(api.walkRound, ({ member, body, once }) => once(t => beginRound(c, member, body, t)))
  serve(api.walkOn, ({ member, params, once }) => once(t => walkOn(c, member, params.round, t)))
  serve(api.trailOf, ({ member, params }) => trailOfWork(c, member, params.work))
  serve(api.saidOf, ({ member, params }) => saidOf(c, member, params.work))
  serve(api.saidOfPointer, ({ member, params }) => saidOfPointer(c, member, params.node))
  serve(api.takenBack, ({ member }) => takenBack(c, member))
  serve(api.author, ({ member, query: { family, given, body, work } }) =>
    authorOf(c, member, { ...(body ? { literal: family } : { family, given: given ?? '' }), work }),
  )
  serve(api.grantWorks, ({ member, query }) => grantWorks(c, member, query))
  serve(api.beside, ({ member, params }) => beside(c, member, params.work))
  serve(api.follow, ({ member, body, once }) => once(t => follow(c, member, body, t)))
  serve(api.bringPointers, ({ member, body, once }) =>
    once((t, revision) => bringPointers(c, { ...member, revision }, body, t)),
  )
  serve(api.askCitations, ({ member, once }) => once(t => askCitations(c, member, t)))
  serve(api.lists, ({ member }) => listsOf(c, member))
  serve(api.list, ({ member, params }) => oneList(c, member, params.list))
  serve(api.takeList, ({ member, body, once }) => once(t => takeList(c, member, body, t)))
  serve(api.settleEntry, ({ member, params, body }) =>
    change(c, member.inquiryId, t => settleEntry(c, member, params, body, t)),
  )
  serve(api.rewriteEntry, ({ member, params, body, once }) => once(t => rewriteEntry(c, member, params, body.text, t)))
  serve(api.lookOn, ({ member, params, once }) => once(t => lookOn(c, member, params.list, t)))
  serve(api.dropList, ({ member, params }) => change(c, member.inquiryId, t => dropList(c, member, params.list, t)))
}
