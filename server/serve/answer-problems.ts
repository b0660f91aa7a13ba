import type { ErrorRequestHandler } from 'express'
import { logError } from '../base/log'
import { Problem } from '../base/problem'
import { diskFull } from '../db/room'
import { isAway, isDatabaseTrouble, isFull } from '../db/transaction'

/** Turns every error into problem+json; what is not foreseen is logged in full and answered without its innards. */
export const answerProblems: ErrorRequestHandler = (error: unknown, req, res, next) => {
  if (res.headersSent) return next(error)
  let p: Problem
  if (error instanceof Problem) p = error
  else {
    const e = error as { status?: number; type?: string }
    if (isFull(error)) p = diskFull()
    else if (isAway(error))
      p = new Problem(
        503,
        'database-away',
        'The database does not answer. Nothing of what was saved is lost; this page goes on by itself once it is back.',
      )
    else if (isDatabaseTrouble(error))
      p = new Problem(
        503,
        'busy',
        'Something long is being written into this inquiry. This waits for it and goes on by itself.',
      )
    else if (e.type === 'entity.too.large') p = new Problem(413, 'too-large', 'This is larger than what can be taken.')
    else if (e.type === 'entity.parse.failed') p = new Problem(400, 'not-json', 'The request is not well-formed JSON.')
    else if (e.status && e.status < 500) p = new Problem(e.status, 'bad-request', 'The request cannot be understood.')
    else {
      logError(`${req.method} ${req.route ? String((req.route as { path: unknown }).path) : ''}`, error)
      p = new Problem(
        500,
        'unforeseen',
        'Something went wrong here. What was saved before stands; try again, and tell us if it happens again.',
      )
    }
  }
  // what passes by itself says when to ask again
  const wait = p.status === 503 ? 2 : p.status === 507 ? 10 : p.more.retryAfter
  if (typeof wait === 'number') res.set('Retry-After', String(wait))
  res
    .status(p.status)
    .type('application/problem+json')
    .send(
      JSON.stringify({ type: `/api/problems/${p.code}`, code: p.code, title: p.message, status: p.status, ...p.more }),
    )
}
