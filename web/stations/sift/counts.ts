import { createContext } from 'react'

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
