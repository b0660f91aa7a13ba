import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import { actOn, askFor, calendarOf, draftLoans, loanBy, loansOf } from './loans-service'
import { takeMessage } from './messages'

/** What one asked for, in one place across inquiries. */
export function askedRoutes(c: Context, serve: Serve): void {
  serve(api.loans, ({ userId }) => loansOf(c, userId))
  serve(api.actOnLoan, async ({ userId, params, body }) => {
    await actOn(c, userId, params.loan, body)
    return loanBy(c, userId, params.loan)
  })
  serve(api.loansCalendar, async ({ userId, res }) => {
    res
      .attachment('asked-for.ics')
      .type('text/calendar')
      .send(await calendarOf(c, userId))
  })
}

/** Asking for what an inquiry lacks. */
export function loanRoutes(c: Context, serve: Serve): void {
  serve(api.draftLoans, ({ member, body }) => draftLoans(c, member, body.works))
  serve(api.askFor, ({ member, body, once }) => once(t => askFor(c, member, body, t)))
}

/** Offices post without signing in: the address itself is the key. */
export function officeRoutes(c: Context, serve: Serve): void {
  serve(api.officeMessage, async ({ params, file, res }) => {
    res.type('application/xml').send(await takeMessage(c, params, file.bytes))
  })
}
