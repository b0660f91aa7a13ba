import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import { planInFull, setRead, setRhythm, tellReading } from './plan-service'

/** What is left to do, and how one works. */
export function planRoutes(c: Context, serve: Serve): void {
  serve(api.plan, ({ member }) => planInFull(c, member))
  serve(api.setRhythm, ({ member, body }) => setRhythm(c, member, body))
  serve(api.tellReading, ({ member, params, body }) => tellReading(c, member, { copy: params.copy, ...body }))
  serve(api.setRead, ({ member, params, body }) => setRead(c, member, { work: params.work, ...body }))
}
