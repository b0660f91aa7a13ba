import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import type { Changes } from './changes'
import { change } from '../db/revision'
import { deleteInquiries } from './delete'
import {
  briefOf,
  changeBrief,
  createInquiry,
  inquiriesOf,
  inquiryInFull,
  ownInquiry,
  setStyle,
} from './inquiries-service'
import { addMember, changeMember, dropMember, leave, membersOf } from './members-service'

/** The inquiries one is a member of, and their briefs. */
export function inquiriesRoutes(c: Context, serve: Serve): void {
  serve(api.inquiries, ({ userId }) => inquiriesOf(c, userId))
  serve(api.beginInquiry, async ({ userId, body, once }) => {
    const { id } = await once(t => createInquiry(c, userId, body, t))
    return ownInquiry(c, id, userId)
  })
}

/** One inquiry. */
export function inquiryRoutes(c: Context, serve: Serve, changes: Changes): void {
  serve(api.inquiry, ({ member }) => inquiryInFull(c, member))
  serve(api.brief, async ({ member, res }) => {
    const brief = await briefOf(c, member.inquiryId)
    res.set('ETag', `"${brief.version}"`)
    return brief
  })
  serve(api.changeBrief, async ({ member, version, body, res }) => {
    await changeBrief(c, member, version, body)
    const brief = await briefOf(c, member.inquiryId)
    res.set('ETag', `"${brief.version}"`)
    return brief
  })
  serve(api.members, ({ member }) => membersOf(c, member))
  serve(api.addMember, ({ member: { inquiryId }, body, once }) => once(t => addMember(c, inquiryId, body, t)))
  serve(api.changeMember, ({ member: { inquiryId }, params, body: { role } }) =>
    change(c, inquiryId, t => changeMember(c, inquiryId, { userId: params.member, role }, t)),
  )
  serve(api.dropMember, ({ member: { inquiryId }, params }) =>
    change(c, inquiryId, t => dropMember(c, inquiryId, params.member, t)),
  )
  serve(api.leave, ({ member }) => change(c, member.inquiryId, t => leave(c, member, t)))
  serve(api.setStyle, ({ member, body }) => setStyle(c, member, body))
  serve(api.endInquiry, ({ member }) => deleteInquiries(c, [member.inquiryId]))
  serve(api.events, ({ member, req, res }) => {
    res.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' })
    res.flushHeaders()
    res.write('retry: 1500\n\n')
    const stop = changes.listen({
      inquiryId: member.inquiryId,
      userId: member.userId,
      sid: req.sessionID,
      write: line => void res.write(line),
      end: () => res.end(),
    })
    res.on('close', stop)
  })
}
