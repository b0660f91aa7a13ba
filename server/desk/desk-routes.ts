import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import { layAnew, moveAhead, tellDesk } from './desk-service'

/** The day of the desk, and what can be done with it in the demo. */
export function deskRoutes(c: Context, serve: Serve): void {
  serve(api.desk, () => tellDesk(c))
  serve(api.moveDesk, async ({ body, once }) => {
    await once(t => moveAhead(c, body.days, t))
    return tellDesk(c)
  })
  serve(api.layAnew, async ({ userId, once }) => {
    await once(t => layAnew(c, userId, t))
    return tellDesk(c)
  })
}
