import { QueryTypes } from 'sequelize'
import type { Context } from '../base/context'
import { inTransaction } from '../db/transaction'
import { dropOrphans } from '../db/blobs'
import { enqueue, type JobHandle } from './queue'

/** Days that things are kept which only serve for a while. */
const DAYS = {
  /**
   * Answers to requests that may be sent again; a browser that was away longer has ids of its own that count for
   * ever.
   */
  answers: 30,
  /** Counts that catalogues gave: they are asked again after a day. */
  counts: 3,
  /** What became of fetching a text. */
  attempts: 400,
  wayWalks: 400,
  /** Jobs that ended. */
  jobs: 30,
}

const old = (days: number, at = 'at'): string => `${at} < NOW(3) - INTERVAL ${days} DAY`
const DELETES: Record<string, string> = {
  answers: `DELETE FROM answers WHERE ${old(DAYS.answers)} LIMIT 1000`,
  counts: `DELETE FROM counts WHERE ${old(DAYS.counts)} LIMIT 1000`,
  attempts: `DELETE FROM attempts WHERE ${old(DAYS.attempts)} LIMIT 1000`,
  wayWalks: `DELETE FROM way_walks WHERE ${old(DAYS.wayWalks)} LIMIT 1000`,
  jobs: `DELETE FROM jobs WHERE state IN ('done', 'failed', 'cancelled') AND ${old(DAYS.jobs, 'changed_at')} LIMIT 1000`,
  tries: 'DELETE FROM tries WHERE at < NOW(3) - INTERVAL 1 DAY LIMIT 1000',
  sessions: 'DELETE FROM sessions WHERE expires < NOW(3) LIMIT 1000',
  gateSessions: 'DELETE FROM gate_sessions WHERE until < NOW(3) LIMIT 1000',
}

/** Takes away what has had its time, and bytes that nothing holds any more. @returns what it freed, rows by table */
export async function runPurge(c: Context, { signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const freed: Record<string, number> = {}
  for (const [what, sql] of Object.entries(DELETES)) {
    for (let n = 1000; n === 1000; freed[what] = (freed[what] ?? 0) + n) {
      signal.throwIfAborted()
      n = Number(await c.db.sequelize.query(sql, { type: QueryTypes.BULKDELETE }))
    }
    await progress({ freed })
  }
  const { files, bytes } = await dropOrphans(c.db)
  return { freed: { ...freed, files, bytes } }
}

/** Queues a purge where none was for a day; several processes may do this at once. */
export async function purgeDaily(c: Context): Promise<void> {
  await inTransaction(c.db.sequelize, async t => {
    // the clock's row makes processes wait for one another
    await c.db.sequelize.query('SELECT id FROM clock FOR UPDATE', { transaction: t })
    const [{ n }] = (await c.db.sequelize.query<{ n: number }>(
      `SELECT COUNT(*) AS n FROM jobs WHERE kind = 'purge' AND (state IN ('queued', 'running') OR at > NOW(3) - INTERVAL 1 DAY)`,
      { type: QueryTypes.SELECT, transaction: t },
    )) as [{ n: number }]
    if (!Number(n)) await enqueue(c, 'purge', null, null, {}, t)
  })
}
