import { api } from '../../../core/schema/api'
import { useCallback, useMemo } from 'react'
import type { Sheet } from '../../../core/query/sheet'
import { useOf } from '../../api/hooks'
import { tell } from '../../frame/parts'
import { useSaved, type Saved } from '../../outbox/use-outbox'

export interface SavedSheet {
  sheet: Sheet
  version: number
  /** Words of the question that can become concepts. */
  offered: string[]
}
export interface SheetHandle {
  sheet: Sheet
  offered: string[]
  /** Changes the sheet; it is saved after a moment. With a sentence, the change is said and can be undone. */
  edit(change: (s: Sheet) => Sheet, said?: string): void
  state: Saved<Sheet>['state']
}

export const newId = (): string => crypto.randomUUID().slice(0, 13)

/** The question sheet of an inquiry, saved as it is changed; undefined until it is loaded. */
export function useSheet(inquiry: number): { handle?: SheetHandle; error: unknown; again: () => void } {
  const loaded = useOf(inquiry, api.sheet)
  const { data } = loaded
  const saved = useSaved<Sheet>({
    inquiry,
    slot: 'sheet',
    method: 'PUT',
    path: '/sheet',
    said: 'The question sheet',
    stands: useMemo(() => data && { value: data.sheet, version: data.version }, [data]),
    body: asItIs,
    read: asSheet,
  })
  const sheet = saved?.value
  const write = saved?.write
  const edit = useCallback(
    (change: (s: Sheet) => Sheet, said?: string) => {
      if (!sheet || !write) return
      write(change(sheet))
      if (said) tell(said, { label: 'Undo', onClick: () => write(sheet) })
    },
    [sheet, write],
  )
  return {
    ...(sheet && data && saved ? { handle: { sheet, offered: data.offered, edit, state: saved.state } } : {}),
    error: loaded.error,
    again: () => void loaded.refetch(),
  }
}
const asItIs = (s: Sheet): unknown => s
const asSheet = (body: unknown): Sheet => body as Sheet
