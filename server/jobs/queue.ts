import { randomUUID } from 'node:crypto'
import { QueryTypes, type Transaction } from 'sequelize'
import type { Context } from '../base/context'
import type { JobRow } from './jobs-model'
import { hasRoom, requireRoom } from '../db/room'
import { inTransaction, isDatabaseTrouble, isFull } from '../db/transaction'
import { ChildKilled } from '../child/run'
import { OutsideError } from '../connect/http'
import { logError } from '../base/log'
import { Problem } from '../base/problem'
import { begun } from '../base/watch-loop'

export interface JobHandle {
  job: JobRow
  /** Ends when the student cancels, the lease is lost or the server stops. */
  signal: AbortSignal
  /** Saves how far the work is; what it saves is there again after a crash. */
  progress(p: Record<string, unknown>): Promise<void>
}

/** Long work. It may be run again from the start after a crash, so every step has to be repeatable. */
export type JobHandler = (context: Context, handle: JobHandle) => Promise<Record<string, unknown>>

export interface JobKind {
  run: JobHandler
  /** Puts right what a job leaves half done that failed for good or was stopped, with the reason. */
  givenUp?: (context: Context, job: JobRow, why: string) => Promise<void>
  /** It takes many minutes: a process runs one such job at a time, so that the short ones of others need not wait. */
  isLong?: boolean
}

export async function enqueue(
  c: Context,
  kind: string,
  inquiryId: number | null,
  userId: number | null,
  payload: Record<string, unknown>,
  transaction?: Transaction,
  runAfter?: Date,
): Promise<number> {
  const row = await c.db.jobs.create(
    { kind, inquiryId, userId, payload, progress: {}, ...(runAfter ? { runAfter } : {}) },
    transaction ? { transaction } : {},
  )
  return row.id
}

/** A job that failed, or whose worker vanished, is tried so often in all. */
const MOST_TRIES = 3
/** Its worker vanished in the middle of it each time: what it does may be what ends the process. */
export const PARKED =
  'The server ended in the middle of this three times, so it is not begun again by itself. Nothing else is held up by it. You can try once more.'
const STOPPED = 'Stopped before its end.'

/**
 * Runs queued jobs, up to `width` at a time; users take turns. Several processes can share one queue. What ran when a
 * process vanished runs alone after that, so that one job that ends its process takes no other down with it.
 */
export function startWorker(c: Context, kinds: Record<string, JobKind>, width = 3) {
  const me = randomUUID()
  const stop = new AbortController()
  const running = new Map<number, { alone: boolean; isLong: boolean; ended: Promise<void> }>()
  const all = Object.keys(kinds)
  const short = all.filter(k => !kinds[k]!.isLong)
  const pump = async () => {
    while (!stop.signal.aborted) {
      let job: JobRow | undefined
      const alone = [...running.values()].some(r => r.alone)
      try {
        const wanted = [...running.values()].some(r => r.isLong) ? short : all
        if (running.size < width && !alone && (await hasRoom(c)))
          job = await claim(c, me, kinds, wanted, running.size === 0)
      } catch (e) {
        // the database is away: try again, nothing is lost
        if (!isDatabaseTrouble(e)) logError('claiming a job', e)
        await wait(1000, stop.signal)
        continue
      }
      if (job) {
        const { id, losses } = job
        const ended = run(c, job, kinds[job.kind]!, me, stop.signal)
          .catch((e: unknown) => logError(`job ${id}`, e))
          .finally(() => running.delete(id))
        running.set(id, { alone: losses > 0, isLong: Boolean(kinds[job.kind]!.isLong), ended })
      } else await wait(200, stop.signal)
    }
  }
  const pumping = pump()
  return {
    /** Stops taking jobs, ends running ones and gives them back to the queue. */
    async stop(): Promise<void> {
      stop.abort()
      await pumping
      await Promise.allSettled([...running.values()].map(r => r.ended))
    },
  }
}

const wait = (ms: number, signal: AbortSignal): Promise<void> =>
  new Promise(done => {
    if (signal.aborted) return done()
    const end = () => {
      clearTimeout(timer)
      signal.removeEventListener('abort', end)
      done()
    }
    const timer = setTimeout(end, ms)
    signal.addEventListener('abort', end, { once: true })
  })

const CLAIMABLE = `((j.state = 'queued' AND j.run_after <= NOW(3)) OR (j.state = 'running' AND j.lease_until < NOW(3)))`

/** Takes the next job: of the user who has least running, then of the one whose turn was longest ago. */
async function claim(
  c: Context,
  me: string,
  kinds: Record<string, JobKind>,
  wanted: readonly string[],
  suspectsToo: boolean,
): Promise<JobRow | undefined> {
  const { sequelize } = c.db
  const among = `j.kind IN (:kinds) AND ${CLAIMABLE} ${suspectsToo ? '' : `AND j.losses = 0 AND j.state = 'queued'`}`
  const next = await sequelize.query<{ id: number }>(
    `SELECT j.id FROM jobs j WHERE ${among} ORDER BY
       (SELECT COUNT(*) FROM jobs r WHERE r.user_id <=> j.user_id AND r.state = 'running' AND r.lease_until >= NOW(3)),
       (SELECT MAX(l.claimed_at) FROM jobs l WHERE l.user_id <=> j.user_id), j.id LIMIT 8`,
    { type: QueryTypes.SELECT, replacements: { kinds: wanted } },
  )
  for (const { id } of next) {
    const job = await inTransaction(sequelize, async transaction => {
      const [found] = await sequelize.query<{ lost: number; losses: number }>(
        `SELECT j.state = 'running' AS lost, j.losses FROM jobs j WHERE j.id = :id AND ${CLAIMABLE} FOR UPDATE SKIP LOCKED`,
        { type: QueryTypes.SELECT, replacements: { id }, transaction },
      )
      if (!found) return undefined
      const losses = found.losses + Number(found.lost)
      const parked = losses >= MOST_TRIES
      await sequelize.query(
        `UPDATE jobs SET state = IF(cancel_asked, 'cancelled', IF(:parked, 'failed', 'running')), error = IF(:parked, :why, error), worker = :me, losses = :losses,
         claimed_at = NOW(3), lease_until = NOW(3) + INTERVAL :lease SECOND WHERE id = :id`,
        { replacements: { me, id, parked, why: PARKED, losses, lease: c.settings.leaseSeconds }, transaction },
      )
      return (await c.db.jobs.findByPk(id, { transaction, raw: true })) ?? undefined
    })
    if (!job) continue
    if (job.state === 'running') return job
    await giveUp(c, kinds[job.kind]!, job, job.state === 'failed' ? PARKED : STOPPED)
  }
  return undefined
}

/** What a job that will not be run again leaves behind is put right; where that fails, its own state still stands. */
async function giveUp(c: Context, kind: JobKind, job: JobRow, why: string): Promise<void> {
  try {
    await kind.givenUp?.(c, job, why)
  } catch (e) {
    logError(`giving up job ${job.id}`, e)
  }
}

/** Runs a job to its end, or gives it back. Waits for the database as long as that takes; never throws of itself. */
async function run(c: Context, job: JobRow, kind: JobKind, me: string, stopping: AbortSignal): Promise<void> {
  const { sequelize } = c.db
  const ended = new AbortController()
  const signal = AbortSignal.any([ended.signal, stopping])
  let cancelled = false
  let lost = false
  let lastSign = Date.now()
  let endSilent: (e: Error) => void = () => undefined
  const silent = new Promise<never>((_, fail) => (endSilent = fail))
  silent.catch(() => undefined)
  const beat = setInterval(
    () => {
      if (Date.now() - lastSign > c.settings.silenceSeconds * 1000) {
        endSilent(new Silent())
        return ended.abort()
      }
      void (async () => {
        try {
          await sequelize.query(
            `UPDATE jobs SET lease_until = NOW(3) + INTERVAL :lease SECOND, changed_at = changed_at WHERE id = :id AND worker = :me AND state = 'running'`,
            { type: QueryTypes.UPDATE, replacements: { id: job.id, me, lease: c.settings.leaseSeconds } },
          )
          const now = await standing(c, job.id)
          lost = now?.worker !== me
          cancelled = Boolean(now?.stopped)
          if (lost || cancelled) ended.abort()
        } catch {
          // the database is away for a moment; the lease decides who goes on
        }
      })()
    },
    Math.min(1000, (c.settings.leaseSeconds * 1000) / 3),
  )
  const settle = async (values: Partial<JobRow>): Promise<boolean> => {
    for (let tries = 0; ; tries++) {
      try {
        const [n] = await c.db.jobs.update(values, { where: { id: job.id, worker: me, state: 'running' } })
        return n > 0
      } catch (e) {
        // what cannot be written down now is found by its lease, later
        if (stopping.aborted || !isDatabaseTrouble(e)) throw e
        await wait(Math.min(5000, 250 * 2 ** tries), stopping)
      }
    }
  }
  const done = begun(`job ${job.kind}`)
  try {
    // a worker told to stop while it was taking this job begins nothing
    signal.throwIfAborted()
    if ((await standing(c, job.id))?.stopped) {
      cancelled = true
      throw new Error('stopped')
    }
    const result = await Promise.race([
      kind.run(c, {
        job,
        signal,
        progress: async p => {
          signal.throwIfAborted()
          await requireRoom(c)
          lastSign = Date.now()
          await c.db.jobs.update({ progress: p }, { where: { id: job.id, worker: me } })
          job.progress = p
        },
      }),
      silent,
    ])
    await settle({ state: 'done', result, error: null, leaseUntil: null })
  } catch (e) {
    if (lost) return
    await settleFailure(e)
  } finally {
    clearInterval(beat)
    done()
  }

  async function settleFailure(e: unknown): Promise<void> {
    const queued = { state: 'queued', worker: null, leaseUntil: null } as const
    if (cancelled) {
      if (await settle({ state: 'cancelled', error: null, leaseUntil: null })) await giveUp(c, kind, job, STOPPED)
      return
    }
    if (stopping.aborted) return void (await settle(queued))
    // the database is to blame: nothing is counted against the job
    const full = isFull(e) || (e instanceof Problem && e.code === 'disk-full')
    if (full || isDatabaseTrouble(e)) {
      const error = full
        ? 'The disk of the server is full. This goes on by itself once there is room.'
        : 'The database did not answer. This goes on by itself.'
      return void (await settle({ ...queued, error, runAfter: new Date(Date.now() + (full ? 5000 : 1000)) }))
    }
    const foreseen =
      e instanceof OutsideError || e instanceof Problem || e instanceof Silent || e instanceof ChildKilled
    if (!foreseen) logError(`job ${job.id} (${job.kind})`, e)
    const error = foreseen ? e.message : 'It stopped on an unforeseen error.'
    const again = e instanceof OutsideError ? e.again : !(e instanceof Problem)
    const attempts = job.attempts + 1
    if (again && attempts < MOST_TRIES) {
      const seconds = (e instanceof OutsideError && e.afterSeconds) || 2 ** attempts
      await settle({ ...queued, error, attempts, runAfter: new Date(Date.now() + seconds * 1000) })
    } else if (await settle({ state: 'failed', error, attempts, leaseUntil: null })) await giveUp(c, kind, job, error)
  }
}

class Silent extends Error {
  constructor() {
    super('It made no step for so long that it was ended.')
  }
}

/**
 * Whether somebody else has the job now, and whether it was stopped: by hand, or since its user may no longer write
 * here.
 */
async function standing(c: Context, id: number): Promise<{ worker: string | null; stopped: number } | undefined> {
  const [row] = await c.db.sequelize.query<{ worker: string | null; stopped: number }>(
    `SELECT worker, cancel_asked OR (user_id IS NOT NULL AND inquiry_id IS NOT NULL AND NOT EXISTS
       (SELECT 1 FROM memberships m WHERE m.inquiry_id = jobs.inquiry_id AND m.user_id = jobs.user_id AND m.role = 'owner')) AS stopped FROM jobs WHERE id = :id`,
    { type: QueryTypes.SELECT, replacements: { id } },
  )
  return row
}
