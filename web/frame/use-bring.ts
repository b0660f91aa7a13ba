import { api } from '../../core/schema/api'
import { BROUGHT } from '../../core/schema/api/trace'
import type { Choice } from '../../core/sift/decisions'
import { useChange } from '../api/hooks'
import { useDecide } from './decide'
import { useHere } from './inquiry-frame'
import { tell, tellError } from './parts'

const SAID: Record<Choice, string> = { keep: 'Kept', 'set aside': 'Set aside', later: 'Left for later' }

/** A work as it can be decided on: of the pool, or a pointer that is brought with the decision. */
export interface Decidable {
  work: number | null
  node: number | null
  title: string
}

/** Brings pointers into the pool, and decides on works of the trails wherever they are. */
export function useBring() {
  const { inquiry, mayWrite } = useHere()
  const { decide, undo, said } = useDecide(inquiry.id)
  const bring = useChange(
    inquiry.id,
    api.bringPointers,
    (body: { nodes: number[]; group?: string; choice?: Choice }) => ({ body }),
  )
  return {
    busy: bring.isPending,
    undo,
    /** @returns whether it is decided, or on its way */
    decide: ({ work, node, title }: Decidable, choice: Choice): boolean => {
      if (!mayWrite || bring.isPending) return false
      if (work !== null) {
        decide([work], choice)
        return true
      }
      if (node === null) return false
      const group = crypto.randomUUID()
      bring.mutate(
        { nodes: [node], group, choice },
        {
          onSuccess: () => {
            said(group)
            tell(`${SAID[choice]}, and brought into the pool: “${title}”`, {
              label: 'Undo',
              onClick: () => undo(group),
            })
          },
          onError: tellError,
        },
      )
      return true
    },
    bringMany: (nodes: readonly number[], done?: () => void) =>
      bring.mutate(
        { nodes: nodes.slice(0, BROUGHT) },
        {
          onSuccess: ({ newWorks, known }) => {
            done?.()
            const there = known ? `; ${known} were there` : ''
            tell(`${newWorks} new ${newWorks === 1 ? 'work' : 'works'} in the pool, to be sifted${there}.`)
          },
          onError: tellError,
        },
      ),
  }
}
