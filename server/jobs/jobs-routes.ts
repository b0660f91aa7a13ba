import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import { beginAgain, latestJobs, oneJob, stopJob } from './jobs-service'

/** Jobs of an inquiry: what runs, what ended lately, stopping and beginning again. */
export function jobRoutes(c: Context, serve: Serve): void {
  serve(api.jobs, ({ member }) => latestJobs(c, member.inquiryId))
  serve(api.job, ({ member, params }) => oneJob(c, { id: params.job, inquiryId: member.inquiryId }))
  serve(api.stopJob, ({ member, params }) => stopJob(c, { id: params.job, inquiryId: member.inquiryId }))
  serve(api.jobAgain, ({ member, params, once }) =>
    once(t => beginAgain(c, { id: params.job, inquiryId: member.inquiryId }, t)),
  )
}
