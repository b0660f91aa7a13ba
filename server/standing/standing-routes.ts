import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import type { Serve } from '../serve/serve'
import { feedOf } from './standing-news'
import {
  changeStanding,
  endStanding,
  makeStanding,
  makeStandingTrail,
  newsOfTrails,
  oneStanding,
  runNow,
  standingOf,
} from './standing-service'

/** Standing sweeps and trails: asked again by schedule and on demand, only what is new told, as a feed and by mail. */
export function standingRoutes(c: Context, serve: Serve): void {
  serve(api.standing, ({ member }) => standingOf(c, member.inquiryId))
  serve(api.addStanding, async ({ member, body, once }) => {
    const { id, job } = await once(t => makeStanding(c, member, body, t))
    return { ...(await oneStanding(c, member.inquiryId, id)), job }
  })
  serve(api.addStandingTrail, async ({ member, body, once }) => {
    const { id, job } = await once(t => makeStandingTrail(c, member, body, t))
    return { ...(await oneStanding(c, member.inquiryId, id)), job }
  })
  serve(api.changeStanding, async ({ member, params, body }) => {
    await change(c, member.inquiryId, t => changeStanding(c, member, params.standing, body, t))
    return oneStanding(c, member.inquiryId, params.standing)
  })
  serve(api.runStanding, ({ member, params, once }) => once(t => runNow(c, member, params.standing, t)))
  serve(api.endStanding, ({ member: { inquiryId }, params }) =>
    change(c, inquiryId, t => endStanding(c, { id: params.standing, inquiryId }, t)),
  )
  serve(api.trailNews, ({ member }) => newsOfTrails(c, member.inquiryId))
}

/** Feeds are read by programs that cannot sign in: the address itself is the key. */
export function feedRoutes(c: Context, serve: Serve): void {
  serve(api.feed, async ({ params, res }) => {
    res.type('application/atom+xml').send(await feedOf(c, params.token))
  })
}
