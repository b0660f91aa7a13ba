import type { Transaction } from 'sequelize'
import { project, type Choice, type Decision, type Pass } from '../../core/sift/decisions'
import type { api } from '../../core/schema/api'
import type { BodyOf } from '../../core/schema/api/endpoint'
import { standingLines } from '../../core/sift/log'
import type { Context } from '../base/context'
import { deedsOf, type DeedRow } from '../deeds/deeds-model'
import { act, type By, type Done, type Follow } from '../deeds/deeds-service'
import { familyOf, type Family } from '../deeds/family'
import { writeAlike } from './describe'

/** What a line of the kind "decision" says; it is about a pass. */
export interface Decided {
  choice: Choice
  reason: string | null
}

/** Decides on works. */
export function decide(
  context: Context,
  by: By,
  { group, decisions }: BodyOf<typeof api.decide>,
  t: Transaction,
): Promise<Done> {
  const deeds = decisions.map(({ id, work, pass, choice, reason }) => ({
    id,
    work,
    kind: 'decision' as const,
    about: pass,
    value: { choice, reason: reason || null } satisfies Decided,
  }))
  return act(context, by, group, deeds, t)
}

/** Writes the present state of works from the log. */
export const followDecisions: Follow = async (context, by, family, _lines, t) => {
  const log = (await deedsOf(context, by.inquiryId, [...family.heir.keys()], ['decision'], t)).map(d =>
    decisionOf(d, family),
  )
  const standings = project(log)
  const decidedAt = new Map(standingLines(log).map(l => [l.work, l.at]))
  await writeAlike(
    context,
    by.inquiryId,
    family.works,
    id => {
      const { state, pass, reason } = standings.get(id) ?? { state: 'unread', pass: null, reason: null }
      return { state, pass, reason, decidedAt: decidedAt.get(id) ?? null, revision: by.revision }
    },
    t,
  )
  return []
}

/** The same for works whose records changed. */
export async function projectDecisions(
  context: Context,
  by: Parameters<Follow>[1],
  works: readonly number[],
  t: Transaction,
): Promise<void> {
  await followDecisions(context, by, await familyOf(context, by.inquiryId, works, t), { lines: [], undone: false }, t)
}

function decisionOf(d: DeedRow, family: Family): Decision & { at: Date } {
  const { choice, reason } = (d.value ?? { choice: null, reason: null }) as Decided
  return {
    id: d.id,
    group: d.groupId,
    work: family.heir.get(d.workId) ?? d.workId,
    pass: d.about as Pass,
    choice,
    reason,
    undoes: d.undoes,
    at: d.at,
  }
}
