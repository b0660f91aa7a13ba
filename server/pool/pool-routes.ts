import { randomUUID } from 'node:crypto'
import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import { takeBack } from '../deeds/deeds-service'
import { Problem } from '../base/problem'
import type { Serve } from '../serve/serve'
import { decide } from './decisions'
import { arrivalsOf, historyOf } from './history-service'
import { changesOf, workLines } from './lines'
import { markWorks, requireMarks } from './marks'
import { answerPair, twinsOf } from './pairs'
import { flowOfPool, textsOf, workInFull } from './work-service'

/** The pool: its works as record lines, one work in full, how it came to be, and the way through it in numbers. */
export function poolRoutes(c: Context, serve: Serve): void {
  serve(api.works, ({ member }) => workLines(c, member))
  serve(api.changes, ({ member, query }) => changesOf(c, member, query))
  serve(api.texts, ({ member }) => textsOf(c, member.inquiryId))
  serve(api.work, ({ member, params }) => workInFull(c, member, params.work))
  serve(api.flow, ({ member }) => flowOfPool(c, member.inquiryId))
  serve(api.arrivals, ({ member }) => arrivalsOf(c, member.inquiryId))
  serve(api.history, ({ member, query }) => {
    const before = query.before === undefined ? undefined : new Date(query.before)
    if (before && Number.isNaN(before.getTime()))
      throw new Problem(422, 'invalid', 'Some of what was sent cannot be used.', {
        fields: [{ field: 'before', said: 'This is no moment.' }],
      })
    return historyOf(c, member.inquiryId, { before, limit: query.limit })
  })
}

/** What students do with works: deciding, saying what they are for, joining and parting, and taking it back. */
export function deedRoutes(c: Context, serve: Serve): void {
  serve(api.decide, ({ member, body, once }) => once((t, revision) => decide(c, { ...member, revision }, body, t)))
  serve(api.mark, ({ member, body, once }) => {
    requireMarks(body)
    return once((t, revision) => markWorks(c, { ...member, revision }, body, t))
  })
  serve(api.undo, async ({ member, body, once }) => {
    const done = await once((t, revision) => takeBack(c, { ...member, revision }, body.group, body.id, t))
    // how they stand again, so that it shows at once
    return { ...done, lines: await workLines(c, member, done.works) }
  })
  serve(api.twins, ({ member }) => twinsOf(c, member.inquiryId))
  serve(api.answerPair, ({ member, body, once }) => {
    const group = body.group ?? randomUUID()
    return once(async (t, revision) => ({
      works: await answerPair(c, { ...member, revision }, { ...body, group }, t),
      group,
    }))
  })
}
