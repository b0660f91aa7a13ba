import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import { forget, gateState, lookAtGate, openGate } from './gate-service'
import { cataloguesOf, probe } from './probe-service'
import { fetchHoldings, holdingsOf } from './holdings'

/** The home library: what it holds, and its gate. */
export function libraryRoutes(c: Context, serve: Serve): void {
  serve(api.holdings, () => holdingsOf(c))
  serve(api.fetchHoldings, async ({ userId, once }) => {
    await once(t => fetchHoldings(c, userId, t))
    return holdingsOf(c)
  })
  serve(api.catalogues, () => cataloguesOf(c))
  serve(api.probe, ({ userId, body, gone }) => probe(c, userId, body, gone))
  serve(api.gate, ({ userId }) => gateState(c, userId))
  serve(api.openGate, async ({ userId, req, body }) => {
    await openGate(c, userId, req.ip ?? '', body)
    return gateState(c, userId)
  })
  serve(api.lookAtGate, async ({ userId }) => {
    await lookAtGate(c, userId)
    return gateState(c, userId)
  })
  serve(api.closeGate, ({ userId }) => forget(c, userId))
}
