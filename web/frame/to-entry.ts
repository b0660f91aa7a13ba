import { useEffect } from 'react'
import { useSearchParams } from 'react-router'

/** The address of an entry in its list. */
export const toEntry = (inquiry: number, entry: number): string => `/inquiries/${inquiry}/compose?entry=${entry}`

/** Goes to the entry that the address names, once it is there; the address then is that of the list again. */
export function useGoTo(entries: readonly { id: number }[]): void {
  const [params, setParams] = useSearchParams()
  const wanted = Number(params.get('entry'))
  const isThere = entries.some(e => e.id === wanted)
  useEffect(() => {
    const row = isThere ? document.querySelector<HTMLElement>(`[data-entry="${wanted}"]`) : null
    if (!row) return
    row.querySelector<HTMLElement>('[role=textbox]')?.focus({ preventScroll: true })
    row.scrollIntoView({ block: 'start' })
    // else whoever comes back from a work sheet would be taken there again
    setParams(
      now => {
        now.delete('entry')
        return now
      },
      { replace: true, preventScrollReset: true },
    )
  }, [wanted, isThere, setParams])
}
