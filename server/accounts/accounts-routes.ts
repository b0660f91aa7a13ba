import type { RequestHandler } from 'express'
import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import { notFound } from '../base/problem'
import type { Serve } from '../serve/serve'
import { changePassword, signIn, signOut, whoIsThere } from './accounts-service'
import { addAccount, endAllSessions, isAdministrator, listAccounts, passingPasswordFor } from './administration-service'
import { userOf } from '../sessions/member'
import { endSessions, sessionsOf } from '../sessions/sessions'

/** Sign-in, sign-out, who is there; one's password, and where one is signed in. */
export function accountRoutes(c: Context, serve: Serve): void {
  serve(api.session, async ({ req }) => ({
    user: await whoIsThere(c, req),
    demo: Boolean(c.settings.demoAccount),
  }))
  serve(api.signIn, async ({ req, body }) => ({ user: await signIn(c, req, body) }))
  serve(api.signOut, ({ req }) => signOut(req))
  serve(api.changePassword, async ({ req, userId, body }) => ({ ended: await changePassword(c, req, userId, body) }))
  serve(api.sessions, ({ req, userId }) => sessionsOf(c, userId, req.sessionID))
  serve(api.endSession, async ({ userId, params }) => {
    if (!(await endSessions(c, userId, { id: params.session }))) throw notFound()
  })
  serve(api.endOtherSessions, async ({ req, userId }) => ({
    ended: await endSessions(c, userId, { but: req.sessionID }),
  }))
}

/** Only administrators pass; to others it does not exist. Their own inquiries are theirs: nobody reads them here. */
export const administratorsOnly =
  (c: Context): RequestHandler =>
  async (req, _res, next) => {
    if (!(await isAdministrator(c, userOf(req)))) throw notFound()
    next()
  }

/** Accounts, for administrators: who there is, a new one, a new password, ending what is signed in. */
export function administrationRoutes(c: Context, serve: Serve): void {
  serve(api.accounts, () => listAccounts(c))
  serve(api.addAccount, ({ body }) => addAccount(c, body))
  serve(api.passingPassword, ({ params }) => passingPasswordFor(c, params.account))
  serve(api.endAccountSessions, async ({ params }) => ({ ended: await endAllSessions(c, params.account) }))
}
