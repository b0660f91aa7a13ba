import { useQueryClient } from '@tanstack/react-query'
import type { Choice, Pass, Standing, State } from '../../core/sift/decisions'
import type { WorkLine } from '../api/types'
import { outboxOf, standingsOf, useWaiting } from './outbox'
import { tell, tellError } from './parts'

const stateOf: Record<Choice, State> = { keep: 'kept', 'set aside': 'set aside', later: 'later' }
const said: Record<Choice, string> = { keep: 'Kept', 'set aside': 'Set aside', later: 'Left for later' }

/** Decisions of an inquiry that the server has not taken yet. */
export function useWaitingDecisions(inquiry: number): number {
  return useWaiting(outboxOf(inquiry, useQueryClient(), tellError))
}

/**
 * Decides works: the state shows at once, is sent in order, and can be undone. What the server refuses is put back and
 * said; while the server is away it is kept and sent again until it is taken.
 */
export function useDecide(inquiry: number) {
  const client = useQueryClient()
  const outbox = outboxOf(inquiry, client, tellError)
  const standing = (works: readonly number[]): Record<number, Standing> =>
    standingsOf(
      (client.getQueryData<WorkLine[]>(['inquiry', inquiry, '/works']) ?? []).filter(w => works.includes(w.id)),
    )

  const undo = (group?: string) => {
    const g = group ?? outbox.groups.at(-1)
    if (!g) return tell('There is nothing to undo yet.')
    outbox.groups.splice(outbox.groups.indexOf(g), 1)
    const shows = outbox.before(g)
    const id = crypto.randomUUID()
    outbox.add({ id, path: '/undo', body: { group: g, id }, shows, before: standing(Object.keys(shows).map(Number)) })
  }
  const decide = (works: readonly number[], choice: Choice, pass: Pass = 'abstract', reason?: string) => {
    if (!works.length) return
    const group = crypto.randomUUID()
    outbox.groups.push(group)
    const shown: Standing = { state: stateOf[choice], pass, reason: reason ?? null }
    outbox.add({
      id: crypto.randomUUID(),
      path: '/decisions',
      body: {
        group,
        decisions: works.map(work => ({ id: crypto.randomUUID(), work, pass, choice, reason: reason ?? null })),
      },
      shows: Object.fromEntries(works.map(w => [w, shown])),
      before: standing(works),
    })
    if (works.length > 1) tell(`${said[choice]}: ${works.length} works`, { label: 'Undo', onClick: () => undo(group) })
    return group
  }
  return { decide, undo }
}
