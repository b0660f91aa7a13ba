import { api, type Job } from '../../core/schema/api'
import { ApiError, call } from './client'

const PAUSE = 300

/**
 * Waits until a job has ended, through whatever the server goes through meanwhile. @throws ApiError where it failed
 * or was stopped
 */
export async function jobEnd(inquiry: number, id: number, signal?: AbortSignal): Promise<Job> {
  const place = { params: { inquiry, job: id } }
  for (;;) {
    if (signal?.aborted) {
      // nobody waits for it any more
      void call(api.stopJob, place).catch(() => undefined)
      signal.throwIfAborted()
    }
    const job = await call(api.job, place).catch((e: unknown) => {
      if (e instanceof ApiError && (e.status === 0 || e.status === 503)) return undefined
      throw e
    })
    if (job?.state === 'done') return job
    if (job?.state === 'failed' || job?.state === 'cancelled')
      throw new ApiError(500, 'job-failed', job.error ?? 'It was stopped.')
    await new Promise(r => setTimeout(r, PAUSE))
  }
}
