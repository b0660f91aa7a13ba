import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import { askCitations } from './citations-job'
import { graphOfInquiry, trailOfWork } from './graph-service'
import { bringPointers } from './pointers-service'
import { beginRound, planRound, walkOn } from './rounds-service'

/** Trace: who cites whom around the kept works, rounds that find it, and pointers into the pool. */
export function traceRoutes(c: Context, serve: Serve): void {
  serve(api.graph, ({ member }) => graphOfInquiry(c, member))
  serve(api.planRound, ({ member, query }) => planRound(c, member, query))
  serve(api.walkRound, ({ member, body, once }) => once(t => beginRound(c, member, body, t)))
  serve(api.walkOn, ({ member, params, once }) => once(t => walkOn(c, member, params.round, t)))
  serve(api.trailOf, ({ member, params }) => trailOfWork(c, member, params.work))
  serve(api.bringPointers, ({ member, body, once }) =>
    once((t, revision) => bringPointers(c, { ...member, revision }, body, t)),
  )
  serve(api.askCitations, ({ member, once }) => once(t => askCitations(c, member, t)))
}
