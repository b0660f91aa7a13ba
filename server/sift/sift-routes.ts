import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import type { Serve } from '../serve/serve'
import { beginCheck, checksOf, oneCheck } from './checks-service'
import { addStrand, changeStrand, strandsOf } from './strands-service'
import { endView, saveView, viewsOf } from './views-service'

/** Strands onto which kept works are put, saved views of the pool, and checks of what may be left to find. */
export function siftRoutes(c: Context, serve: Serve): void {
  serve(api.strands, ({ member }) => strandsOf(c, member.inquiryId))
  serve(api.addStrand, ({ member, body, once }) => once(t => addStrand(c, member.inquiryId, body.name, t)))
  serve(api.changeStrand, ({ member: { inquiryId }, params, body }) =>
    change(c, inquiryId, t => changeStrand(c, { id: params.strand, inquiryId }, body, t)),
  )
  serve(api.views, ({ member }) => viewsOf(c, member.inquiryId))
  serve(api.saveView, ({ member, body, once }) => once(t => saveView(c, member.inquiryId, body, t)))
  serve(api.endView, ({ member: { inquiryId }, params }) =>
    change(c, inquiryId, t => endView(c, { id: params.view, inquiryId }, t)),
  )
  serve(api.checks, ({ member }) => checksOf(c, member.inquiryId))
  serve(api.beginCheck, async ({ member, body, once }) => {
    const { id } = await once(t => beginCheck(c, member, body.draws, t))
    return oneCheck(c, id)
  })
}
