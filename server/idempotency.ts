import 'express-session'
import { createHash } from 'node:crypto'
import type { RequestHandler } from 'express'
import { QueryTypes } from 'sequelize'
import type { Context } from './context'
import { Problem } from './problem'

/**
 * A POST with an Idempotency-Key is carried out once: sent again, the first answer comes back. The same key with
 * other content is refused. Keys of failed requests are freed.
 */
export function idempotent(c: Context): RequestHandler {
  return async (req, res, next) => {
    const key = req.get('Idempotency-Key')
    const userId = req.session.userId
    if (req.method !== 'POST' || !key || !userId) return next()
    if (!/^[\w-]{8,80}$/.test(key)) throw new Problem(400, 'bad-key', 'The Idempotency-Key is not usable.')
    const body = Buffer.isBuffer(req.body) ? req.body : JSON.stringify(req.body ?? null)
    const requestHash = createHash('sha256').update(req.originalUrl).update(body).digest('hex')
    const where = { userId, key, requestHash }
    const { sequelize } = c.db
    const [, inserted] = await sequelize.query(
      'INSERT IGNORE INTO idempotency (user_id, idempotency_key, request_hash) VALUES (:userId, :key, :requestHash)',
      { type: QueryTypes.UPDATE, replacements: where },
    )
    if (!inserted) {
      const [seen] = await sequelize.query<{
        request_hash: string
        status: number | null
        body: string | null
        stale: number
      }>(
        'SELECT request_hash, status, body, at < NOW(3) - INTERVAL 1 MINUTE AS stale FROM idempotency WHERE user_id = :userId AND idempotency_key = :key',
        { type: QueryTypes.SELECT, replacements: where },
      )
      if (seen && seen.request_hash !== requestHash)
        throw new Problem(422, 'key-reused', 'This Idempotency-Key was used for another request.')
      if (seen?.status)
        return void res
          .status(seen.status)
          .type('application/json')
          .send(seen.body ?? '')
      // a request whose server died is let through after a minute
      if (!seen?.stale) throw new Problem(409, 'in-progress', 'The same request is still being carried out.')
    }
    const send = res.json.bind(res)
    res.json = (answer: unknown) => {
      const done = res.statusCode < 400
      const sql = done
        ? 'UPDATE idempotency SET status = :status, body = :body WHERE user_id = :userId AND idempotency_key = :key'
        : 'DELETE FROM idempotency WHERE user_id = :userId AND idempotency_key = :key'
      void sequelize
        .query(sql, { replacements: { ...where, status: res.statusCode, body: JSON.stringify(answer) } })
        .catch(() => undefined)
        .then(() => send(answer))
      return res
    }
    res.once('close', () => {
      if (res.statusCode >= 400)
        void sequelize
          .query('DELETE FROM idempotency WHERE user_id = :userId AND idempotency_key = :key AND status IS NULL', {
            replacements: where,
          })
          .catch(() => undefined)
    })
    next()
  }
}
