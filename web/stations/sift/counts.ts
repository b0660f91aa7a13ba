import { createContext } from 'react'
import type { PoolIndex } from '../../../core/sift/limits'
import type { WorkLine } from '../../../core/sift/line'

/** The pool as it stands now. */
export const PoolNow = createContext<PoolIndex<WorkLine> | undefined>(undefined)

/** What moves with each decision, handed past what does not, which is then not drawn again. */
export const Counts = createContext({
  /** Works that wait for their title, and for their abstract, to be read. */
  titles: 0,
  abstracts: 0,
  /** Works of the view within the limits, of all it has, and what they are called. */
  left: 0,
  total: 0,
  what: 'works',
})
