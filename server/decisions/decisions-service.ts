import type { Transaction } from 'sequelize'
import type { Choice, Pass } from '../../core/sift/decisions'
import type { Context } from '../context'
import { worksAsked } from '../pool/describe'
import { projectStates } from '../pool/pool'
import { Problem } from '../problem'
import { addDecisions, decisionsById, type NewDecision } from './decisions-model'

export interface Decided {
  group: string
  decisions: { id: string; work: number; pass: Pass; choice: Choice; reason?: string | null | undefined }[]
}

/**
 * Decides on works: one line of the log each, and the states that follow from it. A decision that was made already, by
 * its id, is not made twice.
 * @returns the works that now stand differently
 * @throws Problem 409 where an id stands for another decision; 422 where a work is not in the pool
 */
export async function decide(
  context: Context,
  by: { inquiryId: number; userId: number },
  { group, decisions }: Decided,
  t: Transaction,
  revision: number,
): Promise<{ revision: number; works: number[] }> {
  const heir = await worksAsked(
    context,
    by.inquiryId,
    decisions.map(d => d.work),
    t,
  )
  const rows = decisions.map((d): NewDecision => {
    const { id, pass, choice } = d
    return { id, groupId: group, ...by, workId: heir.get(d.work)!, pass, choice, reason: d.reason || null, revision }
  })
  const made = new Map((await decisionsById(context, [...new Set(rows.map(r => r.id))], t)).map(d => [d.id, d]))
  const fresh = new Map<string, NewDecision>()
  for (const row of rows) {
    const there = made.get(row.id) ?? fresh.get(row.id)
    if (!there) fresh.set(row.id, row)
    else if (!sameDecision(there, row))
      throw new Problem(
        409,
        'id-reused',
        'This id stands for another decision that was made before. Nothing was changed.',
      )
  }
  await addDecisions(context, [...fresh.values()], t)
  const works = [...new Set(heir.values())]
  await projectStates(context, by.inquiryId, works, t, revision)
  return { revision, works }
}

/** The same decision sent again; its work may have been joined into another since. */
const sameDecision = (a: NewDecision, b: NewDecision): boolean =>
  a.inquiryId === b.inquiryId && a.pass === b.pass && a.choice === b.choice && a.reason === b.reason
