import { closedFrom, openFrom } from '../access/coverage'
import { readEmbargo } from '../formats/kbart'
import type { Venue } from './types'

/** Whether the home library has really paid for a venue's texts of a day, walls counted on another day. */
export function mayRead(v: Venue, published: string, today: string): boolean {
  return v.licences.some(l => {
    if (published < l.from || (l.to && published > l.to)) return false
    return (readEmbargo(l.wall ?? '') ?? []).every(w =>
      w.way === 'P' ? published <= closedFrom(w, today) : published >= openFrom(w, today),
    )
  })
}
