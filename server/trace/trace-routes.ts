import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import { askCitations } from './citations-job'
import { bringFromTrail, trailOf, walkTrail } from './trails-service'

/** Trace: trails from a work to its references and to what cites it. */
export function traceRoutes(c: Context, serve: Serve): void {
  serve(api.trail, ({ member, params }) => trailOf(c, member, params.work, params.direction))
  serve(api.walkTrail, ({ member, params, once }) => once(t => walkTrail(c, member, params.work, params.direction, t)))
  serve(api.askCitations, ({ member, once }) => once(t => askCitations(c, member, t)))
  serve(api.bringFromTrail, ({ member, params: { work, direction }, body: { keys }, once }) =>
    once((t, revision) => bringFromTrail(c, { ...member, revision }, { work, direction, keys }, t)),
  )
}
