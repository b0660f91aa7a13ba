import { randomUUID } from 'node:crypto'
import { QueryTypes, type Transaction } from 'sequelize'
import type { Context } from '../context'
import type { JobRow } from '../db/models'
import { OutsideError } from '../connect/http'
import { Problem } from '../problem'

export interface JobHandle {
  job: JobRow
  /** Ends when the student cancels, the lease is lost or the server stops. */
  signal: AbortSignal
  /** Saves how far the work is; what it saves is there again after a crash. */
  progress(p: Record<string, unknown>): Promise<void>
}

/** Long work. It may be run again from the start after a crash, so every step has to be repeatable. */
export type JobHandler = (context: Context, handle: JobHandle) => Promise<Record<string, unknown>>

export async function enqueue(
  c: Context,
  kind: string,
  inquiryId: number | null,
  userId: number | null,
  payload: Record<string, unknown>,
  transaction?: Transaction,
): Promise<number> {
  const row = await c.db.jobs.create(
    { kind, inquiryId, userId, payload, progress: {} },
    transaction ? { transaction } : {},
  )
  return row.id
}

const MOST_ATTEMPTS = 3

/** Runs queued jobs, up to `width` at a time. Several processes can share one queue. */
export function startWorker(c: Context, handlers: Record<string, JobHandler>, width = 3) {
  const me = randomUUID()
  const stop = new AbortController()
  const running = new Set<Promise<void>>()
  const pump = async () => {
    while (!stop.signal.aborted) {
      let job: JobRow | undefined
      try {
        job = running.size < width ? await claim(c, me, Object.keys(handlers)) : undefined
      } catch {
        await wait(1000, stop.signal) // the database is away: try again, nothing is lost
        continue
      }
      if (job) {
        const work: Promise<void> = run(c, job, handlers[job.kind]!, me, stop.signal).finally(() =>
          running.delete(work),
        )
        running.add(work)
      } else await wait(200, stop.signal)
    }
  }
  const pumping = pump()
  return {
    /** Stops taking jobs, ends running ones and gives them back to the queue. */
    async stop(): Promise<void> {
      stop.abort()
      await pumping
      await Promise.allSettled(running)
    },
  }
}

const wait = (ms: number, signal: AbortSignal): Promise<void> =>
  new Promise(done => {
    const end = () => {
      clearTimeout(timer)
      signal.removeEventListener('abort', end)
      done()
    }
    const timer = setTimeout(end, ms)
    signal.addEventListener('abort', end, { once: true })
  })

async function claim(c: Context, me: string, kinds: string[]): Promise<JobRow | undefined> {
  const { sequelize } = c.db
  return sequelize.transaction(async transaction => {
    const [found] = await sequelize.query<{ id: number }>(
      `SELECT id FROM jobs WHERE kind IN (:kinds) AND ((state = 'queued' AND run_after <= NOW(3)) OR (state = 'running' AND lease_until < NOW(3))) ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED`,
      { type: QueryTypes.SELECT, replacements: { kinds }, transaction },
    )
    if (!found) return undefined
    await sequelize.query(
      `UPDATE jobs SET state = IF(cancel_asked, 'cancelled', 'running'), worker = :me, attempts = attempts + 1, lease_until = NOW(3) + INTERVAL :lease SECOND WHERE id = :id`,
      { replacements: { me, id: found.id, lease: c.settings.leaseSeconds }, transaction },
    )
    const job = await c.db.jobs.findByPk(found.id, { transaction })
    return job?.state === 'running' ? (job.get({ plain: true }) as JobRow) : undefined
  })
}

async function run(c: Context, job: JobRow, handler: JobHandler, me: string, stopping: AbortSignal): Promise<void> {
  const { sequelize } = c.db
  const ended = new AbortController()
  const signal = AbortSignal.any([ended.signal, stopping])
  let cancelled = false
  let lost = false
  const beat = setInterval(
    () => {
      void (async () => {
        try {
          const [, touched] = await sequelize.query(
            `UPDATE jobs SET lease_until = NOW(3) + INTERVAL :lease SECOND, changed_at = changed_at WHERE id = :id AND worker = :me AND state = 'running'`,
            {
              type: QueryTypes.UPDATE,
              replacements: { id: job.id, me, lease: c.settings.leaseSeconds },
            },
          )
          const now = await c.db.jobs.findByPk(job.id, { attributes: ['cancelAsked', 'worker'] })
          lost = !now || now.worker !== me || (touched === 0 && now.worker !== me)
          cancelled = Boolean(now?.cancelAsked)
          if (lost || cancelled) ended.abort()
        } catch {
          // the database is away for a moment; the lease decides who goes on
        }
      })()
    },
    Math.min(1000, (c.settings.leaseSeconds * 1000) / 3),
  )
  const set = async (values: Partial<JobRow>) => {
    for (let tries = 0; ; tries++) {
      try {
        return await c.db.jobs.update(values, { where: { id: job.id, worker: me } })
      } catch (e) {
        if (tries >= 20) throw e
        await new Promise(r => setTimeout(r, 500))
      }
    }
  }
  try {
    // a worker told to stop while it was taking this job begins nothing
    signal.throwIfAborted()
    const result = await handler(c, {
      job,
      signal,
      progress: async p => {
        signal.throwIfAborted()
        await c.db.jobs.update({ progress: p }, { where: { id: job.id, worker: me } })
        job.progress = p
      },
    })
    await set({ state: 'done', result, error: null, leaseUntil: null })
  } catch (e) {
    if (lost) return
    const again = e instanceof OutsideError ? e.again : !(e instanceof Problem)
    const said = e instanceof OutsideError || e instanceof Problem ? e.message : 'It stopped on an unforeseen error.'
    if (cancelled) await set({ state: 'cancelled', error: null, leaseUntil: null })
    else if (stopping.aborted)
      await set({ state: 'queued', worker: null, leaseUntil: null, attempts: Math.max(0, job.attempts - 1) }).catch(
        () => undefined,
      )
    else if (again && job.attempts < MOST_ATTEMPTS) {
      const seconds = (e instanceof OutsideError && e.afterSeconds) || 2 ** job.attempts
      await set({ state: 'queued', error: said, leaseUntil: null, runAfter: new Date(Date.now() + seconds * 1000) })
    } else await set({ state: 'failed', error: said, leaseUntil: null })
    if (!(e instanceof OutsideError || e instanceof Problem || cancelled || stopping.aborted)) console.error(e)
  } finally {
    clearInterval(beat)
  }
}
