import 'express-session'
import { createHash } from 'node:crypto'
import type { Request } from 'express'
import { QueryTypes, UniqueConstraintError, type Transaction } from 'sequelize'
import type { Context } from '../base/context'
import { requireRoom } from '../db/room'
import { inTransaction } from '../db/transaction'
import { change } from '../db/revision'
import { Problem } from '../base/problem'

/** What a client asks for under a key of its own, so that it can ask again. */
interface Asked {
  userId: number
  key: string
  /** Of the address and all that was sent: the same key with other content is another request. */
  requestHash: string
}
interface Kept {
  status: number
  body: unknown
}
/** Ends a transaction that finds its own work done. */
class Repeated extends Error {
  constructor(readonly kept: Kept) {
    super('repeated')
  }
}

/**
 * Carries out a request. Sent with an Idempotency-Key, its work, its key and its answer are one transaction: all are
 * there, and sent again the first answer comes back, or none is, and it is carried out as if for the first time. Two
 * that come at once wait for one another.
 * @param work what is to be done; what it gives is kept as the answer, and can be made into more when it is told
 * @throws Problem 422 where the key was used for something else
 */
export async function answerOnce<T extends object>(
  context: Context,
  req: Request,
  status: number,
  work: (t: Transaction, revision: number) => Promise<T>,
): Promise<{ status: number; body: T }> {
  const asked = askedBy(req)
  const kept = asked ? await once(context, req, asked, status, work) : { status, body: await carry(context, req, work) }
  return kept as { status: number; body: T }
}

async function once<T>(
  context: Context,
  req: Request,
  asked: Asked,
  status: number,
  work: (t: Transaction, revision: number) => Promise<T>,
): Promise<Kept> {
  try {
    const body = await carry(context, req, async (t, revision) => {
      const kept = await keptAnswer(context, asked, t)
      if (kept) throw new Repeated(kept)
      const done = await work(t, revision)
      await context.db.answers.create(
        {
          userId: asked.userId,
          answerKey: asked.key,
          requestHash: asked.requestHash,
          inquiryId: inquiryIn(req) ?? null,
          status,
          body: done as Record<string, unknown>,
        },
        { transaction: t },
      )
      return done
    })
    return { status, body }
  } catch (e) {
    if (e instanceof Repeated) return e.kept
    // outside of an inquiry nothing makes two of a kind wait but the key itself
    const faster = e instanceof UniqueConstraintError ? await keptAnswer(context, asked) : undefined
    if (!faster) throw e
    return faster
  }
}

const inquiryIn = (req: Request): number | undefined => (req.params.inquiry ? Number(req.params.inquiry) : undefined)

/** Below an inquiry the work is a change of it. */
async function carry<T>(
  context: Context,
  req: Request,
  work: (t: Transaction, revision: number) => Promise<T>,
): Promise<T> {
  const inquiryId = inquiryIn(req)
  if (inquiryId) return change(context, inquiryId, work)
  await requireRoom(context)
  return inTransaction(context.db.sequelize, t => work(t, 0))
}

function askedBy(req: Request): Asked | undefined {
  const key = req.get('Idempotency-Key')
  const userId = req.session.userId
  if (!key || !userId) return undefined
  if (!/^[\w-]{8,80}$/.test(key)) throw new Problem(400, 'bad-key', 'The Idempotency-Key is not usable.')
  const sent = Buffer.isBuffer(req.body) ? req.body : JSON.stringify(req.body ?? null)
  const requestHash = createHash('sha256').update(`${req.method} ${req.originalUrl}\n`).update(sent).digest('hex')
  return { userId, key, requestHash }
}

async function keptAnswer(context: Context, asked: Asked, transaction?: Transaction): Promise<Kept | undefined> {
  const [kept] = await context.db.sequelize.query<{ request_hash: string; status: number; body: unknown }>(
    'SELECT request_hash, status, body FROM answers WHERE user_id = :userId AND answer_key = :key',
    { type: QueryTypes.SELECT, replacements: { ...asked }, ...(transaction ? { transaction } : {}) },
  )
  if (!kept) return undefined
  if (kept.request_hash !== asked.requestHash)
    throw new Problem(422, 'key-reused', 'This Idempotency-Key was used for another request.')
  return { status: kept.status, body: typeof kept.body === 'string' ? JSON.parse(kept.body) : kept.body }
}
