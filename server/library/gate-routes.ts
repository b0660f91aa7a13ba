import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import { forget, gateState, openGate } from './gate-service'

/** The home library's gate. */
export function gateRoutes(c: Context, serve: Serve): void {
  serve(api.gate, ({ userId }) => gateState(c, userId))
  serve(api.openGate, async ({ userId, req, body }) => {
    await openGate(c, userId, req.ip ?? '', body)
    return gateState(c, userId)
  })
  serve(api.closeGate, ({ userId }) => forget(c, userId))
}
