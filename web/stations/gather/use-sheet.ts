import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useState } from 'react'
import { printCql, type Query } from '../../../core/query/cql'
import type { Sheet } from '../../../core/query/sheet'
import { api, ApiError } from '../../api/client'
import { useOf } from '../../api/hooks'
import { tell, tellError } from '../../frame/parts'

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
  state: 'saved' | 'saving' | 'kept here'
}

export const newId = (): string => crypto.randomUUID().slice(0, 13)

/** A query as people write it: a phrase is a quoted run, which CQL words with `adj`. */
export const plainCql = (q: Query): string => printCql(q).replace(/cql\.serverChoice adj ("(?:[^"\\]|\\.)*")/g, '$1')

const PAUSE = 500

/**
 * Saves the newest sheet, one request after the other, against the version it stands on. While the server is away it is
 * kept and sent again; where another window was faster, that window's sheet is taken and said.
 */
export function sheetSaver(
  path: string,
  on: {
    state(s: SheetHandle['state']): void
    saved(s: SavedSheet): void
    overtaken(s: SavedSheet, e: ApiError): void
    refused(e: unknown): void
  },
  pause = PAUSE,
) {
  let version = 0
  let next: Sheet | undefined
  let sending = false
  let timer: ReturnType<typeof setTimeout> | undefined
  const send = async (): Promise<void> => {
    if (sending) return
    sending = true
    while (next) {
      const body = next
      next = undefined
      on.state('saving')
      try {
        const saved = await api<SavedSheet>('PUT', path, {
          body,
          headers: { 'If-Match': `"${version}"` },
          keepalive: JSON.stringify(body).length < 30_000,
        })
        version = saved.version
        on.saved(saved)
        on.state('saved')
      } catch (e) {
        if (e instanceof ApiError && e.status === 412) {
          const current = e.body.current as SavedSheet
          version = current.version
          next = undefined
          on.overtaken(current, e)
          on.state('saved')
        } else if (e instanceof ApiError && (e.status === 0 || e.status === 503)) {
          next ??= body
          on.state('kept here')
          await new Promise(r => setTimeout(r, 2000))
        } else {
          on.state('kept here')
          on.refused(e)
        }
      }
    }
    sending = false
  }
  return {
    /** The version that the server gave; an older one than known is nothing new. */
    stands(v: number): void {
      version = Math.max(version, v)
    },
    save(sheet: Sheet): void {
      next = sheet
      clearTimeout(timer)
      timer = setTimeout(() => void send(), pause)
    },
    /** Sends at once what is still waiting. */
    flush(): void {
      clearTimeout(timer)
      void send()
    },
  }
}

/** The question sheet of an inquiry, saved as it is changed; undefined until it is loaded. */
export function useSheet(inquiry: number): { handle?: SheetHandle; error: unknown; again: () => void } {
  const loaded = useOf<SavedSheet>(inquiry, '/sheet')
  const client = useQueryClient()
  const [mine, setMine] = useState<Sheet>()
  const [state, setState] = useState<SheetHandle['state']>('saved')
  const [saver] = useState(() =>
    sheetSaver(`/inquiries/${inquiry}/sheet`, {
      state: setState,
      saved: s => client.setQueryData(['inquiry', inquiry, '/sheet'], s),
      overtaken: (s, e) => {
        setMine(s.sheet)
        tellError(e)
      },
      refused: tellError,
    }),
  )
  // what was changed in the last moment is sent when the page is left
  useEffect(() => {
    const flush = () => saver.flush()
    window.addEventListener('pagehide', flush)
    return () => {
      window.removeEventListener('pagehide', flush)
      flush()
    }
  }, [saver])
  const data = loaded.data
  useEffect(() => {
    if (data) saver.stands(data.version)
  }, [data, saver])
  const sheet = mine ?? data?.sheet
  const edit = useCallback(
    (change: (s: Sheet) => Sheet, said?: string) => {
      if (!sheet) return
      const put = (s: Sheet) => {
        setMine(s)
        saver.save(s)
      }
      put(change(sheet))
      if (said) tell(said, { label: 'Undo', onClick: () => put(sheet) })
    },
    [sheet, saver],
  )
  return {
    ...(sheet && data ? { handle: { sheet, offered: data.offered, edit, state } } : {}),
    error: loaded.error,
    again: () => void loaded.refetch(),
  }
}
