import 'express-session'
import type { ErrorRequestHandler } from 'express'
import { diskFull } from './db/room'
import { isAway, isDatabaseTrouble, isFull } from './db/transaction'
import { logError } from './log'
import { ValidationError, type Schema, type InferType } from 'yup'

/** An error with an answer for the client, after RFC 9457. `said` is a sentence for a student. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    said: string,
    readonly more: Record<string, unknown> = {},
  ) {
    super(said)
  }
}

export const notFound = (): Problem =>
  new Problem(404, 'not-found', 'There is nothing at this address, or it is not yours to see.')

/** Checks input against a Yup schema. @throws Problem 422 with every field that is wrong */
export function check<S extends Schema>(schema: S, input: unknown): InferType<S> {
  try {
    return schema.validateSync(input, { abortEarly: false, stripUnknown: true }) as InferType<S>
  } catch (e) {
    if (!(e instanceof ValidationError)) throw e
    const fields = (e.inner.length ? e.inner : [e]).map(x => ({ field: x.path ?? '', said: x.message }))
    throw new Problem(422, 'invalid', 'Some of what was sent cannot be used.', { fields })
  }
}

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
