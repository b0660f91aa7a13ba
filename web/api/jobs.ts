import { api, ApiError } from './client'
import type { Job } from './types'

const PAUSE = 300

/** Waits until a job has ended, through whatever the server goes through meanwhile. @throws ApiError where it failed or was stopped */
export async function jobEnd(inquiry: number, id: number): Promise<Job> {
  for (;;) {
    const job = await api<Job>('GET', `/inquiries/${inquiry}/jobs/${id}`).catch((e: unknown) => {
      if (e instanceof ApiError && (e.status === 0 || e.status === 503)) return undefined
      throw e
    })
    if (job?.state === 'done') return job
    if (job?.state === 'failed' || job?.state === 'cancelled')
      throw new ApiError(500, 'job-failed', job.error ?? 'It was stopped.')
    await new Promise(r => setTimeout(r, PAUSE))
  }
}
