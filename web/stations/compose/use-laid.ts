import { useState } from 'react'
import { api, type Bibliography } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { tell, tellError } from '../../frame/parts'
import { useStable } from '../../frame/use-stable'

/**
 * The entries as they stand, or as they were laid a moment ago; laying them can be taken back.
 * @param readAt when the list came from the server
 */
export function useLaid(b: Bibliography, readAt: number) {
  const { inquiry } = useHere()
  const lay = useChange(inquiry.id, api.layEntries, (entries: number[]) => ({ body: { entries } }))
  const [laid, setLaid] = useState<{ ids: number[]; readAt: number }>()
  // it is shown at once, until what the server has of it comes
  const ids = laid?.readAt === readAt ? laid.ids : b.entries.map(e => e.id)
  function layAs(next: number[]): void {
    const was = ids
    setLaid({ ids: next, readAt })
    lay.mutate(next, {
      onSuccess: () => tell('Moved.', { label: 'Undo', onClick: () => layAs(was) }),
      onError: e => {
        setLaid(undefined)
        tellError(e)
      },
    })
  }
  return { ids, layAs: useStable(layAs) }
}
